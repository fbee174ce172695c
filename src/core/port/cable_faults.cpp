// SPDX-License-Identifier: GPL-3.0-or-later
// What is wrong with a cable.
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

#include "core/base/text.hpp"
#include "core/port/cable.hpp"

namespace grayrelic {
namespace {

using FaultKind = CableFault::Kind;

std::string contact(const CableSide& s, const std::string& number) {
    const auto* pin = s.port == nullptr ? nullptr : s.port->find_pin(number);
    const auto where = s.port == nullptr ? std::string("the open end") : s.port->id;
    return pin == nullptr || pin->name.value.empty()
               ? fmt::format("{}/{}", where, number)
               : fmt::format("{}/{} {}", where, number, pin->name.value);
}

class CableJudge {
  public:
    CableJudge(const Cable& c, const CableView& v, const FamilyLibrary& f) : c_(c), v_(v), families_(f) {}

    std::vector<CableFault> run() {
        halves(v_.a, c_.a);
        halves(v_.b, c_.b);
        numbers();
        lay();
        said_.assign(c_.wires.size(), false);
        if (v_.a.port != nullptr && v_.b.port != nullptr) {
            grounds();
            unnamed();
            if (!not_there_) {
                open_inputs(v_.a, true);
                open_inputs(v_.b, false);
            }
            paths();
            strangers();
        }
        shared_contacts();
        return std::move(out_);
    }

  private:
    void add(FaultKind kind, Verdict verdict, std::vector<std::size_t> wires, std::string says,
             std::string why, std::string todo) {
        out_.push_back({kind, verdict, std::move(wires), std::move(says), std::move(why), std::move(todo)});
    }

    void halves(const CableSide& s, const CableEnd& end) {
        if (s.port == nullptr || end.half != s.port->half) return;
        add(FaultKind::cannot_mate, Verdict::doubt, {},
            fmt::format("{} can't be put into {}: both are {}s", c_.name, s.port->id, word(end.half)),
            fmt::format("The cable's end is a {}, and so is {}.", word(end.half), s.port->id),
            fmt::format("Fit a {} to the cable, or correct which half the port is.",
                        end.half == Half::plug ? "socket" : "plug"));
    }

    void numbers() {
        std::string strangers;
        for (const auto& w : c_.wires) {
            if (!v_.a.connector.contact_numbered(w.a, v_.a.numbering))
                strangers += (strangers.empty() ? "" : ", ") + w.a + " (first end)";
            if (!v_.b.connector.contact_numbered(w.b, v_.b.numbering))
                strangers += (strangers.empty() ? "" : ", ") + w.b + " (second end)";
        }
        not_there_ = !strangers.empty();
        if (not_there_)
            add(FaultKind::not_there, Verdict::doubt, {},
                fmt::format("{}: wires to contacts that are not there", c_.name), strangers + ".",
                "Correct the numbers, or the connectors of its ends.");
    }

    /// The same things at both wires, such as two grounds on one, are wanted.
    [[nodiscard]] bool same_thing(const CableSide& far, const std::vector<std::string>& contacts) const {
        if (far.port == nullptr) return false;
        std::optional<PinRole> role;
        std::optional<double> volts;
        for (const auto& number : contacts) {
            const auto* pin = far.port->find_pin(number);
            if (pin == nullptr) return false;
            const auto r = role_of(*pin);
            if ((r != PinRole::ground && r != PinRole::rail) || (role && *role != r)) return false;
            const auto v = r == PinRole::rail ? rail_volts(*pin).value_or(0) : 0.0;
            if (volts && std::abs(*volts - v) > 0.05 * std::abs(v)) return false;
            role = r;
            volts = v;
        }
        return true;
    }

    void shared_contacts() {
        for (const bool first : {true, false}) {
            std::map<std::string, std::vector<std::size_t>> at;
            for (std::size_t i = 0; i < c_.wires.size(); ++i)
                at[first ? c_.wires[i].a : c_.wires[i].b].push_back(i);
            for (const auto& [number, wires] : at) {
                if (wires.size() < 2) continue;
                std::vector<std::string> far;
                for (const auto i : wires) far.push_back(first ? c_.wires[i].b : c_.wires[i].a);
                if (same_thing(first ? v_.b : v_.a, far)) continue;
                if (std::any_of(wires.begin(), wires.end(), [&](auto w) { return said_[w]; })) continue;
                for (const auto w : wires) said_[w] = true;
                // Two wires between the same two contacts are one thicker wire.
                if (std::all_of(far.begin(), far.end(), [&](const auto& f) { return f == far.front(); }))
                    continue;
                add(FaultKind::two_on_one, Verdict::doubt, wires,
                    fmt::format("{}: {} wires at {}", c_.name, wires.size(),
                                contact(first ? v_.a : v_.b, number)),
                    fmt::format("They join {} to each other.", fmt::join(far, " and ")),
                    "Take one off, or say by a note why they belong together.");
            }
        }
    }

