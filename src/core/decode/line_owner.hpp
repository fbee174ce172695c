// SPDX-License-Identifier: GPL-3.0-or-later
// Who drives a line in each family of links.
#pragma once

#include <string_view>

namespace grayrelic {

/// host: the side that asks; device: the side that is asked; either: both, in turn, or whichever it is.
enum class LineOwner { host, device, either };

/// By the decoder's kind and role: the host drives latch, clock and select of a shift register, the device
/// its data; but the clock of a framed link is the device's, which the host only holds low, both lines of a
/// quadrature are the device's, a sense line is the matrix's, and a serial line may be either's.
[[nodiscard]] LineOwner owner_of(std::string_view kind, std::string_view role);

}  // namespace grayrelic
