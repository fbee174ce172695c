// SPDX-License-Identifier: GPL-3.0-or-later
// Whether a gate can be passed: breadboard, order, solder, power, plug, publish.
#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "core/base/text.hpp"
#include "core/job/outlook.hpp"
#include "core/plan/plan_analysis.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic {
namespace {

struct FindingGate {
    std::string_view id;
    JobGate gate;
};

/// Before which moment a finding has to be settled. Others hang on their stage (gate_of).
constexpr FindingGate finding_gates[] = {
    {"budget-broken", JobGate::breadboard},   {"network-wrong", JobGate::breadboard},
    {"ground-missing", JobGate::power},       {"outputs-joined", JobGate::power},
    {"supply-astray", JobGate::power},        {"supply-beside-input", JobGate::power},
    {"supply-to-ground", JobGate::power},     {"supply-without-limit", JobGate::power},
    {"unconnected-joined", JobGate::power},   {"donor-dead", JobGate::solder},
    {"donor-heat", JobGate::solder},          {"donor-order", JobGate::solder},
    {"donor-unsettled", JobGate::solder},     {"drawer-unreadable", JobGate::order},
    {"replica-differs", JobGate::publish},    {"rests-on-assumed", JobGate::order},
    {"reading-without-unit", JobGate::order}, {"unit-retired", JobGate::publish},
};

JobGate gate_of(const Finding& f) {
    for (const auto& g : finding_gates)
        if (g.id == f.id) return g.gate;
    switch (f.stage) {
        case Stage::port: return JobGate::plug;
        case Stage::listen: return JobGate::breadboard;
        case Stage::build: return JobGate::power;
        case Stage::log: return JobGate::publish;
        default: return JobGate::order;
    }
}

class GateJudge {
  public:
    GateJudge(const Analysis& a, const Outlook& so_far) : a_(a), o_(so_far), d_(a.dossier) {
        for (const auto g : all_of<JobGate>()) gates_[static_cast<std::size_t>(g)].gate = g;
    }

    std::vector<GateState> all() {
        for (const auto& f : a_.findings)
            if (f.severity != Severity::note && !asked_by_kind(f))
                block(gate_of(f), f.severity == Severity::stop ? Verdict::stop : Verdict::doubt, f.says,
                      f.stage, f.place);
        breadboard();
        order();
        solder();
        built();
        publish();
        for (auto& g : gates_) finish(g);
        return {gates_.begin(), gates_.end()};
    }

  private:
    /// The kind asks for the same in better words, and that question stands at its gate.
    [[nodiscard]] bool asked_by_kind(const Finding& f) const {
        if (o_.kind == nullptr) return false;
        for (const auto& q : o_.kind->questions)
            if (q.finding == f.id + ' ' + f.subject && o_.questions.find("kind " + q.id) != nullptr)
                return true;
        return false;
    }
    void block(JobGate g, Verdict v, std::string says, Stage stage, FindingPlace place) {
        gates_[static_cast<std::size_t>(g)].blocked_by.push_back(
            {v, std::move(says), stage, std::move(place)});
    }
    void wait(JobGate g, std::string says, Stage stage, FindingPlace place = {}) {
        block(g, Verdict::unknown, std::move(says), stage, std::move(place));
    }

    [[nodiscard]] bool needs(Stage s) const { return stage_needed(*d_.plan, o_.kind, s); }

    void breadboard() {
        const auto g = JobGate::breadboard;
        if (needs(Stage::port) && d_.ports->empty()) wait(g, "no port yet", Stage::port);
        if (!needs(Stage::timing)) return;
        if (d_.timing->options.empty()) return wait(g, "no way to build yet", Stage::timing);
        const auto* chosen = a_.find_option(d_.timing->chosen);
        if (chosen == nullptr) return wait(g, "no way to build is chosen", Stage::timing);
        if (chosen->verdict == Verdict::unknown)
            wait(g, chosen->option.name + " is not judged yet", Stage::timing, {"option", chosen->option.id});
    }

