// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli port taps, bricks, find
#include "cli/port_tools.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <filesystem>
#include <memory>

#include "cli/input.hpp"
#include "cli/output.hpp"
#include "core/base/text.hpp"
#include "core/checks/analyse.hpp"
#include "core/dossier/edits.hpp"
#include "core/json/json.hpp"
#include "core/port/bricks.hpp"
#include "core/port/by_measure.hpp"
#include "core/port/tap_plan.hpp"
#include "core/report/tap_figure.hpp"
#include "render/pdf.hpp"

namespace grayrelic::cli {
namespace {

int taps(const std::string& path, const std::string& kind, const std::string& port_id,
         const std::string& analyser, const std::string& shortest, const std::string& out, bool json) {
    const auto data = DataLibrary::load_installed();
    Port port;
    std::shared_ptr<const Analysis> analysis;
    if (std::filesystem::path(path).extension() == ".csv") {
        const auto table = read_pins(path);
        if (!table) return report_error(table.error());
        port.id = "J1";
        port.name = std::filesystem::path(path).stem().string();
        port.connector = kind;
        port.pins = table->pins;
        if (!out.empty()) return report_error(usage_error("a pin table and a card", "a dossier, for a card"));
    } else {
        const auto a = analyse_dossier(path);
        if (!a) return report_error(a.error());
        analysis = *a;
        const auto& ports = *analysis->dossier.ports;
        const auto* found = port_id.empty() ? (ports.empty() ? nullptr : &ports.front())
                                            : analysis->dossier.find_port(port_id);
        if (found == nullptr)
            return report_error(
                usage_error(port_id.empty() ? "no port" : in_quotes(port_id), "a port of the dossier"));
        port = *found;
    }
    if (!analyser.empty()) {
        const auto& all = data->analysers.analysers;
        if (std::none_of(all.begin(), all.end(), [&](const AnalyserModel& m) { return m.id == analyser; })) {
            std::vector<std::string> ids;
            for (const auto& m : all) ids.push_back(m.id);
            return report_error(usage_error(in_quotes(analyser), fmt::format("{}", fmt::join(ids, ", "))));
        }
        port.taps.analyser = analyser;
    }
    if (!shortest.empty()) {
        const auto t = parse_time(shortest);
        if (!t || *t <= Time{}) return report_error(usage_error(in_quotes(shortest), "a time such as 2us"));
        port.taps.shortest.value = *t;
    }
    if (!out.empty()) {
        auto changed = *analysis;
        changed.dossier = put(changed.dossier, port);
        const auto card = tap_card(changed, port.id);
        if (!card) return report_error(card.error());
        const render::HeadlessGui gui;
        if (const auto free = not_over(out, changed.dossier, path); !free) return report_error(free.error());
        const auto written = render::write_card(*card, out, changed.dossier.about->name);
        if (!written) return report_error(written.error());
    }
    const auto connector = data->connectors.find(port.connector);
    const auto s = plan_taps(port, connector ? &*connector : nullptr, data->families, data->analysers);
    Json lines = Json::array(), steps = Json::array();
    for (const auto& l : s.lines) {
        Json j = {{"pin", l.pin},           {"name", l.name},
                  {"way", word(l.way)},     {"verdict", word(l.verdict)},
                  {"lowest_v", l.lowest_v}, {"highest_v", l.highest_v},
                  {"channel", l.channel},   {"run", l.run},
                  {"says", l.says}};
        if (l.way == TapWay::divider) j["top_ohm"] = l.top_ohm, j["bottom_ohm"] = l.bottom_ohm;
        lines.push_back(std::move(j));
        if (!json) say("{:6} {:4} {:12} {:13} {}\n", word(l.verdict), l.pin, l.name, word(l.way), l.says);
    }
    for (const auto& x : s.steps) steps.push_back({{"what", x.what}, {"how", x.how}, {"seconds", x.seconds}});
    if (json) {
        print_json({{"analyser", s.analyser == nullptr ? "" : s.analyser->id},
                    {"lines", lines},
                    {"ground", s.ground_pin},
                    {"least_rate_hz", s.least_rate_hz},
                    {"rate_hz", s.rate_hz},
                    {"seconds", s.seconds},
                    {"runs", s.runs},
                    {"steps", steps},
                    {"before", s.before},
                    {"doubts", s.doubts},
                    {"verdict", word(s.verdict)}});
    } else {
        say("record {} at {}\n", print_number(s.seconds, Unit::second, 2),
            print_number(s.rate_hz, Unit::hertz));
        for (const auto& b : s.before) say("do     {}\n", b);
        for (const auto& x : s.steps) say("then   {}: {}\n", x.what, x.how);
        for (const auto& d : s.doubts) say("doubt  {}\n", d);
    }
    return s.verdict == Verdict::stop ? bad_answer : fine;
}

int bricks(const std::string& pins, const std::string& kind, bool json) {
    const auto data = DataLibrary::load_installed();
    const auto connector = data->connectors.find(kind);
    if (!connector) return report_error(connector.error());
    const auto table = read_pins(pins, &*connector);
    if (!table) return report_error(table.error());
    Port port;
    port.connector = kind;
    port.pins = table->pins;
    const auto tried = try_bricks(port, *connector, data->supplies, data->families);
    if (tried.empty())
        return report_error(usage_error(
            "no supply to try", "a jack that a supply of data/supplies goes into, with its volts recorded"));
    Json list = Json::array();
    bool stop = false;
    for (const auto& b : tried) {
        stop = stop || b.verdict == Verdict::stop;
        list.push_back({{"supply", b.brick.id},
                        {"verdict", word(b.verdict)},
                        {"unprotected", word(b.unprotected)},
                        {"meant", b.meant},
                        {"why", b.says},
                        {"path", b.path}});
        if (!json) say("{:6} {}{}: {}\n", word(b.verdict), b.brick.name, b.meant ? " (meant)" : "", b.says);
    }
    if (json) print_json({{"supplies", list}});
    return stop ? bad_answer : fine;
}

/// Places of contacts in a picture: x and y in pixels, a line each.
Result<MeasuredFace> face_of_places(const std::string& path, double px_per_mm) {
    constexpr std::size_t most_bytes = 1 << 20, most_places = 1000;
    const auto text = disk().read(path, most_bytes);
    if (!text) return fail(text.error());
    std::vector<Place> places;
    long line = 0;
    for (const auto row : split(*text, '\n')) {
        ++line;
        if (trim(row).empty()) continue;
        const auto comma = row.find_first_of(",;\t");
        const auto x = parse_number(trim(row.substr(0, comma)), Unit::none);
        const auto y = comma == std::string_view::npos
                           ? Result<double>(fail_usage("", ""))
                           : parse_number(trim(row.substr(comma + 1)), Unit::none);
        if (!x && line == 1) continue;  // a heading
        if (!x || !y || places.size() >= most_places)
            return fail_at(path, line, in_quotes(row), "a contact's place in pixels as x,y; at most 1000");
        places.push_back({*x, *y});
    }
    const auto face = measure_face(std::move(places), px_per_mm);
    if (!face)
        return fail_at(path, line, "fewer than two contacts apart from each other",
                       "the places of all contacts");
    return *face;
}

int find_by_measure(const std::string& text, const std::string& places, double px_per_mm, bool json) {
    auto face = measured_from_text(text);
    if (!places.empty()) {
        const auto measured = face_of_places(places, px_per_mm);
        if (!measured) return report_error(measured.error());
        face = *measured;
    }
    if (!face)
        return report_error(usage_error(in_quotes(text), "measures such as \"2.77 mm 2 rows 9 contacts\""));
    const auto data = DataLibrary::load_installed();
    Json list = Json::array();
    for (const auto& m : connectors_by_measure(data->connectors, *face)) {
        list.push_back({{"connector", m.id}, {"name", m.name}, {"off_mm", m.off_mm}, {"says", m.says}});
        if (!json) say("{:18} {}: {}\n", m.id, m.name, m.says);
    }
    if (json) print_json({{"found", list}});
    if (list.empty() && !json) say("none of the library has these measures\n");
    return list.empty() ? bad_answer : fine;
}

}  // namespace

void add_port_tools(CLI::App& noun, Session& session) {
    struct Arguments {
        std::string a, b, kind, port, analyser, shortest, out;
        double px_per_mm = 10;
    };
    const auto x = std::make_shared<Arguments>();
    auto* v = noun.add_subcommand(
        "taps", "how a port is recorded: each line's way to the analyser, how fast, how long");
    v->add_option("DOSSIER|PINS.csv", x->a)->required();
    v->add_option("OUT.pdf|OUT.svg", x->out, "a card to print");
    v->add_option("--port", x->port, "of the dossier; else its first");
    v->add_option("--connector", x->kind, "of a pin table, as the files in data/connectors are named");
    v->add_option("--analyser", x->analyser, "as the files in data/analysers are named");
    v->add_option("--shortest", x->shortest, "the shortest pulse that may come, such as 2us");
    v->callback([&session, x] {
        session.run = [&session, x] {
            return taps(x->a, x->kind, x->port, x->analyser, x->shortest, x->out, session.json);
        };
    });

    v = noun.add_subcommand("bricks", "the usual supplies with that plug, against a supply jack");
    v->add_option("PINS.csv", x->a)->required();
    v->add_option("--connector", x->kind)->required();
    v->callback(
        [&session, x] { session.run = [&session, x] { return bricks(x->a, x->kind, session.json); }; });

    v = noun.add_subcommand("find", "connectors by what is measured of them");
    v->add_option("MEASURES", x->a, "such as \"2.77 mm 2 rows 9 contacts\"");
    v->add_option("--places", x->b, "contacts in a picture instead: x,y in pixels, a line each");
    v->add_option("--px-per-mm", x->px_per_mm, "the picture's scale")->check(CLI::Range(0.01, 10000.0));
    v->callback([&session, x] {
        session.run = [&session, x] { return find_by_measure(x->a, x->b, x->px_per_mm, session.json); };
    });
}

}  // namespace grayrelic::cli
