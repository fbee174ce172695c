// SPDX-License-Identifier: GPL-3.0-or-later
// Resistors to choose from: what the drawer holds first, then standard values.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/person/drawer.hpp"

namespace grayrelic {

/// As it stands on the part and in the text: "4k7", "330", "1M".
[[nodiscard]] std::string short_ohm(double ohm);

struct Stocked {
    double ohm = 0;
    int count = 0;  ///< in the drawer
};

class Resistors {
  public:
    explicit Resistors(const Drawer& drawer);
    [[nodiscard]] int count(double ohm) const;
    /// The nearest by ratio that is at hand, up to half as much again; nothing where none is.
    [[nodiscard]] std::optional<Stocked> nearest_to(double ohm) const;
    /// From least to most: at most two that are at hand, then at most two of E12; those nearest to the middle
    /// (by ratio) first.
    [[nodiscard]] std::vector<Stocked> between(double least, double most) const;

  private:
    std::map<double, int> have_;
};

}  // namespace grayrelic
