// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/port/contact_map.hpp"

#include <algorithm>
#include <cmath>

namespace grayrelic {
namespace {

constexpr double reach_share = 0.35;

}  // namespace

Place moved(Place p, const Motion& m) {
    return {(m.mirror_x ? -p.x_mm : p.x_mm) + m.dx_mm, (m.mirror_y ? -p.y_mm : p.y_mm) + m.dy_mm};
}

Landing land(const Connector& upper, const Connector& lower, const Motion& motion) {
    const double reach = reach_share * std::min(upper.pitch_mm(), lower.pitch_mm());
    struct Pair {
        double distance;
        std::size_t upper, lower;
    };
    std::vector<Pair> pairs;
    for (std::size_t i = 0; i < upper.contacts.size(); ++i) {
        const auto at = moved(upper.contacts[i].place(), motion);
        for (std::size_t j = 0; j < lower.contacts.size(); ++j) {
            const double d = std::hypot(at.x_mm - lower.contacts[j].x_mm, at.y_mm - lower.contacts[j].y_mm);
            if (d < reach) pairs.push_back({d, i, j});
        }
    }
    std::stable_sort(pairs.begin(), pairs.end(),
                     [](const Pair& a, const Pair& b) { return a.distance < b.distance; });
    Landing out(upper.contacts.size());
    std::vector<bool> taken(lower.contacts.size());
    for (const auto& p : pairs) {
        if (out[p.upper] || taken[p.lower]) continue;
        out[p.upper] = p.lower;
        taken[p.lower] = true;
    }
    return out;
}

std::size_t landed(const Landing& landing) {
    return static_cast<std::size_t>(
        std::count_if(landing.begin(), landing.end(), [](const auto& l) { return l.has_value(); }));
}

}  // namespace grayrelic
