// SPDX-License-Identifier: GPL-3.0-or-later
// wire rails: a .rails file, or the rails of a dossier, judged.
#include <filesystem>
#include <memory>

#include "cli/command.hpp"
#include "cli/input.hpp"
#include "cli/output.hpp"
#include "core/base/text.hpp"
#include "core/dossier/store.hpp"
#include "core/electrical/rails_study.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic::cli {
namespace {

struct RailArguments {
    std::string file, mode;
    double ambient = usual_ambient_c;
};

Json or_null(const std::optional<double>& v) {
    return v ? Json(*v) : Json();
}

Result<RailTree> tree_of(const std::string& file) {
    std::error_code code;
    if (!std::filesystem::is_directory(file, code)) {
        constexpr std::size_t most = 1024 * 1024;
        const auto text = disk().read(file, most);
        if (!text) return fail(text.error());
        return rails_from_text(*text, file);
    }
    const auto a = analyse_dossier(file);
    if (!a) return fail(a.error());
    const auto& rails = (*a)->wire->rails;
    if (!rails.faults.empty())
        return fail_at(file + ": rails", rails.faults.front().line, rails.faults.front().found,
                       rails.faults.front().expected);
    if (rails.tree.empty())
        return fail_at(file, 0, "no rails",
                       "a circuit with supplies, or rails in their own words, under Wire");
    return rails.tree;
}

Json rails_json(const RailModeFigures& m) {
    Json out = Json::array();
    for (const auto& r : m.rails)
        out.push_back({{"name", r.name},
                       {"volts_v", r.volts},
                       {"volts_min_v", r.least},
                       {"volts_max_v", r.most},
                       {"load_a", r.load_a},
                       {"limit_a", or_null(r.limit_a)},
                       {"verdict", word(r.verdict)},
                       {"why", r.why}});
    return out;
}

Json rail_parts_json(const RailModeFigures& m) {
    Json out = Json::array();
    for (const auto& p : m.parts)
        out.push_back({{"ref", p.ref},
                       {"kind", word(p.kind)},
                       {"loss_w", p.loss_w},
                       {"junction_c", or_null(p.junction_c)},
                       {"headroom_v", or_null(p.headroom_v)},
                       {"verdict", word(p.verdict)},
                       {"current_a", p.amps},
                       {"why", p.why}});
    return out;
}

Json back_feed_json(const RailStudy& s) {
    Json out = Json::array();
    for (const auto& b : s.back_feed)
        out.push_back({{"when", b.when},
                       {"from", b.from},
                       {"to", b.to},
                       {"through", b.through},
                       {"verdict", word(b.verdict)},
                       {"most_a", or_null(b.most_a)},
                       {"why", b.why},
                       {"do", b.todo}});
    return out;
}

Json loads_json(const RailModeFigures& m) {
    Json out = Json::array();
    for (const auto& l : m.loads)
        out.push_back({{"name", l.name},
                       {"rail", l.rail},
                       {"current_a", l.amps},
                       {"volts_min_v", l.least},
                       {"volts_max_v", l.most},
                       {"verdict", word(l.verdict)},
                       {"why", l.why}});
    return out;
}

void add_events(Json& j, const RailStudy& s) {
    j["inrush"] = Json::array();
    for (const auto& i : s.inrush)
        j["inrush"].push_back({{"from", i.source},
                               {"rail", i.rail},
                               {"capacitance_f", i.farad},
                               {"peak_a", or_null(i.peak_a)},
                               {"over_limit_s", i.over_s},
                               {"charge_s", or_null(i.charge_s)},
                               {"dip_v", or_null(i.dip_v)},
                               {"verdict", word(i.verdict)},
                               {"why", i.why}});
    j["coming_up"] = Json::array();
    for (const auto& u : s.coming_up)
        j["coming_up"].push_back({{"rail", u.rail}, {"after_s", u.seconds}, {"guessed", u.guessed}});
    j["orders"] = Json::array();
    for (const auto& o : s.orders)
        j["orders"].push_back(
            {{"first", o.first}, {"then", o.then}, {"verdict", word(o.verdict)}, {"why", o.why}});
    j["batteries"] = Json::array();
    for (const auto& b : s.batteries) {
        Json modes = Json::array();
        for (const auto& m : b.modes)
            modes.push_back({{"mode", m.mode}, {"current_a", m.amps}, {"hours", or_null(m.hours)}});
        j["batteries"].push_back({{"name", b.source},
                                  {"modes", std::move(modes)},
                                  {"charge_hours", {or_null(b.charge_least_h), or_null(b.charge_most_h)}},
                                  {"works_down_to_v", or_null(b.lowest_v)},
                                  {"threshold_v", or_null(b.threshold_v)},
                                  {"verdict", word(b.verdict)},
                                  {"why", b.why}});
    }
    j["harvests"] = Json::array();
    for (const auto& h : s.harvests)
        j["harvests"].push_back({{"rail", h.rail},
                                 {"volts_v", h.volts},
                                 {"current_a", h.amps},
                                 {"needed_v", or_null(h.needed_v)},
                                 {"lines", h.lines},
                                 {"verdict", word(h.verdict)},
                                 {"why", h.why}});
    j["switched"] = Json::array();
    for (const auto& w : s.switched)
        j["switched"].push_back(
            {{"ref", w.ref},
             {"rail", w.rail},
             {"gate_on_v", or_null(w.gate_on_v)},
             {"gate_off_v", or_null(w.gate_off_v)},
             {"conducts", {{"verdict", word(w.conducts)}, {"why", w.conducts_why}}},
             {"opens", {{"verdict", word(w.opens)}, {"why", w.opens_why}}},
             {"ground_lift_v", or_null(w.lift_v)},
             {"lift", {{"verdict", word(w.lift)}, {"why", w.lift_why}}},
             {"off_v", w.off_v},
             {"fed_by", w.fed_by},
             {"resets",
              {{"verdict", word(w.resets)}, {"why", w.resets_why}, {"after_s", or_null(w.reset_s)}}}});
}

std::string shown(const std::optional<double>& v, Unit unit) {
    return v ? print_number(*v, unit) : std::string("–");
}

void print_rails(const RailStudy& s, const RailModeFigures& m) {
    std::vector<std::vector<std::string>> rows{
        {"rail", "volts", "least", "most", "load", "limit", "verdict"}};
    for (const auto& r : m.rails)
        rows.push_back({r.name, print_number(r.volts, Unit::volt), print_number(r.least, Unit::volt),
                        print_number(r.most, Unit::volt), print_number(r.load_a, Unit::ampere),
                        shown(r.limit_a, Unit::ampere), std::string(word(r.verdict))});
    print_table(rows);
    rows = {{"part", "kind", "loss", "junction", "headroom", "verdict"}};
    for (const auto& p : m.parts)
        rows.push_back({p.ref, std::string(word(p.kind)), print_number(p.loss_w, Unit::watt),
                        p.junction_c ? fmt::format("{:.0f} °C", *p.junction_c) : "–",
                        shown(p.headroom_v, Unit::volt), std::string(word(p.verdict))});
    if (rows.size() > 1) print_table(rows);
    const auto reason = [](Verdict v, const std::string& what, const std::string& why) {
        if (v != Verdict::holds && v != Verdict::unknown) say("{:<7} {}: {}\n", word(v), what, why);
    };
    for (const auto& r : m.rails) reason(r.verdict, r.name, r.why);
    for (const auto& p : m.parts) reason(p.verdict, p.ref, p.why);
    for (const auto& l : m.loads) reason(l.verdict, l.name, l.why);
    for (const auto& alone : s.alone) {
        for (const auto& r : alone.rails) reason(r.verdict, alone.mode + ", " + r.name, r.why);
        for (const auto& p : alone.parts) reason(p.verdict, alone.mode + ", " + p.ref, p.why);
    }
    for (const auto& b : s.back_feed) reason(b.verdict, b.when, b.why + " " + b.todo);
    for (const auto& i : s.inrush) reason(i.verdict, i.source, i.why);
    for (const auto& o : s.orders) reason(o.verdict, o.first + " before " + o.then, o.why);
    for (const auto& b : s.batteries) reason(b.verdict, b.source, b.why);
    for (const auto& h : s.harvests) reason(h.verdict, h.rail, h.why);
    for (const auto& w : s.switched) {
        reason(w.conducts, w.ref, w.conducts_why);
        reason(w.opens, w.ref, w.opens_why);
        reason(w.lift, w.ref, w.lift_why);
        reason(w.resets, w.ref, w.resets_why);
    }
}

int wire_rails(const RailArguments& args, bool json) {
    if (!(args.ambient >= -60 && args.ambient <= 150))
        return report_error(usage_error(fmt::format("--ambient {}", args.ambient), "-60 to 150 °C"));
    auto tree = tree_of(args.file);
    if (!tree) return report_error(tree.error());
    const auto modes = tree->mode_names();
    if (!args.mode.empty() && std::find(modes.begin(), modes.end(), args.mode) == modes.end())
        return report_error(usage_error("--mode " + in_quotes(args.mode),
                                        modes.empty() ? "a file in which a load has another figure in a mode"
                                                      : fmt::format("one of {}", fmt::join(modes, ", "))));
    const auto study = study_rails(std::move(*tree), args.ambient);
    const auto& mode = *study.find_mode(args.mode);
    if (json) {
        Json j = {{"rails", rails_json(mode)},
                  {"parts", rail_parts_json(mode)},
                  {"back_feed", back_feed_json(study)}};
        j["mode"] = args.mode;
        j["modes"] = modes;
        j["settled"] = mode.settled;
        j["loads"] = loads_json(mode);
        j["alone"] = Json::array();
        for (const auto& m : study.alone)
            j["alone"].push_back(
                {{"when", m.mode}, {"rails", rails_json(m)}, {"verdict", word(m.verdict())}});
        add_events(j, study);
        print_json(j);
    } else {
        print_rails(study, mode);
    }
    // Of the mode that was asked for; what one source alone would have to carry is said, not judged here.
    auto whole = study;
    whole.modes = {mode};
    whole.alone.clear();
    return whole.verdict() == Verdict::stop || !study.back_feed.empty() ? bad_answer : fine;
}

struct PinArguments {
    std::string dossier, form, out;
};

int wire_pins(const PinArguments& args, bool json) {
    const auto a = analyse_dossier(args.dossier);
    if (!a) return report_error(a.error());
    const auto& s = (*a)->wire->pins;
    if (!s.problem.empty())
        return report_error(usage_error(s.problem, "a module in the circuit, or chosen under Wire, Pins"));
    auto form = (*a)->dossier.wire->pins.form;
    if (!args.form.empty()) {
        constexpr std::size_t most = 64 * 1024;
        const auto text = disk().read(args.form, most);
        if (!text) return report_error(text.error());
        form = *text;
    }
    const auto header = pin_header(s, form);
    if (!header) {
        auto error = header.error();
        if (!args.form.empty()) error.file = args.form;
        return report_error(error);
    }
    if (!args.out.empty()) {
        if (const auto apart = not_over(args.out, (*a)->dossier, args.dossier); !apart)
            return report_error(apart.error());
        if (const auto written = write_atomically(disk(), args.out, *header); !written)
            return report_error(written.error());
    }
    Json pins = Json::array(), proposals = Json::array();
    for (const auto& p : s.places)
        pins.push_back({{"signal", p.name},
                        {"use", word(p.use)},
                        {"pin", p.pin.empty() ? Json() : Json(p.pin)},
                        {"verdict", word(p.verdict)},
                        {"why", p.why}});
    for (const auto& p : s.proposals)
        proposals.push_back({{"what", p.what}, {"where", p.where}, {"why", p.why}});
    if (json) {
        print_json({{"module", s.module},
                    {"pins", std::move(pins)},
                    {"free", s.free},
                    {"missing", s.missing},
                    {"remedies", s.remedies},
                    {"proposals", std::move(proposals)},
                    {"checksum", fmt::format("{:08x}", pins_checksum(s))}});
    } else if (!args.out.empty()) {
        say("{}\n", args.out);
    } else {
        for (const auto& p : s.places)
            say("{:<7} {:<16} {:<13} {:<6} {}\n", word(p.verdict), p.name, word(p.use),
                p.pin.empty() ? "none" : p.pin, p.why);
        for (const auto& r : s.remedies) say("        {}\n", r);
        for (const auto& p : s.proposals) say("        {}: {}\n", p.what, p.where);
    }
    return s.verdict == Verdict::stop ? bad_answer : fine;
}

}  // namespace

void add_wire_rails(CLI::App& noun, Session& session) {
    const auto a = std::make_shared<RailArguments>();
    auto* v = noun.add_subcommand("rails", "volts, currents, losses, and what feeds back where");
    v->add_option("FILE", a->file, "a .rails file, or a dossier")->required();
    v->add_option("--mode", a->mode, "of the loads");
    v->add_option("--ambient", a->ambient, "°C, 25 unless said");
    v->callback([&session, a] { session.run = [&session, a] { return wire_rails(*a, session.json); }; });
    const auto p = std::make_shared<PinArguments>();
    v = noun.add_subcommand("pins", "signals against the module's pins, and the list of pins for firmware");
    v->add_option("DOSSIER", p->dossier)->required();
    v->add_option("--out", p->out, "where the list of pins goes");
    v->add_option("--form", p->form, "a text of your own from which it is made");
    v->callback([&session, p] { session.run = [&session, p] { return wire_pins(*p, session.json); }; });
}

}  // namespace grayrelic::cli
