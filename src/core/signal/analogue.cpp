// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/analogue.hpp"

#include <algorithm>
#include <cmath>

namespace grayrelic {

AnalogueWaveform::AnalogueWaveform(Time start, double period_ps, std::vector<float> samples)
    : start_(start), period_ps_(period_ps), samples_(std::move(samples)) {
    const auto widen = [](Range& r, float low, float high) {
        r.low = std::min(r.low, low);
        r.high = std::max(r.high, high);
    };
    std::vector<Range> step;
    for (std::size_t i = 0; i < samples_.size(); i += fan) {
        Range r{samples_[i], samples_[i]};
        for (std::size_t k = i; k < std::min(samples_.size(), i + fan); ++k)
            widen(r, samples_[k], samples_[k]);
        step.push_back(r);
    }
    while (step.size() > 1) {
        std::vector<Range> next;
        for (std::size_t i = 0; i < step.size(); i += fan) {
            Range r = step[i];
            for (std::size_t k = i; k < std::min(step.size(), i + fan); ++k)
                widen(r, step[k].low, step[k].high);
            next.push_back(r);
        }
        pyramid_.push_back(std::move(step));
        step = std::move(next);
    }
    if (!step.empty()) pyramid_.push_back(std::move(step));
}

AnalogueWaveform::Range AnalogueWaveform::range(std::size_t from, std::size_t to) const {
    to = std::min(to, samples_.size());
    if (from >= to) return {};
    Range out{samples_[from], samples_[from]};
    const auto take = [&](float low, float high) {
        out.low = std::min(out.low, low);
        out.high = std::max(out.high, high);
    };
    // Up the pyramid from both ends: at each step the ragged ends are taken one by one.
    std::size_t a = from, b = to;
    while (a < b && a % fan != 0) take(samples_[a], samples_[a]), ++a;
    while (b > a && b % fan != 0) --b, take(samples_[b], samples_[b]);
    std::size_t k = 0;
    for (a /= fan, b /= fan; a < b && k < pyramid_.size(); ++k) {
        const auto& step = pyramid_[k];
        while (a < b && (a % fan != 0 || k + 1 == pyramid_.size())) take(step[a].low, step[a].high), ++a;
        while (b > a && b % fan != 0) --b, take(step[b].low, step[b].high);
        a /= fan;
        b /= fan;
    }
    return out;
}

Threshold guess_threshold(const AnalogueWaveform& waveform) {
    std::vector<float> some;
    const auto step = std::max<std::size_t>(1, waveform.size() / 100'000);
    for (std::size_t i = 0; i < waveform.size(); i += step)
        if (!std::isnan(waveform.samples()[i])) some.push_back(waveform.samples()[i]);
    Threshold t;
    t.guessed = true;
    if (some.empty()) return t;
    std::sort(some.begin(), some.end());
    const double low = some[some.size() / 20], high = some[some.size() - 1 - some.size() / 20];
    t.level = (low + high) / 2;
    t.hysteresis = (high - low) / 10;
    // A line that rests nearly always has its few pulses beyond the twentieths.
    if (!(t.hysteresis > 0)) {
        t.level = (static_cast<double>(some.front()) + static_cast<double>(some.back())) / 2;
        t.hysteresis = (static_cast<double>(some.back()) - static_cast<double>(some.front())) / 10;
    }
    return t;
}

DigitalWaveform levels_of(const AnalogueWaveform& waveform, const Threshold& t) {
    const auto& v = waveform.samples();
    bool level = false;
    for (const auto x : v)
        if (!std::isnan(x)) {
            level = x > t.level;
            break;
        }
    const bool first = level;
    std::vector<Time> edges;
    // The crossing that counts is the last one of `level` before the band is left.
    double crossing = 0;
    float last = v.empty() ? 0.0F : v.front();
    for (std::size_t i = 0; i < v.size(); ++i) {
        const float x = v[i];
        if (std::isnan(x)) continue;
        if ((last <= t.level) != (x <= t.level) && i > 0) {
            const double part = (t.level - last) / static_cast<double>(x - last);
            crossing = static_cast<double>(i - 1) + std::clamp(part, 0.0, 1.0);
        }
        if (level ? x < t.level - t.hysteresis : x > t.level + t.hysteresis) {
            level = !level;
            const Time at = waveform.time_of(crossing);
            if (edges.empty() || at > edges.back())
                edges.push_back(at);
            else
                edges.pop_back();  // two crossings within a picosecond are none
        }
        last = x;
    }
    return DigitalWaveform(first, edges);
}

}  // namespace grayrelic
