// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/questions.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

#include "core/base/text.hpp"
#include "core/dossier/pin_fields.hpp"
#include "core/plan/plan_analysis.hpp"

namespace grayrelic {
namespace {

constexpr double least_minutes = 0.5;

/// What a finding asks, beside its own words.
struct FindingTraits {
    std::string_view id;
    Grade grade;
    AtStake at_stake;
    double minutes;
};

/// Findings that say what will fail are no questions: they stand at their gate (gates.cpp). These say what
/// nobody knows.
constexpr FindingTraits finding_traits[] = {
    {"budget-broken", Grade::assumed, AtStake::respin, 30},
    {"capture-guessed", Grade::assumed, AtStake::respin, 5},
    {"circuit-supply", Grade::missing, AtStake::respin, 5},
    {"clock-margin", Grade::assumed, AtStake::respin, 20},
    {"contract-broken", Grade::contradicted, AtStake::respin, 30},
    {"decode-errors", Grade::unproven, AtStake::respin, 20},
    {"dimension-assumed", Grade::assumed, AtStake::respin, 10},
    {"donor-unsettled", Grade::missing, AtStake::little, 10},
    {"ground-missing", Grade::missing, AtStake::relic, 5},
    {"line-chatters", Grade::unproven, AtStake::respin, 15},
    {"line-floating", Grade::unproven, AtStake::respin, 10},
    {"line-rings", Grade::unproven, AtStake::respin, 15},
    {"line-twitches", Grade::unproven, AtStake::respin, 15},
    {"link-unknown", Grade::missing, AtStake::respin, 15},
    {"net-split", Grade::contradicted, AtStake::respin, 5},
    {"netlist-unproven", Grade::unproven, AtStake::respin, 20},
    {"part-unknown", Grade::missing, AtStake::respin, 15},
    {"parts-incomplete", Grade::missing, AtStake::respin, 15},
    {"points-missing", Grade::unproven, AtStake::respin, 10},
    {"reading-without-unit", Grade::unproven, AtStake::respin, 10},
    {"readings-contradict", Grade::contradicted, AtStake::respin, 5},
    {"replica-differs", Grade::unproven, AtStake::respin, 20},
    {"rests-on-assumed", Grade::assumed, AtStake::respin, 20},
    {"rests-on-one-reading", Grade::unproven, AtStake::respin, 2},
    {"sample-rate-low", Grade::unproven, AtStake::respin, 15},
    {"scan-contradicts", Grade::contradicted, AtStake::respin, 10},
    {"scan-unknown", Grade::missing, AtStake::respin, 15},
    {"source-contradicts", Grade::contradicted, AtStake::relic, 10},
    {"supply-without-limit", Grade::missing, AtStake::relic, 15},
    {"threshold-off", Grade::unproven, AtStake::respin, 10},
};

const FindingTraits* traits_of(std::string_view id) {
    const auto* at = std::find_if(std::begin(finding_traits), std::end(finding_traits),
                                  [&](const auto& t) { return t.id == id; });
    return at == std::end(finding_traits) ? nullptr : at;
}

class Gatherer {
  public:
    explicit Gatherer(const Analysis& a) : a_(a), stakes_(stakes_of(a)) {
        for (const auto& q : a.dossier.plan->questions) said_[q.id] = &q;
    }

    Questions all() {
        if (const auto* k = a_.data ? a_.data->jobs.find(a_.dossier.plan->kind) : nullptr)
            for (const auto& asked : k->questions) covered_.insert("finding " + asked.finding);
        pins();
        findings();
        parts();
        kind();
        typed();
        auto& open = out_.open;
        std::stable_sort(open.begin(), open.end(), [](const OpenQuestion& x, const OpenQuestion& y) {
            if (x.before_all != y.before_all) return x.before_all;
            const double a = x.before_all ? x.chance / x.minutes : x.per_minute();
            const double b = y.before_all ? y.chance / y.minutes : y.per_minute();
            if (a != b) return a > b;
            const double c = x.chance / x.minutes, d = y.chance / y.minutes;
            return c != d ? c > d : x.id < y.id;
        });
        return std::move(out_);
    }

  private:
    /// What asks for the same thing a second time is passed over: a pin is asked for once.
    bool first_for(const FindingPlace& place) {
        return place.id.empty() || asked_.insert(place.kind + ' ' + place.id).second;
    }

    /// What the person says of it goes over what was found.
    void add(OpenQuestion q) {
        const auto said = said_.find(q.id);
        if (said != said_.end()) {
            const auto& p = *said->second;
            used_.insert(q.id);
            if (!p.answer.value.empty() && p.answer.evidence.kind != EvidenceKind::assumed) {
                out_.settled.push_back({q.id, q.says, p.answer});
                return;
            }
            apply(p, q);
        }
        if (q.settled_with && (said == said_.end() || said->second->how.empty()))
            q.how += with_the_bench(*q.settled_with);
        weigh(q, said == said_.end() ? nullptr : said->second);
        out_.open.push_back(std::move(q));
    }

