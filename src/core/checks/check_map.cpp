// SPDX-License-Identifier: GPL-3.0-or-later
// The map: gaps of its coverage, messages that nobody watches rightly, bits that the capture has not.
#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/base/text.hpp"
#include "core/checks/registry.hpp"
#include "core/input/map_analysis.hpp"

namespace grayrelic {
namespace {

const char* id_of(GapKind kind) {
    switch (kind) {
        case GapKind::unreadable_meaning: return "meaning-unreadable";
        case GapKind::no_meaning: return "code-without-meaning";
        case GapKind::no_code: return "key-without-code";
        case GapKind::code_twice: return "code-twice";
        case GapKind::same_meaning: return "meaning-twice";
        case GapKind::not_carried: return "meaning-not-carried";
        case GapKind::no_layout: return "layout-not-said";
        case GapKind::no_such_character: return "character-missing";
        case GapKind::not_reached: return "wanted-not-reached";
        case GapKind::lifts_modifier: return "modifier-in-the-way";
        case GapKind::caps_lock: return "caps-lock-turns";
        case GapKind::never_held: return "never-held";
        case GapKind::no_repeat: return "not-repeated";
        case GapKind::message_open: return "message-undecided";
        case GapKind::repeat_piles_up: return "repeat-piles-up";
        case GapKind::level_assumed: return "held-level-assumed";
        case GapKind::unknown_want: return "wish-unknown";
    }
    return "map-gap";
}

Finding finding_of(const MapGap& g) {
    const auto severity = g.verdict == Verdict::stop    ? Severity::stop
                          : g.verdict == Verdict::doubt ? Severity::doubt
                                                        : Severity::note;
    const bool message = g.kind == GapKind::message_open;
    const auto thing = g.keys.empty() ? g.what : g.keys.front();
    Finding f{id_of(g.kind),
              severity,
              Stage::map,
              (message ? "message " : "key ") + thing,
              {},
              g.says,
              g.todo,
              {message          ? "message"
               : g.keys.empty() ? "wanted"
                                : "key",
               thing}};
    const auto stop = g.says.find_first_of(":.");
    f.says = g.says.substr(0, stop);
    f.why = stop == std::string::npos || stop + 2 >= g.says.size() ? std::string() : g.says.substr(stop + 2);
    return f;
}

/// Many keys with the same gap are one finding.
void say_together(const Coverage& c, GapKind kind, const char* says, Findings& out) {
    std::vector<const MapGap*> list;
    for (const auto& g : c.gaps)
        if (g.kind == kind) list.push_back(&g);
    if (list.empty()) return;
    if (list.size() == 1) {
        out.push_back(finding_of(*list.front()));
        return;
    }
    std::string names;
    for (std::size_t i = 0; i < list.size() && i < 8; ++i)
        names += (i == 0 ? "" : ", ") + list[i]->keys.front();
    if (list.size() > 8) names += fmt::format(" and {} more", list.size() - 8);
    auto f = finding_of(*list.front());
    f.says = fmt::format("{} {}", list.size(), says);
    f.why = names + ".";
    out.push_back(std::move(f));
}

}  // namespace

void check_map(const Analysis& a, Findings& out) {
    if (!a.map || *a.dossier.map == DeviceMap{}) return;
    const auto& c = a.map->coverage;
    say_together(
        c, GapKind::no_meaning,
        a.dossier.map->way == MapWay::old_to_new ? "keys become nothing" : "bits are operated by nothing",
        out);
    say_together(c, GapKind::no_code, "keys send what nobody knows", out);
    for (const auto& g : c.gaps)
        if (g.kind != GapKind::no_meaning && g.kind != GapKind::no_code) out.push_back(finding_of(g));
    for (const auto& id : a.map->keys_without_bit)
        out.push_back({"bit-unknown",
                       Severity::stop,
                       Stage::map,
                       "key " + id,
                       fmt::format("{} names a bit that the recording has not", id),
                       fmt::format("Its bits are {}.", fmt::join(a.map->bits, ", ")),
                       "Name one of them, or name the bits under Listen.",
                       {"key", id}});
}

void check_messages(const Analysis& a, Findings& out) {
    if (!a.map) return;
    for (std::size_t i = 0; i < a.map->messages.size(); ++i) {
        const auto& s = a.map->messages[i];
        if (!s.watched || s.verdict == Verdict::holds || s.verdict == Verdict::stop) continue;
        out.push_back({"watching-unsure",
                       Severity::doubt,
                       Stage::map,
                       "message " + s.id,
                       fmt::format("Watching {} is {}", a.dossier.map->messages[i].name,
                                   s.verdict == Verdict::unknown ? "not judged yet" : "not right"),
                       s.says,
                       s.todo,
                       {"message", s.id}});
    }
}

void check_curves(const Analysis& a, Findings& out) {
    if (!a.map) return;
    const auto& map = *a.dossier.map;
    for (std::size_t i = 0; i < a.map->curve_problems.size() && i < map.curves.size(); ++i) {
        const auto& c = map.curves[i];
        const bool chosen = map.curve == c.id || (map.curve.empty() && map.curves.size() == 1);
        const Finding at{
            "curve-wrong",  chosen ? Severity::stop : Severity::note, Stage::map, "curve " + c.id, {}, {}, {},
            {"curve", c.id}};
        if (!a.map->curve_problems[i].empty()) {
            auto f = at;
            f.says = fmt::format("{} can move nothing rightly", c.title);
            f.why = a.map->curve_problems[i] + ".";
            f.todo = "Measure the old side's curve again, from rest to the stop.";
            out.push_back(std::move(f));
        } else if (chosen && c.evidence.kind == EvidenceKind::assumed) {
            auto f = at;
            f.id = "curve-assumed";
            f.severity = Severity::doubt;
            f.says = fmt::format("The old side's curve in {} is assumed", c.title);
            f.why = fmt::format("Dead zone {}, limit {}: nobody has measured them.", c.dead, c.limit);
            f.todo = "Send one position after the other and measure how far the old side moves in a second.";
            out.push_back(std::move(f));
        }
    }
}

}  // namespace grayrelic
