// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/shapes.hpp"

#include "core/base/long_work.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <unordered_map>
#include <unordered_set>

#include "core/base/text.hpp"
#include "core/signal/merged_edges.hpp"

namespace grayrelic {
namespace {

using ShapeLines = std::vector<const DigitalWaveform*>;
constexpr std::size_t trial_transactions = 4'000;
constexpr std::size_t few_shapes = 8;  ///< so many are looked at one by one
constexpr std::size_t most_text = 160;
constexpr std::size_t most_lines = 64;  ///< among which those that carry data are looked for, one by one

std::uint64_t mix(std::uint64_t h, std::uint64_t v) {
    h = (h ^ v) * 0x9E3779B97F4A7C15ULL;
    return h ^ (h >> 29U);
}

/// Calls each with start, end and the key of every transaction; each gives false to stop.
template <class Each>
void walk(const ShapeLines& lines, Time gap, Each each) {
    MergedEdges edges(lines);
    MergedEdges::Step s;
    if (!edges.next(s)) return;
    Time start = s.time, last = s.time;
    std::uint64_t key = mix(1, 2 * s.line + (s.rises ? 1 : 0));
    while (edges.next(s)) {
        if (s.time - last > gap) {
            if (!each(start, last, key)) return;
            start = s.time;
            key = 1;
        }
        key = mix(key, 2 * s.line + (s.rises ? 1 : 0));
        last = s.time;
    }
    each(start, last, key);
}

std::size_t count_shapes(const ShapeLines& lines, Time gap) {
    std::unordered_set<std::uint64_t> keys;
    std::size_t n = 0;
    walk(lines, gap, [&](Time, Time, std::uint64_t key) {
        keys.insert(key);
        return ++n < trial_transactions;
    });
    return keys.size();
}

/// Leaves out lines until few shapes are left or leaving one more out hardly helps. Two lines always stay.
std::vector<std::size_t> choose_lines(const ShapeLines& all, Time gap) {
    std::vector<std::size_t> kept(all.size());
    std::iota(kept.begin(), kept.end(), std::size_t{0});
    const auto of = [&](const std::vector<std::size_t>& list) {
        ShapeLines out;
        for (const auto i : list) out.push_back(all[i]);
        return out;
    };
    auto shapes = count_shapes(of(kept), gap);
    while (shapes > few_shapes && kept.size() > 1) {
        std::size_t best = kept.size(), fewest = shapes;
        for (std::size_t k = 0; k < kept.size(); ++k) {
            auto without = kept;
            without.erase(without.begin() + static_cast<std::ptrdiff_t>(k));
            const auto n = count_shapes(of(without), gap);
            if (n < fewest) fewest = n, best = k;
        }
        // One shape fewer is no reason to look away.
        if (best == kept.size() || 3 * fewest > 2 * shapes) break;
        kept.erase(kept.begin() + static_cast<std::ptrdiff_t>(best));
        shapes = fewest;
    }
    return kept;
}

/// Edges in words, with repeats counted: "HOLD↑ HOLD↓ (STEP↓ STEP↑)×20".
std::string text_of(const ShapeLines& lines, const std::vector<std::string>& names, const Transaction& t) {
    std::vector<std::string> tokens;
    MergedEdges edges(lines);
    edges.jump(t.start);
    MergedEdges::Step s;
    while (tokens.size() < 2000 && edges.next(s) && s.time <= t.end)
        tokens.push_back(names[s.line] + (s.rises ? "↑" : "↓"));
    std::string out;
    for (std::size_t i = 0; i < tokens.size() && out.size() < most_text;) {
        std::size_t best_period = 1, best_repeats = 1;
        for (std::size_t p = 1; p <= 12 && i + 2 * p <= tokens.size(); ++p) {
            std::size_t r = 1;
            while (i + (r + 1) * p <= tokens.size() &&
                   std::equal(tokens.begin() + static_cast<std::ptrdiff_t>(i),
                              tokens.begin() + static_cast<std::ptrdiff_t>(i + p),
                              tokens.begin() + static_cast<std::ptrdiff_t>(i + r * p)))
                ++r;
            if (r > 1 && r * p > best_repeats * best_period) best_period = p, best_repeats = r;
        }
        out += out.empty() ? "" : " ";
        if (best_repeats > 1) {
            out += best_period > 1 ? "(" : "";
            for (std::size_t k = 0; k < best_period; ++k) out += (k == 0 ? "" : " ") + tokens[i + k];
            out += fmt::format("{}×{}", best_period > 1 ? ")" : "", best_repeats);
        } else {
            out += tokens[i];
        }
        i += best_period * best_repeats;
        if (i < tokens.size() && out.size() >= most_text) out += " …";
    }
    return out;
}

}  // namespace

Time ShapeList::to_see_once_in(long n, double probability) const {
    if (transactions.empty() || n <= 0) return {};
    const double span = (transactions.back().end - transactions.front().start).seconds();
    const double each = span / static_cast<double>(transactions.size());
    // Arrivals at random: 1 − exp(−N/n) = probability.
    return Time::from_seconds(-std::log(1.0 - probability) * static_cast<double>(n) * each);
}

std::optional<Time> find_gap(const ShapeLines& lines) {
    // Pauses by size, sixteen bins to the octave.
    constexpr int per_octave = 16;
    std::array<std::uint64_t, 64 * per_octave> bins{};
    std::array<std::int64_t, 64 * per_octave> least{}, most{};
    MergedEdges edges(lines);
    MergedEdges::Step s;
    if (!edges.next(s)) return std::nullopt;
    Time last = s.time;
    std::uint64_t all = 0;
    while (edges.next(s)) {
        const auto d = (s.time - last).count();
        last = s.time;
        if (d <= 0) continue;
        // The exponent and the four bits behind the leading one: a logarithm that costs two shifts.
        const auto u = static_cast<std::uint64_t>(d);
        const auto top = static_cast<unsigned>(63 - __builtin_clzll(u));
        const auto bin = top * per_octave +
                         static_cast<unsigned>(top >= 4 ? (u >> (top - 4)) & 15U : (u << (4 - top)) & 15U);
        if (bins[bin]++ == 0) least[bin] = most[bin] = d;
        least[bin] = std::min(least[bin], d);
        most[bin] = std::max(most[bin], d);
        ++all;
    }
    if (all < 2) return std::nullopt;
    std::uint64_t below = 0;
    std::size_t last_bin = bins.size();
    double widest = 1.0;
    std::optional<Time> gap;
    for (std::size_t i = 0; i < bins.size(); ++i) {
        if (bins[i] == 0) continue;
        if (last_bin < bins.size() && 2 * below >= all) {
            const double ratio = static_cast<double>(least[i]) / static_cast<double>(most[last_bin]);
            if (ratio > widest)
                widest = ratio, gap = Time::ps(static_cast<std::int64_t>(std::sqrt(
                                    static_cast<double>(least[i]) * static_cast<double>(most[last_bin]))));
        }
        below += bins[i];
        last_bin = i;
    }
    // Steps under a factor of two are no pause: it is all one transaction.
    if (widest < 2.0) return Time::ps(most[last_bin]);
    return gap;
}

namespace {

/// The lines that transactions are made of, with their names.
struct NamedLines {
    ShapeLines lines;
    std::vector<std::string> names, full;
    void take(const Signal& s) {
        lines.push_back(s.digital.get());
        names.push_back(short_name(s.name));
        full.push_back(s.name);
    }
};

Result<NamedLines> lines_of(const Capture& capture, const std::vector<std::string>& wanted) {
    NamedLines out;
    for (const auto& name : wanted) {
        const auto found = capture.find(name);
        if (!found) return fail(found.error());
        if (auto waveform = capture.find_digital(name); !waveform) return fail(waveform.error());
        out.take(**found);
    }
    if (!wanted.empty()) return out;
    std::unordered_set<const DigitalWaveform*> taken;  // other names of a line add nothing
    for (const auto& s : capture.signals)
        if (s.digital && !s.digital->edges().empty() && taken.insert(s.digital.get()).second) out.take(s);
    if (out.lines.size() > most_lines)
        return fail_usage(
            plural(static_cast<long long>(out.lines.size()), "line that changes", "lines that change"),
            fmt::format("at most {}, or those that matter by name", most_lines));
    return out;
}

}  // namespace

Result<ShapeList> find_shapes(const Capture& capture, const ShapeOptions& options, Progress& progress) {
    long_work("find_shapes");
    auto found = lines_of(capture, options.signals);
    if (!found) return fail(found.error());
    auto& [lines, names, full] = *found;
    ShapeList out;
    out.gap_found = !options.gap;
    out.gap = options.gap ? *options.gap : find_gap(lines).value_or(Time{});
    progress.report(0.2);
    if (progress.cancelled()) return fail_cancelled();
    if (options.signals.empty() && lines.size() > 1) {
        const auto kept = choose_lines(lines, out.gap);
        ShapeLines some;
        std::vector<std::string> some_names, some_full;
        for (std::size_t i = 0; i < lines.size(); ++i) {
            if (std::find(kept.begin(), kept.end(), i) == kept.end()) {
                out.left_out.push_back(full[i]);
                continue;
            }
            some.push_back(lines[i]);
            some_names.push_back(names[i]);
            some_full.push_back(full[i]);
        }
        lines = some;
        names = some_names;
        full = some_full;
    }
    out.signals = full;
    if (progress.cancelled()) return fail_cancelled();
    std::unordered_map<std::uint64_t, std::uint32_t> number;
    const auto span = static_cast<double>(std::max<std::int64_t>(1, capture.extent.length().count()));
    std::uint64_t last_key = 0;
    std::uint32_t last_shape = 0;
    walk(lines, out.gap, [&](Time start, Time end, std::uint64_t key) {
        if (out.transactions.empty() || key != last_key) {
            const auto [it, fresh] = number.try_emplace(key, static_cast<std::uint32_t>(out.shapes.size()));
            if (fresh) {
                out.shapes.emplace_back();
                out.shapes.back().example = out.transactions.size();
            }
            last_key = key;
            last_shape = it->second;
        }
        ++out.shapes[last_shape].count;
        out.transactions.push_back({start, end, last_shape});
        if ((out.transactions.size() & 8191U) == 0)
            progress.report(0.2 + 0.7 * static_cast<double>((end - capture.extent.from).count()) / span);
        return !progress.cancelled();
    });
    if (progress.cancelled()) return fail_cancelled();
    // The most frequent first; ties in order of appearance.
    std::vector<std::uint32_t> order(out.shapes.size()), place(out.shapes.size());
    std::iota(order.begin(), order.end(), 0U);
    std::stable_sort(order.begin(), order.end(),
                     [&](auto x, auto y) { return out.shapes[x].count > out.shapes[y].count; });
    std::vector<Shape> sorted;
    for (std::uint32_t k = 0; k < order.size(); ++k) {
        place[order[k]] = k;
        sorted.push_back(std::move(out.shapes[order[k]]));
        sorted.back().id = static_cast<int>(k) + 1;
    }
    out.shapes = std::move(sorted);
    std::vector<std::vector<Time>> lengths(out.shapes.size());
    for (std::size_t k = 0; k < out.shapes.size(); ++k)
        lengths[k].reserve(static_cast<std::size_t>(out.shapes[k].count));
    for (auto& t : out.transactions) {
        t.shape = place[t.shape];
        lengths[t.shape].push_back(t.end - t.start);
    }
    for (std::size_t k = 0; k < out.shapes.size(); ++k) {
        out.shapes[k].duration = summarise(lengths[k]);
        if (k < 200) out.shapes[k].text = text_of(lines, names, out.transactions[out.shapes[k].example]);
    }
    progress.report(1.0);
    return out;
}

}  // namespace grayrelic
