// SPDX-License-Identifier: GPL-3.0-or-later
// Packed samples without any heading, as cheap capture devices stream them: each sample holds one bit a line.
#pragma once

#include "core/base/byte_source.hpp"
#include "core/base/progress.hpp"
#include "core/signal/capture.hpp"

namespace grayrelic {

struct RawOptions {
    int width = 8;  ///< lines in a sample: 1, 2, 4, 8, 16 or 32; samples under a byte are packed
    double rate_hz = 1e6;
    bool msb_first =
        false;  ///< the first line is the most significant bit, and the first packed sample of a byte too
    bool big_endian = false;  ///< of samples of two or four bytes
};

/// Signals "d0" to "d(width−1)", as many whole samples as the file holds; a rest is remarked.
[[nodiscard]] Result<Capture> read_raw(const ByteSource& source, const std::string& name,
                                       const RawOptions& options, Progress& progress);

}  // namespace grayrelic
