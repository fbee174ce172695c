// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <filesystem>
#include <functional>

#include "core/base/text.hpp"
#include "core/dossier/dossier_json.hpp"
#include "core/dossier/dossier_reading.hpp"
#include "core/dossier/migrate.hpp"
#include "core/json/json_node.hpp"
#include "core/signal/capture.hpp"

namespace grayrelic {
namespace {

using namespace dossier_reading;

Pin read_pin(JsonNode& n) {
    Pin p;
    p.number = read_id(n, "number");
    p.name = read_fact<std::string>(n, "name", plain_text);
    p.driver = read_fact<Driver>(n, "driver", [](const JsonNode& v) {
        return read_word(v, driver_named, "relic, bridge, both, supply or nobody");
    });
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

Side read_side(JsonNode& n) {
    const auto child = n.member("side");
    if (!child) return Side::relic;
    return read_word(
        *child,
        [](std::string_view t) -> std::optional<Side> {
            if (t == "relic") return Side::relic;
            if (t == "modern") return Side::modern;
            return std::nullopt;
        },
        "relic or modern");
}

Half read_half(JsonNode& n, Half otherwise) {
    const auto child = n.member("half");
    if (!child) return otherwise;
    return read_word(
        *child,
        [](std::string_view t) -> std::optional<Half> {
            if (t == "socket") return Half::socket;
            if (t == "plug") return Half::plug;
            return std::nullopt;
        },
        "socket or plug");
}

CableEnd read_end(JsonNode& n) {
    CableEnd e;
    e.port = n.text_or("port");
    e.connector = n.text_or("connector");
    e.half = read_half(n, Half::plug);
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
    p.side = read_side(n);
    p.half = read_half(n, Half::socket);
    p.nearby = read_texts(n, "nearby");
    p.pins = read_list<Pin>(n, "pins", read_pin, &Pin::number);
    p.sources = read_list<PinSource>(n, "sources", read_source, &PinSource::id);
    p.photos = read_list<Photo>(n, "photos", read_photo);
    return p;
}

SignalTie read_tie(JsonNode& n) {
    return {read_id(n, "signal"), read_id(n, "pin")};
}

DecodeSetup read_decode(JsonNode& n) {
    DecodeSetup d;
    d.kind = read_id(n, "as");
    if (auto roles = n.member("roles")) {
        roles->require_object();
        for (const auto& role : roles->keys()) {
            const auto child = roles->required(role);
            if (child.is_list())
                d.roles[role] = read_texts(*roles, role);
            else
                d.roles[role] = {child.text()};
        }
    }
    if (auto settings = n.member("settings")) {
        settings->require_object();
        for (const auto& name : settings->keys()) d.settings[name] = settings->required(name).text();
    }
    d.bits = read_texts(n, "bits");
    return d;
}

MarkedMoment read_moment(JsonNode& n) {
    MarkedMoment m;
    m.from = read_optional_time(n, "from").value_or(Time{});
    const auto to = n.required("to");
    m.to = read_optional_time(n, "to").value_or(Time{});
    if (m.to < m.from) to.fault(in_quotes(to.text()), "a time not before \"from\"");
    m.pressed = n.text_or("pressed");
    return m;
}

CaptureRef read_capture(JsonNode& n) {
    CaptureRef c;
    c.id = read_id(n, "id");
    c.title = n.text_or("title", c.id);
    c.file = read_inner_file(n);
    c.port = n.text_or("port");
    c.ties = read_list<SignalTie>(n, "signals", read_tie);
    if (const auto decode = n.member("decode")) c.decode = read_record<DecodeSetup>(*decode, read_decode);
    c.also = read_list<DecodeSetup>(n, "also", read_decode);
    if (auto words = n.member("read_as")) {
        words->require_object();
        for (const auto& name : words->keys()) c.read_as[name] = words->required(name).text();
    }
    c.moments = read_list<MarkedMoment>(n, "moments", read_moment);
    c.sample_rate = read_fact<std::optional<Hertz>>(n, "sample_rate", read_quantity<Unit::hertz>);
    c.note = n.text_or("note");
    return c;
}

int version_of(JsonNode root) {
    root.require_object();
    const auto format = root.required("format");
    if (format.text() != "gray-relic-dossier") format.fault(format.shown(), "\"gray-relic-dossier\"");
    const auto version = root.required("version");
    if (version.is_number() && version.number() > dossier_version)
        version.fault(version.shown(),
                      fmt::format("a version up to {}; this dossier was written by a newer Gray Relic",
                                  dossier_version));
    return static_cast<int>(version.whole(1, dossier_version));
}

Dossier read_dossier(JsonNode& root) {
    (void)root.member("format");
    (void)root.member("version");
    Dossier d;
    About about;
    about.name = read_id(root, "name");
    about.purpose = root.text_or("purpose");
    if (const auto revision = root.member("revision"))
        about.revision = static_cast<int>(revision->whole(1, 1'000'000'000));
    d.ports = Section(read_list<Port>(root, "ports", read_port, &Port::id));
    d.cables = Section(read_list<Cable>(root, "cables", read_cable, &Cable::id));
    d.captures = Section(read_list<CaptureRef>(root, "captures", read_capture, &CaptureRef::id));
    if (const auto timing = root.member("timing"))
        d.timing = Section(read_record<Timing>(*timing, read_timing));
    if (const auto trace = root.member("trace")) d.trace = Section(read_record<Trace>(*trace, read_trace));
    d.readings = Section(read_list<MeterReading>(root, "readings", read_reading));
    about.extra = root.unknown_members();
    d.about = Section(std::move(about));
    return d;
}

}  // namespace

Result<int> dossier_version_in(std::string_view text, const std::string& file) {
    return read_json(text, file, "a dossier as JSON", [](JsonNode& root) { return version_of(root); });
}

Result<Dossier> dossier_from_json(std::string_view text, const std::string& file) {
    auto document = JsonDocument::parse(text, file, "a dossier as JSON");
    if (!document) return fail(document.error());
    try {
        if (const int version = version_of(document->root()); version < dossier_version)
            document->rearrange([&](SortedJson& d) { migrate(d, version); }, migration_moves(version));
        auto root = document->root();
        return read_dossier(root);
    } catch (const JsonFault& fault) {
        return fail(document->error(fault));
    }
}

}  // namespace grayrelic
