// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli logic check, truth, equal, hazards, minimise, run, to-verilog
#include <fmt/format.h>

#include <filesystem>
#include <memory>

#include "cli/capture_input.hpp"
#include "cli/command.hpp"
#include "cli/input.hpp"
#include "cli/output.hpp"
#include "core/base/file_system.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/capture/capture_file.hpp"
#include "core/decode/decode_chain.hpp"
#include "core/decode/decoder.hpp"
#include "core/dossier/store.hpp"
#include "core/json/json.hpp"
#include "core/library/data_library.hpp"
#include "core/logic/equivalence.hpp"
#include "core/logic/minimise.hpp"
#include "core/logic/simulate.hpp"
#include "core/logic/verilog.hpp"
#include "core/timing/network_reply.hpp"

namespace grayrelic::cli {
namespace {

constexpr std::size_t most_text = 1U << 20U;

struct LogicArguments {
    std::string first, second, name, other_name, out, corner = "slow", table, kind;
    std::vector<std::string> drawer, map;
    InputArguments input;
    long long steps = MinimiseLimits{}.steps;
    bool transport = false;
};

/// A net list's file, or a dossier and the name of one of its networks; a problem in it is unreadable input.
struct Loaded {
    std::shared_ptr<const DataLibrary> data;
    Network network;
    std::string title;
    int status = fine;  ///< fine, or what the command ends with
};

Loaded load(const std::string& path, const std::string& name, bool whatever = false) {
    Loaded l;
    l.data = DataLibrary::load_installed();
    const auto failed = [&](const Error& e) {
        l.status = report_error(e);
        return l;
    };
    std::string text;
    std::error_code code;
    if (std::filesystem::is_directory(path, code)) {
        const auto dossier = load_dossier(path);
        if (!dossier) return failed(dossier.error());
        const LogicNetwork* found = nullptr;
        for (const auto& n : dossier->timing->networks)
            if (name.empty() || n.id == name || n.name == name) {
                found = &n;
                break;
            }
        if (found == nullptr)
            return failed(
                usage_error(name.empty() ? "a dossier without networks" : "network " + in_quotes(name),
                            "the name of a network in the dossier"));
        text = found->text;
        l.title = found->name;
    } else {
        auto read = disk().read(path, most_text);
        if (!read) return failed(read.error());
        text = std::move(*read);
        l.title = std::filesystem::path(path).stem().string();
    }
    if (!is_utf8(text))
        return failed({Error::Kind::unreadable, path, 1, "bytes that are no UTF-8", "a net list as text"});
    l.network = read_network(text, l.data->logic);
    if (whatever) return l;
    for (const auto& p : l.network.problems)
        if (p.fatal) return failed({Error::Kind::unreadable, path, p.line, p.says, p.expected});
    return l;
}

Result<Corner> corner_named(const std::string& text) {
    for (const auto c : {Corner::fast, Corner::typical, Corner::slow})
        if (word(c) == text) return c;
    return fail(usage_error("corner " + in_quotes(text), "fast, typical or slow"));
}

int check(const LogicArguments& a, bool json) {
    const auto l = load(a.first, a.name, true);
    if (l.status != fine) return l.status;
    Json problems = Json::array(), spare = Json::array();
    for (const auto& p : l.network.problems)
        problems.push_back(
            {{"line", p.line}, {"fatal", p.fatal}, {"says", p.says}, {"expected", p.expected}});
    for (const auto& s : spare_gates(l.network))
        spare.push_back(
            {{"part", l.network.parts[static_cast<std::size_t>(s.part)].ref}, {"unused", s.unused}});
    if (json)
        print_json({{"parts", l.network.parts.size()},
                    {"nets", l.network.nets.size()},
                    {"stores", l.network.stores()},
                    {"problems", problems},
                    {"spare", spare}});
    else {
        say("{}, {}{}\n", plural(static_cast<long long>(l.network.parts.size()), "part", "parts"),
            plural(static_cast<long long>(l.network.nets.size()), "net", "nets"),
            l.network.stores() ? ", with storage" : "");
        for (const auto& p : l.network.problems)
            say("{}:{}: {}found {}, expected {}\n", a.first, p.line, p.fatal ? "" : "note: ", p.says,
                p.expected);
        for (const auto& s : spare)
            say("{} has unused outputs: {}\n", s["part"].get<std::string>(),
                fmt::join(s["unused"].get<std::vector<std::string>>(), ", "));
    }
    return l.network.computable() ? fine : bad_answer;
}

int truth(const LogicArguments& a, bool json) {
    const auto l = load(a.first, a.name);
    if (l.status != fine) return l.status;
    Progress progress;
    const auto t = truth_table(l.network, progress);
    if (!t) return report_error(t.error());
    if (json) {
        Json rows = Json::array();
        for (std::size_t r = 0; r < t->rows.size(); ++r) {
            std::string in, out;
            for (std::size_t i = 0; i < t->inputs.size(); ++i)
                in += ((r >> (t->inputs.size() - 1 - i)) & 1U) != 0 ? '1' : '0';
            for (const auto level : t->rows[r]) out += letter(level);
            rows.push_back({{"in", in}, {"out", out}});
        }
        print_json({{"inputs", t->inputs}, {"outputs", t->outputs}, {"rows", rows}});
    } else {
        fmt::print("{}", truth_csv(*t));
    }
    return fine;
}

std::string step_text(const std::vector<std::pair<std::string, bool>>& step) {
    std::string s;
    for (const auto& [name, one] : step) s += (s.empty() ? "" : " ") + name + "=" + (one ? "1" : "0");
    return s;
}

int equal(const LogicArguments& a, bool json) {
    const auto x = load(a.first, a.name);
    if (x.status != fine) return x.status;
    const auto y = load(a.second, a.other_name);
    if (y.status != fine) return y.status;
    Progress progress;
    const auto e = compare_networks(x.network, y.network, {}, progress);
    if (!e) return report_error(e.error());
    const bool differ = e->answer == Equivalence::Answer::differ;
    if (json) {
        Json steps = Json::array();
        for (const auto& step : e->steps) {
            Json s = Json::object();
            for (const auto& [name, one] : step) s[name] = one ? 1 : 0;
            steps.push_back(std::move(s));
        }
        print_json({{"answer", word(e->answer)},
                    {"looked_at", e->looked_at},
                    {"depth", e->depth},
                    {"steps", steps},
                    {"output", differ ? Json(e->output) : Json()},
                    {"first", differ ? Json(std::string(1, letter(e->first))) : Json()},
                    {"second", differ ? Json(std::string(1, letter(e->second))) : Json()},
                    {"note", e->note}});
    } else {
        say("{}: {} {} looked at\n", word(e->answer), print_count(static_cast<long long>(e->looked_at)),
            x.network.stores() || y.network.stores() ? "states" : "settings");
        for (const auto& step : e->steps) say("  {}\n", step_text(step));
        if (differ)
            say("  then {} is {} in the first and {} in the second\n", e->output, letter(e->first),
                letter(e->second));
        if (!e->note.empty()) say("{}\n", e->note);
    }
    return e->answer == Equivalence::Answer::equal ? fine : bad_answer;
}

int hazards(const LogicArguments& a, bool json) {
    const auto l = load(a.first, a.name);
    if (l.status != fine) return l.status;
    Progress progress;
    const auto h = find_hazards(l.network, progress);
    if (!h) return report_error(h.error());
    Json list = Json::array();
    const auto t = Tabulator::of(l.network);
    for (const auto& x : h->hazards) {
        std::string at;
        for (std::size_t i = 0; i < x.at.size(); ++i)
            if (t->inputs()[i] != x.input)
                at += (at.empty() ? "" : " ") + t->inputs()[i] + "=" + (x.at[i] ? "1" : "0");
        list.push_back({{"input", x.input}, {"output", x.output}, {"level", x.level ? 1 : 0}, {"with", at}});
    }
    if (json)
        print_json({{"hazards", list}, {"count", h->count}, {"transitions", h->transitions}});
    else {
        say("{} of {} single changes may twitch\n", print_count(h->count), print_count(h->transitions));
        for (const auto& x : list)
            say("  {} may leave {} when {} changes with {}\n", x["output"].get<std::string>(),
                x["level"].get<int>(), x["input"].get<std::string>(), x["with"].get<std::string>());
    }
    return h->count == 0 ? fine : bad_answer;
}

int minimise_command(const LogicArguments& a, bool json) {
    const auto data = DataLibrary::load_installed();
    Progress progress;
    WantedLogic wanted;
    if (!a.table.empty()) {
        const auto text = disk().read(a.table, most_text);
        if (!text) return report_error(text.error());
        auto w = wanted_from_text(*text, a.table);
        if (!w) return report_error(w.error());
        wanted = std::move(*w);
    } else {
        if (a.first.empty())
            return report_error(usage_error("neither a net list nor a table", "NET or --table FILE"));
        const auto l = load(a.first, a.name);
        if (l.status != fine) return l.status;
        auto w = wanted_from(l.network, progress);
        if (!w) return report_error(w.error());
        wanted = std::move(*w);
    }
    std::vector<DrawerItem> drawer;
    for (const auto& text : a.drawer) {
        const auto item = parse_drawer_item(text);
        if (!item) return report_error(item.error());
        drawer.push_back(*item);
    }
    MinimiseLimits limits;
    limits.steps = a.steps;
    const auto m = minimise(wanted, drawer, data->logic, limits, progress);
    if (!m) return report_error(m.error());
    if (json) {
        Json list = Json::array();
        for (const auto& r : m->best)
            list.push_back({{"packages", r.packages},
                            {"gates", r.gates},
                            {"spare", r.spare},
                            {"slowest_s", r.slowest.seconds()},
                            {"net_list", r.net_list}});
        print_json(
            {{"realisations", list}, {"complete", m->complete}, {"steps", m->steps}, {"note", m->note}});
    } else {
        for (const auto& r : m->best)
            say("{}; {} gates, slowest {}{}\n{}\n", fmt::join(r.packages, " + "), r.gates, print(r.slowest),
                r.spare.empty() ? "" : fmt::format("; spare {}", fmt::join(r.spare, ", ")), r.net_list);
        if (!m->note.empty()) say("{}\n", m->note);
    }
    return m->best.empty() && !(m->complete && m->note.starts_with("every output")) ? bad_answer : fine;
}

int run_command(const LogicArguments& a, bool json) {
    const auto l = load(a.first, a.name);
    if (l.status != fine) return l.status;
    const auto corner = corner_named(a.corner);
    if (!corner) return report_error(corner.error());
    const auto capture = read_input(a.second, a.input);
    if (!capture) return report_error(capture.error());
    Progress progress;
    std::optional<Decoding> decoding;
    if (!a.kind.empty()) {
        RoleMap roles;
        for (const auto& m : a.map) {
            const auto equals = m.find('=');
            if (equals == std::string::npos)
                return report_error(usage_error("--map " + in_quotes(m), "ROLE=SIGNAL"));
            roles[m.substr(0, equals)].push_back(m.substr(equals + 1));
        }
        auto chain = decode_chain(*capture, a.kind, roles, {}, progress);
        if (!chain) return report_error(chain.error());
        decoding = std::move(chain->decoding);
    }
    const auto stimuli = stimuli_from(l.network, *capture, decoding ? &*decoding : nullptr);
    if (!stimuli) return report_error(stimuli.error());
    SimulationOptions options;
    options.corner = *corner;
    options.transport = a.transport;
    options.end = capture->extent.to;
    const auto r = simulate(l.network, *stimuli, options, progress);
    if (!r) return report_error(r.error());
    Capture out;
    out.format = "vcd";
    out.resolution = Time::ps(1);
    out.extent = {Time{}, capture->extent.to};
    for (std::size_t n = 0; n < l.network.nets.size(); ++n)
        if (!l.network.nets[n].held)
            out.signals.push_back(
                {l.network.nets[n].name, "", SignalKind::digital,
                 std::make_shared<const DigitalWaveform>(waveform_of(r->nets[n], capture->extent.to)),
                 nullptr});
    if (!a.out.empty())
        if (const auto written = write_capture_file(out, a.out, progress); !written)
            return report_error(written.error());
    Json nets = Json::object(), faults = Json::array(), clashes = Json::array();
    for (const auto& s : out.signals) nets[s.name] = s.digital->edges().size();
    for (const auto& f : r->faults)
        faults.push_back({{"part", l.network.parts[static_cast<std::size_t>(f.part)].ref},
                          {"pin", f.pin},
                          {"kind", word(f.kind)},
                          {"at_s", f.at.seconds()},
                          {"had_s", f.had.seconds()},
                          {"needed_s", f.needed.seconds()}});
    for (const auto& c : r->clashes)
        clashes.push_back({{"net", l.network.net_name(c.net)}, {"at_s", c.at.seconds()}});
    if (json)
        print_json({{"events", r->events},
                    {"edges", nets},
                    {"faults", faults},
                    {"clashes", clashes},
                    {"stopped", r->stopped}});
    else {
        std::vector<std::vector<std::string>> rows{{"net", "edges"}};
        for (const auto& s : out.signals)
            rows.push_back({s.name, print_count(static_cast<long long>(s.digital->edges().size()))});
        print_table(rows);
        for (const auto& f : r->faults)
            say("{} of {} pin {} at {}: {} instead of {}\n", word(f.kind),
                l.network.parts[static_cast<std::size_t>(f.part)].ref, f.pin, print(f.at, 6), print(f.had),
                print(f.needed));
        for (const auto& c : r->clashes)
            say("two outputs drive {} at {}\n", l.network.net_name(c.net), print(c.at, 6));
        if (!r->stopped.empty()) say("{}\n", r->stopped);
    }
    return r->stopped.empty() && r->clashes.empty() && r->faults.empty() ? fine : bad_answer;
}

int verilog(const LogicArguments& a, bool json) {
    const auto l = load(a.first, a.name);
    if (l.status != fine) return l.status;
    const auto corner = corner_named(a.corner);
    if (!corner) return report_error(corner.error());
    const auto text =
        to_verilog(l.network, l.title, *corner, fmt::format("{} corner of every delay", a.corner));
    if (!a.out.empty())
        if (const auto written = write_apart(a.out, text, {a.first}); !written)
            return report_error(written.error());
    if (json)
        print_json({{"module", l.title}, {"file", a.out.empty() ? Json() : Json(a.out)}, {"verilog", text}});
    else if (a.out.empty())
        fmt::print("{}", text);
    return fine;
}

}  // namespace

void add_logic_commands(CLI::App& app, Session& session) {
    auto* noun = app.add_subcommand("logic", "networks of standard parts: tables, equivalence, replay");
    noun->require_subcommand(1);
    const auto a = std::make_shared<LogicArguments>();
    const auto verb = [&](const char* name, const char* about, int (*work)(const LogicArguments&, bool)) {
        auto* v = noun->add_subcommand(name, about);
        v->callback(
            [&session, a, work] { session.run = [&session, a, work] { return work(*a, session.json); }; });
        return v;
    };
    const auto net = [&](CLI::App* v, bool required = true) {
        auto* o = v->add_option("NET", a->first, "a net list's file, or a dossier");
        if (required) o->required();
        v->add_option("--network", a->name, "which of the dossier's networks");
    };
    net(verb("check", "what is wrong in a net list, and what is left over", check));
    net(verb("truth", "the truth table as CSV", truth));
    auto* v = verb("equal", "do two networks do the same?", equal);
    net(v);
    v->add_option("OTHER", a->second, "the other one")->required();
    v->add_option("--other-network", a->other_name, "which of the other dossier's networks");
    net(verb("hazards", "single changes that may make an output twitch", hazards));
    v = verb("minimise", "the smallest networks from the packages in the drawer", minimise_command);
    net(v, false);
    v->add_option("--table", a->table, "a truth table as text: a b | y");
    v->add_option("--drawer", a->drawer, "packages at hand: \"2 x 74x00 hct\"")->required();
    v->add_option("--steps", a->steps, "circuits looked at, at most");
    v = verb("run", "drive a network with a capture's signals", run_command);
    net(v);
    v->add_option("--capture", a->second, "the capture")->required();
    v->add_option("--corner", a->corner, "fast, typical or slow");
    v->add_option("--as", a->kind, "decode it, for inputs that are bits of its frames");
    v->add_option("--map", a->map, "ROLE=SIGNAL");
    v->add_option("--out", a->out, "write all nets as a capture");
    v->add_flag("--transport", a->transport, "pass pulses however short");
    add_input_options(*v, a->input);
    v = verb("to-verilog", "the network as a module with delays", verilog);
    net(v);
    v->add_option("--corner", a->corner, "fast, typical or slow");
    v->add_option("--out", a->out, "write to a file");
}

}  // namespace grayrelic::cli
