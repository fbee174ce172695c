// SPDX-License-Identifier: GPL-3.0-or-later
// The contract as one timing figure: a row for each signal with the edges that the intervals name, a numbered
// measure for each interval between its two edges, and its figures beside it. Not to scale: what is short
// stays readable beside what is long; the order of the edges is that of their typical times.
#pragma once

#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "core/report/drawing.hpp"
#include "core/timing/contract.hpp"

namespace grayrelic {

struct ContractDrawingOptions {
    double width = 860;
    bool table = true;     ///< least, typical, most, the limits and the evidence below
    std::string selected;  ///< ContractInterval::id, drawn stronger
    std::function<Driver(const std::string& signal)> driver;  ///< who drives a signal; none: nobody knows
};

[[nodiscard]] Drawing draw_contract(const std::vector<std::shared_ptr<const ContractFigure>>& contract,
                                    const ContractDrawingOptions& options);
/// The same as SVG.
[[nodiscard]] std::string contract_figure(const std::vector<std::shared_ptr<const ContractFigure>>& contract,
                                          const ContractDrawingOptions& options = {});

/// "least … most" of limits, "any" where there is none.
[[nodiscard]] std::string show_limits(const ContractLimits& limits);

}  // namespace grayrelic
