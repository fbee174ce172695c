// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/reach.hpp"

#include <algorithm>
#include <cmath>
#include <set>

namespace grayrelic {

std::map<std::string, StandingPart> standing_parts(const BoardPads& pads) {
    std::map<std::string, StandingPart> out;
    for (const auto& p : pads) {
        auto& s = out[p.ref];
        s.box.add(p.at);
        s.front = s.front || p.side != PadSide::bottom;
        s.back = s.back || p.side == PadSide::bottom;
    }
    return out;
}

std::vector<PartBody> bodies_of(const BoardPads& pads, const std::map<std::string, std::string>& packages_of,
                                const PackageLibrary& packages, const std::vector<std::string>& on_back) {
    std::vector<PartBody> out;
    for (const auto& [ref, s] : standing_parts(pads)) {
        const auto it = packages_of.find(ref);
        const auto package = it == packages_of.end() ? std::nullopt : packages.find(it->second);
        if (!package) continue;
        // Where the data's contacts reach farther across than along and the board's do not, it is turned.
        double wide = 0, high = 0;
        for (const auto& a : pads_of(*package))
            for (const auto& b : pads_of(*package)) {
                wide = std::max(wide, std::abs(a.x - b.x));
                high = std::max(high, std::abs(a.y - b.y));
            }
        double across = package->size.width, up = package->size.length;
        const bool turned =
            std::abs(wide - high) > 0.01 && (wide > high) != (to_mm(s.box.width()) > to_mm(s.box.height()));
        if (turned) std::swap(across, up);
        const BoardXY m{(s.box.left + s.box.right) / 2, (s.box.bottom + s.box.top) / 2};
        PartBody b;
        b.ref = ref;
        b.box = {m.x - from_mm(across / 2), m.y - from_mm(up / 2), m.x + from_mm(across / 2),
                 m.y + from_mm(up / 2)};
        b.back = std::find(on_back.begin(), on_back.end(), ref) != on_back.end() || s.behind();
        b.height_mm = package->shape->height;
        out.push_back(std::move(b));
    }
    return out;
}

std::vector<CoveredJoint> covered_joints(const BoardPads& pads, const std::vector<PartBody>& bodies,
                                         double iron_mm) {
    std::map<std::string, bool> stands_behind;
    for (const auto& b : bodies) stands_behind[b.ref] = b.back;
    std::vector<CoveredJoint> out;
    std::set<std::pair<std::string, std::string>> said;
    for (const auto& p : pads) {
        const auto own = stands_behind.find(p.ref);
        const bool behind = own != stands_behind.end() ? own->second : p.side == PadSide::bottom;
        const bool joint_behind = p.side == PadSide::both ? !behind : p.side == PadSide::bottom;
        for (const auto& b : bodies) {
            if (b.ref == p.ref || b.back != joint_behind) continue;
            const auto over = b.box.grown(from_mm(iron_mm));
            if (!over.holds(p.at)) continue;
            if (said.emplace(p.point(), b.ref).second) out.push_back({p.ref, p.pin, b.ref, p.at});
        }
    }
    return out;
}

}  // namespace grayrelic
