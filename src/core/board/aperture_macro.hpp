// SPDX-License-Identifier: GPL-3.0-or-later
// Aperture macros of the Gerber layer format: variables, expressions with + - x / and brackets, and the
// primitives circle, vector line, centre line, lower left line (deprecated), outline, polygon, moiré
// (deprecated) and thermal.
#pragma once

#include <string>
#include <vector>

#include "core/board/shape.hpp"

namespace grayrelic {

struct MacroStep {
    long line = 0;
    int variable = 0;  ///< of $n=…; 0 for a primitive
    std::vector<std::string>
        modifiers;  ///< a primitive's code and what follows; of a variable its expression
};
struct ApertureMacro {
    std::vector<MacroStep> steps;
};

/// The macro's blocks, without their '*'.
[[nodiscard]] Result<ApertureMacro> read_macro(const std::vector<std::pair<std::string, long>>& blocks,
                                               const std::string& file);
/// What it paints with these parameters, about the origin. `unit` is a file unit in nanometres.
[[nodiscard]] Result<Rings> paint_macro(const ApertureMacro& macro, const std::vector<double>& parameters,
                                        double unit, const std::string& file, long line);
/// An expression of a macro; variables are counted from 1, those never set are 0.
[[nodiscard]] Result<double> macro_value(std::string_view text, const std::vector<double>& variables,
                                         const std::string& file, long line);

}  // namespace grayrelic
