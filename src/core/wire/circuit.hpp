// SPDX-License-Identifier: GPL-3.0-or-later
// The bridge as a circuit: what its text (docs/formats/network.md), the ports, the cables and the parts' data
// say together. Each net knows what stands on it, what drives it and what reads it, and from which supply.
//
// A pin of a port belongs to the circuit behind the port it is named at: a relic's pin has the family of the
// relic's own chip, whichever way it is driven (decision 30). Where a cable leads on from a port of the text,
// the far port's facts hold.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/dossier/dossier.hpp"
#include "core/electrical/link.hpp"
#include "core/logic/network.hpp"
#include "core/parts/part.hpp"

namespace grayrelic {

/// What a net is as a supply.
struct NetSupply {
    double least = 0, typical = 0, most = 0;
    bool ground = false;
    bool assumed = false;  ///< its least was not said: 10 % below its most
    double spread = 0;     ///< by how much drops on the way may differ, beside what it comes from
    std::string origin;    ///< what it comes from in the end: supplies of one origin come and go together
    std::string because;   ///< "rail line 3", "J1/1 +5 V", "V5 behind D1"
    std::optional<double> limit_a;
};

/// A contact of a port, with what is known of it at the far end of a cable.
struct CircuitContact {
    std::string port, contact;          ///< as the text has it
    std::string far_port, far_contact;  ///< whose facts these are; the same without a cable
    Side side = Side::relic;            ///< of the far port
    Pin pin;                            ///< its facts; its number alone where nothing is recorded
    int net = 0;
    [[nodiscard]] std::string name() const;   ///< "REPLY", else "J1/5"
    [[nodiscard]] std::string place() const;  ///< "J1/5"
};

/// How a thing drives a net.
enum class DriveStyle {
    firm,       ///< both levels, always
    may_rest,   ///< three-state: may let go
    pulls_low,  ///< open collector or drain
    firmware,   ///< a module's pin: input until its program says otherwise
};

struct NetEnd {
    std::optional<std::size_t> part;     ///< index into Network::all
    std::optional<std::size_t> contact;  ///< or into Circuit::contacts
    std::string pin;                     ///< name of the part's pin
    int net = 0;
    const Family* family = nullptr;  ///< null: not known, judged as the most fragile that is plausible
    SupplyRange supply;
    double supply_spread = 0;   ///< as NetSupply::spread
    std::string supply_origin;  ///< as NetSupply::origin; empty: not said
    bool supply_said = false;
    DriveStyle style = DriveStyle::firm;        ///< of a driver
    std::optional<double> highest_v, lowest_v;  ///< of a driver, as measured at the open line
};

/// Two nets that something conducts between.
struct CircuitEdge {
    enum class Kind { resistor, switched, low_only, drop };
    Kind kind = Kind::resistor;
    std::size_t part = 0;
    int a = 0, b = 0;
    double ohm = 0;                     ///< of a resistor, of a switch that is on
    double drop_min = 0, drop_max = 0;  ///< of a drop, from a to b
};

struct CircuitNet {
    std::string name;
    std::vector<std::pair<std::size_t, std::string>> pins;  ///< part and pin
    std::vector<std::size_t> contacts;
    std::optional<NetSupply> supply;
    std::vector<std::size_t> edges;
};

/// What is wrong with the circuit as such, at a line of the text or at a net or part.
struct CircuitFault {
    Verdict verdict = Verdict::stop;
    std::string id;    ///< "network-text", "no-ground", "value", "supply", "pin-open", "two-supplies"
    std::string what;  ///< the net, part or line
    std::string says, todo;
    long line = 0;  ///< of the text; 0 for none
};

struct Circuit {
    BridgeText text;
    Network network;
    std::vector<CircuitNet> nets;  ///< by the network's net numbers
    std::vector<CircuitContact> contacts;
    std::vector<CircuitEdge> edges;
    std::vector<NetEnd> drivers, receivers;
    std::vector<CircuitFault> faults;
    [[nodiscard]] bool empty() const { return network.all.empty() && network.ports.empty(); }
    /// "U2.QH", "J1/5 REPLY"
    [[nodiscard]] std::string name_of(const NetEnd& end) const;
};

struct CircuitData {
    const LogicLibrary* logic = nullptr;
    const FamilyLibrary* families = nullptr;
};

[[nodiscard]] Circuit build_circuit(const Dossier& dossier, BridgeText text, const CircuitData& data);

/// A part's value: "4k7" of a resistor in ohms, "100n" of a capacitor in farads, "3V3" of a regulator in
/// volts. Nothing where the kind has none.
[[nodiscard]] Result<std::optional<double>> part_value(const ListedPart& part);
/// "1%" among its words, as a share; else what is usual of its kind: resistor 5 %, capacitor 10 %.
[[nodiscard]] double part_tolerance(const ListedPart& part);
/// Of a family that nobody knows: fragile, weak and demanding.
[[nodiscard]] const Family& unknown_family();

}  // namespace grayrelic
