// SPDX-License-Identifier: GPL-3.0-or-later
// The network of two circuits that touch, with what each of its branches is to a person. Of port/plugged.
#pragma once

#include <cstddef>
#include <map>
#include <string>
#include <vector>

#include "core/electrical/dc_network.hpp"
#include "core/port/plugged.hpp"

namespace grayrelic::plugged {

struct Branch {
    enum class Kind {
        touch,
        shells,
        supply,
        load,
        substrate,
        clamp_high,
        clamp_low,
        drive,
        pull,
        input,
        part
    };
    Kind kind = Kind::part;
    int a = 0, b = 0;          ///< current is counted from a to b; a feed begins at ground
    bool of_socket = true;     ///< on which side it stands
    std::size_t terminal = 0;  ///< of its side; of a touch: its index
    std::string says;          ///< a station of a path; empty: not worth one
    double amps = 0;           ///< of the last solution
    bool high = false;         ///< of a drive
};

/// Levels that all outputs of a side are put to; one may differ.
struct Levels {
    bool socket_high = false, plug_high = false;
    std::size_t odd_touch = static_cast<std::size_t>(-1);  ///< both of its ends are put to the other level
};

class Network {
  public:
    /// `plug_runs`: its outputs drive. `tied`: the grounds are joined somewhere else.
    Network(const PluggedCase& c, const Levels& levels, bool plug_runs, bool tied);
    void solve();

    std::vector<Branch> branches;
    DcSolution solution;
    std::vector<int> socket_node, plug_node;  ///< behind the protection of each terminal; −1: nothing there
    int plug_ground = 0;
    [[nodiscard]] double volts(int node) const { return solution.volts[static_cast<std::size_t>(node)]; }
    /// Of the supply that a terminal's part hangs on, against its ground.
    [[nodiscard]] double supply_of(bool socket, std::size_t terminal) const;
    [[nodiscard]] double wanted_of(bool socket, std::size_t terminal) const;
    [[nodiscard]] double ground_of(bool socket) const { return socket ? 0.0 : volts(plug_ground); }
    /// Does the plug's circuit get enough to work?
    [[nodiscard]] bool plug_supplied() const;
    struct Rail {
        double wanted = 0;
        int node = 0;
    };
    [[nodiscard]] const std::vector<Rail>& plug_rails() const { return sides_[1].rails; }

  private:
    struct Side {
        int ground = 0;
        std::vector<Rail> rails;
        std::map<double, int> logic;  ///< supplies that its parts have but its port does not show
    };
    enum class From { feed, resistance, drop };
    struct Source {
        From from;
        std::size_t index;
    };
    void rails(bool socket);
    [[nodiscard]] Rail logic_rail(bool socket, const Terminal& t);
    int through_protection(bool socket, std::size_t i, int contact);
    void place(bool socket, std::size_t i, int contact);
    void output(bool socket, std::size_t i, int node);
    void diodes(bool socket, std::size_t i, int node);
    void resistance(Branch b, double ohm);
    void drop(Branch b, double volts, double ohm);
    void feed(Branch b, double volts, double ohm, double most_a = DcNetwork::no_limit,
              bool takes_back = true);
    [[nodiscard]] const CircuitSide& side(bool socket) const { return socket ? case_.socket : case_.plug; }
    [[nodiscard]] Branch branch(Branch::Kind kind, bool socket, std::size_t i, int a, int b) const;
    [[nodiscard]] bool is_high(bool socket, std::size_t i) const;

    const PluggedCase& case_;
    Levels levels_;
    bool plug_runs_, tied_;
    DcNetwork net_;
    std::vector<Source> sources_;
    Side sides_[2];                                // the socket's, the plug's
    std::vector<Rail> socket_logic_, plug_logic_;  // by terminal
};

/// "+5 V (socket)"
[[nodiscard]] std::string called(const CircuitSide& side, const Terminal& t);

}  // namespace grayrelic::plugged
