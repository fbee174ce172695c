// SPDX-License-Identifier: GPL-3.0-or-later
// What the files that make an Analysis share. For them only.
#pragma once

#include <algorithm>
#include <memory>
#include <vector>

#include "core/analysis/analysis.hpp"

namespace grayrelic::analysing {

template <class T, class Match>
auto find_in(const std::vector<std::shared_ptr<const T>>& list, Match match) -> const T* {
    const auto it = std::find_if(list.begin(), list.end(), [&](const auto& p) { return match(*p); });
    return it == list.end() ? nullptr : it->get();
}

/// The result of before whose inputs are the same; null when there is none.
template <class T, class Match>
std::shared_ptr<const T> keep(const std::vector<std::shared_ptr<const T>>* list, Match match) {
    if (list == nullptr) return nullptr;
    const auto it = std::find_if(list->begin(), list->end(), [&](const auto& p) { return match(*p); });
    return it == list->end() ? nullptr : *it;
}

/// In analyse_timing.cpp: contract, tasks, options, networks, clocks, budgets and golden pairs. Captures
/// stand already; `captures_same` says that they are those of `before`. Fails only when cancelled.
[[nodiscard]] Status analyse_timing(Analysis& a, const Analysis* before, bool captures_same,
                                    Progress& progress);

}  // namespace grayrelic::analysing
