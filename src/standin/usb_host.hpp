// SPDX-License-Identifier: GPL-3.0-or-later
// A host at the end of a cable: it is sent reports and says what it understands.
#pragma once

#include <cstdint>
#include <iosfwd>
#include <string>
#include <vector>

#include "core/base/time.hpp"
#include "core/input/layout.hpp"

namespace grayrelic::standin {

/// Prints each event as it comes, then what was typed and what is still held. 0 fine, 1 something stuck or
/// not understood, 3 a line that is no report.
[[nodiscard]] int listen_as_host(const std::vector<std::uint8_t>& descriptor, const KeyboardLayout& layout,
                                 bool caps, Time poll, std::istream& in, const std::string& name);

}  // namespace grayrelic::standin
