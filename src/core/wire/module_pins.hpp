// SPDX-License-Identifier: GPL-3.0-or-later
// What signals ask of a module's pins against the pins it has: which goes where, what to do when they are too
// few, the list for firmware, and what the free ones are good for.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/result.hpp"
#include "core/base/verdict.hpp"
#include "core/dossier/wire.hpp"
#include "core/electrical/rails.hpp"
#include "core/parts/part.hpp"
#include "core/wire/circuit.hpp"
#include "core/wire/links.hpp"

namespace grayrelic {

struct SignalPin {
    std::string name;  ///< of the signal
    std::string need;  ///< PinNeed::id; empty: the circuit wires it
    PinUse use = PinUse::plain;
    std::string pin;     ///< "P4"; empty: there is none left
    bool bound = false;  ///< by the circuit or by the person
    Verdict verdict = Verdict::holds;
    std::string why;
};

/// Lines for debugging, points to measure at, footprints that may stay empty.
struct PinProposal {
    std::string what, where, why;
};

struct PinStudy {
    std::string module;  ///< its reference in the circuit, or the part's id
    std::string part;
    std::vector<SignalPin> places;
    std::vector<std::string> free;
    int pins = 0;     ///< that can be used at all
    int missing = 0;  ///< signals without a pin
    std::vector<std::string> remedies;
    std::vector<PinProposal> proposals;
    Verdict verdict = Verdict::unknown;
    std::string problem;  ///< no module, or none that is known
};

[[nodiscard]] PinStudy study_pins(const PinPlan& plan, const Circuit& circuit, const LinkStudy& links,
                                  const RailTree& rails, const PartLibrary& parts);

/// "REPLY", "REPLY interrupt", "REPLY interrupt P7": a signal, what it asks, and the pin it is bound to.
[[nodiscard]] Result<PinNeed> need_from_text(std::string_view text);
/// CRC-32 (ISO 3309) of "NAME=PIN" lines in the order of names: firmware that was built for other pins is
/// seen.
[[nodiscard]] unsigned long pins_checksum(const PinStudy& study);
/// For firmware: C, or the person's own text. There {name} {pin} {number} {use} stand for each signal, on
/// lines that are repeated, {module} {count} {checksum} for the whole; anything else in braces is an error
/// with its line, {{ and }} are braces.
[[nodiscard]] Result<std::string> pin_header(const PinStudy& study, const std::string& form);

}  // namespace grayrelic
