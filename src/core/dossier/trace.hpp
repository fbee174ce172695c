// SPDX-License-Identifier: GPL-3.0-or-later
// What is known of an old board: readings between points, parts and where they sit, scans of its copper,
// netlists it is held against, where the reproduction departs from them, and the parts it takes from donors.
//
// A point is a name: "J1.3" for a contact of a port, "U2.14" for a pin of a part, any other name for a via or
// a spot on a picture. Positions are millimetres on the board seen from the front (component side), x to the
// right, y down.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/board_side.hpp"
#include "core/base/words.hpp"
#include "core/dossier/fact.hpp"

namespace grayrelic {

enum class MeterReadingKind {
    beep,   ///< the meter says: connected
    open,   ///< no connection
    ohms,   ///< a resistance
    diode,  ///< a diode drop, one way or both
};

/// One reading of a meter between two points.
struct MeterReading {
    std::string a, b;
    MeterReadingKind kind = MeterReadingKind::beep;
    std::optional<double> ohm;         ///< of `ohms`
    std::optional<double> forward_v;   ///< of `diode`, red probe at a; infinite: over the meter's range
    std::optional<double> backward_v;  ///< of `diode`, red probe at b
    std::string tool, date, note;
    std::string unit;       ///< JobUnit::id it was taken on; may be empty
    std::string set_aside;  ///< why it does not count any more; empty while it counts
    std::string extra;
    bool operator==(const MeterReading&) const = default;
};

struct BoardPart {
    std::string ref;                   ///< "U2"
    std::string type;                  ///< id in data/parts, or empty
    std::string value;                 ///< "4k7"
    std::string package;               ///< "dip-20"; empty for the type's own
    std::optional<double> x_mm, y_mm;  ///< of pin 1
    double turn_deg = 0;               ///< clockwise, seen from the front
    BoardSide side = BoardSide::front;
    Evidence evidence;
    std::string note;
    std::string extra;
    bool operator==(const BoardPart&) const = default;
};

/// A via, a pad without a part, or a spot on a picture.
struct Spot {
    std::string name;
    double x_mm = 0, y_mm = 0;
    std::string note;
    std::string extra{};
    bool operator==(const Spot&) const = default;
};

/// Another name of a point: what a drawing or a label calls it.
struct PointAlias {
    std::string name;
    std::string point;
    std::string extra{};
    bool operator==(const PointAlias&) const = default;
};

/// A place in the picture whose place on the board is known.
struct ScanReference {
    double x_px = 0, y_px = 0;
    double x_mm = 0, y_mm = 0;
    std::string extra{};
    bool operator==(const ScanReference&) const = default;
};

enum class StrokeKind {
    cut,      ///< no copper here, whatever the picture says
    join,     ///< copper here
    unknown,  ///< charred or corroded: nobody can see what is here
};
template <>
inline constexpr std::array words_of<StrokeKind>{"cut", "join", "unknown"};

/// A correction drawn by hand, in millimetres on the board.
struct ScanStroke {
    StrokeKind kind = StrokeKind::cut;
    double x1_mm = 0, y1_mm = 0, x2_mm = 0, y2_mm = 0;
    double width_mm = 0.3;
    std::string why;
    std::string extra{};
    bool operator==(const ScanStroke&) const = default;
};

enum class ClickKind {
    copper,  ///< copper under a mask, or bare
    pad,     ///< plated or bare metal in an opening of the mask
    board,   ///< no copper: laminate, bare or under the mask
    silk,    ///< ink that lies over whatever is there
    hole,
};
template <>
inline constexpr std::array words_of<ClickKind>{"copper", "pad", "board", "silk", "hole"};

/// A place on the board where a person says what the picture shows.
struct ScanClick {
    ClickKind kind = ClickKind::board;
    double x_mm = 0, y_mm = 0;
    std::string extra{};
    bool operator==(const ScanClick&) const = default;
};

struct Scan {
    std::string id;
    std::string title;
    std::string file;     ///< below the dossier's folder, with /
    std::string outside;  ///< absolute path of a picture not yet copied in; never written to disk
    BoardSide side = BoardSide::front;
    std::string unit;  ///< JobUnit::id it shows; may be empty
    std::vector<ScanReference> references;
    std::vector<ScanStroke> strokes;
    std::vector<ScanClick> clicks;
    std::string extra;
    bool operator==(const Scan&) const = default;
};

struct Net {
    std::string name;  ///< may be empty
    std::vector<std::string> points;
    std::string extra{};
    bool operator==(const Net&) const = default;
};

/// A netlist from elsewhere: published, drawn, or about to be ordered.
struct NetSource {
    std::string id;
    std::string name;
    std::string note;
    std::vector<Net> nets;
    bool by_wiring = false;  ///< its parts have other names than here: matched by how they are wired
    std::string extra;
    bool operator==(const NetSource&) const = default;
};

/// Where the reproduction departs from a published design, and why.
struct Deviation {
    std::string id;
    std::string subject;  ///< "U3.9", "net /CS"
    std::string says;     ///< what is different
    std::string reason;
    std::string source;  ///< NetSource::id it departs from; may be empty
    std::string date;
    std::string extra;
    bool operator==(const Deviation&) const = default;
};

/// A part taken from a donor board.
struct Donor {
    std::string id;
    std::string part;  ///< what it is: "custom decoder, marked PC-2"
    std::string from;  ///< which donor
    std::string to;    ///< its place in the reproduction: "U2"
    std::string condition, cleaning;
    int order = 0;        ///< of the transfers, from 1; 0 for none yet
    int heat_cycles = 0;  ///< solderings so far, in and out
    int heat_limit = 0;   ///< how many it is given; 0 for the usual 3
    std::string verdict;  ///< "good", "doubtful", "dead" or empty
    std::string note;
    std::string extra;
    bool operator==(const Donor&) const = default;
};

struct Trace {
    double beep_below_ohm = 2.0;  ///< an ohm reading below joins
    std::string unit;             ///< JobUnit::id that is looked at; empty: that with the most readings
    std::vector<BoardPart> parts;
    std::vector<Spot> spots;
    std::vector<PointAlias> aliases;
    std::vector<Scan> scans;
    std::vector<NetSource> netlists;
    std::string against;  ///< NetSource::id that the board is held against; empty for the first
    std::vector<Deviation> deviations;
    std::vector<Donor> donors;
    std::string extra;
    bool operator==(const Trace&) const = default;
    [[nodiscard]] const BoardPart* find_part(std::string_view ref) const;
    [[nodiscard]] const Scan* find_scan(std::string_view id) const;
    [[nodiscard]] const NetSource* find_netlist(std::string_view id) const;
    /// The netlist it is held against; null without any.
    [[nodiscard]] const NetSource* reference() const;
};

}  // namespace grayrelic
