// SPDX-License-Identifier: GPL-3.0-or-later
// Every link of a circuit judged: from each driver to each receiver that it reaches, through resistors,
// switches and level shifters, at the corners of both supplies.
//
// Nets that resistances join (and no supply parts) are one line. Its voltages follow from Kirchhoff's law
// with the driver at its guaranteed level, all receivers taking what they take at most, and supplies at the
// corner that is worst.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/wire/circuit.hpp"

namespace grayrelic {

/// What is wrong with a line, beyond levels.
enum class LineFault {
    contention,      ///< two drive at once
    may_contend,     ///< two may drive at once
    floats,          ///< nobody drives or pulls it
    too_large,       ///< more on one line than is judged
    floats_at_boot,  ///< until firmware says otherwise
    no_pull,         ///< an open collector without a pull
    swapped_pair,    ///< the two wires of a balanced line are exchanged: it is inverted
    no_termination,  ///< of a balanced line
    no_idle,         ///< a balanced line has no level of its own while nobody drives it
};

struct LineLink {
    std::size_t driver = 0, receiver = 0;  ///< index into Circuit::drivers, receivers
    LinkVerdict levels;
    bool through_parts = false;     ///< resistors or switches lie between
    bool family_unknown = false;    ///< of either end
    std::optional<double> clamp_a;  ///< that flows through an input's diode when it is over its limit
    std::optional<double> rise_s;   ///< of an open collector's line to the receiver's threshold
    std::optional<double> pull_ohm;
};

/// A line: nets that resistances join.
struct WireLine {
    std::string name;  ///< of the net that is best known: a contact's name, else the net's
    std::vector<int> nets;
    std::vector<std::size_t> drivers, receivers, links;
    struct Fault {
        LineFault kind = LineFault::floats;
        Verdict verdict = Verdict::doubt;
        std::string says, why, todo;
    };
    std::vector<Fault> faults;
    Verdict verdict = Verdict::holds;
    double farad = 0;  ///< estimated: inputs, drivers and, at a contact, a lead
};

struct LinkStudy {
    std::vector<WireLine> lines;
    std::vector<LineLink> links;
    [[nodiscard]] const WireLine* line_of(int net) const;
    std::vector<int> line_by_net;  ///< index into lines, -1 for supplies and nets without a line
};

[[nodiscard]] LinkStudy judge_links(const Circuit& circuit);

/// What a lead is taken to add at a contact.
inline constexpr double lead_farad = 150e-12;
inline constexpr double driver_farad = 10e-12;
/// A line of more is not judged.
inline constexpr std::size_t most_line_nets = 200, most_line_links = 2000;
/// An input's diode is taken to carry this for ever.
inline constexpr double harmless_clamp_a = 1e-3;

}  // namespace grayrelic