    static void apply(const PlanQuestion& p, OpenQuestion& q) {
        if (!p.says.empty()) q.says = p.says;
        if (!p.how.empty()) q.how = p.how;
        if (p.stage) q.stage = *p.stage;
        if (p.at_stake) q.at_stake = *p.at_stake;
        if (p.minutes) q.minutes = *p.minutes;
        q.tried = p.tried;
        q.assumed = p.answer.value;
        // An answer that is only assumed never makes it worse than no answer.
        if (!p.answer.value.empty()) {
            const double assumed = chance_of(Grade::assumed);
            if (assumed < q.chance) q.grade = Grade::assumed;
            q.chance = std::min(q.chance, assumed);
        }
        if (p.chance) q.chance = *p.chance;
    }

    void weigh(OpenQuestion& q, const PlanQuestion* said) const {
        const auto& s = stakes_;
        q.minutes = std::max(q.minutes, least_minutes);
        const bool board = q.at_stake != AtStake::little;
        const bool kills = q.at_stake == AtStake::relic;
        q.money = said != nullptr && said->money ? *said->money : board ? s.respin_money : s.hour_worth;
        q.days = said != nullptr && said->days ? *said->days : board ? s.respin_days : 0;
        q.before_all = kills && !s.worth && q.chance > 0;
        const double dies = kills ? s.worth.value_or(0) : 0;
        q.loss = q.chance * (q.money + q.days * s.day_worth + dies);
        q.arithmetic = fmt::format("{} × ({:.2f} + {} days × {}{}) = {:.2f}{}", shown(q.chance), q.money,
                                   shown(q.days), shown(s.day_worth),
                                   !kills    ? std::string()
                                   : s.worth ? fmt::format(" + {:.2f} for {}", dies, s.dies)
                                             : fmt::format(" + {}, which has no worth", s.dies),
                                   q.loss, s.currency.empty() ? "" : " " + s.currency);
    }
    /// " Yours: hand meter."; what to do when there is none; nothing while nobody said what is on the bench.
    [[nodiscard]] std::string with_the_bench(InstrumentKind kind) const {
        const auto& all = a_.person->bench.instruments;
        if (all.empty()) return {};
        const auto at =
            std::find_if(all.begin(), all.end(), [&](const Instrument& i) { return i.kind == kind; });
        if (at == all.end()) return fmt::format(" Your bench has no {}: borrow one.", word(kind));
        return fmt::format(" Yours: {}.", at->name.empty() ? std::string(word(kind)) : at->name);
    }
    static std::string shown(double v) { return fmt::format("{:.6g}", v); }

    void findings() {
        for (const auto& f : a_.findings) {
            // What is only noted of the job has no other place on its page.
            static constexpr FindingTraits noted{"", Grade::unproven, AtStake::little, 5};
            const bool note = f.severity == Severity::note;
            const auto* traits = note && f.stage == Stage::plan ? &noted : traits_of(f.id);
            if (traits == nullptr || (note && traits != &noted && f.id != "netlist-unproven")) continue;
            if (covered_.contains("finding " + f.id + ' ' + f.subject)) continue;
            // A pin that is asked for already is not asked for by its finding again.
            if (f.place.kind == "pin" && !first_for(f.place)) continue;
            OpenQuestion q;
            q.id = "finding " + f.id + ' ' + f.subject;
            q.says = f.says;
            q.why = f.why;
            q.how = f.todo;
            q.stage = f.stage;
            q.place = f.place;
            q.grade = traits->grade;
            q.chance = chance_of(q.grade);
            q.at_stake = traits->at_stake;
            q.minutes = traits->minutes;
            if (f.id == "dimension-assumed") q.settled_with = InstrumentKind::caliper;
            if (f.id == "readings-contradict" || f.id == "rests-on-one-reading" || f.id == "netlist-unproven")
                q.settled_with = InstrumentKind::meter;
            add(std::move(q));
        }
    }

    void pins() {
        for (const auto& port : *a_.dossier.ports) {
            if (port.side != Side::relic) continue;
            for (const auto& pin : port.pins)
                if (const auto gap = weakest(pin)) ask_pin(port, pin, *gap);
        }
    }

