// SPDX-License-Identifier: GPL-3.0-or-later
// Volts, currents, losses and verdicts of a tree in one mode, and all of a tree together.
#include "core/electrical/rails_study.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/quantity.hpp"
#include "core/electrical/rail_network.hpp"

namespace grayrelic {
namespace {

constexpr double little_left = 0.1;  ///< of a limit, of a dropout
constexpr double junction_stop_c = 125, junction_doubt_c = 100;
constexpr double same_c = 1e-4;  ///< of figures that are as high as their border

/// Adds a verdict and its reason; the worst one's reason stands first.
void say(Verdict& verdict, std::string& why, Verdict v, const std::string& text) {
    why = why.empty() ? text : worse(v, verdict) == v && v != verdict ? text + " " + why : why + " " + text;
    verdict = worse(verdict, v);
}

/// The solver's smallest resistance is 1 nΩ: what lies below that is not there.
double rounded(double v) {
    return std::round(v * 1e8) / 1e8;
}

void judge_limit(Verdict& verdict, std::string& why, double amps, double limit, const char* whose) {
    if (amps > limit * (1 + 1e-9))
        say(verdict, why, Verdict::stop,
            fmt::format("{} is taken, {} gives {} at most.", amperes_text(amps), whose, amperes_text(limit)));
    else if (amps > limit * (1 - little_left) * (1 + 1e-9))
        say(verdict, why, Verdict::doubt,
            fmt::format("{} of {} is taken: less than a tenth is left.", amperes_text(amps),
                        amperes_text(limit)));
}

class ModeWork {
  public:
    ModeWork(const RailTree& tree, const std::string& mode, double ambient,
             const std::set<std::string>& without)
        : tree_(tree), ambient_(ambient) {
        out_.mode = mode;
        const auto loads = load_currents(tree, mode, without);
        RailCase at;
        at.mode = mode;
        at.off = off_in(tree, mode);
        at.off.insert(without.begin(), without.end());
        out_.off = at.off;
        typical_ = solve_rails(tree, at, loads);
        at.corner = Corner::least;
        least_ = solve_rails(tree, at, loads);
        at.corner = Corner::most;
        most_ = solve_rails(tree, at, loads);
        out_.settled = loads.settled && typical_.settled && least_.settled && most_.settled;
    }

    RailModeFigures take() {
        for (const auto& rail : tree_.rails()) add_rail(rail);
        for (std::size_t i = 0; i < tree_.parts.size(); ++i) add_part(i);
        for (std::size_t i = 0; i < tree_.loads.size(); ++i) add_load(i);
        return std::move(out_);
    }

  private:
    void add_rail(const std::string& name);
    void add_part(std::size_t i);
    void add_load(std::size_t i);
    [[nodiscard]] std::optional<double> limit_of(const std::string& rail) const;

