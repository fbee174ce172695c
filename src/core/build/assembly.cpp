// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/build/assembly.hpp"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <map>
#include <set>
#include <tuple>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr double fine_pitch_mm = 0.8, unknown_height_mm = 1e3;

/// What decides where a part comes when nothing covers anything: the side, then what kind of joint, then its
/// height.
std::tuple<bool, int, double> rank_of(const BuildPart& p) {
    const int kind = p.surface && p.belly                                         ? 0
                     : p.surface && p.how == SolderClass::hot_air                 ? 1
                     : p.surface && p.pitch_mm > 0 && p.pitch_mm <= fine_pitch_mm ? 2
                     : p.surface                                                  ? 3
                                                                                  : 4;
    // Surface parts of both sides come before the first lead sticks out of the board.
    return {p.back && kind == 4,
            kind < 4 && p.back ? kind + 10
            : kind < 4         ? kind
                               : 20,
            p.height_mm.value_or(unknown_height_mm)};
}

Technique technique_of(const BuildPart& p) {
    if (!p.surface) return Technique::through;
    if (p.belly || p.how == SolderClass::hot_air) return Technique::hot_air;
    if (p.pins.size() <= 2) return Technique::two_irons;
    if (p.pitch_mm > 0 && p.pitch_mm <= fine_pitch_mm) return Technique::drag;
    return Technique::tack;
}

std::string how_words(Technique t, const BuildPart& p) {
    switch (t) {
        case Technique::hot_air:
            return p.belly ? "Paste on all pads, little on the one below the body; lay it on, heat the whole "
                             "until it "
                             "settles; or solder the belly through its hole from behind, once the rows hold."
                           : "Paste on all pads, lay it on, heat the whole until it settles.";
        case Technique::drag:
            return "Flux. Tack one corner, look at the other three, tack the one across. Then drag a wet tip "
                   "along each row.";
        case Technique::tack: return "Tin one pad, slide the part into it, look, then solder the others.";
        case Technique::two_irons:
            return "Tin one pad, hold the part with tweezers, melt it in, then the other end.";
        case Technique::through:
        case Technique::by_hand: break;
    }
    return p.pins.size() > 2
               ? "One corner first; press it flat while that joint is melted; then the one across; then the "
                 "rest."
               : "Bend, push through, spread the leads a little, solder from the other side, cut.";
}

std::string why_words(const BuildPart& p, const std::vector<std::string>& before) {
    if (!before.empty()) return fmt::format("Before {}, which covers its joints.", fmt::join(before, ", "));
    if (p.surface && p.belly) return "A pad lies below its body: nothing may stand beside it yet.";
    if (p.surface && p.pitch_mm > 0 && p.pitch_mm <= fine_pitch_mm)
        return fmt::format("Its pads are {:g} mm apart: the tip needs room around it.", p.pitch_mm);
    if (p.surface) return "Flat on the board, while it still lies flat.";
    if (!p.height_mm) return "Nobody knows how high it is: last.";
    return fmt::format("{:g} mm high: low parts first, so that each lies flat when the board is turned over.",
                       *p.height_mm);
}

std::string hand_words(HandStepKind kind) {
    switch (kind) {
        case HandStepKind::glue:
            return "Rough up and clean both faces, glue, hold it until it is set; no glue on pads.";
        case HandStepKind::insert:
            return "Straight, with the iron on the insert only, flush with the face; let it cool.";
        case HandStepKind::bolt:
            return "By hand first, all of them, then tight across; an insulating washer over tracks.";
        case HandStepKind::cut:
            return "Mark from the template at true size, cut inside the mark, file to it; no chips on the "
                   "board.";
        case HandStepKind::other: break;
    }
    return "By hand.";
}

class Planner {
  public:
    explicit Planner(const BuildBoard& b) : b_(b) {
        for (const auto& p : b_.parts) part_[p.ref] = &p;
        for (const auto& n : b_.neighbours)
            if (ref_in(n.a) == ref_in(n.b)) beside_[std::string(ref_in(n.a))].emplace_back(n.a, n.b);
        for (const auto& c : b_.covered)
            if (part_.count(c.ref) != 0 && part_.count(c.by) != 0 && c.ref != c.by) {
                first_[c.by].insert(c.ref);
                covered_by_[c.ref].insert(c.by);
            }
    }

    AssemblyPlan make() {
        out_.problems = b_.problems;
        // Those that wait for nothing, by rank (Kahn 1962).
        using Rank = decltype(rank_of(BuildPart{}));
        std::set<std::pair<Rank, std::string>> ready, waiting;
        std::map<std::string, std::size_t> open;
        for (const auto& [ref, p] : part_) {
            const auto it = first_.find(ref);
            open[ref] = it == first_.end() ? 0 : it->second.size();
            (open[ref] == 0 ? ready : waiting).emplace(rank_of(*p), ref);
        }
        std::set<std::string> done;
        while (!ready.empty() || !waiting.empty()) {
            auto& from = ready.empty() ? waiting : ready;
            const auto& p = *part_.at(from.begin()->second);
            if (ready.empty()) tell_circle(p, done);
            from.erase(from.begin());
            place(p);
            done.insert(p.ref);
            for (const auto& by : covered_by_[p.ref])
                if (--open[by] == 0 && waiting.erase({rank_of(*part_.at(by)), by}) != 0)
                    ready.emplace(rank_of(*part_.at(by)), by);
        }
        for (auto& s : out_.steps) checks(s);
        by_hand();
        return std::move(out_);
    }

