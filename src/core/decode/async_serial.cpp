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
#include "core/decode/bit_time.hpp"
#include "core/decode/settings.hpp"

namespace grayrelic {
namespace {

using namespace async_line;

constexpr std::size_t trial_edges = 24'000;  ///< of the waveform, for choosing settings
constexpr long hopeless_after = 400;         ///< characters, most of them without a stop bit

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

struct Trial {
    long characters = 0, framing = 0;
    std::vector<std::uint32_t> data;  ///< of those that framed
    [[nodiscard]] double bad() const {
        return characters == 0 ? 1.0 : static_cast<double>(framing) / static_cast<double>(characters);
    }
};

Trial try_shape(const DigitalWaveform& waveform, const Shape& shape) {
    Trial t;
    walk(Line(waveform, shape), trial_edges, [&](const Character& c, std::size_t) {
        if (c.all_space && !c.stopped) return true;  // breaks tell nothing about the shape
        ++t.characters;
        if (c.stopped)
            t.data.push_back(c.data);
        else
            ++t.framing;
        return t.characters < hopeless_after ||
               2 * t.framing < t.characters;  // no better shape will come of it
    });
    return t;
}

/// Even or odd when nearly all agree and they differ enough that chance would not do it.
Parity find_parity(const Trial& t, int positions) {
    std::set<std::uint32_t> even, odd;
    long evens = 0;
    for (const auto d : t.data) {
        const bool o = (std::popcount(d) & 1) != 0;
        (o ? odd : even).insert(d);
        evens += o ? 0 : 1;
    }
    const auto all = static_cast<double>(t.data.size());
    if (positions < 6 || all < 8) return Parity::none;
    const bool is_even = static_cast<double>(evens) >= 0.98 * all && even.size() >= 6;
    const bool is_odd = static_cast<double>(evens) <= 0.02 * all && odd.size() >= 6;
    return is_even ? Parity::even : is_odd ? Parity::odd : Parity::none;
}

/// 1, 1.5 or 2: how close characters come to each other.
double find_stop(const DigitalWaveform& waveform, const Shape& shape) {
    std::vector<double> gaps;
    Time last;
    bool any = false;
    walk(Line(waveform, shape), trial_edges, [&](const Character& c, std::size_t) {
        if (any)
            gaps.push_back(static_cast<double>((c.start - last).count()) / shape.bit_ps -
                           (shape.positions() + 1));
        any = c.stopped;
        last = c.start;
        return true;
    });
    if (gaps.size() < 3) return 1;
    std::sort(gaps.begin(), gaps.end());
    const double least = gaps[gaps.size() / 50];
    const auto close = std::count_if(gaps.begin(), gaps.end(), [&](double g) { return g < least + 0.2; });
    if (close < 3 || 10 * close < static_cast<long>(gaps.size())) return 1;
    return std::abs(least - 2) < 0.2 ? 2 : std::abs(least - 1.5) < 0.2 ? 1.5 : 1;
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
        auto shape = choose(input, waveform);
        if (!shape) return fail(shape.error());
        if (!(shape->bit_ps > 0)) {
            Decoding none;
            none.notes.emplace_back("too few edges to find the rate");
            return none;
        }
        BitTimeFit fit;
        if (!input.setting("baud")) fit = refine(waveform, *shape);
        const bool msb = input.setting("order").value_or("lsb") == "msb";
        Decoding out;
        const auto& s = *shape;
        out.settings["baud"] = 1e12 / s.bit_ps;
        out.settings["bits"] = static_cast<long long>(s.bits);
        for (const auto& [name, p] : parities)
            if (p == s.parity) out.settings["parity"] = std::string(name);
        out.settings["stop"] = s.stop;
        out.settings["invert"] = std::string(s.inverted ? "yes" : "no");
        out.settings["order"] = std::string(msb ? "msb" : "lsb");
        if (fit.edges > 2) out.settings["baud_error"] = 1e12 / (s.bit_ps * s.bit_ps) * fit.standard_error_ps;
        const Line line(waveform, s);
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
            auto& f = out.frames.emplace_back();
            fill_frame(f, c, s, msb, width, waveform);
            seen.add(f);
            return true;
        });
        if (stopped) return fail_cancelled();
        if (input.setting("parity").value_or("auto") == "auto" || !input.setting("bits"))
            out.notes = doubts(seen, s);
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

