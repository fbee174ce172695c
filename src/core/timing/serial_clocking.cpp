// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/serial_clocking.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/quantity.hpp"

namespace grayrelic {
namespace {

constexpr double thin_bit_margin = 0.1;

double steps_of(DividerKind k) {
    return k == DividerKind::integer ? 1.0 : k == DividerKind::fraction64 ? 64.0 : 256.0;
}

/// All but the rate error's share of bit 0 to bits − 1.
double fixed_loss(const SerialQuestion& q) {
    return 1.0 / q.oversample + q.jitter.seconds() * q.target_hz;
}

}  // namespace

SerialQuestion question_of(const ClockStudy& study) {
    return {study.rate.value.value(),
            study.clock.value.value(),
            study.divider,
            study.oversample,
            study.bits,
            study.jitter};
}

Result<SerialClocking> clock_serial(const SerialQuestion& q) {
    const auto rate = [](double v) { return v > 0.0 && v <= 1e12; };
    if (!rate(q.target_hz))
        return fail_usage("a target of " + print_number(q.target_hz, Unit::hertz), "a rate above 0");
    if (!rate(q.clock_hz))
        return fail_usage("a clock of " + print_number(q.clock_hz, Unit::hertz), "a clock above 0");
    if (q.oversample < 1 || q.oversample > 256)
        return fail_usage(fmt::format("oversampling {}", q.oversample), "1 to 256");
    if (q.bits < 3 || q.bits > 16)
        return fail_usage(fmt::format("{} bits", q.bits), "3 to 16 with start and stop");
    if (q.jitter < Time{}) return fail_usage("jitter " + print(q.jitter), "a time from 0 s");
    const double ideal = q.clock_hz / (q.oversample * q.target_hz);
    if (ideal < 0.5)
        return fail_usage(
            fmt::format("{} from {} with oversampling {}", print_number(q.target_hz, Unit::hertz),
                        print_number(q.clock_hz, Unit::hertz), q.oversample),
            "a clock of at least the rate times the oversampling");
    SerialClocking out;
    const double steps = steps_of(q.divider);
    out.divisor = std::max(1.0, std::round(ideal * steps) / steps);
    out.achieved_hz = q.clock_hz / (q.oversample * out.divisor);
    const double e = out.achieved_hz / q.target_hz - 1.0;
    out.error_ppm = e * 1e6;
    const double fixed = fixed_loss(q);
    for (int n = 0; n < q.bits; ++n) out.margin_bit.push_back(0.5 - (std::abs(e) * (n + 0.5) + fixed));
    out.worst_margin_bit = *std::min_element(out.margin_bit.begin(), out.margin_bit.end());
    out.verdict = out.worst_margin_bit < 0.0               ? Verdict::stop
                  : out.worst_margin_bit < thin_bit_margin ? Verdict::doubt
                                                           : Verdict::holds;
    return out;
}

double most_error_ppm(const SerialQuestion& q) {
    return std::max(0.0, (0.5 - fixed_loss(q)) / (q.bits - 0.5) * 1e6);
}

Result<LoopRate> loop_rate(double clock_hz, const std::vector<long long>& cycles, int toggles) {
    if (!(clock_hz > 0.0))
        return fail_usage("a clock of " + print_number(clock_hz, Unit::hertz), "a clock above 0");
    if (toggles < 1 || toggles > 1'000'000)
        return fail_usage(fmt::format("{} toggles", toggles), "1 to 1000000");
    LoopRate r;
    for (const auto c : cycles) {
        if (c < 0 || c > 1'000'000'000'000) return fail_usage(fmt::format("{} cycles", c), "a number from 0");
        r.cycles += c;
    }
    if (r.cycles == 0) return fail_usage("a loop of no cycles", "at least one cycle");
    r.loop_s = static_cast<double>(r.cycles) / clock_hz;
    r.toggle_hz = toggles / (2.0 * r.loop_s);
    return r;
}

Result<LoopCycles> loop_cycles(double clock_hz, double measured_hz, int toggles) {
    if (!(clock_hz > 0.0))
        return fail_usage("a clock of " + print_number(clock_hz, Unit::hertz), "a clock above 0");
    if (!(measured_hz > 0.0))
        return fail_usage("a rate of " + print_number(measured_hz, Unit::hertz), "a rate above 0");
    if (toggles < 1 || toggles > 1'000'000)
        return fail_usage(fmt::format("{} toggles", toggles), "1 to 1000000");
    LoopCycles c;
    c.cycles = toggles * clock_hz / (2.0 * measured_hz);
    if (c.cycles > 1e12) return fail_usage("so slow a rate", "a loop of at most 10^12 cycles");
    c.below = static_cast<long long>(std::floor(c.cycles + 1e-9));
    c.above = c.cycles - static_cast<double>(c.below) < 1e-6 ? c.below : c.below + 1;
    const auto error = [&](long long n) {
        return n == 0 ? 0.0 : (c.cycles / static_cast<double>(n) - 1.0) * 1e6;
    };
    c.error_below_ppm = error(c.below);
    c.error_above_ppm = error(c.above);
    return c;
}

}  // namespace grayrelic
