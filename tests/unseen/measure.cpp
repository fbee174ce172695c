// SPDX-License-Identifier: GPL-3.0-or-later
// Prints the table: unseen_links [HOW-MANY] [FIRST-SEED] [KIND] [-v]
#include <cstdlib>
#include <iostream>
#include <string>

#include "tests/unseen/judge.hpp"

int main(int count, char** words) {
    using namespace grayrelic::unseen;
    std::vector<std::string> args(words + 1, words + count);
    const bool tells = !args.empty() && args.back() == "-v";
    if (tells) args.pop_back();
    const unsigned long long many = args.empty() ? 2000 : std::stoull(args[0]);
    const unsigned long long first = args.size() > 1 ? std::stoull(args[1]) : 1;
    const std::string kind = args.size() > 2 ? args[2] : "";
    Table table;
    for (auto seed = first; seed < first + many; ++seed) {
        const auto made = make(seed, kind);
        const auto j = judge(made);
        table.add(j);
        if (tells && (!j.roles || !j.all_links || !j.wrong.empty()))
            std::cout << seed << " " << j.kind << " (" << made.about << ", " << made.wires.size()
                      << " lines, " << (made.sample == 0 ? "exact" : "sampled")
                      << "): " << (j.roles ? "" : "NOT FIRST ") << (j.all_links ? "" : "NOT ALL ") << j.wrong
                      << "\n";
    }
    std::cout << table.text();
}
