// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/points.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <unordered_set>

#include "core/base/text.hpp"

namespace grayrelic {

PointName split_point(std::string_view name) {
    const auto dot = name.find('.');
    if (dot == std::string_view::npos || dot == 0 || dot + 1 == name.size()) return {{}, name};
    return {name.substr(0, dot), name.substr(dot + 1)};
}

bool natural_less(std::string_view a, std::string_view b) {
    const auto digit = [](char c) { return c >= '0' && c <= '9'; };
    std::size_t i = 0, j = 0;
    while (i < a.size() && j < b.size()) {
        if (digit(a[i]) && digit(b[j])) {
            auto ie = i, je = j;
            while (ie < a.size() && digit(a[ie])) ++ie;
            while (je < b.size() && digit(b[je])) ++je;
            auto x = a.substr(i, ie - i), y = b.substr(j, je - j);
            while (x.size() > 1 && x[0] == '0') x.remove_prefix(1);
            while (y.size() > 1 && y[0] == '0') y.remove_prefix(1);
            if (x.size() != y.size()) return x.size() < y.size();
            if (x != y) return x < y;
            i = ie;
            j = je;
        } else {
            if (a[i] != b[j]) return a[i] < b[j];
            ++i;
            ++j;
        }
    }
    if (a.size() - i != b.size() - j) return a.size() - i < b.size() - j;
    return a < b;  // "01" and "1"
}

std::string point_name_problem(std::string_view name) {
    if (trim(name).empty()) return "no point";
    if (name.size() > longest_point_name) return fmt::format("a name of {} characters", name.size());
    for (const char c : name)
        if (static_cast<unsigned char>(c) < 0x20) return "a control character in " + in_quotes(name);
    return {};
}

Result<PointTable> PointTable::with_aliases(const std::vector<PointAlias>& aliases) {
    PointTable out;
    for (const auto& a : aliases) {
        if (const auto problem = point_name_problem(a.name); !problem.empty())
            return fail_at({}, 0, problem, "a name for " + in_quotes(a.point));
        const auto [it, fresh] = out.aliases_.emplace(a.name, a.point);
        if (!fresh && it->second != a.point)
            return fail_at({}, 0,
                           fmt::format("the name {} for {} and for {}", in_quotes(a.name),
                                       in_quotes(it->second), in_quotes(a.point)),
                           "one point for each name");
    }
    // Each name to its point at once: chains of names would be walked over and over.
    std::unordered_set<std::string_view> led;  // their names lead to points already
    std::vector<decltype(out.aliases_)::iterator> way;
    std::unordered_set<std::string_view> on_way;
    for (auto first = out.aliases_.begin(); first != out.aliases_.end(); ++first) {
        auto at = first;
        std::string_view end = first->second;
        for (; at != out.aliases_.end() && !led.contains(at->first); at = out.aliases_.find(end)) {
            if (!on_way.insert(at->first).second)
                return fail_at({}, 0, fmt::format("the name {} leads back to itself", in_quotes(at->first)),
                               "names that lead to a point");
            way.push_back(at);
            end = at->second;
        }
        const std::string point = at == out.aliases_.end() ? std::string(end) : at->second;
        for (const auto& step : way) {
            step->second = point;
            led.insert(step->first);
        }
        way.clear();
        on_way.clear();
    }
    return out;
}

std::string_view PointTable::resolve(std::string_view name) const {
    if (aliases_.empty()) return name;
    for (auto it = aliases_.find(name); it != aliases_.end(); it = aliases_.find(name)) name = it->second;
    return name;
}

int PointTable::add(std::string_view name) {
    name = resolve(name);
    if (const auto it = numbers_.find(name); it != numbers_.end()) return it->second;
    const int n = size();
    names_.emplace_back(name);
    numbers_.emplace(std::string(name), n);
    return n;
}

int PointTable::find(std::string_view name) const {
    const auto it = numbers_.find(resolve(name));
    return it == numbers_.end() ? -1 : it->second;
}

}  // namespace grayrelic
