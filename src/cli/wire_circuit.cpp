// SPDX-License-Identifier: GPL-3.0-or-later
// wire lines: every line of a dossier's circuit judged; wire netlist: it as a table or a test netlist; wire
// card: its packages at true size.
#include <memory>

#include "cli/command.hpp"
#include "cli/input.hpp"
#include "cli/output.hpp"
#include "core/base/text.hpp"
#include "core/dossier/store.hpp"
#include "core/report/package_card.hpp"
#include "core/trace/netlist.hpp"
#include "core/wire/begin.hpp"
#include "core/wire/wire_analysis.hpp"
#include "render/pdf.hpp"

namespace grayrelic::cli {
namespace {

struct CircuitArguments {
    std::string dossier, out;
};

Json maybe(const std::optional<double>& v) {
    return v ? Json(*v) : Json();
}

Json link_json(const WireAnalysis& w, const LineLink& l) {
    Json j = {{"from", w.circuit.name_of(w.circuit.drivers[l.driver])},
              {"to", w.circuit.name_of(w.circuit.receivers[l.receiver])},
              {"high_margin_v", maybe(l.levels.high_margin_v)},
              {"low_margin_v", maybe(l.levels.low_margin_v)},
              {"over_limit", l.levels.over_limit},
              {"verdict", word(l.levels.verdict)},
              {"why", l.levels.why}};
    if (l.rise_s) j["rise_s"] = *l.rise_s;
    if (l.clamp_a) j["clamp_a"] = *l.clamp_a;
    return j;
}

int wire_lines(const CircuitArguments& args, bool json) {
    const auto a = analyse_dossier(args.dossier);
    if (!a) return report_error(a.error());
    const auto& wire = (*a)->wire;
    if (!wire || wire->circuit.empty()) {
        if (json)
            print_json({{"lines", Json::array()}, {"faults", Json::array()}});
        else
            say("no circuit\n");
        return bad_answer;
    }
    bool stop = false;
    Json lines = Json::array(), faults = Json::array();
    for (const auto& f : wire->circuit.faults) {
        stop = stop || f.verdict == Verdict::stop;
        const auto [network, line] = wire->circuit.text.place_of(f.line);
        faults.push_back({{"what", f.what}, {"says", f.says}, {"do", f.todo}, {"verdict", word(f.verdict)}});
        if (f.line > 0) faults.back().update({{"network", network}, {"line", line}});
        if (!json) say("{:<7} {} {}\n", word(f.verdict), f.says, f.todo);
    }
    for (const auto& l : wire->study.lines) {
        if (l.links.empty() && l.faults.empty()) continue;
        stop = stop || l.verdict == Verdict::stop;
        Json links = Json::array(), wrong = Json::array();
        for (const auto i : l.links) links.push_back(link_json(*wire, wire->study.links[i]));
        for (const auto& f : l.faults)
            wrong.push_back({{"says", f.says}, {"why", f.why}, {"do", f.todo}, {"verdict", word(f.verdict)}});
        lines.push_back({{"line", l.name},
                         {"verdict", word(l.verdict)},
                         {"c_f", l.farad},
                         {"links", std::move(links)},
                         {"faults", std::move(wrong)}});
        if (json) continue;
        say("{:<7} {}\n", word(l.verdict), l.name);
        for (const auto i : l.links) {
            const auto& k = wire->study.links[i];
            say("        {} to {}: {}\n", wire->circuit.name_of(wire->circuit.drivers[k.driver]),
                wire->circuit.name_of(wire->circuit.receivers[k.receiver]), k.levels.why);
        }
        for (const auto& f : l.faults) say("        {}. {}\n", f.says, f.why);
    }
    if (json) print_json({{"lines", std::move(lines)}, {"faults", std::move(faults)}});
    return stop ? bad_answer : fine;
}

int wire_netlist(const CircuitArguments& args, bool json) {
    const bool ipc = args.out.ends_with(".ipc");
    if (!ipc && !args.out.ends_with(".csv"))
        return report_error(usage_error(in_quotes(args.out), "a file that ends in .csv or .ipc"));
    const auto a = analyse_dossier(args.dossier);
    if (!a) return report_error(a.error());
    const auto& wire = (*a)->wire;
    if (!wire || wire->circuit.empty())
        return report_error(usage_error("a dossier without a circuit", "one with parts under Wire"));
    if (const auto apart = not_over(args.out, (*a)->dossier, args.dossier); !apart)
        return report_error(apart.error());
    const auto nets = netlist_of(wire->circuit);
    const auto text = ipc ? write_ipc_d_356a(nets, {}, (*a)->dossier.about->name) : write_net_csv(nets);
    if (auto written = write_atomically(disk(), args.out, text); !written)
        return report_error(written.error());
    if (json)
        print_json({{"file", args.out}, {"nets", nets.size()}});
    else
        say("{}\n", args.out);
    return fine;
}

int wire_card(const CircuitArguments& args, bool json) {
    if (!args.out.ends_with(".pdf") && !args.out.ends_with(".svg"))
        return report_error(usage_error(in_quotes(args.out), "a file that ends in .pdf or .svg"));
    const auto a = analyse_dossier(args.dossier);
    if (!a) return report_error(a.error());
    if (const auto apart = not_over(args.out, (*a)->dossier, args.dossier); !apart)
        return report_error(apart.error());
    const auto card = package_card(**a);
    if (!card) return report_error(card.error());
    const render::HeadlessGui gui;
    const auto written = render::write_card(*card, args.out, (*a)->dossier.about->name);
    if (!written) return report_error(written.error());
    if (json)
        print_json({{"file", args.out}, {"pages", card->pages.size()}});
    else
        say("{}\n", args.out);
    return fine;
}

}  // namespace

void add_wire_circuit(CLI::App& noun, Session& session) {
    const auto a = std::make_shared<CircuitArguments>();
    auto* v = noun.add_subcommand("lines", "every line of the circuit, judged at the supplies' corners");
    v->add_option("DOSSIER", a->dossier)->required();
    v->callback([&session, a] { session.run = [&session, a] { return wire_lines(*a, session.json); }; });
    v = noun.add_subcommand("netlist",
                            "the circuit's nets as a table (.csv) or a test netlist by IPC-D-356A (.ipc)");
    v->add_option("DOSSIER", a->dossier)->required();
    v->add_option("OUT", a->out)->required();
    v->callback([&session, a] { session.run = [&session, a] { return wire_netlist(*a, session.json); }; });
    v = noun.add_subcommand("card", "the circuit's packages at true size, to print");
    v->add_option("DOSSIER", a->dossier)->required();
    v->add_option("OUT", a->out, "a file that ends in .pdf or .svg")->required();
    v->callback([&session, a] { session.run = [&session, a] { return wire_card(*a, session.json); }; });
}

}  // namespace grayrelic::cli
