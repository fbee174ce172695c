// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/unseen/links.hpp"

#include <algorithm>
#include <cmath>

namespace grayrelic::unseen {

double Dice::log(double low, double high) {
    return low * std::pow(high / low, unit());
}

double Dice::bell() {
    for (;;) {
        const double u = unit(), v = unit();
        const double z = std::sqrt(-2 * std::log(1 - u)) * std::cos(6.283185307179586 * v);
        if (std::abs(z) <= 3) return z;
    }
}

bool Wire::level_at(std::int64_t t) const {
    const auto n = std::upper_bound(edges.begin(), edges.end(), t) - edges.begin();
    return first != (n % 2 != 0);
}

void Wire::set(double t_ps, bool high) {
    if (high == level()) return;
    auto t = static_cast<std::int64_t>(std::llround(t_ps));
    if (!edges.empty()) t = std::max(t, edges.back() + 1);
    edges.push_back(std::max<std::int64_t>(t, 1));
}

Wire& Draft::wire(const std::string& name, bool rests) {
    made.wires.push_back({name, rests, {}});
    return made.wires.back();
}

namespace {

/// As a recorder sees it that looks once in a period: an edge shows at the next look, a pulse between two
/// looks not at all.
void sample(Made& m) {
    if (m.sample <= 0) return;
    for (auto& w : m.wires) {
        std::vector<std::int64_t> seen;
        for (const auto t : w.edges) {
            const auto at = (t + m.sample - 1) / m.sample * m.sample;
            if (!seen.empty() && seen.back() == at)
                seen.pop_back();
            else
                seen.push_back(at);
        }
        w.edges = std::move(seen);
    }
}

void shuffle(Draft& d) {
    auto& w = d.made.wires;
    for (std::size_t i = w.size(); i > 1; --i)
        std::swap(w[i - 1], w[static_cast<std::size_t>(d.dice.whole(0, static_cast<long>(i) - 1))]);
}

void draw_link(Draft& d, const std::string& kind) {
    if (kind == "async-serial") return async_serial(d);
    if (kind == "latch-shift") return latch_shift(d);
    if (kind == "select-bank") return select_bank(d);
    if (kind == "pulse-width") return pulse_width(d);
    if (kind == "framed-clock") return framed_clock(d);
    if (kind == "clocked") return clocked(d);
    if (kind == "quadrature") return quadrature(d);
    if (kind == "strobed-bus") return strobed_bus(d);
    if (kind == "matrix") return matrix(d);
    if (kind == "usb-low-full") return usb_low_full(d);
    nonsense(d);
}

}  // namespace

const std::vector<std::string>& kinds() {
    static const std::vector<std::string> all = {"async-serial", "latch-shift",  "select-bank", "pulse-width",
                                                 "framed-clock", "clocked",      "quadrature",  "strobed-bus",
                                                 "matrix",       "usb-low-full", "nonsense"};
    return all;
}

void finish(Draft& d) {
    double shortest = 1e18;
    std::int64_t end = 0;
    for (const auto& w : d.made.wires) {
        for (std::size_t i = 1; i < w.edges.size(); ++i)
            shortest = std::min(shortest, static_cast<double>(w.edges[i] - w.edges[i - 1]));
        if (!w.edges.empty()) end = std::max(end, w.edges.back());
    }
    // A family that says its shortest pulse knows it better than jitter does.
    d.made.shortest = std::max(d.made.shortest, shortest < 1e17 ? shortest : 1e6);
    d.made.end =
        std::max(end + static_cast<std::int64_t>(20 * d.made.shortest), static_cast<std::int64_t>(d.now));
    clutter(d, static_cast<int>(std::max(0L, d.dice.whole(-4, 12))));
    if (d.dice.chance(0.6))
        d.made.sample =
            std::max<std::int64_t>(1, static_cast<std::int64_t>(d.made.shortest / d.dice.log(5, 50)));
    sample(d.made);
    shuffle(d);
}

Made make(std::uint64_t seed, const std::string& wanted) {
    Draft d(seed * 0x9E3779B97F4A7C15ULL + 0x2545F4914F6CDD1DULL);
    d.made.seed = seed;
    const auto kind = wanted.empty() ? kinds()[seed % kinds().size()] : wanted;
    draw_link(d, kind);
    // Sometimes another link beside it, at its own pace, in the same recording.
    if (kind != "nonsense" && d.dice.chance(0.2)) {
        const auto& other = kinds()[static_cast<std::size_t>(d.dice.whole(0, 9))];
        if (other != kind) {
            const double until = std::max(d.now, static_cast<double>(d.made.end)), pulse = d.made.shortest;
            const auto about = d.made.about;
            d.now = 0;
            d.made.shortest = 0;
            draw_link(d, other);
            d.now = std::max(d.now, until);
            d.made.shortest = pulse > 0 && d.made.shortest > 0 ? std::min(pulse, d.made.shortest) : 0;
            d.made.about = about + "; beside it " + other + " " + d.made.about;
        }
    }
    finish(d);
    return std::move(d.made);
}

}  // namespace grayrelic::unseen
