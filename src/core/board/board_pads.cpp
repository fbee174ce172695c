// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/board_pads.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

#include "core/base/decimal.hpp"
#include "core/base/table.hpp"
#include "core/base/text.hpp"

namespace grayrelic {

Result<BoardPads> read_pads(std::string_view text, const std::string& name) {
    TableLimits limits;
    limits.bytes = 32U << 20U;
    limits.rows = 200'000;
    const auto table = read_table(text, name, "a table of pads", limits);
    if (!table) return fail(table.error());
    const auto& head = table->rows.front();
    const auto keys = heading_keys(head);
    for (const std::string_view need : {"ref", "pin", "x_mm", "y_mm"})
        if (std::find(keys.begin(), keys.end(), need) == keys.end())
            return fail_at(name, head.line, fmt::format("a heading without {}", need),
                           "the columns ref,pin,x_mm,y_mm,side");
    BoardPads out;
    std::set<std::string> seen;
    for (std::size_t i = 1; i < table->rows.size(); ++i) {
        const auto& row = table->rows[i];
        BoardPad p;
        p.file = name;
        p.line = row.line;
        p.ref = cell_below(keys, row, "ref");
        p.pin = cell_below(keys, row, "pin");
        p.net = cell_below(keys, row, "net");
        if (p.ref.empty() || p.ref.size() > 200 || p.pin.size() > 200)
            return fail_at(name, row.line, p.ref.empty() ? "no ref" : "a long name",
                           "a part such as J1 and its pin");
        double xy[2] = {};
        for (int k = 0; k < 2; ++k) {
            const auto cell = cell_below(keys, row, k == 0 ? "x_mm" : "y_mm");
            const auto v = decimal_number(cell, '.');
            const auto comma = v ? v : decimal_number(cell, ',');
            if (!comma || std::abs(*comma) > widest_mm)
                return fail_at(name, row.line, in_quotes(cell),
                               fmt::format("millimetres within {:.0f}", widest_mm));
            xy[k] = *comma;
        }
        p.at = {from_mm(xy[0]), from_mm(xy[1])};
        const auto side = heading_key(cell_below(keys, row, "side"));
        if (side.empty() || side == "both")
            p.side = PadSide::both;
        else if (side == "top" || side == "front")
            p.side = PadSide::top;
        else if (side == "bottom" || side == "back")
            p.side = PadSide::bottom;
        else
            return fail_at(name, row.line, in_quotes(side), "top, bottom or both");
        if (!seen.insert(fmt::format("{}\n{}\n{}\n{}", p.point(), p.at.x, p.at.y, static_cast<int>(p.side)))
                 .second)
            return fail_at(name, row.line, in_quotes(p.point()) + " a second time at one place",
                           "each pad once");
        out.push_back(std::move(p));
    }
    if (out.empty()) return fail_at(name, head.line, "no pad", "rows below the heading");
    return out;
}

BoardPads pads_of_attributes(const BoardFiles& board) {
    BoardPads out;
    std::map<std::pair<std::string, BoardXY>, std::size_t> known;
    for (const auto* f : board.coppers()) {
        if (f->role == FileRole::copper_inner) continue;
        const auto side = f->role == FileRole::copper_top ? PadSide::top : PadSide::bottom;
        for (const auto& o : f->layer->objects) {
            const auto& m = f->layer->marks[o.marks];
            if (o.kind != GerberObject::Kind::flash || !o.dark || m.pin.empty() || m.ref.empty()) continue;
            BoardPad p{m.ref, m.pin, o.to, side, m.net, f->name, o.line};
            const auto [it, fresh] = known.emplace(std::pair(p.point(), p.at), out.size());
            if (fresh)
                out.push_back(std::move(p));
            else if (out[it->second].side != side)
                out[it->second].side = PadSide::both;
        }
    }
    return out;
}

BoardPads pads_of_netlist(const BoardFiles& board) {
    BoardPads out;
    const auto* file = board.find(FileRole::netlist);
    if (file == nullptr) return out;
    std::map<std::string, std::string> net_of;
    for (const auto& n : file->netlist->nets)
        for (const auto& p : n.points) net_of[p] = n.name;
    std::set<std::pair<std::string, BoardXY>> seen;
    for (const auto& place : file->netlist->places) {
        BoardPad p;
        const auto dot = place.point.rfind('.');
        p.ref = place.point.substr(0, dot);
        if (dot != std::string::npos) p.pin = place.point.substr(dot + 1);
        p.at = {from_mm(place.x_mm), from_mm(place.y_mm)};
        p.net = net_of[place.point];
        p.file = file->name;
        if (seen.emplace(place.point, p.at).second) out.push_back(std::move(p));
    }
    return out;
}

}  // namespace grayrelic
