// SPDX-License-Identifier: GPL-3.0-or-later
// Writes a value change dump (IEEE 1364-2005, clause 18). No date and no version, so equal input gives equal
// bytes. What read_vcd() read comes back the same: names, vectors, reals, events, x and z, every time.
#pragma once

#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "core/base/progress.hpp"
#include "core/base/result.hpp"
#include "core/signal/capture.hpp"

namespace grayrelic {

/// Takes the text piece by piece, in order.
using TextSink = std::function<Status(std::string_view)>;

struct WrittenVcd {
    Time shift;            ///< added to every time, because a dump can't hold times before zero
    bool renamed = false;  ///< names held blanks or control characters, which became "_"
};
[[nodiscard]] Result<WrittenVcd> write_vcd(const Capture& capture, const std::string& comment,
                                           const TextSink& sink, Progress& progress);

/// What a simulated instrument records: single wires, times rounded to its resolution.
struct VcdOutput {
    struct Wire {
        std::string name;  ///< without blanks
        std::shared_ptr<const DigitalWaveform> waveform;
    };
    std::string scope = "capture";
    std::string comment;  ///< one line, may be empty
    std::vector<Wire> wires;
    Time end;                       ///< the last time stamp
    Time resolution = Time::ns(1);  ///< 1, 10 or 100 times a unit; times are rounded to it
};
[[nodiscard]] std::string write_vcd(const VcdOutput& output);

}  // namespace grayrelic
