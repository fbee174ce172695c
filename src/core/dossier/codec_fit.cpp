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
    i.place = n.text_or("place");
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
    add_text(j, "place", i.place);
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
    if (const auto width = n.member("width_mm")) t.width_mm = figure_in(*width, 0, most_mm);
    if (const auto height = n.member("height_mm")) t.height_mm = figure_in(*height, 0, most_mm);
    return t;
}

Json tier_json(const OrderTier& t) {
    Json j = {{"quantity", t.quantity}, {"price", t.price}};
    if (t.shipping != 0) j["shipping"] = t.shipping;
    if (t.width_mm != 0) j["width_mm"] = t.width_mm;
    if (t.height_mm != 0) j["height_mm"] = t.height_mm;
    return j;
}

OrderExtra read_extra(JsonNode& n) {
    OrderExtra x;
    x.what = read_id(n, "what");
    if (const auto price = n.member("price")) x.price = figure_in(*price, 0, most_money);
    if (const auto each = n.member("each")) x.each = figure_in(*each, 0, most_money);
    x.rule = n.text_or("rule");
    if (const auto below = n.member("below_mm")) x.below_mm = figure_in(*below, 0, most_mm);
    return x;
}

Json extra_json(const OrderExtra& x) {
    Json j = {{"what", x.what}};
    if (x.price != 0) j["price"] = x.price;
    if (x.each != 0) j["each"] = x.each;
    add_text(j, "rule", x.rule);
    if (x.below_mm != 0) j["below_mm"] = x.below_mm;
    return j;
}

ObsoleteStock read_obsolete(JsonNode& n) {
    ObsoleteStock s;
    s.what = read_id(n, "what");
    if (const auto count = n.member("count")) s.count = static_cast<int>(count->whole(1, most_quantity));
    if (const auto each = n.member("each")) s.each = figure_in(*each, 0, most_money);
    return s;
}

Json obsolete_json(const ObsoleteStock& s) {
    Json j = {{"what", s.what}};
    if (s.count != 1) j["count"] = s.count;
    if (s.each != 0) j["each"] = s.each;
    return j;
}

FitOutline read_fit_outline(JsonNode& n) {
    FitOutline o;
    o.id = read_id(n, "id");
    o.title = n.text_or("title");
    o.file = n.text_or("file");
    if (const auto x = n.member("x_mm")) o.x_mm = figure_in(*x, -2000, 2000);
    if (const auto y = n.member("y_mm")) o.y_mm = figure_in(*y, -2000, 2000);
    if (const auto turn = n.member("turn_deg")) {
        o.turn_deg = static_cast<int>(turn->whole(0, 270));
        if (*o.turn_deg % 90 != 0) turn->fault(turn->shown(), "0, 90, 180 or 270");
    }
    return o;
}

Json fit_outline_json(const FitOutline& o) {
    Json j = {{"id", o.id}};
    add_text(j, "title", o.title);
    add_text(j, "file", o.file);
    if (o.x_mm) j["x_mm"] = *o.x_mm;
    if (o.y_mm) j["y_mm"] = *o.y_mm;
    if (o.turn_deg) j["turn_deg"] = *o.turn_deg;
    return j;
}

OrderAsk read_ask(JsonNode& n) {
    OrderAsk a;
    if (const auto want = n.member("want")) a.want = static_cast<int>(want->whole(0, most_quantity));
    if (const auto yield = n.member("yield")) a.yield = figure_in(*yield, 1e-6, 1);
    if (const auto respin = n.member("respin")) a.respin = figure_in(*respin, 0, 1);
    a.tiers = read_bounded<OrderTier>(n, "tiers", most_tiers, read_tier);
    for (std::size_t i = 1; i < a.tiers.size(); ++i)
        if (a.tiers[i].quantity < a.tiers[i - 1].quantity ||
            (a.tiers[i].quantity == a.tiers[i - 1].quantity &&
             a.tiers[i].width_mm == a.tiers[i - 1].width_mm &&
             a.tiers[i].height_mm == a.tiers[i - 1].height_mm))
            n.fault(fmt::format("{} boards after {}", a.tiers[i].quantity, a.tiers[i - 1].quantity),
                    "tiers with rising quantities");
    a.extras = read_bounded<OrderExtra>(n, "extras", most_tiers, read_extra, &OrderExtra::what);
    a.obsolete = read_bounded<ObsoleteStock>(n, "obsolete", most_tiers, read_obsolete);
    return a;
}

Json ask_json(const OrderAsk& a) {
    Json j = Json::object();
    if (a.want > 0) j["want"] = a.want;
    if (a.yield) j["yield"] = *a.yield;
    if (a.respin) j["respin"] = *a.respin;
    if (!a.tiers.empty()) j["tiers"] = list_of(a.tiers, tier_json);
    if (!a.extras.empty()) j["extras"] = list_of(a.extras, extra_json);
    if (!a.obsolete.empty()) j["obsolete"] = list_of(a.obsolete, obsolete_json);
    return j;
}

}  // namespace

void read_fits(JsonNode& n, Fabrication& f) {
    f.fits = read_bounded<FitCase>(n, "fits", most_fits, read_fit_case, &FitCase::id);
    f.zones = read_bounded<FitZone>(n, "zones", most_zones, read_zone, &FitZone::name);
    f.outlines = read_bounded<FitOutline>(n, "outlines", most_zones, read_fit_outline, &FitOutline::id);
    if (auto order = n.member("order")) f.order = read_record<OrderAsk>(*order, read_ask);
}

void add_fits(Json& j, const Fabrication& f) {
    if (!f.fits.empty()) j["fits"] = list_of(f.fits, fit_case_json);
    if (!f.zones.empty()) j["zones"] = list_of(f.zones, zone_json);
    if (!f.outlines.empty()) j["outlines"] = list_of(f.outlines, fit_outline_json);
    if (!(f.order == OrderAsk{})) j["order"] = record(f.order, ask_json);
}

}  // namespace grayrelic::dossier_codec
