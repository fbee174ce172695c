// SPDX-License-Identifier: GPL-3.0-or-later
// Prints the table: unseen-boards [HOW-MANY] [FIRST-SEED] [clean|disturbed|pale] [CLICKS] [-v]
#include <cstdlib>
#include <iostream>
#include <string>

#include "tests/unseen/judge_boards.hpp"

int main(int count, char** words) {
    using namespace grayrelic::unseen;
    std::vector<std::string> args(words + 1, words + count);
    const bool tells = !args.empty() && args.back() == "-v";
    if (tells) args.pop_back();
    const unsigned long long many = args.empty() ? 200 : std::stoull(args[0]);
    const unsigned long long first = args.size() > 1 ? std::stoull(args[1]) : 1;
    const std::string kind = args.size() > 2 ? args[2] : "clean";
    const int clicks = args.size() > 3 ? std::stoi(args[3]) : 0;
    BoardTable table;
    for (auto seed = first; seed < first + many; ++seed) {
        const auto c = board_case(seed, kind == "disturbed", kind == "pale");
        const auto v = judge(c, clicks);
        table.add(c, v);
        if (tells && !v.told.empty()) {
            std::cout << seed << " " << c.look << " " << c.dpi << " dpi";
            for (const auto& t : c.troubles) std::cout << " " << t;
            std::cout << " " << v.found << "/" << v.joins << " false " << v.false_joins << " |"
                      << v.told.substr(0, 900) << std::endl;
        }
    }
    std::cout << table.text();
}
