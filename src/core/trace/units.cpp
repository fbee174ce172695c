// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/units.hpp"

#include <algorithm>
#include <map>

namespace grayrelic {

std::string shown_unit(const Dossier& d) {
    if (d.find_unit(d.trace->unit) != nullptr) return d.trace->unit;
    std::map<std::string_view, long> many;
    for (const auto& r : *d.readings)
        if (!r.unit.empty()) ++many[r.unit];
    std::string_view best;
    long most = 0;
    for (const auto& r : *d.readings)
        if (const auto at = many.find(r.unit); at != many.end() && at->second > most)
            best = r.unit, most = at->second;
    return std::string(best);
}

bool counts_for(std::string_view unit, std::string_view shown) {
    return unit.empty() || shown.empty() || unit == shown;
}

UnitsNamed units_named(const std::vector<MeterReading>& readings) {
    UnitsNamed out;
    for (const auto& r : readings) {
        if (!r.set_aside.empty()) continue;
        if (r.unit.empty())
            ++out.without;
        else if (std::find(out.units.begin(), out.units.end(), r.unit) == out.units.end())
            out.units.push_back(r.unit);
    }
    return out;
}

std::vector<UnitDifference> compare_units(const std::vector<MeterReading>& readings, const NetState& nets,
                                          const PointTable& points, double beep_below_ohm,
                                          std::string_view shown) {
    std::vector<UnitDifference> out;
    for (std::size_t i = 0; i < readings.size() && out.size() < most_unit_differences; ++i) {
        const auto& r = readings[i];
        if (!r.set_aside.empty() || counts_for(r.unit, shown)) continue;
        const int a = points.find(r.a), b = points.find(r.b);
        const auto known = static_cast<int>(nets.net_of.size());
        if (a < 0 || b < 0 || a >= known || b >= known) continue;
        const int m = nets.net_of[static_cast<std::size_t>(a)], n = nets.net_of[static_cast<std::size_t>(b)];
        const auto there = says(r, beep_below_ohm);
        const bool otherwise = there == Says::joined ? m != n && nets.separated(m, n) : m == n;
        if (otherwise) out.push_back({r.unit, static_cast<int>(i), there});
    }
    return out;
}

}  // namespace grayrelic
