// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/settings.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"

namespace grayrelic {

Result<std::optional<long>> whole_setting(const std::optional<std::string>& text, const char* name, long low,
                                          long high) {
    if (!text) return std::optional<long>{};
    long value = 0;
    const auto [p, code] = std::from_chars(text->data(), text->data() + text->size(), value);
    if (code != std::errc{} || p != text->data() + text->size() || value < low || value > high)
        return fail_usage(std::string(name) + " " + in_quotes(*text),
                          fmt::format("auto or a whole number from {} to {}", low, high));
    return std::optional(value);
}

Result<std::optional<Time>> time_setting(const std::optional<std::string>& text, const char* name) {
    if (!text) return std::optional<Time>{};
    const auto t = parse_time(*text);
    if (!t || *t <= Time{})
        return fail_usage(std::string(name) + " " + in_quotes(*text),
                          "auto or a time above zero such as 12us");
    return std::optional(*t);
}

bool resting_level(const DigitalWaveform& waveform) {
    const auto edges = waveform.edges();
    if (edges.size() < 3) return waveform.first_level();
    Time high, low;
    for (std::size_t i = 0; i + 1 < edges.size(); ++i)
        (waveform.is_rise(i) ? high : low) += edges[i + 1] - edges[i];
    return high == low ? waveform.first_level() : high > low;
}

std::optional<Time> median_distance(const std::vector<Time>& times) {
    if (times.size() < 2) return std::nullopt;
    std::vector<Time> apart;
    apart.reserve(times.size() - 1);
    for (std::size_t i = 1; i < times.size(); ++i) apart.push_back(times[i] - times[i - 1]);
    const auto middle = apart.begin() + static_cast<std::ptrdiff_t>(apart.size() / 2);
    std::nth_element(apart.begin(), middle, apart.end());
    return *middle;
}

std::vector<std::pair<std::size_t, std::size_t>> bursts_of(const std::vector<Time>& times, Time gap) {
    std::vector<std::pair<std::size_t, std::size_t>> out;
    for (std::size_t i = 0; i < times.size();) {
        auto end = i + 1;
        while (end < times.size() && times[end] - times[end - 1] <= gap) ++end;
        out.emplace_back(i, end);
        i = end;
    }
    return out;
}

namespace {

/// How many data edges inside bursts of the clock come behind a rise of it, and behind a fall.
std::pair<long, long> moves_after(const DigitalWaveform& clock,
                                  const std::vector<const DigitalWaveform*>& data) {
    constexpr std::size_t enough = 100'000;
    const auto clocks = clock.edges();
    if (clocks.size() < 2) return {0, 0};
    // Only data edges inside bursts count: after a pause anybody may move.
    std::vector<Time> some(clocks.begin(),
                           clocks.begin() + static_cast<std::ptrdiff_t>(std::min(clocks.size(), enough)));
    const Time pause = *median_distance(some) * 4;
    long after_rise = 0, after_fall = 0;
    for (const auto* d : data) {
        std::size_t k = 0;
        const auto moves = d->edges();
        for (std::size_t i = 0; i < std::min(moves.size(), enough); ++i) {
            while (k < clocks.size() && clocks[k] <= moves[i]) ++k;
            if (k == 0 || k == clocks.size() || moves[i] - clocks[k - 1] > pause) continue;
            (clock.is_rise(k - 1) ? after_rise : after_fall) += 1;
        }
    }
    return {after_rise, after_fall};
}

}  // namespace

Direction quiet_edge(const DigitalWaveform& clock, const std::vector<const DigitalWaveform*>& data,
                     Direction otherwise) {
    const auto [after_rise, after_fall] = moves_after(clock, data);
    if (after_rise == after_fall) return otherwise;
    return after_rise > after_fall ? Direction::fall : Direction::rise;
}

bool undecided_edge(const DigitalWaveform& clock, const std::vector<const DigitalWaveform*>& data) {
    const auto [after_rise, after_fall] = moves_after(clock, data);
    return after_rise + after_fall < 3 ||
           std::max(after_rise, after_fall) < 2 * std::min(after_rise, after_fall);
}

}  // namespace grayrelic
