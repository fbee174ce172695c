// SPDX-License-Identifier: GPL-3.0-or-later
// Cables: which contact of one end goes to which of the other, how such a cable is laid, and what meets
// through it.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/dossier/dossier.hpp"
#include "core/port/connector_library.hpp"
#include "core/port/meeting.hpp"

namespace grayrelic {

/// straight: same number to same number. crossed: outputs to inputs, by what drives at both ends. rolled:
/// first to last. mirrored: by place, as a flat ribbon joins two halves of the same gender.
enum class CableLay { straight, crossed, rolled, mirrored, other };
[[nodiscard]] std::string_view word(CableLay lay);

struct CableSide {
    const Port* port = nullptr;  ///< null when the end goes to no recorded port
    Connector connector;
    std::string numbering;
    Half half = Half::plug;  ///< of the cable's own end
};
/// Both ends with their connectors; fails when an end's connector is not known.
struct CableView {
    CableSide a, b;
};
[[nodiscard]] Result<CableView> view_cable(const Dossier& dossier, const Cable& cable,
                                           const ConnectorLibrary& library);

/// The wires of a lay, colours in the order of IEC 60757's list of common colours, repeated. Crossed needs
/// both ports; without them it is straight.
[[nodiscard]] std::vector<CableWire> wires_of(CableLay lay, const CableView& view);
/// Which lay a cable has, as far as its wires go; straight is preferred when several fit.
[[nodiscard]] CableLay lay_of(const std::vector<CableWire>& wires, const CableView& view);

struct WireMeeting {
    std::size_t wire = 0;
    Meeting meeting;
    bool two_outputs = false;  ///< transmit wired to transmit
};
/// What each wire joins, where both ends go to a recorded port. The first end counts as the socket.
[[nodiscard]] std::vector<WireMeeting> judge_cable(const Cable& cable, const CableView& view,
                                                   const FamilyLibrary& families);

}  // namespace grayrelic
