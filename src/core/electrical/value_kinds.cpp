// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/electrical/value_kinds.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace grayrelic {
namespace {

constexpr double pi = std::numbers::pi;

ValueFigure figure(const char* key, const char* label, ValueMeasure m, std::optional<double> v) {
    return {key, label, m, v};
}

void spoil(ValueResult& r, Verdict v, std::string why) {
    if (worse(r.verdict, v) == r.verdict && r.verdict != Verdict::holds) return;
    r.verdict = v;
    r.why = std::move(why);
}

}  // namespace

// t = R·C·ln((V∞ − V0)/(V∞ − Vth)): a capacitor from V0 towards V∞ through R passes Vth.
Result<ValueResult> rc_delay_value(const KnownInputs& in) {
    const double from = in.at("from"), to = in.at("to"), at = in.at("at");
    if (!((from < at && at < to) || (to < at && at < from)))
        return fail_usage(
            fmt::format("--at {}, which a line from {} to {} does not pass",
                        print_measure(at, ValueMeasure::volts), print_measure(from, ValueMeasure::volts),
                        print_measure(to, ValueMeasure::volts)),
            "a voltage between --from and --to");
    const double t = in.at("r") * in.at("c") * std::log((to - from) / (to - at));
    return ValueResult{{figure("t_s", "delay", ValueMeasure::seconds, t)}, "t_s"};
}

// Vout = Vin·R2'/(R1 + R2'), R2' = R2 ∥ load; the loss is that of the two resistors.
Result<ValueResult> divider_value(const KnownInputs& in) {
    const double vin = in.at("vin"), r1 = in.at("r1"), r2 = in.at("r2");
    const auto load = in.maybe("load");
    const double lower = load ? r2 * *load / (r2 + *load) : r2;
    const double vout = vin * lower / (r1 + lower);
    const double loss = (vin - vout) * (vin - vout) / r1 + vout * vout / r2;
    return ValueResult{{figure("vout_v", "output", ValueMeasure::volts, vout),
                        figure("loss_w", "loss in both", ValueMeasure::watts, loss)},
                       "vout_v"};
}

// From 0 V a line with C rises to Vth within T when R ≤ T/(C·ln(Vcc/(Vcc − Vth))); what pulls it low must
// sink Vcc/R.
Result<ValueResult> pull_up_value(const KnownInputs& in) {
    const double vcc = in.at("vcc"), vth = in.at("vth"), c = in.at("c"), within = in.at("within");
    if (!(vth < vcc))
        return fail_usage(fmt::format("--vth {} at --vcc {}", print_measure(vth, ValueMeasure::volts),
                                      print_measure(vcc, ValueMeasure::volts)),
                          "a threshold below the voltage that the line is pulled to");
    const double slope = c * std::log(vcc / (vcc - vth));
    const double most = within / slope;
    const auto sink = in.maybe("sink");
    const auto least = sink ? std::optional(vcc / *sink) : std::nullopt;
    std::optional<double> fit = at_most(most, in.series);
    if (least && *fit < *least * (1 - 1e-9)) fit.reset();
    ValueResult out{{figure("max_ohm", "at most", ValueMeasure::ohms, most),
                     figure("min_ohm", "at least", ValueMeasure::ohms, least),
                     figure("nearest_ohm", "standard value", ValueMeasure::ohms, fit)},
                    "rise_s"};
    const auto r = in.maybe("r") ? in.maybe("r") : fit;
    if (r) out.figures.push_back(figure("rise_s", "rises in", ValueMeasure::seconds, *r * slope));
    if (r) out.figures.push_back(figure("sink_a", "to be sunk", ValueMeasure::amperes, vcc / *r));
    if (!fit)
        spoil(out, Verdict::stop,
              fmt::format("At most {} for the rise, at least {} for what pulls it low: no value does both.",
                          print_measure(most, ValueMeasure::ohms),
                          print_measure(least.value_or(0), ValueMeasure::ohms)));
    if (in.maybe("r")) {
        if (*r > most * (1 + 1e-9))
            spoil(out, Verdict::stop,
                  fmt::format("It rises in {}; {} are allowed.",
                              print_measure(*r * slope, ValueMeasure::seconds),
                              print_measure(within, ValueMeasure::seconds)));
        if (least && *r < *least * (1 - 1e-9))
            spoil(out, Verdict::stop,
                  fmt::format("{} must be sunk; {} can be.", print_measure(vcc / *r, ValueMeasure::amperes),
                              print_measure(*sink, ValueMeasure::amperes)));
    }
    return out;
}

