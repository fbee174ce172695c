// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/port/tap_plan.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "core/base/table.hpp"
#include "core/base/text.hpp"
#include "core/dossier/pin_fields.hpp"
#include "core/electrical/series.hpp"
#include "core/port/plugged.hpp"

namespace grayrelic {
namespace {

std::string tap_volts(double v) {
    return print_number(v, Unit::volt);
}
std::string tap_ohms(double v) {
    return print_number(v, Unit::ohm, 2);
}

/// What holds a line up, as a resistance: a pull, or an output near its rated current.
double source_ohm(const Pin& pin, const Family* f, bool collector) {
    if (collector) return pin.pull_ohm.value ? pin.pull_ohm.value->value() : 10e3;
    if (f == nullptr || f->high_loads.empty()) return 1e3;
    const auto& l = f->high_loads.back();
    const double drop = l.below_supply ? l.v : std::max(0.3, f->supply_typ_v - l.v);
    return l.a > 0 ? drop / l.a : 1e3;
}

class Planner {
  public:
    Planner(const Port& port, const Connector* c, const FamilyLibrary& families, TapStudy& out)
        : port_(port), connector_(c), families_(families), a_(*out.analyser), out_(out) {
        if (port.taps.shortest.value) shortest_s_ = port.taps.shortest.value->seconds();
    }

    void run() {
        for (const auto& pin : port_.pins) out_.lines.push_back(line(pin));
        channels();
        ground();
        rate();
        steps();
        for (const auto& l : out_.lines) out_.verdict = worse(out_.verdict, l.verdict);
        if (out_.ground_pin.empty()) out_.verdict = Verdict::stop;
        if (!out_.doubts.empty()) out_.verdict = worse(out_.verdict, Verdict::doubt);
        before();
    }

  private:
    TapLine line(const Pin& pin) const {
        TapLine l;
        l.pin = pin.number;
        l.name = pin.name.value.empty() ? "pin " + pin.number : pin.name.value;
        switch (role_of(pin)) {
            case PinRole::ground:
                l.way = TapWay::ground;
                l.says = "Ground.";
                return l;
            case PinRole::unused: l.says = "Nothing is there."; return l;
            case PinRole::rail: {
                l.way = TapWay::meter;
                const auto v = rail_volts(pin);
                l.says = v ? fmt::format("A supply of {}: a meter's work. No lead of the analyser goes here.",
                                         tap_volts(*v))
                           : "A supply: measure it with a meter. No lead of the analyser goes here.";
                return l;
            }
            case PinRole::unknown:
                l.way = TapWay::measure_first;
                l.verdict = Verdict::stop;
                l.says =
                    "Nobody knows what this is. First its resistance to ground with the power off, then its "
                    "volts against ground, through 10 kΩ.";
                return l;
            case PinRole::signal: break;
        }
        signal(pin, l);
        return l;
    }

    void signal(const Pin& pin, TapLine& l) const {
        const auto* f = families_.find(pin.family.value);
        const bool collector = pin.output.value == "open-collector" || (f != nullptr && f->open_collector);
        const double held = collector && pin.pull.value == "up" ? pull_supply() : 0.0;
        if (f == nullptr && !pin.volts_max.value && held <= 0) {
            l.way = TapWay::measure_first;
            l.verdict = Verdict::stop;
            l.says =
                "Neither a family nor a voltage is recorded. Measure it at rest and while it moves, through "
                "10 kΩ, "
                "before the analyser meets it.";
            return;
        }
        levels(pin, f, collector, l);
        // Logic does not rise above the supply that its own port shows.
        const double rail = pull_supply();
        if (f != nullptr && !f->swings_below_ground() && !pin.volts_max.value &&
            rail >= f->supply_min_v * 0.9)
            l.highest_v = std::min(l.highest_v, rail);
        if (held > 0 && !pin.volts_max.value) {
            l.highest_v = held;
            l.high_least_v = 0.9 * held;
        }
        const double ohm = source_ohm(pin, f, collector);
        l.weak = ohm >= 2e3;
        const bool over = l.highest_v > a_.limit_high_v || l.lowest_v < a_.limit_low_v;
        if (!over && reads(l, 1, ohm, a_.input_ohm, a_.input_farad)) {
            l.way = TapWay::direct;
            l.says =
                fmt::format("{} to {}: within the input's {} to {}.", tap_volts(l.lowest_v),
                            tap_volts(l.highest_v), tap_volts(a_.limit_low_v), tap_volts(a_.limit_high_v));
            if (collector && !pin.pull_ohm.value)
                l.says += " Its pull is not recorded: 10 kΩ is assumed. Measure it with the power off.";
            if (l.weak) l.says += fmt::format(" Weak ({}): keep the lead short.", tap_ohms(ohm));
            return;
        }
        if (over) l.verdict = Verdict::stop;
        // A divider whose middle stays at ground cannot lift what swings below it, but it shrinks it enough.
        if (over && divide(l, ohm)) return;
        l.way = TapWay::buffer;
        if (!over) l.verdict = Verdict::doubt;
        l.says =
            over ? fmt::format(
                       "{} to {} is beyond the input's {} to {}, and no divider leaves enough: a buffer "
                       "that endures it{}.",
                       tap_volts(l.lowest_v), tap_volts(l.highest_v), tap_volts(a_.limit_low_v),
                       tap_volts(a_.limit_high_v), l.lowest_v < -1 ? ", such as a line receiver" : "")
                 : fmt::format(
                       "At {} behind it the input of {} and {} would spoil it, or its levels are not surely "
                       "read: a buffer with a high input resistance.",
                       tap_ohms(ohm), tap_ohms(a_.input_ohm), print_number(a_.input_farad, Unit::farad, 2));
    }

