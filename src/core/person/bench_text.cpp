// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/person/bench_text.hpp"

#include <fmt/format.h>

#include <charconv>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr double samples_a_pulse = 4;

std::vector<std::string> words_in(std::string_view text) {
    std::vector<std::string> out;
    for (const auto w : split(trim(text), ' '))
        if (!w.empty()) out.emplace_back(w);
    return out;
}

std::optional<int> count(std::string_view text) {
    int n = 0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), n);
    if (code != std::errc() || end != text.data() + text.size() || n < 0 || n > 10'000'000)
        return std::nullopt;
    return n;
}

/// A figure and its unit in one word or two; moves `at` behind what it took.
template <Unit U>
std::optional<Quantity<U>> figure(const std::vector<std::string>& words, std::size_t& at,
                                  std::string_view unit) {
    const auto& word = words[at];
    if (word.size() > unit.size() && word.ends_with(unit))
        if (const auto q = parse_quantity<U>(word)) return ++at, *q;
    if (at + 1 < words.size() && words[at + 1].ends_with(unit) && words[at + 1].size() <= unit.size() + 1)
        if (const auto q = parse_quantity<U>(word + words[at + 1])) return at += 2, *q;
    return std::nullopt;
}

}  // namespace

Result<Instrument> parse_instrument(std::string_view text) {
    const auto words = words_in(text);
    Instrument out;
    const auto kind = words.empty() ? std::nullopt : named<InstrumentKind>(words.front());
    if (!kind)
        return fail_usage(in_quotes(words.empty() ? "" : words.front()), one_of<InstrumentKind>() + " first");
    out.kind = *kind;
    for (std::size_t at = 1; at < words.size();) {
        if (const auto hz = figure<Unit::hertz>(words, at, "Hz")) {
            if (!(hz->value() > 0)) return fail_usage("a rate of 0", "more than zero");
            (out.kind == InstrumentKind::scope && !out.bandwidth ? out.bandwidth : out.rate) = *hz;
            continue;
        }
        if (const auto volts = figure<Unit::volt>(words, at, "V")) {
            if (!(volts->value() > 0)) return fail_usage("0 V", "more than zero");
            const bool threshold = at < words.size() && words[at] == "threshold";
            if (threshold) ++at;
            (threshold ? out.threshold : out.most_volts) = *volts;
            continue;
        }
        if (at + 1 < words.size() && words[at + 1].starts_with("input")) {
            const auto inputs = count(words[at]);
            if (!inputs || *inputs < 1 || *inputs > 10'000)
                return fail_usage(in_quotes(words[at]), "a number of inputs");
            out.inputs = *inputs;
            at += 2;
            continue;
        }
        out.name += (out.name.empty() ? "" : " ") + words[at++];
    }
    return out;
}

Result<SolderRecord> parse_solder(std::string_view text) {
    const auto words = words_in(text);
    const auto done = words.size() >= 2 ? count(words[1]) : std::nullopt;
    const auto bad = words.size() >= 3 ? count(words[2]) : std::optional(0);
    if (words.size() > 3 || !done || !bad || *bad > *done)
        return fail_usage(in_quotes(text), "a package, how many, how many of them bad: soic 120 2");
    return SolderRecord{words[0], *done, *bad};
}

std::vector<std::string> bench_reach(const Bench& bench, const BenchNeeds& needs) {
    std::vector<std::string> out;
    const auto name = [](const Instrument& i) { return i.name.empty() ? std::string(word(i.kind)) : i.name; };
    const auto touches = [](const Instrument& i) {
        return i.kind == InstrumentKind::meter || i.kind == InstrumentKind::scope ||
               i.kind == InstrumentKind::analyser;
    };
    for (const auto& i : bench.instruments) {
        if (!touches(i) || needs.highest_volts <= 0) continue;
        if (!i.most_volts)
            out.push_back(fmt::format("{}: what its inputs take is not on record; {} reaches {}.", name(i),
                                      needs.where, print(Volts(needs.highest_volts))));
        else if (i.most_volts->value() < needs.highest_volts)
            out.push_back(fmt::format("{} takes {}: keep it off {}, which reaches {}.", name(i),
                                      print(*i.most_volts), needs.where, print(Volts(needs.highest_volts))));
    }
    if (needs.shortest && needs.shortest->seconds() > 0) {
        const Hertz wanted(samples_a_pulse / needs.shortest->seconds());
        const auto best = bench.best_rate();
        const auto pulse =
            fmt::format("The shortest pulse{}, {} on {}, needs {} for four samples",
                        needs.may_be_a_glitch ? ", perhaps a glitch" : " of a line without glitches",
                        print(*needs.shortest), needs.shortest_where, print(wanted));
        if (!best)
            out.push_back(pulse + "; no sampling rate is on record.");
        else
            out.push_back(fmt::format("{}; the bench reaches {}{}.", pulse, print(*best),
                                      *best < wanted ? ": too few" : ""));
    }
    if (!bench.instruments.empty() && !bench.has(InstrumentKind::meter))
        out.emplace_back("No meter is on record: continuity and supplies can't be settled.");
    return out;
}

}  // namespace grayrelic
