// SPDX-License-Identifier: GPL-3.0-or-later
// Build's section in dossier.json.
#include <fmt/format.h>

#include "core/dossier/codec_tools.hpp"

namespace grayrelic::dossier_codec {
namespace {

constexpr std::size_t most_builds = 500, most_fitted = 5'000, most_said = 20'000;
constexpr double most_value = 1e15;

FittedPart read_fitted(JsonNode& n) {
    FittedPart p;
    p.ref = read_id(n, "ref");
    p.marking = n.text_or("marking");
    if (const auto value = n.member("measured")) p.measured = figure_in(*value, 0, most_value);
    p.day = read_day(n, "day");
    p.note = n.text_or("note");
    return p;
}

Json fitted_json(const FittedPart& p) {
    Json j = {{"ref", p.ref}};
    add_text(j, "marking", p.marking);
    if (p.measured) j["measured"] = *p.measured;
    add_text(j, "day", p.day);
    add_text(j, "note", p.note);
    return j;
}

HoldReading read_measured(JsonNode& n) {
    HoldReading r;
    r.hold = read_id(n, "hold");
    r.reading = n.text_or("reading");
    r.value = figure_in(n.required("value"), -most_value, most_value);
    r.day = read_day(n, "day");
    r.tool = n.text_or("tool");
    r.note = n.text_or("note");
    return r;
}

Json measured_json(const HoldReading& r) {
    Json j = {{"hold", r.hold}, {"reading", r.reading}, {"value", r.value}};
    add_text(j, "day", r.day);
    add_text(j, "tool", r.tool);
    add_text(j, "note", r.note);
    return j;
}

HoldPassed read_passed(JsonNode& n) {
    return {read_id(n, "hold"), n.text_or("reason"), read_day(n, "day")};
}

Json passed_json(const HoldPassed& p) {
    Json j = {{"hold", p.hold}};
    add_text(j, "reason", p.reason);
    add_text(j, "day", p.day);
    return j;
}

TemporaryTie read_tie(JsonNode& n) {
    return {n.text_or("what"), read_day(n, "day"), read_day(n, "off")};
}

Json tie_json(const TemporaryTie& t) {
    Json j = {{"what", t.what}};
    add_text(j, "day", t.day);
    add_text(j, "off", t.off);
    return j;
}

FoundFault read_found(JsonNode& n) {
    return {n.text_or("fault"), read_day(n, "day"), n.text_or("note")};
}

Json found_json(const FoundFault& f) {
    Json j = {{"fault", f.fault}};
    add_text(j, "day", f.day);
    add_text(j, "note", f.note);
    return j;
}

WorkDone read_work(JsonNode& n) {
    constexpr double most_minutes = 100'000, most_count = 1e6, hottest = 1000;
    WorkDone w;
    w.kind = read_word_or(n, "kind", WorkKind::other);
    w.minutes = figure_in(n.required("minutes"), 0, most_minutes);
    if (const auto v = n.member("count")) w.count = figure_in(*v, 0, most_count);
    if (const auto v = n.member("degrees")) w.degrees = figure_in(*v, -100, hottest);
    w.day = read_day(n, "day");
    w.note = n.text_or("note");
    return w;
}

Json work_json(const WorkDone& w) {
    Json j = {{"kind", word(w.kind)}, {"minutes", w.minutes}};
    if (w.count) j["count"] = *w.count;
    if (w.degrees) j["degrees"] = *w.degrees;
    add_text(j, "day", w.day);
    add_text(j, "note", w.note);
    return j;
}

HandStep read_step(JsonNode& n) {
    return {read_word_or(n, "kind", HandStepKind::other), read_id(n, "what"), n.text_or("before")};
}

Json step_json(const HandStep& s) {
    Json j = {{"kind", word(s.kind)}, {"what", s.what}};
    add_text(j, "before", s.before);
    return j;
}

UnitBuild read_build(JsonNode& n) {
    UnitBuild b;
    b.id = read_id(n, "id");
    b.board = n.text_or("board");
    b.variant = n.text_or("variant");
    b.fitted = read_bounded<FittedPart>(n, "fitted", most_fitted, read_fitted, &FittedPart::ref);
    b.note = n.text_or("note");
    b.measured = read_bounded<HoldReading>(n, "measured", most_said, read_measured, nullptr);
    b.passed = read_bounded<HoldPassed>(n, "passed", most_said, read_passed, nullptr);
    b.ties = read_bounded<TemporaryTie>(n, "ties", most_said, read_tie, nullptr);
    b.seen = read_texts(n, "seen");
    b.found = read_bounded<FoundFault>(n, "found", most_said, read_found, nullptr);
    b.steps = read_bounded<HandStep>(n, "steps", most_fitted, read_step, nullptr);
    b.work = read_bounded<WorkDone>(n, "work", most_said, read_work, nullptr);
    return b;
}

Json build_json(const UnitBuild& b) {
    Json j = {{"id", b.id}};
    add_text(j, "board", b.board);
    add_text(j, "variant", b.variant);
    if (!b.fitted.empty()) j["fitted"] = list_of(b.fitted, fitted_json);
    add_text(j, "note", b.note);
    if (!b.measured.empty()) j["measured"] = list_of(b.measured, measured_json);
    if (!b.passed.empty()) j["passed"] = list_of(b.passed, passed_json);
    if (!b.ties.empty()) j["ties"] = list_of(b.ties, tie_json);
    if (!b.seen.empty()) j["seen"] = b.seen;
    if (!b.found.empty()) j["found"] = list_of(b.found, found_json);
    if (!b.steps.empty()) j["steps"] = list_of(b.steps, step_json);
    if (!b.work.empty()) j["work"] = list_of(b.work, work_json);
    return j;
}

}  // namespace

const SectionCodec builds = codec_of<&Dossier::builds>(
    "builds",
    [](JsonNode n, Dossier& d) {
        auto list = read_items<UnitBuild>(n, read_build, &UnitBuild::id);
        if (list.size() > most_builds)
            n.fault(fmt::format("{} builds", list.size()), fmt::format("at most {}", most_builds));
        d.builds = Section(std::move(list));
    },
    [](const Dossier& d) { return d.builds->empty() ? Json() : list_of(*d.builds, build_json); });

}  // namespace grayrelic::dossier_codec
