// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/port/plugged.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/quantity.hpp"
#include "core/port/plugged_paths.hpp"

namespace grayrelic {
namespace {

using namespace plugged;
using Kind = Terminal::Kind;

std::string amperes(double a) {
    return print_number(a, Unit::ampere, 2);
}
std::string volts(double v) {
    return print_number(v, Unit::volt);
}

Verdict of_current(double a, double endures) {
    return a > std::max(endures, bearable_a) || (a > endures && endures < bearable_a) ? Verdict::stop
           : a > harmless_a                                                           ? Verdict::doubt
                                                                                      : Verdict::holds;
}

/// Looks at one solution and keeps what is wrong.
class Look {
  public:
    Look(const PluggedCase& c, Network& n, bool tied, PluggedStudy& out)
        : c_(c), n_(n), tied_(tied), out_(out) {}

    void at_all() {
        for (std::size_t i = 0; i < n_.branches.size(); ++i) at(i);
        for (std::size_t i = 0; i < c_.touches.size(); ++i) {
            limits(i, true);
            limits(i, false);
        }
        for (const auto& r : n_.plug_rails()) rail(r);
    }

  private:
    [[nodiscard]] const Terminal& of(bool socket, std::size_t i) const {
        return socket ? c_.socket.terminals[i] : c_.plug.terminals[i];
    }
    [[nodiscard]] std::string name(bool socket, std::size_t i) const {
        return called(socket ? c_.socket : c_.plug, of(socket, i));
    }
    [[nodiscard]] const char* side(bool socket) const { return socket ? c_.socket.called : c_.plug.called; }

    void keep(PathFault f) {
        const bool all_meant =
            std::all_of(f.touches.begin(), f.touches.end(), [&](auto t) { return c_.touches[t].meant; });
        if (f.verdict == Verdict::holds || all_meant) return;
        if (tied_) {
            f.verdict = Verdict::doubt;
            f.says +=
                " So only if the two grounds are joined elsewhere too: a second cable, a case, a probe.";
        }
        for (auto& old : out_.faults) {
            if (old.kind != f.kind || old.touches != f.touches) continue;
            if (worse(old.verdict, f.verdict) != old.verdict ||
                (old.verdict == f.verdict && f.amps > old.amps))
                old = std::move(f);
            return;
        }
        out_.faults.push_back(std::move(f));
    }

    /// The supply on the path and what bounds its current.
    [[nodiscard]] std::string bound(const Path& p) const {
        for (const auto i : p.branches)
            if (n_.branches[i].kind == Branch::Kind::part && n_.branches[i].says == "its fuse")
                return "until the fuse opens";
        const auto* b = p.find(n_, Branch::Kind::supply);
        if (b == nullptr) return "as far as the outputs give it";
        const auto& t = of(b->of_socket, b->terminal);
        if (t.kind == Kind::source && t.amperes)
            return fmt::format("only its {} limit is in between", amperes(*t.amperes));
        return "nothing known limits the current";
    }

    void at(std::size_t i) {
        const auto& b = n_.branches[i];
        const double a = std::abs(b.amps);
        switch (b.kind) {
            case Branch::Kind::touch:
                out_.touch_a[b.terminal] = std::max(out_.touch_a[b.terminal], a);
                joined(i, a);
                return;
            case Branch::Kind::substrate: reversed(i, a); return;
            case Branch::Kind::clamp_high:
            case Branch::Kind::clamp_low: diode(i, a); return;
            case Branch::Kind::drive: driven(i, a); return;
            case Branch::Kind::supply: fights(i); return;
            default: return;
        }
    }

    void reversed(std::size_t i, double a) {
        const auto verdict = of_current(a, bearable_a);
        if (verdict == Verdict::holds) return;
        auto p = path_through(n_, c_, i);
        const bool through = p.has(n_, Branch::Kind::drive) && p.find(n_, Branch::Kind::supply) == nullptr;
        keep({PathFault::Kind::reversed_supply, verdict,
              fmt::format("{}: the {}'s circuit gets its supply the wrong way round, about {}; {}.", p.text,
                          side(n_.branches[i].of_socket), amperes(a),
                          through ? "as far as the outputs give it" : bound(p)),
              p.text, a, p.touches});
    }

