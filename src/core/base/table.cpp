// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/table.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

Result<std::vector<TableRow>> rows_of(std::string_view text, char delimiter, const std::string& name,
                                      std::string_view what, const TableLimits& limits) {
    std::vector<TableRow> rows;
    long line = 1;
    std::size_t at = 0;
    while (at < text.size()) {
        TableRow row{line, {}};
        // A comment is what begins with # in the file; a quoted cell that does is a cell: "#RESET".
        const auto begins = text.find_first_not_of(' ', at);
        const bool comment = begins != std::string_view::npos && text[begins] == '#';
        for (bool more = true; more;) {
            std::string cell;
            while (at < text.size() && text[at] == ' ') ++at;
            if (at < text.size() && text[at] == '"') {
                for (++at;; ++at) {
                    if (at >= text.size())
                        return fail_at(name, row.line, "a quote that never ends", "a closing quote");
                    if (text[at] == '\n') ++line;
                    if (text[at] == '"') {
                        if (at + 1 < text.size() && text[at + 1] == '"')
                            ++at;
                        else
                            break;
                    }
                    cell += text[at];
                }
                ++at;
            }
            while (at < text.size() && text[at] != delimiter && text[at] != '\n') cell += text[at++];
            row.cells.emplace_back(trim(cell));
            more = at < text.size() && text[at] == delimiter;
            if (at < text.size()) ++at;
            if (row.cells.size() > limits.columns)
                return fail_at(name, row.line, fmt::format("more than {} columns", limits.columns),
                               std::string(what));
        }
        ++line;
        const bool empty =
            std::all_of(row.cells.begin(), row.cells.end(), [](const auto& c) { return c.empty(); });
        if (!empty && !comment) rows.push_back(std::move(row));
        if (rows.size() > limits.rows)
            return fail_at(name, line, fmt::format("more than {} rows", limits.rows), std::string(what));
    }
    return rows;
}

char delimiter_of(std::string_view text) {
    // The first line that is no comment tells.
    auto first = text.substr(0, text.find('\n'));
    while (trim(first).starts_with('#') && first.size() < text.size()) {
        text.remove_prefix(first.size() + 1);
        first = text.substr(0, text.find('\n'));
    }
    char best = ',';
    std::ptrdiff_t most = 0;
    for (const char c : {'\t', ';', ','})
        if (const auto n = std::count(first.begin(), first.end(), c); n > most) {
            most = n;
            best = c;
        }
    return best;
}

}  // namespace

Result<Table> read_table(std::string_view text, const std::string& name, std::string_view what,
                         const TableLimits& limits) {
    if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
    if (text.size() > limits.bytes)
        return fail_at(name, 1, fmt::format("{} bytes", text.size()),
                       fmt::format("{} of at most {} bytes", what, limits.bytes));
    if (!is_utf8(text) || text.find('\0') != std::string_view::npos) {
        long line = 1;
        std::size_t at = 0;
        for (auto end = text.find('\n'); end != std::string_view::npos; end = text.find('\n', at)) {
            const auto part = text.substr(at, end - at);
            if (!is_utf8(part) || part.find('\0') != std::string_view::npos) break;
            at = end + 1;
            ++line;
        }
        return fail_at(name, line, "bytes that are no UTF-8 text", "a table saved as UTF-8");
    }
    if (trim(text).empty()) return fail_at(name, 1, "an empty file", std::string(what));
    auto rows = rows_of(text, delimiter_of(text), name, what, limits);
    if (!rows) return fail(rows.error());
    if (rows->empty()) return fail_at(name, 1, "nothing but comments", std::string(what));
    return Table{name, std::move(*rows)};
}

std::string heading_key(std::string_view cell) {
    std::string out;
    for (const char c : cell)
        if (c == ' ' || c == '-')
            out += '_';
        else
            out += c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
    return out;
}

bool is_formula(std::string_view cell) {
    if (cell.empty()) return false;
    if (cell[0] == '=' || cell[0] == '@') return true;
    if (cell[0] != '+' && cell[0] != '-') return false;
    const auto bracket = cell.find('(');
    return bracket != std::string_view::npos && bracket > 1 && cell[bracket - 1] >= 'A' &&
           cell[bracket - 1] <= 'Z' && cell.find(' ') > bracket;
}

std::vector<std::string> heading_keys(const TableRow& heading) {
    std::vector<std::string> keys;
    for (const auto& cell : heading.cells) keys.push_back(heading_key(cell));
    return keys;
}

std::string cell_below(const std::vector<std::string>& keys, const TableRow& row, std::string_view key) {
    const auto at = std::find(keys.begin(), keys.end(), key);
    const auto c = static_cast<std::size_t>(at - keys.begin());
    if (at == keys.end() || c >= row.cells.size()) return {};
    const std::string_view shown = trim(row.cells[c]);
    const bool defused = shown.size() > 1 && shown[0] == '\'' && is_formula(shown.substr(1));
    return std::string(defused ? shown.substr(1) : shown);
}

std::string table_cell(std::string text, char delimiter) {
    for (auto& c : text)
        if (c == '\r') c = ' ';
    if (is_formula(text)) text.insert(0, 1, '\'');
    const bool quote = text.find_first_of(std::string("\"\n") + delimiter) != std::string::npos ||
                       text.starts_with("#") || text.starts_with(" ") || text.ends_with(" ");
    if (!quote) return text;
    std::string out = "\"";
    for (const char c : text) out += c == '"' ? std::string("\"\"") : std::string(1, c);
    return out + "\"";
}

}  // namespace grayrelic
