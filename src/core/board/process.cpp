// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/process.hpp"

#include <algorithm>

#include "core/base/data_files.hpp"
#include "core/json/json_node.hpp"

namespace grayrelic {
namespace {

double length(const JsonNode& n) {
    const double v = n.number();
    if (!(v >= 0 && v <= 2000)) n.fault(n.shown(), "millimetres from 0 to 2000 for " + print_path(n.path()));
    return v;
}

BoardProcess read_process(JsonNode& n) {
    BoardProcess p;
    p.id = n.required("id").text(64);
    p.name = n.required("name").text(200);
    p.source = n.required("source").text(1000);
    const auto where = n.required("where");
    const auto place = where.text(10);
    if (place != "home" && place != "house") where.fault(where.shown(), "home or house");
    p.where = place == "home" ? MadeWhere::home : MadeWhere::house;
    p.track_mm = length(n.required("track_mm"));
    p.gap_mm = length(n.required("gap_mm"));
    p.ring_mm = length(n.required("ring_mm"));
    p.hole_mm = length(n.required("hole_mm"));
    if (const auto most = n.member("hole_most_mm")) p.hole_most_mm = length(*most);
    p.hole_gap_mm = length(n.required("hole_gap_mm"));
    p.edge_mm = length(n.required("edge_mm"));
    if (const auto sliver = n.member("mask_sliver_mm")) p.mask_sliver_mm = length(*sliver);
    p.silk_on_pad = n.flag("silk_on_pad");
    if (const auto size = n.member("size_mm")) {
        const auto both = size->elements(2);
        if (both.size() != 2) size->fault(size->shown(), "width and height");
        p.width_mm = length(both[0]);
        p.height_mm = length(both[1]);
    }
    const double layers = n.required("copper_layers").number();
    if (!(layers >= 1 && layers <= 64) || layers != static_cast<int>(layers))
        n.required("copper_layers").fault(n.required("copper_layers").shown(), "1 to 64 layers");
    p.copper_layers = static_cast<int>(layers);
    p.plated = n.flag("plated");
    p.mask = n.member("mask") ? n.flag("mask") : p.where == MadeWhere::house;
    return p;
}

}  // namespace

Result<BoardProcess> process_from_json(std::string_view text, const std::string& file) {
    return read_json(text, file, "a process as JSON", read_process);
}

const BoardProcess* BoardProcessLibrary::find(std::string_view id) const {
    const auto it =
        std::find_if(processes.begin(), processes.end(), [&](const BoardProcess& p) { return p.id == id; });
    return it == processes.end() ? nullptr : &*it;
}

BoardProcessLibrary BoardProcessLibrary::load(FileSystem& files,
                                              const std::vector<std::filesystem::path>& folders) {
    BoardProcessLibrary out;
    out.problems = read_data_files(
        files, folders, "processes", [&](const std::string& text, const std::string& path) -> Status {
            return process_from_json(text, path).map([&](BoardProcess p) {
                std::erase_if(out.processes, [&](const BoardProcess& old) { return old.id == p.id; });
                out.processes.push_back(std::move(p));
            });
        });
    return out;
}

}  // namespace grayrelic
