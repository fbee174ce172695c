// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/port/meeting.hpp"

#include <fmt/format.h>

#include <cmath>

namespace grayrelic {
namespace {

using Kind = Terminal::Kind;

std::string volts(double v) {
    return print_number(v, Unit::volt);
}

/// Two supplies this much apart count as one voltage.
bool same_rail(double a, double b) {
    return std::abs(a - b) <= 0.1 * std::max({std::abs(a), std::abs(b), 0.5});
}

std::string named(const Terminal& t, const char* side) {
    return fmt::format("{} ({})", t.name, side);
}

struct Judge {
    const Terminal& source;  // or the output that matters
    const Terminal& other;
    std::string source_name, other_name;

    [[nodiscard]] Meeting on_ground() const {
        Meeting m{Verdict::stop,
                  fmt::format("{} is joined to {}: the supply is shorted{}.", source_name, other_name,
                              source.amperes ? fmt::format(", only its {} limit is in between",
                                                           print_number(*source.amperes, Unit::ampere))
                                             : std::string(" and nothing known limits the current")),
                  0, true, std::abs(source.volts.value_or(5.0))};
        return m;
    }

    [[nodiscard]] Meeting on_input() const {
        if (!source.volts)
            return {Verdict::doubt,
                    fmt::format("{} stands on {}; its voltage is not known.", source_name, other_name)};
        const double v = *source.volts;
        if (!other.limit_high || !other.limit_low)
            return {Verdict::doubt, fmt::format("{} puts {} on {}, whose limits are not known.", source_name,
                                                volts(v), other_name)};
        const double high = *other.limit_high, low = *other.limit_low;
        if (v > high || v < low)
            return {Verdict::stop,
                    fmt::format("{} puts {} on {}, which endures {} to {}.", source_name, volts(v),
                                other_name, volts(low), volts(high)),
                    0, true, v > high ? v - high : low - v};
        if (other.clamps)
            return {Verdict::doubt,
                    fmt::format("{} puts {} on {}: within its limits, but it feeds the part through its "
                                "input while its own supply is missing.",
                                source_name, volts(v), other_name),
                    0, true, v};
        return {Verdict::holds,
                fmt::format("{} puts {} on {}: within its limits.", source_name, volts(v), other_name)};
    }

    [[nodiscard]] Meeting on_output() const {
        if (other.open_collector)
            return {Verdict::stop,
                    fmt::format("{} stands on {}: when it pulls low, the supply's whole current flows "
                                "through it.",
                                source_name, other_name),
                    0, true, std::abs(source.volts.value_or(5.0))};
        return {
            Verdict::stop,
            fmt::format("{} stands on {}: an output that drives against a supply.", source_name, other_name),
            0, true, std::abs(source.volts.value_or(5.0))};
    }

    [[nodiscard]] Meeting on_source() const {
        if (!source.volts || !other.volts)
            return {Verdict::doubt,
                    fmt::format("{} meets {}; a voltage is not known.", source_name, other_name)};
        if (same_rail(*source.volts, *other.volts))
            return {Verdict::doubt, fmt::format("{} and {} are two supplies of {}, and feed each other.",
                                                source_name, other_name, volts(*source.volts))};
        return {Verdict::stop,
                fmt::format("{} at {} meets {} at {}: two supplies fight.", source_name, volts(*source.volts),
                            other_name, volts(*other.volts)),
                0, true, std::abs(*source.volts - *other.volts)};
    }

