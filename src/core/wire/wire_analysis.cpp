// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wire/wire_analysis.hpp"

#include <algorithm>

#include "core/wire/circuit_rails.hpp"

namespace grayrelic {

const ValueStudy* WireAnalysis::find_value(std::string_view id) const {
    const auto it =
        std::find_if(values.begin(), values.end(), [&](const auto& v) { return v.value.id == id; });
    return it == values.end() ? nullptr : &*it;
}

const OptionCost* WireAnalysis::find_cost(std::string_view option) const {
    const auto it =
        std::find_if(costs.begin(), costs.end(), [&](const auto& c) { return c.option == option; });
    return it == costs.end() ? nullptr : &*it;
}

std::optional<std::size_t> WireAnalysis::find_line(std::string_view name) const {
    for (std::size_t i = 0; i < study.lines.size(); ++i)
        if (study.lines[i].name == name) return i;
    for (std::size_t i = 0; i < study.lines.size(); ++i)
        for (const int n : study.lines[i].nets)
            if (circuit.nets[static_cast<std::size_t>(n)].name == name) return i;
    return std::nullopt;
}

WireAnalysis analyse_wire(const Dossier& d, const WireData& data, const Person& person) {
    WireAnalysis out;
    out.logic = data.logic;
    const CircuitData parts{data.logic.get(), data.families};
    out.circuit = build_circuit(d, bridge_text(*d.wire, *d.timing), parts);
    out.study = judge_links(out.circuit);
    out.rails = study_rails_of(*d.wire, out.circuit);
    for (const auto& s : d.wire->settings) out.settings.push_back(study_setting(s, out.rails.tree));
    out.pins = study_pins(d.wire->pins, out.circuit, out.study, out.rails.tree, *data.parts);
    out.cables = study_cables(d, out.circuit, parts);
    out.ribbons = ribbons_of(out.circuit, out.study);
    for (const auto& v : d.wire->values) out.values.push_back(study_value(v, out.circuit));
    for (const auto& v : values_found(out.circuit, out.study, d.wire->values)) {
        out.values.push_back(study_value(v, out.circuit));
        out.values.back().found = true;
    }
    for (auto& v : out.values) look_into_drawer(v, person.drawer);
    out.solder = solder_advice(out.circuit.network, *data.packages, person.bench);
    for (const auto& o : d.timing->options) {
        if (o.network.empty() || d.timing->find_network(o.network) == nullptr) continue;
        const auto text = bridge_text(*d.wire, *d.timing, o.id);
        out.costs.push_back(
            {o.id, bill_of(read_circuit(text.text, *data.logic), *d.supply, *data.families, *data.packages)});
    }
    return out;
}

}  // namespace grayrelic