    /// A supply straight into a ground.
    void joined(std::size_t i, double a) {
        const auto& t = c_.touches[n_.branches[i].terminal];
        const auto &s = of(true, t.socket), &q = of(false, t.plug);
        const bool pair = (s.kind == Kind::source && q.kind == Kind::ground) ||
                          (q.kind == Kind::source && s.kind == Kind::ground);
        if (!pair || a <= bearable_a) return;
        auto p = path_through(n_, c_, i);
        for (const auto kind : {Branch::Kind::input, Branch::Kind::substrate, Branch::Kind::clamp_low,
                                Branch::Kind::clamp_high, Branch::Kind::drive, Branch::Kind::pull})
            if (p.has(n_, kind)) return;
        const bool fused = bound(p) == "until the fuse opens";
        keep({PathFault::Kind::short_circuit, fused ? Verdict::doubt : Verdict::stop,
              fmt::format("{}: the supply is shorted, {}.", p.text, bound(p)), p.text, a, p.touches});
    }

    /// A supply that current flows into.
    void fights(std::size_t i) {
        if (n_.branches[i].amps > -bearable_a) return;
        auto p = path_through(n_, c_, i);
        if (p.has(n_, Branch::Kind::clamp_high) || p.has(n_, Branch::Kind::drive)) return;
        const auto* from = p.find(n_, Branch::Kind::supply);
        if (from == nullptr || from == &n_.branches[i]) return;
        keep({PathFault::Kind::supplies_fight, Verdict::stop,
              fmt::format("{}: two supplies fight, about {}.", p.text, amperes(-n_.branches[i].amps)), p.text,
              -n_.branches[i].amps, p.touches});
    }

    void rail(const Network::Rail& r) {
        const double got = n_.volts(r.node) - n_.volts(n_.plug_ground);
        if (std::abs(r.wanted) < 0.1 || got * r.wanted <= 0) return;
        std::size_t load = n_.branches.size();
        for (std::size_t i = 0; i < n_.branches.size(); ++i) {
            const auto& b = n_.branches[i];
            if (b.kind == Branch::Kind::input && !b.of_socket && (b.a == r.node || b.b == r.node) &&
                of(false, b.terminal).kind == Kind::load)
                load = i;
        }
        if (load == n_.branches.size() || std::abs(n_.branches[load].amps) <= harmless_a) return;
        const double share = got / r.wanted;
        if (share <= 1.12 && share >= 0.88) return;
        const auto p = path_through(n_, c_, load);
        const double a = std::abs(n_.branches[load].amps);
        // Fed by an output, what it gets is said with the output.
        if (share < 1 && p.has(n_, Branch::Kind::drive)) return;
        keep({PathFault::Kind::wrong_voltage, share > 1 ? Verdict::stop : Verdict::doubt,
              fmt::format("{}: the {}'s circuit gets {} where it wants {}.", p.text, c_.plug.called,
                          volts(got), volts(r.wanted)),
              p.text, a, p.touches});
    }

    /// The other end of the touch at which a terminal stands.
    [[nodiscard]] const Terminal* meets(bool socket, std::size_t terminal) const {
        for (const auto& t : c_.touches)
            if ((socket ? t.socket : t.plug) == terminal)
                return &(socket ? c_.plug.terminals[t.plug] : c_.socket.terminals[t.socket]);
        return nullptr;
    }

    [[nodiscard]] static std::string unless_known(const Terminal& t) {
        if (t.limits_known) return {};
        return " Unless its limits are known: find its chip, or measure with a resistor of 10 kΩ in between.";
    }

    void diode(std::size_t i, double a) {
        const auto& b = n_.branches[i];
        const auto verdict = of_current(a, bearable_a);
        if (verdict == Verdict::holds) return;
        const auto& t = of(b.of_socket, b.terminal);
        auto p = path_through(n_, c_, i);
        const bool missing =
            n_.supply_of(b.of_socket, b.terminal) < 0.7 * n_.wanted_of(b.of_socket, b.terminal);
        const int node = (b.of_socket ? n_.socket_node : n_.plug_node)[b.terminal];
        const double at = n_.volts(node) - n_.ground_of(b.of_socket);
        const auto who = name(b.of_socket, b.terminal);
        if (b.kind == Branch::Kind::clamp_high && missing) {
            keep({PathFault::Kind::back_feed, verdict,
                  fmt::format(
                      "{}: {} has no supply and endures only {}; about {} flow through its diode and feed "
                      "its part.{}",
                      p.text, who, volts(t.family != nullptr ? t.family->input_limit_v(0) : 0.5), amperes(a),
                      unless_known(t)),
                  p.text, a, p.touches});
        } else if (b.kind == Branch::Kind::clamp_low && !b.of_socket && !tied_ && loose()) {
            keep({PathFault::Kind::ground_through_signal, verdict,
                  fmt::format("{}: the {}'s ground is missing, and about {} come back through {}.", p.text,
                              c_.plug.called, amperes(a), who),
                  p.text, a, p.touches});
        } else {
            keep({PathFault::Kind::over_limit, verdict,
                  fmt::format("{}: {} stands at {}, beyond what it endures, and about {} flow through its "
                              "diode.{}",
                              p.text, who, volts(at), amperes(a), unless_known(t)),
                  p.text, a, p.touches});
        }
    }

