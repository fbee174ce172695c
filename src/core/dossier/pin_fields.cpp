// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/pin_fields.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

template <class T>
struct value_of_fact;
template <class T>
struct value_of_fact<Fact<T> Pin::*> {
    using type = T;
};

template <Unit U>
Result<std::pair<double, std::optional<double>>> read_with_uncertainty(std::string_view text) {
    std::optional<double> spread;
    for (const std::string_view mark : {"±", "+/-"}) {
        const auto at = text.find(mark);
        if (at == std::string_view::npos) continue;
        const auto pm = parse_number(trim(text.substr(at + mark.size())), U);
        if (!pm) return fail(pm.error());
        if (*pm < 0)
            return fail_usage(in_quotes(text.substr(at + mark.size())), "an uncertainty of zero or more");
        spread = *pm;
        text = trim(text.substr(0, at));
        break;
    }
    const auto value = parse_number(text, U);
    if (!value) return fail(value.error());
    return std::pair(*value, spread);
}

std::string listed(const std::vector<std::string_view>& words) {
    std::string out;
    for (std::size_t i = 0; i < words.size(); ++i)
        out += fmt::format("{}{}", i == 0 ? "" : i + 1 == words.size() ? " or " : ", ", words[i]);
    return out;
}

bool has_value(const std::string& v) {
    return !v.empty();
}
bool has_value(Driver d) {
    return d != Driver::unknown;
}
template <class T>
bool has_value(const std::optional<T>& v) {
    return v.has_value();
}

std::string letters_of(std::string_view name) {
    std::string out;
    for (const char c : name)
        if ((c >= '0' && c <= '9') || (c >= 'A' && c <= 'Z'))
            out += c;
        else if (c >= 'a' && c <= 'z')
            out += static_cast<char>(c - 'a' + 'A');
    return out;
}

}  // namespace

std::span<const PinField> pin_fields() {
    static const std::vector<PinField> fields = {
        {"name", "Name", &Pin::name, {}},
        {"driver", "Driven by", &Pin::driver, {"relic", "bridge", "both", "supply", "nobody"}},
        {"function",
         "Function",
         &Pin::function,
         {"signal", "clock", "supply", "supply-in", "ground", "shield", "unused"}},
        {"family",
         "Logic family",
         &Pin::family,
         {"ttl", "ls", "hc", "hct", "ahct", "lvc", "4000b", "nmos", "rs232", "rs422", "rs423", "oc"},
         true},
        {"output", "Output", &Pin::output, {"push-pull", "open-collector", "three-state"}, true},
        {"idle", "Idle level", &Pin::idle, {"high", "low", "floating"}},
        {"volts_min", "Lowest voltage", &Pin::volts_min, {}},
        {"volts_max", "Highest voltage", &Pin::volts_max, {}},
        {"current_max", "Most current", &Pin::current_max, {}},
        {"pull", "Pull", &Pin::pull, {"up", "down", "none"}},
        {"pull_ohm", "Pull resistance", &Pin::pull_ohm, {}},
        {"volts_idle", "Rest voltage", &Pin::volts_idle, {}},
        {"volts_active", "Active voltage", &Pin::volts_active, {}},
        {"ohms_to_ground", "Ohms to ground", &Pin::ohms_to_ground, {}},
        {"colour", "Wire colour", &Pin::colour, {}},
        {"protection", "Protected by", &Pin::protection, {}},
    };
    return fields;
}

const PinField* find_pin_field(std::string_view key) {
    for (const auto& f : pin_fields())
        if (f.key == key) return &f;
    return nullptr;
}

std::string field_text(const Pin& pin, const PinField& field) {
    return std::visit(
        [&](auto member) -> std::string {
            using T = typename value_of_fact<decltype(member)>::type;
            const auto& fact = pin.*member;
            if (!has_value(fact.value)) return {};
            if constexpr (std::is_same_v<T, std::string>) {
                return fact.value;
            } else if constexpr (std::is_same_v<T, Driver>) {
                return std::string(word(fact.value));
            } else {
                auto text = print_exact(fact.value->value(), T::value_type::unit);
                if (fact.uncertainty) text += " ± " + print_exact(*fact.uncertainty, T::value_type::unit);
                return text;
            }
        },
        field.member);
}

bool field_known(const Pin& pin, const PinField& field) {
    return std::visit([&](auto member) { return has_value((pin.*member).value); }, field.member);
}

