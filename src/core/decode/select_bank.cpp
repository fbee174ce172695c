// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/select_bank.hpp"

#include <algorithm>
#include <set>

#include "core/decode/settings.hpp"

namespace grayrelic {
namespace {

struct Stretch {
    Time from, to;
    bool select = false, enable = false;
};

std::vector<Stretch> stretches(const DigitalWaveform& select, const DigitalWaveform* enable, Span extent) {
    std::vector<Stretch> out;
    const auto es = select.edges();
    const auto ee = enable == nullptr ? std::span<const Time>() : enable->edges();
    std::size_t i = 0, j = 0;
    Time from = extent.from;
    for (;;) {
        Time to = extent.to;
        if (i < es.size()) to = std::min(to, es[i]);
        if (j < ee.size()) to = std::min(to, ee[j]);
        if (to > from)
            out.push_back({from, to, select.level_after(i), enable == nullptr || enable->level_after(j)});
        if (i >= es.size() && j >= ee.size()) return out;
        from = to;
        if (i < es.size() && es[i] == to) ++i;
        if (j < ee.size() && ee[j] == to) ++j;
        if (to == extent.to && (i >= es.size() || es[i] > to) && (j >= ee.size() || ee[j] > to)) return out;
    }
}

class SelectBank final : public Decoder {
  public:
    std::string kind() const override { return "select-bank"; }
    std::string about() const override {
        return "A select line swaps two banks of inputs onto the same lines.";
    }
    std::vector<RoleSpec> roles() const override {
        return {{"select", false, false, "which bank"},
                {"data", true, false, "the lines, most significant first"},
                {"enable", false, true, "lets the lines through"}};
    }
    std::vector<SettingSpec> settings() const override {
        return {{"enable-level", {"low", "high"}, "level of enable at which data passes"}};
    }

  protected:
    Result<Decoding> run(const Input& input, Progress& progress) const override {
        const auto& select = input.role("select");
        const auto& lines = input.waveforms.at("data");
        if (lines.size() > 64) return fail_usage("more than 64 data lines", "at most 64");
        const auto it = input.waveforms.find("enable");
        const DigitalWaveform* enable = it == input.waveforms.end() ? nullptr : it->second.front();
        const auto list = stretches(select, enable, input.extent);
        const auto setting = input.setting("enable-level");
        bool active = true;
        if (enable != nullptr) active = setting ? *setting == "high" : find_level(list, lines);
        Decoding out;
        // Lines that never move select nothing.
        if (select.edges().empty() && (enable == nullptr || enable->edges().empty())) return out;
        if (enable != nullptr) out.settings["enable-level"] = std::string(active ? "high" : "low");
        std::vector<LevelWalk> walks;
        for (const auto* d : lines) walks.emplace_back(*d);
        for (std::size_t i = 0; i < list.size(); ++i) {
            if ((i & 1023U) == 0) {
                progress.report(static_cast<double>(i) / static_cast<double>(list.size()));
                if (progress.cancelled()) return fail_cancelled();
            }
            const auto& s = list[i];
            if (s.enable != active) continue;
            Frame f;
            f.start = s.from;
            f.end = s.to;
            for (std::size_t k = 0; k < lines.size(); ++k)
                f.levels += level_char(*lines[k], walks[k], s.to), f.bit_times.push_back(s.to);
            f.value = value_of(f.levels, true);
            f.extra["bank"] = static_cast<long long>(s.select ? 1 : 0);
            if (f.levels.find('x') != std::string::npos) f.errors.emplace_back("unknown");
            out.frames.push_back(std::move(f));
        }
        progress.report(1.0);
        return out;
    }

  private:
    /// The level at which more different words are seen; the lesser share of time when both see as many.
    static bool find_level(const std::vector<Stretch>& list,
                           const std::vector<const DigitalWaveform*>& lines) {
        std::set<std::string> words[2];
        Time spent[2];
        std::vector<LevelWalk> walks;
        for (const auto* d : lines) walks.emplace_back(*d);
        for (std::size_t i = 0; i < std::min<std::size_t>(list.size(), 100'000); ++i) {
            std::string w;
            for (auto& walk : walks) w += walk.before(list[i].to) ? '1' : '0';
            words[list[i].enable ? 1 : 0].insert(w + (list[i].select ? 's' : ' '));
            spent[list[i].enable ? 1 : 0] += list[i].to - list[i].from;
        }
        // A forced level is one word, seen at either select.
        if (words[0].size() != words[1].size()) return words[1].size() > words[0].size();
        return spent[1] < spent[0];
    }
};

}  // namespace

std::unique_ptr<Decoder> make_select_bank() {
    return std::make_unique<SelectBank>();
}

}  // namespace grayrelic
