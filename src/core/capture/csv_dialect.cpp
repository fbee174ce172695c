// SPDX-License-Identifier: GPL-3.0-or-later
// The rows are what most lines agree on: for each possible delimiter, the first line from which on all lines
// have equally many fields that are values. The delimiter that gives the most columns wins.
#include "core/capture/csv_dialect.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "core/base/decimal.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t looked_at = 40;    // rows
constexpr std::size_t metadata = 2'000;  // lines before the first row

struct Line {
    std::string_view text;
    std::uint64_t offset = 0;
    long number = 1;
};

std::vector<Line> split_lines(std::string_view text) {
    std::vector<Line> lines;
    std::uint64_t at = text.starts_with("\xEF\xBB\xBF") ? 3 : 0;
    for (long n = 1; at < text.size() && lines.size() < metadata + looked_at; ++n) {
        const auto end = std::min<std::size_t>(text.find('\n', at), text.size());
        auto line = text.substr(at, end - at);
        if (line.ends_with('\r')) line.remove_suffix(1);
        lines.push_back({line, at, n});
        at = end + 1;
    }
    return lines;
}

std::string lower(std::string_view text) {
    std::string out(text);
    for (auto& c : out)
        if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
    return out;
}

/// Names in the old single-byte encoding become UTF-8, as its code points say (0xB5 is µ).
std::string to_utf8(std::string_view text) {
    if (is_utf8(text)) return std::string(text);
    std::string out;
    for (const char c : text) {
        const auto u = static_cast<unsigned char>(c);
        if (u < 0x80) {
            out += c;
        } else {
            out += static_cast<char>(0xC0U | (u >> 6U));
            out += static_cast<char>(0x80U | (u & 0x3FU));
        }
    }
    return out;
}

bool value_like(std::string_view field, char decimal) {
    return digital_csv_value(field) != 0 || decimal_number(field, decimal).has_value();
}

bool is_digit(char c) {
    return c >= '0' && c <= '9';
}

/// Power of ten of a unit of time; none for anything else.
std::optional<int> unit_power(std::string_view unit) {
    constexpr std::array<std::pair<std::string_view, int>, 11> units{{{"s", 0},
                                                                      {"sec", 0},
                                                                      {"second", 0},
                                                                      {"seconds", 0},
                                                                      {"ms", -3},
                                                                      {"us", -6},
                                                                      {"\xC2\xB5s", -6},
                                                                      {"\xCE\xBCs", -6},
                                                                      {"ns", -9},
                                                                      {"ps", -12},
                                                                      {"fs", -15}}};
    for (const auto& [name, power] : units)
        if (unit == name) return power;
    return {};
}

/// "Time [ns]", "time_us", "t/ms", "Time (s)" and the like: the last word, out of its brackets.
std::optional<int> unit_in(std::string_view name) {
    auto t = trim(name);
    while (!t.empty() && (t.back() == ']' || t.back() == ')')) t.remove_suffix(1);
    const auto cut = t.find_last_of("[(/_ ");
    return unit_power(lower(trim(cut == std::string_view::npos ? t : t.substr(cut + 1))));
}

bool names_time(std::string_view name) {
    const auto n = lower(trim(name));
    if (n.starts_with("time") || n == "t" || n == "x-axis" || n.starts_with("second")) return true;
    return n.size() > 1 && n[0] == 't' && std::string_view("[(/_ ").find(n[1]) != std::string_view::npos &&
           unit_in(n).has_value();
}
bool names_samples(std::string_view name) {
    const auto n = lower(trim(name));
    return n == "sample" || n == "samples" || n == "index" || n == "n" || n == "sample number";
}

class Finder {
  public:
    Finder(std::string_view text, const std::string& name, const CsvOptions& options, const CsvLimits& limits)
        : name_(name), options_(options), limits_(limits), lines_(split_lines(text)) {
        whole_text_ = text;
    }

