// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/device_table.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

#include "core/base/decimal.hpp"
#include "core/base/table.hpp"
#include "core/base/text.hpp"
#include "core/input/meaning.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_device_keys = 4096;
constexpr double touching = 0.05;  // of a key width

bool overlap(const MapKey& a, const MapKey& b) {
    return a.x + a.width > b.x + touching && b.x + b.width > a.x + touching &&
           a.y + a.height > b.y + touching && b.y + b.height > a.y + touching;
}

class DeviceReader {
  public:
    DeviceReader(const Table& table, std::string name, Evidence evidence)
        : table_(table), name_(std::move(name)), evidence_(std::move(evidence)) {}

    Result<std::vector<MapKey>> run() {
        columns_ = heading_keys(table_.rows.front());
        const auto has = [&](const char* key) {
            return std::find(columns_.begin(), columns_.end(), key) != columns_.end();
        };
        if (!has("key") && !has("legend"))
            return fail_at(
                name_, table_.rows.front().line, "no column \"key\"",
                "a column key with the legends, and code, x, y, row, column … where there are any");
        for (std::size_t i = 1; i < table_.rows.size(); ++i)
            if (auto done = take(table_.rows[i]); !done) return fail(done.error());
        if (keys_.empty()) return fail_at(name_, 1, "no key", "a row for each key");
        if (const auto pairs = overlapping(keys_); !pairs.empty()) {
            const auto& [a, b] = pairs.front();
            return fail_at(name_, lines_[b],
                           fmt::format("{} over {} of line {}", in_quotes(keys_[b].legend),
                                       in_quotes(keys_[a].legend), lines_[a]),
                           "keys beside each other: x, y, width and height in usual key widths");
        }
        return std::move(keys_);
    }

  private:
    [[nodiscard]] std::string cell(const TableRow& row, std::string_view key) const {
        return cell_below(columns_, row, key);
    }

    template <class E>
    Status take_word(const TableRow& row, const char* column, E& into) const {
        const auto text = cell(row, column);
        if (text.empty()) return {};
        const auto value = named<E>(text);
        if (!value)
            return fail_at(name_, row.line, in_quotes(text),
                           fmt::format("{} in the column {}", one_of<E>(), column));
        into = *value;
        return {};
    }

    Status take_figure(const TableRow& row, const char* column, double least, double most, double& into,
                       bool& given) const {
        const auto text = cell(row, column);
        if (text.empty()) return {};
        const auto value = decimal_number(text, '.');
        if (!value || !(*value >= least && *value <= most))
            return fail_at(name_, row.line, in_quotes(text),
                           fmt::format("a number from {:g} to {:g} in the column {}", least, most, column));
        into = *value;
        given = true;
        return {};
    }

    Status take_place(const TableRow& row, MapKey& k) {
        bool x = false, y = false, size = false;
        if (auto s = take_figure(row, "x", -1000, 1000, k.x, x); !s) return s;
        if (auto s = take_figure(row, "y", -1000, 1000, k.y, y); !s) return s;
        if (auto s = take_figure(row, "width", 0.1, 100, k.width, size); !s) return s;
        if (auto s = take_figure(row, "height", 0.1, 100, k.height, size); !s) return s;
        if (!x && !y) {
            k.x = static_cast<double>(unplaced_ % 10);
            const auto row_below = unplaced_ / 10;
            k.y = static_cast<double>(row_below);
            ++unplaced_;
        }
        return {};
    }

    Status take_position(const TableRow& row, MapKey& k) {
        k.row = cell(row, "row");
        k.column = cell(row, "column");
        if (k.row.empty() != k.column.empty())
            return fail_at(name_, row.line,
                           k.row.empty() ? "a column without a row" : "a row without a column",
                           "both, or neither");
        const auto diode = heading_key(cell(row, "diode"));
        if (!diode.empty() && diode != "yes" && diode != "no")
            return fail_at(name_, row.line, in_quotes(diode), "yes or no in the column diode");
        k.diode = diode == "yes";
        return {};
    }

