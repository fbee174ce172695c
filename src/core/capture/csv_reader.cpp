// SPDX-License-Identifier: GPL-3.0-or-later
// All columns are taken for digital until one is not; then the rows are gone through again for the extremes
// of the analogue ones, and once more for the levels. A file of levels is read once.
#include "core/capture/csv_reader.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>

#include "core/base/decimal.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/capture/vcd_bits.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t read_block = 1U << 20U;
constexpr std::size_t dialect_bytes = 1U << 18U;
constexpr std::uint64_t most_samples = 400'000'000;  ///< of all analogue columns together
constexpr double hysteresis = 0.1;  // of the span between the extremes, on each side of the threshold

struct Column {
    std::size_t field = 0;
    bool analogue = false;
    double low = std::numeric_limits<double>::infinity();
    double high = -std::numeric_limits<double>::infinity();
    double threshold = 0.0;
    double band = 0.0;
    BitState bit;
    // While thresholding:
    char level = 0;
    double before = 0.0;
    Time before_at;
    Time crossed_at;
    std::vector<float> samples;  ///< NaN where the field is no number
};

class Reader {
  public:
    Reader(const ByteSource& source, const std::string& name, Progress& progress, const CsvOptions& options,
           const CsvLimits& limits)
        : source_(source), name_(name), progress_(progress), options_(options), limits_(limits) {}

    Result<Capture> run() {
        if (auto found = find_dialect(); !found) return fail(found.error());
        for (std::size_t c = 0; c < dialect_.names.size(); ++c)
            if (c != dialect_.time) columns_.emplace_back().field = c;
        if (columns_.empty())
            return fail_at(name_, dialect_.line, "a table of times alone", "a column of values as well");
        auto done = read_levels();
        while (done && analogue_found_) {
            analogue_found_ = false;
            done = each_row([this](Time) { return measure_analogue(); });
            if (!done) break;
            set_thresholds();
            set_grid();
            done = read_levels();
        }
        if (!done) return fail(done.error());
        progress_.report(1.0);
        return assemble();
    }

  private:
    using Row = std::vector<std::string_view>;

    Status find_dialect() {
        std::string head(std::min<std::uint64_t>(dialect_bytes, source_.size()), '\0');
        const auto n = source_.read_at(0, head);
        if (!n) return fail(n.error());
        head.resize(*n);
        if (*n < source_.size()) {
            const auto end = head.rfind('\n');
            if (end == std::string::npos)
                return fail_at(name_, 1,
                               fmt::format("a first line of more than {} characters", dialect_bytes),
                               "a heading and rows of values");
            head.resize(end + 1);
        }
        auto dialect = find_csv_dialect(head, name_, options_, limits_);
        if (!dialect) return fail(dialect.error());
        dialect_ = std::move(*dialect);
        return {};
    }

    Failure wrong(std::string found, std::string expected) const {
        return fail_at(name_, line_, std::move(found), std::move(expected));
    }

    /// A program that was stopped leaves half a line: what stands before it is whole.
    Status without_half_line(const Status& done) {
        if (row_number_ == 0) return done;
        if (!cut_)
            dialect_.remarks.push_back(
                {fmt::format("the file ends in the middle of line {}: read up to there", line_), true});
        cut_ = true;
        return {};
    }

    /// Calls for every row, with row_ set to its fields and the time of it.
    Status each_row(const std::function<Status(Time)>& take) {
        std::string buffer;
        std::uint64_t offset = dialect_.data;
        std::size_t used = 0;
        line_ = dialect_.line - 1;
        row_number_ = 0;
        inexact_ = false;
        for (bool last = false; !last;) {
            if (progress_.cancelled()) return fail_cancelled();
            progress_.report(static_cast<double>(offset) / static_cast<double>(source_.size()));
            buffer.erase(0, used);
            const auto kept = buffer.size();
            buffer.resize(kept + read_block);
            const auto n = source_.read_at(offset, {buffer.data() + kept, read_block});
            if (!n) return fail(n.error());
            offset += *n;
            buffer.resize(kept + *n);
            last = *n < read_block;
            used = 0;
            for (;;) {
                bool ended = true;
                auto end = buffer.find('\n', used);
                if (end == std::string::npos) {
                    if (buffer.size() - used > limits_.line_length) {
                        ++line_;
                        return wrong(fmt::format("a line of more than {} characters", limits_.line_length),
                                     "rows of values");
                    }
                    if (!last || used >= buffer.size()) break;
                    end = buffer.size();
                    ended = false;
                }
                auto line = std::string_view(buffer).substr(used, end - used);
                used = end + 1;
                ++line_;
                if (line.ends_with('\r')) line.remove_suffix(1);
                if (auto done = take_line(line, take); !done) return ended ? done : without_half_line(done);
                if (analogue_found_) return {};  // to be gone through anew
                if (used >= buffer.size()) break;
            }
            used = std::min(used, buffer.size());
        }
        if (row_number_ == 0) return wrong("no rows", "rows of values");
        return {};
    }

