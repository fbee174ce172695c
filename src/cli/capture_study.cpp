// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli capture shapes, find, identify, compare, hunt
#include <fmt/format.h>

#include <memory>

#include "cli/capture_input.hpp"
#include "cli/command.hpp"
#include "cli/find_arguments.hpp"
#include "cli/output.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/decode/compare_frames.hpp"
#include "core/decode/decoder.hpp"
#include "core/decode/hunt.hpp"
#include "core/decode/identify.hpp"
#include "core/json/json.hpp"
#include "core/signal/compare_captures.hpp"
#include "core/signal/find.hpp"
#include "core/signal/shapes.hpp"

namespace grayrelic::cli {
namespace {

struct StudyArguments {
    InputArguments input;
    std::string file, other;
    FindArguments find;
    std::string gap = "auto", align, tolerance, kind;
    std::vector<std::string> signals, map, roles;
};

int shapes(const StudyArguments& a, bool json) {
    ShapeOptions options;
    const auto gap = time_option(a.gap, "--gap");
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
        print_json({{"gap_s", s->gap.seconds()},
                    {"transactions", s->transactions.size()},
                    {"shapes", list},
                    {"signals", s->signals},
                    {"left_out", s->left_out}});
    } else {
        std::vector<std::vector<std::string>> rows{{"shape", "count", "duration", "first at", "edges"}};
        for (const auto& shape : s->shapes)
            rows.push_back({std::to_string(shape.id), print_count(shape.count),
                            print_number(shape.duration.median, Unit::second),
                            print(s->transactions[shape.example].start, 6), shape.text});
        print_table(rows);
        say("{} parted by pauses over {}",
            plural(static_cast<long long>(s->transactions.size()), "transaction", "transactions"),
            print(s->gap));
        if (!s->left_out.empty()) say("; left out for carrying data: {}", fmt::join(s->left_out, ", "));
        say("\n");
        if (!s->transactions.empty())
            say("a shape that comes once in {} transactions would have shown with 95 % after {}\n",
                print_count(static_cast<long long>(s->transactions.size())),
                print(s->to_see_once_in(static_cast<long>(s->transactions.size()))));
    }
    return s->transactions.empty() ? bad_answer : fine;
}

int find(const StudyArguments& a, bool json) {
    const auto q = find_query(a.find);
    if (!q) return report_error(q.error());
    const auto capture = read_input(a.file, a.input);
    if (!capture) return report_error(capture.error());
    Progress progress;
    const auto hits = find_in(*capture, *q, progress);
    if (!hits) return report_error(hits.error());
    if (json) {
        Json list = Json::array();
        for (const auto& h : *hits)
            list.push_back({{"start_s", h.from.seconds()}, {"end_s", h.to.seconds()}});
        print_json({{"hits", list}});
    } else {
        std::vector<std::vector<std::string>> rows{{"start", "end", "length"}};
        for (std::size_t i = 0; i < std::min<std::size_t>(hits->size(), 1000); ++i)
            rows.push_back(
                {print((*hits)[i].from, 8), print((*hits)[i].to, 8), print((*hits)[i].length(), 4)});
        print_table(rows);
        say("{}\n", plural(static_cast<long long>(hits->size()), "hit", "hits"));
    }
    return hits->empty() ? bad_answer : fine;
}

Json roles_json(const RoleMap& roles) {
    Json out = Json::object();
    for (const auto& [role, names] : roles) out[role] = names.size() == 1 ? Json(names.front()) : Json(names);
    return out;
}

int identify_capture(const StudyArguments& a, bool json) {
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
            for (const auto& [name, value] : c.settings) settings[name] = value;
            candidates.push_back({{"kind", c.kind},
                                  {"score", c.score},
                                  {"roles", roles_json(c.roles)},
                                  {"settings", settings},
                                  {"explains", c.explains},
                                  {"errors", c.errors},
                                  {"frames", c.frames},
                                  {"why", c.why},
                                  {"not_told_apart", unsure_json(c.not_told_apart)},
                                  {"alternatives", c.alternatives}});
        }
        print_json({{"candidates", candidates}, {"links", links_of(*list)}, {"fits", fits}});
    } else {
        if (!fits) say("none fits\n");
        for (const auto& c : *list) {
            say("{:.2f}  {}  ", c.score, c.kind);
            for (const auto& [role, names] : c.roles) say("{}={} ", role, fmt::join(names, ","));
            say("\n      explains {} of all edges, {}, {} with errors; {}\n", print_share(c.explains),
                plural(c.frames, "frame", "frames"), c.errors, c.why);
            for (const auto& other : c.alternatives) say("      {}\n", other);
        }
    }
    return fits ? fine : bad_answer;
}

/// The words of both under the original's roles; in the replica each signal stands under the name it is
/// mapped to.
Result<FrameComparison> compare_words(const StudyArguments& a, const Capture& original,
                                      const Capture& replica, const CompareRequest& request, Time shift) {
    const auto roles = pairs_of(a.roles, "--role", "role=SIGNAL");
    if (!roles) return fail(roles.error());
    const auto decoder = find_decoder(a.kind);
    if (!decoder) return fail(decoder.error());
    RoleMap here, there;
    for (const auto& [role, signal] : *roles) {
        here[role].push_back(signal);
        const auto full = original.find(signal);
        if (!full) return fail(full.error());
        auto other = signal;
        for (const auto& [x, y] : request.signals)
            if (const auto s = original.find(x); s && *s == *full) other = y;
        there[role].push_back(other);
    }
    Progress progress;
    const auto x = (*decoder)->decode(original, here, {}, progress);
    if (!x) return fail(x.error());
    // The same reading of both: what was found in the original holds for the replica.
    const auto y = (*decoder)->decode(replica, there, settings_of(*x), progress);
    if (!y) return fail(y.error());
    return compare_frames(*x, *y, shift, request.tolerance);
}

