// SPDX-License-Identifier: GPL-3.0-or-later
// Rows, fields and values of a table of samples: the part of csv_dialect.hpp that works on single lines.
#include <algorithm>
#include <array>

#include "core/base/text.hpp"
#include "core/capture/csv_dialect.hpp"

namespace grayrelic {
bool split_csv_row(std::string_view line, char delimiter, std::size_t most,
                   std::vector<std::string_view>& fields) {
    fields.clear();
    std::size_t at = 0;
    for (;;) {
        if (fields.size() == most) return false;
        std::size_t end = 0;
        std::size_t from = at;
        while (from < line.size() && line[from] == ' ') ++from;
        if (from < line.size() && line[from] == '"') {
            auto close = from + 1;
            for (;; close += 2) {
                close = line.find('"', close);
                if (close == std::string_view::npos) close = line.size();
                if (close + 1 >= line.size() || line[close + 1] != '"') break;
            }
            fields.push_back(trim(line.substr(from + 1, close - from - 1)));
            end = std::min(line.find(delimiter, std::min(close, line.size())), line.size());
        } else {
            end = std::min(line.find(delimiter, at), line.size());
            fields.push_back(trim(line.substr(at, end - at)));
        }
        if (end >= line.size()) return true;
        at = end + 1;
    }
}

char digital_csv_value(std::string_view field) {
    if (field.size() == 1) {
        switch (field[0]) {
            case '0':
            case 'L':
            case 'l': return '0';
            case '1':
            case 'H':
            case 'h': return '1';
            case 'z':
            case 'Z': return 'z';
            case 'x':
            case 'X':
            case '-':
            case '?': return 'x';
            default: return 0;
        }
    }
    if (field.empty()) return 'x';
    constexpr std::array<std::pair<std::string_view, char>, 10> words{{{"high", '1'},
                                                                       {"High", '1'},
                                                                       {"HIGH", '1'},
                                                                       {"low", '0'},
                                                                       {"Low", '0'},
                                                                       {"LOW", '0'},
                                                                       {"true", '1'},
                                                                       {"false", '0'},
                                                                       {"TRUE", '1'},
                                                                       {"FALSE", '0'}}};
    for (const auto& [word, value] : words)
        if (field == word) return value;
    return 0;
}

bool is_csv_comment(std::string_view line) {
    const auto t = trim(line);
    return t.empty() || t.front() == '#' || t.front() == '%' || t.starts_with("//");
}

}  // namespace grayrelic
