// SPDX-License-Identifier: GPL-3.0-or-later
// Contract: intervals that other captures of the dossier break, and replicas held against the original.
#include <fmt/format.h>

#include <map>

#include "core/base/quantity.hpp"
#include "core/checks/registry.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic {
namespace {

/// Captures that are no replicas and that an interval is not measured from: there the host or the original
/// does what the contract does not allow, or the contract is too narrow.
void other_captures(const Analysis& a, Findings& out) {
    for (const auto& one : a.timing->breaches) {
        const auto& in = *one;
        const auto* c = a.find_capture(in.capture);
        bool replica = c == nullptr;
        for (const auto& g : a.dossier.timing->golden) replica = replica || g.replica == in.capture;
        if (replica) continue;
        std::map<std::string, std::pair<long, Time>> broken;
        for (const auto& b : in.breaches) {
            auto& entry = broken.try_emplace(b.interval, 0, b.where.from).first->second;
            ++entry.first;
        }
        for (const auto& [id, count] : broken) {
            const auto* f = a.find_figure(id);
            const auto limits = limits_of(*f);
            out.push_back({"contract-broken",
                           Severity::doubt,
                           Stage::timing,
                           fmt::format("interval {} in {}", id, c->ref.id),
                           fmt::format("{} breaks {}", c->ref.title, f->interval.name),
                           fmt::format("{} times outside {} … {}, first at {}.", print_count(count.first),
                                       limits.least ? print(*limits.least) : "any",
                                       limits.most ? print(*limits.most) : "any", print(count.second)),
                           "Measure the interval from this capture too, or find out what is wrong in it.",
                           {"interval", id, count.second}});
        }
    }
}

}  // namespace

void check_contract(const Analysis& a, Findings& out) {
    other_captures(a, out);
    for (const auto& f : a.timing->contract) {
        const auto& i = f->interval;
        if (!i.guard || !f->problem.empty()) continue;
        const auto limits = limits_of(*f);
        const bool crossed = limits.least && limits.most && *limits.least > *limits.most;
        if (crossed || (limits.most && *limits.most < Time{}))
            out.push_back({"contract-broken",
                           Severity::doubt,
                           Stage::timing,
                           "interval " + i.id,
                           fmt::format("{} leaves no room", i.name),
                           fmt::format("Its guard band of {} is wider than the interval.", print(*i.guard)),
                           "Make the guard band smaller.",
                           {"interval", i.id}});
    }
}

void check_golden(const Analysis& a, Findings& out) {
    for (const auto& g : a.timing->golden) {
        Finding f{"replica-differs",     Severity::doubt, Stage::timing, "replica " + g->pair.id, "", "", "",
                  {"golden", g->pair.id}};
        const auto* replica = a.find_capture(g->pair.replica);
        const auto title = replica == nullptr ? g->pair.replica : replica->ref.title;
        if (!g->result) {
            f.says = fmt::format("{} can't be held against the original", title);
            f.why = g->problem + ".";
            f.todo = "Name two captures and which signal is which.";
            out.push_back(std::move(f));
            continue;
        }
        const auto& r = *g->result;
        if (r.verdict == Verdict::holds || r.verdict == Verdict::unknown) continue;
        f.severity = r.verdict == Verdict::stop ? Severity::stop : Severity::doubt;
        f.says = fmt::format("{} departs from the original", title);
        f.why = r.says + ".";
        for (const auto& i : r.intervals)
            if (i.broken > 0)
                f.why += fmt::format(" {}: {} … {}, allowed {} … {}.", i.name, print(i.least), print(i.most),
                                     i.limits.least ? print(*i.limits.least) : "any",
                                     i.limits.most ? print(*i.limits.most) : "any");
        f.todo = r.verdict == Verdict::stop
                     ? "Bring what breaks the contract within it before the replica meets the host."
                     : "See whether the host minds; if not, raise the tolerance and say why.";
        if (r.edges.first_difference) f.place.at = *r.edges.first_difference;
        out.push_back(std::move(f));
    }
}

}  // namespace grayrelic
