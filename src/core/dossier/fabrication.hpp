// SPDX-License-Identifier: GPL-3.0-or-later
// What a dossier holds for Board: the job's boards with their fabrication files, where there are some
// already, what they are to be held against and to fit into, and what a person said of them that the files do
// not.
//
// `extra` members hold fields of newer versions, as in dossier.hpp.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/base/words.hpp"
#include "core/dossier/board_stack.hpp"
#include "core/dossier/fit.hpp"
#include "core/dossier/port.hpp"

namespace grayrelic {

/// The side of a board that a part stands on; nowhere: as its pads say.
enum class StandsOn { pads, top, bottom };
template <>
inline constexpr std::array words_of<StandsOn>{"pads", "top", "bottom"};

/// A connector on the board and what its face must be.
struct FabConnector {
    std::string ref;        ///< as its pads call it: "J1"
    std::string port;       ///< Port::id whose contacts it meets; empty: `connector` says its kind
    std::string connector;  ///< such as "dsub-9"; empty: the port's
    std::string numbering;  ///< Numbering::id; empty: the port's, else the connector's first
    StandsOn side = StandsOn::pads;
    Half half = Half::socket;  ///< which half stands on the board
    std::string
        mates{};  ///< the connector of another board that it is pushed into: "main/J2", by Fabrication::id
    std::string extra{};
    bool operator==(const FabConnector&) const = default;
};

/// A contact that a table or a person placed; millimetres in the files' origin.
struct FabPad {
    std::string ref, pin;
    double x_mm = 0, y_mm = 0;
    StandsOn side = StandsOn::pads;  ///< pads: on both
    std::string extra{};
    bool operator==(const FabPad&) const = default;
};

/// What a net carries, as far as it must keep away from others.
enum class NetKind { plain, switching, clock, supply, picture, sound };
template <>
inline constexpr std::array words_of<NetKind>{"plain", "switching", "clock", "supply", "picture", "sound"};
[[nodiscard]] constexpr bool is_noisy(NetKind k) {
    return k == NetKind::switching || k == NetKind::clock || k == NetKind::supply;
}
[[nodiscard]] constexpr bool is_delicate(NetKind k) {
    return k == NetKind::picture || k == NetKind::sound;
}

struct Fabrication {
    std::string id;       ///< "main"
    std::string title;    ///< "Adapter, revision 2"
    std::string file;     ///< a zip below the dossier's folder, with /; empty while it is only outside
    std::string outside;  ///< absolute path of a zip or folder not yet copied in; never written to disk
    std::string process;  ///< an id of data/processes; empty: not chosen
    std::string against;  ///< "wire", or a Trace netlist's id; empty: wire where it has a circuit
    std::map<std::string, std::string> roles;  ///< file in the archive to a role, where a person corrected it
    std::vector<FabConnector> connectors;
    std::vector<FabPad> pads;              ///< go before those that the files name
    std::map<std::string, NetKind> kinds;  ///< by the net's name
    double apart_mm = 1.0;                 ///< least between noisy and delicate nets
    std::string note;
    std::string extra;
    std::vector<FitCase> fits{};
    std::vector<FitZone> zones{};
    OrderAsk order{};
    std::vector<BoardVariant> variants{};
    double thick_mm = 1.6;               ///< of the bare board
    std::vector<FitOutline> outlines{};  ///< of cases and panels that it has to go into
    bool operator==(const Fabrication&) const = default;
    [[nodiscard]] const FabConnector* find_connector(std::string_view ref) const {
        for (const auto& c : connectors)
            if (c.ref == ref) return &c;
        return nullptr;
    }
};

}  // namespace grayrelic
