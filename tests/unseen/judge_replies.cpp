// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/unseen/judge_replies.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/signal/sampling.hpp"
#include "core/timing/contract.hpp"
#include "core/timing/derive_contract.hpp"
#include "tests/unseen/judge.hpp"

namespace grayrelic::unseen {
namespace {

/// The measured range of a reply against the drawn one: within a sample, and a picosecond of rounding.
void compare(const Reply& r, const DerivedContract& derived, const IntervalSource& source, double slack,
             JudgedReply& j) {
    if (r.delays.size() < 3) return;
    ++j.intervals;
    const auto [least, most] = std::minmax_element(r.delays.begin(), r.delays.end());
    const auto within = slack + 2;
    std::string said = "no interval";
    for (const auto& i : derived.intervals) {
        const auto colon = i.to.rfind(':');
        const bool same = i.from.starts_with(r.cause) && i.to.substr(0, colon) == r.answer &&
                          i.kind == IntervalKind::response;
        if (!same) continue;
        const auto f = figure_of(i, {source});
        if (!f.min) {
            said = f.problem;
            continue;
        }
        const auto low = static_cast<double>(f.min->count()), high = static_cast<double>(f.max->count());
        if (std::abs(low - *least) <= within && std::abs(high - *most) <= within) {
            ++j.within;
            return;
        }
        said = fmt::format("{:.0f}..{:.0f} ({} times)", low, high, f.n);
    }
    j.wrong +=
        fmt::format(" asked {}; {} to {}: {:.0f}..{:.0f} ({} times, ± {:.0f}), said {};",
                    derived.question.answer, r.cause, r.answer, *least, *most, r.delays.size(), within, said);
}

}  // namespace

JudgedReply judge(const Conversation& c) {
    JudgedReply j;
    const auto capture = capture_of(c.made);
    Progress progress;
    const auto decoding = (*find_decoder(c.kind))->decode(capture, c.roles, c.settings, progress);
    if (!decoding) {
        j.wrong = decoding.error().message();
        return j;
    }
    const auto period = capture.sample_period ? capture.sample_period : find_sample_period(capture);
    const auto derived = derive_contract({"c", capture, c.roles, *decoding, period}, progress);
    if (!derived) {
        j.wrong = derived.error().message();
        return j;
    }
    j.derived = true;
    j.fits = derived->fits;
    if (const auto list = identify(capture, {}, progress); list && !list->empty())
        j.named = list->front().kind == c.kind && list->front().score >= least_fit;
    const auto& q = derived->question;
    const auto* open = derived->find_unsure("trigger");
    const auto is_cause = [&](const std::string& text) {
        return std::any_of(c.replies.begin(), c.replies.end(),
                           [&](const Reply& r) { return !text.empty() && text.starts_with(r.cause); });
    };
    if (c.replies.empty()) {
        j.right = q.trigger.empty() && open != nullptr;
        j.open = !j.right && open != nullptr &&
                 std::find(open->values.begin(), open->values.end(), "none") != open->values.end();
        j.look = true;
        if (!j.right && !j.open) j.wrong += " asks " + q.trigger + ", but nobody answers;";
        return j;
    }
    j.right = is_cause(q.trigger);
    j.open = !j.right && open != nullptr && std::any_of(open->values.begin(), open->values.end(), is_cause);
    j.look = c.looks.empty() || std::any_of(c.looks.begin(), c.looks.end(), [&](const std::string& l) {
                 const auto* u = derived->find_unsure("look");
                 return q.look.value == l || q.look.value == "next:" + l ||
                        (u != nullptr &&
                         std::find(u->values.begin(), u->values.end(), "next:" + l) != u->values.end());
             });
    if (!j.look) j.wrong += " looks " + q.look.value + ";";
    if (!j.right && !j.open) {
        j.wrong +=
            " asks " + (q.trigger.empty() ? "nothing" : q.trigger) + " for " + c.replies.front().cause + ";";
        return j;
    }
    if (!j.right) return j;
    const IntervalSource source{"c", "c", &capture, &*decoding, period};
    for (const auto& r : c.replies)
        compare(r, *derived, source, static_cast<double>(c.made.sample) + c.slack, j);
    return j;
}

void ReplyTable::add(const std::string& kind, const JudgedReply& j) {
    auto& r = rows_[kind];
    ++r.cases;
    r.derived += j.derived ? 1 : 0;
    r.right += j.right ? 1 : 0;
    r.open += j.open ? 1 : 0;
    r.fits += j.fits ? 1 : 0;
    r.named += j.named ? 1 : 0;
    r.look += j.look ? 1 : 0;
    r.intervals += j.intervals;
    r.within += j.within;
}

ReplyTable::Row ReplyTable::sum() const {
    Row all;
    for (const auto& [kind, r] : rows_) {
        all.cases += r.cases, all.derived += r.derived, all.right += r.right, all.open += r.open;
        all.fits += r.fits, all.look += r.look, all.intervals += r.intervals, all.within += r.within;
    }
    return all;
}

namespace {

double part_of(long part, long whole) {
    return whole == 0 ? 1.0 : static_cast<double>(part) / static_cast<double>(whole);
}

}  // namespace

double ReplyTable::right_or_open() const {
    const auto r = sum();
    return part_of(r.right + r.open, r.cases);
}
double ReplyTable::within() const {
    const auto r = sum();
    return part_of(r.within, r.intervals);
}
double ReplyTable::looks() const {
    const auto r = sum();
    return part_of(r.look, r.cases);
}
double ReplyTable::fits() const {
    const auto r = sum();
    return part_of(r.fits, r.cases);
}

std::string ReplyTable::text() const {
    std::string out = fmt::format("{:<18} {:>5} {:>8} {:>12} {:>8} {:>10} {:>10} {:>8} {:>8}\n", "kind", "of",
                                  "right", "not settled", "look", "intervals", "in range", "fits", "named");
    for (const auto& [kind, r] : rows_)
        out +=
            fmt::format("{:<18} {:>5} {:>7.1f}% {:>11.1f}% {:>7.1f}% {:>10} {:>9.1f}% {:>7.1f}% {:>7.1f}%\n",
                        kind, r.cases, 100 * part_of(r.right, r.cases), 100 * part_of(r.open, r.cases),
                        100 * part_of(r.look, r.cases), r.intervals, 100 * part_of(r.within, r.intervals),
                        100 * part_of(r.fits, r.cases), 100 * part_of(r.named, r.cases));
    return out;
}

}  // namespace grayrelic::unseen
