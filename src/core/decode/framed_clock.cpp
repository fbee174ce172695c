// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/framed_clock.hpp"

#include <algorithm>
#include <map>

#include "core/decode/settings.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t framed_trial = 20'000;

struct SampledBits {
    Direction edge = Direction::fall;
    std::vector<Time> times;  ///< sampling edges
    std::vector<std::pair<std::size_t, std::size_t>> bursts;
    Time pause;
};

SampledBits read_clock(const DigitalWaveform& clock, const DigitalWaveform& data,
                       const std::optional<std::string>& edge) {
    SampledBits r;
    r.edge = edge ? (*edge == "rise" ? Direction::rise : Direction::fall)
                  : quiet_edge(clock, {&data}, Direction::fall);
    r.times = clock.edge_times(r.edge);
    std::vector<Time> some(r.times.begin(), r.times.begin() + static_cast<std::ptrdiff_t>(
                                                                  std::min(r.times.size(), framed_trial)));
    r.pause = median_distance(some).value_or(Time::us(1)) * 3;
    r.bursts = bursts_of(r.times, r.pause);
    return r;
}

/// The length that most bursts have, or of which most are multiples; 0 when none stands out.
std::size_t usual_burst(const SampledBits& r) {
    std::map<std::size_t, std::size_t> lengths;
    for (const auto& [from, to] : r.bursts) ++lengths[to - from];
    std::size_t best = 0, most = 0;
    for (const auto& [length, n] : lengths)
        if (length >= 7 && length <= 36 && n > most) most = n, best = length;
    return 3 * most >= r.bursts.size() ? best : 0;
}

class FramedClock final : public Decoder {
  public:
    std::string kind() const override { return "framed-clock"; }
    std::string about() const override {
        return "The device clocks out a start bit, data bits, a parity bit and a stop bit; the host may hold "
               "the clock.";
    }
    std::vector<RoleSpec> roles() const override {
        return {{"clock", false, false, "the device's clock"}, {"data", false, false, "the data line"}};
    }
    std::vector<SettingSpec> settings() const override {
        return {{"edge", {"rise", "fall"}, "clock edge at which the data is read"},
                {"parity", {"none", "even", "odd", "mark", "space"}, "the bit behind the data bits"},
                {"bits", {}, "data bits, 5 to 32"}};
    }

  protected:
    Result<Decoding> run(const Input& input, Progress& progress) const override {
        const auto& clock = input.role("clock");
        const auto& data = input.role("data");
        const auto wanted = whole_setting(input.setting("bits"), "bits", 5, 32);
        if (!wanted) return fail(wanted.error());
        const auto r = read_clock(clock, data, input.setting("edge"));
        std::string parity = input.setting("parity").value_or("auto");
        std::size_t bits = wanted->has_value() ? static_cast<std::size_t>(**wanted) : 0;
        const auto usual = usual_burst(r);
        if (parity == "auto")
            parity = find_parity(r, data,
                                 bits != 0    ? bits
                                 : usual >= 8 ? usual - 3
                                              : 8,
                                 bits == 0 ? usual : 0);
        const std::size_t extra = parity == "none" ? 2 : 3;
        if (bits == 0)
            bits =
                usual > extra + 4 && usual <= 32 + extra && (usual != 22 && usual != 33) ? usual - extra : 8;
        Decoding out;
        out.settings["edge"] = std::string(word(r.edge));
        out.settings["parity"] = parity;
        out.settings["bits"] = static_cast<long long>(bits);
        if (undecided_edge(clock, {&data}))
            out.unsure.push_back(
                {"edge", {"rise", "fall"}, "frames whose data moves between the clock's edges"});
        if (r.bursts.size() < 6) out.unsure.push_back({"parity", {"none", "odd", "even"}, "more frames"});
        LevelWalk walk(data), starts(data);
        for (const auto& [from, to] : r.bursts) {
            if ((out.frames.size() & 1023U) == 0) {
                progress.report(static_cast<double>(from) / static_cast<double>(r.times.size()));
                if (progress.cancelled()) return fail_cancelled();
            }
            for (auto i = from; i < to;) {
                // An edge with the data line high is no start: the host holds the clock, or lets it go.
                const auto whole = bits + extra;
                if ((to - i) % whole != 0 && starts.before(r.times[i])) {
                    ++i;
                    continue;
                }
                const auto end = std::min(to, i + whole);
                auto f = frame(r, data, walk, i, end, bits, extra, parity);
                const bool lost = std::find(f.errors.begin(), f.errors.end(), "framing") != f.errors.end();
                out.frames.push_back(std::move(f));
                i = lost ? to : end;
            }
        }
        progress.report(1.0);
        return out;
    }

  private:
    static Frame frame(const SampledBits& r, const DigitalWaveform& data, LevelWalk& walk, std::size_t from,
                       std::size_t end, std::size_t bits, std::size_t extra, const std::string& parity) {
        Frame f;
        f.start = r.times[from];
        f.end = r.times[end - 1];
        bool framing = end - from < bits + extra, unknown = false;
        int ones = 0;
        char parity_level = '0';
        for (auto i = from; i < end; ++i) {
            const char c = level_char(data, walk, r.times[i]);
            const auto place = i - from;
            unknown = unknown || c == 'x';
            if (place == 0)
                framing = framing || c == '1';
            else if (place <= bits)
                f.levels += c, f.bit_times.push_back(r.times[i]), ones += c == '1' ? 1 : 0;
            else if (place == bits + 1 && extra == 3)
                parity_level = c;
            else
                framing = framing || c == '0';
        }
        f.value = f.levels.empty() ? std::nullopt : value_of(f.levels, false);
        if (framing) f.errors.emplace_back("framing");
        if (unknown) f.errors.emplace_back("unknown");
        if (!framing && !unknown && extra == 3) {
            const int all = ones + (parity_level == '1' ? 1 : 0);
            const bool fine = parity == "odd"    ? all % 2 == 1
                              : parity == "even" ? all % 2 == 0
                              : parity == "mark" ? parity_level == '1'
                                                 : parity_level == '0';
            if (!fine) f.errors.emplace_back("parity");
        }
        return f;
    }

    static std::string find_parity(const SampledBits& r, const DigitalWaveform& data, std::size_t bits,
                                   std::size_t usual) {
        LevelWalk walk(data);
        long odd = 0, even = 0;
        const auto length = usual >= 8 ? usual : bits + 3;
        for (const auto& [from, to] : r.bursts) {
            if (to - from < length) continue;
            int ones = 0;
            bool stops = true;
            for (std::size_t k = 0; k < length; ++k) {
                const bool level = walk.before(r.times[from + k]);
                if (k == 0)
                    stops = stops && !level;
                else if (k == length - 1)
                    stops = stops && level;
                else
                    ones += level ? 1 : 0;
            }
            if (stops) (ones % 2 == 1 ? odd : even) += 1;
            if (odd + even > 5000) break;
        }
        const auto all = odd + even;
        if (all == 0) return "odd";
        if (odd >= even && 50 * even <= all) return "odd";
        if (50 * odd <= all) return "even";
        // Neither: some parity errors, or no parity at all.
        return 5 * std::min(odd, even) <= all ? (odd > even ? "odd" : "even") : "none";
    }
};

}  // namespace

std::unique_ptr<Decoder> make_framed_clock() {
    return std::make_unique<FramedClock>();
}

}  // namespace grayrelic
