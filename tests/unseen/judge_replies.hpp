// SPDX-License-Identifier: GPL-3.0-or-later
// Holds derived contracts against conversations whose cause and delays are known.
#pragma once

#include <map>
#include <string>

#include "tests/unseen/replies.hpp"

namespace grayrelic::unseen {

struct JudgedReply {
    bool derived = false;            ///< it could be read and a contract was derived
    bool right = false;              ///< the cause, or that nobody answers
    bool open = false;               ///< not the cause, but the cause among those that are not told apart
    bool fits = false;               ///< the reading is said to fit
    bool named = false;              ///< the family comes first in an identification of the whole capture
    bool look = false;               ///< at an edge where the host may look, or none asked for
    long intervals = 0, within = 0;  ///< replies with three delays and more; those whose range is right
    std::string wrong;               ///< in a line, for reading
};
[[nodiscard]] JudgedReply judge(const Conversation& c);

class ReplyTable {
  public:
    void add(const std::string& kind, const JudgedReply& j);
    [[nodiscard]] double right_or_open() const;
    [[nodiscard]] double within() const;
    [[nodiscard]] double looks() const;
    [[nodiscard]] double fits() const;
    [[nodiscard]] std::string text() const;

  private:
    struct Row {
        long cases = 0, derived = 0, right = 0, open = 0, fits = 0, named = 0, look = 0, intervals = 0,
             within = 0;
    };
    [[nodiscard]] Row sum() const;
    std::map<std::string, Row> rows_;
};

}  // namespace grayrelic::unseen
