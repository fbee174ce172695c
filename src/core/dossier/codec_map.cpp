// SPDX-License-Identifier: GPL-3.0-or-later
// Map's section in dossier.json.
#include <fmt/format.h>

#include <cmath>

#include "core/dossier/codec_tools.hpp"

namespace grayrelic::dossier_codec {
namespace {

constexpr std::size_t most_keys = 4096, most_messages = 4096, most_curves = 256, most_curve_points = 4096,
                      most_lines = 256, most_chords = 4096;

double map_figure_or(JsonNode& n, const char* key, double otherwise, double least, double most) {
    const auto child = n.member(key);
    return child ? figure_in(*child, least, most) : otherwise;
}

template <class T>
std::vector<T> read_up_to(JsonNode& n, const char* key, std::size_t most, T (*read_members)(JsonNode&),
                          std::string T::*unique = nullptr) {
    auto list = read_list<T>(n, key, read_members, unique);
    if (list.size() > most) n.fault(fmt::format("{} {}", list.size(), key), fmt::format("at most {}", most));
    return list;
}

std::vector<std::string> read_lines(JsonNode& n, const char* key) {
    auto lines = read_texts(n, key);
    if (lines.size() > most_lines)
        n.fault(fmt::format("{} {}", lines.size(), key), fmt::format("at most {}", most_lines));
    return lines;
}

ShiftedCode read_shifted(JsonNode& n) {
    ShiftedCode s;
    s.with = n.required("with").text(64);
    s.code = n.text_or("code");
    s.meaning = n.text_or("meaning");
    return s;
}

Json shifted_json(const ShiftedCode& s) {
    Json j = {{"with", s.with}};
    add_text(j, "code", s.code);
    add_text(j, "meaning", s.meaning);
    return j;
}

MapKey read_key(JsonNode& n) {
    MapKey k;
    k.id = read_id(n, "id");
    k.legend = n.text_or("legend");
    k.kind = read_word_or(n, "kind", ControlKind::key);
    k.x = map_figure_or(n, "x", 0, -1000, 1000);
    k.y = map_figure_or(n, "y", 0, -1000, 1000);
    k.width = map_figure_or(n, "width", 1, 0.1, 100);
    k.height = map_figure_or(n, "height", 1, 0.1, 100);
    k.code = read_fact<std::string>(n, "code", plain_text);
    k.release = n.text_or("release");
    k.sends = read_word_or(n, "sends", KeySends::press_release);
    k.shifted = read_up_to<ShiftedCode>(n, "shifted", 64, read_shifted, &ShiftedCode::with);
    k.row = n.text_or("row");
    k.column = n.text_or("column");
    k.diode = n.flag("diode");
    k.meaning = n.text_or("meaning");
    k.note = n.text_or("note");
    return k;
}

Json key_json(const MapKey& k) {
    Json j = {{"id", k.id}};
    add_text(j, "legend", k.legend);
    if (k.kind != ControlKind::key) j["kind"] = word(k.kind);
    j["x"] = k.x;
    j["y"] = k.y;
    if (k.width != 1) j["width"] = k.width;
    if (k.height != 1) j["height"] = k.height;
    add_fact(j, "code", k.code);
    add_text(j, "release", k.release);
    if (k.sends != KeySends::press_release) j["sends"] = word(k.sends);
    if (!k.shifted.empty()) j["shifted"] = list_of(k.shifted, shifted_json);
    add_text(j, "row", k.row);
    add_text(j, "column", k.column);
    if (k.diode) j["diode"] = true;
    add_text(j, "meaning", k.meaning);
    add_text(j, "note", k.note);
    return j;
}

MapMessage read_message(JsonNode& n) {
    MapMessage m;
    m.id = read_id(n, "id");
    m.name = n.text_or("name", m.id);
    m.code = n.text_or("code");
    m.kind = read_word_or(n, "kind", MessageKind::other);
    if (const auto act = n.member("act")) m.act = read_word<MessageAct>(*act);
    m.every = read_fact<Time>(n, "every", read_time);
    m.lost = read_fact<double>(n, "lost", [](const JsonNode& v) { return figure_in(v, 0, 1); });
    m.misses = static_cast<int>(map_figure_or(n, "misses", 3, 1, 1000));
    m.note = n.text_or("note");
    return m;
}

Json message_json(const MapMessage& m) {
    Json j = {{"id", m.id}, {"name", m.name}};
    add_text(j, "code", m.code);
    j["kind"] = word(m.kind);
    if (m.act) j["act"] = word(*m.act);
    add_fact(j, "every", m.every, time(m.every.value));
    add_fact(j, "lost", m.lost, m.lost.value);
    j["misses"] = m.misses;
    add_text(j, "note", m.note);
    return j;
}

ModernSide read_modern(JsonNode& n) {
    ModernSide m;
    m.profiles = read_lines(n, "profiles");
    m.layout = n.text_or("layout");
    m.poll = read_fact<Time>(n, "poll", read_time);
    m.hold = read_fact<Time>(n, "hold", read_time);
    m.wanted = read_texts(n, "wanted");
    return m;
}

Json modern_json(const ModernSide& m) {
    Json j = Json::object();
    if (!m.profiles.empty()) j["profiles"] = m.profiles;
    add_text(j, "layout", m.layout);
    add_fact(j, "poll", m.poll, time(m.poll.value));
    add_fact(j, "hold", m.hold, time(m.hold.value));
    if (!m.wanted.empty()) j["wanted"] = m.wanted;
    return j;
}

std::vector<std::vector<std::string>> read_chords(JsonNode& n) {
    std::vector<std::vector<std::string>> out;
    const auto list = n.member("chords");
    if (!list) return out;
    for (const auto& chord : list->elements(most_chords)) {
        auto& keys = out.emplace_back();
        for (const auto& key : chord.elements(32)) keys.push_back(key.text(most_name));
    }
    return out;
}

SwitchMatrix read_matrix(JsonNode& n) {
    SwitchMatrix m;
    m.rows = read_lines(n, "rows");
    m.columns = read_lines(n, "columns");
    m.numbers = read_list<NumberFact>(n, "numbers", read_number_fact, &NumberFact::key);
    m.chords = read_chords(n);
    m.guard = read_word_or(n, "guard", GhostGuard::nothing);
    if (const auto drive = n.member("drive")) {
        m.drive = drive->text(64);
        if (!m.drive.empty() && m.drive != "push-pull" && m.drive != "open-drain")
            drive->fault(in_quotes(m.drive), "push-pull or open-drain");
    }
    return m;
}

Json matrix_json(const SwitchMatrix& m) {
    Json j = Json::object();
    if (!m.rows.empty()) j["rows"] = m.rows;
    if (!m.columns.empty()) j["columns"] = m.columns;
    if (!m.numbers.empty()) j["numbers"] = list_of(m.numbers, number_json);
    if (!m.chords.empty()) j["chords"] = m.chords;
    if (m.guard != GhostGuard::nothing) j["guard"] = word(m.guard);
    add_text(j, "drive", m.drive);
    return j;
}

CurvePoint read_curve_point(JsonNode& n) {
    CurvePoint p;
    p.out = figure_in(n.required("out"), -1e9, 1e9);
    p.speed = figure_in(n.required("speed"), -1e9, 1e9);
    return p;
}

Json curve_point_json(const CurvePoint& p) {
    return {{"out", p.out}, {"speed", p.speed}};
}

MoveCurve read_curve(JsonNode& n) {
    MoveCurve c;
    c.id = read_id(n, "id");
    c.title = n.text_or("title", c.id);
    c.counts_per_step = map_figure_or(n, "counts_per_step", 1, 1e-6, 1e6);
    c.dead = static_cast<long>(map_figure_or(n, "dead", 0, 0, 1e6));
    c.limit = static_cast<long>(map_figure_or(n, "limit", 127, 1, 1e6));
    c.exponent = map_figure_or(n, "exponent", 1, 0.05, 20);
    c.table = read_up_to<CurvePoint>(n, "table", most_curve_points, read_curve_point);
    c.evidence = read_evidence(n);
    c.note = n.text_or("note");
    return c;
}

Json curve_json(const MoveCurve& c) {
    Json j = {{"id", c.id},
              {"title", c.title},
              {"counts_per_step", c.counts_per_step},
              {"dead", c.dead},
              {"limit", c.limit}};
    if (c.exponent != 1) j["exponent"] = c.exponent;
    if (!c.table.empty()) j["table"] = list_of(c.table, curve_point_json);
    add_evidence(j, c.evidence);
    add_text(j, "note", c.note);
    return j;
}

DeviceMap read_device_map(JsonNode& n) {
    DeviceMap m;
    m.way = read_word_or(n, "way", MapWay::old_to_new);
    m.keys = read_up_to<MapKey>(n, "keys", most_keys, read_key, &MapKey::id);
    m.messages = read_up_to<MapMessage>(n, "messages", most_messages, read_message, &MapMessage::id);
    if (const auto modern = n.member("modern")) m.modern = read_record<ModernSide>(*modern, read_modern);
    if (const auto matrix = n.member("matrix")) m.matrix = read_record<SwitchMatrix>(*matrix, read_matrix);
    m.curves = read_up_to<MoveCurve>(n, "curves", most_curves, read_curve, &MoveCurve::id);
    m.curve = n.text_or("curve");
    m.capture = n.text_or("capture");
    m.numbers = read_list<NumberFact>(n, "numbers", read_number_fact, &NumberFact::key);
    m.form = n.text_or("form");
    return m;
}

Json device_map_json(const DeviceMap& m) {
    Json j = {{"way", word(m.way)}};
    if (!m.keys.empty()) j["keys"] = list_of(m.keys, key_json);
    if (!m.messages.empty()) j["messages"] = list_of(m.messages, message_json);
    if (m.modern != ModernSide{}) j["modern"] = record(m.modern, modern_json);
    if (m.matrix != SwitchMatrix{}) j["matrix"] = record(m.matrix, matrix_json);
    if (!m.curves.empty()) j["curves"] = list_of(m.curves, curve_json);
    add_text(j, "curve", m.curve);
    add_text(j, "capture", m.capture);
    if (!m.numbers.empty()) j["numbers"] = list_of(m.numbers, number_json);
    add_text(j, "form", m.form);
    return j;
}

}  // namespace

const SectionCodec map = codec_of<&Dossier::map>(
    "map",
    [](JsonNode n, Dossier& d) { d.map = Section<DeviceMap>(read_record<DeviceMap>(n, read_device_map)); },
    [](const Dossier& d) { return *d.map == DeviceMap{} ? Json() : record(*d.map, device_map_json); });

}  // namespace grayrelic::dossier_codec