    static Result<Shape> choose(const Input& input, const DigitalWaveform& waveform) {
        Shape given;
        std::vector<double> times;
        if (const auto text = input.setting("baud")) {
            auto rate = parse_number(*text, Unit::baud);
            if (!rate) rate = parse_number(*text, Unit::hertz);
            if (!rate || !(*rate > 1e-3) || *rate > 1e10)
                return fail_usage("baud " + in_quotes(*text), "auto or bits a second such as 13393");
            times = {1e12 / *rate};
        } else {
            times = bit_time_candidates(waveform);
        }
        const auto bits = whole_setting(input.setting("bits"), "bits", 5, 9);
        if (!bits) return fail(bits.error());
        const auto parity = input.setting("parity");
        if (parity)
            for (const auto& [name, p] : parities)
                if (*parity == name) given.parity = p;
        if (times.empty()) return given;
        const auto invert = input.setting("invert");
        const bool rests = invert ? false : resting_level(waveform);
        std::vector<bool> polarities;
        if (invert)
            polarities = {*invert == "yes"};
        else
            polarities = {!rests, rests};
        std::optional<Shape> best;
        double best_bad = 2;
        Trial best_trial;
        for (std::size_t k = 0; k < times.size(); ++k)
            for (std::size_t v = 0; v < polarities.size(); ++v)
                for (int positions = 5; positions <= 10; ++positions) {
                    Shape s;
                    s.bit_ps = times[k];
                    s.inverted = polarities[v];
                    if (*bits &&
                        positions != static_cast<int>(**bits) +
                                         (parity ? (given.parity == Parity::none ? 0 : 1) : 0) &&
                        (parity || positions != static_cast<int>(**bits) + 1))
                        continue;
                    if (!*bits && parity && given.parity != Parity::none && positions < 6) continue;
                    s.bits = positions;  // tried without parity
                    if (positions > 9 && !*bits && !(parity && given.parity != Parity::none)) {
                        if (parity) continue;
                        s.bits = 10;
                    }
                    const auto trial = try_shape(waveform, s);
                    if (trial.characters == 0) continue;
                    // Another rate or polarity must be clearly better, more bits must be better at all.
                    const double bad = trial.bad() + 0.04 * static_cast<double>(k) +
                                       0.03 * static_cast<double>(v) + 0.02 * (positions - 5);
                    if (bad < best_bad - 1e-9) best_bad = bad, best = s, best_trial = trial;
                }
        if (!best) return given;
        const int positions = best->bits;
        if (parity) {
            best->parity = given.parity;
        } else if (*bits) {
            best->parity =
                positions == static_cast<int>(**bits) ? Parity::none : find_parity(best_trial, positions);
            if (positions > static_cast<int>(**bits) && best->parity == Parity::none)
                best->parity = constant_top(best_trial, positions);
        } else {
            best->parity = find_parity(best_trial, positions);
            if (best->parity == Parity::none && positions == 10)
                best->parity = constant_top(best_trial, positions);
            if (best->parity == Parity::none && positions == 9 &&
                constant_top(best_trial, positions) == Parity::space)
                best->parity = Parity::space;
        }
        best->bits = best->parity == Parity::none ? positions : positions - 1;
        if (best->bits > 9) best->bits = 9;
        if (const auto stop = input.setting("stop"))
            best->stop = std::stod(*stop);
        else
            best->stop = find_stop(waveform, *best);
        return *best;
    }

    static Parity constant_top(const Trial& t, int positions) {
        long marks = 0;
        for (const auto d : t.data)
            marks += static_cast<long>((d >> static_cast<unsigned>(positions - 1)) & 1U);
        return 2 * marks >= static_cast<long>(t.data.size()) ? Parity::mark : Parity::space;
    }

    /// Over the edges of all characters that framed.
    static BitTimeFit refine(const DigitalWaveform& waveform, Shape& shape) {
        BitTimeFit fit;
        for (int pass = 0; pass < 2; ++pass) {
            std::vector<double> offsets;
            std::vector<int> multiples;
            std::vector<char> turned;
            const Line line(waveform, shape);
            walk(line, 4 * trial_edges, [&](const Character& c, std::size_t start) {
                if (!c.stopped) return true;
                for (auto i = start + 1; i < c.after; ++i) {
                    const auto offset = static_cast<double>((line.edge(i) - c.start).count());
                    const double k = std::round(offset / shape.bit_ps);
                    if (std::abs(offset - k * shape.bit_ps) > 0.35 * shape.bit_ps) continue;
                    offsets.push_back(offset);
                    multiples.push_back(static_cast<int>(k));
                    turned.push_back(line.is_mark_after(i + 1) ? 1 : 0);
                }
                return true;
            });
            const auto next = fit_bit_time(offsets, multiples, turned);
            if (!(next.ps > 0) || std::abs(next.ps / shape.bit_ps - 1) > 0.05) break;
            fit = next;
            shape.bit_ps = next.ps;
        }
        return fit;
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

    static std::vector<std::string> doubts(const Seen& seen, const Shape& s) {
        std::vector<std::string> out;
        const auto& [values, top_low, top_high, clean] = seen;
        if (clean == 0) return out;
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
