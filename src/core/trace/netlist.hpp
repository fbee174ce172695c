// SPDX-License-Identifier: GPL-3.0-or-later
// Netlists in and out: CSV with the columns net and point, and the test netlist of IPC-D-356A.
//
// IPC-D-356A: fixed columns. Record codes 317 (through-hole), 327 (surface), 367 (unplated hole), 307, 017,
// 027 … and continued access records; columns 4-17 the net's name, 21-26 the part, 27 a dash, 28-31 its pin,
// 42 X, 50 Y in units of the parameter record P UNITS (CUST 0: 0.0001 inch; CUST 1: 0.001 mm; CUST 2 as 0,
// with angles in radians). Names longer than 14 characters stand as aliases (P NNAME…). N/C is a point
// without a net.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"
#include "core/dossier/trace.hpp"

namespace grayrelic {

struct NetlistPoint {
    std::string point;
    double x_mm = 0, y_mm = 0;
};

struct Netlist {
    std::vector<Net> nets;             ///< in the file's order; points in no net are nets of their own
    std::vector<NetlistPoint> places;  ///< of IPC-D-356A
    std::vector<std::string> notes;    ///< what was left out, and where
};

inline constexpr std::size_t most_netlist_points = 200'000;

/// Which of the two it is, is told from its text.
[[nodiscard]] Result<Netlist> read_netlist(std::string_view text, const std::string& name);
[[nodiscard]] Result<Netlist> read_net_csv(std::string_view text, const std::string& name);
[[nodiscard]] Result<Netlist> read_ipc_d_356a(std::string_view text, const std::string& name);

[[nodiscard]] std::string write_net_csv(const std::vector<Net>& nets);
/// Places are needed for each point; those without one stand at 0, 0. Units 0.001 mm (CUST 1).
[[nodiscard]] std::string write_ipc_d_356a(const std::vector<Net>& nets,
                                           const std::vector<NetlistPoint>& places, std::string_view job);

}  // namespace grayrelic
