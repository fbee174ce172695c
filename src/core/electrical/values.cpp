// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/electrical/values.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/text.hpp"
#include "core/electrical/value_kinds.hpp"

namespace grayrelic {
namespace {

struct KindRow {
    std::string_view label;
    Result<ValueResult> (*compute)(const KnownInputs&);
    std::vector<ValueParameter> parameters;
};

ValueParameter resistor(std::string key, std::string label) {
    return {std::move(key), std::move(label), ValueMeasure::ohms, {}, false, true, 0, 1e12};
}
ValueParameter capacitor(std::string key, std::string label) {
    return {std::move(key), std::move(label), ValueMeasure::farads, {}, false, true, 0, 10};
}
ValueParameter fitted(ValueParameter p) {
    p.optional = true;
    return p;
}
ValueParameter volts(std::string key, std::string label) {
    return {std::move(key), std::move(label), ValueMeasure::volts, {}, false, false, 0, 1e5};
}
ValueParameter any_volts(std::string key, std::string label) {
    return {std::move(key), std::move(label), ValueMeasure::volts, {}, false, false, -1e5, 1e5};
}
ValueParameter of(std::string key, std::string label, ValueMeasure m, double most) {
    return {std::move(key), std::move(label), m, {}, false, false, 0, most};
}
ValueParameter from_zero(ValueParameter p) {
    p.above_least = false;
    return p;
}

KindRow ladder_row() {
    KindRow row{"Ladder of resistors into a load",
                ladder_value,
                {volts("vdd", "supply of the bits"), volts("vfull", "with all bits"),
                 of("load", "load", ValueMeasure::ohms, 1e9)}};
    row.parameters.push_back({"bits", "bits", ValueMeasure::count, {}, false, false, 1, 12, false});
    for (int i = 1; i <= 12; ++i)
        row.parameters.push_back(fitted(resistor(fmt::format("r{}", i), fmt::format("resistor {}", i))));
    return row;
}

std::array<KindRow, words_of<ValueKind>.size()> make_rows() {
    auto iq = from_zero(of("iq", "own current", ValueMeasure::amperes, 1e3));
    iq.usual = 0.0;
    return {
        {{"RC delay, hold-off or reset",
          rc_delay_value,
          {resistor("r", "resistor"), capacitor("c", "capacitor"), any_volts("from", "from"),
           any_volts("to", "towards"), any_volts("at", "until")}},
         {"Divider",
          divider_value,
          {any_volts("vin", "input"), resistor("r1", "upper resistor"), resistor("r2", "lower resistor"),
           fitted(of("load", "load", ValueMeasure::ohms, 1e12))}},
         {"Pull-up",
          pull_up_value,
          {volts("vcc", "pulled to"), volts("vth", "threshold"), of("c", "line", ValueMeasure::farads, 1),
           of("within", "within", ValueMeasure::seconds, 1e6),
           fitted(of("sink", "sink", ValueMeasure::amperes, 1e3)), fitted(resistor("r", "fitted"))}},
         {"Lamp and its resistor",
          led_value,
          {volts("supply", "supply"), volts("vf", "forward voltage"),
           of("current", "current", ValueMeasure::amperes, 100), fitted(resistor("r", "fitted"))}},
         {"Linear regulator",
          regulator_value,
          {volts("vin", "input"), volts("vout", "output"),
           from_zero(of("load", "load", ValueMeasure::amperes, 1e3)),
           from_zero(of("theta", "thermal resistance", ValueMeasure::kelvin_per_watt, 1e4)),
           ValueParameter{"ambient", "ambient", ValueMeasure::celsius, 25.0, false, false, -273.15, 1e3},
           iq}},
         {"Battery",
          battery_value,
          {of("capacity", "capacity", ValueMeasure::ampere_hours, 1e6),
           of("load", "load", ValueMeasure::amperes, 1e4)}},
         {"Crystal's load",
          crystal_value,
          {of("cl", "load wanted", ValueMeasure::farads, 1e-6),
           from_zero(of("stray", "stray", ValueMeasure::farads, 1e-6)), fitted(capacitor("c", "fitted"))}},
         ladder_row(),
         {"Analogue switch",
          switch_path_value,
          {from_zero(of("ron", "switch", ValueMeasure::ohms, 1e9)),
           from_zero(of("source", "source", ValueMeasure::ohms, 1e9)),
           of("load", "load", ValueMeasure::ohms, 1e12),
           fitted(of("c", "capacitance", ValueMeasure::farads, 1))}},
         {"Filter", filter_value, {resistor("r", "resistor"), capacitor("c", "capacitor")}},
         {"Pulse-width output",
          pulse_width_value,
          {volts("vdd", "supply"), of("clock", "clock", ValueMeasure::hertz, 1e11),
           ValueParameter{"bits", "bits", ValueMeasure::count, {}, false, false, 1, 24, false},
           resistor("r", "resistor"), capacitor("c", "capacitor")}}}};
}

const KindRow& row(ValueKind kind) {
    static const auto rows = make_rows();
    return rows[static_cast<std::size_t>(kind)];
}

Status check(const ValueParameter& p, double v) {
    const bool low = p.above_least ? !(v > p.least) : !(v >= p.least);
    if (!std::isfinite(v) || low || v > p.most)
        return fail_usage(fmt::format("--{} {}", p.key, print_measure(v, p.measure)),
                          fmt::format("{} {} up to {}", p.above_least ? "a value above" : "a value from",
                                      print_measure(p.least, p.measure), print_measure(p.most, p.measure)));
    if (p.measure == ValueMeasure::count && v != std::floor(v))
        return fail_usage(fmt::format("--{} {}", p.key, v), "a whole number");
    return {};
}

}  // namespace

std::string_view label(ValueKind kind) {
    return row(kind).label;
}

const std::vector<ValueParameter>& parameters_of(ValueKind kind) {
    return row(kind).parameters;
}

const ValueParameter* find_parameter(ValueKind kind, std::string_view key) {
    for (const auto& p : parameters_of(kind))
        if (p.key == key) return &p;
    return nullptr;
}

const ValueFigure* ValueResult::find(std::string_view key) const {
    for (const auto& f : figures)
        if (f.key == key) return &f;
    return nullptr;
}

std::optional<double> ValueResult::main_value() const {
    const auto* f = find(main);
    return f == nullptr ? std::nullopt : f->value;
}

Result<ValueResult> compute_value(ValueKind kind, const ValueInputs& inputs, Series series) {
    ValueInputs known;
    for (const auto& p : parameters_of(kind)) {
        const auto at = inputs.find(p.key);
        if (at == inputs.end()) {
            if (p.usual)
                known[p.key] = *p.usual;
            else if (!p.optional)
                return fail_usage(fmt::format("no --{}", p.key),
                                  fmt::format("{} of the {}", p.label, word(kind)));
            continue;
        }
        if (auto fine = check(p, at->second); !fine) return fail(fine.error());
        known[p.key] = at->second;
    }
    auto out = row(kind).compute({known, series});
    if (!out) return out;
    for (const auto& f : out->figures)
        if (f.value && !std::isfinite(*f.value))
            return fail_usage(fmt::format("a {} beyond every number", f.label), "values of real parts");
    return out;
}

std::optional<ValueSpread> spread_of(ValueKind kind, const ValueInputs& inputs,
                                     const std::map<std::string, double>& tolerances, Series series) {
    std::vector<std::pair<std::string, double>> off;
    for (const auto& [key, t] : tolerances)
        if (inputs.count(key) != 0 && off.size() < 12) off.emplace_back(key, t);
    std::optional<ValueSpread> out;
    for (unsigned corner = 0; corner < (1U << off.size()); ++corner) {
        auto now = inputs;
        for (std::size_t i = 0; i < off.size(); ++i)
            now[off[i].first] *= ((corner >> i) & 1U) != 0 ? 1 + off[i].second : 1 - off[i].second;
        const auto r = compute_value(kind, now, series);
        const auto v = r ? r->main_value() : std::nullopt;
        if (!v) continue;
        if (!out) out = ValueSpread{*v, *v};
        out->least = std::min(out->least, *v);
        out->most = std::max(out->most, *v);
    }
    return out;
}

Verdict judge_wanted(const ValueResult& r, const WantedRange& wanted) {
    const auto v = r.main_value();
    if (!wanted.least && !wanted.most) return r.verdict;
    if (!v) return worse(r.verdict, Verdict::unknown);
    const bool out = (wanted.least && *v < *wanted.least) || (wanted.most && *v > *wanted.most);
    return out ? Verdict::stop : r.verdict;
}

std::vector<WrongFit> wrong_fits(ValueKind kind, const ValueInputs& inputs, std::string_view part,
                                 const WantedRange& wanted, Series series) {
    std::vector<WrongFit> out;
    const auto at = inputs.find(part);
    const auto* p = find_parameter(kind, part);
    if (at == inputs.end() || p == nullptr || !p->part || !(at->second > 0)) return out;
    const double v = at->second;
    const bool farads = p->measure == ValueMeasure::farads;
    const struct {
        const char* what;
        double fitted;
    } cases[] = {{"a decade up", 10 * v},
                 {"a decade down", v / 10},
                 {"next value up", next_above(v, series)},
                 {"next value down", next_below(v, series)},
                 {farads ? "n read as µ" : "k read as M", 1000 * v},
                 {farads ? "µ read as n" : "k read as Ω", v / 1000}};
    const auto right = compute_value(kind, inputs, series);
    for (const auto& c : cases) {
        WrongFit w{c.what, c.fitted, {}, Verdict::unknown, {}};
        auto now = inputs;
        now[std::string(part)] = c.fitted;
        const auto r = compute_value(kind, now, series);
        if (!r) {
            w.verdict = Verdict::stop;
            w.why = r.error().found;
        } else {
            w.main = r->main_value();
            const bool decides = wanted.least || wanted.most || r->verdict != Verdict::holds ||
                                 kind == ValueKind::pull_up || kind == ValueKind::led ||
                                 kind == ValueKind::crystal || kind == ValueKind::ladder;
            w.verdict = decides ? judge_wanted(*r, wanted) : Verdict::unknown;
            const auto* f = r->find(r->main);
            const auto before = right ? right->main_value() : std::nullopt;
            if (w.main && f != nullptr) {
                w.why = fmt::format("{} {}", f->label, print_measure(*w.main, f->measure));
                if (before) w.why += fmt::format(" instead of {}", print_measure(*before, f->measure));
                w.why += ".";
            }
            if (!r->why.empty()) w.why += (w.why.empty() ? "" : " ") + r->why;
        }
        out.push_back(std::move(w));
    }
    return out;
}

}  // namespace grayrelic
