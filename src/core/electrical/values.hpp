// SPDX-License-Identifier: GPL-3.0-or-later
// Values to be computed: what each kind takes, what follows, how far its parts' tolerance spreads it, and
// what happens when a wrong value is fitted. Textbook relations; each stands beside its kind in values.cpp
// and value_kinds.cpp. SI units; capacity in ampere-hours, temperature in °C.
#pragma once

#include <functional>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/quantity.hpp"
#include "core/base/result.hpp"
#include "core/base/verdict.hpp"
#include "core/base/words.hpp"
#include "core/electrical/series.hpp"

namespace grayrelic {

enum class ValueKind {
    rc_delay,
    divider,
    pull_up,
    led,
    regulator,
    battery,
    crystal,
    ladder,
    switch_path,
    filter,
    pulse_width,
};
template <>
inline constexpr std::array words_of<ValueKind>{"rc-delay",    "divider", "pull-up",    "led",
                                                "regulator",   "battery", "crystal",    "ladder",
                                                "switch-path", "filter",  "pulse-width"};
/// "RC delay, hold-off or reset": for a person.
[[nodiscard]] std::string_view label(ValueKind kind);

/// What a number is, beyond its unit.
enum class ValueMeasure {
    plain,
    volts,
    amperes,
    ohms,
    farads,
    seconds,
    hertz,
    watts,
    ampere_hours,
    celsius,
    kelvin_per_watt,
    count,
    hours,
    decibels
};
[[nodiscard]] std::string print_measure(double value, ValueMeasure measure);
/// "4k7", "900mAh", "25 °C", "60 K/W": as the measure wants it. `name` is for the message.
[[nodiscard]] Result<double> parse_measure(std::string_view text, ValueMeasure measure,
                                           std::string_view name);

struct ValueParameter {
    std::string key;    ///< "r1"
    std::string label;  ///< "upper resistor"
    ValueMeasure measure = ValueMeasure::plain;
    std::optional<double> usual{};  ///< taken when it is not said; nothing and not `optional`: needed
    bool optional = false;
    bool part = false;  ///< the value of a part that is fitted
    double least = 0, most = 1e12;
    bool above_least = true;  ///< `least` itself is refused
};
[[nodiscard]] const std::vector<ValueParameter>& parameters_of(ValueKind kind);
[[nodiscard]] const ValueParameter* find_parameter(ValueKind kind, std::string_view key);

using ValueInputs = std::map<std::string, double, std::less<>>;

struct ValueFigure {
    std::string key;  ///< as the command line prints it: "nearest_ohm"
    std::string label;
    ValueMeasure measure = ValueMeasure::plain;
    std::optional<double> value;
    std::vector<double> list{};
    bool is_list = false;
};

struct ValueResult {
    std::vector<ValueFigure> figures;
    std::string main;                ///< the key of the figure that is judged
    std::optional<bool> monotone{};  ///< of a ladder
    Verdict verdict = Verdict::holds;
    std::string why{};  ///< what is wrong; empty while it holds
    [[nodiscard]] const ValueFigure* find(std::string_view key) const;
    [[nodiscard]] std::optional<double> main_value() const;
};

/// Refused, with the parameter's name: what is missing, out of range, or never reached.
[[nodiscard]] Result<ValueResult> compute_value(ValueKind kind, const ValueInputs& inputs,
                                                Series series = Series::e24);

/// The main figure when each part is off by its tolerance, all combinations.
struct ValueSpread {
    double least = 0, most = 0;
};
[[nodiscard]] std::optional<ValueSpread> spread_of(ValueKind kind, const ValueInputs& inputs,
                                                   const std::map<std::string, double>& tolerances,
                                                   Series series = Series::e24);

/// A value fitted in a part's place by mistake.
struct WrongFit {
    std::string what;  ///< "a decade up", "next value down", "µ read as n"
    double fitted = 0;
    std::optional<double> main;  ///< what the main figure becomes; nothing where none follows
    Verdict verdict = Verdict::unknown;
    std::string why;
};
struct WantedRange {
    std::optional<double> least{}, most{};
};
/// Decade slips, the neighbours of the series, and a prefix that was misread; for one part of it. Judged by
/// the kind and by what is wanted of the main figure; unknown where neither decides.
[[nodiscard]] std::vector<WrongFit> wrong_fits(ValueKind kind, const ValueInputs& inputs,
                                               std::string_view part, const WantedRange& wanted,
                                               Series series = Series::e24);
/// The main figure against what is wanted of it.
[[nodiscard]] Verdict judge_wanted(const ValueResult& result, const WantedRange& wanted);

}  // namespace grayrelic
