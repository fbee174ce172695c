// SPDX-License-Identifier: GPL-3.0-or-later
// What is found at one line between a driver and its readers: the bridge's lines and cables' wires alike.
#pragma once

#include <string>

#include "core/analysis/finding.hpp"
#include "core/wire/links.hpp"

namespace grayrelic {

/// Severity of a verdict that is none of "holds".
[[nodiscard]] Severity severity_of_link(Verdict v);
/// The worst link of the line, if one does not hold. `says_of_pull`: a missing pull is said for the line.
void find_levels(const Circuit& circuit, const LinkStudy& study, const WireLine& line, bool says_of_pull,
                 Findings& out);
/// "floats", "two-drivers" …
[[nodiscard]] std::string id_of(LineFault kind);

}  // namespace grayrelic
