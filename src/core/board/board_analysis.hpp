// SPDX-License-Identifier: GPL-3.0-or-later
// Board's analysis: each set of fabrication files read once, and held against what the dossier knows.
// Immutable.
#pragma once

#include <filesystem>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/memory.hpp"
#include "core/board/board_circuit.hpp"
#include "core/board/board_pads.hpp"
#include "core/board/board_rules.hpp"
#include "core/board/face_match.hpp"
#include "core/board/outline_file.hpp"
#include "core/board/pad_patterns.hpp"
#include "core/dossier/dossier.hpp"
#include "core/port/connector_library.hpp"

namespace grayrelic {

/// What follows from the files alone.
struct ReadBoard {
    std::optional<Error> problem;  ///< why nothing could be read
    bool no_files = false;         ///< the board has none yet
    BoardFiles files;
    BoardOutline outline;
    BoardSize size;
    std::shared_ptr<const BoardCopper> copper;  ///< null where nothing could be read
    BoardPads pads;                             ///< of the attributes, else of the test netlist
    std::string pads_from;    ///< "the layers' attributes", "the test netlist"; empty for none
    std::vector<Land> lands;  ///< what contacts can be soldered to
};
[[nodiscard]] Result<ReadBoard> read_whole_board(const std::filesystem::path& path,
                                                 const RoleCorrections& roles, Progress& progress);

struct BoardFace {
    std::string ref;
    std::string port;       ///< whose contacts it meets; may be empty
    std::string connector;  ///< its kind
    Half half = Half::socket;
    bool presumed = false;  ///< from the port of the same name: nobody said which half stands here
    bool supply = false;    ///< a contact of the port carries a supply
    std::string problem;    ///< why it was not compared: an unknown connector, no pads of that name
    FaceMatch match;
};

struct BoardFootprint {
    std::string ref, package;
    FaceMatch match;
};

/// A noisy and a delicate net that come too near.
struct ApartPlace {
    std::string noisy, delicate;  ///< names of the nets
    NetKind noisy_kind = NetKind::switching, delicate_kind = NetKind::picture;
    double mm = 0;
    BoardXY at;
    std::string file;
};

/// A case or panel that the board has to lie in.
struct BoardCase {
    std::string id, title;
    std::shared_ptr<const OutlineDrawing> drawing;  ///< null where it could not be read
    std::string problem;                            ///< why not, or why nothing can be said
    bool judged = false;
    InsideAnswer answer;
};

struct FabricationAnalysis {
    std::string id;
    std::shared_ptr<const ReadBoard> read;  ///< never null
    BoardPads pads;                         ///< those of the dossier, else the files'
    std::string pads_from;
    CopperNets nets;
    std::string against;                 ///< "Wire", or the netlist's name; empty: nothing to hold it against
    std::vector<std::string> net_names;  ///< of each copper net; empty where no pad tells
    std::vector<BoardFace> faces;
    std::vector<BoardFootprint> footprints;
    std::map<std::string, PadPattern> patterns;   ///< of each part whose package or connector is known
    std::shared_ptr<const BoardProcess> process;  ///< of the library; null: none chosen
    std::shared_ptr<const RuleReport> rules;
    std::vector<ApartPlace> apart;
    std::map<std::string, NetKind> kinds;         ///< of the nets: said, else told from their names
    std::shared_ptr<const BoardCircuit> circuit;  ///< what it is held against; never null, may be empty
    /// What the files ask for beyond the limits above which extras are charged; null: nothing was looked at.
    std::shared_ptr<const RuleReport> charged;
    std::vector<BoardCase> cases;
    /// The net below a place of a copper layer: its name, "net 7" where it has none, empty off the copper.
    [[nodiscard]] std::string net_at(BoardXY at, std::size_t layer) const;
};

/// A connector of one board held against that of another which it is pushed into.
struct BoardMate {
    std::string board;  ///< Fabrication::id
    BoardFace face;     ///< its `connector` names the other: "main/J2"
};

struct BoardAnalysis {
    std::vector<std::shared_ptr<const FabricationAnalysis>> boards;
    std::vector<BoardMate> mates{};
    [[nodiscard]] const FabricationAnalysis* find(std::string_view id) const;
};

struct BoardData {
    std::shared_ptr<const ConnectorLibrary> connectors;
    std::shared_ptr<const PackageLibrary> packages;
    std::shared_ptr<const BoardProcessLibrary> processes;
    /// By Fabrication::against, "" for Wire's; one that is missing is not known.
    std::map<std::string, std::shared_ptr<const BoardCircuit>> circuits;
    [[nodiscard]] std::shared_ptr<const BoardCircuit> circuit_of(const Fabrication& board) const;
};

/// Null when interrupted.
[[nodiscard]] std::shared_ptr<const BoardAnalysis> analyse_boards(const Dossier& dossier,
                                                                  const std::filesystem::path& folder,
                                                                  const BoardData& data, Memory& memory,
                                                                  MemoryRun& run);

/// What a net's name tells: "CLK" is a clock, "VIDEO" a picture; plain where it tells nothing.
[[nodiscard]] NetKind kind_told(std::string_view name);
/// The pads of a dossier's table, as the readers have them.
[[nodiscard]] BoardPads pads_of_dossier(const Fabrication& board);
/// The other way round.
[[nodiscard]] FabPad fab_pad_of(const BoardPad& pad);

/// What follows from saying that a contact lies about there: all contacts of its part, where they fit in one
/// way only. `pattern` may be null. `known`: pads of the part that a person pointed at before.
struct PointedPads {
    BoardPads pads;    ///< of the part, to replace what the dossier has of it
    std::string says;  ///< what was found, or what else would tell
    bool all = false;
};
[[nodiscard]] PointedPads pads_from_pointing(const std::vector<Land>& lands, const PadPattern* pattern,
                                             const BoardPad& pointed, const BoardPads& known);

}  // namespace grayrelic