    Status take(const TableRow& row) {
        MapKey k;
        k.legend = cell(row, cell(row, "legend").empty() ? "key" : "legend");
        k.id = cell(row, "id");
        if (k.legend.size() > 200 || k.id.size() > 200)
            return fail_at(name_, row.line, "a legend of more than 200 bytes", "a short legend");
        if (k.id.empty()) k.id = free_id(k.legend);
        if (!ids_.insert(k.id).second)
            return fail_at(name_, row.line, in_quotes(k.id) + " a second time", "each id once");
        if (auto s = take_word(row, "kind", k.kind); !s) return s;
        if (auto s = take_word(row, "sends", k.sends); !s) return s;
        if (auto s = take_place(row, k); !s) return s;
        if (auto s = take_position(row, k); !s) return s;
        k.code.value = cell(row, "code");
        if (!k.code.value.empty()) k.code.evidence = evidence_;
        k.release = cell(row, "release");
        k.meaning = cell(row, "meaning");
        if (!k.meaning.empty())
            if (const auto m = parse_meaning(k.meaning); !m)
                return fail_at(name_, row.line, m.error().found, m.error().expected);
        k.note = cell(row, "note");
        if (keys_.size() >= most_device_keys)
            return fail_at(name_, row.line, "too many keys",
                           fmt::format("at most {} keys", most_device_keys));
        keys_.push_back(std::move(k));
        lines_.push_back(row.line);
        return {};
    }

    /// As free_key_id, but thousands of keys may have one legend.
    std::string free_id(const std::string& legend) {
        const auto wish = free_key_id({}, legend);
        auto& n = next_[wish];
        std::string id;
        do {
            ++n;
            id = n == 1 ? wish : fmt::format("{}-{}", wish, n);
        } while (ids_.count(id) != 0);
        return id;
    }

    const Table& table_;
    const std::string name_;
    const Evidence evidence_;
    std::map<std::string, int> next_;  // last number of each wish
    std::vector<std::string> columns_;
    std::vector<MapKey> keys_;
    std::vector<long> lines_;
    std::set<std::string> ids_;
    std::size_t unplaced_ = 0;
};

}  // namespace

std::vector<std::pair<std::size_t, std::size_t>> overlapping(const std::vector<MapKey>& keys,
                                                             std::size_t most) {
    std::vector<std::pair<std::size_t, std::size_t>> out;
    // By their left edges, so that each is held only against those that begin before it ends.
    std::vector<std::size_t> order(keys.size());
    for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
    std::sort(order.begin(), order.end(), [&](auto a, auto b) { return keys[a].x < keys[b].x; });
    for (std::size_t i = 0; i < order.size(); ++i)
        for (auto j = i + 1; j < order.size() && keys[order[j]].x < keys[order[i]].x + keys[order[i]].width;
             ++j) {
            if (!overlap(keys[order[i]], keys[order[j]])) continue;
            out.emplace_back(std::min(order[i], order[j]), std::max(order[i], order[j]));
            if (out.size() >= most) return out;
        }
    return out;
}

