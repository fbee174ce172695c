// SPDX-License-Identifier: GPL-3.0-or-later
// An option's worst reply as waves against the original: what the host asked, what the original answered,
// what this option would have answered, and when the host looks.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/analysis/analysis.hpp"
#include "core/report/drawing.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic {

struct WorstReply {
    struct Row {
        std::string name, about;
        Driver driver = Driver::unknown;
        std::shared_ptr<const DigitalWaveform> waveform;
    };
    std::vector<Row> rows;  ///< empty: there is no reply to show
    Span window;            ///< wide enough for trigger, look and reply
    Time trigger, deadline;
    std::optional<Time> reply;  ///< absolute
};
/// Of the replies that change the line, since only there does it show, the one with the least margin; when no
/// reply changes the line, the worst of all. Goes through every reply.
[[nodiscard]] WorstReply worst_reply(const Analysis& analysis, const OptionAnalysis& option);
/// Times on the axis count from the trigger.
[[nodiscard]] Drawing worst_drawing(const WorstReply& worst, double width, double height);

/// As SVG for a report.
[[nodiscard]] std::string worst_case_figure(const Analysis& analysis, const OptionAnalysis& option);

}  // namespace grayrelic