    /// What a pull at this port hangs on: its highest logic supply; 0 when none is recorded.
    [[nodiscard]] double pull_supply() const {
        double out = 0;
        for (const auto& p : port_.pins)
            if (role_of(p) == PinRole::rail)
                if (const auto v = rail_volts(p); v && *v >= 1.5 && *v <= 6) out = std::max(out, *v);
        return out;
    }

    static void levels(const Pin& pin, const Family* f, bool collector, TapLine& l) {
        if (f != nullptr) {
            l.lowest_v = f->output_low_min_v;
            l.highest_v = f->output_high_max_v;
            l.low_most_v = f->output_low_max_v;
            l.high_least_v = collector ? std::nullopt : f->output_high_min_v;
        }
        // What was measured counts more than what is guaranteed.
        if (pin.volts_max.value)
            l.highest_v = std::max(pin.volts_max.value->value(),
                                   f != nullptr && f->swings_below_ground() ? l.highest_v : 0.0);
        if (pin.volts_min.value) l.lowest_v = std::min(l.lowest_v, pin.volts_min.value->value());
        if (!l.high_least_v && pin.volts_max.value) l.high_least_v = 0.9 * pin.volts_max.value->value();
        if (!l.low_most_v) l.low_most_v = 0.4;
        if (collector && !l.high_least_v) l.high_least_v = 4.5;
    }

    /// Are its levels surely read behind this share, and does the input leave its edges alone?
    [[nodiscard]] bool reads(TapLine& l, double share, double ohm, double load_ohm, double farad) const {
        const double sag = load_ohm / (load_ohm + ohm);
        l.high_at_input_v = l.high_least_v.value_or(l.highest_v) * share * sag;
        l.low_at_input_v = std::max(l.low_most_v.value_or(0.4), 0.0) * share;
        if (l.high_at_input_v < a_.high_min_v || l.low_at_input_v > a_.low_max_v) return false;
        return !shortest_s_ || ohm * farad * 2.2 <= 0.25 * *shortest_s_;
    }

