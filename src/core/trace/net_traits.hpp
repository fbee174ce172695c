// SPDX-License-Identifier: GPL-3.0-or-later
// What a net holds, as far as it says what the net may still be joined to. For next_probe.cpp only.
#pragma once

#include <vector>

#include "core/trace/likelihood.hpp"

namespace grayrelic {

struct NetTraits {
    bool ground = false, supply = false, output = false;
    bool driver = false;  ///< something drives it: an output, a connector's contact, a rail
    bool input = false, passive = false, contact = false, unconnected = true;
    bool nameless_contact = false;
    int buses = 0;  ///< points that are bits of buses
    int size = 0;
    std::vector<int> faces;  ///< a few of its points that stand for it, for the caller to fill
    [[nodiscard]] static NetTraits of(const std::vector<int>& points, const Likelihood& prior);
    /// How sure it is that it belongs to another net still, 0 to 1.
    [[nodiscard]] double seeks() const;
};

}  // namespace grayrelic
