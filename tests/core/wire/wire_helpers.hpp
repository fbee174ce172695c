// SPDX-License-Identifier: GPL-3.0-or-later
// Circuits for tests: a relic's port J1 and what a text puts between.
#pragma once

#include "core/dossier/edits.hpp"
#include "core/library/data_library.hpp"
#include "core/wire/wire_analysis.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic::test {

inline const DataLibrary& wire_data() {
    static const auto data = DataLibrary::load(disk(), {source_folder() / "data"});
    return *data;
}

inline CircuitData circuit_data() {
    return {&wire_data().logic, &wire_data().families};
}

inline Pin pin(const char* number, const char* name, Driver driver, const char* family = "") {
    Pin p;
    p.number = number;
    p.name.value = name;
    p.driver.value = driver;
    p.family.value = family;
    return p;
}

inline Pin rail_pin(const char* number, const char* name, double least, double most) {
    auto p = pin(number, name, Driver::supply);
    p.volts_min.value = Volts(least);
    p.volts_max.value = Volts(most);
    return p;
}

/// J1: 1 = +5 V (4.75 to 5.25), 2 = ground, 3 = OUT driven by the relic, 4 = IN read by it, 5 = BUS both.
inline Dossier relic_port(const char* out_family = "ttl", const char* in_family = "ttl") {
    Port j1;
    j1.id = "J1";
    j1.pins = {rail_pin("1", "+5 V", 4.75, 5.25), pin("2", "ground", Driver::supply),
               pin("3", "OUT", Driver::relic, out_family), pin("4", "IN", Driver::bridge, in_family),
               pin("5", "BUS", Driver::both, "ls")};
    return put(Dossier{}, std::move(j1));
}

/// With this text as what all options share.
inline Dossier with_text(Dossier d, const std::string& text) {
    LogicNetwork n;
    n.id = "bridge";
    n.name = "Bridge";
    n.text = text;
    return edit(put(d, std::move(n)), &Dossier::wire, [](Wire& w) { w.network = "bridge"; });
}

struct Judged {
    Dossier dossier;
    Circuit circuit;
    LinkStudy study;
    [[nodiscard]] const WireLine* line(const std::string& name) const {
        for (const auto& l : study.lines)
            if (l.name == name) return &l;
        for (const auto& l : study.lines)
            for (const int n : l.nets)
                if (circuit.nets[static_cast<std::size_t>(n)].name == name) return &l;
        return nullptr;
    }
    [[nodiscard]] std::size_t index(const std::string& name) const {
        return static_cast<std::size_t>(line(name) - study.lines.data());
    }
    /// The link to a reader: "U1.1A"; null when there is none.
    [[nodiscard]] const LineLink* link_to(const std::string& reader) const {
        for (const auto& l : study.links)
            if (circuit.name_of(circuit.receivers[l.receiver]) == reader) return &l;
        return nullptr;
    }
    [[nodiscard]] bool has(const std::string& name, LineFault kind) const {
        const auto* l = line(name);
        if (l == nullptr) return false;
        for (const auto& f : l->faults)
            if (f.kind == kind) return true;
        return false;
    }
};

inline Judged judged(Dossier d) {
    Judged j;
    j.circuit = build_circuit(d, bridge_text(*d.wire, *d.timing), circuit_data());
    j.study = judge_links(j.circuit);
    j.dossier = std::move(d);
    return j;
}

}  // namespace grayrelic::test
