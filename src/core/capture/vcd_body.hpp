// SPDX-License-Identifier: GPL-3.0-or-later
// The value changes of a dump (IEEE 1364-2005, 18.2.4), piece by piece.
//
// A piece begins at a time stamp at the start of a line and ends before one, so that pieces can be read side
// by side without knowing one another. Where such a line is not what it looks like (inside a comment, or an
// identifier on a line of its own), the piece before it runs past it; whoever joins the pieces sees that they
// do not meet and reads on from there in order.
#pragma once

#include <cstdint>
#include <optional>
#include <vector>

#include "core/base/byte_source.hpp"
#include "core/capture/vcd_bits.hpp"
#include "core/capture/vcd_header.hpp"

namespace grayrelic {

/// What one piece of the file holds; reused for the next one.
struct VcdPiece {
    struct RealChange {
        std::size_t index;
        Time at;
        double value;
    };
    std::uint64_t begin = 0;
    std::uint64_t stop = 0;  ///< first byte that was not read
    bool empty = true;       ///< no time stamp begins a line in it
    std::optional<VcdFault> fault;
    bool has_time = false;
    std::uint64_t first_at = 0;  ///< where its first time stamp stands, in bytes
    std::string first_text;      ///< that stamp as a message shows it
    std::uint64_t first_raw = 0;
    std::uint64_t last_raw = 0;
    Time first;
    Time last;
    bool values_before_time = false;
    std::int64_t worst_rounding = 0;  ///< in 1/divide picoseconds
    std::vector<BitPiece> bits;
    std::vector<std::size_t> touched;  ///< bits that changed
    std::vector<RealChange> reals;
    std::vector<char> buffer;

    void clear();
};

/// Where to read, and where the reading before it stood.
struct VcdPieceTask {
    std::uint64_t begin = 0;
    std::uint64_t end = 0;       ///< stop at the first time stamp that begins a line at or behind it
    bool find_start = false;     ///< skip to the first such time stamp before `end`
    bool stop_anywhere = false;  ///< stop at any time stamp at or behind `end`
};

/// Reads one piece. A wish to cancel is a fault of that kind.
void read_vcd_piece(const ByteSource& source, const VcdHeader& header, const VcdPieceTask& task,
                    const Progress& progress, VcdPiece& piece);

}  // namespace grayrelic