    const RailTree& tree_;
    double ambient_;
    RailSolution typical_, least_, most_;
    RailModeFigures out_;
};

/// Of what feeds the rail: its source; else the part that carries most of it.
std::optional<double> ModeWork::limit_of(const std::string& rail) const {
    if (const auto* s = tree_.find_source(rail)) return s->limit_a;
    std::optional<double> limit;
    double carried = -1;
    for (std::size_t i = 0; i < tree_.parts.size(); ++i) {
        const auto& p = tree_.parts[i];
        if (p.to != rail || typical_.part_a[i] <= carried) continue;
        carried = typical_.part_a[i];
        limit = p.most_a;
    }
    return limit;
}

void ModeWork::add_rail(const std::string& name) {
    RailFigures f;
    f.name = name;
    f.volts = rounded(typical_.volts.at(name));
    f.least = std::min(rounded(least_.volts.at(name)), f.volts);
    f.most = std::max(rounded(most_.volts.at(name)), f.volts);
    for (std::size_t i = 0; i < tree_.parts.size(); ++i)
        if (tree_.parts[i].from == name) f.load_a += std::max(0.0, typical_.part_in_a[i]);
    for (std::size_t i = 0; i < tree_.loads.size(); ++i)
        if (tree_.loads[i].rail == name) f.load_a += typical_.load_a[i];
    f.load_a = rounded(f.load_a);
    f.limit_a = limit_of(name);
    if (f.limit_a) judge_limit(f.verdict, f.why, f.load_a, *f.limit_a, "what feeds it");
    if (!out_.settled)
        say(f.verdict, f.why, Verdict::stop,
            "The loads take more power than the way to them can give: the rail breaks down.");
    out_.rails.push_back(std::move(f));
}

void ModeWork::add_part(std::size_t i) {
    const auto& p = tree_.parts[i];
    RailPartFigures f;
    f.ref = p.ref;
    f.kind = p.kind;
    f.amps = rounded(typical_.part_a[i]);
    f.in_a = rounded(typical_.part_in_a[i]);
    const double in = rounded(typical_.volts.at(p.from)), out = rounded(typical_.volts.at(p.to));
    const bool regulates = p.kind == RailPartKind::linear || p.kind == RailPartKind::switcher;
    switch (p.kind) {
        case RailPartKind::drop: f.loss_w = p.volts * f.amps; break;
        case RailPartKind::switched: f.loss_w = f.amps * f.amps * p.ohm; break;
        case RailPartKind::linear: f.loss_w = f.in_a > 0 ? (in - out) * f.amps + in * p.own_a : 0; break;
        case RailPartKind::switcher:
            f.loss_w = f.in_a > 0 ? std::max(0.0, in * f.in_a - out * f.amps) : 0;
            break;
    }
    if (p.theta) f.junction_c = ambient_ + *p.theta * f.loss_w;
    const double lowest = std::min(rounded(least_.volts.at(p.from)), in);
    if (regulates && p.dropout_v && (p.kind == RailPartKind::linear || *p.dropout_v > 0)) {
        f.headroom_v = lowest - p.volts - *p.dropout_v;
        // A rail that a mode takes away needs no headroom.
        if (in > 1e-3 && *f.headroom_v < -1e-9)
            say(f.verdict, f.why, Verdict::stop,
                fmt::format("At its lowest input of {} it lacks {} to hold {}.", volts_text(lowest),
                            volts_text(-*f.headroom_v), volts_text(p.volts)));
        else if (in > 1e-3 && *f.headroom_v < little_left * *p.dropout_v - 1e-9)
            say(f.verdict, f.why, Verdict::doubt,
                fmt::format("At its lowest input of {} only {} is left above the dropout.",
                            volts_text(lowest), volts_text(std::max(0.0, *f.headroom_v))));
    }
    if (p.kind == RailPartKind::linear && !p.dropout_v)
        say(f.verdict, f.why, Verdict::doubt, "Its dropout is not said: take it from its sheet.");
    if (regulates && !p.most_a)
        say(f.verdict, f.why, Verdict::doubt, "How much it can give is not said: take max from its sheet.");
    if (p.most_a) judge_limit(f.verdict, f.why, f.amps, *p.most_a, "it");
    if (f.junction_c && *f.junction_c > junction_stop_c + same_c)
        say(f.verdict, f.why, Verdict::stop,
            fmt::format("Its junction reaches {:.0f} °C at {:.0f} °C around; 125 °C is too much.",
                        *f.junction_c, ambient_));
    else if (f.junction_c && *f.junction_c > junction_doubt_c + same_c)
        say(f.verdict, f.why, Verdict::doubt,
            fmt::format("Its junction reaches {:.0f} °C at {:.0f} °C around.", *f.junction_c, ambient_));
    out_.parts.push_back(std::move(f));
}

void ModeWork::add_load(std::size_t i) {
    const auto& l = tree_.loads[i];
    RailLoadFigures f{
        l.name,         l.rail, typical_.load_a[i], least_.volts.at(l.rail), most_.volts.at(l.rail),
        Verdict::holds, {}};
    if (l.works_v && typical_.volts.at(l.rail) > 1e-3 && f.least < *l.works_v - 1e-9)
        say(f.verdict, f.why, Verdict::stop,
            fmt::format("It gets {} at the lowest and needs {}.", volts_text(f.least),
                        volts_text(*l.works_v)));
    if (l.dies_v && f.most > *l.dies_v + 1e-9)
        say(f.verdict, f.why, Verdict::stop,
            fmt::format("It gets {} at the highest and endures {}.", volts_text(f.most),
                        volts_text(*l.dies_v)));
    out_.loads.push_back(std::move(f));
}

}  // namespace

RailModeFigures rail_figures(const RailTree& tree, const std::string& mode, double ambient_c) {
    return ModeWork(tree, mode, ambient_c, {}).take();
}

std::vector<RailModeFigures> figures_alone(const RailTree& tree, double ambient_c) {
    std::vector<RailModeFigures> out;
    if (tree.sources.size() < 2) return out;
    for (const auto& s : tree.sources) {
        if (s.harvested) continue;
        std::set<std::string> others;
        for (const auto& o : tree.sources)
            if (o.name != s.name) others.insert(o.name);
        auto figures = ModeWork(tree, {}, ambient_c, others).take();
        figures.mode = s.name + " alone";
        const auto* rail = figures.find_rail(s.name);
        if (rail != nullptr && rail->load_a > 1e-6) out.push_back(std::move(figures));
    }
    return out;
}

Verdict RailModeFigures::verdict() const {
    auto out = settled ? Verdict::holds : Verdict::stop;
    for (const auto& r : rails) out = worse(out, r.verdict);
    for (const auto& p : parts) out = worse(out, p.verdict);
    for (const auto& l : loads) out = worse(out, l.verdict);
    return out;
}

const RailFigures* RailModeFigures::find_rail(std::string_view name) const {
    const auto it = std::find_if(rails.begin(), rails.end(), [&](const auto& r) { return r.name == name; });
    return it == rails.end() ? nullptr : &*it;
}

Verdict SwitchedLoad::verdict() const {
    auto out = worse(lift, resets);
    for (const auto v : {conducts, opens})
        if (v != Verdict::unknown) out = worse(out, v);
    return out;
}

const RailModeFigures* RailStudy::find_mode(std::string_view mode) const {
    const auto it = std::find_if(modes.begin(), modes.end(), [&](const auto& m) { return m.mode == mode; });
    return it == modes.end() ? nullptr : &*it;
}

Verdict RailStudy::verdict() const {
    if (!faults.empty()) return Verdict::stop;
    auto out = Verdict::holds;
    for (const auto& m : modes) out = worse(out, m.verdict());
    for (const auto& m : alone) out = worse(out, m.verdict());
    for (const auto& b : back_feed) out = worse(out, b.verdict);
    for (const auto& i : inrush) out = worse(out, i.verdict);
    for (const auto& o : orders) out = worse(out, o.verdict);
    for (const auto& b : batteries) out = worse(out, b.verdict);
    for (const auto& h : harvests) out = worse(out, h.verdict);
    for (const auto& s : switched) out = worse(out, s.verdict());
    return out;
}

RailStudy study_rails(RailTree tree, double ambient_c) {
    RailStudy out;
    out.tree = std::move(tree);
    out.faults = faults_of(out.tree);
    if (!out.faults.empty() || out.tree.sources.empty()) return out;
    out.modes.push_back(rail_figures(out.tree, {}, ambient_c));
    for (const auto& mode : out.tree.mode_names())
        out.modes.push_back(rail_figures(out.tree, mode, ambient_c));
    out.alone = figures_alone(out.tree, ambient_c);
    out.back_feed = back_feed(out.tree);
    out.inrush = inrush(out.tree);
    out.coming_up = coming_up(out.tree);
    out.orders = judge_orders(out.tree, out.coming_up);
    out.batteries = battery_runs(out.tree);
    out.harvests = harvests(out.tree);
    out.switched = switched_loads(out.tree);
    return out;
}

}  // namespace grayrelic
