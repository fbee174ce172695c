// SPDX-License-Identifier: GPL-3.0-or-later
// How a port's lines are recorded before there is any recording: which line goes straight to the analyser,
// which through a divider or a buffer, where the ground comes from, how fast and how long to record, and what
// to press meanwhile.
//
// Straight: the line never leaves what the input endures, and its levels are surely read. A divider: two
// resistors of series E12 that bring it there, of which the line notices little and whose own time constant,
// with the input's capacitance, is at most a tenth of the shortest pulse. Else a buffer. What nobody knows is
// taken as bad as plausible: such a line is not connected before it is measured.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/verdict.hpp"
#include "core/dossier/port.hpp"
#include "core/electrical/family.hpp"
#include "core/port/analysers.hpp"
#include "core/port/connector.hpp"

namespace grayrelic {

enum class TapWay { direct, divider, buffer, measure_first, ground, meter, none };
[[nodiscard]] std::string_view word(TapWay w);

struct TapLine {
    std::string pin, name;
    TapWay way = TapWay::none;
    Verdict verdict = Verdict::holds;    ///< of connecting it straight: Stop where a limit is exceeded
    double lowest_v = 0, highest_v = 0;  ///< that may ever stand there
    std::optional<double> low_most_v, high_least_v;  ///< guaranteed levels
    double top_ohm = 0, bottom_ohm = 0;              ///< of a divider
    double high_at_input_v = 0, low_at_input_v = 0;  ///< what the analyser then sees at the least and most
    int run = 0, channel = 0;                        ///< both from 1; 0: no channel
    bool weak = false;                               ///< held by a pull, or by an output that gives little
    std::string says;                                ///< the figures that decide
};

struct TapStep {
    std::string what;  ///< "a disk being written"
    std::string how;
    double seconds = 0;  ///< for this alone
};

struct TapStudy {
    const AnalyserModel* analyser = nullptr;
    std::vector<TapLine> lines;  ///< in the port's order
    std::string ground_pin;      ///< empty: none is known
    std::string ground_says;
    double least_rate_hz = 0;  ///< 0: nothing is known of the shortest pulse
    double rate_hz = 0;        ///< that the analyser has and is recommended
    double seconds = 0;
    int runs = 1;  ///< when there are more lines than channels
    std::vector<TapStep> steps;
    std::vector<std::string> before;  ///< in this order, before anything is recorded
    std::vector<std::string> doubts;
    Verdict verdict = Verdict::holds;  ///< Stop while a line exceeds the input straight, or is not known
};

/// `connector` may be null; then the ground is chosen by its name alone.
[[nodiscard]] TapStudy plan_taps(const Port& port, const Connector* connector, const FamilyLibrary& families,
                                 const AnalyserLibrary& analysers);

/// So long that what comes `every_s` on average comes at least `times` times, with 95 % certainty.
[[nodiscard]] double seconds_for(double every_s, long times);

/// Samples that the shortest pulse needs: five, as pulse widths do.
inline constexpr double samples_per_pulse = 5;

}  // namespace grayrelic
