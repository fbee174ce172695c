// SPDX-License-Identifier: GPL-3.0-or-later
// Fabrication files from anybody: layers, drill files, archives, tables of pads, processes. What is read is
// used: joined, netted, judged.
#include <algorithm>

#include "core/board/board_pads.hpp"
#include "core/board/board_rules.hpp"
#include "core/board/face_match.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

namespace {

void use_board(const PackedFolder& folder) {
    Progress progress;
    const auto board = board_of(folder, "fuzz", progress);
    std::size_t objects = 0, corners = 0;
    for (const auto& f : board.files) {
        objects += f.objects();
        if (f.layer) {
            for (const auto& r : f.layer->regions)
                for (const auto& ring : r) corners += ring.size();
            for (const auto& a : f.layer->apertures)
                for (const auto& ring : a.rings) corners += ring.size();
        }
    }
    if (objects > 2'000 || corners > 20'000) return;
    const auto outline = outline_of(board);
    (void)board_size(board, outline);
    const auto copper = copper_of(board, progress);
    if (!copper) return;
    auto pads = pads_of_attributes(board);
    if (pads.empty()) pads = pads_of_netlist(board);
    (void)compare_nets(**copper, pads, {Net{"A", {"J1.1", "J1.2"}}, Net{"B", {"J1.3"}}});
    BoardProcess p;
    p.track_mm = p.gap_mm = p.ring_mm = p.hole_mm = p.hole_gap_mm = p.edge_mm = 0.3;
    p.mask_sliver_mm = 0.1;
    p.silk_on_pad = true;
    p.width_mm = p.height_mm = 100;
    p.plated = false;
    (void)judge_board(board, **copper, outline, p, progress);
    if (!pads.empty()) {
        FaceQuestion q;
        q.ref = pads.front().ref;
        (void)match_mates(pads, q, pads, q);
    }
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto text = fuzz::text_of(data, size);
    Progress progress;
    if (text.starts_with("PK")) {
        PackedLimits limits;
        limits.bytes = 1U << 20U;
        limits.total = 4U << 20U;
        limits.files = 20;
        if (const auto folder = read_zip(text, "fuzz.zip", progress, limits)) use_board(*folder);
        return 0;
    }
    // Several files in one input, each after a line "=== name".
    PackedFolder folder;
    std::string_view rest = text;
    while (rest.starts_with("=== ") && folder.files.size() < 12) {
        const auto end = rest.find('\n');
        if (end == std::string_view::npos) break;
        const auto next = rest.find("\n=== ", end);
        folder.files.push_back(
            {std::string(rest.substr(4, end - 4)),
             std::string(rest.substr(end + 1, next == std::string_view::npos ? next : next - end))});
        rest = next == std::string_view::npos ? std::string_view() : rest.substr(next + 1);
    }
    if (!folder.files.empty()) {
        use_board(folder);
        return 0;
    }
    use_board({{{"copper-top.gbr", std::string(text)}}, {}});
    (void)read_drill(text, "fuzz.drl");
    (void)read_pads(text, "fuzz.csv");
    (void)process_from_json(text, "fuzz.json");
    return 0;
}
