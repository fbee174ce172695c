// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/pointer.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>

#include "core/base/decimal.hpp"
#include "core/base/long_work.hpp"
#include "core/base/table.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_polls = 100'000'000, most_points = 4096;
constexpr double smallest = 1e-9;  // of a step: what rounding may leave

double between(const std::vector<CurvePoint>& table, double out) {
    if (out <= table.front().out) return out < table.front().out ? 0 : table.front().speed;
    for (std::size_t i = 1; i < table.size(); ++i)
        if (out <= table[i].out) {
            const auto& a = table[i - 1];
            const auto& b = table[i];
            return a.speed + (b.speed - a.speed) * (out - a.out) / (b.out - a.out);
        }
    return table.back().speed;
}

/// Of every position from 0 to the limit; made once a run.
std::vector<double> speeds_of(const MoveCurve& curve) {
    std::vector<double> out(static_cast<std::size_t>(curve.limit) + 1);
    for (std::size_t i = 0; i < out.size(); ++i) out[i] = speed_of(curve, static_cast<long>(i));
    return out;
}

long position_in(const std::vector<double>& speeds, double steps) {
    const auto above = std::upper_bound(speeds.begin(), speeds.end(), steps * (1 + 1e-12) + smallest);
    if (above == speeds.begin()) return 0;
    return std::lower_bound(speeds.begin(), above, *(above - 1)) - speeds.begin();
}

bool plain(const MoveCurve& curve) {
    return curve.table.empty() && curve.exponent == 1;
}

/// counts_per_step as a whole number of 1/parts counts, so that nothing is rounded over millions of polls.
struct Exact {
    std::int64_t parts = 1, per_step = 1;
};
std::optional<Exact> exact_of(double counts_per_step) {
    for (std::int64_t parts = 1; parts <= 1'000'000; parts *= 10) {
        const double scaled = counts_per_step * static_cast<double>(parts);
        const double whole = std::round(scaled);
        if (whole >= 1 && whole < 1e12 && std::abs(scaled - whole) <= 1e-9 * scaled)
            return Exact{parts, static_cast<std::int64_t>(whole)};
    }
    return std::nullopt;
}

/// Poll by poll in whole numbers: for the plain curve.
class PlainMover {
  public:
    PlainMover(const MoveCurve& curve, Exact exact) : curve_(curve), exact_(exact) {}

    long take(long counts) {
        // Beyond 2^62 nothing more can wait; that is 4·10^12 counts at a millionth.
        waiting_ += std::clamp<std::int64_t>(counts, -1'000'000'000, 1'000'000'000) * exact_.parts;
        auto steps = waiting_ / exact_.per_step;
        const std::int64_t most = curve_.limit - curve_.dead;
        held_ = steps > most || steps < -most;
        steps = std::clamp(steps, -most, most);
        waiting_ -= steps * exact_.per_step;
        steps_ = static_cast<double>(steps);
        if (steps == 0) return 0;
        return static_cast<long>(steps > 0 ? curve_.dead + steps : steps - curve_.dead);
    }
    [[nodiscard]] double waiting() const {
        return static_cast<double>(waiting_) / static_cast<double>(exact_.parts);
    }
    [[nodiscard]] double speed() const { return steps_; }
    [[nodiscard]] bool held() const { return held_; }

  private:
    const MoveCurve& curve_;
    const Exact exact_;
    std::int64_t waiting_ = 0;
    double steps_ = 0;
    bool held_ = false;
};

/// The same with any curve. Counts in and steps out are summed apart, so that rounding does not add up.
class CurveMover {
  public:
    explicit CurveMover(const MoveCurve& curve) : curve_(curve), speeds_(speeds_of(curve)) {}

    long take(long counts) {
        in_ += counts;
        const double steps = waiting() / curve_.counts_per_step;
        const auto place = position_in(speeds_, std::abs(steps));
        speed_ = speeds_[static_cast<std::size_t>(place)] * (steps < 0 ? -1 : 1);
        held_ = std::abs(steps) > speeds_.back() + smallest;
        moved_ += speed_;
        if (speed_ == 0) return 0;
        return steps < 0 ? -place : place;
    }
    [[nodiscard]] double waiting() const {
        return static_cast<double>(in_) - moved_ * curve_.counts_per_step;
    }
    [[nodiscard]] double speed() const { return speed_; }
    [[nodiscard]] bool held() const { return held_; }

  private:
    const MoveCurve& curve_;
    const std::vector<double> speeds_;
    std::int64_t in_ = 0;
    double moved_ = 0, speed_ = 0;
    bool held_ = false;
};

template <class Mover>
Result<MoveResult> run(const MoveCurve& curve, Mover mover, std::span<const long> counts,
                       Progress& progress) {
    MoveResult r;
    r.out.reserve(counts.size());
    r.speeds.reserve(counts.size());
    r.waiting.reserve(counts.size());
    std::size_t waits = 0;
    for (std::size_t i = 0; i < counts.size(); ++i) {
        if (i % 65'536 == 0) {
            if (progress.cancelled()) return fail_cancelled();
            progress.report(static_cast<double>(i) / static_cast<double>(counts.size()));
        }
        r.out.push_back(mover.take(counts[i]));
        r.speeds.push_back(mover.speed());
        r.waiting.push_back(mover.waiting());
        if (mover.held()) ++r.saturated;
        const double waiting = std::abs(mover.waiting());
        r.most_waiting = std::max(r.most_waiting, waiting);
        waits = waiting >= curve.counts_per_step ? waits + 1 : 0;
        r.longest_wait = std::max(r.longest_wait, waits);
    }
    r.carried = counts.empty() ? 0 : r.waiting.back();
    return r;
}

}  // namespace

