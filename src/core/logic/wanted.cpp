// SPDX-License-Identifier: GPL-3.0-or-later
// What is wanted and what the drawer holds, from text and from networks.
#include <fmt/format.h>

#include <charconv>
#include <set>

#include "core/base/text.hpp"
#include "core/logic/minimise.hpp"

namespace grayrelic {

Result<DrawerItem> parse_drawer_item(std::string_view text) {
    std::vector<std::string_view> words;
    for (const auto w : split(text, ' '))
        if (!trim(w).empty()) words.push_back(trim(w));
    DrawerItem item;
    if (words.size() == 4 && (words[1] == "×" || words[1] == "x")) {
        const auto [end, code] =
            std::from_chars(words[0].data(), words[0].data() + words[0].size(), item.count);
        if (code != std::errc() || end != words[0].data() + words[0].size() || item.count < 1 ||
            item.count > 1000)
            return fail_usage(in_quotes(words[0]) + " packages", "a number from 1 to 1000");
        words.erase(words.begin(), words.begin() + 2);
    }
    if (words.size() != 2) return fail_usage(in_quotes(text), "N × PART FAMILY, such as 2 × 74x00 hct");
    item.part = std::string(words[0]);
    item.family = std::string(words[1]);
    return item;
}

std::string print_drawer_item(const DrawerItem& i) {
    return fmt::format("{} × {} {}", i.count, i.part, i.family);
}

Result<WantedLogic> wanted_from(const Network& network, Progress& progress) {
    const auto t = truth_table(network, progress);
    if (!t) return fail(t.error());
    if (t->inputs.size() > 6)
        return fail_usage(fmt::format("{} inputs", t->inputs.size()), "at most 6: hold some at a level");
    WantedLogic w;
    w.inputs = t->inputs;
    for (std::size_t o = 0; o < t->outputs.size(); ++o) {
        WantedLogic::Output out{t->outputs[o], 0, 0};
        for (std::size_t r = 0; r < t->rows.size(); ++r) {
            if (t->rows[r][o] == Level::one) out.ones |= 1ULL << r;
            if (t->rows[r][o] == Level::one || t->rows[r][o] == Level::zero) out.care |= 1ULL << r;
        }
        w.outputs.push_back(std::move(out));
    }
    return w;
}

Result<WantedLogic> wanted_from_text(std::string_view text, const std::string& name) {
    WantedLogic w;
    long line = 0;
    const auto words = [](std::string_view part) {
        std::vector<std::string_view> out;
        for (const auto a : split(part, ' '))
            if (!trim(a).empty()) out.push_back(trim(a));
        return out;
    };
    for (auto row : split(text, '\n')) {
        ++line;
        if (const auto hash = row.find('#'); hash != std::string_view::npos) row = row.substr(0, hash);
        if (trim(row).empty()) continue;
        const auto bar = row.find('|');
        if (bar == std::string_view::npos)
            return fail_at(name, line, in_quotes(trim(row)), "inputs | outputs");
        const auto left = words(row.substr(0, bar)), right = words(row.substr(bar + 1));
        if (w.outputs.empty()) {
            if (left.empty() || left.size() > 6 || right.empty() || right.size() > 8)
                return fail_at(name, line, in_quotes(trim(row)),
                               "1 to 6 inputs | 1 to 8 outputs as the heading");
            std::set<std::string_view> seen;
            for (const auto n : left) w.inputs.emplace_back(n);
            for (const auto n : right) w.outputs.push_back({std::string(n), 0, 0});
            for (const auto* list : {&left, &right})
                for (const auto n : *list)
                    if (n == "0" || n == "1" || !seen.insert(n).second)
                        return fail_at(name, line, in_quotes(n), "each name once");
            continue;
        }
        if (left.size() != w.inputs.size() || right.size() != w.outputs.size())
            return fail_at(name, line, in_quotes(trim(row)),
                           fmt::format("{} inputs | {} outputs", w.inputs.size(), w.outputs.size()));
        for (std::uint64_t r = 0; r < (1ULL << w.inputs.size()); ++r) {
            bool mine = true;
            for (std::size_t i = 0; i < left.size(); ++i) {
                const bool one = ((r >> (w.inputs.size() - 1 - i)) & 1U) != 0;
                if (left[i] != "0" && left[i] != "1" && left[i] != "-")
                    return fail_at(name, line, in_quotes(left[i]), "0, 1 or -");
                mine = mine && (left[i] == "-" || (left[i] == "1") == one);
            }
            for (std::size_t o = 0; o < right.size() && mine; ++o) {
                if (right[o] != "0" && right[o] != "1" && right[o] != "x")
                    return fail_at(name, line, in_quotes(right[o]), "0, 1 or x");
                auto& out = w.outputs[o];
                const auto bit = 1ULL << r;
                if (right[o] == "x") continue;
                if ((out.care & bit) != 0 && ((out.ones & bit) != 0) != (right[o] == "1"))
                    return fail_at(name, line, "a row that contradicts one above",
                                   "each setting of the inputs once");
                out.care |= bit;
                if (right[o] == "1") out.ones |= bit;
            }
        }
    }
    if (w.outputs.empty()) return fail_at(name, 1, "no table", "a heading \"a b | y\" and rows");
    return w;
}

}  // namespace grayrelic
