// SPDX-License-Identifier: GPL-3.0-or-later
// Two netlists of one board: what is the same, missing, extra, joined, split, exchanged.
//
// Nets are matched by the points they hold, never by their names; names only break ties. The first netlist is
// what should be, the second what is. Where the second comes from readings, what nobody has probed yet is
// unproven instead of split.
#pragma once

#include <functional>
#include <string>
#include <utility>
#include <vector>

#include "core/dossier/trace.hpp"
#include "core/trace/nets.hpp"

namespace grayrelic {

struct PointOfNet {
    std::string point;
    std::string net;
};

/// Nets of the one side that are one net of the other.
struct NetMerge {
    std::string net;                  ///< the one net, by its name or its first points
    std::vector<std::string> nets;    ///< what it holds: names, or their first points
    std::vector<std::string> points;  ///< one point of each
};

struct PointSwap {
    std::string a, b;  ///< points that exchanged their nets
    std::string net_a, net_b;
    bool harmless = false;  ///< alike pins of one part: the ends of a resistor
};

/// A part whose pins all fit when it is mirrored or turned.
struct TurnedPart {
    std::string ref;
    std::string how;  ///< "mirrored" or "turned"
    long pins = 0;    ///< that change their nets by it
};

struct NetComparison {
    long same = 0;                    ///< nets with the same points
    std::vector<PointOfNet> missing;  ///< points that only the first has
    std::vector<PointOfNet> extra;    ///< points that only the second has
    std::vector<NetMerge> joined;     ///< several nets of the first are one in the second
    std::vector<NetMerge> split;      ///< one net of the first is several in the second
    std::vector<PointSwap> swapped;
    std::vector<TurnedPart> turned;
    std::vector<NetMerge>
        unproven;  ///< one net of the first whose pieces nobody has probed against each other
    [[nodiscard]] bool equal() const;
};

struct CompareOptions {
    /// Are two points alike pins of one part?
    std::function<bool(const std::string&, const std::string&)> alike;
    /// Of a ledger: do readings separate the nets of these two points?
    std::function<bool(const std::string&, const std::string&)> separated;
};

[[nodiscard]] NetComparison compare_nets(const std::vector<Net>& should, const std::vector<Net>& is,
                                         const CompareOptions& options = {});

/// The derived nets by name: a net takes the name of its first point.
[[nodiscard]] std::vector<Net> named_nets(const NetState& state, const PointTable& points);

}  // namespace grayrelic
