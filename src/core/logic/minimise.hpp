// SPDX-License-Identifier: GPL-3.0-or-later
// The other way round: from a truth table, the smallest networks that can be built from the packages in the
// drawer.
//
// Packages are tried one, then two, then three at a time; within a choice of packages, with as few gates as
// can be. Every circuit of that size is looked at, up to a bound on the work; an answer says whether the
// bound was reached, so "smallest" is claimed only when it was proven. Each realisation is checked against
// the table before it is given.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/progress.hpp"
#include "core/logic/network.hpp"
#include "core/logic/truth.hpp"

namespace grayrelic {

struct DrawerItem {
    int count = 1;
    std::string part;    ///< "74x00"
    std::string family;  ///< "hct"
    bool operator==(const DrawerItem&) const = default;
};
/// "2 × 74x00 hct", "2 x 74x00 hct" or "74x00 hct".
[[nodiscard]] Result<DrawerItem> parse_drawer_item(std::string_view text);
[[nodiscard]] std::string print_drawer_item(const DrawerItem& item);

/// What is wanted: up to 6 inputs. Rows that are not cared for may come out either way.
struct WantedLogic {
    std::vector<std::string> inputs;
    struct Output {
        std::string name;
        std::uint64_t ones = 0, care = 0;  ///< bit r is row r; inputs[0] is the most significant bit of r
    };
    std::vector<Output> outputs;
};
/// A network's own table. Refused: storage, loops, more than 6 free inputs.
[[nodiscard]] Result<WantedLogic> wanted_from(const Network& network, Progress& progress);
/// A table as text: a heading "a b c | y z", then rows "0 1 - | 1 x": "-" stands for both, "x" for don't
/// care. Rows that are missing are not cared for.
[[nodiscard]] Result<WantedLogic> wanted_from_text(std::string_view text, const std::string& name);

struct Realisation {
    std::string net_list;               ///< text that read_network() takes
    std::vector<std::string> packages;  ///< "74x00 hct", one for each
    int gates = 0;
    std::vector<std::string> spare;  ///< "U1: 2 of 4 gates"
    Time slowest;                    ///< sum of the slow delays along the longest path
};
struct MinimiseLimits {
    int packages = 3, gates = 7;
    std::size_t results = 12;
    long long steps = 60'000'000;  ///< circuits looked at
};
struct MinimiseResult {
    std::vector<Realisation> best;  ///< fewest packages first, then fewest gates, then fastest
    bool complete = false;          ///< everything smaller was looked at
    long long steps = 0;
    std::string note;  ///< why there is none, or why it is not complete
};
[[nodiscard]] Result<MinimiseResult> minimise(const WantedLogic& wanted,
                                              const std::vector<DrawerItem>& drawer,
                                              const LogicLibrary& library, const MinimiseLimits& limits,
                                              Progress& progress);

}  // namespace grayrelic
