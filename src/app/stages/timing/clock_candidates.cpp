// SPDX-License-Identifier: GPL-3.0-or-later
// The chains that explain a rate, as a table.
#include <cmath>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/stages/timing/clock_view.hpp"
#include "core/base/quantity.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {

void ClockView::fill_candidates(const ClockExplanation& e) {
    constexpr std::size_t most_rows = 100;
    std::vector<TableRow> rows;
    for (std::size_t r = 0; r < std::min(most_rows, e.candidates.size()); ++r) {
        const auto& k = e.candidates[r];
        const auto colour = r < e.alike ? theme().ink : theme().ink2;
        TableRow row{{to_q(k.source), colour},
                     {to_q(k.chain), colour},
                     {QString::number(k.divide), colour},
                     {to_q(print_number(k.hz, Unit::hertz, 7)), colour},
                     {QString::asprintf("%+.1f ppm", k.error_ppm), colour},
                     {QString::asprintf("%.3f", k.score), colour}};
        row[0].key = row[0].text + row[1].text;
        row[2].sort = static_cast<double>(k.divide);
        row[3].sort = k.hz;
        row[4].sort = std::abs(k.error_ppm);
        row[5].sort = k.score;
        rows.push_back(std::move(row));
    }
    candidates_->set_rows(std::move(rows));
}

}  // namespace grayrelic::app
