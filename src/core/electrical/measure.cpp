// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <cmath>

#include "core/base/text.hpp"
#include "core/electrical/values.hpp"

namespace grayrelic {
namespace {

Unit unit_of(ValueMeasure m) {
    switch (m) {
        case ValueMeasure::volts: return Unit::volt;
        case ValueMeasure::amperes: return Unit::ampere;
        case ValueMeasure::ohms: return Unit::ohm;
        case ValueMeasure::farads: return Unit::farad;
        case ValueMeasure::seconds: return Unit::second;
        case ValueMeasure::hertz: return Unit::hertz;
        case ValueMeasure::watts: return Unit::watt;
        default: return Unit::none;
    }
}

std::string_view ending_of(ValueMeasure m) {
    switch (m) {
        case ValueMeasure::celsius: return "°C";
        case ValueMeasure::kelvin_per_watt: return "K/W";
        case ValueMeasure::hours: return "h";
        case ValueMeasure::decibels: return "dB";
        default: return "";
    }
}

}  // namespace

std::string print_measure(double v, ValueMeasure m) {
    if (m == ValueMeasure::count) return fmt::format("{:.0f}", v);
    if (m == ValueMeasure::ampere_hours) return print_number(v, Unit::ampere) + "h";
    const auto ending = ending_of(m);
    if (ending.empty()) return print_number(v, unit_of(m));
    return fmt::format("{:.{}f} {}", v, std::abs(v) < 10 ? 2 : 1, ending);
}

Result<double> parse_measure(std::string_view text, ValueMeasure m, std::string_view name) {
    auto rest = trim(text);
    Unit unit = unit_of(m);
    if (m == ValueMeasure::ampere_hours) {
        if (rest.ends_with('h')) rest.remove_suffix(1);
        unit = Unit::ampere;
    }
    for (const auto ending : {ending_of(m), std::string_view(m == ValueMeasure::celsius ? "C" : "")})
        if (!ending.empty() && rest.ends_with(ending)) {
            rest = trim(rest.substr(0, rest.size() - ending.size()));
            break;
        }
    const auto v = parse_number(rest, unit);
    if (!v)
        return fail_usage(fmt::format("{} {}", name, in_quotes(text)),
                          m == ValueMeasure::ampere_hours      ? "a capacity like 900mAh"
                          : m == ValueMeasure::celsius         ? "a temperature like 25 °C"
                          : m == ValueMeasure::kelvin_per_watt ? "a thermal resistance like 60"
                                                               : v.error().expected);
    return *v;
}

}  // namespace grayrelic