    void lay() {
        if (lay_of(c_.wires, v_) != CableLay::mirrored || v_.a.connector.id != v_.b.connector.id) return;
        add(FaultKind::mirrors, Verdict::doubt, {},
            fmt::format("{} mirrors: pin 1 does not reach pin 1", c_.name),
            c_.a.half == c_.b.half ? "Both ends are of the same gender and joined place by place."
                                   : "Its wires go place by place, as seen from the two faces.",
            "Wire it number by number, or turn one connector to the other side of the ribbon.");
    }

    [[nodiscard]] static PinRole role_at(const CableSide& s, const std::string& number) {
        const auto* pin = s.port->find_pin(number);
        return pin == nullptr ? PinRole::unknown : role_of(*pin);
    }

    void grounds() {
        const auto has = [](const CableSide& s) {
            return std::any_of(s.port->pins.begin(), s.port->pins.end(),
                               [](const Pin& p) { return role_of(p) == PinRole::ground; });
        };
        long grounds = 0, signals = 0;
        for (const auto& w : c_.wires) {
            const auto a = role_at(v_.a, w.a), b = role_at(v_.b, w.b);
            grounds += a == PinRole::ground && b == PinRole::ground ? 1 : 0;
            signals += a == PinRole::signal && b == PinRole::signal ? 1 : 0;
        }
        shells_ = v_.a.connector.metal_shell && v_.b.connector.metal_shell;
        no_ground_ = grounds == 0 && has(v_.a) && has(v_.b) && !c_.wires.empty();
        if (no_ground_ && !not_there_)
            add(FaultKind::no_ground, Verdict::doubt, {}, fmt::format("{} has no ground wire", c_.name),
                fmt::format(
                    "{} and {} both have a ground, and no wire joins them: what flows through the signals "
                    "has no way back, and levels mean nothing.{}",
                    v_.a.port->id, v_.b.port->id,
                    shells_ ? " Shells that touch are no return for signals." : ""),
                "Add a wire from ground to ground.");
        else if (grounds > 0 && signals > grounds * signals_per_ground) {
            const auto spare = [&](const CableSide& s) {
                return std::count_if(s.port->pins.begin(), s.port->pins.end(),
                                     [](const Pin& p) { return role_of(p) == PinRole::ground; }) > grounds;
            };
            add(FaultKind::few_grounds, Verdict::doubt, {},
                fmt::format("{}: {} for {} signals", c_.name, plural(grounds, "ground", "grounds"), signals),
                fmt::format("More than {} signals share one return; their edges disturb each other.",
                            signals_per_ground),
                spare(v_.a) && spare(v_.b)
                    ? "Both ports have more grounds: wire them too."
                    : "Keep the cable short, or add a ground wire beside the fastest signals.");
        }
    }

    void unnamed() {
        for (std::size_t i = 0; i < c_.wires.size(); ++i)
            for (const auto* s : {&v_.a, &v_.b}) {
                const auto& number = s == &v_.a ? c_.wires[i].a : c_.wires[i].b;
                if (!s->connector.contact_numbered(number, s->numbering)) continue;
                const auto* pin = s->port->find_pin(number);
                const bool no_name = pin == nullptr || pin->name.value.empty();
                const bool no_driver =
                    pin == nullptr || (role_of(*pin) == PinRole::unknown) ||
                    (role_of(*pin) == PinRole::signal && pin->driver.value == Driver::unknown);
                if (!no_name && !no_driver) continue;
                add(FaultKind::unnamed, Verdict::doubt, {i},
                    fmt::format("{}: {} is wired but not known", c_.name, contact(*s, number)),
                    fmt::format("Its {} not recorded.", no_name && no_driver ? "name and driver are"
                                                        : no_name            ? "name is"
                                                                             : "driver is"),
                    "Find out what it is before this cable is plugged in.");
            }
    }

    [[nodiscard]] static bool is_input(const CableSide& s, const Pin& pin) {
        const auto own = s.port->side == Side::relic ? Driver::relic : Driver::bridge;
        const auto theirs = own == Driver::relic ? Driver::bridge : Driver::relic;
        return role_of(pin) == PinRole::signal && pin.driver.value == theirs;
    }

