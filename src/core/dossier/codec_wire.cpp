// SPDX-License-Identifier: GPL-3.0-or-later
// Wire's section in dossier.json.
#include <cmath>

#include "core/dossier/codec_tools.hpp"

namespace grayrelic::dossier_codec {
namespace {

constexpr double most_number = 1e15;

double wire_figure(const JsonNode& n) {
    const double v = n.number();
    if (!(std::abs(v) <= most_number)) n.fault(n.shown(), "a number up to 1e15 for " + print_path(n.path()));
    return v;
}

WireValue read_wire_value(JsonNode& n) {
    WireValue v;
    v.id = read_id(n, "id");
    v.name = n.text_or("name", v.id);
    v.kind = read_id(n, "kind");
    v.numbers = read_list<NumberFact>(n, "numbers", read_number_fact, &NumberFact::key);
    if (auto parts = n.member("parts")) {
        parts->require_object();
        for (const auto& key : parts->keys()) v.parts[key] = parts->required(key).text(64);
    }
    if (const auto least = n.member("least")) v.least = wire_figure(*least);
    if (const auto most = n.member("most")) v.most = wire_figure(*most);
    if (v.least && v.most && *v.least > *v.most) n.fault("least above most", "least up to most");
    v.series = n.text_or("series");
    v.note = n.text_or("note");
    return v;
}

Json wire_value_json(const WireValue& v) {
    Json j = {{"id", v.id}, {"name", v.name}, {"kind", v.kind}};
    if (!v.numbers.empty()) j["numbers"] = list_of(v.numbers, number_json);
    for (const auto& [key, ref] : v.parts) j["parts"][key] = ref;
    if (v.least) j["least"] = *v.least;
    if (v.most) j["most"] = *v.most;
    add_text(j, "series", v.series);
    add_text(j, "note", v.note);
    return j;
}

std::optional<double> setting_figure(JsonNode& n, const char* key) {
    const auto child = n.member(key);
    return child ? std::optional(wire_figure(*child)) : std::nullopt;
}

SettingPosition read_position(JsonNode& n) {
    SettingPosition p;
    p.name = n.required("name").text();
    p.volts = wire_figure(n.required("volts"));
    return p;
}

Json position_json(const SettingPosition& p) {
    return {{"name", p.name}, {"volts", p.volts}};
}

WireSetting read_setting(JsonNode& n) {
    WireSetting s;
    s.id = read_id(n, "id");
    s.name = n.text_or("name", s.id);
    s.kind = read_word<SettingKind>(n.required("kind"));
    s.where = n.text_or("where");
    s.source = n.text_or("source");
    s.positions = read_list<SettingPosition>(n, "positions", read_position, &SettingPosition::name);
    s.least = setting_figure(n, "least");
    s.most = setting_figure(n, "most");
    if (s.least && s.most && *s.least > *s.most) n.fault("least above most", "least up to most");
    s.want = setting_figure(n, "want");
    s.back = setting_figure(n, "back");
    s.now = read_fact<std::optional<double>>(n, "now",
                                             [](const JsonNode& v) { return std::optional(wire_figure(v)); });
    s.measure = n.text_or("measure");
    s.note = n.text_or("note");
    return s;
}

Json setting_json(const WireSetting& s) {
    Json j = {{"id", s.id}, {"name", s.name}, {"kind", word(s.kind)}};
    add_text(j, "where", s.where);
    add_text(j, "source", s.source);
    if (!s.positions.empty()) j["positions"] = list_of(s.positions, position_json);
    for (const auto& [key, v] : {std::pair("least", s.least), std::pair("most", s.most),
                                 std::pair("want", s.want), std::pair("back", s.back)})
        if (v) j[key] = *v;
    add_fact(j, "now", s.now, s.now.value ? Json(*s.now.value) : Json());
    add_text(j, "measure", s.measure);
    add_text(j, "note", s.note);
    return j;
}

PinNeed read_need(JsonNode& n) {
    PinNeed p;
    p.id = read_id(n, "id");
    p.name = n.text_or("name", p.id);
    p.use = read_word<PinUse>(n.required("use"));
    p.pin = n.text_or("pin");
    p.note = n.text_or("note");
    return p;
}

Json need_json(const PinNeed& p) {
    Json j = {{"id", p.id}, {"name", p.name}, {"use", word(p.use)}};
    add_text(j, "pin", p.pin);
    add_text(j, "note", p.note);
    return j;
}

PinPlan read_pins_plan(JsonNode& n) {
    PinPlan p;
    p.part = n.text_or("part");
    p.needs = read_list<PinNeed>(n, "needs", read_need, &PinNeed::id);
    p.form = n.text_or("form");
    return p;
}

Json pins_plan_json(const PinPlan& p) {
    Json j = Json::object();
    add_text(j, "part", p.part);
    if (!p.needs.empty()) j["needs"] = list_of(p.needs, need_json);
    add_text(j, "form", p.form);
    return j;
}

Wire read_wire(JsonNode& n) {
    Wire w;
    w.network = n.text_or("network");
    w.values = read_list<WireValue>(n, "values", read_wire_value, &WireValue::id);
    // One line an element, as networks are kept: a diff then shows what changed.
    for (const auto& line : read_texts(n, "rails")) w.rails += line + "\n";
    w.settings = read_list<WireSetting>(n, "settings", read_setting, &WireSetting::id);
    if (const auto pins = n.member("pins")) w.pins = read_record<PinPlan>(*pins, read_pins_plan);
    return w;
}

Json wire_json(const Wire& w) {
    Json j = Json::object();
    add_text(j, "network", w.network);
    if (!w.values.empty()) j["values"] = list_of(w.values, wire_value_json);
    auto text = std::string_view(w.rails);
    if (text.ends_with('\n')) text.remove_suffix(1);
    if (!text.empty())
        for (const auto line : split(text, '\n')) j["rails"].push_back(std::string(line));
    if (!w.settings.empty()) j["settings"] = list_of(w.settings, setting_json);
    if (w.pins != PinPlan{}) j["pins"] = record(w.pins, pins_plan_json);
    return j;
}

}  // namespace

const SectionCodec wire = codec_of<&Dossier::wire>(
    "wire", [](JsonNode n, Dossier& d) { d.wire = Section<Wire>(read_record<Wire>(n, read_wire)); },
    [](const Dossier& d) { return *d.wire == Wire{} ? Json() : record(*d.wire, wire_json); });

}  // namespace grayrelic::dossier_codec
