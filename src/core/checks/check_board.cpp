// SPDX-License-Identifier: GPL-3.0-or-later
// Fabrication files: what can't be read, nets that came out otherwise, faces that are mirrored, what a
// process can't make, noisy nets beside delicate ones.
#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/base/text.hpp"
#include "core/board/board_analysis.hpp"
#include "core/checks/registry.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_named = 4;

/// "J1.1 J1.2 J1.3 and 4 more"
std::string few(const std::vector<std::string>& names) {
    const auto n = std::min(names.size(), most_named);
    std::string out =
        fmt::format("{}", fmt::join(names.begin(), names.begin() + static_cast<std::ptrdiff_t>(n), " "));
    if (names.size() > n) out += fmt::format(" and {} more", names.size() - n);
    return out;
}

Finding finding(const char* id, Severity severity, const FabricationAnalysis& b, const std::string& thing,
                std::string says, std::string why, std::string todo) {
    return {id,
            severity,
            Stage::board,
            "board " + b.id + (thing.empty() ? "" : " " + thing),
            std::move(says),
            std::move(why),
            std::move(todo),
            {"board", thing.empty() ? b.id : b.id + "/" + thing}};
}

void judge_reading(const FabricationAnalysis& b, Findings& out) {
    if (b.read->no_files) return;
    if (b.read->problem) {
        out.push_back(finding("board-unreadable", Severity::doubt, b, "",
                              "The fabrication files can't be read", b.read->problem->message() + ".",
                              "Export them again, or choose another folder or zip."));
        return;
    }
    const auto& files = b.read->files;
    if (!files.refused.empty()) {
        std::string why;
        for (std::size_t i = 0; i < std::min(files.refused.size(), most_named); ++i)
            why += files.refused[i].message() + ". ";
        out.push_back(finding(
            "board-unreadable", Severity::doubt, b, "",
            plural(static_cast<long long>(files.refused.size()), "fabrication file", "fabrication files") +
                " can't be read",
            trim(why).empty() ? why : std::string(trim(why)),
            "Export it again; until then nets and rules are those of the files that were read."));
    }
    std::string guessed;
    std::size_t notes = 0;
    for (const auto& p : files.problems) {
        if (std::any_of(files.refused.begin(), files.refused.end(),
                        [&](const Error& e) { return e.message() == p.message(); }))
            continue;
        if (++notes <= most_named) guessed += p.message() + ". ";
    }
    if (notes > 0)
        out.push_back(
            finding("board-guessed", Severity::note, b, "", "The fabrication files leave something open",
                    std::string(trim(guessed)),
                    "Look whether it was understood as it was meant; a role can be chosen beside the file."));
    if (b.read->copper && !b.read->outline.known())
        out.push_back(finding(
            "board-without-edge", Severity::note, b, "", "No outline that closes",
            b.read->outline.gaps.empty()
                ? "No file draws the board's edge."
                : fmt::format("Its ways end at {} places without going on.", b.read->outline.gaps.size()),
            "Export the outline as a layer of its own, as closed lines; nothing is said about the edge until "
            "then."));
}

