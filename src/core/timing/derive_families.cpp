// SPDX-License-Identifier: GPL-3.0-or-later
// What each family promises, and where its reply is.
#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/decode/settings.hpp"
#include "core/decode/turns.hpp"
#include "core/timing/contract.hpp"
#include "core/timing/derive_parts.hpp"

namespace grayrelic::derive_parts {
namespace {

constexpr const char* usual_place = "a capture can't show when the host looks; this edge is the usual place";
constexpr std::array both{Direction::rise, Direction::fall};

/// Which edge of the clock the data follows.
CauseStudy study_clock(Draft& d, const std::string& clock, const std::string& data,
                       const std::vector<std::string>& others) {
    const auto& c = d.line(clock);
    CauseRules rules;
    rules.others = d.lines(others);
    rules.pause = burst_limit(c);
    rules.sample = d.sample();
    return study_causes({&d.line(data)}, {{&c, both[0]}, {&c, both[1]}}, rules);
}

std::vector<std::string> edges_of(const std::string& signal) {
    return {edge_of(signal, both[0]), edge_of(signal, both[1])};
}

Direction edge_named(const std::string& word) {
    return word == "rise" ? Direction::rise : Direction::fall;
}

/// Set-up, hold and widths around a clock that is sampled at one edge.
void around_clock(Draft& d, const std::string& clock, const std::string& data, Direction samples,
                  Time burst) {
    const auto sample = edge_of(clock, samples);
    d.add("clock-high", clock + " high", clock + ":rise", clock + ":fall", IntervalKind::width, burst);
    d.add("clock-low", clock + " low", clock + ":fall", clock + ":rise", IntervalKind::width, burst);
    d.add("clock-period", clock + " period", sample, sample, IntervalKind::period, burst);
    d.add("data-setup", data + " before the look", data + ":any", sample, IntervalKind::setup, burst);
    d.add("data-hold", data + " after the look", sample, data + ":any", IntervalKind::hold, burst);
}

/// The host's look at an edge of the clock, one after the reply's cause.
void look_at(Draft& d, const std::string& clock, Direction samples, Time burst, const char* setting) {
    const auto look = "next:" + edge_of(clock, samples);
    d.look(look, burst, usual_place);
    if (d.unsure_of_reading(setting) != nullptr)
        d.not_sure("look", {look, "next:" + edge_of(clock, opposite(samples))},
                   "the host's program or its data sheet: which edge it reads at does not show on the lines");
    auto& interval = d.add("look", "Host's look", d.out().question.trigger, edge_of(clock, samples),
                           IntervalKind::look, burst);
    interval.evidence.kind = EvidenceKind::assumed;
}

}  // namespace

void latch_shift(Draft& d) {
    const auto clock = d.role("clock"), latch = d.role("latch"), data = d.role("data");
    if (clock.empty() || latch.empty() || data.empty()) return d.nobody_answers("latch, clock and data");
    const Direction samples = edge_named(d.setting("edge"));
    const auto study = study_clock(d, clock, data, {latch});
    const Direction causes = study.fits.empty() ? opposite(samples) : both[study.fits.front().which];
    const Time burst = burst_limit(d.line(clock));
    d.ask(edge_of(clock, causes), data + ":any");
    d.cause_is_open(study, edges_of(clock));
    d.response("reply", "Original's reply", edge_of(clock, causes), data + ":any", {latch + ":any"},
               burst / 2);
    look_at(d, clock, samples, burst, "edge");

    const Direction active = d.setting("latch") == "low" ? Direction::fall : Direction::rise;
    const auto load = edge_of(latch, active), release = edge_of(latch, opposite(active)),
               sample = edge_of(clock, samples);
    CauseRules rules;
    rules.others = {&d.line(clock)};
    rules.sample = d.sample();
    const auto& latch_line = d.line(latch);
    const auto loading =
        study_causes({&d.line(data)}, {{&latch_line, active}, {&latch_line, opposite(active)}}, rules);
    const bool on_release = !loading.fits.empty() && loading.fits.front().which == 1;
    d.response("first-bit", "First bit after load", on_release ? release : load, data + ":any",
               {clock + ":any", on_release ? load : release}, burst / 2);
    if (!on_release) d.out().intervals.back().until = {clock + ":any"};
    d.add("load-width", latch + " pulse", load, release, IntervalKind::width);
    d.add("load-to-clock", latch + " to first " + clock, release, clock + ":any", IntervalKind::setup);
    around_clock(d, clock, data, samples, burst);
    d.add("poll-period", "Poll period", load, load, IntervalKind::period);
    d.add("recovery", "Last " + clock + " to next " + latch, clock + ":any", load, IntervalKind::recovery);
}

void clocked(Draft& d) {
    const auto clock = d.role("clock"), data = d.role("data"), select = d.role("select");
    if (clock.empty() || data.empty()) return d.nobody_answers("a clock and data");
    const auto mode = d.setting("mode");
    const Direction samples = mode == "0" || mode == "3" ? Direction::rise : Direction::fall;
    const auto study = study_clock(
        d, clock, data, select.empty() ? std::vector<std::string>{} : std::vector<std::string>{select});
    const Direction causes = study.fits.empty() ? opposite(samples) : both[study.fits.front().which];
    const Time burst = burst_limit(d.line(clock));
    d.ask(edge_of(clock, causes), data + ":any");
    d.cause_is_open(study, edges_of(clock));
    auto until = any_of({select});
    d.response("reply", "Reply on " + short_name(data), edge_of(clock, causes), data + ":any", until,
               burst / 2);
    look_at(d, clock, samples, burst, "mode");
    around_clock(d, clock, data, samples, burst);
    if (!select.empty()) {
        const auto active = d.setting("select") == "high" ? Direction::rise : Direction::fall;
        d.response("first-bit", "First bit after " + select, edge_of(select, active), data + ":any",
                   {clock + ":any"}, burst / 2);
        d.add("select-setup", select + " to first " + clock, edge_of(select, active), clock + ":any",
              IntervalKind::setup);
        d.add("select-recovery", select + " between transfers", edge_of(select, opposite(active)),
              edge_of(select, active), IntervalKind::recovery);
    }
    d.frames();
}

void framed_clock(Draft& d) {
    const auto clock = d.role("clock"), data = d.role("data");
    if (clock.empty() || data.empty()) return d.nobody_answers("a clock and data");
    const auto& line = d.line(clock);
    const Direction samples = edge_named(d.setting("edge"));
    const Time bit = burst_limit(line) / 4, within = bit * 3 / 4;
    around_clock(d, clock, data, samples, within * 2);
    for (auto& i : d.out().intervals)
        if (i.kind == IntervalKind::width) i.within = within;
    d.frames();
    // The host holds the clock away from its rest to stop the device.
    const bool rests_high = resting_level(line);
    const Direction away = rests_high ? Direction::fall : Direction::rise, back = opposite(away);
    const auto held = edge_of(clock, away), let_go = edge_of(clock, back);
    std::size_t inhibits = 0;
    const auto edges = line.edges();
    for (std::size_t i = 1; i < edges.size(); ++i)
        if (line.matches(i, back) && edges[i] - edges[i - 1] > within) ++inhibits;
    if (inhibits == 0)
        return d.nobody_answers(
            "the device sends by itself and makes the clock: there is nothing it has to be in time for; a "
            "recording in which the host holds the clock would show how soon it goes on");
    const auto released = let_go + " after " + print_exact(within);
    d.ask(released, held);
    d.add("inhibit", "Host holds " + clock, held, let_go, IntervalKind::width).beyond = within;
    d.add("resume", "First clock after the hold", released, held, IntervalKind::response);
    d.not_sure("look", {},
               "the host waits for the device's clock: how long does not show in a recording in "
               "which it always comes");
}

void select_bank(Draft& d) {
    const auto select = d.role("select"), enable = d.role("enable");
    const auto data = d.roles("data");
    if (select.empty() || data.empty()) return d.nobody_answers("a select and data");
    const auto other = any_of({enable});
    for (const auto& line : data)
        d.response("bank-reply", short_name(line) + " after " + select, select + ":any", line + ":any",
                   other);
    if (!enable.empty())
        for (const auto& line : data)
            d.response("enable-reply", short_name(line) + " after " + enable, enable + ":any", line + ":any",
                       {select + ":any"});
    d.pulses(select);
    d.pulses(enable);
    // The line that moves most often is asked for.
    const auto busiest = std::max_element(data.begin(), data.end(), [&](const auto& a, const auto& b) {
        return d.line(a).edges().size() < d.line(b).edges().size();
    });
    d.ask(select + ":any", *busiest + ":any");
    const auto edges = d.line(select).edges();
    const std::vector<Time> times(edges.begin(), edges.end());
    d.look(select + ":any", median_distance(times).value_or(Time::ms(1)) * 2,
           "a capture can't show when the host looks; it has to before it turns the select again");
    d.not_sure("look", {select + ":any"}, "the host's program: how long after the select it reads");
}

namespace {

/// Strobe edges that the lines follow, and whether that is certain.
struct BusCause {
    std::optional<Direction> edge;  ///< that asks for the data
    std::optional<Direction> also;  ///< behind which they go back
    bool settled = true;
};

BusCause bus_cause(const Lines& data, const DigitalWaveform& strobe, Direction samples, Time sample) {
    const Direction leading = resting_level(strobe) ? Direction::fall : Direction::rise;
    constexpr double few = 0.1, clearly = 3;
    BusCause out;
    const auto classes = closeness_of(data, strobe);
    const long all = classes[0].changes + classes[1].changes;
    for (const auto& c : classes) {
        if (static_cast<double>(c.changes) < few * static_cast<double>(all) || c.changes < 3) continue;
        const auto behind = static_cast<double>(std::max(c.behind_spread, sample).count()),
                   ahead = static_cast<double>(std::max(c.ahead_spread, sample).count());
        // Between the edges of one pulse a device that was asked is as likely as the strober itself.
        bool follows = c.before == leading || c.behind < c.ahead;
        if (behind * clearly < ahead)
            follows = true;
        else if (ahead * clearly < behind)
            follows = false;
        else
            out.settled = false;
        // Of two edges that are followed, the one after which the lines are read asks for the data.
        if (!follows) continue;
        if (!out.edge || c.before == opposite(samples))
            std::swap(out.also, out.edge), out.edge = c.before;
        else
            out.also = c.before;
    }
    return out;
}

}  // namespace

void strobed_bus(Draft& d) {
    const auto strobe = d.role("strobe");
    const auto data = d.roles("data");
    if (strobe.empty() || data.empty()) return d.nobody_answers("a strobe and data");
    const Direction samples = edge_named(d.setting("edge"));
    const auto sample = edge_of(strobe, samples);
    const auto& line = d.line(strobe);
    const auto cause = bus_cause(d.lines(data), line, samples, d.sample());
    if (!cause.settled)
        d.not_sure(
            "trigger", {edge_of(strobe, Direction::rise), edge_of(strobe, Direction::fall), "none"},
            "a recording in which the strobes do not come evenly: lines that answer keep their distance "
            "from the edge before them");
    if (cause.edge) {
        const auto trigger = edge_of(strobe, *cause.edge);
        for (const auto& one : data)
            d.response("bus-reply", short_name(one) + " after " + strobe, trigger, one + ":any",
                       {edge_of(strobe, opposite(*cause.edge))});
        if (cause.also)
            for (const auto& one : data)
                d.response("bus-release", short_name(one) + " lets go after " + strobe,
                           edge_of(strobe, *cause.also), one + ":any", {trigger});
        d.ask(trigger, data.front() + ":any");
        d.look("next:" + sample, std::nullopt, usual_place);
        if (d.unsure_of_reading("edge") != nullptr)
            d.not_sure("look", {"next:" + sample, "next:" + edge_of(strobe, opposite(samples))},
                       "what the receiver is: its data sheet names the edge");
    } else {
        d.nobody_answers(
            "the lines stand before the strobe comes: who strobes also drives them, and nothing "
            "answers");
    }
    for (const auto& one : data) {
        d.add("bus-setup", short_name(one) + " before " + strobe, one + ":any", sample, IntervalKind::setup);
        d.add("bus-hold", short_name(one) + " after its look", sample, one + ":any", IntervalKind::hold);
    }
    d.pulses(strobe);
    d.add("strobe-period", strobe + " period", sample, sample, IntervalKind::period);
}

void matrix(Draft& d) {
    constexpr std::size_t most_pairs = 64;
    const auto strobes = d.roles("strobe"), senses = d.roles("sense");
    if (strobes.empty() || senses.empty()) return d.nobody_answers("strobes and sense lines");
    const Direction on = d.setting("active") == "high" ? Direction::rise : Direction::fall,
                    off = opposite(on);
    std::size_t most = 0, pairs = 0;
    for (const auto& s : strobes)
        for (const auto& n : senses) {
            ContractInterval i = reply_interval(d.from().id, edge_of(s, on), edge_of(n, on));
            std::vector<std::string> until = {edge_of(s, off)};
            for (const auto& other : strobes)
                if (other != s) until.push_back(edge_of(other, on));
            i.until = until;
            const auto measured = measure_interval(i, d.from().capture, nullptr);
            if (!measured || measured->answered.empty() || pairs == most_pairs) continue;
            ++pairs;
            d.response("sense-reply", short_name(n) + " after " + short_name(s), i.from, i.to, until);
            if (measured->answered.size() <= most) continue;
            most = measured->answered.size();
            d.ask(i.from, i.to);
            d.look("next:" + edge_of(s, off), std::nullopt,
                   "a capture can't show when the host looks; it has to before the strobe ends");
        }
    if (pairs == 0)
        d.nobody_answers("no switch is closed in this recording: press keys while it runs");
    else
        d.not_sure("look", {d.out().question.look.value},
                   "the host's program: how long after a strobe it reads");
    for (const auto& s : strobes) d.pulses(s);
}

void one_wire(Draft& d) {
    const auto data = d.role("data");
    if (data.empty()) return d.nobody_answers("the wire");
    const bool high = d.setting("idle") != "low";
    const Direction begins = high ? Direction::fall : Direction::rise, ends = opposite(begins);
    const auto turns = turns_of(d.from().decoding);
    if (turns.empty()) {
        d.nobody_answers("one side talks on this wire: no burst follows another after a rest of its own");
    } else {
        d.ask("poll:end", edge_of(data, begins));
        d.response("answer", "Command to answer", "poll:end", edge_of(data, begins), {});
        auto& back = d.add("next-command", "Answer to next command", "answer:end", edge_of(data, begins),
                           IntervalKind::recovery);
        (void)back;
        const auto& answer = d.out().intervals.front();
        Time slowest;
        if (const auto m = measure_interval(answer, d.from().capture, &d.from().decoding))
            for (const auto& i : m->answered) slowest = std::max(slowest, i.length());
        d.look(print_exact(rounded_up(slowest)), std::nullopt,
               "the original's slowest answer: how long the host would wait does not show");
        d.not_sure("look", {print_exact(rounded_up(slowest))},
                   "a recording without the device: how long the host waits for an answer");
    }
    // Pulses within bursts; a rest between them is none.
    Time bit;
    for (const auto& f : d.from().decoding.frames)
        for (std::size_t k = 1; k < f.bit_times.size(); ++k)
            bit = std::max(bit, f.bit_times[k] - f.bit_times[k - 1]);
    d.add("active", "Active part of a bit", edge_of(data, begins), edge_of(data, ends), IntervalKind::width);
    d.add("bit", "Bit", edge_of(data, begins), edge_of(data, begins), IntervalKind::period,
          bit > Time{} ? std::optional(bit * 3 / 2) : std::nullopt);
    d.frames();
    d.add("frame-period", "From frame to frame", "frame:start", "frame:start", IntervalKind::period);
}

void quadrature(Draft& d) {
    const auto a = d.role("a"), b = d.role("b");
    d.nobody_answers("nobody asks here: both lines move with the hand, and the host has to keep up");
    d.pulses(a);
    d.pulses(b);
    if (!a.empty() && !b.empty()) d.add("quarter", "A to B", a + ":any", b + ":any", IntervalKind::gap);
}

void usb(Draft& d) {
    d.nobody_answers("a bus interface answers by itself, within the bit times that its standard sets");
    d.frames();
    d.add("frame-period", "From packet to packet", "frame:start", "frame:start", IntervalKind::period);
}

}  // namespace grayrelic::derive_parts