    Status take_line(std::string_view line, const std::function<Status(Time)>& take) {
        if (is_csv_comment(line)) return {};
        if (!split_csv_row(line, dialect_.delimiter, dialect_.columns, row_) ||
            row_.size() != dialect_.columns)
            return wrong(row_.size() < dialect_.columns
                             ? fmt::format("{} fields", row_.size())
                             : fmt::format("more than {} fields", dialect_.columns),
                         fmt::format("{} as in line {}", dialect_.columns, dialect_.line));
        Time now;
        if (dialect_.rate_hz > 0.0) {
            auto number = static_cast<long double>(row_number_);
            if (dialect_.numbered) {
                const auto field = row_[*dialect_.time];
                const auto n = decimal_number(field, dialect_.decimal);
                if (!n || *n < 0 || *n > 1e18) return wrong(in_quotes(field), "a sample number");
                number = static_cast<long double>(*n);
            }
            const auto picoseconds = number * 1e12L / static_cast<long double>(dialect_.rate_hz);
            if (picoseconds > 4.6e18L)
                return wrong("a sample after more than 53 days", "a higher sample rate");
            now = Time::ps(static_cast<std::int64_t>(std::llround(picoseconds)));
        } else {
            const auto field = row_[*dialect_.time];
            const auto t = decimal_time(field, dialect_.decimal, dialect_.time_power, inexact_);
            if (!t) return wrong(in_quotes(field), "a time as in line " + std::to_string(dialect_.line));
            now = *t;
        }
        if (row_number_ > 0 && now < now_)
            return wrong(in_quotes(row_[dialect_.time.value_or(0)]),
                         "a time not before that of the row above: time goes back");
        if (row_number_ == 0) start_ = now;
        if (row_number_ > 0 && now > now_) {
            finest_ = std::min(finest_, now - now_);
            widest_ = std::max(widest_, now - now_);
        }
        now_ = now;
        ++row_number_;
        return take(now);
    }

    /// Rows that lie on an even grid, each within a good half of a step, are samples of a waveform.
    void set_grid() {
        const auto analogue = static_cast<std::uint64_t>(
            std::count_if(columns_.begin(), columns_.end(), [](const Column& c) { return c.analogue; }));
        rows_ = static_cast<std::uint64_t>(row_number_);
        grid_start_ = start_;
        grid_ps_ =
            rows_ > 1 ? static_cast<double>((now_ - start_).count()) / static_cast<double>(rows_ - 1) : 0.0;
        keep_samples_ = grid_ps_ > 0 && analogue * rows_ <= most_samples;
    }

    void keep_sample(Column& c, double v, Time now) {
        if (!keep_samples_) return;
        const double due = grid_ps_ * static_cast<double>(row_number_ - 1);
        if (std::abs(static_cast<double>((now - grid_start_).count()) - due) > 0.6 * grid_ps_)
            keep_samples_ = false;
        c.samples.push_back(static_cast<float>(v));
    }

    /// Builds all signals; sets analogue_found_ instead when a column turns out to be analogue.
    Status read_levels() {
        for (auto& c : columns_) {
            c.bit = {};
            c.level = 0;
            c.samples.clear();
            if (c.analogue && keep_samples_) c.samples.reserve(rows_);
        }
        finest_ = Time::max();
        widest_ = {};
        return each_row([this](Time now) -> Status {
            for (auto& c : columns_) {
                const auto field = row_[c.field];
                if (c.analogue) {
                    if (auto done = threshold(c, field, now); !done) return done;
                    continue;
                }
                const char v = digital_csv_value(field);
                if (v != 0) {
                    c.bit.change(v, now);
                    continue;
                }
                if (!decimal_number(field, dialect_.decimal))
                    return wrong(in_quotes(field), "a level like 0, 1, H, L, x or z, or a number");
                c.analogue = analogue_found_ = true;
            }
            return {};
        });
    }

    Status measure_analogue() {
        for (auto& c : columns_) {
            const auto v = decimal_number(row_[c.field], dialect_.decimal);
            if (!v) {
                if (digital_csv_value(row_[c.field]) == 0)
                    return wrong(in_quotes(row_[c.field]), "a level like 0, 1, H, L, x or z, or a number");
                continue;
            }
            c.low = std::min(c.low, *v);
            c.high = std::max(c.high, *v);
            // Levels are 0 and 1; anything else in between makes the column analogue.
            if (digital_csv_value(row_[c.field]) == 0) c.analogue = true;
        }
        return {};
    }

