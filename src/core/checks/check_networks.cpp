// SPDX-License-Identifier: GPL-3.0-or-later
// Networks of parts: what is wrong in their net lists, and what their replay of the capture shows.
#include <fmt/format.h>

#include <algorithm>

#include "core/base/quantity.hpp"
#include "core/checks/registry.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic {
namespace {

void replay(const Analysis& a, const OptionAnalysis& o, Findings& out) {
    const auto& r = *o.network;
    const auto* net = a.timing->find_network(o.option.network);
    const auto severity = o.chosen ? Severity::doubt : Severity::note;
    const auto add = [&](std::string says, std::string why, std::string todo, std::optional<Time> at) {
        out.push_back({"network-replay",
                       severity,
                       Stage::timing,
                       "option " + o.option.id,
                       std::move(says),
                       std::move(why),
                       std::move(todo),
                       {"option", o.option.id, at}});
    };
    if (r.differ > 0)
        add(fmt::format("{} answers otherwise than the original", o.option.name),
            fmt::format("At {} of {} looks {} has another level{}.", print_count(r.differ),
                        print_count(r.compared), r.answer,
                        r.first_difference ? ", first at " + print(*r.first_difference) : ""),
            "Check which input stands for which bit, and the inversions on the way.", r.first_difference);
    if (!r.faults.empty()) {
        const auto& f = r.faults.front();
        const auto& part = net->network.parts[static_cast<std::size_t>(f.part)];
        add(fmt::format("{}: {} of {} is too short", o.option.name,
                        f.kind == TimingFault::Kind::setup  ? "set-up"
                        : f.kind == TimingFault::Kind::hold ? "hold"
                                                            : "a pulse",
                        part.ref),
            fmt::format(
                "Pin {}: {} instead of {}, first at {}{}.", f.pin, print(f.had), print(f.needed), print(f.at),
                r.faults.size() > 1
                    ? fmt::format("; {} such",
                                  r.faults.size() >= 1000 ? "1000 or more" : std::to_string(r.faults.size()))
                    : ""),
            "Use a faster family, or let the data stand earlier.", f.at);
    }
    if (!r.clashes.empty())
        add(fmt::format("{}: two outputs drive {}", o.option.name,
                        net->network.net_name(r.clashes.front().net)),
            fmt::format("First at {}.", print(r.clashes.front().at)),
            "Enable one after the other has let go.", r.clashes.front().at);
    if (!r.stopped.empty())
        add(fmt::format("{}: the simulation was ended", o.option.name), r.stopped + ".",
            "Break the loop with storage.", std::nullopt);
}

/// A board's own circuit need not compute anything.
bool is_boards(const Analysis& a, const std::string& id) {
    return std::any_of(a.dossier.boards->begin(), a.dossier.boards->end(),
                       [&](const Fabrication& b) { return b.against == id; });
}

}  // namespace

void check_networks(const Analysis& a, Findings& out) {
    for (const auto& n : a.timing->networks) {
        long fatal = 0, loose = 0;
        const NetworkProblem* first = nullptr;
        for (const auto& p : n->network.problems) {
            (p.fatal ? fatal : loose) += 1;
            if (first == nullptr || (p.fatal && !first->fatal)) first = &p;
        }
        // What all options share is no network that computes: Wire judges it.
        if (first == nullptr || n->source.id == a.dossier.wire->network || is_boards(a, n->source.id))
            continue;
        out.push_back({"network-wrong",
                       fatal > 0 ? Severity::doubt : Severity::note,
                       Stage::timing,
                       "network " + n->source.id,
                       fmt::format("Network {}: {}", n->source.name,
                                   fatal > 0 ? "can't be computed" : "should be mended"),
                       fmt::format("Line {}: {}{}.", first->line, first->says,
                                   fatal + loose > 1 ? fmt::format("; {} more", fatal + loose - 1) : ""),
                       fmt::format("Expected {}.", first->expected),
                       {"network", n->source.id}});
    }
    for (const auto& o : a.timing->options)
        if (o->network) replay(a, *o, out);
}

}  // namespace grayrelic
