// SPDX-License-Identifier: GPL-3.0-or-later
// The walk over one piece of a dump's body. For vcd_body.cpp (items and times) and vcd_values.cpp only.
#pragma once

#include "core/capture/vcd_body.hpp"
#include "core/capture/vcd_text.hpp"

namespace grayrelic::vcd_reading {

class PieceReader {
  public:
    PieceReader(const ByteSource& source, const VcdHeader& header, const VcdPieceTask& task,
                const Progress& progress, VcdPiece& out);

    void run();

  private:
    static constexpr std::uint32_t no_bit = 0xFFFFFFFFU;

    // --- items

    /// Reads until the limit, the end of the piece or a fault; returns the first byte it did not take.
    const char* read_items();

    /// The run of whole time stamps and plain scalars of known identifiers that begins at p: nearly all of a
    /// usual file. Stops at whatever is anything else, and before `stop_from`.
    const char* read_plain_items(const char* p, const char* stop_from);

    const char* read_plain_scalars(const char* p);

    [[nodiscard]] bool stops_at(const char* p) const {
        if (text_.place(p) < task_.end) return false;
        return task_.stop_anywhere || text_.before(p) == '\n';
    }

    /// Slow path of everything that is neither a plain scalar nor a time. nullptr after a fault.
    const char* read_other(const char* p, char c);

    const char* read_keyword(const char* p);

    const char* skip_comment(const char* p);

    const char* read_time(const char* p);

    const char* long_time(const char* p);

    const char* take_time(const char* p, const char* after, std::uint64_t raw);

    // --- values

    void change(std::size_t bit, char value) {
        auto& b = out_.bits[bit];
        if (b.untouched()) touch(bit);
        b.change(value, now_);
    }
    void touch(std::size_t bit) {
        out_.touched.push_back(bit);
        if (!out_.has_time) out_.values_before_time = true;
    }

    const VcdVariable* variable(const char* item, std::string_view id);

    const char* read_scalar(const char* p, char value);

    /// The token behind a vector's or real's value; none when it is not in the buffer yet.
    bool second_token(const char* p, std::string_view first, std::string_view& id);

    const char* read_vector(const char* p);

    const char* read_real(const char* p);

    /// A string value, an extension of some writers: passed over with its identifier.
    const char* read_string(const char* p);

    void add_real(std::size_t index, double value);

    // --- faults

    void fault(VcdFault::Kind kind, std::uint64_t offset, std::string found, std::string expected);
    void refuse(const Error& error) { fault(VcdFault::Kind::unreadable, 0, error.found, error.expected); }
    void wrong(const char* item, std::string expected);

    const ByteSource& source_;
    const VcdHeader& header_;
    const VcdPieceTask& task_;
    const Progress& progress_;
    VcdPiece& out_;
    VcdText text_;
    bool done_ = false;
    bool starved_ = false;  // an item is cut by the buffer
    bool in_comment_ = false;
    std::uint64_t most_ = 0;
    Time now_;
    std::uint32_t scalars_[256];  // bit of a scalar with an identifier of one character
};

}  // namespace grayrelic::vcd_reading
