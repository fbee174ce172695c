// SPDX-License-Identifier: GPL-3.0-or-later
// Prints the table: unseen-replies [HOW-MANY-A-KIND] [FIRST-SEED] [KIND] [-v]
#include <iostream>
#include <string>
#include <vector>

#include "tests/unseen/judge_replies.hpp"

int main(int count, char** words) {
    using namespace grayrelic::unseen;
    std::vector<std::string> args(words + 1, words + count);
    const bool tells = !args.empty() && args.back() == "-v";
    if (tells) args.pop_back();
    const unsigned long long many = args.empty() ? 200 : std::stoull(args[0]);
    const unsigned long long first = args.size() > 1 ? std::stoull(args[1]) : 1;
    ReplyTable table;
    for (const auto& kind : talk_kinds()) {
        if (args.size() > 2 && args[2] != kind) continue;
        for (auto seed = first; seed < first + many; ++seed) {
            const auto j = judge(talk(seed, kind));
            table.add(kind, j);
            if (tells && (!j.wrong.empty() || !j.fits))
                std::cout << kind << " " << seed << (j.fits ? "" : " DOES NOT FIT") << ":" << j.wrong << "\n";
        }
    }
    std::cout << table.text();
}
