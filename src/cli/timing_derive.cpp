// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli timing derive
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <memory>

#include "cli/capture_input.hpp"
#include "cli/command.hpp"
#include "cli/output.hpp"
#include "core/base/quantity.hpp"
#include "core/decode/turns.hpp"
#include "core/json/json.hpp"
#include "core/signal/sampling.hpp"
#include "core/timing/contract.hpp"
#include "core/timing/derive_contract.hpp"

namespace grayrelic::cli {
namespace {

/// A trigger as the edge it is: the end of a poll is the edge with which its line comes to rest.
std::string edge_of_trigger(const DerivedContract& derived, const RoleMap& roles, const Decoding& decoding) {
    const auto event = parse_event(derived.question.trigger);
    if (!event || event->moment == EventName::Moment::edge)
        return event ? print_edge(event->edge) : derived.question.trigger;
    const auto data = roles.find("data");
    if (data == roles.end() || data->second.empty()) return derived.question.trigger;
    const auto rests_high = [&] {
        for (const auto& [name, low] : {std::pair("idle", "low"), std::pair("invert", "yes")})
            if (const auto it = decoding.settings.find(name); it != decoding.settings.end())
                if (const auto* word = std::get_if<std::string>(&it->second)) return *word != low;
        return true;
    }();
    return data->second.front() + (rests_high ? ":rise" : ":fall");
}

Json text_or_null(const std::string& text) {
    return text.empty() ? Json() : Json(text);
}

Json intervals_json(const std::vector<ContractFigure>& figures) {
    Json list = Json::array();
    for (const auto& f : figures) {
        const auto& i = f.interval;
        Json j = {{"name", i.name},
                  {"from", i.from},
                  {"to", i.to},
                  {"kind", word(i.kind)},
                  {"min_s", to_json(f.min)},
                  {"typ_s", to_json(f.typ)},
                  {"max_s", to_json(f.max)},
                  {"count", f.n},
                  {"evidence", word(f.evidence.kind)}};
        if (i.within) j["within_s"] = i.within->seconds();
        if (i.beyond) j["beyond_s"] = i.beyond->seconds();
        if (!i.until.empty()) j["until"] = i.until;
        if (!f.problem.empty()) j["problem"] = f.problem;
        list.push_back(std::move(j));
    }
    return list;
}

void print_derived(const DerivedContract& derived, const std::vector<ContractFigure>& figures) {
    const auto& q = derived.question;
    if (q.trigger.empty())
        say("no reply is asked for\n");
    else
        say("after {} {} answers; the host looks {}\n", q.trigger, q.answer,
            q.look.value.empty() ? "at a time that does not show" : "at " + q.look.value);
    std::vector<std::vector<std::string>> rows{
        {"interval", "from", "to", "least", "typical", "most", "count"}};
    const auto cell = [](const std::optional<Time>& t) { return t ? print(*t) : std::string("·"); };
    for (const auto& f : figures)
        rows.push_back({f.interval.name, f.interval.from, f.interval.to, cell(f.min), cell(f.typ),
                        cell(f.max), f.problem.empty() ? print_count(f.n) : f.problem});
    print_table(rows);
    for (const auto& u : derived.unsure)
        say("not sure of {}{}: {}\n", u.what,
            u.values.empty() ? "" : fmt::format(" ({})", fmt::join(u.values, " or ")), u.would_tell);
}

int derive(const ReadingArguments& a, bool json) {
    const auto decoder = find_decoder(a.kind);
    if (!decoder) return report_error(decoder.error());
    const auto roles = a.roles();
    if (!roles) return report_error(roles.error());
    const auto capture = read_input(a.file, a.table);
    if (!capture) return report_error(capture.error());
    Progress progress;
    const auto decoding = (*decoder)->decode(*capture, *roles, a.given(), progress);
    if (!decoding) return report_error(decoding.error());
    const auto period = capture->sample_period ? capture->sample_period : find_sample_period(*capture);
    const auto derived = derive_contract({a.file, *capture, *roles, *decoding, period}, progress);
    if (!derived) return report_error(derived.error());
    std::vector<ContractFigure> figures;
    const IntervalSource source{a.file, a.file, &*capture, &*decoding, period};
    for (const auto& i : derived->intervals) figures.push_back(figure_of(i, {source}));
    const auto& q = derived->question;
    if (json) {
        const bool time =
            !q.look.value.empty() && parse_look(q.look.value) && parse_look(q.look.value)->after;
        Json out = {{"trigger", text_or_null(edge_of_trigger(*derived, *roles, *decoding))},
                    {"answer", text_or_null(q.answer)},
                    {"look", text_or_null(time ? std::string() : q.look.value)},
                    {"intervals", intervals_json(figures)},
                    {"unsure", unsure_json(derived->unsure)},
                    {"fits", derived->fits}};
        if (!q.trigger.empty()) out["trigger_event"] = q.trigger;
        if (time) out["look_after_s"] = parse_look(q.look.value)->after->seconds();
        print_json(out);
    } else {
        print_derived(*derived, figures);
    }
    return derived->fits ? fine : bad_answer;
}

}  // namespace

void add_timing_derive(CLI::App& noun, Session& session) {
    const auto a = std::make_shared<ReadingArguments>();
    auto* v =
        noun.add_subcommand("derive", "the contract a capture gives, and which edge asks for the reply");
    add_reading_options(*v, *a);
    v->callback([&session, a] { session.run = [&session, a] { return derive(*a, session.json); }; });
}

}  // namespace grayrelic::cli
