// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/clock_explain.hpp"

#include "core/base/long_work.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <bit>
#include <cmath>

#include "core/base/quantity.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_candidates = 200;

double power_bits(int k) {
    return k == 0 ? 0.0 : 1.0 + 0.15 * k;
}

}  // namespace

DividerChain divider_chain(long long divide) {
    DividerChain best;
    best.bits = 1e9;
    if (divide < 1) return {};
    const auto offer = [&](double bits, std::string text) {
        if (bits < best.bits) best = {std::move(text), bits};
    };
    if (divide == 1) return {"undivided", 0.0};
    int twos = std::countr_zero(static_cast<unsigned long long>(divide));
    for (int k = 0; k <= twos; ++k) {
        const long long rest = divide >> k;
        const auto prescaler = k == 0 ? std::string() : fmt::format("÷ {} ", 1LL << k);
        if (rest == 1) {
            offer(power_bits(k), fmt::format("÷ {}", divide));
            continue;
        }
        // Decimal counters: the rest is 10, 100, … or 5 of one.
        long long ten = rest;
        int tens = 0;
        while (ten % 10 == 0) {
            ten /= 10;
            ++tens;
        }
        if (ten == 1) offer(power_bits(k) + 2.0 + 0.8 * tens, prescaler + fmt::format("÷ {}", rest));
        if (tens > 0 && ten > 1 && ten <= 256)
            offer(power_bits(k) + 2.0 + 0.8 * tens + 3.0 + std::log2(static_cast<double>(ten)),
                  prescaler + fmt::format("÷ {} ÷ {}", rest / ten, ten));
        // One preset counter; up to 16 a single common chip does it.
        if (rest <= 65'536)
            offer(power_bits(k) + (rest <= 16 ? 1.5 : 3.0) + std::log2(static_cast<double>(rest)),
                  prescaler + fmt::format("÷ {}", rest));
    }
    return best.bits > 1e8 ? DividerChain{} : best;
}

Result<ClockExplanation> explain_clock(double rate, double within_ppm,
                                       const std::vector<ClockSource>& sources,
                                       std::optional<double> uncertainty_ppm) {
    long_work("explain_clock");
    if (!(rate > 0.0 && rate <= 1e10))
        return fail_usage(fmt::format("a rate of {}", print_number(rate, Unit::hertz)),
                          "a rate above 0, at most 10 GHz");
    if (!(within_ppm > 0.0 && within_ppm <= 50'000))
        return fail_usage(fmt::format("within {} ppm", within_ppm), "above 0, at most 50000 ppm");
    const double u = std::max(0.1, uncertainty_ppm.value_or(within_ppm / 2.0));
    ClockExplanation out;
    struct Weighed {
        ClockCandidate c;
        double weight;
    };
    std::vector<Weighed> all;
    const double w = within_ppm * 1e-6;
    for (const auto& s : sources) {
        const double low = s.hz / (rate * (1.0 + w)), high = s.hz / (rate * (1.0 - w));
        if (high < 1.0 || low > 1e8) continue;
        const auto from = static_cast<long long>(std::max(1.0, std::ceil(low - 1e-9))),
                   to = static_cast<long long>(std::floor(high + 1e-9));
        // So slow a rate against so wide a tolerance fits thousands of divisors: near ones first, and no
        // more.
        constexpr long long most = 4000;
        const long long middle = std::llround(s.hz / rate);
        const long long first = std::max(from, middle - most / 2), last = std::min(to, middle + most / 2);
        const double sigma = std::hypot(u, s.tolerance_ppm / 2.0);
        for (long long d = first; d <= last; ++d) {
            const auto chain = divider_chain(d);
            if (chain.text.empty()) continue;
            const double hz = s.hz / static_cast<double>(d);
            const double error = (hz / rate - 1.0) * 1e6;
            if (std::abs(error) > within_ppm) continue;
            const double z = error / sigma;
            all.push_back({{s.name, s.hz, d, chain.text, hz, error, 0.0},
                           s.weight * std::exp2(-chain.bits) * std::exp(-0.5 * z * z) / sigma});
        }
    }
    std::stable_sort(all.begin(), all.end(),
                     [](const Weighed& a, const Weighed& b) { return a.weight > b.weight; });
    double sum = 0;
    for (const auto& c : all) sum += c.weight;
    // A chain of twenty bits that nobody listed and that fits perfectly.
    const double unknown = std::exp2(-20.0) / std::max(u, 25.0);
    for (std::size_t i = 0; i < std::min(all.size(), most_candidates); ++i) {
        all[i].c.score = all[i].weight / (sum + unknown);
        out.candidates.push_back(all[i].c);
    }
    if (out.candidates.empty()) return out;
    const double best = out.candidates.front().score;
    while (out.alike < out.candidates.size() && out.candidates[out.alike].score > best / 20.0) ++out.alike;
    if (out.alike < 2) return out;
    double gap = 0;
    for (std::size_t i = 1; i < out.alike; ++i)
        gap = std::max(gap, std::abs(out.candidates[i].error_ppm - out.candidates[0].error_ppm));
    double least = gap;
    for (std::size_t i = 1; i < out.alike; ++i)
        if (const double d = std::abs(out.candidates[i].error_ppm - out.candidates[0].error_ppm); d > 1.0)
            least = std::min(least, d);
    if (gap <= 1.0)
        out.advice =
            "They give the same rate: only a look at the board, or a second rate from the same clock, can "
            "tell.";
    else if (uncertainty_ppm && *uncertainty_ppm <= least / 2.0)
        out.advice = fmt::format(
            "The rate is known to ± {} ppm already; the sources themselves differ by more. Look for the "
            "crystal, or "
            "for a second rate from the same clock, to tell the first from the next.",
            *uncertainty_ppm >= 20.0 ? fmt::format("{:.0f}", *uncertainty_ppm)
                                     : fmt::format("{:.3g}", *uncertainty_ppm));
    else
        out.advice = fmt::format(
            "Measure the rate to ± {} ppm, or look for the crystal, to tell the first from the next.",
            least >= 20.0 ? fmt::format("{:.0f}", least / 2.0) : fmt::format("{:.1f}", least / 2.0));
    return out;
}

}  // namespace grayrelic
