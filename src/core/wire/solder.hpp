// SPDX-License-Identifier: GPL-3.0-or-later
// Can I solder this? Each package of the circuit against what the person has soldered so far, and what would
// be easier.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/verdict.hpp"
#include "core/logic/network.hpp"
#include "core/parts/package.hpp"
#include "core/person/bench.hpp"

namespace grayrelic {

struct SolderAdvice {
    std::string part;  ///< "74x165 hct"
    std::vector<std::string> refs;
    std::string package;
    bool known = true;  ///< the package is in data/packages
    SolderClass how = SolderClass::easy;
    int done = 0, bad = 0;  ///< so far, of its kind
    double chance = 0;      ///< that one comes out well: the rule of succession, or by its class
    bool own_record = false;
    Verdict verdict = Verdict::unknown;
    std::string why;
    std::vector<std::string> easier;   ///< packages of the same part, the easiest first
    std::vector<std::string> instead;  ///< parts that do the same on a board of their own
    bool service = false;              ///< an assembly service is at hand
};

/// One a part and package, in the order of the text.
[[nodiscard]] std::vector<SolderAdvice> solder_advice(const Network& network, const PackageLibrary& packages,
                                                      const Bench& bench);
/// One part in one package, before it is picked.
[[nodiscard]] SolderAdvice advice_for(const PartType& type, const std::string& package,
                                      const PackageLibrary& packages, const Bench& bench);

}  // namespace grayrelic