Result<std::vector<MapKey>> read_device_table(std::string_view text, const std::string& name,
                                              const Evidence& evidence) {
    const auto table = read_table(text, name, "a table of keys", {8U << 20U, 20'000, 64});
    if (!table) return fail(table.error());
    return DeviceReader(*table, name, evidence).run();
}

std::string write_device_table(const std::vector<MapKey>& keys) {
    std::string out = "id,key,kind,x,y,width,height,code,release,sends,row,column,diode,meaning,note\n";
    for (const auto& k : keys)
        out += fmt::format("{},{},{},{},{},{},{},{},{},{},{},{},{},{},{}\n", table_cell(k.id),
                           table_cell(k.legend), word(k.kind), k.x, k.y, k.width, k.height,
                           table_cell(k.code.value), table_cell(k.release), word(k.sends), table_cell(k.row),
                           table_cell(k.column), k.diode ? "yes" : "no", table_cell(k.meaning),
                           table_cell(k.note));
    return out;
}

std::string print_shifted(const std::vector<ShiftedCode>& shifted) {
    std::string out;
    for (const auto& s : shifted) {
        out += (out.empty() ? "" : "; ") + s.with + " " + s.code;
        if (!s.meaning.empty()) out += " " + s.meaning;
    }
    return out;
}

Result<std::vector<ShiftedCode>> parse_shifted(std::string_view text) {
    std::vector<ShiftedCode> out;
    // A semicolon may be what is typed: "shift 0x3A text:;".
    std::string whole(text);
    for (auto at = whole.find("text:;"); at != std::string::npos; at = whole.find("text:;", at + 6))
        whole[at + 5] = '\x01';
    for (const auto part : split(whole, ';')) {
        if (trim(part).empty()) continue;
        ShiftedCode s;
        for (const auto word : split(trim(part), ' ')) {
            if (word.empty()) continue;
            auto one = std::string(word);
            std::replace(one.begin(), one.end(), '\x01', ';');
            if (s.with.empty())
                s.with = one;
            else if (parse_meaning(one))
                s.meaning = one;
            else
                s.code += (s.code.empty() ? "" : " ") + one;
        }
        if (s.code.empty())
            return fail_usage(in_quotes(trim(part)), "a modifier, a code and a meaning: shift 0x5C text:&");
        if (std::any_of(out.begin(), out.end(), [&](const auto& o) { return o.with == s.with; }))
            return fail_usage(in_quotes(s.with) + " a second time", "each modifier once");
        out.push_back(std::move(s));
    }
    return out;
}

Result<WalkLine> parse_walk_line(std::string_view text) {
    WalkLine out;
    bool first = true;
    for (const auto part : split(trim(text), ' ')) {
        const auto word = trim(part);
        if (word.empty()) continue;
        if (first && word == "/") {
            out.new_row = true;
            continue;
        }
        if (out.legend.empty() && word.size() > 1 && word[0] == '+' && decimal_number(word.substr(1), '.')) {
            out.skip = *decimal_number(word.substr(1), '.');
            continue;
        }
        first = false;
        if (out.legend.empty()) {
            out.legend = word;
            continue;
        }
        const auto times = word.find('x');
        const auto width = times == std::string_view::npos || times == 0
                               ? std::nullopt
                               : decimal_number(word.substr(0, times), '.');
        const auto height =
            width && times + 1 < word.size() ? decimal_number(word.substr(times + 1), '.') : std::nullopt;
        const bool size = width && height && *width >= 0.25 && *width <= 30 && *height >= 0.25 &&
                          *height <= 30 && word[0] != '0';
        if (size) {
            out.width = *width;
            out.height = *height;
        } else if (parse_meaning(word)) {
            out.meaning = word;
        } else if (out.code.empty()) {
            out.code = word;
        } else {
            out.code += " " + std::string(word);
        }
    }
    if (out.legend.empty())
        return fail_usage(in_quotes(text),
                          "a legend, and its code, size or meaning: ENTER 0x0D 2x1 key:enter");
    return out;
}

MapKey walked_key(const std::vector<MapKey>& keys, const WalkLine& line) {
    MapKey k;
    k.legend = line.legend;
    k.code.value = line.code;
    k.meaning = line.meaning;
    k.width = line.width;
    k.height = line.height;
    k.id = free_key_id(keys, line.legend);
    if (!keys.empty()) {
        const auto& last = keys.back();
        const auto left = std::min_element(keys.begin(), keys.end(), [](const auto& a, const auto& b) {
                              return a.x < b.x;
                          })->x;
        k.x = line.new_row ? left : last.x + last.width;
        k.y = line.new_row ? last.y + 1 : last.y;
    }
    k.x += line.skip;
    return k;
}

std::string free_key_id(const std::vector<MapKey>& keys, std::string_view legend) {
    std::string wish;
    for (const char c : legend) {
        if ((c >= 'a' && c <= 'z') || (c >= '0' && c <= '9')) wish += c;
        if (c >= 'A' && c <= 'Z') wish += static_cast<char>(c - 'A' + 'a');
    }
    if (wish.empty()) wish = "key";
    auto id = wish;
    for (int n = 2; std::any_of(keys.begin(), keys.end(), [&](const auto& k) { return k.id == id; }); ++n)
        id = fmt::format("{}-{}", wish, n);
    return id;
}

}  // namespace grayrelic
