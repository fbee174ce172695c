// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/record/cover_study.hpp"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <set>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

bool holds_name(const std::vector<std::string>& list, const std::string& name) {
    return std::find(list.begin(), list.end(), name) != list.end();
}

bool glitches(TrialOutcome o) {
    return o == TrialOutcome::partly || o == TrialOutcome::fails;
}

ItemState state_of(const CoverItem& item) {
    ItemState out;
    out.item = &item;
    const CoverSaid* own = nullptr;
    const CoverSaid* others = nullptr;
    for (const auto& s : item.said) {
        if (s.outcome == TrialOutcome::not_said) continue;
        (s.source.empty() ? own : others) = &s;
    }
    const auto* counts = own != nullptr ? own : others;
    if (counts == nullptr) return out;
    out.outcome = counts->outcome;
    out.source = counts->source;
    for (const auto& s : item.said) {
        if (s.outcome == TrialOutcome::not_said || s.outcome == out.outcome) continue;
        // An older word of the same source was overtaken.
        if (s.source == counts->source) continue;
        out.says_otherwise.push_back(
            fmt::format("{}: {}", s.source.empty() ? "own bench" : s.source, word(s.outcome)));
    }
    return out;
}

constexpr std::size_t most_suspects = 24, most_together = 3, most_sets = 20;

/// Sets of `size` functions, each behind one glitch at least, that leave none.
void find_sets(const std::vector<const FunctionState*>& suspects, const std::set<std::string>& glitching,
               std::size_t size, std::size_t from, std::vector<const FunctionState*>& chosen,
               std::vector<std::vector<std::string>>& out) {
    if (out.size() >= most_sets) return;
    if (chosen.size() == size) {
        std::set<std::string> behind;
        for (const auto* f : chosen) behind.insert(f->glitches_in.begin(), f->glitches_in.end());
        if (behind != glitching) return;
        std::vector<std::string> names;
        names.reserve(chosen.size());
        for (const auto* f : chosen) names.push_back(f->name);
        out.push_back(std::move(names));
        return;
    }
    for (std::size_t i = from; i < suspects.size(); ++i) {
        chosen.push_back(suspects[i]);
        find_sets(suspects, glitching, size, i + 1, chosen, out);
        chosen.pop_back();
    }
}

/// Items, the one that shows most of what is still to be shown first; those that work or were not tried.
std::vector<std::string> least_list(const CoverStudy& study) {
    std::set<std::string> to_show;
    for (const auto& f : study.functions) to_show.insert(f.name);
    std::vector<std::string> out;
    while (!to_show.empty()) {
        const CoverItem* best = nullptr;
        long most = 0;
        for (const auto& s : study.items) {
            const long shows = std::count_if(s.item->uses.begin(), s.item->uses.end(),
                                             [&](const std::string& f) { return to_show.count(f) != 0; });
            if (shows > most) {
                most = shows;
                best = s.item;
            }
        }
        if (best == nullptr) break;
        out.push_back(best->id);
        for (const auto& f : best->uses) to_show.erase(f);
    }
    // What the others show too is not needed.
    for (std::size_t i = 0; i < out.size();) {
        std::set<std::string> rest;
        for (const auto& s : study.items)
            if (s.item->id != out[i] && holds_name(out, s.item->id))
                rest.insert(s.item->uses.begin(), s.item->uses.end());
        const auto mine = std::find_if(study.items.begin(), study.items.end(),
                                       [&](const ItemState& s) { return s.item->id == out[i]; });
        const bool spare = std::all_of(mine->item->uses.begin(), mine->item->uses.end(),
                                       [&](const std::string& f) { return rest.count(f) != 0; });
        if (spare)
            out.erase(out.begin() + static_cast<std::ptrdiff_t>(i));
        else
            ++i;
    }
    return out;
}

/// The untried item that uses some of the suspects and not the others.
void choose_next(CoverStudy& study, const std::vector<std::string>& suspects) {
    std::size_t best = 0;
    for (const auto& s : study.items) {
        if (s.outcome != TrialOutcome::not_said) continue;
        std::size_t uses = 0, spares = 0;
        for (const auto& f : suspects) {
            uses += holds_name(s.item->uses, f) ? 1 : 0;
            spares += holds_name(s.item->spares, f) ? 1 : 0;
        }
        const auto tells = suspects.size() == 1 ? uses : std::min(uses, spares);
        if (tells <= best) continue;
        best = tells;
        study.next = s.item->id;
    }
}

}  // namespace

CoverStudy study_cover(const std::vector<CoverItem>& items) {
    CoverStudy out;
    for (const auto& i : items) out.items.push_back(state_of(i));
    std::set<std::string> glitching;
    for (const auto& s : out.items) {
        if (glitches(s.outcome)) glitching.insert(s.item->id);
        for (const auto& name : s.item->uses) {
            auto at = std::find_if(out.functions.begin(), out.functions.end(),
                                   [&](const FunctionState& f) { return f.name == name; });
            if (at == out.functions.end()) at = out.functions.insert(at, {name, {}, {}, {}, false});
            auto& list = s.outcome == TrialOutcome::works ? at->works_in
                         : glitches(s.outcome)            ? at->glitches_in
                                                          : at->untried_in;
            if (!holds_name(list, s.item->id)) list.push_back(s.item->id);
        }
    }
    out.shows_all = least_list(out);
    if (glitching.empty()) return out;
    std::vector<const FunctionState*> suspects;
    std::set<std::string> explained;
    for (auto& f : out.functions) {
        if (!f.works_in.empty() || f.glitches_in.empty()) continue;
        f.missing_one = f.glitches_in.size() == glitching.size();
        if (f.missing_one) out.common.push_back(f.name);
        if (suspects.size() < most_suspects) suspects.push_back(&f);
        explained.insert(f.glitches_in.begin(), f.glitches_in.end());
    }
    for (const auto& id : glitching)
        if (explained.count(id) == 0) out.unexplained.push_back(id);
    std::vector<std::string> names = out.common;
    if (out.common.empty() && !explained.empty())
        for (std::size_t size = 2; size <= most_together && out.together.empty(); ++size) {
            std::vector<const FunctionState*> chosen;
            find_sets(suspects, explained, size, 0, chosen, out.together);
        }
    if (names.empty())
        for (const auto* f : suspects) names.push_back(f->name);
    choose_next(out, names);
    const auto n = static_cast<long long>(glitching.size());
    if (out.common.size() == 1)
        out.why = fmt::format("{} is used by all {} and by nothing that works.", out.common.front(),
                              plural(n, "item that glitches", "items that glitch"));
    else if (!out.common.empty())
        out.why =
            fmt::format("{} are each used by all {} and by nothing that works: these can't be told apart.",
                        fmt::join(out.common, ", "), plural(n, "item that glitches", "items that glitch"));
    else if (!out.together.empty())
        out.why = fmt::format("No one function is behind all {}; together {} would be.",
                              plural(n, "glitch", "glitches"), fmt::join(out.together.front(), " and "));
    else
        out.why = "What glitches uses nothing that is not seen to work elsewhere.";
    if (!out.unexplained.empty())
        out.why += fmt::format(" {} glitches though all that it is known to use works elsewhere.",
                               fmt::join(out.unexplained, ", "));
    return out;
}

}  // namespace grayrelic
