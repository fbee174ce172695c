// SPDX-License-Identifier: GPL-3.0-or-later
// One law for saving: a dossier that is taken into memory can be written, and what was written can be opened
// and is the same. It is proved by doing it, section by section, before an edit counts.
#pragma once

#include "core/base/result.hpp"
#include "core/dossier/dossier.hpp"

namespace grayrelic {

/// A usage error that names what could not be read back, and where: "found 5000000 bytes, expected at most
/// 100000 for ports[0].pins[2].note". Sections that `before` has in the same version were proved with it.
[[nodiscard]] Status storable(const Dossier& dossier, const Dossier* before = nullptr);

}  // namespace grayrelic
