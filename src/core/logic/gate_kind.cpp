// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <map>
#include <set>

#include "core/logic/minimise_parts.hpp"

namespace grayrelic::minimising {

std::optional<GateKind> gate_kind(const PartLogic& logic, const std::string& family) {
    const auto* delays = logic.find_delays(family);
    if (logic.stores() || delays == nullptr) return std::nullopt;
    GateKind u;
    u.logic = &logic;
    u.family = family;
    u.slow = std::max(delays->gates[2].rise, delays->gates[2].fall);
    std::map<std::vector<int>, std::vector<int>> groups;
    std::vector<std::vector<int>> order;
    for (std::size_t o = 0; o < logic.outputs.size(); ++o) {
        if (!logic.outputs[o].enable.steps().empty())
            return std::nullopt;  // who pulls up, who else drives: not here
        std::vector<int> in;
        for (const auto& name : logic.outputs[o].value.names())
            in.push_back(static_cast<int>(std::find(logic.inputs.begin(), logic.inputs.end(), name) -
                                          logic.inputs.begin()));
        std::sort(in.begin(), in.end());
        if (groups.find(in) == groups.end()) order.push_back(in);
        groups[in].push_back(static_cast<int>(o));
    }
    // Gates that share a pin are not free of each other: then only the first is used.
    std::set<int> taken;
    bool shared = false;
    for (const auto& in : order)
        for (const int i : in) shared = !taken.insert(i).second || shared;
    if (shared) order.resize(1);
    for (const auto& in : order) {
        u.inputs.push_back(in);
        u.outputs.push_back(groups[in]);
    }
    if (u.fan_in() > 6 || u.fan_in() == 0) return std::nullopt;
    for (const int o : u.outputs.front()) {
        const auto& e = logic.outputs[static_cast<std::size_t>(o)].value;
        u.functions.push_back(&e);
        std::vector<int> args;
        for (const auto& name : e.names()) {
            const int pin = static_cast<int>(std::find(logic.inputs.begin(), logic.inputs.end(), name) -
                                             logic.inputs.begin());
            args.push_back(static_cast<int>(std::find(u.inputs[0].begin(), u.inputs[0].end(), pin) -
                                            u.inputs[0].begin()));
        }
        u.arguments.push_back(std::move(args));
    }
    // Symmetric: exchanging any two neighbours changes nothing.
    constexpr std::uint64_t columns[6] = {0xAAAAAAAAAAAAAAAAULL, 0xCCCCCCCCCCCCCCCCULL,
                                          0xF0F0F0F0F0F0F0F0ULL, 0xFF00FF00FF00FF00ULL,
                                          0xFFFF0000FFFF0000ULL, 0xFFFFFFFF00000000ULL};
    u.symmetric = u.functions.size() == 1;
    std::vector<std::uint64_t> v(columns, columns + u.fan_in());
    const auto eval = [&] {
        std::vector<std::uint64_t> args;
        for (const int a : u.arguments[0]) args.push_back(v[static_cast<std::size_t>(a)]);
        return u.functions[0]->evaluate_known(args);
    };
    const auto plain = eval();
    for (std::size_t i = 0; i + 1 < v.size() && u.symmetric; ++i) {
        std::swap(v[i], v[i + 1]);
        u.symmetric = eval() == plain;
        std::swap(v[i], v[i + 1]);
    }
    return u;
}

}  // namespace grayrelic::minimising
