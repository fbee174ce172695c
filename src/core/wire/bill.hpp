// SPDX-License-Identifier: GPL-3.0-or-later
// What a way to build costs: parts, money, current and soldering, all from its network.
#pragma once

#include <optional>
#include <string>

#include "core/dossier/job.hpp"
#include "core/dossier/timing.hpp"
#include "core/electrical/family.hpp"
#include "core/logic/network.hpp"
#include "core/parts/package.hpp"

namespace grayrelic {

struct NetworkBill {
    std::string parts;                ///< "3 × 74x165 hct, 74x04 hct"
    int count = 0;                    ///< of parts
    std::optional<double> cost;       ///< of one board, of those whose price is known; nothing when none is
    int without_price = 0;            ///< kinds of parts
    std::optional<double> current_a;  ///< own currents, most, of those parts that say theirs
    int without_current = 0;          ///< parts that draw current and do not say
    std::string soldering;            ///< "through-hole", "surface, 1.27 mm"
    SolderClass hardest = SolderClass::easy;
    double area_m2 = 0;    ///< bodies and pads with 1 mm around each, without what lies between
    int without_area = 0;  ///< parts whose package is not known
    std::string service;   ///< "chips in sockets; fuse F1 plugs"
};

/// `network` as the text is read; prices are those of the supply's lines at the count that is needed.
[[nodiscard]] NetworkBill bill_of(const Network& network, const Supply& supply, const FamilyLibrary& families,
                                  const PackageLibrary& packages);

/// The current of a part by itself, most; by its family where the part does not say; nothing where neither
/// does.
[[nodiscard]] std::optional<double> own_current(const ListedPart& part);
/// Of a package on a board, in square metres: body and pads with 1 mm around.
[[nodiscard]] double area_of_package(const Package& package);
/// An option's bill as it is shown: what its network gives, in place of what was typed. `bill` null: as
/// typed.
[[nodiscard]] OptionBill shown_bill(const BuildOption& option, const NetworkBill* bill);

}  // namespace grayrelic