    [[nodiscard]] bool loose() const { return std::abs(n_.volts(n_.plug_ground)) > 0.2; }

    void driven(std::size_t i, double a) {
        const auto& b = n_.branches[i];
        const auto& t = of(b.of_socket, b.terminal);
        const double endures = t.family == nullptr ? bearable_a
                               : b.high            ? t.family->endures_high_a
                                                   : t.family->endures_a;
        const double rated = t.family == nullptr ? 0.0
                             : b.high            ? t.family->output_high_a
                                                 : t.family->output_low_a;
        auto verdict = of_current(a, endures);
        if (verdict == Verdict::doubt && a <= rated * 1.01) verdict = Verdict::holds;
        if (verdict == Verdict::holds) return;
        auto p = path_through(n_, c_, i);
        long drives = 0;
        for (const auto k : p.branches) drives += n_.branches[k].kind == Branch::Kind::drive ? 1 : 0;
        const auto who = name(b.of_socket, b.terminal);
        const bool back = p.has(n_, Branch::Kind::clamp_low) || p.has(n_, Branch::Kind::input);
        const auto kind = drives > 1 && !back                 ? PathFault::Kind::contention
                          : loose() && !b.high && b.of_socket ? PathFault::Kind::ground_through_signal
                          : p.has(n_, Branch::Kind::clamp_high) && b.high ? PathFault::Kind::back_feed
                                                                          : PathFault::Kind::output_overload;
        const auto does = kind == PathFault::Kind::contention ? "both drive, and fight when they differ"
                          : kind == PathFault::Kind::ground_through_signal
                              ? "the circuit's current comes back "
                                "through an output"
                          : kind == PathFault::Kind::back_feed ? "an output feeds a part without supply"
                                                               : "more than a signal's current";
        keep({kind, verdict,
              fmt::format("{}: {}; about {} through {}, which endures {}.", p.text, does, amperes(a), who,
                          t.family != nullptr ? amperes(endures) : "nobody knows what"),
              p.text, a, p.touches});
    }

    /// Volts at an input or output without a diode on that side.
    void limits(std::size_t touch, bool socket) {
        const auto i = socket ? c_.touches[touch].socket : c_.touches[touch].plug;
        const auto& t = of(socket, i);
        if (t.kind != Kind::input && t.kind != Kind::output) return;
        const int node = (socket ? n_.socket_node : n_.plug_node)[i];
        const double v = n_.volts(node) - n_.ground_of(socket);
        if (!socket && !tied_ && loose()) return;  // nothing fixes its ground: its diodes tell
        const bool high =
            !t.clamps && !t.protection.clamp_to_supply && t.limit_high && v > *t.limit_high + 0.01;
        const bool low =
            t.family != nullptr && t.family->limit_low_v < -2 && t.limit_low && v < *t.limit_low - 0.01;
        if (!high && !low) return;
        const auto* other = meets(socket, i);
        std::vector<std::size_t> touches{touch};
        const auto text = fmt::format(
            "{} → {}", other == nullptr ? "" : called(socket ? c_.plug : c_.socket, *other), name(socket, i));
        keep({PathFault::Kind::over_limit, Verdict::stop,
              fmt::format("{}: {} arrives; it endures {} to {}.{}", text, volts(v),
                          volts(t.limit_low.value_or(-0.5)), volts(*t.limit_high), unless_known(t)),
              text, out_.touch_a[touch], std::move(touches)});
    }

