// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/scan_budget.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/base/quantity.hpp"

namespace grayrelic {

MatrixPins pins_of(std::size_t rows, std::size_t columns, std::size_t keys) {
    MatrixPins p;
    p.direct = rows + columns;
    // Of equally few the squarest.
    for (std::size_t r = 1; r <= keys; ++r) {
        const auto c = (keys + r - 1) / r;
        if (r > c) break;
        if (p.folded != 0 && r + c > p.folded) continue;
        p.folded = r + c;
        p.folded_rows = r;
        p.folded_columns = c;
    }
    const auto longer = std::max(rows, columns), shorter = std::min(rows, columns);
    p.strobe_register = 3 + shorter;
    std::size_t address = 0;
    while ((std::size_t{1} << address) < longer) ++address;
    p.decoder = address + shorter;
    return p;
}

ScanNumbers scan_numbers(const DeviceMap& map) {
    ScanNumbers n;
    const std::map<std::string, double*> places{
        {"foil_ohm", &n.foil_ohm},      {"farad", &n.farad}, {"pull_ohm", &n.pull_ohm},
        {"debounce", &n.debounce},      {"volts", &n.volts}, {"driver_ohm", &n.driver_ohm},
        {"register_hz", &n.register_hz}};
    for (const auto& place : places) {
        const auto& key = place.first;
        const auto& list = map.matrix.numbers;
        const auto it = std::find_if(list.begin(), list.end(), [&](const auto& f) { return f.key == key; });
        if (it != list.end() && it->value.value > 0) *place.second = it->value.value;
        if (it == list.end() || it->value.evidence.kind == EvidenceKind::assumed) n.assumed.push_back(key);
    }
    n.report_s = map.modern.poll.value.seconds();
    return n;
}

namespace {

/// The most current that flows from a strobe at high to one at low when two keys of one column are closed.
void judge_fight(const MatrixModel& model, const ScanNumbers& n, std::string_view drive, ScanBudget& b) {
    bool possible = false;
    for (const auto& k : model.keys)
        for (const auto& other : model.keys)
            // The key in the row that is high is passed backward: a diode there stops it.
            possible = possible || (k.column == other.column && k.row != other.row && !k.diode);
    if (!possible) {
        b.fight = Verdict::holds;
        b.fight_says = "No two keys of one column join two strobes: diodes or one key a column stop it.";
        return;
    }
    // Twice the way of one key: out through one key's foil, back through the other's, and both outputs.
    b.fight_a = n.volts / (2 * n.foil_ohm + 2 * n.driver_ohm);
    const auto amps = print_number(b.fight_a, Unit::ampere);
    if (drive == "open-drain") {
        b.fight = Verdict::holds;
        b.fight_says = "Strobes only pull down, so that two closed keys of one column join nothing.";
    } else {
        // 20 mA is what a usual output is rated for at most; half of that is no harm.
        b.fight = b.fight_a > 20e-3                    ? Verdict::stop
                  : b.fight_a > 10e-3 || drive.empty() ? Verdict::doubt
                                                       : Verdict::holds;
        b.fight_says = fmt::format(
            "Two keys of one column closed join two push-pull strobes: {} from high to low through "
            "the foil. {}",
            amps,
            drive.empty()               ? "Nobody said how the strobes are driven: let them only pull down."
            : b.fight == Verdict::holds ? "An output bears that; the reading may still be wrong."
                                        : "Let the strobes only pull down, or give each key a diode.");
    }
}

}  // namespace

ScanBudget scan_budget(const MatrixModel& model, const ScanNumbers& n, std::string_view drive) {
    ScanBudget b;
    b.settle_s = 5 * (n.foil_ohm + n.pull_ohm) * n.farad;
    const auto strobes = static_cast<double>(model.rows.size());
    b.scan_s = strobes * b.settle_s;
    const auto bits = static_cast<double>(model.rows.size() + model.columns.size());
    b.register_scan_s = strobes * (b.settle_s + bits / n.register_hz);
    b.latency_s = b.scan_s * n.debounce + n.report_s;
    b.low_v = n.volts * (n.foil_ohm + n.driver_ohm) / (n.foil_ohm + n.driver_ohm + n.pull_ohm);
    b.low = b.low_v > 0.3 * n.volts    ? Verdict::stop
            : b.low_v > 0.24 * n.volts ? Verdict::doubt
                                       : Verdict::holds;
    judge_fight(model, n, drive, b);
    return b;
}

}  // namespace grayrelic
