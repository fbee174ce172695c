// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/quantity.hpp"
#include "core/dossier/dossier_json.hpp"
#include "core/dossier/dossier_writing.hpp"
#include "core/dossier/migrate.hpp"

namespace grayrelic {
namespace {

using namespace dossier_writing;

Json pin_json(const Pin& p) {
    Json j = {{"number", p.number}};
    add_fact(j, "name", p.name);
    add_fact(j, "driver", p.driver, p.driver.value == Driver::unknown ? Json() : Json(word(p.driver.value)));
    add_fact(j, "function", p.function);
    add_fact(j, "family", p.family);
    add_fact(j, "output", p.output);
    add_fact(j, "idle", p.idle);
    add_fact(j, "pull", p.pull);
    add_fact(j, "pull_ohm", p.pull_ohm);
    add_fact(j, "volts_min", p.volts_min);
    add_fact(j, "volts_max", p.volts_max);
    add_fact(j, "current_max", p.current_max);
    add_fact(j, "volts_idle", p.volts_idle);
    add_fact(j, "volts_active", p.volts_active);
    add_fact(j, "ohms_to_ground", p.ohms_to_ground);
    add_fact(j, "colour", p.colour);
    add_text(j, "note", p.note);
    return j;
}

Json source_json(const PinSource& s) {
    Json j = {{"id", s.id}, {"name", s.name}};
    add_text(j, "note", s.note);
    j["pins"] = list_of(s.pins, pin_json);
    return j;
}

Json photo_json(const Photo& p) {
    Json j = {{"file", p.file}, {"title", p.title}};
    return j;
}

Json port_json(const Port& p) {
    Json j = {{"id", p.id}, {"name", p.name}, {"connector", p.connector}};
    add_text(j, "numbering", p.numbering);
    j["viewpoint"] = p.viewpoint;
    if (p.side != Side::relic) j["side"] = word(p.side);
    if (p.half != Half::socket) j["half"] = word(p.half);
    if (!p.nearby.empty()) j["nearby"] = p.nearby;
    j["pins"] = list_of(p.pins, pin_json);
    if (!p.sources.empty()) j["sources"] = list_of(p.sources, source_json);
    if (!p.photos.empty()) j["photos"] = list_of(p.photos, photo_json);
    return j;
}

Json end_json(const CableEnd& e) {
    Json j = Json::object();
    add_text(j, "port", e.port);
    add_text(j, "connector", e.connector);
    j["half"] = word(e.half);
    add_text(j, "label", e.label);
    return j;
}

Json cable_json(const Cable& c) {
    Json j = {{"id", c.id}, {"name", c.name}, {"a", record(c.a, end_json)}, {"b", record(c.b, end_json)}};
    j["wires"] = list_of(c.wires, [](const CableWire& w) {
        Json x = {{"a", w.a}, {"b", w.b}};
        add_text(x, "colour", w.colour);
        add_text(x, "note", w.note);
        return x;
    });
    add_text(j, "stripe", c.stripe);
    add_text(j, "note", c.note);
    return j;
}

Json decode_json(const DecodeSetup& d) {
    Json j = {{"as", d.kind}};
    j["roles"] = Json::object();
    for (const auto& [role, signals] : d.roles)
        j["roles"][role] = signals.size() == 1 ? Json(signals.front()) : Json(signals);
    if (!d.settings.empty()) j["settings"] = d.settings;
    if (!d.bits.empty()) j["bits"] = d.bits;
    return j;
}

Json capture_json(const CaptureRef& c) {
    Json j = {{"id", c.id}, {"title", c.title}, {"file", c.file}};
    add_text(j, "port", c.port);
    j["signals"] = list_of(c.ties, [](const SignalTie& t) {
        return Json{{"signal", t.signal}, {"pin", t.pin}};
    });
    if (!c.decode.kind.empty()) j["decode"] = record(c.decode, decode_json);
    if (!c.also.empty()) j["also"] = list_of(c.also, decode_json);
    if (!c.read_as.empty()) j["read_as"] = c.read_as;
    if (!c.moments.empty())
        j["moments"] = list_of(c.moments, [](const MarkedMoment& m) {
            Json x = {{"from", print_exact(m.from)}, {"to", print_exact(m.to)}};
            add_text(x, "pressed", m.pressed);
            return x;
        });
    add_fact(j, "sample_rate", c.sample_rate);
    add_text(j, "note", c.note);
    return j;
}

}  // namespace

std::string dossier_to_json(const Dossier& d) {
    Json j = {{"format", "gray-relic-dossier"}, {"version", dossier_version}, {"name", d.about->name}};
    add_text(j, "purpose", d.about->purpose);
    j["revision"] = d.about->revision;
    j["ports"] = list_of(*d.ports, port_json);
    if (!d.cables->empty()) j["cables"] = list_of(*d.cables, cable_json);
    j["captures"] = list_of(*d.captures, capture_json);
    j["timing"] = record(*d.timing, timing_json);
    if (*d.trace != Trace{}) j["trace"] = record(*d.trace, trace_json);
    if (!d.readings->empty()) j["readings"] = list_of(*d.readings, reading_json);
    add_extra(j, d.about->extra);
    return j.dump(2, ' ', false, Json::error_handler_t::replace) + "\n";
}

}  // namespace grayrelic
