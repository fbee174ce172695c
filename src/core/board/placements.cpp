// SPDX-License-Identifier: GPL-3.0-or-later
// Tables of placements, and parts laid where they say.
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <set>

#include "core/base/decimal.hpp"
#include "core/base/table.hpp"
#include "core/base/text.hpp"
#include "core/board/pad_patterns.hpp"

namespace grayrelic {
namespace {

constexpr double inch = 25.4;

struct Heads {
    int ref = -1, x = -1, y = -1, turn = -1, side = -1, package = -1;
    bool inches = false;
    [[nodiscard]] bool complete() const { return ref >= 0 && x >= 0 && y >= 0; }
};

bool begins(std::string_view key, std::initializer_list<std::string_view> words) {
    return std::any_of(words.begin(), words.end(), [&](auto w) {
        return key.starts_with(w) &&
               (key.size() == w.size() || key[w.size()] == '_' || key[w.size()] == '(' || w.size() > 3);
    });
}

Heads heads_of(const TableRow& row) {
    Heads h;
    const auto keys = heading_keys(row);
    const auto take = [&](int& into, std::size_t i) {
        if (into < 0) into = static_cast<int>(i);
    };
    for (std::size_t i = 0; i < keys.size(); ++i) {
        const auto& k = keys[i];
        if (begins(k, {"ref", "part", "designator", "name"}))
            take(h.ref, i);
        else if (begins(k, {"x", "mid_x", "pos_x", "posx", "center_x", "centre_x", "center-x"}))
            take(h.x, i);
        else if (begins(k, {"y", "mid_y", "pos_y", "posy", "center_y", "centre_y", "center-y"}))
            take(h.y, i);
        else if (begins(k, {"turn", "rot", "rotation", "angle"}))
            take(h.turn, i);
        else if (begins(k, {"side", "layer", "tb"}))
            take(h.side, i);
        else if (begins(k, {"package", "footprint", "pattern"}))
            take(h.package, i);
        if ((k.starts_with("x") || k.find("_x") != std::string::npos) &&
            (k.find("inch") != std::string::npos || k.ends_with("_in") || k.ends_with("(in)")))
            h.inches = true;
    }
    return h;
}

/// Millimetres; the unit of a cell goes before the heading's.
std::optional<double> length(std::string_view cell, bool inches) {
    auto text = trim(cell);
    double unit = inches ? inch : 1.0;
    for (const auto& [suffix, factor] :
         {std::pair<std::string_view, double>{"mm", 1.0}, {"mil", inch / 1000}, {"inch", inch}, {"in", inch}})
        if (text.ends_with(suffix)) {
            text = trim(text.substr(0, text.size() - suffix.size()));
            unit = factor;
            break;
        }
    const auto v = decimal_number(text, '.');
    const auto value = v ? v : decimal_number(text, ',');
    if (!value || !(std::abs(*value * unit) <= widest_mm)) return std::nullopt;
    return *value * unit;
}

std::optional<PadSide> side_of(std::string_view cell) {
    const auto key = heading_key(cell);
    for (const std::string_view w : {"", "top", "t", "front", "f", "toplayer", "top_layer", "component"})
        if (key == w) return PadSide::top;
    for (const std::string_view w : {"bottom", "bot", "b", "back", "bottomlayer", "bottom_layer", "solder"})
        if (key == w) return PadSide::bottom;
    return std::nullopt;
}

std::string cell_at(const TableRow& row, int column) {
    return column < 0 || static_cast<std::size_t>(column) >= row.cells.size()
               ? std::string()
               : std::string(trim(row.cells[static_cast<std::size_t>(column)]));
}

}  // namespace

bool looks_like_placements(std::string_view text) {
    const auto head = read_table(text.substr(0, text.find('\n')), "", "a table");
    if (!head || head->rows.empty()) return false;
    const auto h = heads_of(head->rows.front());
    const auto keys = heading_keys(head->rows.front());
    return h.complete() && std::find(keys.begin(), keys.end(), "pin") == keys.end();
}

Result<std::vector<Placement>> read_placements(std::string_view text, const std::string& name) {
    TableLimits limits;
    limits.bytes = 8U << 20U;
    limits.rows = 50'000;
    const auto table = read_table(text, name, "a table of placements", limits);
    if (!table) return fail(table.error());
    const auto& head = table->rows.front();
    const auto h = heads_of(head);
    if (!h.complete())
        return fail_at(name, head.line,
                       fmt::format("a heading without {}", h.ref < 0 ? "ref"
                                                           : h.x < 0 ? "x"
                                                                     : "y"),
                       "the columns ref,x,y,turn,side");
    std::vector<Placement> out;
    std::map<std::string, long> seen;
    for (std::size_t i = 1; i < table->rows.size(); ++i) {
        const auto& row = table->rows[i];
        Placement p;
        p.line = row.line;
        p.ref = cell_at(row, h.ref);
        p.package = cell_at(row, h.package);
        if (p.ref.empty() || p.ref.size() > 200)
            return fail_at(name, row.line, p.ref.empty() ? "no ref" : "a long name", "a part such as U1");
        double xy[2] = {};
        for (int k = 0; k < 2; ++k) {
            const auto cell = cell_at(row, k == 0 ? h.x : h.y);
            const auto v = length(cell, h.inches);
            if (!v)
                return fail_at(name, row.line, in_quotes(cell),
                               fmt::format("a place in millimetres within {:.0f}", widest_mm));
            xy[k] = *v;
        }
        p.at = {from_mm(xy[0]), from_mm(xy[1])};
        if (const auto cell = cell_at(row, h.turn); !cell.empty()) {
            auto number = std::string_view(cell);
            if (number.ends_with("°")) number.remove_suffix(std::string_view("°").size());
            p.turn_deg = decimal_number(trim(number), '.');
            if (!p.turn_deg || std::abs(*p.turn_deg) > 720)
                return fail_at(name, row.line, in_quotes(cell), "a turn in degrees");
        }
        const auto side = side_of(cell_at(row, h.side));
        if (!side) return fail_at(name, row.line, in_quotes(cell_at(row, h.side)), "top or bottom");
        p.side = *side;
        const auto [it, fresh] = seen.emplace(p.ref, row.line);
        if (!fresh)
            return fail_at(name, row.line,
                           fmt::format("{} again, after line {}", in_quotes(p.ref), it->second),
                           "each part once");
        out.push_back(std::move(p));
    }
    if (out.empty()) return fail_at(name, head.line, "no part", "rows below the heading");
    return out;
}

namespace {

/// Degrees between two turns, 0 to 180.
double apart(double a, double b) {
    const double d = std::fmod(std::abs(a - b), 360.0);
    return std::min(d, 360.0 - d);
}

PlacedPart place_part(const std::vector<Land>& lands, const Placement& p, const PadPattern& pattern,
                      double reach_mm) {
    PlacedPart out;
    out.placement = p;
    // Only what lies about there can be its pads.
    double wide = 0;
    for (const auto& place : pattern.places) wide = std::max(wide, std::hypot(place.x_mm, place.y_mm));
    std::vector<Land> near;
    for (const auto& l : lands)
        if (distance(l.at, p.at, p.at) <= (2 * wide + reach_mm + 1) * 1e6) near.push_back(l);
    PatternQuestion q;
    q.ref = p.ref;
    q.side = p.side;
    auto ways = find_pattern(near, pattern, q);
    std::erase_if(ways,
                  [&](const PatternPlace& w) { return distance(w.middle, p.at, p.at) > reach_mm * 1e6; });
    if (ways.empty()) {
        out.problem = fmt::format("no pads as {} needs them within {:.1f} mm of where the table puts it",
                                  p.ref, reach_mm);
        return out;
    }
    // Those of the nearest place, which a symmetric pattern meets in several turns.
    const auto near_way = *std::min_element(ways.begin(), ways.end(), [&](const auto& a, const auto& b) {
        return distance(a.middle, p.at, p.at) < distance(b.middle, p.at, p.at);
    });
    std::erase_if(ways, [&](const PatternPlace& w) {
        return distance(w.middle, near_way.middle, near_way.middle) > 0.1e6;
    });
    if (ways.size() == 1) {
        out.pads = ways.front().pads;
        return out;
    }
    if (!p.turn_deg) {
        out.problem = fmt::format("fits in {} turns, and the table tells none: point at its contact {}",
                                  ways.size(), pattern.places.front().number);
        return out;
    }
    const auto best = std::min_element(ways.begin(), ways.end(), [&](const auto& a, const auto& b) {
        return apart(a.turn_deg, *p.turn_deg) < apart(b.turn_deg, *p.turn_deg);
    });
    if (apart(best->turn_deg, *p.turn_deg) > 1) {
        out.problem = fmt::format("fits in {} turns, none of them the table's {:g}°: point at its contact {}",
                                  ways.size(), *p.turn_deg, pattern.places.front().number);
        return out;
    }
    out.pads = best->pads;
    out.problem = fmt::format(
        "fits in {} turns: {:g}° is the table's word; houses count turns differently, so "
        "check where contact {} lies",
        ways.size(), *p.turn_deg, pattern.places.front().number);
    return out;
}

}  // namespace

std::vector<PlacedPart> place_parts(const std::vector<Land>& lands, const std::vector<Placement>& placements,
                                    const std::map<std::string, PadPattern>& patterns, double reach_mm) {
    std::vector<PlacedPart> out;
    for (const auto& p : placements) {
        const auto it = patterns.find(p.ref);
        if (it != patterns.end()) {
            out.push_back(place_part(lands, p, it->second, reach_mm));
            continue;
        }
        PlacedPart unknown;
        unknown.placement = p;
        unknown.problem = "its package is not known: enter it in Wire, or name its pads by a table";
        out.push_back(std::move(unknown));
    }
    return out;
}

}  // namespace grayrelic