// R = (V − Vf)/I; current and power are those with the value that is fitted, or the nearest one.
Result<ValueResult> led_value(const KnownInputs& in) {
    const double supply = in.at("supply"), vf = in.at("vf"), wanted = in.at("current");
    if (!(vf < supply))
        return fail_usage(fmt::format("--vf {} at --supply {}", print_measure(vf, ValueMeasure::volts),
                                      print_measure(supply, ValueMeasure::volts)),
                          "a forward voltage below the supply");
    const double r = (supply - vf) / wanted;
    const double near = nearest(r, in.series);
    const double fitted = in.maybe("r").value_or(near);
    const double current = (supply - vf) / fitted;
    ValueResult out{{figure("ohm", "resistor", ValueMeasure::ohms, r),
                     figure("nearest_ohm", "standard value", ValueMeasure::ohms, near),
                     figure("current_a", "current", ValueMeasure::amperes, current),
                     figure("power_w", "in the resistor", ValueMeasure::watts, current * current * fitted)},
                    "current_a"};
    if (current > 2 * wanted)
        spoil(out, Verdict::stop,
              fmt::format("{} instead of {}: lamp and driver take more than twice what is meant.",
                          print_measure(current, ValueMeasure::amperes),
                          print_measure(wanted, ValueMeasure::amperes)));
    else if (current > 1.25 * wanted || current < wanted / 4)
        spoil(out, Verdict::doubt,
              fmt::format("{} instead of {}.", print_measure(current, ValueMeasure::amperes),
                          print_measure(wanted, ValueMeasure::amperes)));
    return out;
}

// P = (Vin − Vout)·I + Vin·Iq, Tj = Ta + P·θ.
Result<ValueResult> regulator_value(const KnownInputs& in) {
    const double vin = in.at("vin"), vout = in.at("vout"), ambient = in.at("ambient");
    if (!(vout <= vin))
        return fail_usage(fmt::format("--vout {} from --vin {}", print_measure(vout, ValueMeasure::volts),
                                      print_measure(vin, ValueMeasure::volts)),
                          "an output that is not above the input: a linear regulator can't raise it");
    const double loss = (vin - vout) * in.at("load") + vin * in.at("iq");
    const double junction = ambient + loss * in.at("theta");
    ValueResult out{{figure("loss_w", "loss", ValueMeasure::watts, loss),
                     figure("junction_c", "junction", ValueMeasure::celsius, junction)},
                    "junction_c"};
    if (junction > 125)
        spoil(out, Verdict::stop, "The junction is above 125 °C.");
    else if (junction > 100)
        spoil(out, Verdict::doubt, "The junction is above 100 °C.");
    return out;
}

// hours = capacity ÷ current
Result<ValueResult> battery_value(const KnownInputs& in) {
    return ValueResult{{figure("hours", "runs for", ValueMeasure::hours, in.at("capacity") / in.at("load"))},
                       "hours"};
}

// Two equal capacitors in series and what is stray make the load: C/2 + Cstray = CL.
Result<ValueResult> crystal_value(const KnownInputs& in) {
    const double cl = in.at("cl"), stray = in.at("stray");
    if (!(stray < cl))
        return fail_usage(fmt::format("--stray {} with --cl {}", print_measure(stray, ValueMeasure::farads),
                                      print_measure(cl, ValueMeasure::farads)),
                          "a stray capacitance below the load that the crystal wants");
    const double c = 2 * (cl - stray);
    const double near = nearest(c, in.series);
    const double load = in.maybe("c").value_or(near) / 2 + stray;
    ValueResult out{{figure("c_f", "each", ValueMeasure::farads, c),
                     figure("nearest_f", "standard value", ValueMeasure::farads, near),
                     figure("load_f", "load with it", ValueMeasure::farads, load)},
                    "load_f"};
    const double off = load / cl - 1;
    if (off > 1 || off < -0.6)
        spoil(out, Verdict::stop,
              fmt::format("The load is {:.1f} times what the crystal wants: it may not start.", load / cl));
    else if (std::abs(off) > 0.15)
        spoil(out, Verdict::doubt,
              fmt::format("The load is {:+.0f} % off: the rate is pulled by some 10 to 50 ppm.", 100 * off));
    return out;
}

// Insertion loss 20·log10((RS + RL + RON)/(RS + RL)); bandwidth 1/(2π·R·C), R = (RS + RON) ∥ RL.
Result<ValueResult> switch_path_value(const KnownInputs& in) {
    const double ron = in.at("ron"), source = in.at("source"), load = in.at("load");
    const double loss = 20 * std::log10((source + load + ron) / (source + load));
    std::optional<double> width;
    if (const auto c = in.maybe("c")) {
        const double r = (source + ron) * load / (source + ron + load);
        width = r > 0 ? std::optional(1 / (2 * pi * r * *c)) : std::nullopt;
    }
    return ValueResult{{figure("loss_db", "insertion loss", ValueMeasure::decibels, loss),
                        figure("bandwidth_hz", "bandwidth", ValueMeasure::hertz, width)},
                       "loss_db"};
}

