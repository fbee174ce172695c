// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/async_serial.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <bit>
#include <cmath>
#include <set>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/decode/async_line.hpp"
#include "core/decode/async_shape.hpp"
#include "core/decode/bit_time.hpp"
#include "core/decode/settings.hpp"

namespace grayrelic {
namespace {

using namespace async_line;

bool parity_holds(Parity p, std::uint32_t data, int bits) {
    const bool odd = (std::popcount(data) & 1) != 0;  // parity bit included
    const bool top = ((data >> static_cast<unsigned>(bits)) & 1U) != 0;
    switch (p) {
        case Parity::none: return true;
        case Parity::even: return !odd;
        case Parity::odd: return odd;
        case Parity::mark: return top;
        case Parity::space: return !top;
    }
    return true;
}

class AsyncSerial final : public Decoder {
  public:
    std::string kind() const override { return "async-serial"; }
    std::string about() const override {
        return "A start bit, data bits, perhaps parity, a stop bit; both ends keep their own time.";
    }
    std::vector<RoleSpec> roles() const override { return {{"data", false, false, "the line"}}; }
    std::vector<SettingSpec> settings() const override {
        return {{"baud", {}, "bits a second"},
                {"bits", {}, "data bits, 5 to 9"},
                {"parity", {"none", "even", "odd", "mark", "space"}, "the bit behind the data bits"},
                {"stop", {"1", "1.5", "2"}, "stop bits"},
                {"invert", {"yes", "no"}, "yes when the line rests low"},
                {"order", {"msb", "lsb"}, "which bit comes first"}};
    }

  protected:
    Result<Decoding> run(const Input& input, Progress& progress) const override {
        const auto& waveform = input.role("data");
        const auto asked = wanted(input);
        if (!asked) return fail(asked.error());
        const auto found = find_shape(waveform, input.extent, *asked);
        if (!(found.shape.bit_ps > 0)) {
            Decoding none;
            none.notes.emplace_back("too few edges to find the rate");
            return none;
        }
        auto s = found.shape;
        BitTimeFit fit;
        if (!input.setting("baud")) fit = refine_rate(waveform, input.extent, s);
        const bool msb = input.setting("order").value_or("lsb") == "msb";
        Decoding out;
        out.settings["baud"] = 1e12 / s.bit_ps;
        out.settings["bits"] = static_cast<long long>(s.bits);
        for (const auto& [name, p] : parities)
            if (p == s.parity) out.settings["parity"] = std::string(name);
        out.settings["stop"] = s.stop;
        out.settings["invert"] = std::string(s.inverted ? "yes" : "no");
        out.settings["order"] = std::string(msb ? "msb" : "lsb");
        if (fit.edges > 2) out.settings["baud_error"] = 1e12 / (s.bit_ps * s.bit_ps) * fit.standard_error_ps;
        const Line line(waveform, s, input.extent.from);
        const auto width = (s.positions() + 1 + s.stop) * s.bit_ps;
        Seen seen;
        long done = 0;
        bool stopped = false;
        // How many there will be follows from how many edges the first ones take.
        constexpr long sampled = 4096;
        walk(line, line.count(), [&](const Character& c, std::size_t start) {
            if (++done == sampled)
                out.frames.reserve(static_cast<std::size_t>(
                    1.05 * sampled * static_cast<double>(line.count()) / static_cast<double>(start + 1)));
            if ((done & 4095) == 0) {
                progress.report(static_cast<double>(start) / static_cast<double>(line.count()));
                if ((stopped = progress.cancelled())) return false;
            }
            // A stop bit may be cut short by the next character; no two words overlap.
            if (!out.frames.empty()) out.frames.back().end = std::min(out.frames.back().end, c.start);
            auto& f = out.frames.emplace_back();
            fill_frame(f, c, s, msb, width, waveform);
            seen.add(f);
            return true;
        });
        if (stopped) return fail_cancelled();
        if (input.setting("parity").value_or("auto") == "auto" || !input.setting("bits"))
            out.notes = doubts(seen, s, found.few);
        if (found.chatter_ps > 0)
            out.notes.push_back(
                fmt::format("Edges chatter for up to {} each; the rate is that of the edges behind them. A "
                            "filter on the probe, or a shorter ground lead, would tell whether it is the "
                            "line or the probe.",
                            print(Time::ps(static_cast<std::int64_t>(found.chatter_ps)))));
        out.unsure = unsure_of(seen, s, found);
        progress.report(1.0);
        return out;
    }

  private:
    static void fill_frame(Frame& f, const Character& c, const Shape& s, bool msb, double width,
                           const DigitalWaveform& waveform) {
        f.start = c.start;
        f.end = Time::ps(c.start.count() + static_cast<std::int64_t>(width));
        f.bit_times = BitTimes::even(c.start + Time::ps(static_cast<std::int64_t>(1.5 * s.bit_ps)), s.bit_ps,
                                     static_cast<std::size_t>(s.bits));
        char levels[16];
        std::uint64_t value = 0;
        for (int k = 0; k < s.bits; ++k) {
            const auto one = (c.data >> static_cast<unsigned>(k)) & 1U;
            levels[k] = static_cast<char>('0' + one);
            value |= static_cast<std::uint64_t>(one) << static_cast<unsigned>(msb ? s.bits - 1 - k : k);
        }
        f.levels.assign(levels, static_cast<std::size_t>(s.bits));
        f.value = value;
        if (!waveform.unknown().empty() && !waveform.known_between(c.start, f.end)) {
            for (std::size_t k = 0; k < f.levels.size(); ++k)
                if (!waveform.known_before(f.bit_times[k])) f.levels[k] = 'x', f.value.reset();
            f.errors.emplace_back("unknown");
        }
        if (!c.stopped)
            f.errors.emplace_back(c.all_space ? "break" : "framing");
        else if (!parity_holds(s.parity, c.data, s.bits))
            f.errors.emplace_back("parity");
    }

