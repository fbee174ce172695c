// SPDX-License-Identifier: GPL-3.0-or-later
// Conversations whose cause is known: in each capture a device answers an edge of the host after a delay that
// is drawn here, or nobody answers. What a contract must say of the reply stands beside it. Nothing of src/
// is used.
#pragma once

#include "tests/unseen/links.hpp"

namespace grayrelic::unseen {

/// Changes of one line that one event of the host caused.
struct Reply {
    std::string cause;           ///< "clk:fall", "sel:any"; "poll:end" for the end of a message
    std::string answer;          ///< the line that changes
    std::vector<double> delays;  ///< ps; of every change that shows
};

struct Conversation {
    Made made;
    std::string kind;
    std::map<std::string, std::vector<std::string>> roles;
    std::map<std::string, std::string> settings;  ///< to be given; the others are left to the program
    std::vector<Reply> replies;                   ///< the first is the one to ask for; empty: nobody answers
    double slack = 0;  ///< ps; of delays from the end of a character, which is no edge: a receiver knows its
                       ///< rate to a 1000th
    std::set<std::string> looks;  ///< edges at which the host may look, as far as anybody can tell
};

/// Kinds of conversations: the families, and variants of them.
[[nodiscard]] const std::vector<std::string>& talk_kinds();
[[nodiscard]] Conversation talk(std::uint64_t seed, const std::string& kind);

}  // namespace grayrelic::unseen
