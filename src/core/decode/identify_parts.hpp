// SPDX-License-Identifier: GPL-3.0-or-later
// What the parts of identify.cpp share. Not for other users.
#pragma once

#include <algorithm>
#include <optional>
#include <string>
#include <vector>

#include "core/decode/identify.hpp"
#include "core/decode/settings.hpp"

namespace grayrelic::identify_parts {

/// One signal of the trial, with figures that several families ask for.
struct Line {
    std::string name;
    const DigitalWaveform* waveform = nullptr;
    std::size_t edges = 0;
    bool rests_high = false;
};

/// The start of a capture, with the considered signals only.
struct Trial {
    Capture capture;
    std::vector<Line> lines;
    std::size_t all_edges = 0;
    double sampling_trust = 1.0;
    std::optional<Time> sample_period;
};

/// A candidate and the edges it explains, before it is held against the others.
struct Draft {
    Candidate candidate;
    double quality = 0;    ///< 0 to 1
    double trust = 1;      ///< of the family and of the amount seen
    double explained = 0;  ///< share of the edges of its own signals
    double explained_edges = 0;
    std::vector<std::string> lines = {};  ///< in all roles, sorted; filled for the ranking
};

/// Maps what chance alone reaches to 0 and certainty to 1.
[[nodiscard]] inline double above_chance(double share, double chance) {
    return std::clamp((share - chance) / (1.0 - chance), 0.0, 1.0);
}
/// Few frames prove little: 1/2 at `half`, towards 1 with more.
[[nodiscard]] inline double enough(double n, double half) {
    return n / (n + half);
}
/// Edges that are sampled lie on a grid by themselves: a unit of a sample or two says nothing about the line.
[[nodiscard]] inline double fine_enough(const Trial& trial, double unit_ps) {
    return trial.sample_period && trial.sample_period->count() > 0
               ? std::clamp(unit_ps / static_cast<double>(trial.sample_period->count()) / 3.0 - 0.3, 0.05,
                            1.0)
               : 1.0;
}
[[nodiscard]] SettingMap as_settings(const std::map<std::string, FrameExtra>& resolved);
/// Decodes and fills kind, roles, settings, frames and errors; nothing when the family refuses.
[[nodiscard]] std::optional<Decoding> try_decoder(const Trial& trial, const char* kind, const RoleMap& roles,
                                                  const SettingMap& settings, Draft& draft,
                                                  Progress& progress);
/// Edges of a line inside the spans, which must be in order.
[[nodiscard]] std::size_t edges_inside(const DigitalWaveform& line, const std::vector<Span>& spans);
[[nodiscard]] std::vector<Span> clean_spans(const Decoding& d);

void try_single_lines(const Trial& trial, std::vector<Draft>& out,
                      Progress& progress);  ///< async-serial, pulse-width
void try_pairs(const Trial& trial, std::vector<Draft>& out,
               Progress& progress);  ///< quadrature, usb-low-full
void try_clocks(const Trial& trial, std::vector<Draft>& out,
                Progress& progress);  ///< latch-shift, framed-clock, clocked
using Group = std::vector<const Line*>;
[[nodiscard]] std::vector<std::string> names_of(const Group& lines);
void try_buses(const Trial& trial, std::vector<Draft>& out,
               Progress& progress);  ///< strobed-bus, select-bank, matrix
void try_matrix(const Trial& trial, std::vector<Draft>& out, Progress& progress);

/// Scores them, holds them against each other, best first.
[[nodiscard]] std::vector<Candidate> ranked(const Trial& trial, std::vector<Draft> drafts, std::size_t most);

}  // namespace grayrelic::identify_parts
