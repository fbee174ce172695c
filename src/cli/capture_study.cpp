// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli capture shapes, find, identify, compare, hunt
#include <fmt/format.h>

#include <memory>
#include <nlohmann/json.hpp>

#include "cli/capture_input.hpp"
#include "cli/command.hpp"
#include "cli/output.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/decode/hunt.hpp"
#include "core/decode/identify.hpp"
#include "core/signal/compare_captures.hpp"
#include "core/signal/find.hpp"
#include "core/signal/shapes.hpp"

namespace grayrelic::cli {
namespace {

using Json = nlohmann::ordered_json;

struct Arguments {
    InputArguments input;
    std::string file, other;
    std::string gap = "auto", pulse, shorter, longer, pause, order, align, tolerance, kind;
    std::vector<std::string> levels, signals, map, takes;
    bool high = false, low = false;
};

Result<std::optional<Time>> time_of(const std::string& text, const char* option) {
    if (text.empty() || text == "auto") return std::optional<Time>{};
    const auto t = parse_time(text);
    if (!t) return fail(t.error());
    if (*t < Time{}) return fail(usage_error(option + (" " + in_quotes(text)), "a time of zero or more"));
    return std::optional(*t);
}

Result<std::vector<std::pair<std::string, std::string>>> pairs_of(const std::vector<std::string>& list, const char* option, const char* expected) {
    std::vector<std::pair<std::string, std::string>> out;
    for (const auto& m : list) {
        const auto equals = m.find('=');
        if (equals == std::string::npos || equals == 0 || equals + 1 == m.size()) return fail(usage_error(option + (" " + in_quotes(m)), expected));
        out.emplace_back(m.substr(0, equals), m.substr(equals + 1));
    }
    return out;
}

int shapes(const Arguments& a, bool json) {
    ShapeOptions options;
    const auto gap = time_of(a.gap, "--gap");
    if (!gap) return report_error(gap.error());
    options.gap = *gap;
    options.signals = a.signals;
    const auto capture = read_input(a.file, a.input);
    if (!capture) return report_error(capture.error());
    Progress progress;
    const auto s = find_shapes(*capture, options, progress);
    if (!s) return report_error(s.error());
    if (json) {
        Json list = Json::array();
        for (const auto& shape : s->shapes)
            list.push_back({{"id", shape.id},
                            {"count", shape.count},
                            {"text", shape.text},
                            {"duration_s", to_json(shape.duration)},
                            {"example_start_s", s->transactions[shape.example].start.seconds()}});
        print_json({{"gap_s", s->gap.seconds()}, {"transactions", s->transactions.size()}, {"shapes", list}, {"signals", s->signals}, {"left_out", s->left_out}});
    } else {
        std::vector<std::vector<std::string>> rows{{"shape", "count", "duration", "first at", "edges"}};
        for (const auto& shape : s->shapes)
            rows.push_back({std::to_string(shape.id), print_count(shape.count), print_number(shape.duration.median, Unit::second),
                            print(s->transactions[shape.example].start, 6), shape.text});
        print_table(rows);
        fmt::print("{} parted by pauses over {}", plural(static_cast<long long>(s->transactions.size()), "transaction", "transactions"), print(s->gap));
        if (!s->left_out.empty()) fmt::print("; left out for carrying data: {}", fmt::join(s->left_out, ", "));
        fmt::print("\n");
        if (!s->transactions.empty())
            fmt::print("a shape that comes once in {} transactions would have shown with 95 % after {}\n", print_count(static_cast<long long>(s->transactions.size())),
                       print(s->to_see_once_in(static_cast<long>(s->transactions.size()))));
    }
    return s->transactions.empty() ? bad_answer : fine;
}

int find(const Arguments& a, bool json) {
    FindQuery q;
    if (!a.pulse.empty()) q.pulse = a.pulse;
    if (a.high != a.low) q.pulse_level = a.high;
    for (auto [text, option, into] : {std::tuple{&a.shorter, "--shorter", &q.shorter}, {&a.longer, "--longer", &q.longer}, {&a.pause, "--pause", &q.pause}}) {
        const auto t = time_of(*text, option);
        if (!t) return report_error(t.error());
        *into = *t;
    }
    for (const auto& text : a.levels) {
        const auto levels = parse_levels(text);
        if (!levels) return report_error(levels.error());
        q.levels.insert(q.levels.end(), levels->begin(), levels->end());
    }
    if (!a.order.empty()) {
        auto order = parse_order(a.order);
        if (!order) return report_error(order.error());
        q.order = std::move(*order);
    }
    const auto capture = read_input(a.file, a.input);
    if (!capture) return report_error(capture.error());
    Progress progress;
    const auto hits = find_in(*capture, q, progress);
    if (!hits) return report_error(hits.error());
    if (json) {
        Json list = Json::array();
        for (const auto& h : *hits)
            list.push_back({{"start_s", h.from.seconds()}, {"end_s", h.to.seconds()}});
        print_json({{"hits", list}});
    } else {
        std::vector<std::vector<std::string>> rows{{"start", "end", "length"}};
        for (std::size_t i = 0; i < std::min<std::size_t>(hits->size(), 1000); ++i)
            rows.push_back({print((*hits)[i].from, 8), print((*hits)[i].to, 8), print((*hits)[i].length(), 4)});
        print_table(rows);
        fmt::print("{}\n", plural(static_cast<long long>(hits->size()), "hit", "hits"));
    }
    return hits->empty() ? bad_answer : fine;
}

Json roles_json(const RoleMap& roles) {
    Json out = Json::object();
    for (const auto& [role, names] : roles)
        out[role] = names.size() == 1 ? Json(names.front()) : Json(names);
    return out;
}

int identify_capture(const Arguments& a, bool json) {
    const auto capture = read_input(a.file, a.input);
    if (!capture) return report_error(capture.error());
    IdentifyOptions options;
    options.signals = a.signals;
    Progress progress;
    const auto list = identify(*capture, options, progress);
    if (!list) return report_error(list.error());
    const bool fits = !list->empty() && list->front().score >= least_fit;
    if (json) {
        Json candidates = Json::array();
        for (const auto& c : *list) {
            Json settings = Json::object();
            for (const auto& [name, value] : c.settings)
                settings[name] = value;
            candidates.push_back({{"kind", c.kind}, {"score", c.score}, {"roles", roles_json(c.roles)}, {"settings", settings}, {"explains", c.explains},
                                  {"errors", c.errors}, {"frames", c.frames}, {"why", c.why}, {"alternatives", c.alternatives}});
        }
        print_json({{"candidates", candidates}, {"fits", fits}});
    } else {
        if (!fits) fmt::print("none fits\n");
        for (const auto& c : *list) {
            fmt::print("{:.2f}  {}  ", c.score, c.kind);
            for (const auto& [role, names] : c.roles)
                fmt::print("{}={} ", role, fmt::join(names, ","));
            fmt::print("\n      explains {} of all edges, {}, {} with errors; {}\n", print_share(c.explains), plural(c.frames, "frame", "frames"), c.errors, c.why);
            for (const auto& other : c.alternatives)
                fmt::print("      {}\n", other);
        }
    }
    return fits ? fine : bad_answer;
}

int compare(const Arguments& a, bool json) {
    CompareRequest request;
    auto pairs = pairs_of(a.map, "--map", "ORIGINAL=REPLICA");
    if (!pairs) return report_error(pairs.error());
    request.signals = std::move(*pairs);
    if (!a.align.empty()) {
        const auto edge = parse_edge(a.align);
        if (!edge) return report_error(edge.error());
        request.align = *edge;
    }
    const auto tolerance = time_of(a.tolerance, "--tolerance");
    if (!tolerance) return report_error(tolerance.error());
    request.tolerance = *tolerance;
    const auto original = read_input(a.file, a.input);
    if (!original) return report_error(original.error());
    const auto replica = read_input(a.other, a.input);
    if (!replica) return report_error(replica.error());
    Progress progress;
    const auto c = compare_captures(*original, *replica, request, progress);
    if (!c) return report_error(c.error());
    if (json) {
        Json list = Json::array();
        for (const auto& s : c->signals)
            list.push_back({{"name", s.name}, {"edges_a", s.edges_a}, {"edges_b", s.edges_b}, {"missing", s.missing}, {"extra", s.extra},
                            {"delay_s", to_json(s.delay)}, {"replica", s.other}, {"tolerance_s", s.tolerance.seconds()}});
        print_json({{"same", c->same}, {"first_difference_s", to_json(c->first_difference)}, {"signals", list}, {"shift_s", c->shift.seconds()}});
    } else {
        std::vector<std::vector<std::string>> rows{{"signal", "edges", "in replica", "missing", "extra", "later by"}};
        for (const auto& s : c->signals)
            rows.push_back({s.name, print_count(s.edges_a), print_count(s.edges_b), print_count(s.missing), print_count(s.extra),
                            s.delay.n == 0 ? "none matched" : fmt::format("{} to {}", print_number(s.delay.min, Unit::second), print_number(s.delay.max, Unit::second))});
        print_table(rows);
        if (c->same) fmt::print("the same\n");
        else if (c->first_difference) fmt::print("part for the first time at {}\n", print(*c->first_difference, 9));
    }
    return c->same ? fine : bad_answer;
}

/// --take idle=FILE --take fire=FILE …: the first is the one at rest.
int hunt_buttons(const Arguments& a, bool json) {
    auto takes = pairs_of(a.takes, "--take", "NAME=FILE, the one at rest first");
    if (!takes) return report_error(takes.error());
    const auto roles = pairs_of(a.map, "--map", "role=SIGNAL");
    if (!roles) return report_error(roles.error());
    const auto decoder = find_decoder(a.kind);
    if (!decoder) return report_error(decoder.error());
    RoleMap map;
    for (const auto& [role, signal] : *roles)
        map[role].push_back(signal);
    std::vector<Decoding> decodings;
    for (const auto& [name, file] : *takes) {
        const auto capture = read_input(file, a.input);
        if (!capture) return report_error(capture.error());
        Progress progress;
        auto d = (*decoder)->decode(*capture, map, {}, progress);
        if (!d) return report_error(d.error());
        decodings.push_back(std::move(*d));
    }
    std::vector<HuntTake> list;
    for (std::size_t i = 0; i < takes->size(); ++i) {
        list.push_back({(*takes)[i].first, {}});
        for (const auto& f : decodings[i].frames)
            list.back().frames.push_back(&f);
    }
    const auto r = hunt(list);
    if (!r.problem.empty()) {
        fmt::print(stderr, "{}\n", r.problem);
        return bad_answer;
    }
    if (json) {
        Json answers = Json::array(), hints = Json::array();
        for (const auto& x : r.answers) {
            Json bits = Json::array();
            for (const auto b : x.bits)
                bits.push_back({{"bit", b}, {"active", r.bits[b].active_low ? "low" : "high"}});
            answers.push_back({{"take", x.take}, {"bits", bits}, {"shared", x.shared}});
        }
        for (const auto& h : r.hints)
            hints.push_back({{"from_bit", h.from}, {"bits", h.count}, {"says", h.says}});
        print_json({{"bits", r.width}, {"answers", answers}, {"never_moved", r.never_moved}, {"restless", r.restless}, {"hints", hints}, {"left_out", r.left_out}});
    } else {
        for (const auto& x : r.answers) {
            if (x.bits.empty()) fmt::print("{}: no bit moved\n", x.take);
            for (const auto b : x.bits)
                fmt::print("{}: bit {}, active {}{}\n", x.take, b, r.bits[b].active_low ? "low" : "high", r.bits[b].moved_by.size() > 1 ? ", shared" : "");
        }
        fmt::print("never moved: {}\n", fmt::join(r.never_moved, " "));
        if (!r.restless.empty()) fmt::print("move by themselves: {}\n", fmt::join(r.restless, " "));
        for (const auto& h : r.hints)
            fmt::print("bits {} to {}: {}\n", h.from, h.from + h.count - 1, h.says);
    }
    return std::all_of(r.answers.begin(), r.answers.end(), [](const auto& x) { return !x.bits.empty(); }) ? fine : bad_answer;
}

}  // namespace

void add_capture_study(CLI::App& noun, Session& session) {
    const auto verb = [&](const char* name, const char* about, int (*run)(const Arguments&, bool)) {
        const auto a = std::make_shared<Arguments>();
        auto* v = noun.add_subcommand(name, about);
        v->callback([&session, a, run] { session.run = [&session, a, run] { return run(*a, session.json); }; });
        return std::pair(v, a);
    };
    {
        const auto [v, a] = verb("shapes", "transactions by their pauses, grouped by the order of their edges", shapes);
        v->add_option("FILE", a->file)->required();
        v->add_option("--gap", a->gap, "a longer pause parts transactions, or auto");
        v->add_option("--signal", a->signals, "only these signals, once per signal");
        add_input_options(*v, a->input);
    }
    {
        const auto [v, a] = verb("find", "pulses, levels, pauses and edges in an order", find);
        v->add_option("FILE", a->file)->required();
        v->add_option("--pulse", a->pulse, "pulses of this signal, with --shorter or --longer");
        v->add_flag("--high", a->high, "high pulses only");
        v->add_flag("--low", a->low, "low pulses only");
        v->add_option("--shorter", a->shorter, "shorter than this");
        v->add_option("--longer", a->longer, "longer than this");
        v->add_option("--level", a->levels, "stretches where S=1,T=0 … hold; with the others, a condition");
        v->add_option("--pause", a->pause, "no edge anywhere for longer than this");
        v->add_option("--order", a->order, "\"B:fall while A=1 then C:rise within 3us\"");
        add_input_options(*v, a->input);
    }
    {
        const auto [v, a] = verb("identify", "what the signals could be, best first", identify_capture);
        v->add_option("FILE", a->file)->required();
        v->add_option("--signal", a->signals, "only these signals, once per signal");
        add_input_options(*v, a->input);
    }
    {
        const auto [v, a] = verb("compare", "an original against a replica", compare);
        v->add_option("ORIGINAL", a->file)->required();
        v->add_option("REPLICA", a->other)->required();
        v->add_option("--map", a->map, "signal of the original=signal of the replica, once per signal")->required();
        v->add_option("--align", a->align, "S:rise or S:fall: the first such edge is one moment in both");
        v->add_option("--tolerance", a->tolerance, "edges further apart are not the same");
        add_input_options(*v, a->input);
    }
    {
        const auto [v, a] = verb("hunt", "which bit each press moves: one recording at rest, one of each press", hunt_buttons);
        v->add_option("--as", a->kind, "the protocol family")->required();
        v->add_option("--map", a->map, "role=SIGNAL, once per role")->required();
        v->add_option("--take", a->takes, "NAME=FILE, the one at rest first")->required();
        add_input_options(*v, a->input);
    }
}

}  // namespace grayrelic::cli
