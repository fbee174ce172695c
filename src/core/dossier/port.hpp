// SPDX-License-Identifier: GPL-3.0-or-later
// Ports, their pins with every fact's evidence, what other sources say of them, and the cables between them.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/quantity.hpp"
#include "core/base/time.hpp"
#include "core/base/words.hpp"
#include "core/dossier/fact.hpp"

namespace grayrelic {

enum class Driver { unknown, relic, bridge, both, supply, nobody };
template <>
inline constexpr std::array words_of<Driver>{"unknown", "relic", "bridge", "both", "supply", "nobody"};

struct Pin {
    std::string number;
    Fact<std::string> name;  ///< empty value: not known
    Fact<Driver> driver;
    Fact<std::string> function;  ///< "signal", "clock", "supply", "supply-in", "ground", "shield", "unused"
                                 ///< or empty; "supply-in": the port's own circuit takes its supply here
    Fact<std::string> family;    ///< logic family id such as "hct", or empty
    Fact<std::string> output;    ///< "push-pull", "open-collector" or empty
    Fact<std::string> idle;      ///< "high", "low", "floating" or empty
    Fact<std::string> pull;      ///< "up", "down", "none" or empty
    Fact<std::optional<Ohms>> pull_ohm;    ///< its resistance
    Fact<std::optional<Volts>> volts_min;  ///< lowest voltage; of a negative rail, the rail
    Fact<std::optional<Volts>> volts_max;  ///< highest voltage; of a positive rail, the rail
    Fact<std::optional<Amperes>> current_max;
    Fact<std::optional<Volts>> volts_idle;     ///< measured at rest, powered
    Fact<std::optional<Volts>> volts_active;   ///< measured while driven
    Fact<std::optional<Ohms>> ohms_to_ground;  ///< measured unpowered
    Fact<std::string> colour;                  ///< of the wire that comes with it
    Fact<std::string> protection;  ///< on its own board: "series 330R + clamp"; see port/protection.hpp
    std::string note;
    std::string extra;
    bool operator==(const Pin&) const = default;
};

/// Another table for the same connector: a drawing found somewhere, one's own probing, or what the port said
/// before another source was taken over.
struct PinSource {
    std::string id;
    std::string name;
    std::string note;  ///< such as how its numbers were read
    std::vector<Pin> pins;
    std::string extra;
    bool operator==(const PinSource&) const = default;
};

struct Photo {
    std::string file;     ///< below the dossier's folder, with /
    std::string outside;  ///< absolute path of a picture not yet copied in; never written to disk
    std::string title;
    std::string extra;
    bool operator==(const Photo&) const = default;
};

/// Whose port it is: the old machine's, or the new one's.
enum class Side { relic, modern };
template <>
inline constexpr std::array words_of<Side>{"relic", "modern"};
/// Which half of the connector stands at this place.
enum class Half { socket, plug };
template <>
inline constexpr std::array words_of<Half>{"socket", "plug"};

/// Something that a recording has to hold.
struct TapWish {
    std::string id;
    std::string what;               ///< "a disk being written"
    std::string how;                ///< what is done for it: "save a file, three times"
    std::optional<double> every_s;  ///< how often it comes by itself, on average; nothing: when it is done
    long times = 20;                ///< wanted of it
    std::string extra{};
    bool operator==(const TapWish&) const = default;
};
/// How this port is going to be recorded, before there is a recording.
struct TapPlan {
    std::string analyser;                ///< AnalyserModel::id; empty: the shipped general one
    Fact<std::optional<Time>> shortest;  ///< the shortest pulse that may come
    std::vector<TapWish> wishes;
    std::string extra{};
    bool operator==(const TapPlan&) const = default;
};

struct Port {
    std::string id;                         ///< "J1"
    std::string name;                       ///< "Control port"
    std::string connector;                  ///< such as "mini-din-9"; see port/connector_library.hpp
    std::string numbering;                  ///< Numbering::id; empty for the connector's first
    std::string viewpoint = "into-socket";  ///< how it was last looked at; see port/connector.hpp
    Side side = Side::relic;
    Half half = Half::socket;
    std::vector<std::string> nearby;  ///< what is dangerous near it: "mains", "tube", "lithium", "charged"
    std::vector<Pin> pins;
    std::vector<PinSource> sources;
    std::vector<Photo> photos;
    TapPlan taps;
    std::string extra;
    bool operator==(const Port&) const = default;
    [[nodiscard]] const Pin* find_pin(std::string_view number) const;
    [[nodiscard]] const PinSource* find_source(std::string_view id) const;
};

/// One end of a cable: the half of a connector that is fitted to it, and the port it goes to.
struct CableEnd {
    std::string port;       ///< Port::id; empty while it goes to none
    std::string connector;  ///< of an end without a port
    Half half = Half::plug;
    std::string label;  ///< "computer end"
    std::string extra{};
    bool operator==(const CableEnd&) const = default;
};

struct CableWire {
    std::string a;  ///< number at the first end
    std::string b;  ///< number at the second end
    std::string colour;
    std::string note;
    std::string extra{};
    bool operator==(const CableWire&) const = default;
};

struct Cable {
    std::string id;
    std::string name;
    CableEnd a, b;
    std::vector<CableWire> wires;
    std::string stripe;  ///< number at the first end of the ribbon's marked wire; empty for none
    std::string note;
    std::string extra;
    bool operator==(const Cable&) const = default;
};

}  // namespace grayrelic
