// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/record/search.hpp"

#include <algorithm>
#include <map>

#include "core/base/text.hpp"
#include "core/record/dossier_lines.hpp"

namespace grayrelic {
namespace {

std::string small(std::string_view text) {
    std::string out(text);
    for (auto& c : out)
        if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
    return out;
}

/// What is told of a thing beside its day: the first texts of it.
constexpr std::size_t most_told = 3, longest_told = 160;

}  // namespace

std::vector<SearchHit> search(const Dossier& dossier, std::string_view text) {
    const auto wanted = small(trim(text));
    if (wanted.empty()) return {};
    const auto words = split(wanted, ' ');
    std::vector<SearchHit> whole, rest;
    for (const auto& line : dossier_lines(dossier)) {
        const auto what = print(line.path);
        const auto value = small(line.value);
        const auto all = small(line.section) + " " + small(what) + " " + value;
        const bool found = std::all_of(words.begin(), words.end(),
                                       [&](std::string_view w) { return all.find(w) != std::string::npos; });
        if (!found) continue;
        auto& into = value.find(wanted) != std::string::npos ? whole : rest;
        if (into.size() < most_search_hits)
            into.push_back({line.section, stage_of_section(line.section), what, line.value, line.day});
    }
    for (auto& hit : rest)
        if (whole.size() < most_search_hits) whole.push_back(std::move(hit));
    return whole;
}

std::vector<DatedEvent> time_line(const Dossier& dossier) {
    const auto lines = dossier_lines(dossier);
    // What is told of a thing: its texts that are no days.
    std::map<std::pair<std::string, std::string>, std::string> told;
    std::map<std::pair<std::string, std::string>, std::size_t> pieces;
    for (const auto& line : lines) {
        if (line.is_day || line.entry.empty() || line.path.back() == "id") continue;
        const std::pair key{line.section, line.entry};
        if (pieces[key]++ >= most_told) continue;
        auto& text = told[key];
        text += (text.empty() ? "" : "; ") + shortened(line.value, longest_told / most_told);
    }
    std::vector<DatedEvent> out;
    for (const auto& line : lines) {
        if (line.day.empty()) continue;
        DatedEvent event{line.day, line.section, stage_of_section(line.section), line.entry, {}};
        if (line.is_day) {
            event.says = line.path.back();
            const auto at = told.find({line.section, line.entry});
            if (at != told.end()) event.says += ": " + at->second;
            if (line.entry.empty()) event.what = print(line.path);
        } else {
            event.what = print(line.path);
            event.says = line.value;
        }
        out.push_back(std::move(event));
    }
    std::stable_sort(out.begin(), out.end(),
                     [](const DatedEvent& a, const DatedEvent& b) { return a.day < b.day; });
    return out;
}

}  // namespace grayrelic
