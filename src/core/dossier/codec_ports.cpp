// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/codec_tools.hpp"

namespace grayrelic::dossier_codec {
namespace {

Pin read_pin(JsonNode& n) {
    Pin p;
    p.number = read_id(n, "number");
    p.name = read_fact<std::string>(n, "name", plain_text);
    p.driver = read_fact<Driver>(n, "driver", read_word<Driver>);
    p.function = read_fact<std::string>(n, "function", plain_text);
    p.family = read_fact<std::string>(n, "family", plain_text);
    p.output = read_fact<std::string>(n, "output", plain_text);
    p.idle = read_fact<std::string>(n, "idle", plain_text);
    p.pull = read_fact<std::string>(n, "pull", plain_text);
    p.pull_ohm = read_fact<std::optional<Ohms>>(n, "pull_ohm", read_quantity<Unit::ohm>);
    p.volts_min = read_fact<std::optional<Volts>>(n, "volts_min", read_quantity<Unit::volt>);
    p.volts_max = read_fact<std::optional<Volts>>(n, "volts_max", read_quantity<Unit::volt>);
    p.current_max = read_fact<std::optional<Amperes>>(n, "current_max", read_quantity<Unit::ampere>);
    p.volts_idle = read_fact<std::optional<Volts>>(n, "volts_idle", read_quantity<Unit::volt>);
    p.volts_active = read_fact<std::optional<Volts>>(n, "volts_active", read_quantity<Unit::volt>);
    p.ohms_to_ground = read_fact<std::optional<Ohms>>(n, "ohms_to_ground", read_quantity<Unit::ohm>);
    p.colour = read_fact<std::string>(n, "colour", plain_text);
    p.protection = read_fact<std::string>(n, "protection", plain_text);
    p.note = n.text_or("note");
    return p;
}

PinSource read_source(JsonNode& n) {
    PinSource s;
    s.id = read_id(n, "id");
    s.name = n.text_or("name", s.id);
    s.note = n.text_or("note");
    s.pins = read_list<Pin>(n, "pins", read_pin, &Pin::number);
    return s;
}

Photo read_photo(JsonNode& n) {
    Photo p;
    p.file = read_inner_file(n);
    p.title = n.text_or("title", p.file);
    return p;
}

TapWish read_wish(JsonNode& n) {
    TapWish w;
    w.id = read_id(n, "id");
    w.what = n.text_or("what");
    w.how = n.text_or("how");
    if (const auto every = n.member("every_s")) {
        w.every_s = every->number();
        if (!(*w.every_s > 0 && *w.every_s <= 1e9)) every->fault(every->shown(), "seconds above 0");
    }
    if (const auto times = n.member("times")) {
        const double count = times->number();
        if (!(count >= 1 && count <= 1e6)) times->fault(times->shown(), "a count from 1 to 1000000");
        w.times = static_cast<long>(count);
    }
    return w;
}

TapPlan read_taps(JsonNode& n) {
    TapPlan t;
    t.analyser = n.text_or("analyser");
    t.shortest = read_fact<std::optional<Time>>(n, "shortest", [](const JsonNode& v) -> std::optional<Time> {
        const auto time = read_time(v);
        if (time <= Time{}) v.fault(v.shown(), "a time above 0 s");
        return time;
    });
    t.wishes = read_list<TapWish>(n, "wishes", read_wish, &TapWish::id);
    return t;
}

CableEnd read_end(JsonNode& n) {
    CableEnd e;
    e.port = n.text_or("port");
    e.connector = n.text_or("connector");
    e.half = read_word_or(n, "half", Half::plug);
    e.label = n.text_or("label");
    return e;
}

CableWire read_wire(JsonNode& n) {
    return {read_id(n, "a"), read_id(n, "b"), n.text_or("colour"), n.text_or("note")};
}

Cable read_cable(JsonNode& n) {
    Cable c;
    c.id = read_id(n, "id");
    c.name = n.text_or("name", c.id);
    c.a = read_record<CableEnd>(n.required("a"), read_end);
    c.b = read_record<CableEnd>(n.required("b"), read_end);
    c.wires = read_list<CableWire>(n, "wires", read_wire);
    c.stripe = n.text_or("stripe");
    c.note = n.text_or("note");
    return c;
}

Port read_port(JsonNode& n) {
    Port p;
    p.id = read_id(n, "id");
    p.name = n.text_or("name", p.id);
    p.connector = n.text_or("connector");
    p.numbering = n.text_or("numbering");
    p.viewpoint = n.text_or("viewpoint", p.viewpoint);
    p.side = read_word_or(n, "side", Side::relic);
    p.half = read_word_or(n, "half", Half::socket);
    p.nearby = read_texts(n, "nearby");
    p.pins = read_list<Pin>(n, "pins", read_pin, &Pin::number);
    p.sources = read_list<PinSource>(n, "sources", read_source, &PinSource::id);
    p.photos = read_list<Photo>(n, "photos", read_photo);
    if (const auto taps = n.member("taps")) p.taps = read_record<TapPlan>(*taps, read_taps);
    return p;
}

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
    add_fact(j, "protection", p.protection);
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

Json taps_json(const TapPlan& t) {
    Json j = Json::object();
    add_text(j, "analyser", t.analyser);
    add_fact(j, "shortest", t.shortest, t.shortest.value ? time(*t.shortest.value) : Json());
    if (!t.wishes.empty())
        j["wishes"] = list_of(t.wishes, [](const TapWish& w) {
            Json x = {{"id", w.id}};
            add_text(x, "what", w.what);
            add_text(x, "how", w.how);
            if (w.every_s) x["every_s"] = *w.every_s;
            x["times"] = w.times;
            return x;
        });
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
    if (p.taps != TapPlan{}) j["taps"] = record(p.taps, taps_json);
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

}  // namespace

const SectionCodec ports = codec_of<&Dossier::ports>(
    "ports", [](JsonNode n, Dossier& d) { d.ports = Section(read_items<Port>(n, read_port, &Port::id)); },
    [](const Dossier& d) { return list_of(*d.ports, port_json); });

const SectionCodec cables = codec_of<&Dossier::cables>(
    "cables",
    [](JsonNode n, Dossier& d) { d.cables = Section(read_items<Cable>(n, read_cable, &Cable::id)); },
    [](const Dossier& d) { return d.cables->empty() ? Json() : list_of(*d.cables, cable_json); });

}  // namespace grayrelic::dossier_codec