  private:
    /// Before the step of the part that it comes before, else at the end.
    void by_hand() {
        for (const auto& h : b_.hand) {
            AssemblyStep s;
            s.refs = {h.what};
            s.what = h.what;
            s.technique = Technique::by_hand;
            s.why = h.before.empty() ? "At the end, when nothing is soldered any more."
                                     : fmt::format("Before {}, which is in the way afterwards.", h.before);
            s.how = hand_words(h.kind);
            auto at = out_.steps.end();
            for (auto it = out_.steps.begin(); it != out_.steps.end() && !h.before.empty(); ++it)
                if (at == out_.steps.end() &&
                    std::find(it->refs.begin(), it->refs.end(), h.before) != it->refs.end())
                    at = it;
            if (!h.before.empty() && at == out_.steps.end())
                out_.problems.push_back(fmt::format("{}: there is no part {}", h.what, h.before));
            out_.steps.insert(at, std::move(s));
        }
        for (std::size_t i = 0; i < out_.steps.size(); ++i) out_.steps[i].n = static_cast<int>(i) + 1;
    }

    /// Parts that cover each other's joints can't be soldered in any order.
    void tell_circle(const BuildPart& p, const std::set<std::string>& done) {
        std::vector<std::string> open;
        for (const auto& r : first_[p.ref])
            if (done.count(r) == 0) open.push_back(r);
        out_.problems.push_back(
            fmt::format("{} covers joints of {}, and the other way round: in no order can both be soldered",
                        p.ref, fmt::join(open, ", ")));
    }

    /// Parts of one kind that follow each other are one step.
    void place(const BuildPart& p) {
        const auto& over = covered_by_[p.ref];
        const std::vector<std::string> before(over.begin(), over.end());
        const auto why = why_words(p, before);
        if (!out_.steps.empty() && before.empty()) {
            auto& last = out_.steps.back();
            const auto& other = *part_.at(last.refs.front());
            if (last.why == why && other.part == p.part && other.package == p.package &&
                other.back == p.back) {
                last.refs.push_back(p.ref);
                last.what = title_of(p, last.refs);
                return;
            }
        }
        AssemblyStep s;
        s.n = static_cast<int>(out_.steps.size()) + 1;
        s.refs = {p.ref};
        s.what = title_of(p, s.refs);
        s.why = why;
        s.technique = technique_of(p);
        s.how = how_words(s.technique, p);
        out_.steps.push_back(std::move(s));
    }

    static std::string title_of(const BuildPart& p, const std::vector<std::string>& refs) {
        return fmt::format("{}: {}{}{}", fmt::join(refs, ", "), p.part,
                           p.package.empty() ? "" : ", " + p.package, p.back ? ", on the back" : "");
    }

    void checks(AssemblyStep& s) {
        const auto& p = *part_.at(s.refs.front());
        if (s.technique == Technique::drag || s.technique == Technique::hot_air)
            s.checks.push_back(
                {"Before the rest is soldered: pin 1, and two corners across each other lie on their pads.",
                 {}});
        AssemblyCheck shorts;
        for (const auto& ref : s.refs)
            if (const auto it = beside_.find(ref); it != beside_.end())
                shorts.points.insert(shorts.points.end(), it->second.begin(), it->second.end());
        if (!shorts.points.empty() && p.pins.size() > 3) {
            shorts.says = plural(static_cast<long long>(shorts.points.size()), "pair of neighbours",
                                 "pairs of neighbours") +
                          " may not beep.";
            s.checks.push_back(std::move(shorts));
        }
        const bool one = s.refs.size() == 1;
        if (b_.values.count(p.ref) != 0)
            s.checks.push_back(
                {fmt::format("Read or measure {} before {} fitted: {}.", one ? "its value" : "each value",
                             one ? "it is" : "they are", p.part),
                 {}});
        if (!p.way_round.empty())
            s.checks.push_back({fmt::format("Mind which way round {}; pin 1: {}.",
                                            one ? "it lies" : "they lie", p.way_round),
                                {}});
        std::set<std::string> hides;
        for (const auto& ref : s.refs)
            if (const auto it = first_.find(ref); it != first_.end())
                hides.insert(it->second.begin(), it->second.end());
        if (!hides.empty())
            s.checks.push_back(
                {fmt::format("Before it is set: the joints of {} below it are looked at and beeped.",
                             fmt::join(hides, ", ")),
                 {}});
    }

    const BuildBoard& b_;
    std::map<std::string, const BuildPart*> part_;
    std::map<std::string, std::set<std::string>> first_;       ///< by part: those whose joints it covers
    std::map<std::string, std::set<std::string>> covered_by_;  ///< the other way round
    std::map<std::string, std::vector<std::pair<std::string, std::string>>>
        beside_;  ///< neighbours on one part
    AssemblyPlan out_;
};

}  // namespace

std::size_t AssemblyPlan::step_of(const std::string& ref) const {
    for (std::size_t i = 0; i < steps.size(); ++i)
        if (std::find(steps[i].refs.begin(), steps[i].refs.end(), ref) != steps[i].refs.end()) return i + 1;
    return 0;
}

AssemblyPlan plan_assembly(const BuildBoard& board) {
    return Planner(board).make();
}

}  // namespace grayrelic
