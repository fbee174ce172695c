// SPDX-License-Identifier: GPL-3.0-or-later
// The counter keypad's job as a dossier.
#include <algorithm>
#include <map>

#include "core/dossier/edits.hpp"
#include "core/input/device_table.hpp"
#include "standin/counter_keypad.hpp"

namespace grayrelic::standin {
namespace {

Evidence known(EvidenceKind kind, const char* source, const char* date = "2026-11-21") {
    return {kind, source, date, {}, {}};
}

const std::map<std::string, std::string>& meanings() {
    static const std::map<std::string, std::string> list{
        {"F1", "key:f1"},         {"F2", "key:f2"},         {"F3", "key:f3"},
        {"F4", "key:f4"},         {"F5", "key:f5"},         {"F6", "key:f6"},
        {"F7", "key:f7"},         {"F8", "key:f8"},         {"NOTE", "key:f9"},
        {"COIN", "key:f10"},      {"COUNT", "key:f11"},     {"CLEAR", "key:escape"},
        {"MC", "key:left-alt+c"}, {"MR", "key:left-alt+r"}, {"M+", "key:left-alt+a"},
        {"M−", "key:left-alt+s"}, {"TAB", "key:tab"},       {"BACK", "key:backspace"},
        {"SUB", "key:f12"},       {"SUM", "text:="},        {"↑", "key:up"},
        {"↓", "key:down"},        {"←", "key:left"},        {"→", "key:right"},
        {"÷", "key:pad-slash"},   {"×", "key:pad-times"},   {"−", "key:pad-minus"},
        {"+", "key:pad-plus"},    {".", "key:pad-dot"},     {"ENTER", "key:pad-enter"},
        {"00", "key:pad-00"},     {"STOP", "key:pause"},    {"PRINT", "key:print-screen"}};
    return list;
}

DeviceMap keypad_map() {
    DeviceMap map;
    for (const auto& k : counter_keypad()) {
        MapKey key;
        key.id = free_key_id(map.keys, k.legend);
        key.legend = k.legend;
        key.x = k.x;
        key.y = k.y;
        key.row = "R" + std::to_string(k.row);
        key.column = "C" + std::to_string(k.column);
        if (k.legend.size() == 1 && k.legend[0] >= '0' && k.legend[0] <= '9')
            key.meaning = "key:pad-" + k.legend;
        else if (const auto it = meanings().find(k.legend); it != meanings().end())
            key.meaning = it->second;
        map.keys.push_back(std::move(key));
    }
    for (int r = 0; r < 6; ++r) map.matrix.rows.push_back("R" + std::to_string(r));
    for (int c = 0; c < 9; ++c) map.matrix.columns.push_back("C" + std::to_string(c));
    const auto number = [&](const char* key, double value, double pm, EvidenceKind kind, const char* source) {
        map.matrix.numbers.push_back(
            {key, {value, pm > 0 ? std::optional(pm) : std::nullopt, known(kind, source)}});
    };
    number("foil_ohm", 380, 60, EvidenceKind::measured, "meter, farthest keys pressed lightly");
    number("pull_ohm", 10e3, 0, EvidenceKind::documented, "resistor array that will be fitted");
    number("volts", 3.3, 0, EvidenceKind::documented, "supply of the new controller");
    number("debounce", 4, 0, EvidenceKind::documented, "as the firmware will have it");
    // Counting notes and coins at once is entered with these three; clearing the memory is what they fake.
    map.matrix.chords = {{"note", "coin", "f2"}, {"tab", "enter"}};
    map.modern.profiles = {"keyboard"};
    map.modern.layout = "uk";
    map.modern.poll = {
        Time::ms(8), {}, known(EvidenceKind::documented, "interval that the descriptor will ask for")};
    map.modern.wanted = {"key:pad-enter", "arrows", "text:="};
    map.capture = "walk";
    return map;
}

/// The foil's tail: the new controller strobes the rows, and the columns come back.
Port tail() {
    Port port;
    port.id = "J1";
    port.name = "Foil tail";
    port.connector = "header-1x15";
    for (int i = 0; i < 15; ++i) {
        Pin pin;
        pin.number = std::to_string(i + 1);
        pin.name = {i < 6 ? "R" + std::to_string(i) : "C" + std::to_string(i - 6),
                    {},
                    known(EvidenceKind::measured, "beeped from the tail to the keys")};
        pin.function = {"signal", {}, pin.name.evidence};
        pin.driver = {i < 6 ? Driver::bridge : Driver::relic, {}, pin.name.evidence};
        port.pins.push_back(std::move(pin));
    }
    return port;
}

CaptureRef walk_capture() {
    CaptureRef c;
    c.id = "walk";
    c.title = "One key after the other";
    c.file = "captures/walk.vcd";
    c.decode.kind = "matrix";
    for (int r = 0; r < 6; ++r) c.decode.roles["strobe"].push_back("R" + std::to_string(r));
    for (int s = 0; s < 9; ++s) c.decode.roles["sense"].push_back("C" + std::to_string(s));
    c.decode.settings["active"] = "low";
    c.port = "J1";
    for (int i = 0; i < 15; ++i)
        c.ties.push_back(
            {i < 6 ? "R" + std::to_string(i) : "C" + std::to_string(i - 6), std::to_string(i + 1), {}});
    for (const auto& p : presses_of({})) c.moments.push_back({p.from, p.to, p.legend, {}});
    c.sample_rate = {Hertz(1e6), {}, known(EvidenceKind::documented, "capture device")};
    c.note = "A test rig strobes R0 to R5 low; C0 to C8 are pulled up.";
    return c;
}

}  // namespace

Dossier counter_keypad_dossier() {
    About about;
    about.name = "Calder counter keypad";
    about.purpose =
        "Give the bank-counter keypad a new controller that fits its old case: 47 keys on a bare foil matrix "
        "become a USB keypad.";
    about.relic = "counter keypad, 6 × 9 foil matrix";
    about.modern = "USB keyboard";
    Dossier d;
    d.about = Section<About>(about);
    JobUnit keypad;
    keypad.id = "keypad";
    keypad.name = "Keypad with the dead controller";
    d = put(d, keypad);
    d = put(d, tail());
    d = put(d, walk_capture());
    d = put(d, keypad_map());
    return edit(d, &Dossier::plan, [](JobPlan& p) { p.kind = "switch-matrix-controller"; });
}

}  // namespace grayrelic::standin