    [[nodiscard]] Meeting on_load() const {
        if (!source.volts || !other.volts)
            return {Verdict::doubt,
                    fmt::format("{} feeds {}; a voltage is not known.", source_name, other_name)};
        const double gives = *source.volts, wants = *other.volts;
        if (same_rail(gives, wants))
            return {Verdict::holds,
                    fmt::format("{} feeds {}, which wants {}.", source_name, other_name, volts(wants))};
        if (gives * wants < 0)
            return {Verdict::stop, fmt::format("{} feeds {} with {}, the wrong way round.", source_name,
                                               other_name, volts(gives))};
        if (std::abs(gives) > std::abs(wants))
            return {Verdict::stop,
                    fmt::format("{} feeds {} with {}, which wants {}.", source_name, other_name, volts(gives),
                                volts(wants)),
                    0, false, std::abs(gives - wants)};
        return {Verdict::doubt, fmt::format("{} feeds {} with only {}; it wants {}.", source_name, other_name,
                                            volts(gives), volts(wants))};
    }

    [[nodiscard]] Meeting output_on_input() const {
        if (source.highest && other.limit_high && *source.highest > *other.limit_high)
            return {Verdict::stop,
                    fmt::format("{} drives up to {} into {}, which endures {}.", source_name,
                                volts(*source.highest), other_name, volts(*other.limit_high)),
                    0, true, *source.highest - *other.limit_high};
        if (source.lowest && other.limit_low && *source.lowest < *other.limit_low)
            return {Verdict::stop,
                    fmt::format("{} drives down to {} into {}, which endures {}.", source_name,
                                volts(*source.lowest), other_name, volts(*other.limit_low)),
                    0, true, *other.limit_low - *source.lowest};
        if (!source.highest || !other.limit_high)
            return {Verdict::unknown,
                    fmt::format("{} drives {}; levels or limits are not known.", source_name, other_name)};
        return {Verdict::holds, fmt::format("{} drives {} with up to {}, which endures {}.", source_name,
                                            other_name, volts(*source.highest), volts(*other.limit_high))};
    }

    [[nodiscard]] Meeting output_on_output() const {
        if (source.open_collector && other.open_collector)
            return {Verdict::holds, fmt::format("{} and {} are both open-collector and can share a line.",
                                                source_name, other_name)};
        if (source.open_collector || other.open_collector)
            return {Verdict::doubt,
                    fmt::format("{} and {} both drive; one of them only pulls low, and then the other is "
                                "shorted.",
                                source_name, other_name),
                    0, true, 5.0};
        const bool over = (source.highest && other.limit_high && *source.highest > *other.limit_high) ||
                          (other.highest && source.limit_high && *other.highest > *source.limit_high);
        return {Verdict::stop,
                fmt::format("{} and {} both drive the line: they fight whenever they differ{}.", source_name,
                            other_name, over ? ", and one exceeds the other's limit" : ""),
                0, true, std::max(source.highest.value_or(5.0), other.highest.value_or(5.0))};
    }

    [[nodiscard]] Meeting output_on_ground() const {
        if (source.open_collector)
            return {Verdict::holds,
                    fmt::format("{} is held at {}: it only pulls low, so no harm.", source_name, other_name)};
        return {Verdict::doubt,
                fmt::format("{} is shorted to {} whenever it is high.", source_name, other_name), 0, true,
                source.highest.value_or(5.0)};
    }

