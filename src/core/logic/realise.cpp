// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/logic/minimise_parts.hpp"

namespace grayrelic::minimising {

Realisation realise(const WantedLogic& w, const std::vector<const GateKind*>& units,
                    const std::vector<PlacedGate>& gates) {
    Realisation r;
    r.gates = static_cast<int>(gates.size());
    const auto inputs = w.inputs.size();
    std::vector<std::string> names{"0", "1"};
    for (const auto& i : w.inputs) names.push_back(i);
    // Inner nets are called n1, n2 … unless the table has such a name itself.
    std::string inner = "n";
    const auto taken = [&](const std::string& name) { return name.starts_with(inner); };
    while (std::any_of(w.inputs.begin(), w.inputs.end(), taken) ||
           std::any_of(w.outputs.begin(), w.outputs.end(),
                       [&](const WantedLogic::Output& o) { return taken(o.name); }))
        inner += "n";
    std::vector<std::uint64_t> values;
    std::vector<Time> slow(2 + inputs);
    // Values once more, to see which signal meets which output.
    const std::uint64_t rows = inputs == 6 ? ~0ULL : (1ULL << (1U << inputs)) - 1;
    values = {0, rows};
    for (std::size_t i = 0; i < inputs; ++i) {
        std::uint64_t bits = 0;
        for (std::uint64_t row = 0; row < (1ULL << inputs); ++row)
            bits |= ((row >> (inputs - 1 - i)) & 1U) << row;
        values.push_back(bits);
    }
    for (const auto& g : gates) {
        const GateKind& u = *units[static_cast<std::size_t>(g.unit)];
        Time latest;
        for (const int s : g.inputs) latest = std::max(latest, slow[static_cast<std::size_t>(s)]);
        for (std::size_t f = 0; f < u.functions.size(); ++f) {
            std::vector<std::uint64_t> args;
            for (const int a : u.arguments[f])
                args.push_back(values[static_cast<std::size_t>(g.inputs[static_cast<std::size_t>(a)])]);
            values.push_back(u.functions[f]->evaluate_known(args) & rows);
            slow.push_back(latest + u.slow);
            names.push_back(fmt::format("{}{}", inner, names.size() - 1 - inputs));
        }
    }
    // An output takes its gate's net name; a net that serves two outputs, or an input or level, would need a
    // buffer we may not have: such a circuit lacks an output, and minimise() drops it when it checks.
    std::vector<bool> named(names.size(), false);
    for (const auto& o : w.outputs) {
        for (std::size_t s = names.size(); s-- > 2 + inputs;) {
            if (named[s] || ((values[s] ^ o.ones) & o.care) != 0) continue;
            names[s] = o.name;
            named[s] = true;
            r.slowest = std::max(r.slowest, slow[s]);
            break;
        }
    }
    r.net_list = "input";
    for (const auto& i : w.inputs) r.net_list += " " + i;
    r.net_list += "\noutput";
    for (const auto& o : w.outputs) r.net_list += " " + o.name;
    r.net_list += "\n";
    // Gates of one unit kind fill its packages one after the other.
    int ref = 0;
    for (std::size_t u = 0; u < units.size(); ++u) {
        const GateKind& unit = *units[u];
        std::size_t used = 0;
        const auto total = static_cast<std::size_t>(std::count_if(
            gates.begin(), gates.end(), [&](const PlacedGate& g) { return g.unit == static_cast<int>(u); }));
        for (const auto& g : gates) {
            if (g.unit != static_cast<int>(u)) continue;
            const auto gate = used % unit.gates();
            if (gate == 0) {
                r.net_list += fmt::format("U{} {} {}:", ++ref, unit.logic->id, unit.family);
                r.packages.push_back(unit.logic->id + " " + unit.family);
            }
            for (std::size_t i = 0; i < unit.fan_in(); ++i)
                r.net_list +=
                    fmt::format(" {}={}", unit.logic->inputs[static_cast<std::size_t>(unit.inputs[gate][i])],
                                names[static_cast<std::size_t>(g.inputs[i])]);
            for (std::size_t f = 0; f < unit.functions.size(); ++f)
                r.net_list += fmt::format(
                    " {}={}", unit.logic->outputs[static_cast<std::size_t>(unit.outputs[gate][f])].pin,
                    names[static_cast<std::size_t>(g.first_output) + f]);
            ++used;
            if (gate + 1 == unit.gates() || used == total) {
                const auto in_package = gate + 1;
                std::set<int> tied;
                for (std::size_t rest = 0; rest < in_package; ++rest)
                    for (const int i : unit.inputs[rest]) tied.insert(i);
                for (std::size_t i = 0; i < unit.logic->inputs.size(); ++i)
                    if (tied.count(static_cast<int>(i)) == 0)
                        r.net_list += fmt::format(" {}=0", unit.logic->inputs[i]);
                r.net_list += "\n";
                if (in_package < unit.gates())
                    r.spare.push_back(
                        fmt::format("U{}: {} of {} gates", ref, unit.gates() - in_package, unit.gates()));
            }
        }
    }
    return r;
}

}  // namespace grayrelic::minimising
