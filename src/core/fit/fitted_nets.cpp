// SPDX-License-Identifier: GPL-3.0-or-later
// A board's nets as one of its variants has them.
#include <fmt/format.h>

#include "core/base/text.hpp"
#include "core/base/unions.hpp"
#include "core/fit/board_joins.hpp"

namespace grayrelic {
namespace {

/// "1-2", "1-2 3-4", "1-2-3": groups of pins that are joined.
std::vector<std::vector<std::string>> jumper_groups(std::string_view words) {
    std::vector<std::vector<std::string>> out;
    for (const auto group : split(words, ' ')) {
        std::vector<std::string> pins;
        for (const auto pin : split(group, '-'))
            if (!trim(pin).empty()) pins.emplace_back(trim(pin));
        if (pins.size() > 1) out.push_back(std::move(pins));
    }
    return out;
}

}  // namespace

namespace {

using NetOfPoint = std::map<std::string, std::size_t, std::less<>>;

void close_jumpers(const BoardVariant& variant, const NetOfPoint& net_of, Unions& joined,
                   std::vector<std::string>& problems) {
    for (const auto& [ref, words] : variant.jumpers) {
        const auto groups = jumper_groups(words);
        if (groups.empty())
            problems.push_back(
                fmt::format("{} has {} at {}: pins are joined as 1-2", variant.name, ref, in_quotes(words)));
        for (const auto& group : groups)
            for (std::size_t k = 1; k < group.size(); ++k) {
                const auto a = net_of.find(ref + "." + group[k - 1]), b = net_of.find(ref + "." + group[k]);
                if (a == net_of.end() || b == net_of.end())
                    problems.push_back(fmt::format("{} joins {}.{} and {}.{}, which are on no net",
                                                   variant.name, ref, group[k - 1], ref, group[k]));
                else
                    joined.unite(static_cast<int>(a->second), static_cast<int>(b->second));
            }
    }
}

void add_points(const BoardCircuit& circuit, const Net& from, const BoardVariant* variant, Net& net,
                LevelNets& out) {
    for (const auto& p : from.points) {
        const std::string ref(ref_in(p));
        if (variant == nullptr || variant->fits(ref) || variant->jumpers.count(ref) != 0)
            net.points.push_back(p);
        else if (const auto pin = circuit.pins.find(p); pin != circuit.pins.end() && drives_net(pin->second))
            out.lost.emplace(net.name, p);
    }
}

}  // namespace

LevelNets fitted_nets(const BoardCircuit& circuit, const BoardVariant* variant,
                      std::vector<std::string>& problems) {
    LevelNets out;
    out.pins = circuit.pins;
    out.volts = circuit.volts;
    NetOfPoint net_of;
    std::set<std::string, std::less<>> refs;
    for (std::size_t i = 0; i < circuit.nets.size(); ++i)
        for (const auto& p : circuit.nets[i].points) {
            net_of.emplace(p, i);
            refs.emplace(ref_in(p));
        }
    Unions joined(circuit.nets.size());
    if (variant != nullptr) {
        for (const auto* list : {&variant->omit, &variant->only})
            for (const auto& ref : *list)
                if (refs.count(ref) == 0)
                    problems.push_back(
                        fmt::format("{} names {}, which is not in the circuit", variant->name, ref));
        close_jumpers(*variant, net_of, joined, problems);
    }
    std::map<int, std::size_t> at;
    for (std::size_t i = 0; i < circuit.nets.size(); ++i) {
        const auto [it, fresh] = at.emplace(joined.find(static_cast<int>(i)), out.nets.size());
        if (fresh) out.nets.push_back({circuit.nets[i].name, {}});
        auto& net = out.nets[it->second];
        // A supply keeps its name where a jumper leads on to a signal's.
        if (net.name.empty() || circuit.volts.count(circuit.nets[i].name) != 0)
            net.name = circuit.nets[i].name;
        add_points(circuit, circuit.nets[i], variant, net, out);
    }
    return out;
}

}  // namespace grayrelic
