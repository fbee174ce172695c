// SPDX-License-Identifier: GPL-3.0-or-later
// Two pins meet: what each of them is to the other electrically, and whether something is harmed.
//
// Judged by levels and absolute limits of the logic families (electrical/family.hpp), else by the voltages
// recorded at the pin. What is not known is judged "unknown", or "doubt" where a supply is involved.
#pragma once

#include <string>

#include "core/base/verdict.hpp"
#include "core/dossier/pin_fields.hpp"
#include "core/electrical/family.hpp"

namespace grayrelic {

/// What a contact is on its own side: the machine whose port it is, or what is plugged into that port.
struct Terminal {
    enum class Kind { open, ground, source, load, output, input, unknown };
    Kind kind = Kind::open;
    const Pin* pin = nullptr;
    std::string name;                  ///< the pin's name, or its number
    std::optional<double> volts;       ///< of a source, or that a load expects
    std::optional<double> highest;     ///< that an output gives
    std::optional<double> lowest;      ///< likewise
    std::optional<double> limit_high;  ///< that an input endures
    std::optional<double> limit_low;   ///< likewise
    std::optional<double> amperes;     ///< that a source can give
    bool open_collector = false;
    bool clamps = false;  ///< an input that feeds an unpowered part
};
/// `of_machine`: the side that the port belongs to; otherwise the other side of the same conversation. A
/// relic's port has relic-driven pins as outputs, a modern port bridge-driven ones. Pins driven by both count
/// as outputs.
[[nodiscard]] Terminal terminal(const Pin* pin, Side side, bool of_machine, const FamilyLibrary& families);

struct Meeting {
    Verdict verdict = Verdict::unknown;
    std::string why;
    double excess_a = 0.0;       ///< rough current that flows when two sources fight; 0 when none
    bool limited_helps = false;  ///< a resistor or fuse in this line would bound the damage
    double across_v = 0.0;       ///< the voltage that such a resistor would have across it
};
/// Symmetric but for the wording: `socket` is named first.
[[nodiscard]] Meeting meet(const Terminal& socket, const Terminal& plug);

}  // namespace grayrelic
