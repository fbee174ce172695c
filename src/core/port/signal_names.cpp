// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/port/signal_names.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/dossier/pin_fields.hpp"

namespace grayrelic {
namespace {

bool upper(char c) {
    return c >= 'A' && c <= 'Z';
}
bool lower(char c) {
    return c >= 'a' && c <= 'z';
}
bool digit(char c) {
    return c >= '0' && c <= '9';
}

/// Short forms and what they stand for; both sides without marks, in capitals.
constexpr std::array<std::pair<std::string_view, std::string_view>, 26> forms{{
    {"RST", "RESET"},       {"RES", "RESET"},     {"TX", "TXD"},          {"RX", "RXD"},
    {"TXDATA", "TXD"},      {"RXDATA", "RXD"},    {"CLOCK", "CLK"},       {"CK", "CLK"},
    {"DATA", "DAT"},        {"LATCH", "LAT"},     {"STROBE", "STB"},      {"SELECT", "SEL"},
    {"ENABLE", "EN"},       {"IRQ", "INT"},       {"INTERRUPT", "INT"},   {"READ", "RD"},
    {"WRITE", "WR"},        {"BUTTON", "BTN"},    {"SWITCH", "SW"},       {"LEFT", "L"},
    {"RIGHT", "R"},         {"CHIPSELECT", "CS"}, {"OUTPUTENABLE", "OE"}, {"WRITEENABLE", "WE"},
    {"ACKNOWLEDGE", "ACK"}, {"DETECT", "DET"},
}};

/// Words that are mostly written with a mark of their level, so that an N behind them is one.
constexpr std::array<std::string_view, 12> marked{"RESET", "RST", "RES", "CS",  "CE",  "OE",
                                                  "WE",    "RD",  "WR",  "INT", "IRQ", "NMI"};

bool is_marked(std::string_view word) {
    return std::find(marked.begin(), marked.end(), word) != marked.end();
}

/// Marks of an active-low line off; what is left in its own case.
std::string_view without_marks(std::string_view name) {
    name = trim(name);
    while (!name.empty() && (name.front() == '/' || name.front() == '!' || name.front() == '~' ||
                             name.front() == '\\' || name.front() == '*' || name.front() == '#'))
        name.remove_prefix(1);
    while (!name.empty() &&
           (name.back() == '*' || name.back() == '#' || name.back() == '/' || name.back() == '\\'))
        name.remove_suffix(1);
    // "nRESET", "RESET_N", "RESETn", "RESET_L", "RESET_B"
    if (name.size() > 2 && name.front() == 'n' && (upper(name[1]) || name[1] == '_')) name.remove_prefix(1);
    if (name.size() > 2 && name[name.size() - 2] == '_' &&
        std::string_view("nNlLbB").find(name.back()) != std::string_view::npos)
        name.remove_suffix(2);
    else if (name.size() > 2 && name.back() == 'n' && upper(name[name.size() - 2]))
        name.remove_suffix(1);
    return name;
}

std::string letters(std::string_view name) {
    std::string out;
    for (const char c : name)
        if (digit(c) || upper(c) || static_cast<unsigned char>(c) > 127)
            out += c;
        else if (lower(c))
            out += static_cast<char>(c - 'a' + 'A');
    return out;
}

/// A voltage as written: "+5 V", "5V", "-12V", "3V3".
std::optional<double> voltage_in(std::string_view name) {
    auto text = std::string(trim(name));
    if (text.starts_with("+")) text.erase(0, 1);
    if (text.find_first_of("vV") == std::string::npos ||
        text.find_first_of("0123456789") == std::string::npos)
        return std::nullopt;
    const auto v = parse_number(trim(text), Unit::volt);
    return v ? std::optional(*v) : std::nullopt;
}

/// Which volts a supply's usual name may mean; nothing when it is no such name.
std::optional<std::pair<double, double>> volts_of_word(std::string_view plain) {
    if (plain == "VBUS") return std::pair(4.4, 5.5);
    if (plain == "VCC" || plain == "VDD") return std::pair(1.6, 6.0);
    if (plain == "POWER" || plain == "SUPPLY" || plain == "VIN") return std::pair(1.0, 60.0);
    return std::nullopt;
}

}  // namespace

std::string plain_signal(std::string_view name) {
    name = without_marks(name);
    // The sign of a pair's wire counts; that of a supply is part of its volts.
    std::string sign;
    if (name.size() > 1 && (name.back() == '+' || name.back() == '-')) sign = name.back();
    if (name.size() > 1 && sign.empty() && name.front() == '-' && digit(name[1])) sign = "-";
    auto word = letters(name);
    auto number = word.size();
    while (number > 0 && digit(word[number - 1])) --number;
    auto stem = word.substr(0, number);
    const auto tail = word.substr(number);
    if (stem.size() > 2 && stem.back() == 'N' && is_marked(std::string_view(stem).substr(0, stem.size() - 1)))
        stem.pop_back();
    else if (stem.size() > 3 && stem.front() == 'N' && is_marked(std::string_view(stem).substr(1)) &&
             stem != "NMI")
        stem.erase(0, 1);
    for (const auto& [shorter, longer] : forms)
        if (stem == shorter) {
            stem = longer;
            break;
        }
    // The two data wires of a serial bus are also called P and M.
    if (tail.empty() && sign.empty() && (stem == "DP" || stem == "DM")) return stem == "DP" ? "D+" : "D-";
    return stem + tail + sign;
}

bool same_line(std::string_view a, std::string_view b) {
    if (trim(a).empty() || trim(b).empty()) return false;
    if (is_ground_name(a) && is_ground_name(b)) return true;
    const auto va = voltage_in(a), vb = voltage_in(b);
    if (va && vb) return std::abs(*va - *vb) < 1e-9;
    const auto x = plain_signal(a), y = plain_signal(b);
    for (const auto& [volts, word] : {std::pair(va, y), std::pair(vb, x)})
        if (volts) {
            const auto range = volts_of_word(word);
            return range && *volts >= range->first && *volts <= range->second;
        }
    if (x.empty() || y.empty()) return trim(a) == trim(b);
    const auto rx = volts_of_word(x), ry = volts_of_word(y);
    if (rx && ry)
        return rx->first <= ry->second && ry->first <= rx->second && x != "VIN" && y != "VIN" ? true : x == y;
    return x == y;
}

}  // namespace grayrelic
