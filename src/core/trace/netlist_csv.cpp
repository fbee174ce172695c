// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <algorithm>
#include <unordered_map>

#include "core/base/table.hpp"
#include "core/base/text.hpp"
#include "core/trace/netlist.hpp"
#include "core/trace/points.hpp"

namespace grayrelic {

Result<Netlist> read_net_csv(std::string_view text, const std::string& name) {
    const auto table = read_table(text, name, "a netlist", {64U << 20U, most_netlist_points, 50});
    if (!table) return fail(table.error());
    std::vector<std::string> keys;
    for (const auto& cell : table->rows.front().cells) keys.push_back(heading_key(cell));
    const auto column = [&](std::string_view key) {
        return static_cast<std::size_t>(std::find(keys.begin(), keys.end(), key) - keys.begin());
    };
    const auto net = column("net"), point = column("point");
    if (net == keys.size() || point == keys.size())
        return fail_at(name, table->rows.front().line,
                       net == keys.size() ? "a heading without net" : "a heading without point",
                       "the columns net,point");
    Netlist out;
    std::unordered_map<std::string, std::size_t> nets;
    std::unordered_map<std::string, std::pair<long, std::string>> seen;
    for (std::size_t i = 1; i < table->rows.size(); ++i) {
        const auto& row = table->rows[i];
        const auto cell = [&](std::size_t c) { return c < row.cells.size() ? row.cells[c] : std::string(); };
        const auto p = cell(point), n = cell(net);
        if (const auto problem = point_name_problem(p); !problem.empty())
            return fail_at(name, row.line, problem + " in column point", "a point such as U2.14");
        if (n.size() > longest_point_name || !point_name_problem(n.empty() ? "x" : n).empty())
            return fail_at(name, row.line, in_quotes(n) + " in column net", "a net's name");
        if (const auto [it, fresh] = seen.emplace(p, std::pair(row.line, n)); !fresh) {
            if (it->second.second == n && !n.empty()) {
                out.notes.push_back(fmt::format("line {}: {} a second time in net {}", row.line, p, n));
                continue;
            }
            return fail_at(name, row.line, fmt::format("{} a second time", in_quotes(p)),
                           fmt::format("each point in one net; line {} has it too", it->second.first));
        }
        if (n.empty()) {  // in no net
            out.nets.push_back({{}, {p}});
            continue;
        }
        const auto [it, fresh] = nets.emplace(n, out.nets.size());
        if (fresh) out.nets.push_back({n, {}});
        out.nets[it->second].points.push_back(p);
    }
    if (out.nets.empty()) return fail_at(name, table->rows.front().line, "no nets", "a row for each point");
    return out;
}

std::string write_net_csv(const std::vector<Net>& nets) {
    std::string out = "net,point\n";
    for (const auto& net : nets)
        for (const auto& point : net.points) out += table_cell(net.name) + "," + table_cell(point) + "\n";
    return out;
}

Result<Netlist> read_netlist(std::string_view text, const std::string& name) {
    // IPC-D-356A starts with comment (C) or parameter (P) records, or with a test record's three digits.
    auto rest = text;
    while (!rest.empty()) {
        auto line = rest.substr(0, rest.find('\n'));
        rest.remove_prefix(std::min(rest.size(), line.size() + 1));
        if (!line.empty() && line.back() == '\r') line.remove_suffix(1);
        if (trim(line).empty()) continue;
        const bool record =
            line.size() >= 3 && line.find(',') == std::string_view::npos &&
            ((line[0] == 'C' && line[1] == ' ') || (line[0] == 'P' && line[1] == ' ') ||
             (std::all_of(line.begin(), line.begin() + 3, [](char c) { return c >= '0' && c <= '9'; }) &&
              line.size() >= 31));
        return record ? read_ipc_d_356a(text, name) : read_net_csv(text, name);
    }
    return read_net_csv(text, name);
}

}  // namespace grayrelic
