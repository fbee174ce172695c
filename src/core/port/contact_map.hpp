// SPDX-License-Identifier: GPL-3.0-or-later
// Which contact lands on which when one face is laid over another turned, mirrored or shifted.
#pragma once

#include <optional>
#include <vector>

#include "core/port/connector.hpp"

namespace grayrelic {

/// First mirrored about the origin, which is the middle of the shell, then shifted; both mirrorings together
/// are a half turn.
struct Motion {
    bool mirror_x = false;  ///< left and right change places
    bool mirror_y = false;  ///< top and bottom change places
    double dx_mm = 0.0;
    double dy_mm = 0.0;
};

/// Where a place of the face comes to lie.
[[nodiscard]] Place moved(Place place, const Motion& motion);

/// For each contact of `upper` the contact of `lower` that it lands on, when one lies within 0.35 of the
/// pitch; each contact of `lower` is landed on by at most one, the nearest. Both looking into the socket.
using Landing = std::vector<std::optional<std::size_t>>;
[[nodiscard]] Landing land(const Connector& upper, const Connector& lower, const Motion& motion);
[[nodiscard]] std::size_t landed(const Landing& landing);

}  // namespace grayrelic
