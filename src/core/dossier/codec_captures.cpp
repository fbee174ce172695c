// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/codec_tools.hpp"

namespace grayrelic::dossier_codec {
namespace {

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
    if (auto names = n.member("names")) {
        names->require_object();
        for (const auto& name : names->keys()) c.names[name] = names->required(name).text();
    }
    if (auto words = n.member("read_as")) {
        words->require_object();
        for (const auto& name : words->keys()) c.read_as[name] = words->required(name).text();
    }
    c.moments = read_list<MarkedMoment>(n, "moments", read_moment);
    c.unit = n.text_or("unit");
    c.sample_rate = read_fact<std::optional<Hertz>>(n, "sample_rate", read_quantity<Unit::hertz>);
    c.note = n.text_or("note");
    return c;
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
    add_text(j, "unit", c.unit);
    j["signals"] = list_of(c.ties, [](const SignalTie& t) {
        return Json{{"signal", t.signal}, {"pin", t.pin}};
    });
    if (!c.names.empty()) j["names"] = c.names;
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

const SectionCodec captures = codec_of<&Dossier::captures>(
    "captures",
    [](JsonNode n, Dossier& d) {
        d.captures = Section(read_items<CaptureRef>(n, read_capture, &CaptureRef::id));
    },
    [](const Dossier& d) { return list_of(*d.captures, capture_json); });

}  // namespace grayrelic::dossier_codec
