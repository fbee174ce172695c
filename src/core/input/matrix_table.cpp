// SPDX-License-Identifier: GPL-3.0-or-later
// KEYS.csv in and out.
#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <map>

#include "core/base/decimal.hpp"
#include "core/base/table.hpp"
#include "core/base/text.hpp"
#include "core/input/matrix_model.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_matrix_lines = 256;

std::optional<long> number_of(std::string_view text) {
    long value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc{} || end != text.data() + text.size()) return std::nullopt;
    return value;
}

/// By number where all are numbers, else as they came.
std::vector<std::string> in_order(std::vector<std::string> lines) {
    const bool numbers =
        std::all_of(lines.begin(), lines.end(), [](const auto& l) { return number_of(l).has_value(); });
    if (numbers)
        std::stable_sort(lines.begin(), lines.end(),
                         [](const auto& a, const auto& b) { return *number_of(a) < *number_of(b); });
    return lines;
}

class TableReader {
  public:
    TableReader(const Table& table, std::string name) : table_(table), name_(std::move(name)) {}

    Result<MatrixModel> run() {
        keys_ = heading_keys(table_.rows.front());
        for (const char* needed : {"key", "row", "column"})
            if (std::find(keys_.begin(), keys_.end(), needed) == keys_.end())
                return fail_at(name_, table_.rows.front().line, fmt::format("no column \"{}\"", needed),
                               "the columns key, row, column, and diode where there are any");
        for (std::size_t i = 1; i < table_.rows.size(); ++i)
            if (auto done = take(table_.rows[i]); !done) return fail(done.error());
        if (read_.empty()) return fail_at(name_, 1, "no key", "a row for each key");
        return model();
    }

  private:
    struct Entry {
        MatrixKey key;
        std::string row, column;
    };

    [[nodiscard]] std::string cell(const TableRow& row, std::string_view key) const {
        return cell_below(keys_, row, key);
    }

    Status take(const TableRow& row) {
        Entry e;
        e.key.name = cell(row, "key");
        e.key.line = row.line;
        e.row = cell(row, "row");
        e.column = cell(row, "column");
        if (e.key.name.empty()) return fail_at(name_, row.line, "no key", "the key's legend");
        for (const auto& [line, what] : {std::pair(&e.row, "row"), std::pair(&e.column, "column")}) {
            if (line->empty())
                return fail_at(name_, row.line, fmt::format("no {} for {}", what, in_quotes(e.key.name)),
                               fmt::format("the {}'s name or number", what));
            if (line->size() > 32)
                return fail_at(name_, row.line, in_quotes(*line), fmt::format("a {}'s name", what));
            if (const auto n = number_of(*line); n && (*n < 0 || *n >= static_cast<long>(most_matrix_lines)))
                return fail_at(name_, row.line, fmt::format("{} {}", what, *n),
                               fmt::format("a {} from 0 to {}", what, most_matrix_lines - 1));
        }
        if (auto done = take_diode(row, e.key); !done) return done;
        if (auto done = take_place(row, e.key); !done) return done;
        const auto [seen, fresh] = seen_.emplace(std::pair(e.row, e.column), read_.size());
        if (!fresh) {
            const auto& other = read_[seen->second].key;
            return fail_at(
                name_, row.line,
                fmt::format("{} at row {}, column {}, where {} of line {} stands", in_quotes(e.key.name),
                            e.row, e.column, in_quotes(other.name), other.line),
                "one key a position; two contacts beside each other are one row, such as \"ENTER / ENTER\"");
        }
        read_.push_back(std::move(e));
        return {};
    }

    Status take_diode(const TableRow& row, MatrixKey& key) const {
        const auto text = heading_key(cell(row, "diode"));
        if (text.empty() || text == "no" || text == "n" || text == "0" || text == "false") return {};
        if (text != "yes" && text != "y" && text != "1" && text != "true")
            return fail_at(name_, row.line, in_quotes(cell(row, "diode")), "yes or no in the column diode");
        key.diode = true;
        return {};
    }

