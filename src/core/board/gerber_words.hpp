// SPDX-License-Identifier: GPL-3.0-or-later
// A Gerber file cut into its words: blocks that end in '*', and extended commands between '%'.
#pragma once

#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/base/result.hpp"
#include "core/board/gerber.hpp"

namespace grayrelic {

struct GerberWord {
    bool extended = false;
    long line = 0;
    std::vector<std::pair<std::string, long>>
        blocks;  ///< without '*', with their lines; none at the end of the file
};

class GerberWords {
  public:
    GerberWords(std::string_view text, const std::string& name) : text_(text), name_(name) {}
    [[nodiscard]] Result<GerberWord> next();
    [[nodiscard]] std::size_t at() const { return at_; }

  private:
    [[nodiscard]] Result<std::string> block();
    void skip_space();
    std::string_view text_;
    const std::string& name_;
    std::size_t at_ = 0;
    long line_ = 1;
};

/// Text of an attribute with its \uXXXX as UTF-8.
[[nodiscard]] std::string gerber_text(std::string_view text);
/// A place mirrored, turned and scaled about the origin as an aperture is.
[[nodiscard]] BoardXY turned(BoardXY p, const ApertureTurn& turn);
/// The standard aperture of this letter (C, R, O, P) with its sizes; `unit` in nanometres.
[[nodiscard]] Result<Aperture> standard_aperture(std::string_view form, const std::vector<double>& values,
                                                 double unit, const std::string& file, long line);

}  // namespace grayrelic
