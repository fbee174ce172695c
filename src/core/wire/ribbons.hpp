// SPDX-License-Identifier: GPL-3.0-or-later
// The circuit as people think of it: from each pin of the old connector through parts to the modern side.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/wire/links.hpp"

namespace grayrelic {

struct RibbonRow {
    std::size_t contact = 0;  ///< index into Circuit::contacts
    enum class Flow { to_modern, to_relic, both, supply, ground, nobody };
    Flow flow = Flow::nobody;
    std::vector<std::vector<std::string>>
        hops;                          ///< parts between, in their order from the relic; each a group
    std::vector<std::string> ends;     ///< where it ends: "M1.P4", "J3/2 TX"
    std::optional<bool> inverted;      ///< nothing where it can't be told
    std::vector<std::size_t> lines;    ///< of the study, those of the way
    std::optional<std::size_t> worst;  ///< the link with the least margin
    Verdict verdict = Verdict::unknown;
};

/// One a contact of the relic's ports, in their order; where the text names no relic's port, of every port.
[[nodiscard]] std::vector<RibbonRow> ribbons_of(const Circuit& circuit, const LinkStudy& study);

}  // namespace grayrelic
