// SPDX-License-Identifier: GPL-3.0-or-later
// Board in the report: both sides, nets, faces, rules.
#include <fmt/format.h>

#include "core/base/text.hpp"
#include "core/library/data_library.hpp"
#include "core/report/fab_figure.hpp"
#include "core/report/fit_figure.hpp"
#include "core/report/html.hpp"
#include "core/report/report_sections.hpp"
#include "core/wire/wire_analysis.hpp"

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
        if (!b.fits.empty() || !b.order.tiers.empty()) return true;
    return false;
}

void write_order(const Analysis& a, const Fabrication& b, std::string& out) {
    std::optional<BoardYield> yield;
    if (a.wire && a.data) yield = board_yield(a.wire->solder, a.data->packages);
    const auto advice = order_advice(b.order, a.dossier.supply->boards, yield, b.order.respin);
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
}

void write_fits(const Analysis& a, std::string& out) {
    for (const auto& b : *a.dossier.boards) {
        for (const auto& fit : b.fits) {
            const auto r = fit_of(fit, *a.dossier.dimensions);
            out += h3(r.name) + paragraph(mark(r.verdict) + e(r.says + "."));
            if (r.verdict != Verdict::unknown && r.kind != FitKind::button)
                out += drawing_svg(draw_fit(r, 520, 300), r.name);
            Table t({{"What"}, {"Does"}, {"mm", true}, {"More", true}, {"Less", true}, {"Evidence"}});
            for (const auto& l : r.lines)
                t.row({e(l.what), e(std::string(word(l.role))), l.mm ? fmt::format("{:g}", *l.mm) : "",
                       l.plus > 0 ? fmt::format("{:g}", l.plus) : "",
                       l.minus > 0 ? fmt::format("{:g}", l.minus) : "",
                       l.mm ? evidence(l.evidence) : e(l.problem)});
            out += t.html();
        }
        if (!b.order.tiers.empty()) write_order(a, b, out);
    }
}

}  // namespace

std::vector<ReportSection> board_sections() {
    return {{Stage::board, "board-files", "Fabrication files", has_boards, write_boards},
            {Stage::board, "board-nets", "Nets and faces", has_compared, write_compared},
            {Stage::board, "board-rules", "Rules", has_rules, write_rules},
            {Stage::board, "board-fit", "Fit and order", has_fits, write_fits}};
}

}  // namespace grayrelic