// f = 1/(2π·R·C), −3 dB
Result<ValueResult> filter_value(const KnownInputs& in) {
    return ValueResult{
        {figure("corner_hz", "corner", ValueMeasure::hertz, 1 / (2 * pi * in.at("r") * in.at("c")))},
        "corner_hz"};
}

// A pulse-width output of n bits repeats at clock/2^n. Behind R and C its ripple is largest at half:
// Vdd·tanh(T/(4·R·C)) from peak to peak in the steady state; it settles to half a step in R·C·ln(2^(n+1)).
Result<ValueResult> pulse_width_value(const KnownInputs& in) {
    const double vdd = in.at("vdd"), bits = in.at("bits");
    const double steps = std::exp2(bits);
    const double carrier = in.at("clock") / steps, step = vdd / steps;
    const double rc = in.at("r") * in.at("c");
    const double ripple = vdd * std::tanh(1 / (4 * carrier * rc));
    ValueResult out{{figure("carrier_hz", "carrier", ValueMeasure::hertz, carrier),
                     figure("resolution_v", "step", ValueMeasure::volts, step),
                     figure("ripple_v", "ripple, peak to peak", ValueMeasure::volts, ripple),
                     figure("settle_s", "settles in", ValueMeasure::seconds, rc * std::log(2 * steps)),
                     figure("corner_hz", "corner", ValueMeasure::hertz, 1 / (2 * pi * rc))},
                    "ripple_v"};
    if (ripple > step)
        spoil(out, Verdict::doubt,
              fmt::format("The ripple of {} hides steps of {}.", print_measure(ripple, ValueMeasure::volts),
                          print_measure(step, ValueMeasure::volts)));
    return out;
}

// Bits through binary weighted resistors into a load: V = Vdd·Σ bi·Gi/(Σ G + Gload). All bits give Vfull when
// Σ G = Gload·Vfull/(Vdd − Vfull); the most significant takes 2^(n−1)/(2^n − 1) of it.
Result<ValueResult> ladder_value(const KnownInputs& in) {
    const double vdd = in.at("vdd"), full = in.at("vfull"), load = in.at("load");
    const int n = static_cast<int>(in.at("bits"));
    if (!(full < vdd))
        return fail_usage(fmt::format("--vfull {} from --vdd {}", print_measure(full, ValueMeasure::volts),
                                      print_measure(vdd, ValueMeasure::volts)),
                          "a full level below the supply of the bits");
    const double sum = full / (load * (vdd - full));
    std::vector<double> ohms, fitted;
    for (int i = 0; i < n; ++i) {
        ohms.push_back((std::exp2(n) - 1) / (sum * std::exp2(n - 1 - i)));
        fitted.push_back(in.maybe(fmt::format("r{}", i + 1)).value_or(nearest(ohms.back(), in.series)));
    }
    double all = 1 / load;
    for (const double r : fitted) all += 1 / r;
    const auto codes = static_cast<std::size_t>(std::exp2(n));
    std::vector<double> levels(codes);
    double least_step = vdd;
    for (std::size_t code = 0; code < codes; ++code) {
        double g = 0;
        for (int i = 0; i < n; ++i)
            if ((code >> (n - 1 - i)) & 1U) g += 1 / fitted[static_cast<std::size_t>(i)];
        levels[code] = vdd * g / all;
        if (code > 0) least_step = std::min(least_step, levels[code] - levels[code - 1]);
    }
    double pin = 0;  // one bit high, the others low
    for (const double r : fitted) pin = std::max(pin, (vdd - vdd / (r * all)) / r);
    ValueResult out;
    out.figures = {{"ohm", "resistors, most significant first", ValueMeasure::ohms, {}, ohms, true},
                   {"nearest_ohm", "fitted", ValueMeasure::ohms, {}, fitted, true},
                   {"levels_v", "levels", ValueMeasure::volts, {}, levels, true},
                   figure("least_step_v", "smallest step", ValueMeasure::volts, least_step),
                   figure("full_v", "all bits", ValueMeasure::volts, levels.back()),
                   figure("pin_a", "from a pin", ValueMeasure::amperes, pin)};
    out.main = "least_step_v";
    // Equal levels that differ by rounding only are no step down.
    out.monotone = least_step >= -1e-12 * vdd;
    if (!*out.monotone) spoil(out, Verdict::stop, "A higher code gives a lower level.");
    return out;
}

}  // namespace grayrelic