    Result<CsvDialect> run() {
        if (whole_text_.starts_with("\xFF\xFE") || whole_text_.starts_with("\xFE\xFF"))
            return fail_at(name_, 1, "text in UTF-16", "text in UTF-8");
        if (auto found = find_rows(); !found) return fail(found.error());
        read_heading();
        read_metadata();
        out_.stated_hz = out_.rate_hz;
        if (auto found = find_time(); !found) return fail(found.error());
        return std::move(out_);
    }

  private:
    Status find_rows() {
        std::size_t best_columns = 0;
        for (const auto& [delimiter, decimal] : {std::pair{',', '.'},
                                                 {';', '.'},
                                                 {';', ','},
                                                 {'\t', '.'},
                                                 {'\t', ','},
                                                 {' ', '.'},
                                                 {' ', ','}}) {
            if (options_.delimiter && delimiter != *options_.delimiter) continue;
            if (options_.decimal ? decimal != *options_.decimal : delimiter == ' ' && decimal == ',')
                continue;
            const auto columns = try_delimiter(delimiter, decimal);
            if (columns > best_columns) {
                best_columns = columns;
                out_.delimiter = delimiter;
                out_.decimal = decimal;
                out_.columns = columns;
                first_ = candidate_;
            }
        }
        if (best_columns == 0) {
            if (lines_.empty())
                return fail_at(name_, 1, "the end of the file", "a heading and rows of values");
            // The line that should have been the first row: the last one looked at that is no comment.
            for (auto line = lines_.rbegin(); line != lines_.rend(); ++line)
                if (!is_csv_comment(line->text))
                    return fail_at(name_, line->number, in_quotes(line->text),
                                   "a row of values with , ; or tab between them");
            return fail_at(name_, lines_.back().number, "no rows",
                           "rows of values with , ; or tab between them");
        }
        rows_.clear();
        for (auto i = first_; i < lines_.size() && rows_.size() < looked_at; ++i)
            if (!is_csv_comment(lines_[i].text)) rows_.push_back(fields(lines_[i].text));
        out_.data = lines_[first_].offset;
        out_.line = lines_[first_].number;
        return {};
    }

    std::vector<std::string_view> fields(std::string_view line) const {
        std::vector<std::string_view> out;
        (void)split_csv_row(line, out_.delimiter, limits_.columns, out);
        return out;
    }

    /// Sets candidate_ to the first line from which on the lines agree; gives their number of columns.
    std::size_t try_delimiter(char delimiter, char decimal) {
        std::vector<std::string_view> row;
        std::size_t columns = 0;
        std::size_t start = lines_.size();
        std::size_t seen = 0;
        for (std::size_t i = 0; i < lines_.size() && seen < looked_at; ++i) {
            if (is_csv_comment(lines_[i].text)) continue;
            if (options_.first_row && lines_[i].number < *options_.first_row) continue;
            const bool whole = split_csv_row(lines_[i].text, delimiter, limits_.columns, row);
            const bool values =
                whole &&
                std::all_of(row.begin(), row.end(), [&](auto f) { return value_like(f, decimal); }) &&
                std::any_of(row.begin(), row.end(), [](auto f) { return !f.empty(); });
            if (values && row.size() == columns) {
                ++seen;
                continue;
            }
            // A row that breaks off behind several good ones is the reader's to report.
            if (seen >= 3) break;
            columns = values ? row.size() : 0;
            start = values ? i : lines_.size();
            seen = values ? 1 : 0;
        }
        candidate_ = start;
        return columns;
    }

