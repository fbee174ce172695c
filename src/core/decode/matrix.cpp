// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/matrix.hpp"

#include <algorithm>

#include "core/decode/settings.hpp"

namespace grayrelic {
namespace {

struct StrobePulse {
    Time start, end;
    std::size_t strobe = 0;
};

/// All active pulses in order of their ends.
std::vector<StrobePulse> pulses_of(const std::vector<const DigitalWaveform*>& strobes, bool active_high) {
    std::vector<StrobePulse> out;
    for (std::size_t s = 0; s < strobes.size(); ++s) {
        const auto edges = strobes[s]->edges();
        std::size_t i = strobes[s]->level_after(1) == active_high ? 0 : 1;
        for (; i + 1 < edges.size(); i += 2) out.push_back({edges[i], edges[i + 1], s});
    }
    std::sort(out.begin(), out.end(), [](const auto& x, const auto& y) {
        return std::pair(x.end, x.strobe) < std::pair(y.end, y.strobe);
    });
    return out;
}

class Matrix final : public Decoder {
  public:
    std::string kind() const override { return "matrix"; }
    std::string about() const override {
        return "Strobes in turn, and lines that answer for the switches on them.";
    }
    std::vector<RoleSpec> roles() const override {
        return {{"strobe", true, false, "driven in turn"},
                {"sense", true, false, "read at each strobe's end"}};
    }
    std::vector<SettingSpec> settings() const override {
        return {{"active", {"low", "high"}, "level of an active strobe and of a closed switch"}};
    }

  protected:
    Result<Decoding> run(const Input& input, Progress& progress) const override {
        const auto& strobes = input.waveforms.at("strobe");
        const auto& senses = input.waveforms.at("sense");
        if (strobes.size() > 64 || senses.size() > 64)
            return fail_usage("more than 64 lines", "at most 64 of a kind");
        const auto setting = input.setting("active");
        const bool active = setting ? *setting == "high" : find_active(strobes);
        Decoding out;
        out.settings["active"] = std::string(active ? "high" : "low");
        const auto pulses = pulses_of(strobes, active);
        std::vector<LevelWalk> walks;
        for (const auto* d : senses) walks.emplace_back(*d);
        std::vector<std::uint64_t> closed(strobes.size());
        std::vector<char> seen(strobes.size(), 0);
        Frame f;
        const auto finish = [&] {
            if (f.levels.empty()) return;
            std::vector<std::pair<std::string, std::string>> pairs;
            bool ghost = false;
            for (std::size_t s = 0; s < strobes.size(); ++s) {
                if (seen[s] == 0) continue;
                for (std::size_t k = 0; k < senses.size(); ++k)
                    if ((closed[s] >> k & 1U) != 0)
                        pairs.emplace_back(input.names.at("strobe")[s], input.names.at("sense")[k]);
                for (std::size_t o = 0; o < s; ++o) {
                    const auto both = seen[o] == 0 ? 0 : closed[s] & closed[o];
                    ghost = ghost || (both & (both - 1)) != 0;  // two sense lines closed at two strobes
                }
            }
            f.value = value_of(f.levels, true);
            f.extra["closed"] = std::move(pairs);
            f.extra["ghost_possible"] = ghost;
            if (f.levels.find('x') != std::string::npos) f.errors.emplace_back("unknown");
            out.frames.push_back(std::move(f));
            f = {};
            std::fill(seen.begin(), seen.end(), 0);
        };
        std::vector<Time> ends;
        for (std::size_t i = 0; i < std::min<std::size_t>(pulses.size(), 20'000); ++i)
            ends.push_back(pulses[i].end);
        const Time usual = median_distance(ends).value_or(Time::us(1));
        const Time pause = usual * 5 / 2;
        for (std::size_t i = 0; i < pulses.size(); ++i) {
            if ((i & 1023U) == 0) {
                progress.report(static_cast<double>(i) / static_cast<double>(pulses.size()));
                if (progress.cancelled()) return fail_cancelled();
            }
            const auto& p = pulses[i];
            if (seen[p.strobe] != 0 || (i > 0 && p.end - pulses[i - 1].end > pause)) finish();
            if (f.levels.empty()) f.start = p.start;
            // A driver that lets go a little late, up to a tenth of the pulse, is no overlap.
            if (i > 0 && pulses[i - 1].strobe != p.strobe &&
                pulses[i - 1].end > p.start + (p.end - p.start) / 10 &&
                std::find(f.errors.begin(), f.errors.end(), "overlap") == f.errors.end())
                f.errors.emplace_back("overlap");
            seen[p.strobe] = 1;
            closed[p.strobe] = 0;
            for (std::size_t k = 0; k < senses.size(); ++k) {
                const char c = level_char(*senses[k], walks[k], p.end);
                f.levels += c;
                f.bit_times.push_back(p.end);
                if (c == (active ? '1' : '0')) closed[p.strobe] |= std::uint64_t{1} << k;
            }
            f.end = p.end;
        }
        finish();
        // Scans are parted by the ends of their pulses; strobes that overlap may have begun in another order.
        std::stable_sort(out.frames.begin(), out.frames.end(),
                         [](const Frame& a, const Frame& b) { return a.start < b.start; });
        progress.report(1.0);
        return out;
    }

  private:
    static bool find_active(const std::vector<const DigitalWaveform*>& strobes) {
        long resting_high = 0;
        for (const auto* s : strobes) resting_high += resting_level(*s) ? 1 : -1;
        return resting_high <= 0;
    }
};

}  // namespace

std::unique_ptr<Decoder> make_matrix() {
    return std::make_unique<Matrix>();
}

}  // namespace grayrelic