void judge_nets(const FabricationAnalysis& b, Findings& out) {
    if (!b.read->copper) return;
    if (b.pads.empty() || b.against.empty()) {
        out.push_back(
            finding("board-not-compared", Severity::note, b, "nets", "The copper is held against no netlist",
                    b.pads.empty() ? "Neither the layers nor a test netlist say which pad is which contact."
                                   : "There is no circuit in Wire and no netlist is chosen.",
                    b.pads.empty() ? "Export with attributes (X2), put the test netlist beside the layers, "
                                     "or drop a table ref,pin,x_mm,y_mm,side."
                                   : "Describe the circuit in Wire, or choose a netlist of Trace."));
        return;
    }
    const auto& n = b.nets;
    for (const auto& e : n.exchanged)
        out.push_back(
            finding("board-exchanged", Severity::stop, b, "exchanged:" + e.point_a,
                    fmt::format("{} and {} are exchanged", e.point_a, e.point_b),
                    fmt::format("On the board {} lies on {}, and {} on {}; {} has it the other way round.",
                                e.point_a, e.net_b, e.point_b, e.net_a, b.against),
                    "Exchange them in the layout, or in the circuit where the layout is right."));
    for (const auto& j : n.joined) {
        const bool told = std::any_of(n.exchanged.begin(), n.exchanged.end(), [&](const auto& e) {
            return (e.net_a == j.a && e.net_b == j.b) || (e.net_a == j.b && e.net_b == j.a);
        });
        if (told) continue;
        out.push_back(finding("board-nets-joined", Severity::stop, b, "joined:" + j.a + "+" + j.b,
                              fmt::format("{} and {} are joined", j.a, j.b),
                              fmt::format("One piece of copper holds {}.", few(j.points)),
                              "Find the bridge on the sheet and cut it in the layout."));
    }
    for (const auto& s : n.split) {
        const bool told = std::any_of(n.exchanged.begin(), n.exchanged.end(),
                                      [&](const auto& e) { return e.net_a == s.net || e.net_b == s.net; });
        if (told) continue;
        std::string why;
        for (std::size_t i = 0; i < std::min(s.pieces.size(), most_named); ++i)
            why += (i == 0 ? "" : "; ") + few(s.pieces[i]);
        out.push_back(finding("board-net-open", Severity::stop, b, "open:" + s.net,
                              fmt::format("{} is in {} pieces", s.net, s.pieces.size()), why + ".",
                              "Join them in the layout, or by a wire once the board is there."));
    }
    if (!n.off_copper.empty())
        out.push_back(
            finding("board-pad-bare", Severity::doubt, b, "bare",
                    plural(static_cast<long long>(n.off_copper.size()), "contact lies", "contacts lie") +
                        " on no copper",
                    few(n.off_copper) + ".", "Are the pads' places in the same origin as the layers?"));
    if (!n.missing.empty())
        out.push_back(
            finding("board-pad-missing", Severity::doubt, b, "missing",
                    plural(static_cast<long long>(n.missing.size()), "contact", "contacts") +
                        " of the netlist without a pad",
                    few(n.missing) + ".",
                    "Parts that are not on this board belong to another; else the pads lack them."));
}

void judge_faces(const FabricationAnalysis& b, Findings& out) {
    for (const auto& f : b.faces) {
        const auto thing = "face:" + f.ref;
        const auto what = f.connector + (f.half == Half::plug ? ", plug" : ", socket");
        if (!f.problem.empty()) {
            out.push_back(finding("face-unknown", Severity::note, b, thing,
                                  f.ref + " is held against nothing", f.problem + ".",
                                  "Say which port it meets, or its kind."));
            continue;
        }
        const auto& m = f.match;
        const std::string presumed = f.presumed ? " That the " + what +
                                                      " stands on the board is taken from the port of the "
                                                      "same name: say so if it is the other half."
                                                : "";
        if (m.verdict == Verdict::stop && m.is == FaceIs::mirrored)
            out.push_back(finding("face-mirrored", Severity::stop, b, thing, f.ref + " is mirrored",
                                  fmt::format("As {}: {}.{}{}", what, m.why,
                                              f.supply ? " A supply stands on it." : "", presumed),
                                  "Mirror the footprint, or fit the connector on the other side of the "
                                  "board; do not plug this one in."));
        else if (m.verdict == Verdict::stop)
            out.push_back(finding("face-wrong", Severity::stop, b, thing,
                                  m.is == FaceIs::other_pitch ? f.ref + " has another pitch"
                                                              : f.ref + " does not match its connector",
                                  fmt::format("As {}: {}.{}", what, m.why, presumed),
                                  "Hold the footprint against the part's drawing."));
        else if (m.verdict == Verdict::doubt || m.verdict == Verdict::unknown)
            out.push_back(finding("face-unsure",
                                  m.verdict == Verdict::doubt ? Severity::doubt : Severity::note, b, thing,
                                  f.ref + " can't be told apart from its mirror image",
                                  fmt::format("As {}: {}.{}", what, m.why, presumed),
                                  "Print the face 1:1 and hold the part against it."));
    }
    for (const auto& f : b.footprints) {
        if (f.match.verdict != Verdict::stop) continue;
        out.push_back(finding("footprint-wrong", Severity::stop, b, "footprint:" + f.ref,
                              fmt::format("{} {}", f.ref,
                                          f.match.is == FaceIs::mirrored      ? "is mirrored"
                                          : f.match.is == FaceIs::other_pitch ? "has another pitch"
                                                                              : "has another footprint"),
                              fmt::format("As {}: {}.", f.package, f.match.why),
                              "Choose the package that will be fitted, or mend the footprint."));
    }
}

