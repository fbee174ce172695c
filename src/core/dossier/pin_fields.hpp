// SPDX-License-Identifier: GPL-3.0-or-later
// The facts of a pin as one list, so that tables, editors, comparisons and reports treat them alike.
#pragma once

#include <span>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "core/base/result.hpp"
#include "core/dossier/port.hpp"

namespace grayrelic {

struct PinField {
    std::string_view key;    ///< as in files: "volts_max"
    std::string_view label;  ///< for people: "Highest voltage"
    std::variant<Fact<std::string> Pin::*, Fact<Driver> Pin::*, Fact<std::optional<Volts>> Pin::*,
                 Fact<std::optional<Amperes>> Pin::*, Fact<std::optional<Ohms>> Pin::*>
        member;
    std::vector<std::string_view> choices;  ///< the words it takes; empty where any text or number goes
    bool open = false;                      ///< other words are taken too
};

[[nodiscard]] std::span<const PinField> pin_fields();
[[nodiscard]] const PinField* find_pin_field(std::string_view key);
/// The value as a person edits it, with its uncertainty: "5.1V ± 50mV"; empty when not known.
[[nodiscard]] std::string field_text(const Pin& pin, const PinField& field);
[[nodiscard]] bool field_known(const Pin& pin, const PinField& field);
[[nodiscard]] const Evidence& field_evidence(const Pin& pin, const PinField& field);
/// Reads text as field_text() writes it ("±" or "+/-"); empty forgets the value. On failure nothing changes
/// and the error says what was expected.
[[nodiscard]] Status set_field(Pin& pin, const PinField& field, std::string_view text, Evidence evidence);
/// Takes the whole fact of another pin.
void copy_field(const Pin& from, Pin& to, const PinField& field);

/// What a pin is for, as recorded, else from its driver, name and voltage. `rail` has a voltage, ground does
/// not.
enum class PinRole { unknown, rail, ground, signal, unused };
[[nodiscard]] PinRole role_of(const Pin& pin);
/// Of a rail: its voltage, the end of its range that is further from zero.
[[nodiscard]] std::optional<double> rail_volts(const Pin& pin);
/// "GND", "0 V", "Ground", "VSS", "shield" … whatever the case and the marks between.
[[nodiscard]] bool is_ground_name(std::string_view name);

}  // namespace grayrelic
