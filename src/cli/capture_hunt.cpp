// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli capture hunt
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <memory>

#include "cli/capture_input.hpp"
#include "cli/command.hpp"
#include "cli/output.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/decode/decoder.hpp"
#include "core/decode/hunt.hpp"
#include "core/json/json.hpp"

namespace grayrelic::cli {
namespace {

struct HuntArguments {
    InputArguments input;
    std::string kind;
    std::vector<std::string> map, takes, moments;
};

/// "fire=2.1s..2.4s"
Result<std::vector<HuntMoment>> moments_of(const std::vector<std::string>& texts) {
    const auto pairs = pairs_of(texts, "--moment", "NAME=FROM..TO");
    if (!pairs) return fail(pairs.error());
    std::vector<HuntMoment> out;
    for (const auto& [name, span] : *pairs) {
        const auto dots = span.find("..");
        const auto from = parse_time(span.substr(0, dots)),
                   to = dots == std::string::npos ? from : parse_time(span.substr(dots + 2));
        if (dots == std::string::npos || !from || !to || *to <= *from)
            return fail(usage_error("--moment " + in_quotes(name + "=" + span),
                                    "NAME=FROM..TO such as fire=2.1s..2.4s"));
        out.push_back({name, {*from, *to}});
    }
    return out;
}

void print_as_json(const HuntResult& r) {
    Json answers = Json::array(), hints = Json::array();
    for (const auto& x : r.answers) {
        Json bits = Json::array();
        for (const auto b : x.bits)
            bits.push_back({{"bit", b}, {"active", r.bits[b].active_low ? "low" : "high"}});
        answers.push_back({{"take", x.take}, {"bits", bits}, {"shared", x.shared}});
    }
    for (const auto& h : r.hints)
        hints.push_back({{"from_bit", h.from}, {"bits", h.count}, {"says", h.says}});
    print_json({{"bits", r.width},
                {"answers", answers},
                {"never_moved", r.never_moved},
                {"restless", r.restless},
                {"hints", hints},
                {"left_out", r.left_out}});
}

void print_for_people(const HuntResult& r) {
    for (const auto& x : r.answers) {
        if (x.bits.empty()) say("{}: no bit moved\n", x.take);
        for (const auto b : x.bits)
            say("{}: bit {}, active {}{}\n", x.take, b, r.bits[b].active_low ? "low" : "high",
                r.bits[b].moved_by.size() > 1 ? ", shared" : "");
    }
    say("never moved: {}\n", fmt::join(r.never_moved, " "));
    if (!r.restless.empty()) say("move by themselves: {}\n", fmt::join(r.restless, " "));
    for (const auto& h : r.hints) say("bits {} to {}: {}\n", h.from, h.from + h.count - 1, h.says);
}

/// The frames of each recording, or of each moment of the only one.
Result<std::vector<HuntTake>> takes_of(const HuntArguments& a,
                                       const std::vector<std::pair<std::string, std::string>>& takes,
                                       const std::vector<Decoding>& decodings) {
    std::vector<HuntTake> list;
    if (!a.moments.empty()) {
        if (takes.size() != 1)
            return fail(
                usage_error("--moment with " + plural(static_cast<long long>(takes.size()), "take", "takes"),
                            "one --take NAME=FILE, the long recording"));
        const auto moments = moments_of(a.moments);
        if (!moments) return fail(moments.error());
        list = takes_at(decodings.front(), *moments);
    } else {
        for (std::size_t i = 0; i < takes.size(); ++i) {
            list.push_back({takes[i].first, {}});
            for (const auto& f : decodings[i].frames) list.back().frames.push_back(&f);
        }
    }
    return list;
}

/// --take idle=FILE --take fire=FILE …: the first is the one at rest.
int hunt_buttons(const HuntArguments& a, bool json) {
    auto takes = pairs_of(a.takes, "--take", "NAME=FILE, the one at rest first");
    if (!takes) return report_error(takes.error());
    const auto roles = pairs_of(a.map, "--map", "role=SIGNAL");
    if (!roles) return report_error(roles.error());
    const auto decoder = find_decoder(a.kind);
    if (!decoder) return report_error(decoder.error());
    RoleMap map;
    for (const auto& [role, signal] : *roles) map[role].push_back(signal);
    std::vector<Decoding> decodings;
    for (const auto& [name, file] : *takes) {
        const auto capture = read_input(file, a.input);
        if (!capture) return report_error(capture.error());
        Progress progress;
        auto d = (*decoder)->decode(*capture, map, {}, progress);
        if (!d) return report_error(d.error());
        decodings.push_back(std::move(*d));
    }
    const auto list = takes_of(a, *takes, decodings);
    if (!list) return report_error(list.error());
    const auto r = hunt(*list);
    if (!r.problem.empty()) {
        say(stderr, "{}\n", r.problem);
        return bad_answer;
    }
    json ? print_as_json(r) : print_for_people(r);
    return std::all_of(r.answers.begin(), r.answers.end(), [](const auto& x) { return !x.bits.empty(); })
               ? fine
               : bad_answer;
}

}  // namespace

void add_capture_hunt(CLI::App& noun, Session& session) {
    const auto a = std::make_shared<HuntArguments>();
    auto* v =
        noun.add_subcommand("hunt", "which bit each press moves: one recording at rest, one of each press");
    v->callback([&session, a] { session.run = [&session, a] { return hunt_buttons(*a, session.json); }; });
    v->add_option("--as", a->kind, "the protocol family")->required();
    v->add_option("--map", a->map, "role=SIGNAL, once per role")->required();
    v->add_option("--take", a->takes, "NAME=FILE, the one at rest first")->required();
    v->add_option("--moment", a->moments,
                  "NAME=FROM..TO: pressed then, in one long recording; the rest of it is at rest");
    add_input_options(*v, a->input);
}

}  // namespace grayrelic::cli
