// SPDX-License-Identifier: GPL-3.0-or-later
// The wrong brick: each usual supply whose plug goes into a jack, against the circuit behind it, with what
// protects it and without.
#pragma once

#include <string>
#include <vector>

#include "core/dossier/port.hpp"
#include "core/port/connector.hpp"
#include "core/port/plugged.hpp"
#include "core/port/supplies.hpp"

namespace grayrelic {

struct BrickCase {
    SupplyBrick brick;
    Verdict verdict = Verdict::holds;      ///< with the protection that is recorded
    Verdict unprotected = Verdict::holds;  ///< without it
    bool meant = false;                    ///< the volts, polarity and kind that the port wants
    std::string says;
    std::string path;
};

/// What a jack wants between its middle and its sleeve; nothing when the port takes no supply there.
struct JackWants {
    double volts = 0;            ///< below 0 where the sleeve is positive
    double least = 0, most = 0;  ///< of its size, as recorded
    bool alternating = false;
    std::optional<double> amperes;
};
[[nodiscard]] std::optional<JackWants> jack_wants(const Port& port, const Connector& connector);

/// Empty where no supply has a plug for it, or the port does not say what it wants. The worst first.
[[nodiscard]] std::vector<BrickCase> try_bricks(const Port& port, const Connector& connector,
                                                const SupplyLibrary& supplies, const FamilyLibrary& families);

}  // namespace grayrelic
