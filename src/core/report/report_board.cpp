// SPDX-License-Identifier: GPL-3.0-or-later
// Board in the report: both sides, nets, faces, rules.
#include <fmt/format.h>

#include "core/base/text.hpp"
#include "core/report/fab_figure.hpp"
#include "core/report/html.hpp"
#include "core/report/report_sections.hpp"

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

}  // namespace

std::vector<ReportSection> board_sections() {
    return {{Stage::board, "board-files", "Fabrication files", has_boards, write_boards},
            {Stage::board, "board-nets", "Nets and faces", has_compared, write_compared},
            {Stage::board, "board-rules", "Rules", has_rules, write_rules}};
}

}  // namespace grayrelic
