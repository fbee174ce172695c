// SPDX-License-Identifier: GPL-3.0-or-later
// What comes from outside for Map: descriptors and dumps of reports, tables of keys, matrices, movements,
// curves, edited maps, layouts, meanings and lines of a walk. What is read is used.
#include "core/input/descriptor.hpp"
#include "core/input/descriptor_read.hpp"
#include "core/input/device_table.hpp"
#include "core/input/ghosts.hpp"
#include "core/input/hex_text.hpp"
#include "core/input/host.hpp"
#include "core/input/map_analysis.hpp"
#include "core/input/map_table.hpp"
#include "core/input/pointer.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

namespace {

const LayoutLibrary& shipped_layouts() {
    static const auto layouts = LayoutLibrary::load(disk(), {GRAY_RELIC_SOURCE "/data"});
    return layouts;
}

void use_descriptor(std::string_view text) {
    const auto bytes = read_bytes(text, "fuzz");
    if (!bytes) return;
    const auto d = read_descriptor(*bytes);
    const auto dump = read_report_dump(text, "fuzz", Time::ms(8));
    if (dump) (void)host_view(d, *dump, {shipped_layouts().find("de"), false});
    std::vector<TimedReport> zeros;
    for (const auto& r : d.reports)
        if (r.bits < 100'000)
            zeros.push_back(
                {Time{}, std::vector<std::uint8_t>((r.bits + 7) / 8 + (d.has_ids() ? 1 : 0), 0xFF)});
    (void)host_view(d, zeros, {});
}

void use_matrix(std::string_view text) {
    const auto m = read_matrix_table(text, "fuzz.csv");
    if (!m || m->keys.size() > 300) return;
    Progress progress;
    const auto count = count_ghosts(*m, progress, 20'000);
    if (count) (void)guard_costs(*m, {{0}}, *count);
    if (m->keys.size() < 60) (void)rank_ghosts(*m, {});
    if (!read_matrix_table(write_matrix_table(*m), "again.csv")) std::abort();
}

void use_device(std::string_view text) {
    auto keys = read_device_table(text, "fuzz.csv", {});
    if (!keys || keys->size() > 200) return;
    const auto again = read_device_table(write_device_table(*keys), "again.csv", {});
    if (!again || *again != *keys) std::abort();
    Dossier d;
    DeviceMap map;
    map.keys = std::move(*keys);
    map.modern.profiles = {"keyboard", "pad:buttons=8,hat=1,axes=2"};
    map.modern.layout = "fr";
    map.modern.wanted = {"text"};
    d.map = Section<DeviceMap>(map);
    (void)analyse_map(d, shipped_layouts());
    const auto table = map_table(map, {}, shipped_layouts().find("fr"));
    (void)map_c_header(table, "fuzz");
    (void)map_json(table, map, "fuzz");
    (void)read_map_table(map_csv(table), "again.csv");
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto text = fuzz::text_of(data, std::min<std::size_t>(size, 4000));
    use_descriptor(text);
    use_matrix(text);
    use_device(text);
    if (const auto m = parse_meaning(text))
        if (parse_meaning(print_meaning(*m)) != *m) std::abort();
    (void)search_meanings(text.substr(0, 40), 20);
    if (const auto line = parse_walk_line(text.substr(0, 200))) (void)walked_key({}, *line);
    if (const auto moves = read_moves(text, "fuzz.csv")) {
        Progress progress;
        MoveCurve curve;
        curve.dead = 5;
        (void)move_through(curve, *moves, progress);
    }
    if (auto table = read_curve_table(text, "fuzz.csv")) {
        MoveCurve curve;
        curve.table = std::move(*table);
        if (problem_of(curve).empty()) (void)position_for(curve, 3);
    }
    if (const auto entries = read_map_table(text, "fuzz")) (void)compare_maps(*entries, *entries);
    if (const auto layout = layout_from_json(text, "fuzz.json")) (void)layout->characters();
    (void)parse_profile(text.substr(0, 100));
    return 0;
}
