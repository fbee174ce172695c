// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/strobed_bus.hpp"

#include <algorithm>

#include "core/decode/settings.hpp"

namespace grayrelic {
namespace {

/// All times at which any of the lines moves, sorted.
std::vector<Time> moves_of(const std::vector<const DigitalWaveform*>& lines) {
    std::vector<Time> out;
    for (const auto* d : lines) {
        const auto middle = static_cast<std::ptrdiff_t>(out.size());
        out.insert(out.end(), d->edges().begin(), d->edges().end());
        std::inplace_merge(out.begin(), out.begin() + middle, out.end());
    }
    return out;
}

/// The least of setup and hold that 95 % of the strobes keep.
double distance(const std::vector<Time>& strobes, const std::vector<Time>& moves) {
    std::vector<double> least;
    for (const auto t : strobes) {
        const auto after = std::lower_bound(moves.begin(), moves.end(), t);
        double d = 1e18;
        if (after != moves.end()) d = static_cast<double>((*after - t).count());
        if (after != moves.begin()) d = std::min(d, static_cast<double>((t - *(after - 1)).count()));
        least.push_back(d);
        if (least.size() > 20'000) break;
    }
    if (least.empty()) return 0;
    const auto at = least.begin() + static_cast<std::ptrdiff_t>(least.size() / 20);
    std::nth_element(least.begin(), at, least.end());
    return *at;
}

class StrobedBus final : public Decoder {
  public:
    std::string kind() const override { return "strobed-bus"; }
    std::string about() const override { return "Several lines at once, read at an edge of a strobe."; }
    std::vector<RoleSpec> roles() const override {
        return {{"strobe", false, false, "says when"},
                {"data", true, false, "the lines, most significant first"}};
    }
    std::vector<SettingSpec> settings() const override {
        return {{"edge", {"rise", "fall"}, "strobe edge at which the lines are read"}};
    }

  protected:
    Result<Decoding> run(const Input& input, Progress& progress) const override {
        const auto& strobe = input.role("strobe");
        const auto& lines = input.waveforms.at("data");
        if (lines.size() > 64) return fail_usage("more than 64 data lines", "at most 64");
        const auto moves = moves_of(lines);
        const auto setting = input.setting("edge");
        const double at_rise = distance(strobe.edge_times(Direction::rise), moves),
                     at_fall = distance(strobe.edge_times(Direction::fall), moves);
        const Direction edge =
            (setting ? *setting == "fall" : at_fall > at_rise) ? Direction::fall : Direction::rise;
        Decoding out;
        out.settings["edge"] = std::string(word(edge));
        // Lines that rest around both edges can be read at either.
        if (std::min(at_rise, at_fall) > 0.2 * std::max(at_rise, at_fall))
            out.unsure.push_back(
                {"edge", {"rise", "fall"}, "what the receiver is: its data sheet names the edge"});
        std::vector<LevelWalk> walks;
        for (const auto* d : lines) walks.emplace_back(*d);
        std::size_t next = 0;
        const auto times = strobe.edge_times(edge);
        out.frames.reserve(times.size());
        for (std::size_t i = 0; i < times.size(); ++i) {
            if ((i & 1023U) == 0) {
                progress.report(static_cast<double>(i) / static_cast<double>(times.size()));
                if (progress.cancelled()) return fail_cancelled();
            }
            const Time t = times[i];
            Frame f;
            f.start = f.end = t;
            for (std::size_t k = 0; k < lines.size(); ++k)
                f.levels += level_char(*lines[k], walks[k], t), f.bit_times.push_back(t);
            f.value = value_of(f.levels, true);
            while (next < moves.size() && moves[next] < t) ++next;
            f.extra["setup_s"] = next > 0 ? FrameExtra((t - moves[next - 1]).seconds()) : FrameExtra();
            f.extra["hold_s"] = next < moves.size() ? FrameExtra((moves[next] - t).seconds()) : FrameExtra();
            if (f.levels.find('x') != std::string::npos) f.errors.emplace_back("unknown");
            out.frames.push_back(std::move(f));
        }
        progress.report(1.0);
        return out;
    }
};

}  // namespace

std::unique_ptr<Decoder> make_strobed_bus() {
    return std::make_unique<StrobedBus>();
}

}  // namespace grayrelic
