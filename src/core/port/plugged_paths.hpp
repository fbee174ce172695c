// SPDX-License-Identifier: GPL-3.0-or-later
// The way that the current through a branch takes, from where it comes to where it goes. Of port/plugged.
#pragma once

#include <string>
#include <vector>

#include "core/port/plugged_network.hpp"

namespace grayrelic::plugged {

struct Path {
    std::vector<std::size_t> branches;  ///< in the direction of the current
    std::vector<std::size_t> touches;
    std::string text;
    [[nodiscard]] bool has(const Network& n, Branch::Kind kind) const;
    /// The first branch of this kind, null when there is none.
    [[nodiscard]] const Branch* find(const Network& n, Branch::Kind kind) const;
};
/// Follows the largest current both ways from this branch, to ground at either end.
[[nodiscard]] Path path_through(const Network& n, const PluggedCase& c, std::size_t branch);

}  // namespace grayrelic::plugged