std::string problem_of(const MoveCurve& c) {
    if (!(c.counts_per_step > 0)) return "counts per step must be above 0";
    if (c.dead < 0) return "the dead zone can't be below 0";
    if (c.limit <= c.dead)
        return fmt::format("the limit {} is not above the dead zone {}: nothing could move", c.limit, c.dead);
    if (!(c.exponent > 0)) return "the exponent must be above 0";
    for (std::size_t i = 1; i < c.table.size(); ++i)
        if (c.table[i].out <= c.table[i - 1].out || c.table[i].speed < c.table[i - 1].speed)
            return fmt::format("the curve does not rise at {}: speed {} behind {} at {}", c.table[i].out,
                               c.table[i].speed, c.table[i - 1].speed, c.table[i - 1].out);
    if (!c.table.empty() && speed_of(c, c.limit) <= 0) return "the curve moves nothing up to the limit";
    return {};
}

double speed_of(const MoveCurve& c, long out) {
    if (out < 0) return -speed_of(c, -out);
    if (!c.table.empty()) return out == 0 ? 0 : std::max(0.0, between(c.table, static_cast<double>(out)));
    if (out <= c.dead) return 0;
    return std::pow(static_cast<double>(out - c.dead), c.exponent);
}

long position_for(const MoveCurve& curve, double steps) {
    return position_in(speeds_of(curve), steps);
}

Result<MoveResult> move_through(const MoveCurve& curve, std::span<const long> counts, Progress& progress) {
    long_work("moving through a curve");
    if (const auto problem = problem_of(curve); !problem.empty())
        return fail_usage(problem, "a curve that rises, with a limit above its dead zone");
    if (counts.size() > most_polls) return fail_usage("more than 100,000,000 polls", "a shorter recording");
    if (plain(curve))
        if (const auto exact = exact_of(curve.counts_per_step))
            return run(curve, PlainMover(curve, *exact), counts, progress);
    return run(curve, CurveMover(curve), counts, progress);
}

std::vector<long> move_plainly(const MoveCurve& curve, std::span<const long> counts) {
    std::vector<long> out;
    out.reserve(counts.size());
    for (const auto c : counts)
        out.push_back(std::clamp(static_cast<long>(static_cast<double>(c) / curve.counts_per_step),
                                 -curve.limit, curve.limit));
    return out;
}

Result<std::vector<long>> read_moves(std::string_view text, const std::string& name) {
    const auto table = read_table(text, name, "a table of counts", {64U << 20U, 5'000'000, 64});
    if (!table) return fail(table.error());
    const auto keys = heading_keys(table->rows.front());
    const auto at = std::find(keys.begin(), keys.end(), "counts");
    if (at == keys.end())
        return fail_at(name, table->rows.front().line, "no column \"counts\"",
                       "a column counts, one row a poll");
    const auto column = static_cast<std::size_t>(at - keys.begin());
    std::vector<long> out;
    out.reserve(table->rows.size());
    for (std::size_t i = 1; i < table->rows.size(); ++i) {
        const auto& row = table->rows[i];
        auto cell = column < row.cells.size() ? trim(row.cells[column]) : std::string_view{};
        if (cell.starts_with('+')) cell.remove_prefix(1);
        long value = 0;
        const auto [end, error] = std::from_chars(cell.data(), cell.data() + cell.size(), value);
        if (error != std::errc{} || end != cell.data() + cell.size() || value < -1'000'000'000 ||
            value > 1'000'000'000)
            return fail_at(name, row.line, in_quotes(cell), "a whole number of counts");
        out.push_back(value);
    }
    return out;
}

Result<std::vector<CurvePoint>> read_curve_table(std::string_view text, const std::string& name) {
    const auto table = read_table(text, name, "a measured curve");
    if (!table) return fail(table.error());
    const auto keys = heading_keys(table->rows.front());
    std::vector<CurvePoint> out;
    for (std::size_t i = 1; i < table->rows.size(); ++i) {
        const auto& row = table->rows[i];
        CurvePoint p;
        for (const auto& [key, into] : {std::pair("out", &p.out), std::pair("speed", &p.speed)}) {
            const auto cell = cell_below(keys, row, key);
            const auto value = decimal_number(cell, '.');
            if (!value || !(std::abs(*value) <= 1e9))
                return fail_at(name, row.line, in_quotes(cell),
                               fmt::format("a number in the column {}", key));
            *into = *value;
        }
        if (!out.empty() && (p.out <= out.back().out || p.speed < out.back().speed))
            return fail_at(name, row.line,
                           fmt::format("speed {} at {} behind {} at {}", p.speed, p.out, out.back().speed,
                                       out.back().out),
                           "a curve that rises");
        out.push_back(p);
        if (out.size() > most_points)
            return fail_at(name, row.line, "too many points", "at most 4096 points");
    }
    if (out.size() < 2)
        return fail_at(name, 1, "fewer than two points", "at least two rows with out and speed");
    return out;
}

}  // namespace grayrelic
