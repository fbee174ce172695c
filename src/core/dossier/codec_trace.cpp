// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/codec_tools.hpp"
#include "core/dossier/reading_text.hpp"

namespace grayrelic::dossier_codec {
namespace {

double place(const JsonNode& n) {
    const double v = n.number();
    if (!(std::abs(v) <= 1e6)) n.fault(n.shown(), "a number within 1000000 for " + print_path(n.path()));
    return v;
}

double place(JsonNode& n, const std::string& key) {
    return place(n.required(key));
}

std::optional<double> optional_place(JsonNode& n, const std::string& key) {
    const auto child = n.member(key);
    return child ? std::optional(place(*child)) : std::nullopt;
}

int whole_or_zero(JsonNode& n, const std::string& key, long long most) {
    const auto child = n.member(key);
    return child ? static_cast<int>(child->whole(0, most)) : 0;
}

BoardPart read_board_part(JsonNode& n) {
    BoardPart p;
    p.ref = read_id(n, "ref");
    p.type = n.text_or("type");
    p.value = n.text_or("value");
    p.package = n.text_or("package");
    p.x_mm = optional_place(n, "x_mm");
    p.y_mm = optional_place(n, "y_mm");
    p.turn_deg = optional_place(n, "turn_deg").value_or(0);
    p.side = read_word_or(n, "side", BoardSide::front);
    p.evidence = read_evidence(n);
    p.note = n.text_or("note");
    return p;
}

Spot read_spot(JsonNode& n) {
    return {read_id(n, "name"), place(n, "x_mm"), place(n, "y_mm"), n.text_or("note")};
}

PointAlias read_alias(JsonNode& n) {
    return {read_id(n, "name"), read_id(n, "point")};
}

ScanReference read_reference(JsonNode& n) {
    return {place(n, "x_px"), place(n, "y_px"), place(n, "x_mm"), place(n, "y_mm")};
}

ScanStroke read_stroke(JsonNode& n) {
    ScanStroke s;
    s.kind = read_word<StrokeKind>(n.required("kind"));
    s.x1_mm = place(n, "x1_mm");
    s.y1_mm = place(n, "y1_mm");
    s.x2_mm = place(n, "x2_mm");
    s.y2_mm = place(n, "y2_mm");
    s.width_mm = optional_place(n, "width_mm").value_or(s.width_mm);
    s.why = n.text_or("why");
    return s;
}

ScanClick read_click(JsonNode& n) {
    return {read_word<ClickKind>(n.required("kind")), place(n, "x_mm"), place(n, "y_mm")};
}

Scan read_scan(JsonNode& n) {
    Scan s;
    s.id = read_id(n, "id");
    s.title = n.text_or("title", s.id);
    s.file = read_inner_file(n);
    s.side = read_word_or(n, "side", BoardSide::front);
    s.unit = n.text_or("unit");
    s.references = read_list<ScanReference>(n, "references", read_reference);
    s.strokes = read_list<ScanStroke>(n, "strokes", read_stroke);
    s.clicks = read_list<ScanClick>(n, "clicks", read_click);
    return s;
}

Net read_net(JsonNode& n) {
    Net net;
    net.name = n.text_or("name");
    net.points = read_texts(n, "points");
    return net;
}

/// Points of no net stand in one without a name; each point stands once.
std::vector<Net> read_nets(JsonNode& n) {
    auto nets = read_list<Net>(n, "nets", read_net);
    std::set<std::string> seen;
    for (const auto& net : nets)
        for (const auto& p : net.points)
            if (!seen.insert(p).second)
                n.required("nets").elements(most_items)[static_cast<std::size_t>(&net - nets.data())].fault(
                    in_quotes(p) + " in two nets", "each point in one net");
    return nets;
}

NetSource read_net_source(JsonNode& n) {
    NetSource s;
    s.id = read_id(n, "id");
    s.name = n.text_or("name", s.id);
    s.note = n.text_or("note");
    if (const auto match = n.text_or("match"); match == "wiring")
        s.by_wiring = true;
    else if (!match.empty() && match != "names")
        n.fault("match " + in_quotes(match), "names or wiring");
    s.nets = read_nets(n);
    return s;
}

Deviation read_deviation(JsonNode& n) {
    Deviation d;
    d.id = read_id(n, "id");
    d.subject = n.text_or("subject");
    d.says = n.text_or("says");
    d.reason = n.text_or("reason");
    d.source = n.text_or("source");
    d.date = n.text_or("date");
    return d;
}

Donor read_donor(JsonNode& n) {
    Donor d;
    d.id = read_id(n, "id");
    d.part = n.text_or("part");
    d.from = n.text_or("from");
    d.to = n.text_or("to");
    d.condition = n.text_or("condition");
    d.cleaning = n.text_or("cleaning");
    d.order = whole_or_zero(n, "order", 10'000);
    d.heat_cycles = whole_or_zero(n, "heat_cycles", 1000);
    d.heat_limit = whole_or_zero(n, "heat_limit", 1000);
    d.verdict = n.text_or("verdict");
    d.note = n.text_or("note");
    return d;
}

MeterReading read_reading(JsonNode& n) {
    const auto child = n.required("reading");
    auto r = parse_reading(child.text(64));
    if (!r) child.fault(r.error().found, r.error().expected);
    r->a = read_id(n, "a");
    r->b = read_id(n, "b");
    r->tool = n.text_or("tool");
    r->date = n.text_or("date");
    r->note = n.text_or("note");
    r->unit = n.text_or("unit");
    r->set_aside = n.text_or("set_aside");
    return std::move(*r);
}

Trace read_trace(JsonNode& n) {
    Trace t;
    if (const auto ohm = n.member("beep_below_ohm")) {
        t.beep_below_ohm = place(*ohm);
        if (!(t.beep_below_ohm > 0 && t.beep_below_ohm <= 1000))
            ohm->fault(ohm->shown(), "more than 0 and at most 1000 ohms");
    }
    t.unit = n.text_or("unit");
    t.parts = read_list<BoardPart>(n, "parts", read_board_part, &BoardPart::ref);
    t.spots = read_list<Spot>(n, "spots", read_spot, &Spot::name);
    t.aliases = read_list<PointAlias>(n, "aliases", read_alias);
    t.scans = read_list<Scan>(n, "scans", read_scan, &Scan::id);
    t.netlists = read_list<NetSource>(n, "netlists", read_net_source, &NetSource::id);
    t.against = n.text_or("against");
    t.deviations = read_list<Deviation>(n, "deviations", read_deviation, &Deviation::id);
    t.donors = read_list<Donor>(n, "donors", read_donor, &Donor::id);
    return t;
}

Json part_json(const BoardPart& p) {
    Json j = {{"ref", p.ref}};
    add_text(j, "type", p.type);
    add_text(j, "value", p.value);
    add_text(j, "package", p.package);
    if (p.x_mm) j["x_mm"] = *p.x_mm;
    if (p.y_mm) j["y_mm"] = *p.y_mm;
    if (p.turn_deg != 0) j["turn_deg"] = p.turn_deg;
    if (p.side != BoardSide::front) j["side"] = word(p.side);
    add_evidence(j, p.evidence);
    add_text(j, "note", p.note);
    return j;
}

Json scan_json(const Scan& s) {
    Json j = {{"id", s.id}, {"title", s.title}, {"file", s.file}, {"side", word(s.side)}};
    add_text(j, "unit", s.unit);
    j["references"] = list_of(s.references, [](const ScanReference& r) {
        return Json{{"x_px", r.x_px}, {"y_px", r.y_px}, {"x_mm", r.x_mm}, {"y_mm", r.y_mm}};
    });
    if (!s.strokes.empty())
        j["strokes"] = list_of(s.strokes, [](const ScanStroke& k) {
            Json x = {{"kind", word(k.kind)}, {"x1_mm", k.x1_mm}, {"y1_mm", k.y1_mm},
                      {"x2_mm", k.x2_mm},     {"y2_mm", k.y2_mm}, {"width_mm", k.width_mm}};
            add_text(x, "why", k.why);
            return x;
        });
    if (!s.clicks.empty())
        j["clicks"] = list_of(s.clicks, [](const ScanClick& c) {
            return Json{{"kind", word(c.kind)}, {"x_mm", c.x_mm}, {"y_mm", c.y_mm}};
        });
    return j;
}

Json netlist_json(const NetSource& s) {
    Json j = {{"id", s.id}, {"name", s.name}};
    add_text(j, "note", s.note);
    if (s.by_wiring) j["match"] = "wiring";
    j["nets"] = list_of(s.nets, [](const Net& n) { return Json{{"name", n.name}, {"points", n.points}}; });
    return j;
}

Json deviation_json(const Deviation& d) {
    Json j = {{"id", d.id}};
    add_text(j, "subject", d.subject);
    add_text(j, "says", d.says);
    add_text(j, "reason", d.reason);
    add_text(j, "source", d.source);
    add_text(j, "date", d.date);
    return j;
}

Json donor_json(const Donor& d) {
    Json j = {{"id", d.id}};
    add_text(j, "part", d.part);
    add_text(j, "from", d.from);
    add_text(j, "to", d.to);
    add_text(j, "condition", d.condition);
    add_text(j, "cleaning", d.cleaning);
    if (d.order > 0) j["order"] = d.order;
    j["heat_cycles"] = d.heat_cycles;
    if (d.heat_limit > 0) j["heat_limit"] = d.heat_limit;
    add_text(j, "verdict", d.verdict);
    add_text(j, "note", d.note);
    return j;
}

Json reading_json(const MeterReading& r) {
    Json j = {{"a", r.a}, {"b", r.b}, {"reading", write_reading(r)}};
    add_text(j, "tool", r.tool);
    add_text(j, "date", r.date);
    add_text(j, "note", r.note);
    add_text(j, "unit", r.unit);
    add_text(j, "set_aside", r.set_aside);
    return j;
}

Json trace_json(const Trace& t) {
    Json j = {{"beep_below_ohm", t.beep_below_ohm}};
    add_text(j, "unit", t.unit);
    if (!t.parts.empty()) j["parts"] = list_of(t.parts, part_json);
    if (!t.spots.empty())
        j["spots"] = list_of(t.spots, [](const Spot& s) {
            Json x = {{"name", s.name}, {"x_mm", s.x_mm}, {"y_mm", s.y_mm}};
            add_text(x, "note", s.note);
            return x;
        });
    if (!t.aliases.empty())
        j["aliases"] = list_of(t.aliases, [](const PointAlias& a) {
            return Json{{"name", a.name}, {"point", a.point}};
        });
    if (!t.scans.empty()) j["scans"] = list_of(t.scans, scan_json);
    if (!t.netlists.empty()) j["netlists"] = list_of(t.netlists, netlist_json);
    add_text(j, "against", t.against);
    if (!t.deviations.empty()) j["deviations"] = list_of(t.deviations, deviation_json);
    if (!t.donors.empty()) j["donors"] = list_of(t.donors, donor_json);
    return j;
}

}  // namespace

const SectionCodec trace = codec_of<&Dossier::trace>(
    "trace", [](JsonNode n, Dossier& d) { d.trace = Section(read_record<Trace>(n, read_trace)); },
    [](const Dossier& d) { return *d.trace == Trace{} ? Json() : record(*d.trace, trace_json); });

const SectionCodec readings = codec_of<&Dossier::readings>(
    "readings",
    [](JsonNode n, Dossier& d) { d.readings = Section(read_items<MeterReading>(n, read_reading)); },
    [](const Dossier& d) { return d.readings->empty() ? Json() : list_of(*d.readings, reading_json); });

}  // namespace grayrelic::dossier_codec
