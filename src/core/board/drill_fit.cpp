// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/drill_fit.hpp"

#include <cmath>
#include <map>

namespace grayrelic {

std::optional<DrillOptions::Digits> fitting_digits(std::string_view text, const std::string& name,
                                                   const DrillFile& as_it_is, const HoleFit& fit) {
    std::optional<DrillOptions::Digits> best;
    double most = 0.5;
    for (const bool leading : {false, true}) {
        if (as_it_is.leading_kept && *as_it_is.leading_kept != leading) continue;
        for (const auto& [whole, decimals] :
             {std::pair(2, 4), {3, 3}, {4, 2}, {2, 3}, {3, 2}, {4, 4}, {3, 4}, {2, 5}, {4, 3}, {3, 5}}) {
            DrillOptions options;
            options.digits = DrillOptions::Digits{whole, decimals, leading};
            const auto read = read_drill(text, name, options);
            const auto share = read ? fit.share(*read) : std::nullopt;
            if (!share || *share <= most) continue;
            most = *share;
            best = options.digits;
        }
    }
    return best;
}

DrillFile holes_of_layer(const GerberLayer& layer, bool plated) {
    DrillFile out;
    out.plated = plated;
    out.inch = layer.inch;
    std::map<long, std::uint32_t> tools;
    for (const auto& o : layer.objects) {
        if (!o.dark || o.kind == GerberObject::Kind::region) continue;
        const double size = layer.apertures[o.aperture].least() * layer.turns[o.turn].scale;
        if (size <= 0) continue;
        const auto [it, fresh] =
            tools.emplace(std::lround(size), static_cast<std::uint32_t>(out.tools.size()));
        if (fresh)
            out.tools.push_back({static_cast<int>(out.tools.size()) + 1, size,
                                 layer.apertures[o.aperture].function, plated, o.line});
        DrillHole h;
        h.diameter = size;
        h.plated = plated;
        h.tool = it->second;
        h.line = o.line;
        h.way = {o.kind == GerberObject::Kind::flash ? o.to : o.from};
        if (o.kind == GerberObject::Kind::line && !(o.from == o.to)) h.way.push_back(o.to);
        if (o.kind == GerberObject::Kind::arc) {
            const auto points = arc_points(o.from, o.to, o.middle, o.clockwise);
            h.way.insert(h.way.end(), points.begin(), points.end());
        }
        out.holes.push_back(std::move(h));
    }
    return out;
}

}  // namespace grayrelic
