// SPDX-License-Identifier: GPL-3.0-or-later
// Who answers a serial line: the same wire in turn, or another line of the capture.
#include <fmt/format.h>

#include <algorithm>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/decode/settings.hpp"
#include "core/decode/turns.hpp"
#include "core/timing/contract.hpp"
#include "core/timing/derive_parts.hpp"

namespace grayrelic::derive_parts {
namespace {

constexpr std::size_t most_lines = 64;
constexpr std::size_t fewest = 5;  ///< answers, to believe in them
constexpr double most_silent = 0.3;

struct Answerer {
    std::string line;
    Direction begins = Direction::fall;
    Time typical, spread;
    Time back;  ///< median rest from its last edge to the next message
};

/// Does this line begin to move some time after each message, and rest while it runs?
std::optional<Answerer> answers(const std::vector<Turn>& polls, const Signal& signal) {
    const auto edges = signal.digital->edges();
    std::vector<Time> delays, backs;
    std::size_t silent = 0, at = 0, falls = 0;
    for (std::size_t i = 0; i < polls.size(); ++i) {
        while (at < edges.size() && edges[at] < polls[i].start) ++at;
        const auto before = at;
        while (at < edges.size() && edges[at] <= polls[i].end) ++at;
        if (at > before) return std::nullopt;  // talks while it is talked to
        const Time limit = i + 1 < polls.size() ? polls[i + 1].start : Time::max();
        if (at < edges.size() && edges[at] < limit) {
            delays.push_back(edges[at] - polls[i].end);
            falls += signal.digital->is_rise(at) ? 0 : 1;
            const auto last = signal.digital->edges_before(limit);
            if (limit != Time::max() && last > 0) backs.push_back(limit - edges[last - 1]);
        } else {
            ++silent;
        }
    }
    if (delays.size() < fewest ||
        static_cast<double>(silent) > most_silent * static_cast<double>(polls.size()))
        return std::nullopt;
    if (falls != 0 && falls != delays.size()) return std::nullopt;  // an answer begins from its rest
    std::sort(delays.begin(), delays.end());
    Answerer a;
    a.line = signal.name;
    a.begins = falls > 0 ? Direction::fall : Direction::rise;
    a.typical = delays[delays.size() / 2];
    a.spread = delays[delays.size() * 9 / 10] - delays[delays.size() / 10];
    std::sort(backs.begin(), backs.end());
    a.back = backs.empty() ? Time::max() : backs[backs.size() / 2];
    return a;
}

/// The line that answers these messages most evenly; none where the pauses between them are no longer.
std::optional<Answerer> find_answerer(const Draft& d, const std::vector<Turn>& polls,
                                      const std::string& own) {
    std::vector<Time> rests;
    for (std::size_t i = 1; i < polls.size(); ++i) rests.push_back(polls[i].start - polls[i - 1].end);
    if (rests.size() < fewest) return std::nullopt;
    std::sort(rests.begin(), rests.end());
    const auto own_line = d.from().capture.find(own);
    std::optional<Answerer> best;
    std::size_t looked = 0;
    for (const auto& s : d.from().capture.signals) {
        if (!s.digital || s.digital->edges().size() < 2 * fewest || (own_line && *own_line == &s)) continue;
        if (++looked > most_lines) break;
        const auto a = answers(polls, s);
        if (!a || a->spread * 2 > rests[rests.size() / 2]) continue;
        if (!best || a->spread < best->spread) best = a;
    }
    return best;
}

void asked(Draft& d, const std::string& answer_edge, const char* name) {
    d.ask("poll:end", answer_edge);
    d.response("answer", name, "poll:end", answer_edge, {"poll:start"});
    Time slowest;
    if (const auto m = measure_interval(d.out().intervals.back(), d.from().capture, &d.from().decoding))
        for (const auto& i : m->answered) slowest = std::max(slowest, i.length());
    d.look(print_exact(rounded_up(slowest)), std::nullopt,
           "the original's slowest answer: how long the host would wait does not show");
    d.not_sure("look", {print_exact(rounded_up(slowest))},
               "a recording without the device: how long the host waits for an answer");
}

}  // namespace

void async_serial(Draft& d) {
    const auto data = d.role("data");
    if (data.empty()) return d.nobody_answers("the line");
    const bool inverted = d.setting("invert") == "yes";
    const Direction begins = inverted ? Direction::rise : Direction::fall;
    const auto messages = messages_of(d.from().decoding, message_pause(d.from().decoding));
    if (const auto a = find_answerer(d, messages, data)) {
        if (a->back < a->typical)
            d.nobody_answers(data + " answers " + a->line +
                             ", which speaks first: derive the contract from " + a->line);
        else
            asked(d, edge_of(a->line, a->begins), "Poll to answer");
    } else if (!turns_of(d.from().decoding).empty()) {
        asked(d, edge_of(data, begins), "Poll to answer");
        d.add("next-poll", "Answer to next poll", "answer:end", "poll:start", IntervalKind::recovery);
    } else {
        d.nobody_answers(
            "one side talks on this line, and no other line of the recording answers it; a recording with "
            "both "
            "directions would show how soon the answer comes");
    }
    d.frames();
    d.add("frame-period", "From frame to frame", "frame:start", "frame:start", IntervalKind::period);
    d.add("shortest-pulse", "Pulse of " + short_name(data), edge_of(data, begins),
          edge_of(data, opposite(begins)), IntervalKind::width);
}

}  // namespace grayrelic::derive_parts
