// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli port check, misinsert, compare, card
#include <fmt/format.h>

#include <filesystem>
#include <memory>

#include "cli/command.hpp"
#include "cli/input.hpp"
#include "cli/output.hpp"
#include "cli/port_tools.hpp"
#include "core/base/text.hpp"
#include "core/checks/analyse.hpp"
#include "core/checks/registry.hpp"
#include "core/dossier/edits.hpp"
#include "core/json/json.hpp"
#include "core/port/misinsert.hpp"
#include "core/port/pin_compare.hpp"
#include "core/port/pin_table.hpp"
#include "core/report/wiring_card.hpp"
#include "render/pdf.hpp"

namespace grayrelic::cli {

Result<PinTable> read_pins(const std::string& path, const Connector* connector) {
    const auto text = disk().read(path, most_pin_table_bytes);
    if (!text) return fail(text.error());
    PinTableOptions options;
    options.connector = connector;
    options.evidence.kind = EvidenceKind::documented;
    options.evidence.source = std::filesystem::path(path).filename().string();
    return read_pin_table(*text, path, options);
}

namespace {

int check(const std::string& path, bool json) {
    Result<std::shared_ptr<const Analysis>> a;
    if (std::filesystem::path(path).extension() == ".csv") {
        const auto table = read_pins(path);
        if (!table) return report_error(table.error());
        Port port;
        port.id = "J1";
        port.name = std::filesystem::path(path).stem().string();
        port.pins = table->pins;
        CaptureStore store;
        Progress progress;
        a = analyse(put({}, std::move(port)), {}, store, progress, nullptr, DataLibrary::load_installed());
    } else {
        a = analyse_dossier(path);
    }
    if (!a) return report_error(a.error());
    return print_findings((*a)->findings, Stage::port, json);
}

/// Contacts of the socket that a path goes through.
std::vector<std::string> positions(const WrongCase& c, const PathFault& f, const Face& socket) {
    std::vector<std::string> out;
    for (const auto t : f.touches) out.push_back(socket.number_at(c.touches[t].socket));
    return out;
}

Json case_json(const WrongCase& c, const Face& socket) {
    Json list = Json::array();
    for (const auto& x : c.collisions)
        list.push_back({{"position", socket.number_at(x.socket_contact)},
                        {"plug", x.plug.name},
                        {"socket", x.socket.name},
                        {"verdict", word(x.verdict)},
                        {"why", x.why}});
    Json paths = Json::array();
    for (const auto& f : c.faults)
        paths.push_back({{"kind", word(f.kind)},
                         {"verdict", word(f.verdict)},
                         {"says", f.says},
                         {"path", f.path},
                         {"amps", f.amps},
                         {"positions", positions(c, f, socket)}});
    return {{"case", c.id},   {"verdict", word(c.verdict)},        {"collisions", list},
            {"says", c.says}, {"possible", word(c.possible)},      {"landed", c.landed},
            {"paths", paths}, {"ground_missing", c.ground_missing}};
}

int misinsert(const std::string& pins, const std::string& kind, const std::string& against,
              const std::string& against_kind, bool json) {
    const auto data = DataLibrary::load_installed();
    const auto connector = data->connectors.find(kind);
    if (!connector) return report_error(connector.error());
    const auto other = data->connectors.find(against_kind.empty() ? kind : against_kind);
    if (!other) return report_error(other.error());
    const auto table = read_pins(pins, &*connector);
    if (!table) return report_error(table.error());
    Result<PinTable> second = PinTable{};
    if (!against.empty()) {
        second = read_pins(against, &*other);
        if (!second) return report_error(second.error());
    }
    // The plug belongs to the first table; it goes into the second's port, else into its own.
    const Face plug{&*connector, {}, &table->pins, Side::relic};
    const Face socket = against.empty() && against_kind.empty()
                            ? plug
                            : Face{&*other, {}, against.empty() ? &table->pins : &second->pins, Side::relic};
    const auto cases = wrong_cases(socket, plug, data->families);
    const auto help = remedies(socket, plug, data->families, cases);
    Json list = Json::array(), helps = Json::array();
    for (const auto& c : cases) {
        list.push_back(case_json(c, socket));
        if (json) continue;
        say("{:7} {} ({}: {})\n", word(c.verdict), c.says, word(c.possible),
            c.why_possible.empty() ? "the key" : c.why_possible);
        for (const auto& f : c.faults)
            say("        {:6} at {}: {}\n", word(f.verdict), fmt::join(positions(c, f, socket), ", "),
                f.says);
    }
    for (const auto& r : help) {
        helps.push_back({{"says", r.says},
                         {"costs", r.costs},
                         {"stops_before", r.stops_before},
                         {"stops_after", r.stops_after},
                         {"prevented", r.prevented}});
        if (!json) say("do      {}\n", r.says);
    }
    if (json) print_json({{"cases", list}, {"remedies", helps}});
    return count_stops(cases) > 0 ? bad_answer : fine;
}

int compare(const std::string& a, const std::string& b, const std::string& kind, bool json) {
    std::optional<Connector> connector;
    if (!kind.empty()) {
        auto found = DataLibrary::load_installed()->connectors.find(kind);
        if (!found) return report_error(found.error());
        connector = std::move(*found);
    }
    const auto* c = connector ? &*connector : nullptr;
    const auto first = read_pins(a, c);
    if (!first) return report_error(first.error());
    const auto second = read_pins(b, c);
    if (!second) return report_error(second.error());
    const auto r = compare_tables(first->pins, second->pins, c);
    Json differ = Json::array();
    for (const auto& p : r.pins) {
        if (p.agreement == Agreement::agree || p.agreement == Agreement::neither) continue;
        Json fields = Json::array();
        for (const auto& f : p.differences)
            fields.push_back({{"field", f.field}, {"a", f.first}, {"b", f.second}});
        differ.push_back({{"pin", p.number},
                          {"a", p.first},
                          {"b", p.second},
                          {"kind", word(p.agreement)},
                          {"fields", fields}});
        if (!json)
            say("{:4}  {:11}  {}  |  {}\n", p.number, word(p.agreement), p.first.empty() ? "·" : p.first,
                p.second.empty() ? "·" : p.second);
    }
    if (json)
        print_json({{"agree", r.agree},
                    {"differ", differ},
                    {"straight_match", r.straight.match},
                    {"mirrored_match", r.mirrored.match},
                    {"rotated_match", r.rotated.match},
                    {"renumbered_match", r.renumbered.match},
                    {"shifted_match", r.shifted.match},
                    {"best", r.best().how},
                    {"contradict", r.contradict}});
    else
        say("{} agree, {} contradict; best read {} ({})\n", r.agree, r.contradict, r.best().how,
            print_share(r.best().match));
    return r.contradict > 0 ? bad_answer : fine;
}

int card(const std::string& path, const std::string& out, const std::string& id, const std::string& paper,
         bool json) {
    const auto ending = std::filesystem::path(out).extension();
    if (ending != ".pdf" && ending != ".svg")
        return report_error(usage_error(in_quotes(out), "a file that ends in .pdf or .svg"));
    const auto a = analyse_dossier(path);
    if (!a) return report_error(a.error());
    const auto made = wiring_card(**a, id, paper == "letter" ? Paper::letter : Paper::a4);
    if (!made) return report_error(made.error());
    const render::HeadlessGui gui;
    if (const auto free = not_over(out, (*a)->dossier, path); !free) return report_error(free.error());
    const auto written = render::write_card(*made, out, (*a)->dossier.about->name);
    if (!written) return report_error(written.error());
    Json files = Json::array();
    for (const auto& f : *written) {
        files.push_back(f.string());
        if (!json) say("{}\n", f.string());
    }
    if (json) print_json({{"files", files}, {"pages", made->pages.size()}});
    return fine;
}

}  // namespace

void add_port_commands(CLI::App& app, Session& session) {
    struct Arguments {
        std::string a, b, kind, against, against_kind, cable, paper = "a4";
    };
    const auto x = std::make_shared<Arguments>();
    auto* noun =
        app.add_subcommand("port", "connectors, their pins, and what happens when a plug goes in wrong");
    noun->require_subcommand(1);
    noun->fallthrough();

    auto* v = noun->add_subcommand("check", "findings of a pin table or of a dossier's ports");
    v->add_option("PINS.csv|DOSSIER", x->a)->required();
    v->callback([&session, x] { session.run = [&session, x] { return check(x->a, session.json); }; });

    v = noun->add_subcommand("misinsert", "every way a plug can go in wrong, and what each does");
    v->add_option("PINS.csv", x->a)->required();
    v->add_option("--connector", x->kind, "as the files in data/connectors are named")->required();
    v->add_option("--against", x->against, "the pins of another port that the plug is pushed into");
    v->add_option("--against-connector", x->against_kind, "that port's connector, where it differs");
    v->callback([&session, x] {
        session.run = [&session, x] {
            return misinsert(x->a, x->kind, x->against, x->against_kind, session.json);
        };
    });

    v = noun->add_subcommand("compare", "two pin tables of one connector");
    v->add_option("A.csv", x->a)->required();
    v->add_option("B.csv", x->b)->required();
    v->add_option("--connector", x->kind);
    v->callback([&session, x] {
        session.run = [&session, x] { return compare(x->a, x->b, x->kind, session.json); };
    });

    v = noun->add_subcommand("card", "a wiring card to print");
    v->add_option("DOSSIER", x->a)->required();
    v->add_option("OUT.pdf|OUT.svg", x->b)->required();
    v->add_option("--of", x->cable, "one cable or port, by its id");
    v->add_option("--paper", x->paper)->check(CLI::IsMember({"a4", "letter"}));
    v->callback([&session, x] {
        session.run = [&session, x] { return card(x->a, x->b, x->cable, x->paper, session.json); };
    });

    add_port_tools(*noun, session);
}

}  // namespace grayrelic::cli