int compare(const StudyArguments& a, bool json) {
    CompareRequest request;
    auto pairs = pairs_of(a.map, "--map", "ORIGINAL=REPLICA");
    if (!pairs) return report_error(pairs.error());
    request.signals = std::move(*pairs);
    if (!a.align.empty()) {
        const auto edge = parse_edge(a.align);
        if (!edge) return report_error(edge.error());
        request.align = *edge;
    }
    const auto tolerance = time_option(a.tolerance, "--tolerance");
    if (!tolerance) return report_error(tolerance.error());
    request.tolerance = *tolerance;
    const auto original = read_input(a.file, a.input);
    if (!original) return report_error(original.error());
    const auto replica = read_input(a.other, a.input);
    if (!replica) return report_error(replica.error());
    Progress progress;
    const auto c = compare_captures(*original, *replica, request, progress);
    if (!c) return report_error(c.error());
    std::optional<FrameComparison> frames;
    if (!a.kind.empty()) {
        const auto compared = compare_words(a, *original, *replica, request, c->shift);
        if (!compared) return report_error(compared.error());
        frames = *compared;
    }
    if (json) {
        Json list = Json::array();
        for (const auto& s : c->signals)
            list.push_back({{"name", s.name},
                            {"edges_a", s.edges_a},
                            {"edges_b", s.edges_b},
                            {"missing", s.missing},
                            {"extra", s.extra},
                            {"delay_s", to_json(s.delay)},
                            {"replica", s.other},
                            {"tolerance_s", s.tolerance.seconds()}});
        Json out = {{"same", c->same},
                    {"first_difference_s", to_json(c->first_difference)},
                    {"signals", list},
                    {"shift_s", c->shift.seconds()}};
        if (frames) {
            Json differ = Json::array();
            for (const auto& d : frames->differences)
                differ.push_back({{"at_s", d.at.seconds()},
                                  {"what", word(d.kind)},
                                  {"original", d.original},
                                  {"replica", d.replica}});
            out["frames"] = {{"same", frames->same},
                             {"differ", frames->differ},
                             {"missing", frames->missing},
                             {"extra", frames->extra},
                             {"differences", differ}};
        }
        print_json(out);
    } else {
        std::vector<std::vector<std::string>> rows{
            {"signal", "edges", "in replica", "missing", "extra", "later by"}};
        for (const auto& s : c->signals)
            rows.push_back({s.name, print_count(s.edges_a), print_count(s.edges_b), print_count(s.missing),
                            print_count(s.extra),
                            s.delay.n == 0 ? "none matched"
                                           : fmt::format("{} to {}", print_number(s.delay.min, Unit::second),
                                                         print_number(s.delay.max, Unit::second))});
        print_table(rows);
        if (frames) {
            say("words: {} the same, {} differ, {} missing, {} extra\n", frames->same, frames->differ,
                frames->missing, frames->extra);
            for (std::size_t i = 0; i < std::min<std::size_t>(20, frames->differences.size()); ++i) {
                const auto& d = frames->differences[i];
                say("  {}  {}  {} : {}\n", print(d.at, 9), word(d.kind),
                    d.original.empty() ? "–" : d.original, d.replica.empty() ? "–" : d.replica);
            }
        }
        if (c->same)
            say("the same\n");
        else if (c->first_difference)
            say("part for the first time at {}\n", print(*c->first_difference, 9));
    }
    return c->same && (!frames || frames->all_same()) ? fine : bad_answer;
}

}  // namespace

void add_capture_study(CLI::App& noun, Session& session) {
    const auto verb = [&](const char* name, const char* about, int (*run)(const StudyArguments&, bool)) {
        const auto a = std::make_shared<StudyArguments>();
        auto* v = noun.add_subcommand(name, about);
        v->callback(
            [&session, a, run] { session.run = [&session, a, run] { return run(*a, session.json); }; });
        return std::pair(v, a);
    };
    {
        const auto [v, a] =
            verb("shapes", "transactions by their pauses, grouped by the order of their edges", shapes);
        v->add_option("FILE", a->file)->required();
        v->add_option("--gap", a->gap, "a longer pause parts transactions, or auto");
        v->add_option("--signal", a->signals, "only these signals, once per signal");
        add_input_options(*v, a->input);
    }
    {
        const auto [v, a] = verb("find", "pulses, levels, pauses and edges in an order", find);
        v->add_option("FILE", a->file)->required();
        add_find_options(*v, a->find);
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
        v->add_option("--map", a->map, "signal of the original=signal of the replica, once per signal")
            ->required();
        v->add_option("--align", a->align, "S:rise or S:fall: the first such edge is one moment in both");
        v->add_option("--tolerance", a->tolerance, "edges further apart are not the same");
        v->add_option("--as", a->kind, "compare the words too, read by this family");
        v->add_option("--role", a->roles, "role=SIGNAL of the original, once per role");
        add_input_options(*v, a->input);
    }
    add_capture_hunt(noun, session);
}

}  // namespace grayrelic::cli
