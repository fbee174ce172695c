// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/pulse_width.hpp"

#include <algorithm>
#include <cmath>

#include "core/decode/settings.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t trial_pulses = 200'000;

struct Pulse {
    Time start, end;
    Time rest;  ///< until the next one; Time::max() behind the last
};

std::vector<Pulse> active_pulses(const DigitalWaveform& waveform, bool idle_high) {
    std::vector<Pulse> out;
    const auto edges = waveform.edges();
    std::size_t i = 0;
    // The first edge that leaves the resting level.
    if (i < edges.size() && waveform.level_after(i + 1) == idle_high) ++i;
    out.reserve(edges.size() / 2);
    for (; i + 1 < edges.size(); i += 2)
        out.push_back(
            {edges[i], edges[i + 1], i + 2 < edges.size() ? edges[i + 2] - edges[i + 1] : Time::max()});
    return out;
}

/// 1.5 × the longest idle inside a bit.
Time find_gap(const std::vector<Pulse>& pulses) {
    std::vector<Time> periods;
    for (std::size_t i = 0; i < std::min(pulses.size(), trial_pulses); ++i)
        if (pulses[i].rest != Time::max())
            periods.push_back(pulses[i].end - pulses[i].start + pulses[i].rest);
    if (periods.empty()) return Time::max();
    const auto middle = periods.begin() + static_cast<std::ptrdiff_t>(periods.size() / 2);
    std::nth_element(periods.begin(), middle, periods.end());
    const Time usual = *middle;
    Time longest;
    for (std::size_t i = 0; i < std::min(pulses.size(), trial_pulses); ++i) {
        const auto& p = pulses[i];
        if (p.rest != Time::max() && p.end - p.start + p.rest <= usual + usual / 3)
            longest = std::max(longest, p.rest);
    }
    return longest + longest / 2;
}

/// Between short and long: the middle of the widest step in the lengths, as a ratio.
double find_border(const std::vector<Pulse>& pulses) {
    std::vector<double> lengths;
    for (std::size_t i = 0; i < std::min(pulses.size(), trial_pulses); ++i)
        lengths.push_back(static_cast<double>((pulses[i].end - pulses[i].start).count()));
    if (lengths.empty()) return 0;
    std::sort(lengths.begin(), lengths.end());
    // A few outliers on either side do not make the step; only where there is none inside may few do.
    for (const auto skip : {lengths.size() / 30, lengths.size() / 200}) {
        double step = 1, border = 0;
        for (std::size_t i = skip + 1; i + skip < lengths.size(); ++i)
            if (lengths[i - 1] > 0 && lengths[i] / lengths[i - 1] > step)
                step = lengths[i] / lengths[i - 1], border = std::sqrt(lengths[i] * lengths[i - 1]);
        if (step > 1.3) return border;
    }
    return 1.5 * lengths[lengths.size() / 2];
}

/// Gaps above this are long. Nothing tells sides apart when all gaps are alike.
double find_long_gap(const std::vector<double>& gaps) {
    if (gaps.size() < 2) return 0;
    auto sorted = gaps;
    std::sort(sorted.begin(), sorted.end());
    double step = 1, border = 0;
    for (std::size_t i = 1; i < sorted.size(); ++i)
        if (sorted[i - 1] > 0 && sorted[i] / sorted[i - 1] > step)
            step = sorted[i] / sorted[i - 1], border = std::sqrt(sorted[i] * sorted[i - 1]);
    return step > 3 ? border : 0;
}

class PulseWidth final : public Decoder {
  public:
    std::string kind() const override { return "pulse-width"; }
    std::string about() const override {
        return "One wire; each bit is a short or a long pulse, and both sides talk on it in turn.";
    }
    std::vector<RoleSpec> roles() const override { return {{"data", false, false, "the wire"}}; }
    std::vector<SettingSpec> settings() const override {
        return {{"one", {"short", "long"}, "which pulse is a 1"},
                {"idle", {"high", "low"}, "the level at which the wire rests"},
                {"gap", {}, "a rest longer than this ends a burst"},
                {"order", {"msb", "lsb"}, "which bit comes first"}};
    }