    const PluggedCase& c_;
    Network& n_;
    bool tied_;
    PluggedStudy& out_;
};

/// A contact of which nothing is known: as bad as plausible.
void unknown_pair(const PluggedCase& c, std::size_t touch, PluggedStudy& out) {
    const auto& t = c.touches[touch];
    const auto &s = c.socket.terminals[t.socket], &p = c.plug.terminals[t.plug];
    if ((s.kind != Kind::unknown && p.kind != Kind::unknown) || t.meant) return;
    const auto& known = s.kind == Kind::unknown ? p : s;
    if (known.kind == Kind::open || (s.kind == Kind::unknown && p.kind == Kind::unknown && !s.pin && !p.pin))
        return;
    const auto who = called(s.kind == Kind::unknown ? c.socket : c.plug, s.kind == Kind::unknown ? s : p);
    const auto text = fmt::format("{} → {}", called(s.kind == Kind::unknown ? c.plug : c.socket, known), who);
    const bool strong =
        known.kind == Kind::source ||
        (known.kind == Kind::output && (known.highest.value_or(5) > 5.5 || known.lowest.value_or(0) < -0.5));
    out.faults.push_back(
        {PathFault::Kind::unknown,
         strong ? Verdict::stop : Verdict::doubt,
         fmt::format(
             "{}: {} of which nothing is known{}. Unless it is known: measure its resistance to ground "
             "with the power off, then its volts against ground.",
             text, known.kind == Kind::source ? "a supply lands on a contact" : "it meets a contact",
             strong ? "; it may be a ground or an input" : ""),
         text,
         0,
         {touch}});
}

bool a_supply_lands(const PluggedCase& c) {
    return std::any_of(c.touches.begin(), c.touches.end(), [&](const Touch& t) {
        return (c.socket.terminals[t.socket].kind == Kind::source &&
                c.plug.terminals[t.plug].kind != Kind::open) ||
               (c.plug.terminals[t.plug].kind == Kind::source &&
                c.socket.terminals[t.socket].kind != Kind::open);
    });
}

bool grounded(const PluggedCase& c) {
    return c.shells_join || std::any_of(c.touches.begin(), c.touches.end(), [&](const Touch& t) {
               return c.socket.terminals[t.socket].kind == Kind::ground &&
                      c.plug.terminals[t.plug].kind == Kind::ground;
           });
}

/// Figures that do not hold together are no answer: said once, as a doubt.
void say_unsettled(const Network& n, PluggedStudy& out) {
    if (n.solution.settled || out.touch_a.empty()) return;
    const auto says =
        "The currents could not be settled: too many ways hang on each other. Measure before plugging.";
    for (const auto& f : out.faults)
        if (f.says == says) return;
    out.faults.push_back({PathFault::Kind::unknown, Verdict::doubt, says, {}, 0, {0}});
}

void run(const PluggedCase& c, const Levels& levels, bool tied, PluggedStudy& out) {
    Network idle(c, levels, false, tied);
    idle.solve();
    say_unsettled(idle, out);
    Look(c, idle, tied, out).at_all();
    if (!idle.plug_supplied()) return;
    Network running(c, levels, true, tied);
    running.solve();
    say_unsettled(running, out);
    Look(c, running, tied, out).at_all();
}

int weight(const PathFault& f) {
    return f.verdict == Verdict::stop ? 0 : f.verdict == Verdict::doubt ? 1 : 2;
}

}  // namespace

std::string_view word(PathFault::Kind kind) {
    constexpr std::array<std::string_view, 10> words{
        "reversed-supply", "short",      "supplies-fight",  "wrong-voltage", "ground-through-signal",
        "back-feed",       "contention", "output-overload", "over-limit",    "unknown"};
    return words[static_cast<std::size_t>(kind)];
}

PluggedStudy study_plugged(const PluggedCase& c, bool quick) {
    PluggedStudy out;
    out.touch_a.assign(c.touches.size(), 0.0);
    const bool lands = a_supply_lands(c);
    out.ground_missing = lands && !grounded(c);
    for (std::size_t i = 0; i < c.touches.size(); ++i) unknown_pair(c, i, out);
    const auto all = [&](bool tied) {
        for (const bool s : {false, true})
            for (const bool p : {false, true}) run(c, {s, p}, tied, out);
        // Where currents share their way back, one output alone may carry it all.
        if (quick || tied || grounded(c)) return;
        for (std::size_t i = 0; i < c.touches.size(); ++i)
            for (const bool s : {false, true}) run(c, {s, s, i}, tied, out);
    };
    all(false);
    if (out.ground_missing && !c.isolated) {
        const auto without = out.faults;
        const auto currents = out.touch_a;
        PluggedStudy tied;
        tied.touch_a = currents;
        std::swap(out, tied);
        all(true);
        std::swap(out, tied);
        for (auto& f : tied.faults) {
            const bool said = std::any_of(without.begin(), without.end(), [&](const PathFault& x) {
                return std::any_of(f.touches.begin(), f.touches.end(), [&](auto t) {
                    return std::find(x.touches.begin(), x.touches.end(), t) != x.touches.end();
                });
            });
            if (!said) out.faults.push_back(std::move(f));
        }
        out.touch_a = currents;
    }
    std::stable_sort(out.faults.begin(), out.faults.end(), [](const PathFault& a, const PathFault& b) {
        return std::pair(weight(a), -a.amps) < std::pair(weight(b), -b.amps);
    });
    for (const auto& f : out.faults) out.verdict = worse(out.verdict, f.verdict);
    return out;
}

}  // namespace grayrelic
