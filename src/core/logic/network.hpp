// SPDX-License-Identifier: GPL-3.0-or-later
// A small network of standard parts, read from its net list (docs/formats/network.md):
//
//   # comment
//   input HOLD STEP          nets driven from outside, by the capture's signal of the same name
//   input DIAL0 = bit11      … or by a bit of the recorded frames, from 1 in order of arrival
//   input A = 1              … or held at a chosen level
//   output REPLY
//   pull LINE 1              a resistor that holds an undriven net
//   port J1: 3=HOLD 5=REPLY  contacts of a port of the dossier
//   rail V5 5V ±5%           a net that is a supply
//   power V5 GND: U1 U2      their supply and ground pins
//   U1 74x165 hct: CLK=STEP /LD=HOLD SER=1 P0=A QH=REPLY
//      P1=B P2=C             a line that begins with a space goes on with the one above
//   R1 resistor 4k7 1%: 1=REPLY 2=V5
//
// Parts without logic, such as resistors, stand in `all` only; a resistor to a rail pulls, one between two
// nets passes on what drives one of them. Wire (core/wire) takes the whole circuit from `all`, ports and
// rails.
//
// A net named 0 or 1 is that level. A pin that is not named is open.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/verdict.hpp"
#include "core/logic/part_logic.hpp"

namespace grayrelic {

struct NetworkProblem {
    long line = 0;      ///< 1-based in the text
    bool fatal = true;  ///< it can't be computed; otherwise it can, but should be mended
    std::string says;
    std::string expected;
    bool operator==(const NetworkProblem&) const = default;
};

/// The net that a pin is joined to; nothing while the pin is open.
using PinNet = std::optional<int>;

struct NetworkInput {
    int net = 0;
    enum class From { signal, level, bit } from = From::signal;
    bool level = false;
    int bit = 0;  ///< from 1
};

/// A part as it stands in the text, with logic or without.
struct ListedPart {
    std::string ref;
    const PartType* type = nullptr;                 ///< owned by the library
    std::vector<std::string> words;                 ///< behind the part: family or value, tolerance
    std::string package;                            ///< as said by package=…; else empty
    std::vector<std::pair<std::string, int>> pins;  ///< name (or number) of the pin, and its net
    std::optional<int> logic;                       ///< index into Network::parts
    long line = 0;
    [[nodiscard]] std::optional<int> net_of(std::string_view pin) const;
    /// "74x165 hct", "resistor 4k7": as a parts list calls it.
    [[nodiscard]] std::string called() const;
};

/// The contacts of a port of the dossier, by number or name.
struct NetworkPort {
    std::string port;
    std::vector<std::pair<std::string, int>> contacts;
    long line = 0;
};

struct NetworkRail {
    int net = 0;
    double volts = 0, tolerance = 0;
    long line = 0;
};

struct NetworkPart {
    std::string ref;                   ///< "U1"
    const PartLogic* logic = nullptr;  ///< owned by the library, which must outlive the network
    std::string family;
    const PartDelays* delays = nullptr;  ///< null when the family is not in the part's data
    std::vector<PinNet> inputs;          ///< of each of logic->inputs
    std::vector<PinNet> outputs;         ///< of each of logic->outputs
    long line = 0;
};

struct LogicNet {
    std::string name;
    std::vector<std::pair<int, int>> drivers;  ///< part and its output
    std::optional<int> input;                  ///< index into inputs, when driven from outside
    std::optional<bool> held;                  ///< the nets 0 and 1
    std::optional<bool> pull;
    bool output = false;
    bool excused = false;  ///< a line that could not be read names it: nothing is said of its driver
    long line = 0;         ///< where it is first named
};

struct Network {
    std::vector<LogicNet> nets;
    std::vector<NetworkInput> inputs;
    std::vector<int> outputs;              ///< nets
    std::vector<NetworkPart> parts;        ///< what computes; a series resistor passes a level on
    std::vector<NetworkProblem> problems;  ///< in order of lines
    std::vector<ListedPart> all;
    std::vector<NetworkPort> ports;
    std::vector<NetworkRail> rails;
    std::vector<std::shared_ptr<const PartLogic>> turned;  ///< logic of switches that pass the other way
    std::string loop;                                      ///< a net in a loop of gates; empty for none
    [[nodiscard]] bool computable() const;                 ///< no fatal problem
    [[nodiscard]] bool stores() const;
    [[nodiscard]] std::optional<int> find_net(std::string_view name) const;
    [[nodiscard]] const std::string& net_name(int net) const {
        return nets[static_cast<std::size_t>(net)].name;
    }
};

/// Everything that is wrong is collected, with its line: unknown parts, pins and families, two drivers on one
/// net, nets that nobody drives, loops of gates without storage, inputs left open, wrong words. At most 1,000
/// parts.
[[nodiscard]] Network read_network(std::string_view text, const LogicLibrary& library);
/// The same without what only a computation asks for (drivers, outputs, loops): problems of the text alone.
[[nodiscard]] Network read_circuit(std::string_view text, const LogicLibrary& library);

/// Parts in stages: stage 0 is fed by inputs and stored bits only. One entry a part; loops through storage
/// count from 0 again.
[[nodiscard]] std::vector<int> stages_of(const Network& network);

/// Packages and how much of them is used: "U1 74x00: 2 of 4 outputs used".
struct SpareGates {
    int part = 0;
    std::vector<std::string> unused;  ///< output pins
};
[[nodiscard]] std::vector<SpareGates> spare_gates(const Network& network);

}  // namespace grayrelic