    [[nodiscard]] Meeting output_on_load() const {
        return {Verdict::doubt,
                fmt::format("{} is asked to feed {}: the whole circuit hangs on one signal.", source_name,
                            other_name),
                0, true, source.highest.value_or(5.0)};
    }
};

/// The rule for a pair, when the first of it is what acts; nothing when the other order has the rule.
std::optional<Meeting> rule(const Judge& j) {
    const auto a = j.source.kind, b = j.other.kind;
    if (a == Kind::source) {
        switch (b) {
            case Kind::ground: return j.on_ground();
            case Kind::input: return j.on_input();
            case Kind::output: return j.on_output();
            case Kind::source: return j.on_source();
            case Kind::load: return j.on_load();
            case Kind::unknown:
                return Meeting{Verdict::doubt, fmt::format("{} stands on {}, of which nothing is known.",
                                                           j.source_name, j.other_name)};
            case Kind::open: break;
        }
    }
    if (a == Kind::output) {
        switch (b) {
            case Kind::ground: return j.output_on_ground();
            case Kind::input: return j.output_on_input();
            case Kind::output: return j.output_on_output();
            case Kind::load: return j.output_on_load();
            default: break;
        }
    }
    return std::nullopt;
}

}  // namespace

Terminal terminal(const Pin* pin, Side side, bool of_machine, const FamilyLibrary& families) {
    Terminal t;
    if (pin == nullptr) return t;
    t.pin = pin;
    t.name = pin->name.value.empty() ? "pin " + pin->number : pin->name.value;
    switch (role_of(*pin)) {
        case PinRole::unused: return t;
        case PinRole::unknown: t.kind = Kind::unknown; return t;
        case PinRole::ground: t.kind = Kind::ground; return t;
        case PinRole::rail:
            // The relic offers its rails at its port; whoever is plugged in takes them.
            t.kind = of_machine ? Kind::source : Kind::load;
            t.volts = rail_volts(*pin);
            if (pin->current_max.value) t.amperes = pin->current_max.value->value();
            return t;
        case PinRole::signal: break;
    }
    const auto d = pin->driver.value;
    const auto own = side == Side::relic ? Driver::relic : Driver::bridge;
    const auto theirs = side == Side::relic ? Driver::bridge : Driver::relic;
    if (d == Driver::both || d == (of_machine ? own : theirs))
        t.kind = Kind::output;
    else if (d == own || d == theirs)
        t.kind = Kind::input;
    else
        t.kind = Kind::unknown;
    const auto* family = families.find(pin->family.value);
    t.open_collector = pin->output.value == "open-collector" || (family != nullptr && family->open_collector);
    if (pin->volts_max.value) t.highest = pin->volts_max.value->value();
    if (pin->volts_min.value) t.lowest = pin->volts_min.value->value();
    if (family != nullptr) {
        if (!t.highest) t.highest = family->output_high_max_v;
        if (!t.lowest) t.lowest = family->output_low_min_v;
        t.limit_high = family->input_limit_v(family->supply_max_v);
        t.limit_low = family->limit_low_v;
        t.clamps = family->clamps;
    } else if (t.highest) {
        // Without a family, what was seen on the line is all that it is known to endure.
        t.limit_high = *t.highest + 0.5;
        t.limit_low = t.lowest.value_or(0.0) - 0.5;
    }
    return t;
}

Meeting meet(const Terminal& socket, const Terminal& plug) {
    const auto socket_name = named(socket, "socket"), plug_name = named(plug, "plug");
    if (socket.kind == Kind::open || plug.kind == Kind::open)
        return {Verdict::holds, "One of the two is not connected."};
    if (const auto m = rule({socket, plug, socket_name, plug_name})) return *m;
    if (const auto m = rule({plug, socket, plug_name, socket_name})) return *m;
    if (socket.kind == Kind::ground && plug.kind == Kind::ground)
        return {Verdict::holds, "Ground on ground."};
    if (socket.kind == Kind::load && plug.kind == Kind::ground)
        return {Verdict::doubt, fmt::format("{} is held at ground.", socket_name)};
    if (plug.kind == Kind::load && socket.kind == Kind::ground)
        return {Verdict::holds, fmt::format("{} gets no supply.", plug_name)};
    if (socket.kind == Kind::ground || plug.kind == Kind::ground)
        return {
            socket.kind == Kind::unknown || plug.kind == Kind::unknown ? Verdict::unknown : Verdict::holds,
            fmt::format("{} meets {}: held at ground.", socket_name, plug_name)};
    if (socket.kind == Kind::unknown || plug.kind == Kind::unknown)
        return {Verdict::unknown, fmt::format("{} meets {}; too little is known.", socket_name, plug_name)};
    return {Verdict::holds,
            fmt::format("{} meets {}: nobody drives, the line floats.", socket_name, plug_name)};
}

}  // namespace grayrelic
