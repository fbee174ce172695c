// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/codec_fit.hpp"

#include <fmt/format.h>

namespace grayrelic::dossier_codec {
namespace {

constexpr std::size_t most_fits = 200, most_items = 200, most_zones = 500, most_tiers = 200;
constexpr int most_quantity = 1'000'000;
constexpr double most_mm = 100'000, most_money = 1e9;

std::optional<double> read_millimetres(const JsonNode& n) {
    return figure_in(n, 0, most_mm);
}

FitItem read_fit_item(JsonNode& n) {
    FitItem i;
    i.what = n.text_or("what");
    i.role = read_word_or(n, "role", FitRole::takes);
    i.dimension = n.text_or("dimension");
    i.mm = read_fact<std::optional<double>>(n, "mm", read_millimetres);
    if (const auto plus = n.member("plus")) i.plus = figure_in(*plus, 0, most_mm);
    if (const auto minus = n.member("minus")) i.minus = figure_in(*minus, 0, most_mm);
    return i;
}

Json fit_item_json(const FitItem& i) {
    Json j = Json::object();
    add_text(j, "what", i.what);
    if (i.role != FitRole::takes) j["role"] = word(i.role);
    add_text(j, "dimension", i.dimension);
    add_fact(j, "mm", i.mm, i.mm.value ? Json(*i.mm.value) : Json());
    if (i.plus != 0) j["plus"] = i.plus;
    if (i.minus != 0) j["minus"] = i.minus;
    return j;
}

FitCase read_fit_case(JsonNode& n) {
    FitCase c;
    c.id = read_id(n, "id");
    c.name = n.text_or("name");
    c.kind = read_word_or(n, "kind", FitKind::room);
    c.items = read_bounded<FitItem>(n, "items", most_items, read_fit_item);
    return c;
}

Json fit_case_json(const FitCase& c) {
    Json j = {{"id", c.id}};
    add_text(j, "name", c.name);
    if (c.kind != FitKind::room) j["kind"] = word(c.kind);
    if (!c.items.empty()) j["items"] = list_of(c.items, fit_item_json);
    return j;
}

FitZone read_zone(JsonNode& n) {
    FitZone z;
    z.name = read_id(n, "name");
    z.x_mm = figure_in(n.required("x_mm"), -2000, 2000);
    z.y_mm = figure_in(n.required("y_mm"), -2000, 2000);
    z.width_mm = figure_in(n.required("width_mm"), 0, 4000);
    z.height_mm = figure_in(n.required("height_mm"), 0, 4000);
    z.back = n.flag("back");
    z.dimension = n.text_or("dimension");
    if (const auto most = n.member("most")) z.most = figure_in(*most, 0, most_mm);
    return z;
}

Json zone_json(const FitZone& z) {
    Json j = {{"name", z.name},
              {"x_mm", z.x_mm},
              {"y_mm", z.y_mm},
              {"width_mm", z.width_mm},
              {"height_mm", z.height_mm}};
    if (z.back) j["back"] = true;
    add_text(j, "dimension", z.dimension);
    if (z.most) j["most"] = *z.most;
    return j;
}

OrderTier read_tier(JsonNode& n) {
    OrderTier t;
    t.quantity = static_cast<int>(n.required("quantity").whole(1, most_quantity));
    t.price = figure_in(n.required("price"), 0, most_money);
    if (const auto shipping = n.member("shipping")) t.shipping = figure_in(*shipping, 0, most_money);
    return t;
}

Json tier_json(const OrderTier& t) {
    Json j = {{"quantity", t.quantity}, {"price", t.price}};
    if (t.shipping != 0) j["shipping"] = t.shipping;
    return j;
}

OrderAsk read_ask(JsonNode& n) {
    OrderAsk a;
    if (const auto want = n.member("want")) a.want = static_cast<int>(want->whole(0, most_quantity));
    if (const auto yield = n.member("yield")) a.yield = figure_in(*yield, 1e-6, 1);
    if (const auto respin = n.member("respin")) a.respin = figure_in(*respin, 0, 1);
    a.tiers = read_bounded<OrderTier>(n, "tiers", most_tiers, read_tier);
    for (std::size_t i = 1; i < a.tiers.size(); ++i)
        if (a.tiers[i].quantity <= a.tiers[i - 1].quantity)
            n.fault(fmt::format("{} boards after {}", a.tiers[i].quantity, a.tiers[i - 1].quantity),
                    "tiers with rising quantities");
    return a;
}

Json ask_json(const OrderAsk& a) {
    Json j = Json::object();
    if (a.want > 0) j["want"] = a.want;
    if (a.yield) j["yield"] = *a.yield;
    if (a.respin) j["respin"] = *a.respin;
    if (!a.tiers.empty()) j["tiers"] = list_of(a.tiers, tier_json);
    return j;
}

}  // namespace

void read_fits(JsonNode& n, Fabrication& f) {
    f.fits = read_bounded<FitCase>(n, "fits", most_fits, read_fit_case, &FitCase::id);
    f.zones = read_bounded<FitZone>(n, "zones", most_zones, read_zone, &FitZone::name);
    if (auto order = n.member("order")) f.order = read_record<OrderAsk>(*order, read_ask);
}

void add_fits(Json& j, const Fabrication& f) {
    if (!f.fits.empty()) j["fits"] = list_of(f.fits, fit_case_json);
    if (!f.zones.empty()) j["zones"] = list_of(f.zones, zone_json);
    if (!(f.order == OrderAsk{})) j["order"] = record(f.order, ask_json);
}

}  // namespace grayrelic::dossier_codec
