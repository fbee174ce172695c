// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/dossier_writing.hpp"
#include "core/dossier/reading_text.hpp"

namespace grayrelic::dossier_writing {
namespace {

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

}  // namespace

Json reading_json(const MeterReading& r) {
    Json j = {{"a", r.a}, {"b", r.b}, {"reading", write_reading(r)}};
    add_text(j, "tool", r.tool);
    add_text(j, "date", r.date);
    add_text(j, "note", r.note);
    add_text(j, "set_aside", r.set_aside);
    return j;
}

Json trace_json(const Trace& t) {
    Json j = {{"beep_below_ohm", t.beep_below_ohm}};
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

}  // namespace grayrelic::dossier_writing