    void read_heading() {
        std::vector<std::vector<std::string_view>> above;  // lines of the same shape right above the rows
        for (auto i = first_; i-- > 0 && above.size() < 2;) {
            auto text = trim(lines_[i].text);
            if (text.empty()) continue;
            if (out_.delimiter == '\t') {  // one at the end of the line parts two fields, as a comma does
                text = lines_[i].text.substr(static_cast<std::size_t>(text.data() - lines_[i].text.data()));
                while (!text.empty() && (text.back() == '\r' || text.back() == ' ')) text.remove_suffix(1);
            }
            while (!text.empty() && (text.front() == '#' || text.front() == '%' || text.front() == '/'))
                text.remove_prefix(1);
            const auto row = fields(text);
            if (row.size() != out_.columns) break;
            above.push_back(row);
            out_.heading = lines_[i].number;
        }
        const auto wide = trailing_delimiter(above) ? out_.columns - 1 : out_.columns;
        if (above.size() == 2 && !looks_like_units(above[0])) {
            above.pop_back();
            ++out_.heading;
        }
        for (std::size_t c = 0; c < wide; ++c) {
            auto name = above.empty() ? std::string() : to_utf8(above.back()[c]);
            if (above.size() == 2) units_.push_back(to_utf8(above[0][c]));
            if (name.empty()) name = fmt::format("ch{}", c + 1);
            out_.names.push_back(std::move(name));
        }
        headed_ = !above.empty();
        heading_line_ = first_;
        make_names_differ();
    }

    void make_names_differ() {
        for (std::size_t i = 0; i < out_.names.size(); ++i) {
            const auto taken = [&](const std::string& n) {
                return std::find(out_.names.begin(), out_.names.begin() + static_cast<std::ptrdiff_t>(i),
                                 n) != out_.names.begin() + static_cast<std::ptrdiff_t>(i);
            };
            const auto plain = out_.names[i];
            for (int n = 2; taken(out_.names[i]); ++n) out_.names[i] = fmt::format("{}#{}", plain, n);
        }
    }

    [[nodiscard]] bool trailing_delimiter(const std::vector<std::vector<std::string_view>>& above) const {
        const auto ends_empty = [](const std::vector<std::string_view>& r) {
            return r.size() > 1 && r.back().empty();
        };
        return std::all_of(rows_.begin(), rows_.end(), ends_empty) &&
               std::all_of(above.begin(), above.end(), ends_empty);
    }

    /// A row of units holds short words or words in brackets, and a unit of time among them.
    static bool looks_like_units(const std::vector<std::string_view>& row) {
        return std::any_of(row.begin(), row.end(), [](auto f) { return unit_in(f).has_value(); }) &&
               std::all_of(row.begin(), row.end(), [](auto f) { return f.size() <= 12; });
    }

    /// What stands behind such a word: a rate, or a distance of samples.
    void take_rate(std::string_view rest, bool rate) {
        const auto begin = rest.find_first_of("0123456789.+-");
        if (begin == std::string_view::npos) return;
        rest = rest.substr(begin);
        while (!rest.empty() && std::string_view(",;\t \"").find(rest.back()) != std::string_view::npos)
            rest.remove_suffix(1);
        // "1,5 MHz" where commas part no fields.
        auto plain = std::string(rest);
        if (out_.delimiter != ',')
            for (std::size_t k = 1; k + 1 < plain.size(); ++k)
                if (plain[k] == ',' && is_digit(plain[k - 1]) && is_digit(plain[k + 1])) plain[k] = '.';
        if (rate) {
            auto text = plain;
            if (text.ends_with("S/s") || text.ends_with("Sa/s")) text.erase(text.rfind('S')), text += "Hz";
            if (const auto hz = parse_quantity<Unit::hertz>(text); hz && hz->value() > 0)
                out_.rate_hz = hz->value();
        } else if (const auto period = decimal_number(plain, '.'); period && *period > 0) {
            out_.rate_hz = 1.0 / *period;
        } else if (const auto t = parse_time(plain); t && *t > Time{}) {
            out_.rate_hz = 1.0 / t->seconds();
        }
    }

    /// "Sample rate: 24 MHz", "# samplerate=1000000", "Sample interval,1e-6".
    void read_metadata() {
        if (options_.rate_hz) {
            out_.rate_hz = *options_.rate_hz;
            return;
        }
        for (std::size_t i = 0; i < first_; ++i) {
            const auto line = lower(lines_[i].text);
            for (const bool rate : {true, false}) {
                for (const auto* key :
                     rate ? std::array{"sample rate", "samplerate", "sampling rate", "sample_rate"}
                          : std::array{"sample interval", "sampling interval", "sample period",
                                       "time increment"}) {
                    const auto at = line.find(key);
                    if (at == std::string::npos) continue;
                    take_rate(std::string_view(lines_[i].text).substr(at + std::string_view(key).size()),
                              rate);
                }
            }
        }
    }