    void open_inputs(const CableSide& s, bool first) {
        for (const auto& pin : s.port->pins) {
            if (!is_input(s, pin) || pin.pull.value == "up" || pin.pull.value == "down" ||
                pin.idle.value == "high" || pin.idle.value == "low")
                continue;
            const bool wired = std::any_of(c_.wires.begin(), c_.wires.end(), [&](const CableWire& w) {
                return (first ? w.a : w.b) == pin.number;
            });
            if (wired) continue;
            add(FaultKind::open_input, Verdict::doubt, {},
                fmt::format("{}: the input {} is left open", c_.name, contact(s, pin.number)),
                "No wire reaches it, and nothing is recorded that holds it.",
                "Wire it, tie it to its resting level, or record the pull or the resting level it has.");
        }
    }

    /// A supply or a ground on a signal, a supply on a ground: never wanted, also where nothing is harmed.
    void strangers() {
        for (std::size_t i = 0; i < c_.wires.size(); ++i) {
            if (said_[i]) continue;
            const auto& w = c_.wires[i];
            const auto a = role_at(v_.a, w.a), b = role_at(v_.b, w.b);
            const auto plain = [](PinRole r) {
                return r == PinRole::rail || r == PinRole::ground || r == PinRole::signal;
            };
            if (a == b || !plain(a) || !plain(b)) continue;
            said_[i] = true;
            const auto what = [](PinRole r) {
                return r == PinRole::rail ? "a supply" : r == PinRole::ground ? "a ground" : "a signal";
            };
            add(FaultKind::path, Verdict::doubt, {i},
                fmt::format("{}: {} is wired to {}", c_.name, what(a), what(b)),
                fmt::format("{} goes to {}.", contact(v_.a, w.a), contact(v_.b, w.b)),
                "Lead this wire elsewhere, or leave it out.");
        }
    }

    /// What each side is to the other. At a modern port a supply is what the bridge takes, unless both are of
    /// one side.
    [[nodiscard]] CircuitSide circuit(const CableSide& s, std::vector<std::string>& numbers) const {
        CircuitSide out;
        out.called = s.port->id.c_str();
        for (const auto& pin : s.port->pins) {
            auto t = terminal(&pin, pin.number, s.port->side, true, families_);
            if (v_.a.port->side != v_.b.port->side && s.port->side == Side::modern &&
                t.kind == Terminal::Kind::source)
                t.kind = Terminal::Kind::load;
            out.terminals.push_back(std::move(t));
            numbers.push_back(pin.number);
        }
        return out;
    }

    void paths() {
        std::vector<std::string> in_a, in_b;
        PluggedCase both;
        both.socket = circuit(v_.a, in_a);
        both.plug = circuit(v_.b, in_b);
        // The side that gives the supply is the one that voltages are told against.
        const auto gives = [](const CircuitSide& s) {
            return std::any_of(s.terminals.begin(), s.terminals.end(),
                               [](const Terminal& t) { return t.kind == Terminal::Kind::source; });
        };
        const bool swap = !gives(both.socket) && gives(both.plug);
        if (swap) std::swap(both.socket, both.plug), std::swap(in_a, in_b);
        both.shells_join = shells_;
        std::vector<std::size_t> wire_of;
        const auto at = [](const std::vector<std::string>& list, const std::string& number) {
            return static_cast<std::size_t>(std::find(list.begin(), list.end(), number) - list.begin());
        };
        for (std::size_t i = 0; i < c_.wires.size(); ++i) {
            const auto a = at(in_a, swap ? c_.wires[i].b : c_.wires[i].a),
                       b = at(in_b, swap ? c_.wires[i].a : c_.wires[i].b);
            if (a == in_a.size() || b == in_b.size()) continue;
            both.touches.push_back({a, b, false});
            wire_of.push_back(i);
        }
        weak_supplies(both, wire_of);
        const auto study = study_plugged(both);
        auto& said = said_;
        for (const auto& f : study.faults) {
            const auto& t = both.touches[f.touches.front()];
            const auto &s = both.socket.terminals[t.socket], &p = both.plug.terminals[t.plug];
            if (f.kind == PathFault::Kind::unknown) continue;  // said as unnamed
            if (f.kind == PathFault::Kind::ground_through_signal && no_ground_) continue;
            if (no_ground_ && f.verdict != Verdict::stop) continue;
            const bool levels = is_signal(s) && is_signal(p) && f.touches.size() == 1;
            // Signals against each other: whether levels are too high for an input is a link's question.
            if (levels && f.kind != PathFault::Kind::contention) continue;
            std::vector<std::size_t> wires;
            for (const auto x : f.touches) wires.push_back(wire_of[x]);
            if (std::all_of(wires.begin(), wires.end(), [&](auto w) { return said[w]; })) continue;
            for (const auto w : wires) said[w] = true;
            const auto& w = c_.wires[wires.front()];
            if (f.kind == PathFault::Kind::contention)
                add(FaultKind::transmit_to_transmit, f.verdict, wires,
                    fmt::format("{}: transmit is wired to transmit", c_.name),
                    fmt::format("Pin {} of {} goes to pin {} of {}. {}", w.a, v_.a.port->id, w.b,
                                v_.b.port->id, f.says),
                    "Cross the pair: each output belongs to the other's input.");
            else
                add(FaultKind::path, f.verdict, wires,
                    fmt::format("{}: wire {} to {} does harm", c_.name, w.a, w.b),
                    fmt::format("Pin {} of {} goes to pin {} of {}. {}", w.a, v_.a.port->id, w.b,
                                v_.b.port->id, f.says),
                    "Lead this wire elsewhere, or leave it out.");
        }
        two_outputs(both, wire_of, said);
    }

