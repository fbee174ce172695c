// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/record/learned.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <boost/math/distributions/beta.hpp>

#include "core/base/date.hpp"

namespace grayrelic {

LearnedHours learned_hours(const JobLog& log, const std::vector<PlanTask>& tasks) {
    LearnedHours out;
    for (const auto& h : log.money.hours) {
        auto at = std::find_if(out.tasks.begin(), out.tasks.end(),
                               [&](const TaskHours& t) { return t.task == h.task; });
        if (at == out.tasks.end()) at = out.tasks.insert(at, {h.task, {}, 0, false});
        at->spent += h.hours;
    }
    for (auto& t : out.tasks) {
        for (const auto& p : tasks)
            if (p.id == t.task) {
                t.estimated = p.likely_h;
                t.done = !p.done.empty();
            }
        if (!t.done || !t.estimated || *t.estimated <= 0) continue;
        out.estimated += *t.estimated;
        out.spent += t.spent;
        ++out.counted;
    }
    if (out.counted > 0) out.factor = out.spent / out.estimated;
    return out;
}

LearnedYield learned_yield(const Dossier& d, const std::string& board) {
    LearnedYield out;
    for (const auto& u : *d.units) {
        if (u.kind != UnitKind::board) continue;
        const bool good =
            u.state == UnitState::built || u.state == UnitState::spoken_for || u.state == UnitState::given;
        if (!good && u.state != UnitState::dead) continue;
        const auto at = std::find_if(d.builds->begin(), d.builds->end(),
                                     [&](const UnitBuild& b) { return b.id == u.id; });
        // A dead original was never built here.
        if (at == d.builds->end() && (!board.empty() || !u.revision)) continue;
        if (!board.empty() && at->board != board) continue;
        // One that is still being put together has not shown yet what it is.
        ++out.begun;
        out.good += good ? 1 : 0;
    }
    if (out.begun == 0) {
        out.says = "no board was finished yet";
        return out;
    }
    out.yield = static_cast<double>(out.good) / out.begun;
    constexpr double prior = 0.5, low = 0.05, high = 0.95;
    const boost::math::beta_distribution<> behind(out.good + prior, out.begun - out.good + prior);
    if (out.good > 0) out.least = boost::math::quantile(behind, low);
    if (out.good < out.begun) out.most = boost::math::quantile(behind, high);
    out.says = fmt::format("{} of {} work so far (with 90 %: {:.0f} to {:.0f} %)", out.good, out.begun,
                           100 * out.least, 100 * out.most);
    return out;
}

std::vector<LearnedPost> learned_post(const Supply& supply) {
    std::vector<LearnedPost> out;
    for (const auto& o : supply.orders) {
        const auto sent = parse_day(o.ordered), here = parse_day(o.arrived);
        if (!sent || !here || *here < *sent || o.from.empty()) continue;
        const int days = static_cast<int>((*here - *sent).count());
        auto at =
            std::find_if(out.begin(), out.end(), [&](const LearnedPost& p) { return p.from == o.from; });
        if (at == out.end()) {
            out.push_back({o.from, 1, days, days});
            continue;
        }
        ++at->orders;
        at->least_days = std::min(at->least_days, days);
        at->most_days = std::max(at->most_days, days);
    }
    return out;
}

}  // namespace grayrelic
