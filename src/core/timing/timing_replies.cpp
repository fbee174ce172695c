// SPDX-License-Identifier: GPL-3.0-or-later
// The pass over the question, networks and options. What each part rests on stands where it is asked for.
#include "core/base/text.hpp"
#include "core/timing/timing_work.hpp"

namespace grayrelic {
namespace {

using namespace timing_parts;

/// Plain edges are not copied: a capture may hold millions.
Result<std::vector<ReplyTask>> tasks_after(const EventName& trigger, const LookRule& look,
                                           const ReplyQuestion& q, const Source& asked) {
    if (trigger.moment == EventName::Moment::edge && trigger.after == Time{})
        return find_tasks(*asked.capture, trigger.edge, look, q.guard.value, q.within);
    const auto triggers = event_times(trigger, *asked.capture, asked.decoding.get());
    if (!triggers) return fail(triggers.error());
    return find_tasks(*asked.capture, *triggers, look, q.guard.value, q.within);
}

/// Entry latencies from a capture, when the option asks for them.
Result<std::vector<Time>> measured_latencies(const BuildOption& option, const Source& source) {
    if (option.measured.capture.empty()) return std::vector<Time>{};
    if (!source.capture)
        return fail_usage("the capture of its latency can't be read", "a capture of the dossier");
    ContractInterval i;
    i.from = option.measured.from;
    i.to = option.measured.to;
    const auto m = measure_interval(i, *source.capture, source.decoding.get());
    if (!m) return fail(m.error());
    std::vector<Time> out;
    for (const auto& x : m->answered) out.push_back(x.length());
    if (out.empty())
        return fail_usage("no " + option.measured.to + " after " + option.measured.from + " in its capture",
                          "a capture in which the pin answers");
    return out;
}

/// What does not enter the simulation. The name does: a number that is refused is said with it.
BuildOption without_names(BuildOption o) {
    o.note.clear();
    o.extra.clear();
    o.bill = {};
    for (auto& p : o.parameters) p.value.evidence = {};
    for (auto& p : o.numbers) p.value.evidence = {};
    return o;
}

}  // namespace

std::string answer_of(const ReplyQuestion& q, const CaptureAnalysis* c) {
    if (const auto edge = parse_edge(q.answer)) return edge->signal;
    if (c == nullptr) return {};
    const auto role = c->ref.decode.roles.find("data");
    return role == c->ref.decode.roles.end() || role->second.empty() ? std::string() : role->second.front();
}

bool TimingWork::question(const ListenAnalysis& listen) {
    const auto& q = timing_->reply;
    const auto asked = source_of(listen, q.capture);
    const auto event = parse_event(q.trigger);
    const bool in_words = event && event->moment != EventName::Moment::edge;
    auto made = memory_.recall<Question>(
        run_, "question",
        std::tuple(asked.capture, in_words ? asked.decoding : nullptr, q.trigger, q.look.value, q.guard.value,
                   q.within),
        1, [q, asked](Progress& progress) -> Result<Question> {
            if (q.trigger.empty()) return Question{nullptr, "no reply is asked for yet", {}};
            if (!asked.capture) return Question{nullptr, "its capture can't be read", {}};
            const auto trigger = parse_event(q.trigger);
            const auto look = parse_look(q.look.value);
            if (!trigger || !look)
                return Question{nullptr, (trigger ? look.error() : trigger.error()).message(), {}};
            auto tasks = tasks_after(*trigger, *look, q, asked);
            if (progress.cancelled()) return fail_cancelled();
            if (!tasks) return Question{nullptr, tasks.error().message(), {}};
            if (tasks->empty())
                return Question{
                    nullptr, "no " + show_event(*trigger) + " in the capture is followed by a look", {}};
            Time least = Time::max();
            for (const auto& t : *tasks) least = std::min(least, t.deadline - t.trigger);
            return Question{std::make_shared<const std::vector<ReplyTask>>(std::move(*tasks)), {}, least};
        });
    if (!made) return false;
    set(question_, std::move(made));
    return true;
}

bool TimingWork::networks() {
    return each(timing_->networks, networks_, [&](const LogicNetwork& n) {
        return memory_.recall<NetworkAnalysis>(
            run_, "network " + n.id, std::tuple(n, data_.logic), 1,
            [n, logic = data_.logic](Progress&) -> Result<NetworkAnalysis> {
                return NetworkAnalysis{n, logic, read_network(n.text, *logic)};
            });
    });
}

Result<TimingWork::Replies> TimingWork::replies_of_network(const ReplyInputs& in, Progress& progress) {
    Replies r;
    if (!in.network) {
        r.problem = in.option.network.empty() ? "no network is named"
                                              : "network " + in_quotes(in.option.network) +
                                                    " is not in the dossier, or the parts' data is missing";
        return r;
    }
    auto reply = reply_of_network(in.network->network, *in.asked.capture, in.asked.decoding.get(), *in.tasks,
                                  in.answer, progress);
    if (progress.cancelled()) return fail_cancelled();
    if (!reply) {
        r.problem = reply.error().message();
        return r;
    }
    r.summary = reply->summary;
    for (const auto& k : reply->corners)
        if (r.corners.size() < 3) r.corners.push_back({k.name, k.slowest, k.worst_margin.value_or(Time{})});
    r.network = std::make_shared<const NetworkReply>(std::move(*reply));
    return r;
}

Result<TimingWork::Replies> TimingWork::replies_of_model(const ReplyInputs& in, Progress& progress) {
    Replies r;
    auto measured = measured_latencies(in.option, in.measured);
    auto model =
        measured ? model_of(in.option, std::move(*measured)) : Result<ReplyModel>(fail(measured.error()));
    auto summary = model ? simulate_replies(*in.tasks, *model, in.seed, progress)
                         : Result<ReplySummary>(fail(model.error()));
    if (progress.cancelled()) return fail_cancelled();
    if (!summary) {
        r.problem = summary.error().message();
        return r;
    }
    if (summary->enough_latency) r.sensitivity = sensitivities(*model, *summary->enough_latency, *in.tasks);
    r.corners = reply_corners(*model, *summary);
    r.summary = std::move(*summary);
    r.model = std::move(*model);
    return r;
}

std::shared_ptr<const TimingWork::Replies> TimingWork::replies_of(const BuildOption& option,
                                                                  const ListenAnalysis& listen) {
    ReplyInputs in{
        without_names(option), question_->tasks, question_->problem, timing_->reply.seed, {}, {}, {}, {}};
    const auto untitled = [&](std::string_view id) {  // a title is no reason to simulate again
        auto s = source_of(listen, id);
        s.title.clear();
        return s;
    };
    if (!option.measured.capture.empty()) in.measured = untitled(option.measured.capture);
    if (option.kind == OptionKind::network) {
        in.asked = untitled(timing_->reply.capture);
        in.answer = answer_of(timing_->reply, listen.find_capture(timing_->reply.capture));
        for (const auto& n : networks_)
            if (n && n->source.id == option.network) in.network = n;
    }
    return memory_.recall<Replies>(
        run_, "replies " + option.id, in, option_weight, [in](Progress& progress) -> Result<Replies> {
            if (!in.tasks) {
                Replies r;
                r.problem = in.question_problem;
                return r;
            }
            return in.option.kind == OptionKind::network ? replies_of_network(in, progress)
                                                         : replies_of_model(in, progress);
        });
}

bool TimingWork::options(const ListenAnalysis& listen) {
    return each(timing_->options, options_,
                [&](const BuildOption& option) -> std::shared_ptr<const OptionAnalysis> {
                    const auto replies = replies_of(option, listen);
                    if (!replies) return nullptr;
                    const bool chosen = option.id == timing_->chosen;
                    return memory_.recall_here<OptionAnalysis>(
                        run_, "option " + option.id, std::tuple(option, chosen, replies), [&] {
                            OptionAnalysis o;
                            o.option = option;
                            o.chosen = chosen;
                            o.summary = replies->summary;
                            o.model = replies->model;
                            o.sensitivity = replies->sensitivity;
                            o.corners = replies->corners;
                            o.network = replies->network;
                            o.problem = replies->problem;
                            if (o.summary) {
                                o.verdict = judge(*o.summary);
                                o.confidence = confidence_of(*o.summary, option);
                            }
                            return o;
                        });
                });
}

}  // namespace grayrelic
