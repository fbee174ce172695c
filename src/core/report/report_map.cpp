// SPDX-License-Identifier: GPL-3.0-or-later
// Map in the report: the device, coverage, messages, the matrix, curves, descriptors, the table.
#include <fmt/format.h>

#include "core/base/quantity.hpp"
#include "core/input/hex_text.hpp"
#include "core/input/map_table.hpp"
#include "core/report/device_figure.hpp"
#include "core/report/html.hpp"
#include "core/report/report_sections.hpp"

namespace grayrelic {
namespace {

using namespace html;

bool has_keys(const Analysis& a) {
    return a.map && !a.dossier.map->keys.empty();
}

void write_device(const Analysis& a, std::string& out) {
    const auto& map = *a.dossier.map;
    out += paragraph(e(fmt::format("{} of {} old codes have a meaning.", a.map->coverage.codes_with_meaning,
                                   a.map->coverage.codes)));
    out += drawing_svg(draw_device(map, a.map->coverage, 860), "The old device and what its keys become");
    Table t({{"Key"}, {"Old code"}, {"Known from"}, {"Release"}, {"Becomes"}});
    std::size_t n = 0;
    for (const auto& k : map.keys) {
        if (++n > most_rows) break;
        const auto* view = a.map->coverage.find(k.id);
        const auto code = k.code.value.empty() && !k.row.empty() ? k.row + " × " + k.column : k.code.value;
        t.row({mark(view != nullptr ? view->state : Verdict::unknown) + e(k.legend.empty() ? k.id : k.legend),
               e(code), k.code.value.empty() ? std::string() : evidence(k.code.evidence), e(k.release),
               e(k.meaning)});
        for (const auto& s : k.shifted)
            t.row({e((k.legend.empty() ? k.id : k.legend) + " with " + s.with),
                   e(s.code),
                   {},
                   {},
                   e(s.meaning)});
    }
    out += t.html();
    if (map.keys.size() > most_rows) out += more_rows(map.keys.size());
}

bool has_gaps(const Analysis& a) {
    return a.map && (!a.map->coverage.gaps.empty() || !a.map->messages.empty());
}

void write_coverage(const Analysis& a, std::string& out) {
    Table gaps({{"What is open"}, {"What to do"}, {"Proposal"}});
    for (const auto& g : a.map->coverage.gaps)
        gaps.row({mark(g.verdict) + e(g.says), e(g.todo),
                  g.proposal ? e(print_meaning(*g.proposal)) : std::string()});
    out += gaps.html();
    Table messages({{"Message"}, {"Code"}, {"On it the bridge"}, {"So"}});
    for (std::size_t i = 0; i < a.map->messages.size(); ++i) {
        const auto& m = a.dossier.map->messages[i];
        const auto& s = a.map->messages[i];
        messages.row({mark(s.verdict) + e(m.name), e(m.code),
                      m.act ? e(word(*m.act)) : std::string("not said"), e(s.says + " " + s.todo)});
    }
    out += messages.html();
}

bool has_matrix(const Analysis& a) {
    return a.map && a.map->matrix.has_value();
}

void write_matrix(const Analysis& a, std::string& out) {
    const auto& s = *a.map->matrix;
    std::vector<html::Column> columns{{"Row"}};
    for (const auto& c : s.model.columns) columns.push_back({c});
    Table grid(columns);
    for (std::size_t r = 0; r < s.model.rows.size(); ++r) {
        std::vector<std::string> cells{e(s.model.rows[r])};
        for (std::size_t c = 0; c < s.model.columns.size(); ++c) {
            const auto k = s.model.at(r, c);
            cells.push_back(k ? e(s.model.keys[*k].name) + (s.model.keys[*k].diode ? " (diode)" : "")
                              : std::string("·"));
        }
        grid.row(std::move(cells));
    }
    out += grid.html();
    out += paragraph(
        e(fmt::format("{} of {} sets of three keys fake a fourth; {} longer sets{}. Pins: {} as built, {} "
                      "folded to {} × {}, {} with shift "
                      "registers, {} with a decoder. A scan takes {}, a key reaches the host after {}.",
                      print_count(static_cast<long long>(s.ghosts.sets)),
                      print_count(static_cast<long long>(s.guard.triples)),
                      print_count(static_cast<long long>(s.ghosts.longer)),
                      s.ghosts.counted_to == 0 ? std::string()
                                               : fmt::format(", counted up to {} keys", s.ghosts.counted_to),
                      s.pins.direct, s.pins.folded, s.pins.folded_rows, s.pins.folded_columns,
                      s.pins.registers, s.pins.decoder, print_number(s.budget.scan_s, Unit::second),
                      print_number(s.budget.latency_s, Unit::second))));
    out += paragraph(mark(s.budget.fight) + e(s.budget.fight_says));
    Table worst({{"Held"}, {"Fakes"}, {"Why likely"}});
    for (const auto& g : s.worst) {
        std::string held;
        for (const auto k : g.held) held += (held.empty() ? "" : " + ") + s.model.keys[k].name;
        worst.row({e(held), e(s.model.keys[g.faked].name), e(g.why)});
    }
    out += worst.html();
}

bool has_tables(const Analysis& a) {
    return a.map && (!a.dossier.map->modern.profiles.empty() || !a.dossier.map->curves.empty());
}

void write_tables(const Analysis& a, std::string& out) {
    const auto& map = *a.dossier.map;
    const auto* layout = a.data ? a.data->layouts.find(map.modern.layout) : nullptr;
    const auto t = map_table(map, a.map->bits, layout);
    out += paragraph(e(fmt::format("{} entries, checksum 0x{:08X}.", t.entries.size(), t.checksum)));
    Table profiles({{"Profile"}, {"Descriptor"}});
    for (const auto& p : t.profiles) profiles.row({e(print_profile(p)), e(print_hex(descriptor_of(p)))});
    out += profiles.html();
    Table curves({{"Curve"},
                  {"Counts a step", true},
                  {"Dead zone", true},
                  {"Limit", true},
                  {"Points", true},
                  {"Known from"}});
    for (const auto& c : map.curves)
        curves.row({e(c.title + (c.id == map.curve ? " (used)" : "")), number(c.counts_per_step, 3),
                    std::to_string(c.dead), std::to_string(c.limit), std::to_string(c.table.size()),
                    evidence(c.evidence)});
    out += curves.html();
    if (!t.frames.empty()) {
        Table frames({{"Held"}, {"Levels, in order of arrival"}});
        for (const auto& f : t.frames) frames.row({e(f.held.empty() ? "nothing" : f.held), e(f.levels)});
        out += frames.html();
    }
}

}  // namespace

std::vector<ReportSection> map_sections() {
    return {{Stage::map, "map-device", "The old device", has_keys, write_device},
            {Stage::map, "map-coverage", "Coverage", has_gaps, write_coverage},
            {Stage::map, "map-matrix", "Matrix", has_matrix, write_matrix},
            {Stage::map, "map-tables", "Reports and curves", has_tables, write_tables}};
}

}  // namespace grayrelic