    static Result<Wanted> wanted(const Input& input) {
        Wanted w;
        if (const auto text = input.setting("baud")) {
            auto rate = parse_number(*text, Unit::baud);
            if (!rate) rate = parse_number(*text, Unit::hertz);
            if (!rate || !(*rate > 1e-3) || *rate > 1e10)
                return fail_usage("baud " + in_quotes(*text), "auto or bits a second such as 13393");
            w.bit_ps = 1e12 / *rate;
        }
        const auto bits = whole_setting(input.setting("bits"), "bits", 5, 9);
        if (!bits) return fail(bits.error());
        if (*bits) w.bits = static_cast<int>(**bits);
        if (const auto parity = input.setting("parity"))
            for (const auto& [name, p] : parities)
                if (*parity == name) w.parity = p;
        if (const auto stop = input.setting("stop")) w.stop = std::stod(*stop);
        if (const auto invert = input.setting("invert")) w.inverted = *invert == "yes";
        return w;
    }

    /// Other settings that read these characters as well, and what would tell them apart.
    /// What was seen of characters without errors, for the doubts about their shape.
    struct Seen {
        static constexpr std::size_t enough_values = 12;  // different ones, to believe in a parity
        std::set<std::uint64_t> values;
        bool top_low = true, top_high = true;
        long clean = 0;
        void add(const Frame& f) {
            if (!f.errors.empty() || !f.value) return;
            ++clean;
            if (values.size() < enough_values) values.insert(*f.value);
            (f.levels.back() == '0' ? top_high : top_low) = false;
        }
    };

    static std::vector<Unsure> unsure_of(const Seen& seen, const Shape& s, const Found& found) {
        std::vector<Unsure> out;
        const auto bits = [](int n) { return std::to_string(n); };
        const std::string parity(parities[static_cast<std::size_t>(s.parity)].first);
        if (seen.clean > 0) {
            if (found.few)
                out.push_back({"bits", {bits(5), bits(6), bits(7), bits(s.bits)}, "more characters"});
            else if (s.parity == Parity::none && s.bits > 5 && (seen.top_low || seen.top_high)) {
                const std::string constant = seen.top_low ? "space" : "mark";
                out.push_back(
                    {"bits", {bits(s.bits), bits(s.bits - 1)}, "a character with its last bit turned"});
                out.push_back({"parity", {"none", constant}, "a character with its last bit turned"});
            } else if (s.parity != Parity::none && seen.values.size() < Seen::enough_values) {
                out.push_back({"bits", {bits(s.bits), bits(std::min(9, s.bits + 1))}, "other characters"});
                out.push_back({"parity", {parity, "none"}, "other characters"});
            } else if (s.parity == Parity::none && s.bits > 5 && seen.clean < 8) {
                out.push_back({"bits", {bits(s.bits), bits(s.bits - 1)}, "more characters"});
                out.push_back({"parity", {"none", "even", "odd"}, "more characters"});
            }
        }
        if (!found.stop_known)
            out.push_back({"stop", {"1", "1.5", "2"}, "characters without a pause between them"});
        if (found.either_way) out.push_back({"invert", {"yes", "no"}, "the line at rest, before or behind"});
        out.push_back({"order", {"lsb", "msb"}, "text, or a byte that counts"});
        return out;
    }

    static std::vector<std::string> doubts(const Seen& seen, const Shape& s, bool few) {
        std::vector<std::string> out;
        const auto& [values, top_low, top_high, clean] = seen;
        if (clean == 0) return out;
        if (few)
            out.push_back(
                fmt::format("Fewer data bits read the same: {} characters are too few to tell, and 8 "
                            "bits are the usual ones. A longer capture would tell.",
                            clean));
        if (s.parity == Parity::none && s.bits > 5 && (top_low || top_high))
            out.push_back(
                fmt::format("{} data bits with {} parity read the same: the last bit never moved. A "
                            "character with it {} would tell.",
                            s.bits - 1, top_low ? "space" : "mark", top_low ? "set" : "clear"));
        if (s.parity == Parity::even || s.parity == Parity::odd) {
            if (values.size() < Seen::enough_values)
                out.push_back(
                    fmt::format("{} data bits without parity read the same: only {} different characters "
                                "were seen, all of {} parity. Any other character would tell.",
                                s.bits + 1, values.size(), s.parity == Parity::even ? "even" : "odd"));
        } else if (s.parity == Parity::none && clean < 8) {
            out.push_back(
                fmt::format("{} data bits with parity may read the same: {} characters are too few to tell. "
                            "A longer capture would.",
                            s.bits - 1, clean));
        }
        return out;
    }
};

}  // namespace

std::unique_ptr<Decoder> make_async_serial() {
    return std::make_unique<AsyncSerial>();
}

}  // namespace grayrelic
