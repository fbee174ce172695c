// SPDX-License-Identifier: GPL-3.0-or-later
// Ways to build held side by side before one is chosen, by what matters and how each is counted; linear and
// switching regulators; the same part through the board and on its surface; a module and its bare chip.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/analysis/analysis.hpp"
#include "core/base/verdict.hpp"

namespace grayrelic {

struct SchoolCell {
    std::string text;       ///< empty: not known
    bool computed = false;  ///< else typed
    Verdict verdict = Verdict::unknown;
    std::optional<double> figure;  ///< by which the best is found
    bool best = false;
};

struct SchoolRow {
    std::string name;  ///< "Board area"
    std::string rule;  ///< how it is counted
    std::string key;   ///< of OptionBill, where it can be typed: "area", "hours", "reversible" …
    std::vector<SchoolCell> cells;  ///< one a column
};

struct SchoolTable {
    std::vector<std::string> ids, names;  ///< of the columns
    std::vector<SchoolRow> rows;
};

/// One column an option: margin, current, parts, cost, area, soldering, what it can be undone by, what will
/// need replacing, hours, sample code at hand, and of an FPGA its pins, banks and cells.
[[nodiscard]] SchoolTable compare_options(const Analysis& a);

/// A regulator of the rails as it is, and as the other school would build it.
struct RegulatorChoice {
    std::string ref;
    bool linear_now = true;
    struct Side {
        double loss_w = 0, in_a = 0;
        std::optional<double> junction_c;
        Verdict verdict = Verdict::holds;
    } linear, switching;
    std::string says;
};
[[nodiscard]] std::vector<RegulatorChoice> compare_regulators(const Analysis& a);

/// A part that comes both ways.
struct MountChoice {
    std::string part;
    std::vector<std::string> refs;
    struct Side {
        std::string package;
        double area_m2 = 0, height_mm = 0;
        double chance = 0;  ///< that one is soldered well, by the bench's record
        Verdict verdict = Verdict::unknown;
    } hole, surface;
    bool hole_now = true;
};
[[nodiscard]] std::vector<MountChoice> compare_mounts(const Analysis& a);

/// The module as it is and its chip by itself.
[[nodiscard]] SchoolTable compare_module(const Analysis& a);

}  // namespace grayrelic
