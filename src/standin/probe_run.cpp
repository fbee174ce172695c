// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/probe_run.hpp"

#include <algorithm>

#include "core/trace/next_probe.hpp"

namespace grayrelic::standin {
namespace {

Link reading(const std::vector<int>& truth, int a, int b, std::size_t row) {
    const bool joined = truth[static_cast<std::size_t>(a)] == truth[static_cast<std::size_t>(b)];
    return {a, b, joined ? Says::joined : Says::apart, static_cast<int>(row)};
}

void count(ProbeRun& run, const NetState& state) {
    if (run.to_most == 0 && state.proven() >= 0.9) run.to_most = static_cast<long>(run.links.size());
}

}  // namespace

std::vector<int> truth_of(const HiddenBoard& board, const BoardModel& model) {
    std::vector<int> out(model.points.size(), -1);
    for (std::size_t n = 0; n < board.nets.size(); ++n)
        for (const auto& point : board.nets[n].points)
            if (const int p = model.table.find(point); p >= 0)
                out[static_cast<std::size_t>(p)] = static_cast<int>(n);
    return out;
}

ProbeRun probe_by_habit(const BoardModel& model, const std::vector<int>& truth) {
    ProbeRun run;
    const int n = static_cast<int>(model.points.size());
    std::vector<int> order;
    for (const auto kind : {PinKind::ground, PinKind::supply, PinKind::unknown})
        for (int p = 0; p < n; ++p) {
            const auto k = model.points[static_cast<std::size_t>(p)].kind;
            const bool is_rail = k == PinKind::ground || k == PinKind::supply;
            if (is_rail ? k == kind : kind == PinKind::unknown) order.push_back(p);
        }
    std::vector<int> representatives;
    for (const int p : order) {
        bool joined = false;
        for (const int r : representatives) {
            run.links.push_back(reading(truth, p, r, run.links.size()));
            if ((joined = run.links.back().says == Says::joined)) break;
        }
        if (!joined) representatives.push_back(p);
        if (run.to_most == 0) count(run, derive_nets(n, run.links));
    }
    run.to_all = static_cast<long>(run.links.size());
    return run;
}

ProbeRun probe_by_suggestion(const BoardModel& model, const std::vector<int>& truth) {
    ProbeRun run;
    const int n = static_cast<int>(model.points.size());
    const Likelihood prior(model);
    PlanOptions options;
    options.how_many = 24;
    for (;;) {
        auto state = derive_nets(n, run.links);
        count(run, state);
        const auto plan = plan_probes(prior, state, options);
        if (plan.next.empty()) break;
        for (const auto& p : plan.next) {
            run.links.push_back(reading(truth, p.a, p.b, run.links.size()));
            // A beep changes what is worth probing, and so does an open where a join was looked for. Opens
            // that only separate leave the list as it is.
            if (run.links.back().says == Says::joined || p.chance > 0.02) break;
            if (run.to_most == 0) count(run, derive_nets(n, run.links));
        }
    }
    run.to_all = static_cast<long>(run.links.size());
    return run;
}

}  // namespace grayrelic::standin