    bool divide(TapLine& l, double ohm) const {
        // So high that the line gives little, so low that the input's capacitance is charged in time.
        double bottom = 10e3;
        if (shortest_s_ && a_.input_farad > 0) bottom = std::min(bottom, 0.1 * *shortest_s_ / a_.input_farad);
        bottom = at_most(std::max(bottom, 100.0), Series::e12);
        const double held = 1 / (1 / bottom + 1 / a_.input_ohm);
        const double room_high = l.highest_v > 0 ? 0.95 * a_.limit_high_v / l.highest_v : 1.0;
        const double room_low =
            l.lowest_v < 0 ? (a_.limit_low_v < 0 ? 0.95 * a_.limit_low_v / l.lowest_v : 0.0) : 1.0;
        const double share = std::min({room_high, room_low, 1.0});
        if (share <= 0) return false;
        const double top = at_least(held * (1 / share - 1), Series::e12);
        const double got = held / (held + top);
        // The line's own weakness is part of the upper resistor.
        const double with_source = held / (held + top + ohm);
        l.high_at_input_v = l.high_least_v.value_or(l.highest_v) * with_source;
        l.low_at_input_v = std::max(l.low_most_v.value_or(0.4), 0.0) * got;
        if (l.high_at_input_v < a_.high_min_v || l.low_at_input_v > a_.low_max_v) return false;
        if (ohm > 0.1 * (top + bottom)) return false;  // it would be pulled down
        l.way = TapWay::divider;
        l.top_ohm = top;
        l.bottom_ohm = bottom;
        l.says = fmt::format(
            "Up to {} is beyond the input's {}: {} in the line and {} to ground leave {} of a high. The "
            "line gives {} for it.",
            tap_volts(l.highest_v), tap_volts(a_.limit_high_v), tap_ohms(top), tap_ohms(bottom),
            tap_volts(l.high_at_input_v),
            print_number(std::max(l.highest_v, -l.lowest_v) / (top + bottom), Unit::ampere, 2));
        if (l.lowest_v < 0)
            l.says += fmt::format(" Down to {} it stays above {}.", tap_volts(l.lowest_v),
                                  tap_volts(l.lowest_v * got));
        return true;
    }

    void channels() {
        int n = 0;
        for (auto& l : out_.lines)
            if (l.way == TapWay::direct || l.way == TapWay::divider || l.way == TapWay::buffer) {
                l.run = n / a_.channels + 1;
                l.channel = n % a_.channels + 1;
                ++n;
            }
        out_.runs = std::max(1, (n + a_.channels - 1) / a_.channels);
        if (out_.runs > 1)
            out_.doubts.push_back(
                fmt::format("{} lines and {} channels: {} recordings. Keep one line in all of them, such as "
                            "a clock, so that they can be laid beside each other.",
                            n, a_.channels, out_.runs));
    }

    /// Closest to the lines that are recorded; a shield only where there is nothing else.
    void ground() {
        const auto place = [&](const std::string& number) -> std::optional<Place> {
            if (connector_ == nullptr) return std::nullopt;
            const auto i = connector_->contact_numbered(number, port_.numbering);
            return i ? std::optional(connector_->contacts[*i].place()) : std::nullopt;
        };
        double best = std::numeric_limits<double>::infinity();
        for (const auto& l : out_.lines) {
            if (l.way != TapWay::ground) continue;
            const auto* pin = port_.find_pin(l.pin);
            const auto lower = heading_key(pin->name.value);
            const bool shield =
                pin->function.value == "shield" || lower.find("shield") != std::string::npos ||
                lower.find("chassis") != std::string::npos || lower.find("earth") != std::string::npos ||
                lower.find("shell") != std::string::npos;
            double far = shield ? 1e6 : 0;
            const auto here = place(l.pin);
            for (const auto& other : out_.lines)
                if (const auto there = place(other.pin); other.run > 0 && here && there)
                    far += std::hypot(here->x_mm - there->x_mm, here->y_mm - there->y_mm);
            if (far >= best) continue;
            best = far;
            out_.ground_pin = l.pin;
            out_.ground_says =
                shield
                    ? fmt::format("{} (pin {}), for want of a better one: a shield may carry other currents.",
                                  l.name, l.pin)
                    : fmt::format("{} (pin {}){}.", l.name, l.pin,
                                  here ? ", the closest to the recorded lines" : "");
        }
        if (out_.ground_pin.empty())
            out_.ground_says = "No ground is recorded: find it first. Without it nothing is connected.";
    }

    void rate() {
        if (!shortest_s_) {
            out_.rate_hz = a_.rates_hz.back();
            out_.doubts.push_back(
                fmt::format("How short the shortest pulse is, nobody has said: record at {} first, look at "
                            "the shortest in Measure, and say it here.",
                            print_number(out_.rate_hz, Unit::hertz)));
            return;
        }
        out_.least_rate_hz = samples_per_pulse / *shortest_s_;
        const auto it = std::find_if(a_.rates_hz.begin(), a_.rates_hz.end(),
                                     [&](double hz) { return hz >= out_.least_rate_hz * (1 - 1e-9); });
        if (it != a_.rates_hz.end()) {
            out_.rate_hz = *it;
            return;
        }
        out_.rate_hz = a_.rates_hz.back();
        out_.doubts.push_back(
            fmt::format("{} are needed, {} is the most it has: pulses of {} are not to be trusted.",
                        print_number(out_.least_rate_hz, Unit::hertz),
                        print_number(out_.rate_hz, Unit::hertz), print_number(*shortest_s_, Unit::second)));
    }

