// SPDX-License-Identifier: GPL-3.0-or-later
// Holds the identification and the decoders against captures nobody rehearsed, and counts.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/decode/decoder.hpp"
#include "core/decode/identify.hpp"
#include "tests/unseen/links.hpp"

namespace grayrelic::unseen {

struct Judged {
    std::string kind, named;  ///< the generator's; what came first, "none" when nothing fits
    bool family = false, roles = false, all_links = false;
    long asked = 0, settings_right = 0, open = 0;  ///< settings that are decided; those left out
    long words = 0, words_right = 0;
    double score = 0;
    double seconds = 0;
    std::string wrong;  ///< in a line, for reading
};

[[nodiscard]] Capture capture_of(const Made& made);
[[nodiscard]] Judged judge(const Made& made);

/// Rates over many, by kind, and what was taken for what.
class Table {
  public:
    void add(const Judged& j);
    [[nodiscard]] double named() const;      ///< family and roles first, of links
    [[nodiscard]] double all_links() const;  ///< every link of a capture, of links
    [[nodiscard]] double settings() const;
    [[nodiscard]] double words() const;
    [[nodiscard]] double refused() const;  ///< nonsense under 0.3
    [[nodiscard]] std::string text() const;

  private:
    struct Row {
        long captures = 0, named = 0, family = 0, links = 0, asked = 0, right = 0, open = 0, words = 0,
             words_right = 0;
        double seconds = 0;
        std::map<std::string, long> taken_for;
        void add(const Judged& j);
    };
    [[nodiscard]] Row sum() const;
    std::map<std::string, Row> rows_;
};

}  // namespace grayrelic::unseen
