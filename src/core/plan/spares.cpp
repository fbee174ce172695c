// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/plan/spares.hpp"

#include <boost/math/distributions/binomial.hpp>

namespace grayrelic {

double chance_of_enough(int need, int bought, double yield) {
    if (need <= 0) return 1;
    if (bought < need) return 0;
    if (yield >= 1) return 1;
    const boost::math::binomial_distribution<> good(bought, yield);
    return boost::math::cdf(boost::math::complement(good, need - 1));
}

int spares(int need, double yield) {
    constexpr int most = 1'000'000;
    if (need <= 0 || yield >= 1) return 0;
    const auto enough = [&](int s) { return chance_of_enough(need, need + s, yield) >= enough_chance; };
    int above = 1;
    while (above < most && !enough(above)) above *= 2;
    if (above >= most) return most;
    if (enough(0)) return 0;
    int below = 0;  // not enough; above is
    while (above - below > 1) {
        const int middle = below + (above - below) / 2;
        (enough(middle) ? above : below) = middle;
    }
    return above;
}

}  // namespace grayrelic
