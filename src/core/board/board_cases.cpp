// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/board_cases.hpp"

#include <algorithm>

#include "core/base/file_system.hpp"
#include "core/board/board_rules.hpp"
#include "core/dossier/store.hpp"

namespace grayrelic {
namespace {

struct ReadOutline {
    std::optional<Error> problem;
    std::shared_ptr<const OutlineDrawing> drawing;
};

ReadOutline outline_at(const std::filesystem::path& path) {
    ReadOutline out;
    const auto text = disk().read(path, most_outline_bytes);
    if (!text) {
        out.problem = text.error();
        return out;
    }
    auto drawing = read_outline(*text, path.filename().string());
    if (drawing)
        out.drawing = std::make_shared<const OutlineDrawing>(std::move(*drawing));
    else
        out.problem = drawing.error();
    return out;
}

}  // namespace

FileStamp stamp_of(const std::filesystem::path& path) {
    std::error_code code;
    FileStamp s;
    s.changed = std::filesystem::last_write_time(path, code);
    s.size = std::filesystem::is_regular_file(path, code) ? std::filesystem::file_size(path, code) : 0;
    return s;
}

bool judge_cases(const Fabrication& board, const ReadBoard& read, const std::filesystem::path& folder,
                 Memory& memory, MemoryRun& run, std::vector<BoardCase>& into) {
    for (const auto& o : board.outlines) {
        BoardCase c{o.id, o.title.empty() ? o.id : o.title, nullptr, {}, false, {}};
        if (const auto path = outline_path(o, folder)) {
            const auto drawn = memory.recall<ReadOutline>(
                run, "outline " + board.id + "/" + o.id, std::tuple(path->string(), stamp_of(*path)),
                read_weight, [path = *path](Progress&) -> Result<ReadOutline> { return outline_at(path); });
            if (!drawn) return false;
            c.drawing = drawn->drawing;
            if (drawn->problem) c.problem = drawn->problem->message();
        } else {
            c.problem = path.error().message();
        }
        if (c.drawing && read.outline.known()) {
            InsideQuestion q;
            q.turn_deg = o.turn_deg;
            if (o.x_mm && o.y_mm) q.shift = BoardXY{from_mm(*o.x_mm), from_mm(*o.y_mm)};
            c.answer = lies_inside(read.outline.outer, c.drawing->outline, q);
            c.judged = true;
        } else if (c.drawing) {
            c.problem = "the board's own edge is not known";
        }
        into.push_back(std::move(c));
    }
    return true;
}

std::vector<std::pair<std::shared_ptr<const OutlineDrawing>, std::string>> cases_known(
    const std::vector<BoardCase>& cases) {
    std::vector<std::pair<std::shared_ptr<const OutlineDrawing>, std::string>> out;
    out.reserve(cases.size());
    for (const auto& c : cases) out.emplace_back(c.drawing, c.problem);
    return out;
}

BoardProcess extra_limits(const OrderAsk& ask) {
    BoardProcess p;
    for (const auto& x : ask.extras) {
        const auto rule = named<BoardRule>(x.rule);
        if (!rule) continue;
        auto* limit = *rule == BoardRule::track      ? &p.track_mm
                      : *rule == BoardRule::gap      ? &p.gap_mm
                      : *rule == BoardRule::ring     ? &p.ring_mm
                      : *rule == BoardRule::hole     ? &p.hole_mm
                      : *rule == BoardRule::hole_gap ? &p.hole_gap_mm
                                                     : nullptr;
        if (limit != nullptr) *limit = std::max(*limit, x.below_mm);
    }
    return p;
}

}  // namespace grayrelic
