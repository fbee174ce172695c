// SPDX-License-Identifier: GPL-3.0-or-later
// Taking over what an identification found: the capture is read so, as an edit that can be undone. Where
// another capture of the dossier holds the same conversation under other names, its lines are mapped to that
// one's by their roles, so that the new one works as a further specimen.
#pragma once

#include <vector>

#include "app/shell/document.hpp"
#include "core/decode/identify.hpp"

namespace grayrelic::app {

/// Reads the capture as the candidates, the first as its own words and the others beside it.
void read_links(Document& document, const std::string& capture, const std::vector<Candidate>& links);

/// "latch LATCH, clock CLK"
[[nodiscard]] QString roles_text(const RoleMap& roles);

/// The capture that is read as the same family with the same roles under other names; null where there is
/// none.
[[nodiscard]] const CaptureRef* same_talk(const Dossier& dossier, const std::string& capture,
                                          const Candidate& candidate);

}  // namespace grayrelic::app
