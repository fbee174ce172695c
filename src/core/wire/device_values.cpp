// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wire/device_values.hpp"

#include <fmt/format.h>

namespace grayrelic {
namespace {

const NumberFact* figure_of(const CoverItem& device, std::string_view key) {
    for (const auto& f : device.figures)
        if (f.key == key) return &f;
    return nullptr;
}

std::string amps(double a) {
    return print_number(a, Unit::ampere);
}

DeviceValue current_of(double amperes, const WireAnalysis* wire) {
    DeviceValue out{"current", amps(amperes), Verdict::unknown, "no rail of the circuit has a limit"};
    if (wire == nullptr || wire->rails.modes.empty()) {
        out.why = "the circuit has no rails yet";
        return out;
    }
    const RailFigures* least = nullptr;
    double left = 0;
    for (const auto& r : wire->rails.modes.front().rails) {
        if (!r.limit_a) continue;
        const double l = *r.limit_a - r.load_a;
        if (least != nullptr && l >= left) continue;
        least = &r;
        left = l;
    }
    if (least == nullptr) return out;
    constexpr double little = 0.1;  // of the rail's limit, as Wire judges its rails
    out.value = fmt::format("{} of {} left on {}", amps(amperes), amps(left), least->name);
    const double rest = left - amperes;
    out.verdict = rest < 0                          ? Verdict::stop
                  : rest < little * *least->limit_a ? Verdict::doubt
                                                    : Verdict::holds;
    out.why = fmt::format(
        "{} gives {}, {} of it are taken; which rail it hangs on is not said, so the one with least left "
        "counts",
        least->name, amps(*least->limit_a), amps(least->load_a));
    return out;
}

DeviceValue poll_of(double seconds, const DeviceMap& map) {
    DeviceValue out{"poll", print_number(seconds, Unit::second), Verdict::unknown,
                    "how long a press is held is not known"};
    const double hold = map.modern.hold.value.seconds();
    if (hold <= 0) return out;
    out.verdict = seconds <= hold ? Verdict::holds : Verdict::stop;
    out.why = fmt::format("a press is held {}, and asked for every {}", print_number(hold, Unit::second),
                          print_number(seconds, Unit::second));
    return out;
}

}  // namespace

std::vector<DeviceValue> device_values(const CoverItem& device, const WireAnalysis* wire,
                                       const DeviceMap& map) {
    std::vector<DeviceValue> out;
    if (const auto* current = figure_of(device, "current"))
        out.push_back(current_of(current->value.value, wire));
    if (const auto* poll = figure_of(device, "poll")) out.push_back(poll_of(poll->value.value, map));
    return out;
}

}  // namespace grayrelic
