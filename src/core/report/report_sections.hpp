// SPDX-License-Identifier: GPL-3.0-or-later
// The report's sections: one for each view of each stage, in the order of the stages. A stage adds its file
// and its lines here; contents, HTML and PDF follow from the list.
#pragma once

#include <set>
#include <string>
#include <string_view>
#include <vector>

#include "core/analysis/analysis.hpp"
#include "core/base/stage.hpp"

namespace grayrelic {

struct ReportSection {
    Stage stage;
    std::string_view id;                    ///< "timing-contract": its anchor
    std::string_view title;                 ///< "Contract"; the stage's label stands before it
    bool (*any)(const Analysis& analysis);  ///< there is something to say
    void (*write)(const Analysis& analysis, std::string& out);
};

[[nodiscard]] const std::vector<ReportSection>& report_sections();

/// Ids of the cautions of the whole job, where the report has them: they stand there, and not again.
[[nodiscard]] std::set<std::string> cautions_of_report(const Analysis& analysis);

// Of each stage, in the order of its views.
[[nodiscard]] std::vector<ReportSection> job_sections();
[[nodiscard]] std::vector<ReportSection> plan_sections();
[[nodiscard]] std::vector<ReportSection> port_sections();
[[nodiscard]] std::vector<ReportSection> trace_sections();
[[nodiscard]] std::vector<ReportSection> listen_sections();
[[nodiscard]] std::vector<ReportSection> timing_sections();
[[nodiscard]] std::vector<ReportSection> wire_sections();
[[nodiscard]] std::vector<ReportSection> rail_sections();
[[nodiscard]] std::vector<ReportSection> map_sections();
[[nodiscard]] std::vector<ReportSection> board_sections();
[[nodiscard]] std::vector<ReportSection> build_sections();
[[nodiscard]] std::vector<ReportSection> log_sections();
[[nodiscard]] std::vector<ReportSection> money_sections();

}  // namespace grayrelic
