// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli capture follow, health
#include <fmt/format.h>

#include <unistd.h>
#include <atomic>
#include <chrono>
#include <csignal>
#include <memory>
#include <thread>

#include "cli/capture_input.hpp"
#include "cli/command.hpp"
#include "cli/find_arguments.hpp"
#include "cli/input.hpp"
#include "cli/output.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/json/json.hpp"
#include "core/signal/line_health.hpp"
#include "live/live_recording.hpp"

namespace grayrelic::cli {
namespace {

struct FollowArguments {
    std::string source, out, length, after;
    std::size_t edges = 0;
    FindArguments find;
};

std::atomic<bool> interrupted{false};
void interrupt(int) {
    interrupted = true;
}

int follow(const FollowArguments& a, bool json) {
    StopWhen when;
    const auto length = time_option(a.length, "--for"), after = time_option(a.after, "--after");
    if (!length) return report_error(length.error());
    if (!after) return report_error(after.error());
    when.length = *length;
    when.after = after->value_or(Time{});
    if (a.edges > 0) when.edges = a.edges;
    if (a.find.anything()) {
        auto q = find_query(a.find);
        if (!q) return report_error(q.error());
        when.found = std::move(*q);
    }
    if (*after && !when.found)
        return report_error(
            usage_error("--after without a search", "--level, --pulse, --pause or --order as well"));
    if (!a.out.empty())
        if (const auto free = not_over(a.out, {a.source}); !free) return report_error(free.error());
    auto recording = live::Recording::start(a.source, when, a.out);
    if (!recording) return report_error(recording.error());
    interrupted = false;
    std::signal(SIGINT, interrupt);
    live::State state;
    while ((state = (*recording)->state()).phase == live::State::Phase::running && !interrupted) {
        if (isatty(STDERR_FILENO) != 0)
            fmt::print(stderr, "\r{} edges, {}  ", print_count(static_cast<long long>(state.edges)),
                       print(state.extent.length()));
        std::this_thread::sleep_for(std::chrono::milliseconds(50));
    }
    if (isatty(STDERR_FILENO) != 0) fmt::print(stderr, "\n");
    (*recording)->stop();
    std::signal(SIGINT, SIG_DFL);
    state = (*recording)->state();
    const bool failed = state.phase == live::State::Phase::failed;
    if (failed) say(stderr, "{}\n", state.why);
    if (failed && !state.has_signals) return unreadable;
    const char* ended = state.phase == live::State::Phase::reached  ? "condition"
                        : state.phase == live::State::Phase::failed ? "error"
                                                                    : "end";
    if (json) {
        print_json({{"edges", state.edges},
                    {"bytes", state.bytes},
                    {"duration_s", state.extent.length().seconds()},
                    {"ended_by", ended},
                    {"why", state.why},
                    {"hit", state.hit ? Json{{"start_s", state.hit->from.seconds()},
                                             {"end_s", state.hit->to.seconds()}}
                                      : Json()}});
    } else {
        say("{} edges in {}, {} bytes\n", print_count(static_cast<long long>(state.edges)),
            print(state.extent.length()), print_count(static_cast<long long>(state.bytes)));
        if (state.hit) say("found from {} to {}\n", print(state.hit->from, 9), print(state.hit->to, 9));
        if (!failed && !state.why.empty()) say("{}\n", state.why);
    }
    if (failed) return unreadable;
    return when.found && !state.hit ? bad_answer : fine;
}

Json analogue_json(const LineHealth::Analogue& a) {
    return {{"low_v", a.low},
            {"high_v", a.high},
            {"overshoot", a.overshoot},
            {"ringing_hz", a.ringing_hz > 0 ? Json(a.ringing_hz) : Json()},
            {"threshold_clearance", a.least_clearance}};
}

int health(const std::string& file, const InputArguments& input, bool json) {
    const auto capture = read_input(file, input);
    if (!capture) return report_error(capture.error());
    Progress progress;
    const auto lines = examine_lines(*capture, progress);
    if (json) {
        Json list = Json::array();
        for (const auto& h : lines) {
            Json x = {{"signal", h.signal},
                      {"changes", h.changes},
                      {"chatter_after_rise", h.chatter_after_rise},
                      {"chatter_after_fall", h.chatter_after_fall},
                      {"chatter_longest_s", h.chatter() > 0 ? Json(h.chatter_longest.seconds()) : Json()},
                      {"twitches", h.twitches},
                      {"twitches_with_others", h.twitches_with_others},
                      {"twitches_with", h.twitches_with},
                      {"perhaps_floating", h.perhaps_floating}};
            if (h.analogue) x["analogue"] = analogue_json(*h.analogue);
            list.push_back(std::move(x));
        }
        print_json({{"lines", list}});
        return fine;
    }
    std::vector<std::vector<std::string>> rows{
        {"signal", "changes", "with chatter", "longest", "twitches", "with others", "analogue"}};
    for (const auto& h : lines) {
        std::string analogue;
        if (h.analogue)
            analogue = fmt::format(
                "{:.3g} to {:.3g}, overshoot {}{}", h.analogue->low, h.analogue->high,
                print_share(h.analogue->overshoot),
                h.analogue->ringing_hz > 0 ? ", rings at " + print(Hertz(h.analogue->ringing_hz)) : "");
        rows.push_back({h.signal, print_count(h.changes), print_count(h.chatter()),
                        h.chatter() > 0 ? print(h.chatter_longest) : "", print_count(h.twitches),
                        print_count(h.twitches_with_others), analogue});
    }
    print_table(rows);
    return fine;
}

}  // namespace

void add_capture_follow(CLI::App& noun, Session& session) {
    const auto f = std::make_shared<FollowArguments>();
    auto* v = noun.add_subcommand(
        "follow", "follow a value change dump while it is written: a file, or \"port 4711\" on this machine");
    v->add_option("SOURCE", f->source, "a file that grows, or port N")->required();
    v->add_option("--out", f->out, "keep what comes in this file");
    v->add_option("--for", f->length, "stop after so much recorded time");
    v->add_option("--edges", f->edges, "stop after so many edges");
    v->add_option("--after", f->after, "how long to go on behind what was searched for");
    add_find_options(*v, f->find);
    v->callback([&session, f] { session.run = [&session, f] { return follow(*f, session.json); }; });

    const auto file = std::make_shared<std::string>();
    const auto input = std::make_shared<InputArguments>();
    v = noun.add_subcommand("health",
                            "chatter, twitches, ringing and floating lines, guessed from how they move");
    v->add_option("FILE", *file)->required();
    add_input_options(*v, *input);
    v->callback([&session, file, input] {
        session.run = [&session, file, input] { return health(*file, *input, session.json); };
    });
}

}  // namespace grayrelic::cli
