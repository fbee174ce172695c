// SPDX-License-Identifier: GPL-3.0-or-later
// Decoded words as a table that a person reads: when, the value, what it means in its family, errors.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/progress.hpp"
#include "core/decode/decoder.hpp"

namespace grayrelic {

struct WordRow {
    Time start, end;
    std::string value;   ///< "0xA5"; empty where it has none
    std::string text;    ///< a character, a position, a packet's bytes, closed switches …
    std::string errors;  ///< parted by blanks
};

class WordTable {
  public:
    explicit WordTable(std::shared_ptr<const Decoding> decoding);
    [[nodiscard]] std::size_t size() const { return decoding_->frames.size(); }
    [[nodiscard]] WordRow row(std::size_t i) const;
    /// What `text` is in this family: "character", "position", "bytes" …
    [[nodiscard]] std::string text_heading() const;
    [[nodiscard]] const Decoding& decoding() const { return *decoding_; }

    /// The next row from `from` on, going forward or back and round, whose value, text, levels or errors hold
    /// the words typed, whatever their case; nothing when none does, or when cancelled.
    [[nodiscard]] std::optional<std::size_t> find(std::string_view typed, std::size_t from, bool forward,
                                                  Progress& progress) const;
    /// The first row that ends behind t; the last where none does.
    [[nodiscard]] std::size_t row_at(Time t) const;
    /// RFC 4180: start_s,end_s,value,text,levels,errors.
    [[nodiscard]] std::string csv(Progress& progress) const;

  private:
    [[nodiscard]] std::string text_of(std::size_t i) const;
    std::shared_ptr<const Decoding> decoding_;
    std::vector<long> positions_;  ///< quadrature: behind each step
};

}  // namespace grayrelic
