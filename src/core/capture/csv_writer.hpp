// SPDX-License-Identifier: GPL-3.0-or-later
// Writes a capture as a table (RFC 4180): a heading, then one row at the start, at every change and at the
// end: time_s and one column a signal. Levels are 0, 1, x and z, real values numbers; an event is 1 in the
// row of its time and 0 elsewhere.
#pragma once

#include "core/capture/vcd_writer.hpp"

namespace grayrelic {

[[nodiscard]] Status write_csv(const Capture& capture, const TextSink& sink, Progress& progress);

/// Seconds with all their decimals: "0.000001250".
[[nodiscard]] std::string print_seconds(Time t);

}  // namespace grayrelic