    struct Gap {
        std::string ask, why, how;
        Grade grade;
        AtStake at_stake;
        double minutes;
    };
    static std::optional<Gap> weakest(const Pin& pin) {
        const auto role = role_of(pin);
        if (role == PinRole::unused) return std::nullopt;
        if (pin.name.value.empty() && role == PinRole::unknown)
            return Gap{"What is {} for?",
                       "Neither a name nor a use is recorded.",
                       "Follow it on the board to the nearest chip, or measure it at rest and in use.",
                       Grade::missing,
                       AtStake::respin,
                       15};
        if (role != PinRole::signal) return rail_gap(pin, role);
        if (pin.driver.value == Driver::unknown)
            return Gap{"Who drives {}?",
                       "Its driver is not recorded.",
                       "Unplug the other side and look whether it still moves.",
                       Grade::missing,
                       AtStake::relic,
                       5};
        const bool level = pin.volts_max.value.has_value() || !pin.family.value.empty();
        if (!level)
            return Gap{"How high does {} go?",
                       "Neither a logic family nor a highest voltage is recorded.",
                       "Measure it with the meter at rest and with each state held.",
                       Grade::missing,
                       AtStake::relic,
                       5};
        const auto& from = pin.volts_max.value ? pin.volts_max.evidence : pin.family.evidence;
        if (from.kind == EvidenceKind::assumed)
            return Gap{"Does {} really stay within what was taken for it?",
                       "Its level was only assumed.",
                       "Measure it with the meter at rest and with each state held.",
                       Grade::assumed,
                       AtStake::relic,
                       5};
        if (pin.driver.evidence.kind == EvidenceKind::assumed)
            return Gap{"Is it right who drives {}?",
                       "Its driver was only assumed.",
                       "Unplug the other side and look whether it still moves.",
                       Grade::assumed,
                       AtStake::relic,
                       5};
        return std::nullopt;
    }
    static std::optional<Gap> rail_gap(const Pin& pin, PinRole role) {
        if (role != PinRole::rail) return std::nullopt;
        const auto volts = rail_volts(pin);
        const auto& from = pin.volts_max.value ? pin.volts_max.evidence : pin.volts_min.evidence;
        if (volts && from.kind != EvidenceKind::assumed) return std::nullopt;
        return Gap{volts ? "Is {}'s voltage what was taken for it?" : "What voltage stands on {}?",
                   volts ? "Its voltage was only assumed." : "No voltage is recorded.",
                   "Measure it with the meter, unloaded and loaded.",
                   volts ? Grade::assumed : Grade::missing,
                   AtStake::relic,
                   3};
    }

    void ask_pin(const Port& port, const Pin& pin, const Gap& gap) {
        OpenQuestion q;
        const auto place = port.id + '/' + pin.number;
        q.place = {"pin", place};
        if (!first_for(q.place)) return;
        q.id = "pin " + place;
        const auto name =
            pin.name.value.empty() ? fmt::format("pin {} of {}", pin.number, port.id) : pin.name.value;
        q.says = fmt::format(fmt::runtime(gap.ask), name);
        q.why = gap.why;
        q.how = gap.how;
        q.stage = Stage::port;
        q.grade = gap.grade;
        q.chance = chance_of(q.grade);
        q.at_stake = gap.at_stake;
        q.minutes = gap.minutes;
        q.settled_with = InstrumentKind::meter;
        add(std::move(q));
    }

    void parts() {
        for (const auto& row : a_.plan->parts.rows) {
            if (row.question.empty()) continue;
            OpenQuestion q;
            q.id = "part " + part_key(row.part);
            q.says = row.question;
            q.why = row.part + " is not to be ordered before.";
            q.stage = Stage::plan;
            q.place = {"part", row.part};
            q.at_stake = AtStake::respin;
            q.grade = Grade::missing;
            q.chance = chance_of(q.grade);
            q.minutes = 10;
            add(std::move(q));
        }
    }

    void kind() {
        const auto* k = a_.data ? a_.data->jobs.find(a_.dossier.plan->kind) : nullptr;
        if (k == nullptr) return;
        for (const auto& asked : k->questions) {
            OpenQuestion q;
            q.id = "kind " + asked.id;
            q.says = asked.ask;
            q.why = "Asked in every job of this kind.";
            q.how = asked.how;
            q.stage = asked.stage;
            q.place = {"question", q.id};
            q.at_stake = asked.at_stake;
            q.chance = chance_of(Grade::missing);
            q.minutes = asked.minutes;
            add(std::move(q));
        }
    }

    /// What was said of a question that is gone is kept in the file, but asks nothing.
    void typed() {
        for (const auto& p : a_.dossier.plan->questions) {
            const bool of_another = p.id.starts_with("finding ") || p.id.starts_with("pin ") ||
                                    p.id.starts_with("part ") || p.id.starts_with("kind ");
            if (used_.contains(p.id) || of_another) continue;
            OpenQuestion q;
            q.id = p.id;
            q.says = p.says.empty() ? p.id : p.says;
            q.why = "Typed.";
            q.place = {"question", p.id};
            q.at_stake = AtStake::respin;
            q.chance = chance_of(Grade::missing);
            add(std::move(q));
        }
    }

    const Analysis& a_;
    Stakes stakes_;
    std::map<std::string_view, const PlanQuestion*> said_;
    std::set<std::string> asked_, used_, covered_;
    Questions out_;
};

}  // namespace

Questions gather_questions(const Analysis& a) {
    return Gatherer(a).all();
}

const OpenQuestion* Questions::find(std::string_view id) const {
    for (const auto& q : open)
        if (q.id == id) return &q;
    return nullptr;
}

}  // namespace grayrelic
