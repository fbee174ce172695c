// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace grayrelic::render {

/// Makes the shipped type known to the running application; the families are "Relic Text" and "Relic
/// Figures".
void load_fonts();

}  // namespace grayrelic::render