const Evidence& field_evidence(const Pin& pin, const PinField& field) {
    return std::visit([&](auto member) -> const Evidence& { return (pin.*member).evidence; }, field.member);
}

Status set_field(Pin& pin, const PinField& field, std::string_view given, Evidence evidence) {
    const auto text = trim(given);
    const bool listed_word =
        std::find(field.choices.begin(), field.choices.end(), text) != field.choices.end();
    return std::visit(
        [&](auto member) -> Status {
            using T = typename value_of_fact<decltype(member)>::type;
            auto& fact = pin.*member;
            if (text.empty() || (text == "unknown" && !field.choices.empty())) {
                fact = {};
                return {};
            }
            if (!field.choices.empty() && !field.open && !listed_word)
                return fail_usage(in_quotes(text), listed(field.choices));
            if constexpr (std::is_same_v<T, std::string>) {
                fact.value = std::string(text);
            } else if constexpr (std::is_same_v<T, Driver>) {
                fact.value = named<Driver>(text).value_or(Driver::unknown);
            } else {
                const auto read = read_with_uncertainty<T::value_type::unit>(text);
                if (!read) return fail(read.error());
                fact.value = typename T::value_type(read->first);
                fact.uncertainty = read->second;
            }
            fact.evidence = std::move(evidence);
            return {};
        },
        field.member);
}

void copy_field(const Pin& from, Pin& to, const PinField& field) {
    std::visit([&](auto member) { to.*member = from.*member; }, field.member);
}

bool is_ground_name(std::string_view name) {
    const auto n = letters_of(name);
    for (const std::string_view known :
         {"GND", "GROUND", "0V", "VSS", "DGND", "AGND", "SGND", "PGND", "COMMON", "SHIELD", "SHELL", "EARTH",
          "CHASSIS", "SIGNALGROUND", "RETURN"})
        if (n == known) return true;
    return n.size() > 3 && n.starts_with("GND") &&
           std::all_of(n.begin() + 3, n.end(), [](char c) { return c >= '0' && c <= '9'; });
}

std::optional<double> rail_volts(const Pin& pin) {
    const auto high = pin.volts_max.value;
    const auto low = pin.volts_min.value;
    if (high && low) return std::abs(high->value()) >= std::abs(low->value()) ? high->value() : low->value();
    if (high) return high->value();
    if (low) return low->value();
    // The name of a rail often says its voltage: "+5 V", "12V", "-12 V", "3V3", "VBUS".
    auto name = std::string(trim(pin.name.value));
    constexpr double bus_v = 5.0;  // USB 2.0, 7.2.1
    if (letters_of(name) == "VBUS") return bus_v;
    if (name.starts_with("+")) name.erase(0, 1);
    if (name.empty() || (name.find('V') == std::string::npos && name.find('v') == std::string::npos))
        return std::nullopt;
    const auto value = parse_number(name, Unit::volt);
    return value ? std::optional(*value) : std::nullopt;
}

PinRole role_of(const Pin& pin) {
    const auto& f = pin.function.value;
    if (f == "ground" || f == "shield") return PinRole::ground;
    if (f == "supply" || f == "supply-in") return PinRole::rail;
    if (f == "signal" || f == "clock") return PinRole::signal;
    if (f == "unused") return PinRole::unused;
    if (is_ground_name(pin.name.value)) return PinRole::ground;
    const auto plain_name = letters_of(pin.name.value);
    if (plain_name == "NC" || plain_name == "NOTCONNECTED" || plain_name == "UNUSED") return PinRole::unused;
    if (pin.driver.value == Driver::supply) {
        const auto volts = rail_volts(pin);
        return volts && *volts == 0.0 ? PinRole::ground : PinRole::rail;
    }
    if (pin.driver.value == Driver::nobody) return PinRole::unused;
    if (pin.name.value.empty() && pin.driver.value == Driver::unknown) return PinRole::unknown;
    // A name that is a voltage is a rail even before anybody said who drives it.
    const auto letters = letters_of(pin.name.value);
    if (pin.driver.value == Driver::unknown &&
        (letters == "VCC" || letters == "VDD" || letters == "VBUS" ||
         (!pin.volts_max.value && !pin.volts_min.value && rail_volts(pin))))
        return PinRole::rail;
    return pin.driver.value == Driver::unknown ? PinRole::unknown : PinRole::signal;
}

}  // namespace grayrelic
