// SPDX-License-Identifier: GPL-3.0-or-later
// Build in the report, to be printed and ticked at the bench: order of work, joint sheet, wires, holds,
// symptoms.
#include <fmt/format.h>
#include <fmt/ranges.h>

#include "core/build/hand_wires.hpp"
#include "core/build/unit_state.hpp"
#include "core/diagnose/fault_book.hpp"
#include "core/diagnose/holds.hpp"
#include "core/report/html.hpp"
#include "core/report/report_sections.hpp"

namespace grayrelic {
namespace {

using namespace html;

const char* const tick = "\u2610 ";
/// What a symptom table lists of a row.
constexpr std::size_t most_named = 6;
/// Symptoms of a larger board take too long to be worked out while a report is written.
constexpr std::size_t most_nets_in_report = 120;

bool has_units(const Analysis& a) {
    return a.data && !a.dossier.builds->empty();
}

std::string unit_name(const Analysis& a, const UnitBuild& b) {
    const auto* unit = a.dossier.find_unit(b.id);
    return unit == nullptr || unit->name.empty() ? b.id : unit->name;
}

void write_order(const Analysis& a, std::string& out) {
    for (const auto& b : *a.dossier.builds) {
        const auto bench = unit_on_bench(a, b);
        if (!bench) continue;
        out += paragraph(e(
            fmt::format("{}: {} of {} parts are on.", unit_name(a, b), bench->fitted, bench->parts.size())));
        Table steps({{"Step"}, {"What"}, {"How"}, {"Check"}});
        for (const auto& s : bench->plan.steps) {
            std::string checks;
            for (const auto& c : s.checks) checks += (checks.empty() ? "" : "<br>") + e(tick + c.says);
            steps.row({e(fmt::format("{}{}", tick, s.n)), e(s.what + ". " + s.why), e(s.how), checks});
        }
        out += steps.html();
    }
}

void write_joints(const Analysis& a, std::string& out) {
    for (const auto& b : *a.dossier.builds) {
        const auto bench = unit_on_bench(a, b);
        if (!bench) continue;
        out += paragraph(
            e(fmt::format("{}: {} lines prove {} joints; {} are as they should be, {} not.", unit_name(a, b),
                          bench->joints.size(), bench->sheet.proven, bench->proven, bench->wrong)));
        Table lines({{"From"}, {"To"}, {"Expect"}, {"Was"}, {"Of"}});
        for (const auto& j : bench->joints)
            lines.row({mark(j.verdict) + e(j.line.a), e(j.line.b), e(std::string(word(j.line.expect))),
                       e(!j.beeped   ? tick
                         : *j.beeped ? "beep"
                                     : "open"),
                       e(j.line.why)});
        out += lines.html();
    }
}

void write_holds(const Analysis& a, std::string& out) {
    for (const auto& b : *a.dossier.builds) {
        const auto board = bench_board(a, b.board, b.variant);
        if (!board) continue;
        const auto bench = unit_on_bench(a, b);
        const auto up = bring_up(holds_of(a, *board), b, bench ? &*bench : nullptr);
        out += paragraph(e(
            fmt::format("{}: {}.", unit_name(a, b),
                        up.may_power ? "the rails are no short" : "no power before each rail was measured")));
        Table points({{"Hold"}, {"At"}, {"Expected"}, {"Was"}, {"From"}});
        for (std::size_t i = 0; i < up.holds.size(); ++i)
            for (std::size_t k = 0; k < up.holds[i].points.size(); ++k) {
                const auto& p = up.holds[i].points[k];
                const auto& s = up.states[i].points[k];
                points.row({k == 0 ? mark(up.states[i].verdict) + e(up.holds[i].name) : "", e(p.what),
                            e(p.expected), e(s.says.empty() ? tick : s.says), e(p.because)});
            }
        out += points.html();
        for (std::size_t i = 0; i < up.holds.size(); ++i)
            if (!up.states[i].reason.empty())
                out += paragraph(
                    e(fmt::format("{} was passed all the same: {}", up.holds[i].name, up.states[i].reason)));
    }
}

/// Each board that has units once.
std::vector<const UnitBuild*> one_of_each(const Analysis& a) {
    std::vector<const UnitBuild*> out;
    for (const auto& b : *a.dossier.builds) {
        bool known = false;
        for (const auto* o : out) known = known || (o->board == b.board && o->variant == b.variant);
        if (!known) out.push_back(&b);
    }
    return out;
}

void write_wires(const Analysis& a, std::string& out) {
    for (const auto* b : one_of_each(a)) {
        const auto board = build_board(a, b->board, b->variant);
        if (!board) continue;
        Table wires({{"From"}, {"To"}, {"Net"}, {"Called"}, {"Colour"}});
        for (const auto& w : hand_wires(a, *board))
            wires.row({e(tick + w.from), e(w.to), e(w.net), e(w.label), e(w.colour)});
        if (wires.empty()) continue;
        out += paragraph(e(fmt::format("{}, wired by hand:", board->title)));
        out += wires.html();
    }
}

void write_symptoms(const Analysis& a, std::string& out) {
    for (const auto* b : one_of_each(a)) {
        auto board = bench_board(a, b->board, b->variant);
        if (!board || !board->problem.empty() || board->nets.size() > most_nets_in_report) continue;
        const auto title = board->title;
        Progress progress;
        const auto book = make_fault_book(std::make_shared<const BenchBoard>(std::move(*board)), progress);
        if (!book) continue;
        Table rows({{"You see"}, {"Likeliest"}});
        for (const auto& row : symptom_table(**book)) {
            std::string seen;
            std::vector<std::string> faults;
            for (const auto& s : row.seen) {
                if (seen.size() > 300) {
                    seen += " …";
                    break;
                }
                seen += (seen.empty() ? "" : "; ") + says(s);
            }
            for (const auto f : row.faults)
                if (faults.size() < most_named) faults.push_back((*book)->faults[f].says());
            auto likeliest = fmt::format("{}", fmt::join(faults, "; "));
            if (row.faults.size() > faults.size())
                likeliest += fmt::format("; {} more", row.faults.size() - faults.size());
            rows.row({e(seen.empty() ? "nothing, although something is wrong" : seen), e(likeliest)});
        }
        out += paragraph(e(title + ":"));
        out += rows.html();
    }
}

}  // namespace

std::vector<ReportSection> build_sections() {
    return {{Stage::build, "build-order", "Order of work", has_units, write_order},
            {Stage::build, "build-joints", "Joints", has_units, write_joints},
            {Stage::build, "build-wires", "Wires by hand", has_units, write_wires},
            {Stage::build, "build-holds", "Holds", has_units, write_holds},
            {Stage::build, "build-symptoms", "Symptoms", has_units, write_symptoms}};
}

}  // namespace grayrelic
