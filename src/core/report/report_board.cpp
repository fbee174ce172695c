// SPDX-License-Identifier: GPL-3.0-or-later
// Board in the report: both sides, nets, faces, rules.
#include <fmt/format.h>

#include "core/base/text.hpp"
#include "core/fit/board_states.hpp"
#include "core/fit/order_advice.hpp"
#include "core/fit/stack_analysis.hpp"
#include "core/report/fab_figure.hpp"
#include "core/report/fit_figure.hpp"
#include "core/report/html.hpp"
#include "core/report/report_sections.hpp"
#include "core/report/stack_figure.hpp"

namespace grayrelic {
namespace {

using namespace html;

bool has_boards(const Analysis& a) {
    return a.board && !a.board->boards.empty();
}

std::string title_of(const Analysis& a, const FabricationAnalysis& b) {
    for (const auto& f : *a.dossier.boards)
        if (f.id == b.id && !f.title.empty()) return f.title;
    return b.id;
}

void write_boards(const Analysis& a, std::string& out) {
    for (const auto& b : a.board->boards) {
        if (b->read->no_files) continue;
        out += paragraph(e(fmt::format(
            "{}: {:.2f} × {:.2f} mm{}.", title_of(a, *b), b->read->size.width_mm, b->read->size.height_mm,
            b->read->size.from_outline ? "" : ", from the copper, as no outline closes")));
        if (b->read->problem) {
            out += paragraph(e(b->read->problem->message()));
            continue;
        }
        const auto drivers = drivers_of_nets(*b, a.dossier);
        for (const bool back : {false, true})
            out +=
                drawing_svg(draw_board(*b, drivers, back, 700),
                            back ? "The back as it lies on the table" : "The front as it lies on the table");
        Table files({{"File"}, {"Role"}, {"Known by"}, {"Objects", true}});
        for (const auto& f : b->read->files.files)
            files.row({e(f.name), e(std::string(word(f.role))), e(std::string(word(f.from))),
                       fmt::format("{}", f.objects())});
        out += files.html();
    }
}

bool has_compared(const Analysis& a) {
    if (!a.board) return false;
    for (const auto& b : a.board->boards)
        if (b->nets.compared || !b->faces.empty() || !b->footprints.empty()) return true;
    return false;
}

void write_compared(const Analysis& a, std::string& out) {
    for (const auto& b : a.board->boards) {
        if (b->nets.compared)
            out += paragraph(e(fmt::format("{}: {} of {} nets as {} has them.", title_of(a, *b), b->nets.same,
                                           b->nets.named, b->against)));
        Table faces({{"Part"}, {"As"}, {"Is"}});
        for (const auto& f : b->faces)
            faces.row({mark(f.problem.empty() ? f.match.verdict : Verdict::unknown) + e(f.ref),
                       e(f.connector + ", " + std::string(word(f.half))),
                       e(f.problem.empty() ? f.match.why : f.problem)});
        for (const auto& f : b->footprints)
            faces.row({mark(f.match.verdict) + e(f.ref), e(f.package), e(f.match.why)});
        if (!b->faces.empty() || !b->footprints.empty()) out += faces.html();
        for (const auto& f : b->faces)
            if (f.problem.empty() && f.match.verdict == Verdict::stop)
                out += drawing_svg(draw_face_match(f, 520), f.ref + " held against its connector");
    }
}

bool has_rules(const Analysis& a) {
    if (!a.board) return false;
    for (const auto& b : a.board->boards)
        if (b->rules) return true;
    return false;
}

void write_rules(const Analysis& a, std::string& out) {
    for (const auto& b : a.board->boards) {
        if (!b->rules || !b->process) continue;
        out += paragraph(mark(b->rules->makeable ? Verdict::holds : Verdict::stop) +
                         e(fmt::format("{}, {}: {}.", title_of(a, *b), b->process->name,
                                       b->rules->makeable ? "can be made" : "can't be made like this")));
        Table t({{"Rule"}, {"Is, mm", true}, {"Least, mm", true}, {"At, mm", true}, {"What"}, {"File"}});
        std::size_t n = 0;
        for (const auto& v : b->rules->violations) {
            if (++n > most_rows) break;
            t.row({e(std::string(word(v.rule))), fmt::format("{:.3f}", v.mm),
                   fmt::format("{:.2f}", v.limit_mm),
                   fmt::format("{:.2f}, {:.2f}", to_mm(v.at.x), to_mm(v.at.y)), e(v.what), e(v.file)});
        }
        if (!b->rules->violations.empty()) out += t.html();
        if (b->rules->violations.size() > most_rows) out += more_rows(b->rules->violations.size());
        for (const auto& todo : b->rules->to_do) out += paragraph(e("To do: " + todo + "."));
    }
}

bool has_fits(const Analysis& a) {
    for (const auto& b : *a.dossier.boards)
        if (!b.fits.empty() || !b.order.tiers.empty() || !b.outlines.empty()) return true;
    return false;
}

void write_order(const Analysis& a, const Fabrication& b, std::string& out) {
    const auto advice = order_advice(order_question(a, b));
    out += paragraph(
        e(fmt::format("{}; yield {:.0f} %, {}.", advice.says, 100 * advice.yield, advice.yield_from)));
    Table t(
        {{"Boards", true}, {"Price", true}, {"Shipping", true}, {"Enough", true}, {"A working one", true}});
    for (std::size_t i = 0; i < advice.order.rows.size(); ++i) {
        const auto& r = advice.order.rows[i];
        t.row({fmt::format("{}", r.quantity), fmt::format("{:.2f}", b.order.tiers[i].price),
               fmt::format("{:.2f}", b.order.tiers[i].shipping),
               fmt::format("{:.0f} %", 100 * r.chance_of_want), fmt::format("{:.2f}", r.per_working)});
    }
    out += t.html();
    for (const auto& x : advice.extras)
        out += paragraph(e(fmt::format("{}: {:.2f} for the order, {:.2f} a board{}.", x.extra.what,
                                       x.extra.price, x.extra.each,
                                       !x.due   ? "; nobody knows whether it is due"
                                       : *x.due ? ""
                                                : "; not due")));
}

void write_soldering(const Analysis& a, const Fabrication& b, std::string& out) {
    const auto study = solder_study_of(a, b);
    if (!study) return;
    out += paragraph(e(
        fmt::format("{} parts, {} joints{}; all of them come out well in {:.0f} % of the boards.",
                    study->parts.size(), study->joints,
                    study->twice > 0 ? fmt::format(", {} of them the second one of a pin", study->twice) : "",
                    100 * study->chance)));
    for (const auto& t : study->troubles) out += paragraph(mark(t.verdict) + e(t.says + ". " + t.todo));
}

void write_fit(const FitResult& r, std::string& out) {
    out += h3(r.name) + paragraph(mark(r.verdict) + e(r.says + "."));
    if (r.verdict != Verdict::unknown && (r.kind == FitKind::room || r.kind == FitKind::cable))
        out += drawing_svg(draw_fit(r, 520, 300), r.name);
    Table t({{"What"}, {"Does"}, {"mm", true}, {"More", true}, {"Less", true}, {"Evidence"}});
    for (const auto& l : r.lines)
        t.row({e(l.what), e(std::string(word(l.role))), l.mm ? fmt::format("{:g}", *l.mm) : "",
               l.plus > 0 ? fmt::format("{:g}", l.plus) : "", l.minus > 0 ? fmt::format("{:g}", l.minus) : "",
               l.mm ? evidence(l.evidence) : e(l.problem)});
    out += t.html();
}

void write_case(const BoardCase& c, const BoardOutline& edge, std::string& out) {
    const auto verdict = !c.judged ? Verdict::unknown : c.answer.inside ? Verdict::holds : Verdict::stop;
    const auto says = !c.judged ? c.problem + "."
                      : c.answer.inside
                          ? fmt::format("Inside, {:.2f} mm left at the least.", c.answer.least_mm)
                          : fmt::format("Stands out by {:.2f} mm.", -c.answer.least_mm);
    out += h3(c.title) + paragraph(mark(verdict) + e(says));
    if (c.judged) out += drawing_svg(draw_case(c, edge, 420, 300), c.title);
}

void write_fits(const Analysis& a, std::string& out) {
    for (const auto& b : *a.dossier.boards) {
        const auto* board = a.board ? a.board->find(b.id) : nullptr;
        for (const auto& fit : b.fits) write_fit(fit_of(fit, *a.dossier.dimensions, places_in(board)), out);
        if (board != nullptr)
            for (const auto& c : board->cases) write_case(c, board->read->outline, out);
        write_soldering(a, b, out);
        if (!b.order.tiers.empty()) write_order(a, b, out);
    }
}

bool has_stacks(const Analysis& a) {
    return !a.dossier.stacks->empty() || a.dossier.boards->size() > 1;
}

void write_stacks(const Analysis& a, std::string& out) {
    Table states({{"Board"}, {"State"}});
    for (const auto& s : board_states(a.dossier, {})) states.row({e(s.title), e(s.says)});
    out += states.html();
    for (const auto& stack : *a.dossier.stacks) {
        const auto r = stack_of(a, stack);
        out += h3(r.name) + paragraph(mark(r.verdict) + e(r.says + "."));
        out += drawing_svg(draw_stack(r, stack, 560, 420), r.name);
        Table joins({{"From"}, {"To"}, {"How"}, {"Contacts"}});
        for (const auto& j : r.nets.joins)
            joins.row({e(stack.joins[j.join].lower), e(stack.joins[j.join].upper),
                       e(std::string(word(stack.joins[j.join].kind)) +
                         (j.strip.says.empty() ? "" : ": " + j.strip.says)),
                       e(pin_budget(j))});
        if (!r.nets.joins.empty()) out += joins.html();
    }
}

}  // namespace

std::vector<ReportSection> board_sections() {
    return {{Stage::board, "board-files", "Fabrication files", has_boards, write_boards},
            {Stage::board, "board-nets", "Nets and faces", has_compared, write_compared},
            {Stage::board, "board-rules", "Rules", has_rules, write_rules},
            {Stage::board, "board-fit", "Fit and order", has_fits, write_fits},
            {Stage::board, "board-stacks", "Boards together", has_stacks, write_stacks}};
}

}  // namespace grayrelic