void judge_mates(const BoardAnalysis& a, Findings& out) {
    for (const auto& m : a.mates) {
        const auto* b = a.find(m.board);
        if (b == nullptr) continue;
        const auto thing = "mate:" + m.face.ref;
        const auto& match = m.face.match;
        if (!m.face.problem.empty())
            out.push_back(finding("face-unknown", Severity::note, *b, thing,
                                  m.face.ref + " is held against no other board", m.face.problem + ".",
                                  "Say which connector of which board it is pushed into."));
        else if (match.verdict == Verdict::stop)
            out.push_back(
                finding("face-mirrored", Severity::stop, *b, thing,
                        fmt::format("{} and {} {}", m.face.ref, m.face.connector,
                                    match.is == FaceIs::mirrored ? "are mirrored to each other"
                                                                 : "do not fit together"),
                        "Pushed together, " + match.why + ".",
                        "Number one of them the other way round, or fit it on the other side of its board."));
        else if (match.verdict != Verdict::holds)
            out.push_back(finding("face-unsure", Severity::note, *b, thing,
                                  fmt::format("{} on {} can't be told apart from its mirror image",
                                              m.face.ref, m.face.connector),
                                  "Pushed together, " + match.why + ".",
                                  "Print both faces 1:1 and lay one on the other."));
    }
}

void judge_rules(const FabricationAnalysis& b, Findings& out) {
    if (!b.read->copper) return;
    if (!b.process) {
        out.push_back(finding("board-process", Severity::note, b, "process", "No way of making is chosen",
                              "Nothing is said about tracks, gaps, rings and holes.",
                              "Choose how the board will be made: at home, or by a house."));
        return;
    }
    if (!b.rules) return;
    std::map<BoardRule, std::vector<const RuleViolation*>> by_rule;
    for (const auto& v : b.rules->violations) by_rule[v.rule].push_back(&v);
    for (const auto& [rule, list] : by_rule) {
        const auto& worst = *list.front();
        const bool through = rule == BoardRule::hole && worst.limit_mm == 0;
        out.push_back(finding(
            "board-rule", worst.decides() ? (through ? Severity::doubt : Severity::stop) : Severity::note, b,
            fmt::format("rule:{}", word(rule)),
            through ? plural(static_cast<long long>(list.size()), "hole needs", "holes need") + " plating"
                    : plural(static_cast<long long>(list.size()), "place", "places") +
                          fmt::format(" beyond {}: {}", b.process->name, word(rule)),
            fmt::format("The worst at {:.2f}, {:.2f} mm: {}{}.", to_mm(worst.at.x), to_mm(worst.at.y),
                        worst.what,
                        worst.limit_mm > 0 ? fmt::format(", least {:.2f} mm", worst.limit_mm) : ""),
            b.rules->to_do.empty() ? "Look at the place."
                                   : fmt::format("{}.", fmt::join(b.rules->to_do, "; "))));
    }
    if (b.rules->violations.empty() && !b.rules->makeable)
        out.push_back(
            finding("board-rule", Severity::stop, b, "rule:layers", "Too many layers for " + b.process->name,
                    fmt::format("{}.", fmt::join(b.rules->to_do, "; ")), "Choose another way of making."));
}

void judge_apart(const FabricationAnalysis& b, Findings& out) {
    std::map<std::pair<std::string, std::string>, std::vector<const ApartPlace*>> pairs;
    for (const auto& p : b.apart) pairs[{p.noisy, p.delicate}].push_back(&p);
    for (const auto& [pair, list] : pairs) {
        const auto* worst = *std::min_element(list.begin(), list.end(),
                                              [](const auto* x, const auto* y) { return x->mm < y->mm; });
        out.push_back(finding(
            "nets-too-near", Severity::doubt, b, "apart:" + pair.first + "+" + pair.second,
            fmt::format("{} runs beside {}", pair.first, pair.second),
            fmt::format("{} ({}) comes within {:.2f} mm of {} ({}) at {:.2f}, {:.2f} mm{}.", pair.first,
                        word(worst->noisy_kind), worst->mm, pair.second, word(worst->delicate_kind),
                        to_mm(worst->at.x), to_mm(worst->at.y),
                        list.size() > 1
                            ? fmt::format(", and at {} more",
                                          plural(static_cast<long long>(list.size()) - 1, "place", "places"))
                            : ""),
            "Move them apart, or put ground between; where it does no harm, say what kinds the nets are."));
    }
}

}  // namespace

void check_board(const Analysis& a, Findings& out) {
    if (!a.board) return;
    for (const auto& b : a.board->boards) {
        judge_reading(*b, out);
        judge_nets(*b, out);
    }
}

void check_board_faces(const Analysis& a, Findings& out) {
    if (!a.board) return;
    for (const auto& b : a.board->boards) judge_faces(*b, out);
    judge_mates(*a.board, out);
}

void check_board_rules(const Analysis& a, Findings& out) {
    if (!a.board) return;
    for (const auto& b : a.board->boards) {
        judge_rules(*b, out);
        judge_apart(*b, out);
    }
}

}  // namespace grayrelic
