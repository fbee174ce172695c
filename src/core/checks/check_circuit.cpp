// SPDX-License-Identifier: GPL-3.0-or-later
// The circuit's text and what every circuit must have; whether its packages can be soldered.
#include <fmt/format.h>

#include "core/base/quantity.hpp"
#include "core/checks/registry.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {
namespace {

Severity severity_of(Verdict v) {
    return v == Verdict::stop ? Severity::stop : v == Verdict::holds ? Severity::note : Severity::doubt;
}

constexpr long most_said = 20;

}  // namespace

void check_circuit(const Analysis& a, Findings& out) {
    if (!a.wire) return;
    long said = 0;
    for (const auto& f : a.wire->circuit.faults) {
        if (++said > most_said) return;
        auto why = f.line > 0 ? std::string() : f.todo;
        std::string subject = f.what;
        FindingPlace place{"circuit", f.line > 0 ? std::to_string(f.line) : f.what};
        if (f.line > 0) {
            const auto [network, line] = a.wire->circuit.text.place_of(f.line);
            why = fmt::format("Line {} of {}.", line, network);
        }
        out.push_back({f.id == "network-text" ? "circuit-broken" : "circuit-" + f.id, severity_of(f.verdict),
                       Stage::wire, std::move(subject), f.says, f.line > 0 ? why : std::string(), f.todo,
                       place});
    }
}

void check_solder(const Analysis& a, Findings& out) {
    if (!a.wire) return;
    for (const auto& s : a.wire->solder) {
        if (!s.known || s.verdict == Verdict::holds || s.verdict == Verdict::unknown) continue;
        std::string refs;
        for (const auto& r : s.refs) refs += (refs.empty() ? "" : ", ") + r;
        std::string todo;
        if (!s.easier.empty()) todo = fmt::format("It also comes as {}.", s.easier.front());
        if (!s.instead.empty())
            todo += fmt::format("{}{} does the same.", todo.empty() ? "" : " ", s.instead.front());
        if (s.service)
            todo += fmt::format("{}Or let the assembly service place it.", todo.empty() ? "" : " ");
        if (todo.empty()) todo = "Practise on a scrap board first, or have it placed by an assembly service.";
        out.push_back({"hard-to-solder",
                       Severity::doubt,
                       Stage::wire,
                       "part " + s.refs.front(),
                       fmt::format("{} ({}) may not come out well", s.part, refs),
                       s.why,
                       todo,
                       {"solder", s.refs.front()}});
    }
}

}  // namespace grayrelic