    void order() {
        const auto g = JobGate::order;
        for (const auto& m : o_.musts) {
            if (m.verdict == Verdict::holds) continue;
            // What is open blocks as well: nobody knows that it will be met.
            const bool open = m.verdict == Verdict::unknown;
            block(g, m.verdict == Verdict::doubt ? Verdict::doubt : Verdict::stop,
                  fmt::format("{}: {}",
                              open                         ? "must, open"
                              : m.verdict == Verdict::stop ? "must, not met"
                                                           : "must",
                              m.must.says),
                  Stage::plan, {"must", m.must.id});
        }
        for (const auto& q : o_.questions.open) {
            const bool of_finding = q.id.starts_with("finding ");
            if (q.at_stake == AtStake::little || (of_finding && !q.decides())) continue;
            // Nobody knows: shut. Somebody assumed it: at a risk.
            if (q.decides())
                block(g, Verdict::stop, q.says, q.stage, {"question", q.id});
            else if (q.chance >= chance_of(Grade::assumed))
                block(g, Verdict::doubt, q.says, q.stage, {"question", q.id});
        }
        const auto& parts = a_.plan->parts;
        if (parts.rows.empty()) wait(g, "no parts list yet", Stage::plan, {"part", {}});
        for (const auto& gap : parts.gaps) block(g, Verdict::doubt, gap, Stage::plan, {"part", {}});
    }

    void solder() {
        const auto g = JobGate::solder;
        long missing = 0, in_post = 0;
        for (const auto& r : a_.plan->parts.rows) {
            missing += r.state == PartState::order || r.state == PartState::undecided ? 1 : 0;
            in_post += r.state == PartState::ordered ? 1 : 0;
        }
        if (a_.plan->parts.rows.empty()) return wait(g, "no parts list yet", Stage::plan, {"part", {}});
        if (missing > 0)
            wait(g, plural(missing, "part is not ordered", "parts are not ordered"), Stage::plan,
                 {"part", {}});
        if (in_post > 0)
            wait(g, plural(in_post, "part is in the post", "parts are in the post"), Stage::plan,
                 {"part", {}});
    }

    /// Power and plug: something must be there to be powered.
    void built() {
        const int revision = d_.about->revision;
        // A board of an earlier revision says nothing of this one's joints.
        const auto there = [&](const JobUnit& u) {
            return (u.state == UnitState::built || u.state == UnitState::spoken_for) &&
                   u.revision.value_or(revision) == revision;
        };
        const auto breadboarded = [&](const JobUnit& u) { return u.state == UnitState::breadboard; };
        const bool any = std::any_of(d_.units->begin(), d_.units->end(), there);
        const bool bread = std::any_of(d_.units->begin(), d_.units->end(), breadboarded);
        gates_[static_cast<std::size_t>(JobGate::breadboard)].behind = any || bread;
        for (const auto g : {JobGate::order, JobGate::solder})
            gates_[static_cast<std::size_t>(g)].behind = any;
        const bool only_bread = d_.supply->boards == 0 && bread;
        for (const auto g : {JobGate::power, JobGate::plug, JobGate::publish})
            if (!any && !only_bread)
                wait(g,
                     revision > 1 ? fmt::format("nothing of revision {} is built yet", revision)
                                  : "nothing is built yet",
                     Stage::plan, {"unit", {}});
        // A board that nobody has measured is not known to be fit for power.
        const auto resistance = [&](const MeterReading& r) {
            const auto* unit = d_.find_unit(r.unit);
            return r.kind == MeterReadingKind::ohms && r.set_aside.empty() && unit != nullptr &&
                   (there(*unit) || (only_bread && breadboarded(*unit)));
        };
        if ((any || only_bread) && std::none_of(d_.readings->begin(), d_.readings->end(), resistance))
            wait(JobGate::power, "no resistance of its rails is on record: measure it, and say on which unit",
                 Stage::trace);
        // Readings under power have no place in a dossier before Build: nobody can tell from here.
        if (any || only_bread)
            wait(JobGate::plug,
                 "its rails under power are not on record: measure them with nothing plugged in", Stage::plan,
                 {"unit", {}});
        const bool relic = std::any_of(d_.ports->begin(), d_.ports->end(),
                                       [](const Port& p) { return p.side == Side::relic; });
        if (needs(Stage::port) && !relic) wait(JobGate::plug, "no port of the relic yet", Stage::port);
        for (const auto& q : o_.questions.open)
            if (q.at_stake == AtStake::relic && q.chance >= chance_of(Grade::assumed))
                block(JobGate::plug, q.decides() ? Verdict::stop : Verdict::doubt, q.says, q.stage,
                      {"question", q.id});
    }

