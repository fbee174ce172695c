// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/board_parts.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <set>

namespace grayrelic {

Half half_on_board(const Port& port) {
    return port.side == Side::modern ? port.half : port.half == Half::socket ? Half::plug : Half::socket;
}

void gather_pads(FabricationAnalysis& a, const Fabrication& board) {
    a.pads = pads_of_dossier(board);
    std::set<std::string> said;
    for (const auto& p : a.pads) said.insert(p.ref);
    const auto own = a.pads.size();
    for (const auto& p : a.read->pads)
        if (said.count(p.ref) == 0) a.pads.push_back(p);
    a.pads_from = own == 0               ? a.read->pads_from
                  : a.pads.size() == own ? "the dossier's table"
                                         : "the dossier's table and " + a.read->pads_from;
}

std::map<std::string, PadPattern> patterns_of(const Dossier& d, const Fabrication& board,
                                              const BoardData& data) {
    std::map<std::string, PadPattern> out;
    for (const auto& [ref, name] : data.circuit_of(board)->packages_of)
        if (const auto package = data.packages->find(name)) out.emplace(ref, pattern_of(*package));
    const auto add = [&](const std::string& ref, const std::string& kind, Half half,
                         const std::string& numbering) {
        const auto connector = data.connectors->find(kind);
        if (!connector) return;
        const auto known = connector->numbering(numbering).id == numbering ? numbering : std::string();
        if (auto pattern =
                pattern_of(*connector, half == Half::plug ? FaceGender::plug : FaceGender::socket, known))
            out[ref] = std::move(*pattern);
    };
    for (const auto& p : *d.ports)
        if (!p.connector.empty()) add(p.id, p.connector, half_on_board(p), p.numbering);
    for (const auto& c : board.connectors) {
        const auto* port = d.find_port(c.port);
        const auto kind = !c.connector.empty() ? c.connector
                          : port != nullptr    ? port->connector
                                               : std::string();
        const auto numbering = !c.numbering.empty() ? c.numbering
                               : port != nullptr    ? port->numbering
                                                    : std::string();
        if (!kind.empty()) add(c.ref, kind, c.half, numbering);
    }
    return out;
}

BoardPads pads_of_dossier(const Fabrication& board) {
    BoardPads out;
    for (const auto& p : board.pads)
        out.push_back({p.ref,
                       p.pin,
                       {from_mm(p.x_mm), from_mm(p.y_mm)},
                       p.side == StandsOn::pads  ? PadSide::both
                       : p.side == StandsOn::top ? PadSide::top
                                                 : PadSide::bottom});
    return out;
}

FabPad fab_pad_of(const BoardPad& p) {
    return {p.ref, p.pin, to_mm(p.at.x), to_mm(p.at.y),
            p.side == PadSide::both  ? StandsOn::pads
            : p.side == PadSide::top ? StandsOn::top
                                     : StandsOn::bottom};
}

PointedPads pads_from_pointing(const std::vector<Land>& lands, const PadPattern* pattern,
                               const BoardPad& pointed, const BoardPads& known) {
    constexpr double reach = 1.5e6;
    const auto& ref = pointed.ref;
    const auto& pin = pointed.pin;
    PointedPads out;
    const Land* land = nullptr;
    double least = reach;
    for (const auto& l : lands)
        if (const double off = distance(l.at, pointed.at, pointed.at); off < least) {
            least = off;
            land = &l;
        }
    if (land == nullptr) {
        out.says = "there is no pad and no hole";
        return out;
    }
    for (const auto& p : known)
        if (p.ref == ref && p.pin != pin) out.pads.push_back(p);
    out.pads.push_back({ref, pin, land->at, land->hole ? PadSide::both : land->side});
    if (pattern == nullptr) {
        out.says =
            fmt::format("{}.{} named; nothing tells what {} is, so its other contacts are to be named too",
                        ref, pin, ref);
        return out;
    }
    PatternQuestion q;
    q.ref = ref;
    for (const auto& p : out.pads) q.known.emplace_back(p.pin, p.at);
    if (std::none_of(pattern->places.begin(), pattern->places.end(),
                     [&](const NumberedPlace& p) { return p.number == pin; })) {
        out.says = fmt::format("{} has no contact {}", ref, pin);
        return out;
    }
    const auto ways = find_pattern(lands, *pattern, q);
    if (ways.size() == 1) {
        out.pads = ways.front().pads;
        out.all = true;
        out.says = fmt::format("all {} contacts of {} found, within {:.2f} mm", out.pads.size(), ref,
                               ways.front().residual_mm);
    } else if (ways.empty()) {
        out.says = fmt::format(
            "{}.{} named; the pads about it are not as {} should have them: name its others, or "
            "see what was meant to stand there",
            ref, pin, ref);
    } else {
        out.says = fmt::format("{}.{} named; {} fits in {} ways from there: point at another of its contacts",
                               ref, pin, ref, ways.size());
    }
    return out;
}

}  // namespace grayrelic
