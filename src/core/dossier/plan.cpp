// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/plan.hpp"

#include <algorithm>
#include <map>

namespace grayrelic {

std::vector<std::string> circle_in(const std::vector<PlanTask>& tasks) {
    std::map<std::string, const PlanTask*> by_name;
    for (const auto& t : tasks) by_name[t.id] = &t;
    // What is left when again and again those are taken out that wait for nothing that is left.
    auto left = by_name;
    for (bool taken = true; taken;) {
        taken = false;
        for (auto it = left.begin(); it != left.end();) {
            const auto& after = it->second->after;
            const bool waits =
                std::any_of(after.begin(), after.end(), [&](const auto& a) { return left.contains(a); });
            it = waits ? std::next(it) : left.erase(it);
            taken = taken || !waits;
        }
    }
    if (left.empty()) return {};
    // Each of these waits for another one of them: following that ends in a circle.
    std::vector<std::string> path;
    auto at = left.begin()->first;
    while (std::find(path.begin(), path.end(), at) == path.end()) {
        path.push_back(at);
        for (const auto& a : left.at(at)->after)
            if (left.contains(a)) {
                at = a;
                break;
            }
    }
    path.erase(path.begin(), std::find(path.begin(), path.end(), at));
    return path;
}

}  // namespace grayrelic
