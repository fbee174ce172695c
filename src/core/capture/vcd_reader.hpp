// SPDX-License-Identifier: GPL-3.0-or-later
// Reads value change dumps (IEEE 1364-2005, clause 18) into a Capture.
//
// Read: scopes, variables of every type, scalar, vector, real and event changes, x and z,
// $dumpvars/off/on/all, several names for one identifier, short vectors (extended on the left as 18.2.1
// says), a missing time zero, glued
// "$enddefinitions$end", repeated times, several values at one time (the last one counts). A vector q[2:0]
// becomes the signals q[2], q[1], q[0]. Refused, with file and line: a time that goes back, unknown
// identifiers, values that are too wide, a header that never ends, times beyond 53 days, and more than the
// limits below.
#pragma once

#include <string>
#include <string_view>

#include "core/base/byte_source.hpp"
#include "core/base/progress.hpp"
#include "core/base/result.hpp"
#include "core/signal/capture.hpp"

namespace grayrelic {

struct VcdLimits {
    std::size_t signals = 1'048'576;     ///< bits of all variables together
    std::size_t vector_width = 65'536;   ///< bits of one variable
    std::size_t identifier_length = 64;  ///< characters
    std::size_t name_length = 4'096;     ///< of a dotted path
    std::size_t scope_depth = 1'024;
    std::size_t header_bytes = 256U << 20U;  ///< up to $enddefinitions
    std::size_t piece_bytes = 1U << 20U;     ///< of the body that one thread reads at a time
};

/// `name` stands in messages. The text need not outlive the call. Memory: about 8.2 bytes an edge, 300 a
/// signal and 10 MB, whatever the size of the file. Reads on as many threads as there are processors.
[[nodiscard]] Result<Capture> read_vcd(const ByteSource& source, const std::string& name, Progress& progress,
                                       const VcdLimits& limits = {});
[[nodiscard]] Result<Capture> read_vcd(std::string_view text, const std::string& name, Progress& progress,
                                       const VcdLimits& limits = {});

}  // namespace grayrelic