    void publish() {
        const auto g = JobGate::publish;
        if (o_.musts.empty()) wait(g, "no must says what it has to do", Stage::plan, {"must", {}});
        for (const auto& m : o_.musts)
            if (m.verdict != Verdict::holds)
                block(g, m.verdict, "must, not shown: " + m.must.says, Stage::plan, {"must", m.must.id});
        if (d_.about->purpose.empty())
            block(g, Verdict::doubt, "the job's purpose is not said", Stage::plan, {"job", "Purpose"});
        for (const auto& w : d_.plan->ways)
            if (w.kind == WayKind::adapt && w.licence.empty())
                block(g, Verdict::doubt, fmt::format("{}: its licence is not known", w.says), Stage::plan,
                      {"way", w.id});
        long nameless = 0;
        const auto look = [&](const Evidence& e) {
            nameless += e.kind == EvidenceKind::documented && e.source.empty() ? 1 : 0;
        };
        for (const auto& p : *d_.ports)
            for (const auto& pin : p.pins) {
                look(pin.name.evidence);
                look(pin.driver.evidence);
                look(pin.function.evidence);
                look(pin.family.evidence);
            }
        for (const auto& m : *d_.dimensions) look(m.mm.evidence);
        if (nameless > 0)
            block(g, Verdict::doubt,
                  plural(nameless, "documented fact does not say where", "documented facts do not say where"),
                  Stage::port, {});
    }

    void finish(GateState& g) {
        g.needed = o_.kind == nullptr || o_.kind->has(g.gate);
        // One thing blocks once, however many ask for it.
        std::vector<Blocker> once;
        for (auto& b : g.blocked_by)
            if (std::none_of(once.begin(), once.end(), [&](const Blocker& x) { return x.says == b.says; }))
                once.push_back(std::move(b));
        g.blocked_by = std::move(once);
        const auto rank = [](const Blocker& b) {
            return b.verdict == Verdict::stop ? 0 : b.verdict == Verdict::doubt ? 1 : 2;
        };
        std::stable_sort(g.blocked_by.begin(), g.blocked_by.end(),
                         [&](const Blocker& x, const Blocker& y) { return rank(x) < rank(y); });
        g.verdict = Verdict::holds;
        for (const auto& b : g.blocked_by) g.verdict = worse(g.verdict, b.verdict);
        // Not reached is not open at a risk: what is only in doubt waits with it.
        const bool waits = !g.blocked_by.empty() && g.blocked_by.back().verdict == Verdict::unknown;
        if (waits && g.verdict == Verdict::doubt) g.verdict = Verdict::unknown;
        for (const auto& o : d_.plan->overrides)
            if (o.gate == g.gate) g.passed_with = o.reason;
        if (!g.passed_with.empty() && g.verdict != Verdict::holds) g.verdict = Verdict::doubt;
        if (!g.needed) {
            g.blocked_by.clear();
            g.verdict = Verdict::holds;
        }
    }

    const Analysis& a_;
    const Outlook& o_;
    const Dossier& d_;
    std::array<GateState, words_of<JobGate>.size()> gates_;
};

}  // namespace

std::vector<GateState> judge_gates(const Analysis& a, const Outlook& so_far) {
    return GateJudge(a, so_far).all();
}

}  // namespace grayrelic
