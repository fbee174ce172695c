// SPDX-License-Identifier: GPL-3.0-or-later
// Circuits as text, and lines that a person types into them: built, judged, mended and written; all of it
// must end.
#include "core/base/file_system.hpp"
#include "core/dossier/edits.hpp"
#include "core/electrical/family.hpp"
#include "core/wire/begin.hpp"
#include "core/wire/fixes.hpp"
#include "core/wire/wire_analysis.hpp"
#include "tests/fuzz/fuzz.hpp"
#include "tests/fuzz/shipped_logic.hpp"

using namespace grayrelic;

namespace {

const FamilyLibrary& families() {
    static const auto all = FamilyLibrary::load(disk(), {GRAY_RELIC_SOURCE "/data"});
    return all;
}
const PackageLibrary& packages() {
    static const auto all = PackageLibrary::load(disk(), {GRAY_RELIC_SOURCE "/data"});
    return all;
}

Dossier relic() {
    Port j1;
    j1.id = "J1";
    const auto add = [&](const char* number, const char* name, Driver d, const char* family) {
        Pin p;
        p.number = number;
        p.name.value = name;
        p.driver.value = d;
        p.family.value = family;
        if (d == Driver::supply && *family == 0 && *name == '+') p.volts_max.value = Volts(5.25);
        j1.pins.push_back(std::move(p));
    };
    add("1", "+5 V", Driver::supply, "");
    add("2", "ground", Driver::supply, "");
    add("3", "OUT", Driver::relic, "ttl");
    add("4", "IN", Driver::bridge, "hct");
    add("5", "BUS", Driver::both, "");
    return put(Dossier{}, std::move(j1));
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    // The first line is typed, the rest is the circuit.
    const auto whole = fuzz::text_of(data, std::min<std::size_t>(size, 6000));
    const auto end = std::min(whole.find('\n'), whole.size());
    const auto typed = whole.substr(0, end), text = whole.substr(std::min(end + 1, whole.size()));
    LogicNetwork n;
    n.id = "bridge";
    n.text = text;
    const auto dossier =
        edit(put(relic(), std::move(n)), &Dossier::wire, [](Wire& w) { w.network = "bridge"; });
    const auto logic = std::shared_ptr<const LogicLibrary>(&fuzz::shipped_logic(), [](const auto*) {});
    const auto w = analyse_wire(dossier, {logic, &families(), &packages(), &fuzz::shipped_parts()}, Person{});
    if (w.study.line_by_net.size() != w.circuit.nets.size()) std::abort();
    (void)netlist_of(w.circuit);
    const CircuitData parts{logic.get(), &families()};
    std::size_t tried = 0;
    for (std::size_t i = 0; i < w.study.lines.size() && tried < 1 && w.circuit.network.all.size() < 12; ++i)
        if (w.study.lines[i].verdict == Verdict::stop) {
            ++tried;
            for (const auto& f : fixes_for(dossier, w.circuit, w.study, i, parts, Drawer{}))
                (void)apply_fix(dossier, f);
        }
    (void)with_typed_part(dossier, w.circuit, *logic, typed);
    (void)with_typed_way(dossier, w.circuit, *logic, "OUT", typed);
    std::string edited(text);
    (void)remove_part(edited, typed);
    return 0;
}
