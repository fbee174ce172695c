// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/plan/parts_list.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <limits>
#include <map>
#include <set>

#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/logic/network.hpp"
#include "core/plan/spares.hpp"

namespace grayrelic {
namespace {

int clamped(long long n) {
    return static_cast<int>(std::clamp<long long>(n, 0, std::numeric_limits<int>::max()));
}

/// Rows by the key of their part.
class Rows {
  public:
    explicit Rows(std::vector<PartsRow>& rows) : rows_(rows) {}
    PartsRow& row(const std::string& part) {
        const auto [at, fresh] = by_key_.try_emplace(part_key(part), rows_.size());
        if (fresh) {
            rows_.emplace_back();
            rows_.back().part = part;
        }
        return rows_[at->second];
    }

  private:
    std::vector<PartsRow>& rows_;
    std::map<std::string, std::size_t> by_key_;
};

PartKind kind_of(const PartType& type) {
    const auto& f = type.function;
    if (f == "logic" || f == "switch") return PartKind::logic;
    if (f == "resistor" || f == "capacitor" || f == "inductor" || f == "ferrite" || f == "fuse")
        return PartKind::passive;
    if (f == "connector") return PartKind::connector;
    if (f == "module") return PartKind::module;
    return PartKind::chip;
}

/// The circuit's parts: what all ways share, and the chosen option's network.
void add_circuit(const BridgeText& bridge, const LogicLibrary* logic, Rows& rows, PartsList& out) {
    if (bridge.undecided)
        out.gaps.emplace_back("No way to build the reply is chosen: its parts are not in the list.");
    if (bridge.text.empty() || logic == nullptr) return;
    const auto network = read_circuit(bridge.text, *logic);
    for (const auto& part : network.all) {
        auto& row = rows.row(part.called());
        row.kind = kind_of(*part.type);
        row.in_network = true;
        row.refs.push_back(part.ref);
        ++row.per_board;
    }
    if (std::any_of(network.problems.begin(), network.problems.end(),
                    [](const NetworkProblem& p) { return p.fatal; }))
        out.gaps.emplace_back("The circuit has lines that can't be read: parts may be missing.");
}

std::map<std::string, int> counts_of(const Drawer& drawer) {
    std::map<std::string, int> out;
    for (const auto& p : drawer.parts) {
        auto& n = out[part_key(p.part)];
        n = clamped(static_cast<long long>(n) + p.count);
    }
    return out;
}

int count_in(const std::map<std::string, int>& counts, const std::string& part) {
    const auto at = counts.find(part_key(part));
    return at == counts.end() ? 0 : at->second;
}

PartState state_of(const PartsRow& r) {
    if (r.order > 0 && r.arrived >= r.order) return PartState::arrived;
    if (r.order > 0 && static_cast<long long>(r.arrived) + r.on_order >= r.order) return PartState::ordered;
    if (!r.question.empty()) return PartState::undecided;
    return r.order > 0 ? PartState::order : PartState::drawer;
}

/// What a line says of its part; several lines may say something of one.
void add_line(const PartLine& line, const std::map<std::string, int>& at_hand, PartsRow& row) {
    if (row.line.empty()) row.line = line.id;
    if (!row.in_network || line.kind != PartKind::other) row.kind = line.kind;
    int fresh = 0;  // what stands in the circuit is counted there
    for (const auto& ref : line.refs)
        if (std::find(row.refs.begin(), row.refs.end(), ref) == row.refs.end()) {
            row.refs.push_back(ref);
            ++fresh;
        }
    row.per_board = clamped(static_cast<long long>(row.per_board) + line.per_board.value_or(fresh));
    const auto take = [](std::string& into, const std::string& from) {
        if (into.empty()) into = from;
    };
    take(row.question, line.question);
    take(row.supplier, line.supplier);
    take(row.not_to_be_had, line.not_to_be_had);
    if (!row.lead_days_from) row.lead_days_from = line.lead_days_from;
    if (!row.lead_days_to) row.lead_days_to = line.lead_days_to;
    for (const auto& other : line.alternates) row.alternates.emplace_back(other, count_in(at_hand, other));
}

}  // namespace

std::optional<std::pair<int, double>> cheapest(const std::vector<PriceStep>& steps, int count) {
    std::optional<std::pair<int, double>> best;
    if (count <= 0) return best;
    for (const auto& step : steps) {
        const int buy = std::max(step.from, count);
        const double cost = buy * step.each;
        if (!best || cost < best->second || (cost == best->second && buy > best->first)) best = {buy, cost};
    }
    return best;
}

PartsList parts_list(const Dossier& d, const LogicLibrary* logic, const Drawer& drawer) {
    PartsList out;
    out.boards = d.supply->boards;
    Rows rows(out.rows);
    add_circuit(bridge_text(*d.wire, *d.timing), logic, rows, out);
    const auto at_hand = counts_of(drawer);
    std::map<std::string, std::pair<double, const PartLine*>> said;  // worst yield, and who knows the price
    for (const auto& line : d.supply->parts) {
        add_line(line, at_hand, rows.row(line.part));
        auto& [yield, priced] = said.try_emplace(part_key(line.part), 1.0, nullptr).first->second;
        yield = std::min(yield, line.yield.value.value_or(1.0));
        if (priced == nullptr && !line.prices.empty()) priced = &line;
    }
    std::map<std::string, std::pair<int, int>> orders;  // on the way, here
    for (const auto& o : d.supply->orders)
        for (const auto& l : o.lines) {
            if (o.ordered.empty() && o.arrived.empty()) continue;
            auto& [coming, here] = orders[part_key(l.part)];
            auto& n = o.arrived.empty() ? coming : here;
            n = clamped(static_cast<long long>(n) + l.count);
        }
    for (auto& row : out.rows) {
        const auto key = part_key(row.part);
        const auto about = said.find(key);
        row.need = clamped(static_cast<long long>(row.per_board) * out.boards);
        row.spare = about == said.end() ? 0 : spares(row.need, about->second.first);
        row.drawer = count_in(at_hand, row.part);
        row.order = clamped(static_cast<long long>(row.need) + row.spare - row.drawer);
        if (const auto at = orders.find(key); at != orders.end())
            row.on_order = at->second.first, row.arrived = at->second.second;
        row.state = state_of(row);
        if (row.state != PartState::undecided) row.question.clear();
        if (about != said.end() && about->second.second != nullptr)
            if (const auto found = cheapest(about->second.second->prices, row.order)) {
                row.buy = found->first;
                row.cost = found->second;
            }
        if (row.state == PartState::order) {
            if (row.cost)
                out.cost = out.cost.value_or(0) + *row.cost;
            else
                ++out.without_price;
        }
    }
    return out;
}

Supply with_parts(Supply supply, std::vector<PartLine> lines, bool replace) {
    std::map<std::string, std::size_t> there;  // the first of each part
    std::map<std::string, int> ids;            // and how often its id was tried
    std::set<std::string> taken;
    for (std::size_t i = 0; i < supply.parts.size(); ++i) {
        there.try_emplace(part_key(supply.parts[i].part), i);
        taken.insert(supply.parts[i].id);
    }
    for (auto& line : lines) {
        const auto key = part_key(line.part);
        if (const auto at = there.find(key); replace && at != there.end()) {
            line.id = supply.parts[at->second].id;
            supply.parts[at->second] = std::move(line);
            continue;
        }
        const auto base = free_id_among({}, line.part);
        auto& tries = ids[base];
        do line.id = ++tries == 1 ? base : fmt::format("{}-{}", base, tries);
        while (!taken.insert(line.id).second);
        there.try_emplace(key, supply.parts.size());
        supply.parts.push_back(std::move(line));
    }
    return supply;
}

std::vector<Order> orders_for(const PartsList& list, const Supply& supply, Day today) {
    std::map<std::string, Order> by_supplier;
    for (const auto& r : list.rows) {
        if (r.state != PartState::order) continue;
        auto& o = by_supplier[r.supplier];
        o.from = r.supplier;
        o.ordered = print(today);
        o.lines.push_back({r.part, r.buy.value_or(r.order)});
        const auto later = [&](std::string& into, std::optional<int> days) {
            if (days) into = std::max(into, print(today + std::chrono::days(*days)));
        };
        later(o.expected_from, r.lead_days_from);
        later(o.expected_to, r.lead_days_to);
    }
    std::vector<Order> out;
    std::vector<std::string> taken;
    for (const auto& o : supply.orders) taken.push_back(o.id);
    for (auto& [supplier, o] : by_supplier) {
        o.id = free_id_among(taken, supplier.empty() ? "order" : supplier);
        taken.push_back(o.id);
        out.push_back(std::move(o));
    }
    return out;
}

}  // namespace grayrelic