    Status find_time() {
        bool samples = false;
        if (options_.time_column) {
            if (*options_.time_column > out_.names.size())
                return fail_usage(fmt::format("column {} for the times", *options_.time_column),
                                  fmt::format("one of the {} columns, or none", out_.names.size()));
            if (*options_.time_column > 0) {
                out_.time = *options_.time_column - 1;
                samples = options_.rate_hz.has_value();
            }
        } else if (headed_) {
            for (std::size_t c = 0; c < out_.names.size() && !out_.time; ++c)
                if (names_time(out_.names[c])) out_.time = c;
            for (std::size_t c = 0; c < out_.names.size() && !out_.time; ++c)
                if (names_samples(out_.names[c])) {
                    out_.time = c;
                    samples = true;
                }
        }
        if (!out_.time && !options_.time_column && !options_.rate_hz && out_.names.size() > 1 &&
            counts_up()) {
            out_.time = 0;
            samples = out_.rate_hz > 0.0 && all_whole();
        }
        if (options_.rate_hz) {
            out_.numbered = samples;
            return {};
        }
        if (samples || !out_.time) {
            out_.numbered = samples;
            if (out_.rate_hz > 0.0) return {};
            return fail_at(name_, lines_[heading_line_].number,
                           samples ? "sample numbers without a sample rate" : "rows without times",
                           "a column of times, or a line like \"Sample rate: 1 MHz\" above the rows");
        }
        out_.rate_hz = 0.0;  // the times themselves say more than a rate
        return find_unit(*out_.time);
    }

    Status find_unit(std::size_t column) {
        std::optional<int> power = options_.time_power;
        if (!power && headed_) power = unit_in(out_.names[column]);
        if (!power && column < units_.size()) power = unit_in(units_[column]);
        if (!power) {
            power = all_whole() ? -9 : 0;
            out_.remarks.push_back({fmt::format("times read as {}: the file states no unit",
                                                *power == 0 ? "seconds" : "nanoseconds"),
                                    true});
        }
        out_.time_power = *power;
        return {};
    }

    /// The first column never falls and is more than a level.
    [[nodiscard]] bool counts_up() const {
        std::optional<double> before;
        bool rises = false;
        bool more = false;
        for (const auto& row : rows_) {
            const auto v = row.empty() ? std::nullopt : decimal_number(row[0], out_.decimal);
            if (!v || (before && *v < *before)) return false;
            rises |= before && *v > *before;
            more |= *v != 0.0 && *v != 1.0;
            before = v;
        }
        return rises && more;
    }
    [[nodiscard]] bool all_whole() const {
        const auto column = out_.time.value_or(0);
        return std::all_of(rows_.begin(), rows_.end(), [&](const auto& row) {
            return column < row.size() &&
                   row[column].find_first_not_of("+-0123456789") == std::string_view::npos;
        });
    }

    const std::string& name_;
    const CsvOptions& options_;
    const CsvLimits& limits_;
    std::string_view whole_text_;
    std::vector<Line> lines_;
    std::vector<std::vector<std::string_view>> rows_;
    std::vector<std::string> units_;
    std::size_t first_ = 0;      // index of the first row's line
    std::size_t candidate_ = 0;  // the same, of the delimiter being tried
    std::size_t heading_line_ = 0;
    bool headed_ = false;
    CsvDialect out_;
};

}  // namespace

Result<CsvDialect> find_csv_dialect(std::string_view text, const std::string& name, const CsvOptions& options,
                                    const CsvLimits& limits) {
    return Finder(text, name, options, limits).run();
}

}  // namespace grayrelic
