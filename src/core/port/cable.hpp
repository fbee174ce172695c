// SPDX-License-Identifier: GPL-3.0-or-later
// Cables: which contact of one end goes to which of the other, how such a cable is laid, and what meets
// through it.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/dossier/dossier.hpp"
#include "core/port/connector_library.hpp"
#include "core/port/plugged.hpp"

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

/// What is wrong with a cable that no netlist can know, and what its two circuits do to each other through
/// it.
struct CableFault {
    enum class Kind {
        path,                  ///< harm: see PathFault
        transmit_to_transmit,  ///< two outputs on one wire
        no_ground,             ///< two circuits with grounds, and no wire between them
        few_grounds,           ///< more signals than one ground serves
        two_on_one,            ///< two wires at one contact
        not_there,             ///< a contact that the connector does not have
        cannot_mate,           ///< the cable's half against the port's
        mirrors,               ///< place by place instead of number by number
        unnamed,               ///< a wired contact without driver or name
        open_input,            ///< an input that no wire reaches, with nothing to hold it
        weak_supply,           ///< a supply that gives less than is taken
    };
    Kind kind = Kind::path;
    Verdict verdict = Verdict::doubt;
    std::vector<std::size_t> wires;  ///< that it is about; empty: the whole cable
    std::string says, why, todo;
};
[[nodiscard]] std::string_view word(CableFault::Kind kind);
/// Edges of more signals than this on one return disturb each other.
inline constexpr long signals_per_ground = 8;
/// Each fault once. Levels, pulls and limits of signals are judged with Wire's links (wire/cable_links.hpp).
[[nodiscard]] std::vector<CableFault> judge_cable(const Cable& cable, const CableView& view,
                                                  const FamilyLibrary& families);
/// The port with what a cable tells of its contacts that the port itself does not say: a contact that no fact
/// is known of is what the far end says it is.
[[nodiscard]] Port known_through_cables(const Port& port, const Dossier& dossier,
                                        const ConnectorLibrary& library);

}  // namespace grayrelic