    void set_thresholds() {
        dialect_.remarks.erase(std::remove_if(dialect_.remarks.begin(), dialect_.remarks.end(),
                                              [](const Remark& r) { return r.says.starts_with("column "); }),
                               dialect_.remarks.end());
        double widest = 0.0;
        for (const auto& c : columns_)
            if (c.analogue) widest = std::max(widest, c.high - c.low);
        for (auto& c : columns_) {
            if (!c.analogue) continue;
            c.threshold = options_.threshold.value_or((c.low + c.high) / 2);
            c.band = (c.high - c.low) * hysteresis;
            const auto extremes = fmt::format("column {} is analogue, {:.4g} to {:.4g}",
                                              dialect_.names[c.field], c.low, c.high);
            if (!options_.threshold && c.high - c.low < widest * 0.1) {
                c.threshold = std::numeric_limits<double>::infinity();  // noise on a resting line
                dialect_.remarks.push_back({extremes + ": read as resting, it hardly moves", true});
            } else {
                dialect_.remarks.push_back(
                    {fmt::format("{}: read as a level above and below {:.4g}{}", extremes, c.threshold,
                                 options_.threshold ? "" : ", half way"),
                     !options_.threshold});
            }
        }
    }

    Status threshold(Column& c, std::string_view field, Time now) {
        const auto number = decimal_number(field, dialect_.decimal);
        if (!number) {
            const char v = digital_csv_value(field);
            if (v == 0) return wrong(in_quotes(field), "a number, as further above");
            c.bit.change(v == 'z' ? 'z' : 'x', now);
            c.level = 0;
            keep_sample(c, std::numeric_limits<double>::quiet_NaN(), now);
            return {};
        }
        const double v = *number;
        keep_sample(c, v, now);
        if (c.level == 0) {
            c.level = v > c.threshold ? '1' : '0';
            c.bit.change(c.level, now);
        } else {
            if ((c.before > c.threshold) != (v > c.threshold)) {
                const double share = (c.threshold - c.before) / (v - c.before);
                const auto step = static_cast<double>((now - c.before_at).count());
                c.crossed_at = c.before_at + Time::ps(std::llround(step * std::clamp(share, 0.0, 1.0)));
            }
            const bool through = c.level == '1' ? v < c.threshold - c.band : v > c.threshold + c.band;
            if (through) {
                c.level = c.level == '1' ? '0' : '1';
                c.bit.change(c.level, c.crossed_at);
            }
        }
        c.before = v;
        c.before_at = now;
        return {};
    }

    /// The stated one; else the rows' distance where it is always the same and most rows bring nothing new: a
    /// table of changes has a row for each of them.
    std::optional<Time> sample_period() {
        if (dialect_.stated_hz > 0.0) return Time::from_seconds(1.0 / dialect_.stated_hz);
        if (row_number_ < 16 || finest_ == Time::max() || widest_ > finest_ + finest_ / 8 + Time::ps(1) * 2)
            return {};
        std::int64_t edges = 0;
        for (const auto& c : columns_) edges += static_cast<std::int64_t>(c.bit.edges.size());
        if (10 * edges > 7 * row_number_) return {};
        return (now_ - start_) / (row_number_ - 1);
    }

    Capture assemble() {
        Capture capture;
        capture.format = "csv";
        capture.resolution = finest_ == Time::max() ? Time::ps(1) : finest_;
        if (dialect_.rate_hz > 0.0) capture.resolution = Time::from_seconds(1.0 / dialect_.rate_hz);
        if (capture.resolution < Time::ps(1)) capture.resolution = Time::ps(1);
        capture.rounding = inexact_ ? Time::ps(1) : Time{};
        capture.extent = {start_, now_};
        capture.sample_period = sample_period();
        capture.remarks = std::move(dialect_.remarks);
        for (auto& c : columns_) {
            Signal s;
            s.name = dialect_.names[c.field];
            s.digital = std::make_shared<const DigitalWaveform>(c.bit.finish(start_, now_));
            if (c.analogue && keep_samples_ && c.samples.size() == rows_) {
                s.kind = SignalKind::analogue;
                s.analogue =
                    std::make_shared<const AnalogueWaveform>(grid_start_, grid_ps_, std::move(c.samples));
            }
            capture.signals.push_back(std::move(s));
        }
        return capture;
    }

    const ByteSource& source_;
    const std::string& name_;
    Progress& progress_;
    const CsvOptions& options_;
    const CsvLimits& limits_;
    CsvDialect dialect_;
    std::vector<Column> columns_;
    Row row_;
    long line_ = 0;
    std::int64_t row_number_ = 0;
    bool cut_ = false;  ///< the last line has no end and is no row
    Time start_;
    Time now_;
    Time finest_ = Time::max(), widest_;  ///< distances of rows
    bool inexact_ = false;
    bool analogue_found_ = false;
    // Of the waveforms:
    std::uint64_t rows_ = 0;
    Time grid_start_;
    double grid_ps_ = 0;
    bool keep_samples_ = false;
};

}  // namespace

Result<Capture> read_csv(const ByteSource& source, const std::string& name, Progress& progress,
                         const CsvOptions& options, const CsvLimits& limits) {
    return Reader(source, name, progress, options, limits).run();
}

Result<Capture> read_csv(std::string_view text, const std::string& name, Progress& progress,
                         const CsvOptions& options, const CsvLimits& limits) {
    return read_csv(MemorySource(text), name, progress, options, limits);
}

}  // namespace grayrelic
