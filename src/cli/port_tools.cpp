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

struct TapQuestion {
    std::string path, kind, port, analyser, shortest, out;
};

/// The port that is asked about, and the analysis of its dossier; none of a pin table.
struct TapSubject {
    Port port;
    std::shared_ptr<const Analysis> analysis;
};

Result<TapSubject> tap_subject(const TapQuestion& q) {
    TapSubject s;
    if (std::filesystem::path(q.path).extension() == ".csv") {
        if (!q.out.empty()) return fail_usage("a pin table and a card", "a dossier, for a card");
        const auto table = read_pins(q.path);
        if (!table) return fail(table.error());
        s.port.id = "J1";
        s.port.name = std::filesystem::path(q.path).stem().string();
        s.port.connector = q.kind;
        s.port.pins = table->pins;
        return s;
    }
    const auto a = analyse_dossier(q.path);
    if (!a) return fail(a.error());
    s.analysis = *a;
    const auto& ports = *s.analysis->dossier.ports;
    const auto* first = ports.empty() ? nullptr : &ports.front();
    const auto* found = q.port.empty() ? first : s.analysis->dossier.find_port(q.port);
    if (found == nullptr)
        return fail_usage(q.port.empty() ? "no port" : in_quotes(q.port), "a port of the dossier");
    s.port = *found;
    return s;
}

/// What the command line says beside what the port has.
Status take_words(const TapQuestion& q, const AnalyserLibrary& library, TapPlan& plan) {
    if (!q.analyser.empty()) {
        std::string ids;
        bool known = false;
        for (const auto& m : library.analysers) {
            ids += (ids.empty() ? "" : ", ") + m.id;
            known = known || m.id == q.analyser;
        }
        if (!known) return fail_usage(in_quotes(q.analyser), ids);
        plan.analyser = q.analyser;
    }
    if (!q.shortest.empty()) {
        const auto t = parse_time(q.shortest);
        if (!t || *t <= Time{}) return fail_usage(in_quotes(q.shortest), "a time such as 2us");
        plan.shortest.value = *t;
    }
    return {};
}

Status write_tap_card(const TapSubject& s, const std::string& out, const std::string& path) {
    auto changed = *s.analysis;
    changed.dossier = put(changed.dossier, s.port);
    const auto card = tap_card(changed, s.port.id);
    if (!card) return fail(card.error());
    const render::HeadlessGui gui;
    if (const auto free = not_over(out, changed.dossier, path); !free) return fail(free.error());
    const auto written = render::write_card(*card, out, changed.dossier.about->name);
    if (!written) return fail(written.error());
    return {};
}

Json taps_json(const TapStudy& s) {
    Json lines = Json::array(), steps = Json::array();
    for (const auto& l : s.lines) {
        Json j = {{"pin", l.pin},           {"name", l.name},
                  {"way", word(l.way)},     {"verdict", word(l.verdict)},
                  {"lowest_v", l.lowest_v}, {"highest_v", l.highest_v},
                  {"channel", l.channel},   {"run", l.run},
                  {"says", l.says}};
        if (l.way == TapWay::divider) j["top_ohm"] = l.top_ohm, j["bottom_ohm"] = l.bottom_ohm;
        lines.push_back(std::move(j));
    }
    for (const auto& x : s.steps) steps.push_back({{"what", x.what}, {"how", x.how}, {"seconds", x.seconds}});
    return {{"analyser", s.analyser == nullptr ? "" : s.analyser->id},
            {"lines", lines},
            {"ground", s.ground_pin},
            {"least_rate_hz", s.least_rate_hz},
            {"rate_hz", s.rate_hz},
            {"seconds", s.seconds},
            {"runs", s.runs},
            {"steps", steps},
            {"before", s.before},
            {"doubts", s.doubts},
            {"verdict", word(s.verdict)}};
}

void say_taps(const TapStudy& s) {
    for (const auto& l : s.lines)
        say("{:6} {:4} {:12} {:13} {}\n", word(l.verdict), l.pin, l.name, word(l.way), l.says);
    say("record {} at {}\n", print_number(s.seconds, Unit::second, 2), print_number(s.rate_hz, Unit::hertz));
    for (const auto& b : s.before) say("do     {}\n", b);
    for (const auto& x : s.steps) say("then   {}: {}\n", x.what, x.how);
    for (const auto& d : s.doubts) say("doubt  {}\n", d);
}

int taps(const TapQuestion& q, bool json) {
    const auto data = DataLibrary::load_installed();
    auto subject = tap_subject(q);
    if (!subject) return report_error(subject.error());
    if (const auto done = take_words(q, data->analysers, subject->port.taps); !done)
        return report_error(done.error());
    if (!q.out.empty())
        if (const auto done = write_tap_card(*subject, q.out, q.path); !done)
            return report_error(done.error());
    const auto& port = subject->port;
    const auto connector = data->connectors.find(port.connector);
    const auto s = plan_taps(port, connector ? &*connector : nullptr, data->families, data->analysers);
    if (json)
        print_json(taps_json(s));
    else
        say_taps(s);
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
            return taps({x->a, x->kind, x->port, x->analyser, x->shortest, x->out}, session.json);
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
