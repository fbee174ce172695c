// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/latch_shift.hpp"

#include <algorithm>
#include <charconv>

#include "core/base/text.hpp"
#include "core/decode/settings.hpp"
#include "core/signal/cause.hpp"

namespace grayrelic {
namespace {

/// Time spent high, in picoseconds, from the first to the last edge.
std::pair<Time, Time> high_and_low_time(const DigitalWaveform& waveform) {
    Time high;
    Time low;
    const auto edges = waveform.edges();
    for (std::size_t i = 0; i + 1 < edges.size(); ++i)
        (waveform.is_rise(i) ? high : low) += edges[i + 1] - edges[i];
    return {high, low};
}

bool latch_is_high(const DigitalWaveform& latch) {
    if (latch.edges().size() <= 2) return !latch.first_level();  // one pulse: it leaves the level it rests at
    const auto [high, low] = high_and_low_time(latch);
    if (high == low) return !latch.first_level();
    return high < low;
}

struct Poll {
    Time latch;
    Time until;
};

std::vector<Poll> polls_of(const DigitalWaveform& latch, bool active_high) {
    const auto starts = latch.edge_times(active_high ? Direction::rise : Direction::fall);
    std::vector<Poll> polls;
    polls.reserve(starts.size());
    for (std::size_t i = 0; i < starts.size(); ++i)
        polls.push_back({starts[i], i + 1 < starts.size() ? starts[i + 1] : Time::max()});
    return polls;
}

/// Which clock edge the data moves after, what the latch brings left out; any when it never moves.
Direction shifting_edge(const DigitalWaveform& latch, const DigitalWaveform& clock,
                        const DigitalWaveform& data) {
    const auto edges = clock.edges();
    const std::vector<Time> some(
        edges.begin(),
        edges.begin() + static_cast<std::ptrdiff_t>(std::min<std::size_t>(edges.size(), 50'000)));
    CauseRules rules;
    rules.others = {&latch};
    rules.pause = median_distance(some).value_or(Time::us(10)) * 8;
    const auto study = study_causes({&data}, {{&clock, Direction::rise}, {&clock, Direction::fall}}, rules);
    if (study.fits.empty()) return Direction::any;
    return study.fits.front().which == 0 ? Direction::rise : Direction::fall;
}

class LatchShift final : public Decoder {
  public:
    std::string kind() const override { return "latch-shift"; }
    std::string about() const override {
        return "A latch pulse loads the device's inputs; each clock shifts one bit out.";
    }
    std::vector<RoleSpec> roles() const override {
        return {{"latch", false, false, "the host's load pulse"},
                {"clock", false, false, "the host's shift clock"},
                {"data", false, false, "the device's answer"}};
    }
    std::vector<SettingSpec> settings() const override {
        return {
            {"bits", {}, "bits in a word; auto takes every clock until the next latch"},
            {"edge", {"rise", "fall"}, "clock edge at which the host reads; the value just before it counts"},
            {"latch", {"high", "low"}, "the latch's active level"},
            {"order", {"msb", "lsb"}, "which bit comes first"}};
    }

  protected:
    Result<Decoding> run(const Input& input, Progress& progress) const override {
        const auto& latch = input.role("latch");
        const auto& clock = input.role("clock");
        const auto& data = input.role("data");

        std::size_t bits = 0;  // 0: as many as there are clocks
        if (const auto text = input.setting("bits")) {
            const auto [p, ec] = std::from_chars(text->data(), text->data() + text->size(), bits);
            if (ec != std::errc{} || p != text->data() + text->size() || bits == 0 || bits > 4096)
                return fail_usage("bits " + in_quotes(*text), "auto or a number from 1 to 4096");
        }
        const auto latch_setting = input.setting("latch");
        const bool active_high = latch_setting ? *latch_setting == "high" : latch_is_high(latch);
        const auto polls = polls_of(latch, active_high);
        const auto edge_setting = input.setting("edge");
        const Direction edge = edge_setting ? (*edge_setting == "rise" ? Direction::rise : Direction::fall)
                                            : choose_edge(latch, clock, data, polls);
        const bool msb = input.setting("order").value_or("msb") == "msb";

        Decoding decoding;
        decoding.settings["edge"] = std::string(word(edge));
        decoding.settings["latch"] = std::string(active_high ? "high" : "low");
        decoding.settings["order"] = std::string(msb ? "msb" : "lsb");
        if (bits > 0)
            decoding.settings["bits"] = static_cast<long long>(bits);
        else
            decoding.settings["bits"] = std::string("auto");

        decoding.unsure.push_back(
            {"edge",
             {"rise", "fall"},
             "the host's program, or a button whose bit is known; which edge the host reads "
             "at does not show on the lines"});
        decoding.unsure.push_back({"order", {"msb", "lsb"}, "a button whose bit is known"});
        const auto clocks = clock.edges();
        LevelWalk levels(data);
        std::size_t next = 0, usual = bits;  // the next clock edge; bits of the last word
        decoding.frames.reserve(polls.size());
        for (std::size_t p = 0; p < polls.size(); ++p) {
            if ((p & 1023U) == 0) {
                progress.report(static_cast<double>(p) / static_cast<double>(polls.size()));
                if (progress.cancelled()) return fail_cancelled();
            }
            while (next < clocks.size() && clocks[next] < polls[p].latch) ++next;
            if (next >= clocks.size() || clocks[next] >= polls[p].until) continue;
            Frame frame;
            frame.levels.reserve(usual);
            frame.bit_times.reserve(usual);
            std::size_t seen = 0;
            for (; next < clocks.size() && clocks[next] < polls[p].until; ++next) {
                if (!clock.matches(next, edge)) continue;
                ++seen;
                if (bits != 0 && seen > bits) continue;
                frame.levels += level_char(data, levels, clocks[next]);
                frame.bit_times.push_back(clocks[next]);
            }
            if (seen == 0) continue;
            usual = frame.levels.size();
            frame.start = polls[p].latch;
            frame.end = frame.bit_times.back();
            frame.value = value_of(frame.levels, msb);
            frame.poll = static_cast<std::uint32_t>(p + 1);
            if (bits > 0 && seen < bits) frame.errors.emplace_back("short");
            if (bits > 0 && seen > bits) frame.errors.emplace_back("long");
            if (frame.levels.find('x') != std::string::npos) frame.errors.emplace_back("unknown");
            decoding.frames.push_back(std::move(frame));
        }
        progress.report(1.0);
        return decoding;
    }

  private:
    static Direction choose_edge(const DigitalWaveform& latch, const DigitalWaveform& clock,
                                 const DigitalWaveform& data, const std::vector<Poll>& polls) {
        const auto clocks = clock.edges();
        long leading_rises = 0;
        long bursts = 0;
        bool load_shows_a_bit = false;
        bool last_bit_varies = false;
        std::optional<bool> last_bit;
        EdgeWalk clock_walk(clock), data_walk(data);
        LevelWalk levels(data);
        for (const auto& poll : polls) {
            const auto from = clock_walk.before(poll.latch);
            const auto to = clock_walk.before(poll.until);
            if (to < from + 2) continue;
            ++bursts;
            if (clock.is_rise(from)) ++leading_rises;
            const auto at_load = data_walk.before(poll.latch);
            load_shows_a_bit = load_shows_a_bit || data_walk.before(clocks[from]) > at_load;
            const bool last = levels.before(clocks[to - 1]);  // what stands before the last trailing edge
            last_bit_varies = last_bit_varies || (last_bit && *last_bit != last);
            last_bit = last;
        }
        const Direction leading = 2 * leading_rises >= bursts ? Direction::rise : Direction::fall;
        if (bursts == 0) return Direction::fall;
        const Direction shifts = shifting_edge(latch, clock, data);
        if (shifts != leading) return leading;  // data rests around the leading edge, or never moves
        return load_shows_a_bit || !last_bit_varies ? leading : opposite(leading);
    }
};

}  // namespace

std::unique_ptr<Decoder> make_latch_shift() {
    return std::make_unique<LatchShift>();
}

}  // namespace grayrelic