    [[nodiscard]] static bool is_signal(const Terminal& t) {
        return t.kind == Terminal::Kind::input || t.kind == Terminal::Kind::output;
    }

    /// Transmit on transmit does not work, also where it harms nothing.
    void two_outputs(const PluggedCase& both, const std::vector<std::size_t>& wire_of,
                     std::vector<bool>& said) {
        for (std::size_t n = 0; n < both.touches.size(); ++n) {
            const auto &s = both.socket.terminals[both.touches[n].socket],
                       &p = both.plug.terminals[both.touches[n].plug];
            const bool shared = s.open_collector && p.open_collector;
            const bool meant = s.pin->driver.value == Driver::both && p.pin->driver.value == Driver::both;
            if (s.kind != Terminal::Kind::output || p.kind != Terminal::Kind::output || shared || meant ||
                said[wire_of[n]])
                continue;
            const auto& w = c_.wires[wire_of[n]];
            add(FaultKind::transmit_to_transmit, Verdict::doubt, {wire_of[n]},
                fmt::format("{}: transmit is wired to transmit", c_.name),
                fmt::format("Pin {} of {} goes to pin {} of {}, and both drive.", w.a, v_.a.port->id, w.b,
                            v_.b.port->id),
                "Cross the pair: each output belongs to the other's input.");
        }
    }

    void weak_supplies(const PluggedCase& both, const std::vector<std::size_t>& wire_of) {
        for (std::size_t n = 0; n < both.touches.size(); ++n) {
            const auto &s = both.socket.terminals[both.touches[n].socket],
                       &p = both.plug.terminals[both.touches[n].plug];
            const auto &gives = s.kind == Terminal::Kind::source ? s : p, &takes = &gives == &s ? p : s;
            if (gives.kind != Terminal::Kind::source || takes.kind != Terminal::Kind::load ||
                !gives.amperes || !takes.amperes || *takes.amperes <= *gives.amperes * 1.001)
                continue;
            add(FaultKind::weak_supply, Verdict::stop, {wire_of[n]},
                fmt::format("{}: {} gives {}, {} is taken", c_.name, gives.name,
                            print_number(*gives.amperes, Unit::ampere),
                            print_number(*takes.amperes, Unit::ampere)),
                "What hangs on it draws more than it may give.",
                "Feed it from elsewhere, or find a part that takes less.");
        }
    }

    const Cable& c_;
    const CableView& v_;
    const FamilyLibrary& families_;
    bool no_ground_ = false, shells_ = false, not_there_ = false;
    std::vector<bool> said_;  ///< of each wire, that something is said of it
    std::vector<CableFault> out_;
};

}  // namespace

std::string_view word(CableFault::Kind kind) {
    constexpr std::array<std::string_view, 11> words{
        "cable-destroys",        "transmit-to-transmit", "cable-without-ground", "cable-few-grounds",
        "cable-two-on-one",      "pin-not-in-connector", "cable-cannot-mate",    "cable-mirrors",
        "cable-contact-unknown", "cable-input-open",     "cable-supply-weak"};
    return words[static_cast<std::size_t>(kind)];
}

std::vector<CableFault> judge_cable(const Cable& cable, const CableView& view,
                                    const FamilyLibrary& families) {
    return CableJudge(cable, view, families).run();
}

}  // namespace grayrelic