  protected:
    Result<Decoding> run(const Input& input, Progress& progress) const override {
        const auto& waveform = input.role("data");
        const auto idle = input.setting("idle");
        const bool idle_high = idle ? *idle == "high" : resting_level(waveform);
        const auto gap_setting = time_setting(input.setting("gap"), "gap");
        if (!gap_setting) return fail(gap_setting.error());
        const bool short_is_one = input.setting("one").value_or("short") == "short";
        const bool msb = input.setting("order").value_or("msb") == "msb";
        const auto pulses = active_pulses(waveform, idle_high);
        const Time gap = *gap_setting ? **gap_setting : find_gap(pulses);
        const double border = find_border(pulses);
        Decoding out;
        out.settings["idle"] = std::string(idle_high ? "high" : "low");
        out.settings["one"] = std::string(short_is_one ? "short" : "long");
        out.settings["order"] = std::string(msb ? "msb" : "lsb");
        if (!pulses.empty()) {
            if (gap != Time::max()) out.settings["gap"] = gap.seconds();
            out.settings["border"] = border / 1e12;
        }
        out.unsure.push_back({"one", {"short", "long"}, "a button whose bit is known"});
        out.unsure.push_back({"order", {"msb", "lsb"}, "a value that is known"});
        std::vector<double> gaps;
        for (const auto& p : pulses)
            if (p.rest > gap && p.rest != Time::max()) gaps.push_back(static_cast<double>(p.rest.count()));
        const double long_gap = find_long_gap(gaps);
        const auto [low, high] = margins(pulses, border);
        long long side = 1;
        for (std::size_t i = 0; i < pulses.size();) {
            if ((out.frames.size() & 1023U) == 0) {
                progress.report(static_cast<double>(i) / static_cast<double>(pulses.size()));
                if (progress.cancelled()) return fail_cancelled();
            }
            auto end = i;
            while (end + 1 < pulses.size() && pulses[end].rest <= gap) ++end;
            Frame f;
            f.start = pulses[i].start;
            f.end = pulses[end].end;
            bool odd_width = false;
            for (auto k = i; k < end; ++k) {
                const auto length = static_cast<double>((pulses[k].end - pulses[k].start).count());
                const bool known =
                    waveform.unknown().empty() || waveform.known_between(pulses[k].start, pulses[k].end);
                f.levels += !known ? 'x' : (length < border) == short_is_one ? '1' : '0';
                f.bit_times.push_back(pulses[k].end);
                odd_width = odd_width || (length > low && length < high) || length > 2.5 * high;
            }
            f.value = f.levels.empty() ? std::nullopt : value_of(f.levels, msb);
            if (f.levels.empty()) f.errors.emplace_back("stop");
            if (odd_width) f.errors.emplace_back("width");
            // A capture that begins so shortly before a burst may have begun within it.
            if (i == 0 && gap != Time::max() && pulses[0].start - input.extent.from <= gap)
                f.errors.emplace_back("cut");
            if (f.levels.find('x') != std::string::npos) f.errors.emplace_back("unknown");
            f.extra["side"] = side;
            out.frames.push_back(std::move(f));
            const auto rest = pulses[end].rest;
            side = rest == Time::max() || long_gap <= 0 || static_cast<double>(rest.count()) > long_gap
                       ? 1
                       : side + 1;
            i = end + 1;
        }
        progress.report(1.0);
        return out;
    }

  private:
    /// No man's land between short and long: the middle fifth of the way between their medians.
    static std::pair<double, double> margins(const std::vector<Pulse>& pulses, double border) {
        std::vector<double> shorts, longs;
        for (std::size_t i = 0; i < std::min(pulses.size(), trial_pulses); ++i) {
            const auto length = static_cast<double>((pulses[i].end - pulses[i].start).count());
            (length < border ? shorts : longs).push_back(length);
        }
        if (shorts.empty() || longs.empty()) return {border, border};
        const auto median = [](std::vector<double>& v) {
            const auto middle = v.begin() + static_cast<std::ptrdiff_t>(v.size() / 2);
            std::nth_element(v.begin(), middle, v.end());
            return *middle;
        };
        const double s = median(shorts), l = median(longs);
        return {s + 0.4 * (l - s), s + 0.6 * (l - s)};
    }
};

}  // namespace

std::unique_ptr<Decoder> make_pulse_width() {
    return std::make_unique<PulseWidth>();
}

}  // namespace grayrelic
