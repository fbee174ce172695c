// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/map_analysis.hpp"

#include <algorithm>
#include <map>

#include "core/base/text.hpp"
#include "core/input/pointer.hpp"

namespace grayrelic {
namespace {

/// For an edit to be judged within moments; the command line counts further.
constexpr std::size_t effort = 500'000;

std::optional<MatrixStudy> study_matrix(const DeviceMap& map) {
    MatrixStudy s;
    s.model = matrix_of(map, &s.outside);
    if (s.model.keys.empty() && s.model.rows.empty()) return std::nullopt;
    Progress progress;
    if (auto count = count_ghosts(s.model, progress, effort)) s.ghosts = std::move(*count);
    std::map<std::string_view, std::size_t> place;
    for (std::size_t i = 0; i < s.model.keys.size(); ++i) place.emplace(s.model.keys[i].id, i);
    for (const auto& chord : map.matrix.chords) {
        auto& keys = s.chords.emplace_back();
        for (const auto& id : chord)
            if (const auto at = place.find(id); at != place.end()) keys.push_back(at->second);
    }
    s.worst = rank_ghosts(s.model, {s.chords, 20});
    s.guard = guard_costs(s.model, s.chords, s.ghosts);
    s.pins = pins_of(s.model.rows.size(), s.model.columns.size(), s.model.keys.size());
    s.numbers = scan_numbers(map);
    s.budget = scan_budget(s.model, s.numbers, map.matrix.drive);
    return s;
}

}  // namespace

MapAnalysis analyse_map(const Dossier& dossier, const LayoutLibrary& layouts) {
    const auto& map = *dossier.map;
    MapAnalysis out;
    out.coverage = cover(map, layouts);
    out.matrix = study_matrix(map);
    for (const auto& m : map.messages) out.messages.push_back(study_message(m));
    for (const auto& c : map.curves) out.curve_problems.push_back(problem_of(c));
    if (const auto* capture = dossier.find_capture(map.capture)) out.bits = capture->decode.bits;
    if (out.bits.empty()) return out;
    for (const auto& k : map.keys) {
        const auto& code = k.code.value;
        if (!code.starts_with("bit ")) continue;
        const auto name = trim(std::string_view(code).substr(4));
        if (std::none_of(out.bits.begin(), out.bits.end(), [&](const auto& b) { return b == name; }))
            out.keys_without_bit.push_back(k.id);
    }
    return out;
}

}  // namespace grayrelic
