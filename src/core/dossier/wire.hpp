// SPDX-License-Identifier: GPL-3.0-or-later
// What a dossier holds for Wire: which network is common to all ways to build, and the values to be computed.
// The circuit itself is text in Timing's networks (docs/formats/network.md): the
// common one and that of the chosen option together are the bridge's netlist.
//
// `extra` members hold fields of newer versions, as in dossier.hpp.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/dossier/timing.hpp"

namespace grayrelic {

/// A value to be computed: see electrical/values.hpp for kinds and keys.
struct WireValue {
    std::string id;
    std::string name;
    std::string kind;                          ///< "rc-delay"
    std::vector<NumberFact> numbers;           ///< by the kind's keys, SI units
    std::map<std::string, std::string> parts;  ///< key to the part whose value it is: "r" to "R3"
    std::optional<double> least, most;         ///< wanted of the main figure
    std::string series;                        ///< "e12"; empty: e24
    std::string note;
    std::string extra;
    bool operator==(const WireValue&) const = default;
};

/// Something that a hand sets, and that sets a supply: a trimmer, a jumper, a slider on the relic.
enum class SettingKind { trimmer, jumper, selector, host };
template <>
inline constexpr std::array words_of<SettingKind>{"trimmer", "jumper", "selector", "host"};

struct SettingPosition {
    std::string name;  ///< "5 V", "left"
    double volts = 0;  ///< what the supply then is
    std::string extra{};
    bool operator==(const SettingPosition&) const = default;
};

struct WireSetting {
    std::string id;
    std::string name;  ///< "supply slider"
    SettingKind kind = SettingKind::jumper;
    std::string where;                       ///< "on the relic, under the lid"
    std::string source;                      ///< the line of the rails whose volts it sets
    std::vector<SettingPosition> positions;  ///< none: any value from least to most
    std::optional<double> least, most;       ///< volts that it can be turned to
    std::optional<double> want;              ///< volts that this work needs
    std::optional<double> back;              ///< volts to put back afterwards
    Fact<std::optional<double>> now;         ///< volts that it is at
    std::string measure;                     ///< how, with the socket empty
    std::string note;
    std::string extra;
    bool operator==(const WireSetting&) const = default;
};

/// What a signal asks of a module's pin.
enum class PinUse { plain, interrupt, serial, programmable, analogue };
template <>
inline constexpr std::array words_of<PinUse>{"plain", "interrupt", "serial", "programmable", "analogue"};

struct PinNeed {
    std::string id;
    std::string name;  ///< of the signal in the firmware: "REPLY"
    PinUse use = PinUse::plain;
    std::string pin;  ///< that it is bound to, "P4"; empty: whichever will do
    std::string note;
    std::string extra;
    bool operator==(const PinNeed&) const = default;
};

/// What firmware needs of the module, beside what the circuit already wires to it.
struct PinPlan {
    std::string part;  ///< PartType::id of the module; empty: the circuit's
    std::vector<PinNeed> needs;
    std::string form;  ///< the person's own text for the pin header; empty: C
    std::string extra;
    bool operator==(const PinPlan&) const = default;
};

struct Wire {
    std::string network;  ///< LogicNetwork::id of what all options share; may be empty
    std::vector<WireValue> values;
    std::string extra;
    std::string rails{};  ///< what is known of the rails beside the circuit (docs/formats/rails.md)
    std::vector<WireSetting> settings{};
    PinPlan pins{};
    bool operator==(const Wire&) const = default;
    [[nodiscard]] const WireValue* find_value(std::string_view id) const;
    [[nodiscard]] const WireSetting* find_setting(std::string_view id) const;
    [[nodiscard]] const PinNeed* find_need(std::string_view id) const;
};

/// Two texts as one circuit, and where a line of it stands.
struct BridgeText {
    std::string common_id, option_id;  ///< of the networks; empty where there is none
    std::string option;                ///< the option's name
    std::string text;
    long common_lines = 0;
    bool undecided = false;  ///< there are options, and none is chosen
    bool operator==(const BridgeText&) const = default;
    /// The network that a line of the whole stands in, and its number there, from 1.
    [[nodiscard]] std::pair<std::string, long> place_of(long line) const;
};
/// Of the chosen option; of another one by its id.
[[nodiscard]] BridgeText bridge_text(const Wire& wire, const Timing& timing);
[[nodiscard]] BridgeText bridge_text(const Wire& wire, const Timing& timing, std::string_view option);

}  // namespace grayrelic
