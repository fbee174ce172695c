// SPDX-License-Identifier: GPL-3.0-or-later
// The plan in dossier.json.
#include <fmt/format.h>

#include "core/base/date.hpp"
#include "core/dossier/codec_tools.hpp"

namespace grayrelic::dossier_codec {
namespace {

constexpr double most_money = 1e9;

/// A number from `least` to `most`, or nothing.
std::optional<double> read_figure(JsonNode& n, const char* key, double least, double most) {
    const auto child = n.member(key);
    if (!child) return std::nullopt;
    const double value = child->number();
    if (!(value >= least && value <= most))
        child->fault(child->shown(), fmt::format("{} to {} for {}", least, most, print_path(child->path())));
    return value;
}

void add_figure(Json& j, const char* key, const std::optional<double>& value) {
    if (value) j[key] = *value;
}

template <Vocabulary E>
std::optional<E> read_optional_word(JsonNode& n, const char* key) {
    const auto child = n.member(key);
    return child ? std::optional(read_word<E>(*child)) : std::nullopt;
}

template <Vocabulary E>
void add_optional_word(Json& j, const char* key, const std::optional<E>& value) {
    if (value) j[key] = word(*value);
}

std::vector<Stage> read_stages(JsonNode& n, const char* key) {
    std::vector<Stage> out;
    if (const auto list = n.member(key))
        for (const auto& element : list->elements(words_of<Stage>.size()))
            out.push_back(read_word<Stage>(element));
    return out;
}

void add_stages(Json& j, const char* key, const std::vector<Stage>& stages) {
    if (stages.empty()) return;
    j[key] = Json::array();
    for (const auto s : stages) j[key].push_back(word(s));
}

std::optional<bool> read_yes(const JsonNode& n) {
    const auto text = n.text(8);
    if (text != "yes" && text != "no") n.fault(in_quotes(text), "yes or no for " + print_path(n.path()));
    return text == "yes";
}

Must read_must(JsonNode& n) {
    Must m;
    m.id = read_id(n, "id");
    m.says = n.text_or("says");
    m.tie = read_word_or(n, "tie", MustTie::none);
    m.thing = n.text_or("thing");
    m.least = read_figure(n, "least_mm", 0, 1e5);
    m.most = read_figure(n, "most_mm", 0, 1e5);
    if (m.least && m.most && *m.least > *m.most) n.fault("least_mm above most_mm", "least_mm up to most_mm");
    m.met = read_fact<std::optional<bool>>(n, "met", read_yes);
    m.waived = n.text_or("waived");
    return m;
}

Json must_json(const Must& m) {
    Json j = {{"id", m.id}, {"says", m.says}};
    if (m.tie != MustTie::none) j["tie"] = word(m.tie);
    add_text(j, "thing", m.thing);
    add_figure(j, "least_mm", m.least);
    add_figure(j, "most_mm", m.most);
    add_fact(j, "met", m.met, m.met.value ? Json(*m.met.value ? "yes" : "no") : Json());
    add_text(j, "waived", m.waived);
    return j;
}

PlanQuestion read_question(JsonNode& n) {
    PlanQuestion q;
    q.id = read_id(n, "id");
    q.says = n.text_or("says");
    q.stage = read_optional_word<Stage>(n, "stage");
    q.chance = read_figure(n, "chance", 0, 1);
    q.at_stake = read_optional_word<AtStake>(n, "at_stake");
    q.money = read_figure(n, "money", 0, most_money);
    q.days = read_figure(n, "days", 0, 10'000);
    q.minutes = read_figure(n, "minutes", 0, 1e6);
    q.how = n.text_or("how");
    q.tried = n.text_or("tried");
    q.answer = read_fact<std::string>(n, "answer", plain_text);
    return q;
}

Json question_json(const PlanQuestion& q) {
    Json j = {{"id", q.id}};
    add_text(j, "says", q.says);
    add_optional_word(j, "stage", q.stage);
    add_figure(j, "chance", q.chance);
    add_optional_word(j, "at_stake", q.at_stake);
    add_figure(j, "money", q.money);
    add_figure(j, "days", q.days);
    add_figure(j, "minutes", q.minutes);
    add_text(j, "how", q.how);
    add_text(j, "tried", q.tried);
    add_fact(j, "answer", q.answer);
    return j;
}

GateOverride read_override(JsonNode& n) {
    GateOverride o;
    const auto gate = n.required("gate");
    o.gate = read_word<JobGate>(gate);
    o.reason = read_id(n, "reason");
    o.date = read_day(n, "date");
    return o;
}

Json override_json(const GateOverride& o) {
    Json j = {{"gate", word(o.gate)}, {"reason", o.reason}};
    add_text(j, "date", o.date);
    return j;
}

PlanTask read_task(JsonNode& n) {
    PlanTask t;
    t.id = read_id(n, "task");
    const auto likely = read_figure(n, "likely_h", 0, most_task_hours);
    t.likely_h = likely.value_or(1);
    t.least_h = read_figure(n, "least_h", 0, most_task_hours).value_or(t.likely_h);
    t.most_h = read_figure(n, "most_h", 0, most_task_hours).value_or(t.likely_h);
    t.after = read_texts(n, "after");
    t.wait_least_d = read_figure(n, "wait_least_d", 0, most_wait_days).value_or(0);
    t.wait_most_d = read_figure(n, "wait_most_d", 0, most_wait_days).value_or(t.wait_least_d);
    if (!(t.least_h <= t.likely_h && t.likely_h <= t.most_h))
        n.fault("hours out of order", "least_h up to likely_h up to most_h");
    if (t.wait_least_d > t.wait_most_d) n.fault("waits out of order", "wait_least_d up to wait_most_d");
    t.stage = read_optional_word<Stage>(n, "stage");
    t.done = read_day(n, "done");
    return t;
}

Json task_json(const PlanTask& t) {
    Json j = {{"task", t.id}, {"least_h", t.least_h}, {"likely_h", t.likely_h}, {"most_h", t.most_h}};
    if (!t.after.empty()) j["after"] = t.after;
    if (t.wait_most_d > 0) {
        j["wait_least_d"] = t.wait_least_d;
        j["wait_most_d"] = t.wait_most_d;
    }
    add_optional_word(j, "stage", t.stage);
    add_text(j, "done", t.done);
    return j;
}

WayThere read_way(JsonNode& n) {
    WayThere w;
    w.id = read_id(n, "id");
    w.says = n.text_or("says");
    w.kind = read_word_or(n, "kind", WayKind::adapt);
    w.link = n.text_or("link");
    w.licence = n.text_or("licence");
    w.change = n.text_or("change");
    w.money = read_figure(n, "money", 0, most_money);
    w.hours = read_figure(n, "hours", 0, most_task_hours);
    w.days = read_figure(n, "days", 0, most_wait_days);
    return w;
}

Json way_json(const WayThere& w) {
    Json j = {{"id", w.id}, {"says", w.says}, {"kind", word(w.kind)}};
    add_text(j, "link", w.link);
    add_text(j, "licence", w.licence);
    add_text(j, "change", w.change);
    add_figure(j, "money", w.money);
    add_figure(j, "hours", w.hours);
    add_figure(j, "days", w.days);
    return j;
}

Hedge read_hedge(JsonNode& n) {
    Hedge h;
    h.id = read_id(n, "id");
    h.says = n.text_or("says");
    h.question = n.text_or("question");
    h.chance = read_figure(n, "chance", 0, 1);
    h.price = read_figure(n, "price", 0, most_money);
    h.avoids_money = read_figure(n, "avoids_money", 0, most_money);
    h.avoids_days = read_figure(n, "avoids_days", 0, most_wait_days);
    return h;
}

Json hedge_json(const Hedge& h) {
    Json j = {{"id", h.id}, {"says", h.says}};
    add_text(j, "question", h.question);
    add_figure(j, "chance", h.chance);
    add_figure(j, "price", h.price);
    add_figure(j, "avoids_money", h.avoids_money);
    add_figure(j, "avoids_days", h.avoids_days);
    return j;
}

JobPlan read_plan(JsonNode& n) {
    JobPlan p;
    p.kind = n.text_or("kind");
    p.host = read_word_or(n, "host", HostSide::not_said);
    p.reversible = read_word_or(n, "reversible", Reversible::not_said);
    p.deadline = read_day(n, "deadline");
    p.respin_money = read_figure(n, "respin_money", 0, most_money);
    p.respin_days = read_figure(n, "respin_days", 0, most_wait_days);
    p.wanted = read_stages(n, "wanted");
    p.unwanted = read_stages(n, "unwanted");
    p.musts = read_list<Must>(n, "musts", read_must, &Must::id);
    p.questions = read_list<PlanQuestion>(n, "questions", read_question, &PlanQuestion::id);
    p.overrides = read_list<GateOverride>(n, "overrides", read_override);
    p.tasks = read_list<PlanTask>(n, "tasks", read_task, &PlanTask::id);
    p.ways = read_list<WayThere>(n, "ways", read_way, &WayThere::id);
    p.hedges = read_list<Hedge>(n, "hedges", read_hedge, &Hedge::id);
    return p;
}

template <class T, class Write>
void add_list(Json& j, const char* key, const std::vector<T>& list, Write write) {
    if (!list.empty()) j[key] = list_of(list, write);
}

Json plan_json(const JobPlan& p) {
    Json j = Json::object();
    add_text(j, "kind", p.kind);
    if (p.host != HostSide::not_said) j["host"] = word(p.host);
    if (p.reversible != Reversible::not_said) j["reversible"] = word(p.reversible);
    add_text(j, "deadline", p.deadline);
    add_figure(j, "respin_money", p.respin_money);
    add_figure(j, "respin_days", p.respin_days);
    add_stages(j, "wanted", p.wanted);
    add_stages(j, "unwanted", p.unwanted);
    add_list(j, "musts", p.musts, must_json);
    add_list(j, "questions", p.questions, question_json);
    add_list(j, "overrides", p.overrides, override_json);
    add_list(j, "tasks", p.tasks, task_json);
    add_list(j, "ways", p.ways, way_json);
    add_list(j, "hedges", p.hedges, hedge_json);
    return j;
}

}  // namespace

const SectionCodec plan = codec_of<&Dossier::plan>(
    "plan", [](JsonNode n, Dossier& d) { d.plan = Section(read_record<JobPlan>(n, read_plan)); },
    [](const Dossier& d) { return *d.plan == JobPlan{} ? Json() : record(*d.plan, plan_json); });

}  // namespace grayrelic::dossier_codec
