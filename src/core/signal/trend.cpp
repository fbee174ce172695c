// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/trend.hpp"

#include <cmath>

namespace grayrelic {

Trend trend_of(std::span<const Interval> intervals) {
    Trend out;
    out.n = intervals.size();
    if (out.n < 3) return out;
    // About the first time and length, so that small differences of large numbers keep their digits.
    const auto t0 = intervals.front().from;
    const auto y0 = intervals.front().length();
    const auto n = static_cast<double>(out.n);
    double st = 0, sy = 0;
    for (const auto& i : intervals) {
        st += (i.from - t0).seconds();
        sy += (i.length() - y0).seconds();
    }
    const double mt = st / n, my = sy / n;
    double stt = 0, sty = 0, syy = 0, next = 0;
    for (std::size_t k = 0; k < out.n; ++k) {
        const double t = (intervals[k].from - t0).seconds() - mt,
                     y = (intervals[k].length() - y0).seconds() - my;
        stt += t * t;
        sty += t * y;
        syy += y * y;
        if (k > 0) {
            const double d = (intervals[k].length() - intervals[k - 1].length()).seconds();
            next += d * d;
        }
    }
    out.mean_s = my + y0.seconds();
    out.drift = stt > 0 ? sty / stt : 0;
    const double about = std::max(0.0, syy - out.drift * sty);
    out.scatter_s = std::sqrt(about / (n - 2));
    out.drift_error = stt > 0 ? out.scatter_s / std::sqrt(stt) : 0;
    out.neighbour_s = std::sqrt(next / (n - 1));
    return out;
}

}  // namespace grayrelic
