// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/clocked.hpp"

#include <algorithm>
#include <map>
#include <numeric>

#include "core/decode/settings.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t clocked_trial = 50'000;

/// The level the clock has in its pauses: before the first edge of each burst.
bool rests_high(const DigitalWaveform& clock,
                const std::vector<std::pair<std::size_t, std::size_t>>& bursts) {
    long high = 0;
    for (const auto& [from, to] : bursts) high += clock.level_after(from) ? 1 : -1;
    return high == 0 ? clock.first_level() : high > 0;
}

/// A select rests at its other level: where the clock pauses for long, however long others use it as well.
/// Where the pauses do not say, the side on which the data moves, then that on which the clock runs.
bool select_is_active_high(const DigitalWaveform& select, const DigitalWaveform& clock,
                           const DigitalWaveform& data, Time pause) {
    const auto high_share = [&](const DigitalWaveform& line) {
        LevelWalk walk(select);
        const auto edges = line.edges();
        const auto n = std::min(edges.size(), clocked_trial);
        long high = 0;
        for (std::size_t i = 0; i < n; ++i) high += walk.before(edges[i]) ? 1 : 0;
        return n == 0 ? 0.5 : static_cast<double>(high) / static_cast<double>(n);
    };
    const auto edges = clock.edges();
    double low = 0, high = 0;
    for (std::size_t i = 0; i + 1 < std::min(edges.size(), clocked_trial); ++i) {
        const Time gap = edges[i + 1] - edges[i];
        if (gap < pause) continue;
        (select.level_at(edges[i] + gap / 2) ? high : low) += static_cast<double>(gap.count());
    }
    if (std::max(low, high) > 4 * std::min(low, high)) return low > high;
    const double moves = high_share(data), clocks = high_share(clock);
    return data.edges().size() >= 8 && std::abs(moves - 0.5) > 0.3 ? moves > 0.5 : clocks > 0.5;
}

class Clocked final : public Decoder {
  public:
    std::string kind() const override { return "clocked"; }
    std::string about() const override {
        return "A clock and data, in words of a fixed length, perhaps under a select line.";
    }
    std::vector<RoleSpec> roles() const override {
        return {{"clock", false, false, "the clock"},
                {"data", false, false, "the data line"},
                {"select", false, true, "active while a transfer runs"}};
    }
    std::vector<SettingSpec> settings() const override {
        return {{"mode", {"0", "1", "2", "3"}, "resting level and reading edge of the clock"},
                {"bits", {}, "bits in a word"},
                {"order", {"msb", "lsb"}, "which bit comes first"}};
    }

  protected:
    Result<Decoding> run(const Input& input, Progress& progress) const override {
        const auto& clock = input.role("clock");
        const auto& data = input.role("data");
        const auto it = input.waveforms.find("select");
        const DigitalWaveform* select = it == input.waveforms.end() ? nullptr : it->second.front();
        const auto wanted = whole_setting(input.setting("bits"), "bits", 1, 64);
        if (!wanted) return fail(wanted.error());
        const auto edges = clock.edges();
        const std::vector<Time> all(edges.begin(), edges.end());
        std::vector<Time> some(
            all.begin(), all.begin() + static_cast<std::ptrdiff_t>(std::min(all.size(), clocked_trial)));
        const Time pause = median_distance(some).value_or(Time::us(1)) * 6;
        const auto edge_bursts = bursts_of(all, pause);
        bool high = rests_high(clock, edge_bursts);
        Direction reads = quiet_edge(clock, {&data}, Direction::rise);
        if (const auto mode = input.setting("mode")) {
            high = *mode == "2" || *mode == "3";
            reads = *mode == "0" || *mode == "3" ? Direction::rise : Direction::fall;
        }
        const auto times = clock.edge_times(reads);
        const bool active_high = select != nullptr && select_is_active_high(*select, clock, data, pause);
        const auto bursts =
            select != nullptr ? selected(times, *select, active_high) : bursts_of(times, pause);
        const std::size_t bits =
            wanted->has_value() ? static_cast<std::size_t>(**wanted) : usual_bits(bursts);
        const bool msb = input.setting("order").value_or("msb") == "msb";
        Decoding out;
        out.settings["mode"] = static_cast<long long>(high ? (reads == Direction::fall ? 2 : 3)
                                                           : (reads == Direction::rise ? 0 : 1));
        out.settings["bits"] = static_cast<long long>(bits);
        out.settings["order"] = std::string(msb ? "msb" : "lsb");
        if (select != nullptr) out.settings["select"] = std::string(active_high ? "high" : "low");
        out.unsure = unsure_of(clock, data, bursts, bits, high);
        // What is under way when the capture begins is counted from its end.
        const bool cut = select != nullptr && !bursts.empty() && select->first_level() == active_high &&
                         select->edges_before(times[bursts.front().first]) == 0;
        return words(std::move(out), data, times, bursts, {bits, msb, cut}, progress);
    }

