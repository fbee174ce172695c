// SPDX-License-Identifier: GPL-3.0-or-later
// The switch matrix: ghosts in what people hold together, keys outside, contacts not told apart, levels, a
// fight between strobes, numbers that nobody has measured.
#include <fmt/format.h>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/checks/registry.hpp"
#include "core/input/map_analysis.hpp"

namespace grayrelic {
namespace {

Finding matrix_finding(const char* id, Severity severity, std::string says, std::string why,
                       std::string todo) {
    return {
        id, severity, Stage::map, "matrix", std::move(says), std::move(why), std::move(todo), {"matrix", {}}};
}

std::string names_of(const MatrixModel& m, const std::vector<std::size_t>& keys) {
    std::string out;
    for (const auto k : keys) out += (out.empty() ? "" : " + ") + m.keys[k].name;
    return out;
}

void check_ghosts(const MatrixStudy& s, GhostGuard guard, Findings& out) {
    for (const auto& chord : s.chords) {
        const auto view = scan_view(s.model, chord);
        if (view.ghosts.empty() && !(guard == GhostGuard::block && !view.blocked.empty())) continue;
        const bool blocked = guard == GhostGuard::block;
        if (guard == GhostGuard::diodes) continue;
        auto f =
            matrix_finding("chord-ghosts", blocked ? Severity::doubt : Severity::stop,
                           fmt::format("{} {}", names_of(s.model, chord),
                                       blocked ? "are left out by blocking"
                                               : fmt::format("fake {}", names_of(s.model, view.ghosts))),
                           "They are held together in usual work, and stand at the corners of a rectangle.",
                           s.guard.needed.empty() ? std::string("Give each key a diode.")
                                                  : fmt::format("A diode at {} ends it for all chords named.",
                                                                names_of(s.model, s.guard.needed)));
        out.push_back(std::move(f));
    }
    if (s.chords.empty() && s.ghosts.sets > 0 && guard == GhostGuard::nothing)
        out.push_back(
            matrix_finding("ghosts-possible", Severity::doubt, "Three keys can fake a fourth",
                           fmt::format("{} of {} sets of three keys do; nothing is done about it, and nobody "
                                       "said which keys are held together.",
                                       print_count(static_cast<long long>(s.ghosts.sets)),
                                       print_count(static_cast<long long>(s.guard.triples))),
                           "Say which keys are held together, block in firmware, or give each key a diode."));
}

void check_guard(const MatrixStudy& s, GhostGuard guard, Findings& out) {
    if (guard != GhostGuard::diodes || s.guard.diodes == 0 || s.ghosts.sets == 0) return;
    out.push_back(matrix_finding(
        "diodes-missing", Severity::doubt,
        fmt::format("{} have no diode", plural(static_cast<long long>(s.guard.diodes), "key", "keys")),
        fmt::format("Diodes are to stop ghosts, and {} sets of three keys still fake a fourth.",
                    print_count(static_cast<long long>(s.ghosts.sets))),
        "Record which keys have one, or choose another guard. A foil keypad can't be given any."));
}

}  // namespace

void check_matrix(const Analysis& a, Findings& out) {
    if (!a.map || !a.map->matrix) return;
    const auto& s = *a.map->matrix;
    const auto& wanted = a.dossier.map->matrix;
    for (const auto& id : s.outside)
        out.push_back({"key-outside-matrix",
                       Severity::stop,
                       Stage::map,
                       "key " + id,
                       fmt::format("{} stands at a line that the matrix has not", id),
                       "Its row or column is not in the list of lines.",
                       "Name its row and column anew, or add the line.",
                       {"key", id}});
    for (const auto& [first, second] : s.model.doubles())
        out.push_back(
            {"position-twice",
             Severity::doubt,
             Stage::map,
             "key " + s.model.keys[second].id,
             fmt::format("{} and {} stand at one position", s.model.keys[first].name,
                         s.model.keys[second].name),
             fmt::format("{} × {}: firmware can't tell them apart.", s.model.rows[s.model.keys[first].row],
                         s.model.columns[s.model.keys[first].column]),
             "Right where two contacts are wired beside each other; else press both again and record what "
             "closes.",
             {"key", s.model.keys[second].id}});
    check_ghosts(s, wanted.guard, out);
    check_guard(s, wanted.guard, out);
    if (s.budget.low == Verdict::stop || s.budget.low == Verdict::doubt)
        out.push_back(matrix_finding(
            "foil-too-weak", s.budget.low == Verdict::stop ? Severity::stop : Severity::doubt,
            "A closed key hardly pulls its column low",
            fmt::format("{} through {} of foil against {}: an input needs less than {}.",
                        print_number(s.budget.low_v, Unit::volt), print_number(s.numbers.foil_ohm, Unit::ohm),
                        print_number(s.numbers.pull_ohm, Unit::ohm),
                        print_number(0.3 * s.numbers.volts, Unit::volt)),
            "Take a weaker pull-up, and scan slower for it."));
    if (s.budget.fight == Verdict::stop || s.budget.fight == Verdict::doubt)
        out.push_back(matrix_finding(
            "strobes-fight", s.budget.fight == Verdict::stop ? Severity::stop : Severity::doubt,
            "Two closed keys may join two strobes", s.budget.fight_says,
            "Let the strobes only pull down (open drain), or give each key a diode."));
    if (!s.numbers.assumed.empty() && !s.model.keys.empty())
        out.push_back(matrix_finding("scan-assumed", Severity::note, "The scan rests on assumed numbers",
                                     fmt::format("Assumed: {}.", fmt::join(s.numbers.assumed, ", ")),
                                     "Measure the foil from contact to contact with a key held, and note the "
                                     "pull-up that will be fitted."));
}

}  // namespace grayrelic
