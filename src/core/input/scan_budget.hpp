// SPDX-License-Identifier: GPL-3.0-or-later
// Pins and time of a matrix: how many pins each way to build it takes, how long a scan lasts, and what
// happens when two keys in one column close while the strobes are push-pull.
#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <vector>

#include "core/base/verdict.hpp"
#include "core/dossier/map.hpp"
#include "core/input/matrix_model.hpp"

namespace grayrelic {

struct MatrixPins {
    std::size_t direct = 0;  ///< rows + columns
    std::size_t folded = 0;  ///< fewest rows + columns that hold as many positions as there are keys
    std::size_t folded_rows = 0, folded_columns = 0;
    std::size_t registers = 4;  ///< shift registers for strobes and senses: data out, data in, clock, latch
    std::size_t strobe_register = 0;  ///< one for the longer side's strobes, the other side direct: 3 + that
    std::size_t decoder = 0;          ///< a decoder for the longer side: ⌈log₂⌉ + the other side
    std::size_t expander = 2;         ///< a two-wire port expander, while its lines suffice
};
[[nodiscard]] MatrixPins pins_of(std::size_t rows, std::size_t columns, std::size_t keys);

/// The numbers of SwitchMatrix by their keys; a missing one is the usual value, assumed.
struct ScanNumbers {
    double foil_ohm = 300;             ///< "foil_ohm": of a row and a column together, through a closed key
    double farad = 100e-12;            ///< "farad": of a column with its lead
    double pull_ohm = 10e3;            ///< "pull_ohm"
    double debounce = 5;               ///< "debounce": scans in a row that must agree
    double volts = 3.3;                ///< "volts": of the pull-ups
    double driver_ohm = 30;            ///< "driver_ohm": of a strobe's output
    double register_hz = 4e6;          ///< "register_hz": the clock of shift registers
    double report_s = 0;               ///< the host's polling interval; 0: unknown
    std::vector<std::string> assumed;  ///< keys of those that nobody measured
};
[[nodiscard]] ScanNumbers scan_numbers(const DeviceMap& map);

struct ScanBudget {
    double settle_s = 0;  ///< 5·(foil + pull)·C a strobe: the slowest edge is the one through the pull-up
    double scan_s = 0;    ///< strobes × settle
    double register_scan_s = 0;      ///< with shift registers: the bits clocked besides
    double latency_s = 0;            ///< scan × debounce + report interval
    double low_v = 0;                ///< of a column pulled low through foil and driver
    Verdict low = Verdict::unknown;  ///< against three tenths of the supply, the usual input's limit
    double fight_a =
        0;  ///< push-pull strobes, two keys of one column closed: from high through both keys to low
    Verdict fight = Verdict::unknown;
    std::string fight_says;
};
/// `drive`: "push-pull", "open-drain" or empty. Diodes in every key stop the fight.
[[nodiscard]] ScanBudget scan_budget(const MatrixModel& model, const ScanNumbers& numbers,
                                     std::string_view drive);

}  // namespace grayrelic