    Status take_place(const TableRow& row, MatrixKey& key) const {
        for (const auto& [column, into, least] :
             {std::tuple("x", &key.x, -1000.0), std::tuple("y", &key.y, -1000.0),
              std::tuple("width", &key.width, 0.1), std::tuple("height", &key.height, 0.1)}) {
            const auto text = cell(row, column);
            if (text.empty()) continue;
            const auto value = decimal_number(text, '.');
            if (!value || !(*value >= least && *value <= 1000))
                return fail_at(name_, row.line, in_quotes(text),
                               fmt::format("a number in usual key widths in the column {}", column));
            *into = *value;
            key.placed = true;
        }
        return {};
    }

    Result<MatrixModel> model() {
        MatrixModel out;
        for (const auto& e : read_) {
            if (std::find(out.rows.begin(), out.rows.end(), e.row) == out.rows.end())
                out.rows.push_back(e.row);
            if (std::find(out.columns.begin(), out.columns.end(), e.column) == out.columns.end())
                out.columns.push_back(e.column);
            if (out.rows.size() > most_matrix_lines || out.columns.size() > most_matrix_lines)
                return fail_at(name_, e.key.line, "too many lines",
                               fmt::format("at most {} rows and columns", most_matrix_lines));
        }
        out.rows = in_order(std::move(out.rows));
        out.columns = in_order(std::move(out.columns));
        std::map<std::string, std::size_t> row_at, column_at;
        for (std::size_t i = 0; i < out.rows.size(); ++i) row_at[out.rows[i]] = i;
        for (std::size_t i = 0; i < out.columns.size(); ++i) column_at[out.columns[i]] = i;
        for (auto& e : read_) {
            e.key.row = row_at[e.row];
            e.key.column = column_at[e.column];
            out.keys.push_back(std::move(e.key));
        }
        return out;
    }

    const Table& table_;
    const std::string name_;
    std::vector<std::string> keys_;
    std::vector<Entry> read_;
    std::map<std::pair<std::string, std::string>, std::size_t> seen_;
};

}  // namespace

Result<MatrixModel> read_matrix_table(std::string_view text, const std::string& name) {
    const auto table = read_table(text, name, "a table of keys", {8U << 20U, 20'000, 64});
    if (!table) return fail(table.error());
    return TableReader(*table, name).run();
}

Result<std::vector<ProbedKey>> read_probe_table(std::string_view text, const std::string& name) {
    const auto table = read_table(text, name, "a table of probed keys", {8U << 20U, 20'000, 64});
    if (!table) return fail(table.error());
    const auto keys = heading_keys(table->rows.front());
    std::vector<ProbedKey> out;
    for (std::size_t i = 1; i < table->rows.size(); ++i) {
        const auto& row = table->rows[i];
        ProbedKey k{cell_below(keys, row, "key"), cell_below(keys, row, "a"), cell_below(keys, row, "b")};
        for (const auto& [cell, what] :
             {std::pair(&k.key, "key"), std::pair(&k.a, "a"), std::pair(&k.b, "b")})
            if (cell->empty() || cell->size() > 64)
                return fail_at(name, row.line, cell->empty() ? fmt::format("no {}", what) : in_quotes(*cell),
                               "key, a and b: the legend and the two lines that it joins");
        if (k.a == k.b)
            return fail_at(name, row.line, fmt::format("{} joined with itself", in_quotes(k.a)), "two lines");
        out.push_back(std::move(k));
    }
    if (out.empty()) return fail_at(name, 1, "no key", "a row for each key: key, a, b");
    return out;
}

std::string write_matrix_table(const MatrixModel& model) {
    std::string out = "key,row,column,diode,x,y,width,height\n";
    for (const auto& k : model.keys) {
        out += fmt::format("{},{},{},{}", table_cell(k.name), table_cell(model.rows.at(k.row)),
                           table_cell(model.columns.at(k.column)), k.diode ? "yes" : "no");
        out += k.placed ? fmt::format(",{},{},{},{}\n", k.x, k.y, k.width, k.height) : std::string(",,,,\n");
    }
    return out;
}

}  // namespace grayrelic
