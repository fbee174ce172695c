// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/timing/budget_parts.hpp"

namespace grayrelic {
namespace {

std::string t(double seconds) {
    return print_number(seconds, Unit::second);
}

BudgetResult judged(double used, double available, Unit unit = Unit::second) {
    BudgetResult r;
    r.used = used;
    r.available = available;
    r.unit = unit;
    r.verdict = judge_budget(used, available);
    return r;
}

/// The longest stretch that `k` scans in a row take, from just after one to the k-th after it.
double longest_of(const std::vector<Time>& scans, std::size_t k) {
    double longest = 0;
    for (std::size_t i = 0; i + k < scans.size(); ++i)
        longest = std::max(longest, (scans[i + k] - scans[i]).seconds());
    return longest;
}

}  // namespace

Result<BudgetResult> watchdog_budget(const BudgetValues& v, const std::vector<Time>&, Progress&) {
    if (v["tolerance"] >= 1)
        return fail_usage(fmt::format("a tolerance of {}", v["tolerance"]), "a share below 1, such as 0.1");
    const double least = v["timeout"] * (1 - v["tolerance"]), round = v["loop"] + v["blocking"],
                 longest = std::max(round, v["start"]);
    auto r = judged(longest, least);
    r.figures = {{"Shortest watchdog time", least, Unit::second, "the set one less its tolerance"},
                 {"Longest round", round, Unit::second, "with the blocking work"},
                 {"Slack", least - longest, Unit::second, ""},
                 {"Blocking may be at most", std::max(0.0, least - v["loop"]), Unit::second, ""}};
    r.says = r.verdict == Verdict::stop
                 ? fmt::format("the watchdog bites: {} against {}", t(longest), t(least))
                 : fmt::format("{} of {} used", t(longest), t(least));
    if (r.verdict != Verdict::holds)
        r.todo = fmt::format("Serve the watchdog inside the blocking work, or set it to at least {}.",
                             t(1.25 * longest / (1 - v["tolerance"])));
    return r;
}

Result<BudgetResult> latency_budget(const BudgetValues& v, const std::vector<Time>&, Progress&) {
    const double n = std::max(1.0, std::round(v["debounce"]));
    // The key closes somewhere in a scan; n agreeing scans follow; the report waits for the host's next poll.
    const double best = (n - 1) * v["scan"] + v["work"], worst = n * v["scan"] + v["work"] + v["report"],
                 mean = (n - 0.5) * v["scan"] + v["work"] + v["report"] / 2;
    auto r = judged(worst, v["limit"]);
    r.figures = {{"Longest", worst, Unit::second, "scan period × debounce count + work + report interval"},
                 {"On average", mean, Unit::second, ""},
                 {"Shortest", best, Unit::second, ""}};
    const double left = v["limit"] - v["work"] - v["report"];
    r.figures.push_back(
        {"Scan period at most", std::max(0.0, left / n), Unit::second, "for the allowed time"});
    r.says = fmt::format("{} at most, {} allowed", t(worst), t(v["limit"]));
    if (r.verdict != Verdict::holds)
        r.todo = left > 0
                     ? fmt::format("Scan every {}, debounce over fewer scans, or ask for reports more often.",
                                   t(left / n))
                     : "The report interval alone is too long: ask for a shorter one.";
    return r;
}

Result<BudgetResult> startup_budget(const BudgetValues& v, const std::vector<Time>&, Progress&) {
    const double ready = v["power"] + v["boot"] + v["ready"], last = std::max(v["first"], v["last"]);
    auto r = judged(ready, last);
    // In time only for a retry is good enough to work, but not to be calm about.
    if (r.verdict == Verdict::holds && ready > v["first"]) r.verdict = Verdict::doubt;
    r.figures = {{"Ready after", ready, Unit::second, "from power-on"},
                 {"Host looks first", v["first"], Unit::second, ""},
                 {"Host gives up", last, Unit::second, ""},
                 {"Slack to the first look", v["first"] - ready, Unit::second, ""}};
    r.says = ready > last ? fmt::format("ready {} after the host has given up", t(ready - last))
             : ready > v["first"]
                 ? fmt::format("misses the first look, is there {} before the host gives up", t(last - ready))
                 : fmt::format("ready {} before the first look", t(v["first"] - ready));
    if (r.verdict != Verdict::holds)
        r.todo = fmt::format(
            "Answer before everything else is set up: within {} of power-on; or hold the host in reset until "
            "the bridge is ready.",
            t(v["first"]));
    return r;
}

Result<BudgetResult> press_budget(const BudgetValues& v, const std::vector<Time>& scans, Progress&) {
    const auto k = static_cast<std::size_t>(std::clamp(std::round(v["samples"]), 1.0, 10'000.0));
    const double recorded = longest_of(scans, k);
    // Whatever the phase, k scans lie inside a press that is as long as k periods.
    const double least = (recorded > 0 ? recorded : static_cast<double>(k) * v["scan"]) + v["jitter"];
    const double shorter = std::min(v["held"], v["pause"]);
    auto r = judged(least, shorter);
    r.figures = {{"Held for at least", least, Unit::second,
                  recorded > 0 ? fmt::format("the longest {} scans in the capture, and the own jitter", k)
                               : fmt::format("{} scan periods, and the own jitter", k)},
                 {"Released for at least", least, Unit::second, "the release must be seen too"},
                 {"Presses a second, at most", least > 0 ? 1 / (2 * least) : 0, Unit::hertz, ""}};
    r.says = r.verdict == Verdict::stop
                 ? fmt::format("{} is too short to be seen for certain: {} are needed", t(shorter), t(least))
                 : fmt::format("{} needed, {} held", t(least), t(shorter));
    if (r.verdict != Verdict::holds) r.todo = fmt::format("Hold and release for {} each.", t(1.25 * least));
    if (scans.size() > 1)
        for (std::size_t i = 1; i < scans.size(); ++i) r.bars.push_back((scans[i] - scans[i - 1]).seconds());
    r.bars_about = "from scan to scan in the capture";
    return r;
}

Result<BudgetResult> autofire_budget(const BudgetValues& v, const std::vector<Time>& polls, Progress&) {
    std::vector<double> gaps;
    for (std::size_t i = 1; i < polls.size(); ++i) gaps.push_back((polls[i] - polls[i - 1]).seconds());
    if (gaps.empty()) {
        if (v["poll"] <= 0) return fail_usage("no poll period and no capture", "one of the two");
        gaps.assign(1000, v["poll"]);
    }
    double total = 0;
    for (const double g : gaps) total += g;
    const double mean = total / static_cast<double>(gaps.size());
    // k polls pressed, k released: each poll sees one or the other, so nothing is lost and nothing beats.
    struct Rate {
        int k;
        double rate, low, high;
    };
    std::vector<Rate> rates;
    for (int k = 1; k <= 64; ++k) {
        const auto span = 2 * static_cast<std::size_t>(k);
        if (span > gaps.size()) break;
        double low = 2 * k * mean, high = low;
        if (!polls.empty()) {
            Time least = Time::max(), most{};
            for (std::size_t i = span; i < polls.size(); ++i) {
                least = std::min(least, polls[i] - polls[i - span]);
                most = std::max(most, polls[i] - polls[i - span]);
            }
            low = least.seconds();
            high = most.seconds();
        }
        rates.push_back({k, 1 / (2 * k * mean), 1 / high, 1 / low});
    }
    if (rates.empty()) return fail_usage("a capture with fewer than three polls", "more polls");
    const auto best = *std::min_element(rates.begin(), rates.end(), [&](const Rate& a, const Rate& b) {
        return std::abs(std::log(a.rate / v["wanted"])) < std::abs(std::log(b.rate / v["wanted"]));
    });
    const double off = v["wanted"] > 0 ? std::abs(best.rate / v["wanted"] - 1) : 1,
                 swing = std::max(best.high / best.rate - 1, 1 - best.low / best.rate);
    BudgetResult r;
    r.unit = Unit::hertz;
    r.used = best.rate;
    r.available = 1 / (2 * mean);
    r.verdict = v["wanted"] > r.available * 1.0001         ? Verdict::stop
                : off > v["spread"] || swing > v["spread"] ? Verdict::doubt
                                                           : Verdict::holds;
    r.figures = {{"Nearest rate", best.rate, Unit::hertz,
                  fmt::format("pressed for {} polls, released for {}", best.k, best.k)},
                 {"… at its slowest", best.low, Unit::hertz, "over one press and release"},
                 {"… at its fastest", best.high, Unit::hertz, ""},
                 {"Fastest of all", r.available, Unit::hertz, "every other poll"},
                 {"Mean poll period", mean, Unit::second, fmt::format("of {} polls", gaps.size() + 1)}};
    for (std::size_t i = 0; i < std::min<std::size_t>(6, rates.size()); ++i)
        r.figures.push_back({fmt::format("Every {} polls", 2 * rates[i].k), rates[i].rate, Unit::hertz, ""});
    r.bars = gaps;
    r.bars_about = "from poll to poll";
    if (r.verdict == Verdict::stop) {
        r.says = fmt::format("{} is faster than the host looks", print_number(v["wanted"], Unit::hertz));
        r.todo = fmt::format("At most {} can be seen: press at every other poll.",
                             print_number(r.available, Unit::hertz));
    } else {
        r.says = fmt::format("{}, in step with the host, swinging between {} and {}",
                             print_number(best.rate, Unit::hertz), print_number(best.low, Unit::hertz),
                             print_number(best.high, Unit::hertz));
        if (r.verdict == Verdict::doubt)
            r.todo =
                off > v["spread"]
                    ? fmt::format("{} is as near as polling allows.", print_number(best.rate, Unit::hertz))
                    : "The host polls unevenly: count polls, not time, so that no press is lost.";
    }
    return r;
}

Result<BudgetResult> memory_budget(const BudgetValues& v, const std::vector<Time>&, Progress&) {
    if (v["clock"] <= 0) return fail_usage("a clock of 0 Hz", "a clock above 0");
    const double cycle = v["cycles"] / v["clock"],
                 left = cycle - v["address"] - v["decode"] - v["buffer"] - v["setup"];
    auto r = judged(v["access"], left);
    r.figures = {
        {"Access window", cycle, Unit::second, "cycles ÷ clock"},
        {"Left for the memory", left, Unit::second, "less address, decoding, buffers and set-up"},
        {"Margin", left - v["access"], Unit::second, ""},
        {"Clock at most", v["cycles"] / (v["access"] + v["address"] + v["decode"] + v["buffer"] + v["setup"]),
         Unit::hertz, "with this memory"}};
    r.says = r.verdict == Verdict::stop
                 ? fmt::format("{} needed, {} left", t(v["access"]), t(std::max(0.0, left)))
                 : fmt::format("{} of {} used", t(v["access"]), t(left));
    if (r.verdict != Verdict::holds)
        r.todo =
            left > 0
                ? fmt::format("Use a memory of {} or faster, or decode faster.", t(0.9 * left))
                : "The way to the memory alone takes the whole cycle: decode faster or add a wait state.";
    return r;
}

Result<BudgetResult> frame_budget(const BudgetValues& v, const std::vector<Time>&, Progress&) {
    if (v["rate"] <= 0) return fail_usage("a frame rate of 0 Hz", "a rate above 0");
    if (v["share"] <= 0 || v["share"] > 1)
        return fail_usage(fmt::format("a share of {}", v["share"]), "above 0, at most 1");
    const double there = v["share"] / v["rate"], used = v["work"] + v["jitter"];
    auto r = judged(used, there);
    r.figures = {{"Time in a frame", there, Unit::second, ""},
                 {"Used", used, Unit::second, "work and late beginning"},
                 {"Left", there - used, Unit::second, ""},
                 {"Frames skipped", std::ceil(used / there) - 1, Unit::none, "when it does not fit"}};
    r.says = r.verdict == Verdict::stop ? fmt::format("{} do not fit into {}", t(used), t(there))
                                        : fmt::format("{} of {} used", t(used), t(there));
    if (r.verdict != Verdict::holds)
        r.todo = fmt::format("Bring the work under {}, or spread it over {} frames.",
                             t(0.9 * there - v["jitter"]), std::ceil(used / there) + 1);
    return r;
}

Result<BudgetResult> loop_budget(const BudgetValues& v, const std::vector<Time>&, Progress&) {
    if (v["clock"] <= 0 || v["cycles"] <= 0 || v["toggles"] <= 0 || v["wanted"] <= 0)
        return fail_usage("a clock, cycles, toggles or rate of 0", "all of them above 0");
    const double rate = v["toggles"] * v["clock"] / (2 * v["cycles"]), off = std::abs(rate / v["wanted"] - 1),
                 exact = v["toggles"] * v["clock"] / (2 * v["wanted"]);
    BudgetResult r = judged(off, std::max(v["tolerance"], 1e-12), Unit::none);
    r.figures = {{"Rate", rate, Unit::hertz, "toggles ÷ (2 × round)"},
                 {"Round", v["cycles"] / v["clock"], Unit::second, ""},
                 {"Off by", off, Unit::none, "share of the wanted rate"},
                 {"Cycles for the wanted rate", exact, Unit::none, ""}};
    r.says = fmt::format("{} instead of {}", print_number(rate, Unit::hertz, 5),
                         print_number(v["wanted"], Unit::hertz, 5));
    if (r.verdict != Verdict::holds) r.todo = fmt::format("Make the round {} cycles.", std::llround(exact));
    return r;
}

}  // namespace grayrelic
