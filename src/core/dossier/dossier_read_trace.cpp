// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>

#include "core/dossier/dossier_reading.hpp"
#include "core/dossier/reading_text.hpp"

namespace grayrelic::dossier_reading {
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

BoardSide read_board_side(JsonNode& n) {
    const auto child = n.member("side");
    if (!child) return BoardSide::front;
    return read_word(
        *child,
        [](std::string_view t) -> std::optional<BoardSide> {
            if (t == "front") return BoardSide::front;
            if (t == "back") return BoardSide::back;
            return std::nullopt;
        },
        "front or back");
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
    p.side = read_board_side(n);
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
    s.kind = read_word(
        n.required("kind"),
        [](std::string_view t) -> std::optional<StrokeKind> {
            for (const auto k : {StrokeKind::cut, StrokeKind::join, StrokeKind::unknown})
                if (t == word(k)) return k;
            return std::nullopt;
        },
        "cut, join or unknown");
    s.x1_mm = place(n, "x1_mm");
    s.y1_mm = place(n, "y1_mm");
    s.x2_mm = place(n, "x2_mm");
    s.y2_mm = place(n, "y2_mm");
    s.width_mm = optional_place(n, "width_mm").value_or(s.width_mm);
    s.why = n.text_or("why");
    return s;
}

Scan read_scan(JsonNode& n) {
    Scan s;
    s.id = read_id(n, "id");
    s.title = n.text_or("title", s.id);
    s.file = read_inner_file(n);
    s.side = read_board_side(n);
    s.references = read_list<ScanReference>(n, "references", read_reference);
    s.strokes = read_list<ScanStroke>(n, "strokes", read_stroke);
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

}  // namespace

MeterReading read_reading(JsonNode& n) {
    const auto child = n.required("reading");
    auto r = parse_reading(child.text(64));
    if (!r) child.fault(r.error().found, r.error().expected);
    r->a = read_id(n, "a");
    r->b = read_id(n, "b");
    r->tool = n.text_or("tool");
    r->date = n.text_or("date");
    r->note = n.text_or("note");
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

}  // namespace grayrelic::dossier_reading
