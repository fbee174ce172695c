// SPDX-License-Identifier: GPL-3.0-or-later
// Units, dimensions, parts and orders in dossier.json.
#include "core/base/date.hpp"
#include "core/dossier/codec_tools.hpp"

namespace grayrelic::dossier_codec {
namespace {

constexpr int most_of_a_part = 1'000'000;

std::optional<int> read_count(JsonNode& n, const char* key, int least, int most) {
    const auto child = n.member(key);
    return child ? std::optional(static_cast<int>(child->whole(least, most))) : std::nullopt;
}

JobUnit read_unit(JsonNode& n) {
    JobUnit u;
    u.id = read_id(n, "id");
    u.name = n.text_or("name");
    u.kind = read_word_or(n, "kind", UnitKind::board);
    u.revision = read_count(n, "revision", 0, 1'000'000);
    u.number = n.text_or("number");
    u.state = read_word_or(n, "state", UnitState::original);
    u.note = n.text_or("note");
    if (const auto worth = n.member("worth")) {
        u.worth = worth->number();
        if (!(*u.worth >= 0 && *u.worth < 1e9)) worth->fault(worth->shown(), "money, zero or more");
    }
    return u;
}

Json unit_json(const JobUnit& u) {
    Json j = {{"id", u.id}, {"name", u.name}, {"kind", word(u.kind)}};
    if (u.revision) j["revision"] = *u.revision;
    add_text(j, "number", u.number);
    j["state"] = word(u.state);
    add_text(j, "note", u.note);
    if (u.worth) j["worth"] = *u.worth;
    return j;
}

std::optional<double> read_mm(const JsonNode& n) {
    const double v = n.number();
    if (!(v >= 0 && v <= 100'000)) n.fault(n.shown(), "millimetres, 0 to 100000");
    return v;
}

Dimension read_dimension(JsonNode& n) {
    Dimension d;
    d.id = read_id(n, "id");
    d.name = n.text_or("name");
    d.mm = read_fact<std::optional<double>>(n, "mm", read_mm);
    if (d.mm.uncertainty && !(*d.mm.uncertainty >= 0))
        n.fault("a tolerance below zero", "millimetres, plus or minus");
    d.unit = n.text_or("unit");
    d.decides = n.text_or("decides");
    return d;
}

void add_number(Json& j, const char* key, const Fact<std::optional<double>>& fact) {
    add_fact(j, key, fact, fact.value ? Json(*fact.value) : Json());
}

Json dimension_json(const Dimension& d) {
    Json j = {{"id", d.id}, {"name", d.name}};
    add_number(j, "mm", d.mm);
    add_text(j, "unit", d.unit);
    add_text(j, "decides", d.decides);
    return j;
}

std::optional<double> read_share(const JsonNode& n) {
    const double v = n.number();
    if (!(v > 0 && v <= 1)) n.fault(n.shown(), "a share above 0 and up to 1");
    return v;
}

PriceStep read_price(JsonNode& n) {
    PriceStep p;
    if (const auto from = read_count(n, "from", 1, most_of_a_part)) p.from = *from;
    const auto each = n.required("each");
    p.each = each.number();
    if (!(p.each >= 0 && p.each < 1e9)) each.fault(each.shown(), "a price, zero or more");
    return p;
}

PartLine read_part_line(JsonNode& n) {
    PartLine p;
    p.id = read_id(n, "id");
    p.part = read_id(n, "part");
    p.kind = read_word_or(n, "kind", PartKind::other);
    p.refs = read_texts(n, "refs");
    p.per_board = read_count(n, "per_board", 0, 100'000);
    p.yield = read_fact<std::optional<double>>(n, "yield", read_share);
    p.question = n.text_or("question");
    p.not_to_be_had = n.text_or("not_to_be_had");
    p.alternates = read_texts(n, "alternates");
    p.supplier = n.text_or("supplier");
    p.prices = read_list<PriceStep>(n, "prices", read_price);
    p.lead_days_from = read_count(n, "lead_days_from", 0, 10'000);
    p.lead_days_to = read_count(n, "lead_days_to", 0, 10'000);
    p.seen = read_day(n, "seen");
    p.note = n.text_or("note");
    return p;
}

Json part_line_json(const PartLine& p) {
    Json j = {{"id", p.id}, {"part", p.part}, {"kind", word(p.kind)}};
    if (!p.refs.empty()) j["refs"] = p.refs;
    if (p.per_board) j["per_board"] = *p.per_board;
    add_number(j, "yield", p.yield);
    add_text(j, "question", p.question);
    add_text(j, "not_to_be_had", p.not_to_be_had);
    if (!p.alternates.empty()) j["alternates"] = p.alternates;
    add_text(j, "supplier", p.supplier);
    if (!p.prices.empty())
        j["prices"] = list_of(p.prices, [](const PriceStep& s) {
            return Json{{"from", s.from}, {"each", s.each}};
        });
    if (p.lead_days_from) j["lead_days_from"] = *p.lead_days_from;
    if (p.lead_days_to) j["lead_days_to"] = *p.lead_days_to;
    add_text(j, "seen", p.seen);
    add_text(j, "note", p.note);
    return j;
}

OrderLine read_order_line(JsonNode& n) {
    OrderLine l;
    l.part = read_id(n, "part");
    l.count = static_cast<int>(n.required("count").whole(1, most_of_a_part));
    return l;
}

SentFile read_sent_file(JsonNode& n) {
    SentFile f;
    f.name = read_id(n, "name");
    const auto sum = n.required("sha256");
    f.sha256 = sum.text(64);
    if (f.sha256.size() != 64 || f.sha256.find_first_not_of("0123456789abcdef") != std::string::npos)
        sum.fault(in_quotes(f.sha256), "64 hexadecimal digits");
    return f;
}

Order read_order(JsonNode& n) {
    Order o;
    o.id = read_id(n, "id");
    o.from = n.text_or("from");
    o.lines = read_list<OrderLine>(n, "lines", read_order_line);
    o.files = read_list<SentFile>(n, "files", read_sent_file);
    o.ordered = read_day(n, "ordered");
    o.expected_from = read_day(n, "expected_from");
    o.expected_to = read_day(n, "expected_to");
    o.arrived = read_day(n, "arrived");
    o.frees = read_texts(n, "frees");
    o.note = n.text_or("note");
    return o;
}

Json order_json(const Order& o) {
    Json j = {{"id", o.id}};
    add_text(j, "from", o.from);
    j["lines"] = list_of(o.lines, [](const OrderLine& l) {
        return Json{{"part", l.part}, {"count", l.count}};
    });
    if (!o.files.empty())
        j["files"] = list_of(o.files, [](const SentFile& f) {
            return Json{{"name", f.name}, {"sha256", f.sha256}};
        });
    add_text(j, "ordered", o.ordered);
    add_text(j, "expected_from", o.expected_from);
    add_text(j, "expected_to", o.expected_to);
    add_text(j, "arrived", o.arrived);
    if (!o.frees.empty()) j["frees"] = o.frees;
    add_text(j, "note", o.note);
    return j;
}

Supply read_supply(JsonNode& n) {
    Supply s;
    if (const auto boards = read_count(n, "boards", 0, 100'000)) s.boards = *boards;
    s.parts = read_list<PartLine>(n, "parts", read_part_line, &PartLine::id);
    s.orders = read_list<Order>(n, "orders", read_order, &Order::id);
    return s;
}

Json supply_json(const Supply& s) {
    Json j = {{"boards", s.boards}};
    if (!s.parts.empty()) j["parts"] = list_of(s.parts, part_line_json);
    if (!s.orders.empty()) j["orders"] = list_of(s.orders, order_json);
    return j;
}

}  // namespace

const SectionCodec units = codec_of<&Dossier::units>(
    "units",
    [](JsonNode n, Dossier& d) { d.units = Section(read_items<JobUnit>(n, read_unit, &JobUnit::id)); },
    [](const Dossier& d) { return d.units->empty() ? Json() : list_of(*d.units, unit_json); });

const SectionCodec dimensions = codec_of<&Dossier::dimensions>(
    "dimensions",
    [](JsonNode n, Dossier& d) {
        d.dimensions = Section(read_items<Dimension>(n, read_dimension, &Dimension::id));
    },
    [](const Dossier& d) { return d.dimensions->empty() ? Json() : list_of(*d.dimensions, dimension_json); });

const SectionCodec supply = codec_of<&Dossier::supply>(
    "supply", [](JsonNode n, Dossier& d) { d.supply = Section(read_record<Supply>(n, read_supply)); },
    [](const Dossier& d) { return *d.supply == Supply{} ? Json() : record(*d.supply, supply_json); });

}  // namespace grayrelic::dossier_codec