  private:
    struct WordShape {
        std::size_t bits;
        bool msb;
        bool first_is_cut;  ///< the first transaction's beginning is not in the capture
    };

    static Result<Decoding> words(Decoding out, const DigitalWaveform& data, const std::vector<Time>& times,
                                  const std::vector<std::pair<std::size_t, std::size_t>>& bursts,
                                  const WordShape& shape, Progress& progress) {
        LevelWalk walk(data);
        for (const auto& [from, to] : bursts) {
            if ((out.frames.size() & 1023U) == 0) {
                progress.report(static_cast<double>(from) / static_cast<double>(times.size()));
                if (progress.cancelled()) return fail_cancelled();
            }
            const bool cut = shape.first_is_cut && from == bursts.front().first;
            const auto lead = cut ? (to - from) % shape.bits : 0;
            for (auto i = from; i < to;) {
                const auto end = i == from && lead > 0 ? from + lead : std::min(to, i + shape.bits);
                out.frames.push_back(word(data, walk, times, i, end, shape));
                i = end;
            }
        }
        progress.report(1.0);
        return out;
    }

    static Frame word(const DigitalWaveform& data, LevelWalk& walk, const std::vector<Time>& times,
                      std::size_t begin, std::size_t end, const WordShape& shape) {
        Frame f;
        f.start = times[begin];
        f.end = times[end - 1];
        for (auto k = begin; k < end; ++k)
            f.levels += level_char(data, walk, times[k]), f.bit_times.push_back(times[k]);
        f.value = value_of(f.levels, shape.msb);
        if (end - begin < shape.bits) f.errors.emplace_back("short");
        if (f.levels.find('x') != std::string::npos) f.errors.emplace_back("unknown");
        return f;
    }

    /// Bursts of reading edges, one per selection.
    static std::vector<std::pair<std::size_t, std::size_t>> selected(const std::vector<Time>& times,
                                                                     const DigitalWaveform& select,
                                                                     bool active_high) {
        std::vector<std::pair<std::size_t, std::size_t>> out;
        std::size_t last = select.edges().size() + 1;
        for (std::size_t i = 0; i < times.size(); ++i) {
            const auto n = select.edges_before(times[i]);
            if (select.level_after(n) != active_high) continue;
            if (!out.empty() && last == n && out.back().second == i)
                ++out.back().second;
            else
                out.emplace_back(i, i + 1);
            last = n;
        }
        return out;
    }

    static std::vector<Unsure> unsure_of(const DigitalWaveform& clock, const DigitalWaveform& data,
                                         const std::vector<std::pair<std::size_t, std::size_t>>& bursts,
                                         std::size_t bits, bool high) {
        std::vector<Unsure> out;
        out.push_back({"order", {"msb", "lsb"}, "a value that is known"});
        if (undecided_edge(clock, {&data}))
            out.push_back(
                {"mode", {high ? "2" : "0", high ? "3" : "1"}, "data that moves while the clock runs"});
        if (const auto other = other_bits(bursts, bits))
            out.push_back({"bits",
                           {std::to_string(bits), std::to_string(other)},
                           "a transaction of another length, or a value that is known"});
        return out;
    }

    /// Another length of words that fits all transactions as well; 0 for none.
    static std::size_t other_bits(const std::vector<std::pair<std::size_t, std::size_t>>& bursts,
                                  std::size_t bits) {
        if (bursts.size() < 2) return 0;
        std::size_t common = 0;
        for (const auto& [from, to] : bursts) common = std::gcd(common, to - from);
        if (common % bits == 0 && common > bits && common <= 64) return common;
        for (std::size_t part = bits / 2; part >= 4; --part)
            if (bits % part == 0) return part;
        return 0;
    }

    static std::size_t usual_bits(const std::vector<std::pair<std::size_t, std::size_t>>& bursts) {
        std::map<std::size_t, std::size_t> lengths;
        std::size_t bytes = 0;
        for (const auto& [from, to] : bursts) {
            ++lengths[to - from];
            bytes += (to - from) % 8 == 0 ? 1 : 0;
        }
        if (bursts.empty() || 10 * bytes >= 9 * bursts.size()) return 8;
        // Transactions of several words: what all lengths have in common that are seen more than once or
        // twice.
        std::size_t common = 0;
        for (const auto& [length, n] : lengths)
            if (n > 2 && 50 * n >= bursts.size()) common = std::gcd(common, length);
        if (common >= 4 && common <= 64) return common;
        const auto best = std::max_element(lengths.begin(), lengths.end(),
                                           [](const auto& a, const auto& b) { return a.second < b.second; });
        return best->first >= 4 && best->first <= 64 ? best->first : 8;
    }
};

}  // namespace

std::unique_ptr<Decoder> make_clocked() {
    return std::make_unique<Clocked>();
}

}  // namespace grayrelic
