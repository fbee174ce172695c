// SPDX-License-Identifier: GPL-3.0-or-later
// The values of a bridge: those that the dossier asks for, and those that its circuit shows by itself, each
// tied to its parts, with its spread and with what a wrong part in its place would do.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/dossier/wire.hpp"
#include "core/electrical/values.hpp"
#include "core/person/drawer.hpp"
#include "core/wire/links.hpp"

namespace grayrelic {

struct ValueStudy {
    WireValue value;
    bool found = false;  ///< in the circuit; the dossier does not hold it
    std::optional<ValueKind> kind;
    Series series = Series::e24;
    ValueInputs inputs;
    std::vector<std::string> assumed;  ///< keys of numbers that nobody has measured or looked up
    std::string problem;               ///< why nothing follows
    std::optional<ValueResult> result;
    std::optional<ValueSpread> spread;  ///< of the main figure
    Verdict verdict = Verdict::unknown;
    std::string why;
    struct PartFits {
        std::string key, ref;  ///< the part may be empty
        double fitted = 0;
        std::vector<WrongFit> wrong;
    };
    std::vector<PartFits> fits;
    /// What the drawer has in the place of the standard value, and what the main figure is with it.
    struct AtHand {
        double ohm = 0;
        int count = 0;
        std::optional<double> main;
        Verdict verdict = Verdict::unknown;
    };
    std::optional<AtHand> at_hand;
};

[[nodiscard]] ValueStudy study_value(const WireValue& value, const Circuit& circuit);
/// Looks into the drawer for the value that is to be fitted, where the kind has one.
void look_into_drawer(ValueStudy& study, const Drawer& drawer);
/// Pull-ups, dividers, lamps' resistors, filters and crystals' loads that stand in the circuit and that no
/// value of the dossier is tied to.
[[nodiscard]] std::vector<WireValue> values_found(const Circuit& circuit, const LinkStudy& study,
                                                  const std::vector<WireValue>& held);

}  // namespace grayrelic
