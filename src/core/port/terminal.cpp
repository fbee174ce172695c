// SPDX-License-Identifier: GPL-3.0-or-later
// What a contact is to its own circuit, as far as the port's facts tell.
#include "core/port/plugged.hpp"

namespace grayrelic {

Terminal terminal(const Pin* pin, const std::string& number, Side side, bool of_machine,
                  const FamilyLibrary& families) {
    Terminal t;
    t.name = "pin " + number;
    t.kind = Terminal::Kind::unknown;
    if (pin == nullptr) return t;
    t.pin = pin;
    if (!pin->name.value.empty()) t.name = pin->name.value;
    if (of_machine) t.protection = protection_from_text(pin->protection.value).value_or(Protection{});
    switch (role_of(*pin)) {
        case PinRole::unused: t.kind = Terminal::Kind::open; return t;
        case PinRole::unknown: return t;
        case PinRole::ground: t.kind = Terminal::Kind::ground; return t;
        case PinRole::rail:
            // A port offers its rails, unless it takes them; what is plugged in is the counterpart.
            t.kind = of_machine != (pin->function.value == "supply-in") ? Terminal::Kind::source
                                                                        : Terminal::Kind::load;
            t.volts = rail_volts(*pin);
            if (pin->current_max.value) t.amperes = pin->current_max.value->value();
            return t;
        case PinRole::signal: break;
    }
    const auto d = pin->driver.value;
    const auto own = side == Side::relic ? Driver::relic : Driver::bridge;
    const auto theirs = side == Side::relic ? Driver::bridge : Driver::relic;
    if (d == Driver::both || d == (of_machine ? own : theirs))
        t.kind = Terminal::Kind::output;
    else if (d == own || d == theirs)
        t.kind = Terminal::Kind::input;
    else
        return t;
    t.family = families.find(pin->family.value);
    t.open_collector =
        pin->output.value == "open-collector" || (t.family != nullptr && t.family->open_collector);
    if (pin->volts_max.value) t.highest = pin->volts_max.value->value();
    if (pin->volts_min.value) t.lowest = pin->volts_min.value->value();
    if (of_machine && (pin->pull.value == "up" || pin->pull.value == "down")) {
        constexpr double unknown_pull_ohm = 1000;
        t.pull_ohm = pin->pull_ohm.value ? pin->pull_ohm.value->value() : unknown_pull_ohm;
        t.pull_up = pin->pull.value == "up";
    }
    t.limits_known = t.family != nullptr;
    if (t.family != nullptr) {
        if (!t.highest) t.highest = t.family->output_high_max_v;
        if (!t.lowest) t.lowest = t.family->output_low_min_v;
        t.limit_high = t.family->limit_high_v;
        t.limit_low = t.family->limit_low_v;
        t.clamps = t.family->clamps || t.family->limit_above_supply_v.has_value();
    } else {
        t.clamps = true;  // the most fragile that is plausible
    }
    return t;
}

}  // namespace grayrelic