    void steps() {
        constexpr double by_hand_s = 5;  // to read what is to be done, and do it
        for (const auto& w : port_.taps.wishes) {
            TapStep s{
                w.what, w.how,
                w.every_s ? seconds_for(*w.every_s, w.times) : by_hand_s * static_cast<double>(w.times)};
            if (s.how.empty())
                s.how = w.every_s ? fmt::format("wait: it comes every {} or so",
                                                print_number(*w.every_s, Unit::second, 2))
                                  : fmt::format("do it {}", plural(w.times, "time", "times"));
            out_.seconds = std::max(out_.seconds, 0.0) + (w.every_s ? 0.0 : s.seconds);
            out_.steps.push_back(std::move(s));
        }
        // What comes by itself comes while other things are done.
        for (const auto& s : out_.steps) out_.seconds = std::max(out_.seconds, s.seconds);
        if (out_.steps.empty()) {
            out_.seconds = 10;
            out_.doubts.emplace_back(
                "Nothing is said to be wanted of the recording: ten seconds show what the line does by "
                "itself. Say the rarest thing that you want to see.");
        }
        if (a_.samples && out_.rate_hz * out_.seconds > *a_.samples)
            out_.doubts.push_back(fmt::format(
                "It stores {} of {} at {}: start each recording just before what you want, or "
                "let it start at the line's first edge.",
                print_number(*a_.samples / out_.rate_hz, Unit::second, 2),
                print_number(out_.seconds, Unit::second, 2), print_number(out_.rate_hz, Unit::hertz)));
    }

    void before() {
        auto& b = out_.before;
        b.emplace_back(
            "Power off. Plug the pass-through cable in, or clip the leads on, with nothing switched on.");
        b.push_back("Ground first: " + out_.ground_says);
        const bool parts = std::any_of(out_.lines.begin(), out_.lines.end(), [](const TapLine& l) {
            return l.way == TapWay::divider || l.way == TapWay::buffer;
        });
        if (parts)
            b.emplace_back(
                "Put the resistors and buffers at the port's end of the leads, and measure each tap with a "
                "meter "
                "before the analyser is joined.");
        b.emplace_back("Power on. See that the machine works as it did without the leads.");
        b.emplace_back("Start recording, then do what is listed, in that order, and say aloud or note when.");
        b.emplace_back("Power off before a lead is moved.");
    }

    const Port& port_;
    const Connector* connector_;
    const FamilyLibrary& families_;
    const AnalyserModel& a_;
    TapStudy& out_;
    std::optional<double> shortest_s_;
};

}  // namespace

std::string_view word(TapWay w) {
    constexpr std::array<std::string_view, 7> words{"straight", "divider", "buffer", "measure first",
                                                    "ground",   "meter",   "none"};
    return words[static_cast<std::size_t>(w)];
}

double seconds_for(double every_s, long times) {
    // A Poisson count of mean m is below `times` with 5 %: solved for m. Wilson and Hilferty's cube for the
    // chi-squared quantile is within a percent from two on; one is exact.
    const double n = static_cast<double>(std::max(1L, times));
    if (times <= 1) return every_s * -std::log(0.05);
    constexpr double z = 1.6448536269514722;  // of 95 %
    const double c = 1 - 1 / (9 * n) + z / (3 * std::sqrt(n));
    return every_s * n * c * c * c;
}

TapStudy plan_taps(const Port& port, const Connector* connector, const FamilyLibrary& families,
                   const AnalyserLibrary& analysers) {
    TapStudy out;
    out.analyser = analysers.find(port.taps.analyser.empty() ? "general-8" : port.taps.analyser);
    if (out.analyser == nullptr) {
        out.verdict = Verdict::unknown;
        out.doubts.emplace_back("No analyser is known: see data/analysers.");
        return out;
    }
    Planner(port, connector, families, out).run();
    return out;
}

}  // namespace grayrelic
