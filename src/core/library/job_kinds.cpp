// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/library/job_kinds.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/base/data_files.hpp"
#include "core/base/text.hpp"
#include "core/json/json_node.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_of_a_kind = 200;

template <Vocabulary E>
E kind_word(const JsonNode& n) {
    const auto text = n.text(64);
    const auto value = named<E>(text);
    if (!value) n.fault(in_quotes(text), one_of<E>() + " for " + print_path(n.path()));
    return *value;
}

template <Vocabulary E>
std::vector<E> kind_words(JsonNode& n, const char* key) {
    std::vector<E> out;
    if (const auto list = n.member(key))
        for (const auto& e : list->elements(most_of_a_kind)) out.push_back(kind_word<E>(e));
    return out;
}

double figure(JsonNode& n, const char* key, double most, double otherwise) {
    const auto child = n.member(key);
    if (!child) return otherwise;
    const double v = child->number();
    if (!(v >= 0 && v <= most)) child->fault(child->shown(), fmt::format("0 to {}", most));
    return v;
}

std::string text_of(JsonNode& n, const char* key, std::size_t most) {
    const auto child = n.required(key);
    auto text = child.text(most);
    if (text.empty()) child.fault("an empty text", "a text for " + print_path(child.path()));
    return text;
}

AskedQuestion read_asked(JsonNode& n) {
    n.require_object();
    AskedQuestion q;
    q.id = text_of(n, "id", 64);
    q.ask = text_of(n, "ask", 300);
    q.stage = kind_word<Stage>(n.required("stage"));
    if (const auto stake = n.member("at_stake")) q.at_stake = kind_word<AtStake>(*stake);
    q.minutes = figure(n, "minutes", 1e6, 10);
    q.how = text_of(n, "how", 300);
    q.finding = n.text_or("finding");
    return q;
}

KindTask read_task(JsonNode& n) {
    n.require_object();
    KindTask t;
    t.task.id = text_of(n, "task", 200);
    t.task.likely_h = figure(n, "likely_h", most_task_hours, 1);
    t.task.least_h = figure(n, "least_h", most_task_hours, t.task.likely_h);
    t.task.most_h = figure(n, "most_h", most_task_hours, t.task.likely_h);
    if (!(t.task.least_h <= t.task.likely_h && t.task.likely_h <= t.task.most_h))
        n.fault("hours out of order", "least_h up to likely_h up to most_h");
    if (const auto list = n.member("after"))
        for (const auto& e : list->elements(most_of_a_kind)) t.task.after.push_back(e.text(200));
    t.task.wait_least_d = figure(n, "wait_least_d", most_wait_days, 0);
    t.task.wait_most_d = figure(n, "wait_most_d", most_wait_days, t.task.wait_least_d);
    if (t.task.wait_least_d > t.task.wait_most_d)
        n.fault("waits out of order", "wait_least_d up to wait_most_d");
    if (const auto stage = n.member("stage")) t.task.stage = kind_word<Stage>(*stage);
    t.parcel = n.flag("parcel");
    t.boards = n.flag("each_board");
    return t;
}

/// Names that are there twice or that nothing has, and circles.
void check_tasks(JsonNode& root, const std::vector<KindTask>& tasks) {
    std::set<std::string> names;
    std::vector<PlanTask> plain;
    for (const auto& t : tasks) {
        if (!names.insert(t.task.id).second)
            root.required("tasks").fault(in_quotes(t.task.id) + " a second time", "each task once");
        plain.push_back(t.task);
    }
    for (const auto& t : plain)
        for (const auto& a : t.after)
            if (!names.contains(a))
                root.required("tasks").fault(in_quotes(a) + ", which is no task",
                                             "tasks of the list in after");
    if (const auto circle = circle_in(plain); !circle.empty())
        root.required("tasks").fault("a circle of tasks at " + in_quotes(circle.front()),
                                     "tasks that wait for earlier ones");
}

JobKind read_kind(JsonNode& root) {
    root.require_object();
    JobKind k;
    k.id = text_of(root, "id", 64);
    k.name = text_of(root, "name", 120);
    k.about = text_of(root, "about", 600);
    k.example = root.text_or("example");
    k.stages = kind_words<Stage>(root, "stages");
    if (const auto list = root.member("questions"))
        for (auto& n : list->elements(most_of_a_kind)) k.questions.push_back(read_asked(n));
    if (const auto list = root.member("musts"))
        for (auto& n : list->elements(most_of_a_kind)) {
            n.require_object();
            k.musts.push_back({text_of(n, "id", 64), text_of(n, "says", 300)});
        }
    k.gates = kind_words<JobGate>(root, "gates");
    if (const auto list = root.member("cautions"))
        for (const auto& e : list->elements(most_of_a_kind)) k.cautions.push_back(e.text(64));
    if (const auto list = root.member("tasks"))
        for (auto& n : list->elements(most_of_a_kind)) k.tasks.push_back(read_task(n));
    check_tasks(root, k.tasks);
    return k;
}

}  // namespace

bool JobKind::needs(Stage stage) const {
    return stage == Stage::plan || std::find(stages.begin(), stages.end(), stage) != stages.end();
}

bool JobKind::has(JobGate gate) const {
    return gates.empty() || std::find(gates.begin(), gates.end(), gate) != gates.end();
}

const JobKind* JobKindLibrary::find(std::string_view id) const {
    for (const auto& k : kinds)
        if (k.id == id) return &k;
    return nullptr;
}

JobKindLibrary JobKindLibrary::load(FileSystem& files, const std::vector<std::filesystem::path>& folders) {
    JobKindLibrary out;
    out.problems = read_data_files(
        files, folders, "jobs", [&](const std::string& text, const std::string& path) -> Status {
            return job_kind_from_json(text, path).map([&](JobKind k) {
                std::erase_if(out.kinds, [&](const JobKind& old) { return old.id == k.id; });
                out.kinds.push_back(std::move(k));
            });
        });
    std::stable_sort(out.kinds.begin(), out.kinds.end(),
                     [](const JobKind& a, const JobKind& b) { return a.name < b.name; });
    return out;
}

Result<JobKind> job_kind_from_json(std::string_view text, const std::string& file) {
    return read_json(text, file, "a kind of job as JSON", read_kind);
}

}  // namespace grayrelic
