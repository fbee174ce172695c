// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/build/unit_state.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/quantity.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {
namespace {

/// Beyond a marked tolerance a meter may be off by so much.
constexpr double meter_share = 0.02, far_off = 1.5;

std::string ratio_words(double ratio) {
    for (const auto& [by, says] : {std::pair(10.0, "ten times what was drawn: a decade slip"),
                                   {100.0, "a hundred times what was drawn"},
                                   {1000.0, "a thousand times what was drawn"},
                                   {0.1, "a tenth of what was drawn: a decade slip"},
                                   {0.01, "a hundredth of what was drawn"},
                                   {0.001, "a thousandth of what was drawn"}})
        if (std::abs(ratio / by - 1) < 0.1) return says;
    return fmt::format("{:.3g} times what was drawn", ratio);
}

/// What the value that rests on the part becomes.
std::string consequence_of(const Analysis& a, const std::string& ref, double fitted) {
    if (!a.wire) return {};
    for (const auto& study : a.wire->values)
        for (const auto& part : study.fits) {
            if (part.ref != ref || !study.kind) continue;
            auto inputs = study.inputs;
            inputs[part.key] = fitted;
            const auto result = compute_value(*study.kind, inputs, study.series);
            const auto name = study.value.name.empty() ? study.value.id : study.value.name;
            if (!result) return name + ": " + result.error().message();
            const auto* figure = result->find(result->main);
            if (figure == nullptr || !result->main_value()) return {};
            return fmt::format("{}: {} becomes {}{}", name, figure->label,
                               print_measure(*result->main_value(), figure->measure),
                               result->why.empty() ? "" : "; " + result->why);
        }
    return {};
}

}  // namespace

namespace {

bool fits_drawn(double v, double drawn, double share) {
    return drawn == 0 ? v == 0 : std::abs(v / drawn - 1) <= share;
}

/// One of the ways in which it can be read is enough; what is measured decides between them.
void judge_marking(const FittedPart& f, double drawn, MarkedAs as, double tolerance, ValueOnPart& out) {
    const auto values = read_marking(f.marking, as);
    if (!values) {
        out.says = values.error().message();
        return;
    }
    const MarkedValue* best = nullptr;
    for (const auto& v : *values)
        if (v.as == as &&
            (best == nullptr || (!fits_drawn(best->value, drawn, 1e-6) && fits_drawn(v.value, drawn, 1e-6))))
            best = &v;
    if (best == nullptr) {
        out.says = "its marking is of another kind of part";
        out.verdict = Verdict::doubt;
        return;
    }
    out.value = best->value;
    out.verdict = fits_drawn(best->value, drawn, 1e-6) ? Verdict::holds : Verdict::stop;
    if (out.verdict != Verdict::holds) return;
    if (drawn > 0 && best->tolerance && *best->tolerance > tolerance + 1e-9) {
        out.verdict = Verdict::doubt;
        out.says =
            fmt::format("{} wide, {} was drawn", print_share(*best->tolerance), print_share(tolerance));
    } else if (values->size() > 1 && !f.measured) {
        out.verdict = Verdict::doubt;
        out.says = "read from the other end it is " +
                   print_marked(best == &values->front() ? (*values)[1] : values->front()) + ": measure it";
    }
}

void judge_measured(double measured, double drawn, double tolerance, ValueOnPart& out) {
    out.value = measured;
    const bool near = drawn > 0 && measured > 0 && measured / drawn < far_off && drawn / measured < far_off;
    const bool well = fits_drawn(measured, drawn, tolerance + meter_share);
    out.verdict = well ? Verdict::holds : near ? Verdict::doubt : Verdict::stop;
    out.says.clear();
}

}  // namespace

ValueOnPart judge_fitted(const FittedPart& f, double drawn, bool farads, double tolerance) {
    ValueOnPart out;
    if (!f.marking.empty())
        judge_marking(f, drawn, farads ? MarkedAs::farads : MarkedAs::ohms, tolerance, out);
    if (f.measured) judge_measured(*f.measured, drawn, tolerance, out);
    if (out.verdict == Verdict::stop || (out.verdict == Verdict::doubt && out.says.empty()))
        out.says = drawn > 0 ? ratio_words(out.value / drawn) : "a bridge was drawn";
    return out;
}

namespace {

PartOnUnit part_on_unit(const Analysis& a, const UnitBuild& build, const BuildBoard& board,
                        const std::string& ref, int step) {
    PartOnUnit p;
    p.ref = ref;
    p.step = step;
    const auto* f = build.find_part(ref);
    p.fitted = f != nullptr;
    const auto it = board.values.find(ref);
    if (f == nullptr || it == board.values.end() || (f->marking.empty() && !f->measured)) return p;
    const auto judged = judge_fitted(*f, it->second.value, it->second.farads, it->second.tolerance);
    p.verdict = judged.verdict;
    p.says = judged.says;
    p.as_fitted = print_number(judged.value, it->second.farads ? Unit::farad : Unit::ohm);
    if (judged.verdict == Verdict::stop && board.of_wire)
        p.consequence = consequence_of(a, ref, judged.value);
    return p;
}

/// The last word of the meter between two points of a unit, in either order.
using Beeps = std::map<std::pair<std::string, std::string>, bool>;
Beeps beeps_of(const Dossier& d, const std::string& unit) {
    Beeps out;
    for (const auto& r : *d.readings)
        if (r.unit == unit && r.set_aside.empty() &&
            (r.kind == MeterReadingKind::beep || r.kind == MeterReadingKind::open))
            out[std::minmax(r.a, r.b)] = r.kind == MeterReadingKind::beep;
    return out;
}

JointOnUnit joint_on_unit(const Beeps& beeps, const JointLine& line) {
    JointOnUnit j{line, std::nullopt, Verdict::unknown};
    const auto it = beeps.find(std::minmax(line.a, line.b));
    if (it == beeps.end()) return j;
    j.beeped = it->second;
    j.verdict = it->second == (line.expect == JointExpect::beep) ? Verdict::holds : Verdict::stop;
    return j;
}

}  // namespace

std::optional<UnitOnBench> unit_on_bench(const Analysis& a, const UnitBuild& build) {
    auto board = build_board(a, build.board, build.variant);
    if (!board) return std::nullopt;
    UnitOnBench out;
    out.unit = build.id;
    out.board = std::move(*board);
    out.plan = plan_assembly(out.board);
    out.sheet = joint_sheet(out.board, out.plan);
    for (const auto& step : out.plan.steps)
        for (const auto& ref : step.refs) {
            out.parts.push_back(part_on_unit(a, build, out.board, ref, step.n));
            out.fitted += out.parts.back().fitted ? 1 : 0;
            if (!out.parts.back().fitted && !out.next_step) out.next_step = step.n;
        }
    const auto beeps = beeps_of(a.dossier, build.id);
    out.joints.reserve(out.sheet.lines.size());
    for (const auto& line : out.sheet.lines) {
        out.joints.push_back(joint_on_unit(beeps, line));
        out.proven += out.joints.back().verdict == Verdict::holds ? 1 : 0;
        out.wrong += out.joints.back().verdict == Verdict::stop ? 1 : 0;
    }
    for (std::size_t i = 0; out.next_step && i < out.joints.size(); ++i)
        if (!out.joints[i].beeped && out.joints[i].line.before == *out.next_step) out.due.push_back(i);
    return out;
}

}  // namespace grayrelic
