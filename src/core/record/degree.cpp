// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/record/degree.hpp"

#include <fmt/format.h>

#include <cmath>

namespace grayrelic {

DegreeState degree_state(const TrialRun& t) {
    constexpr double ppm = 1e6;
    DegreeState out;
    out.of = t.degree_of;
    out.degree = t.degree;
    out.expected = t.expected;
    out.plus_minus = t.plus_minus;
    bool by_hand = false;
    if (!t.degree && t.ahead_s && t.ran_s && *t.ran_s > 0) {
        out.degree = *t.ahead_s / *t.ran_s * ppm;
        if (out.of.empty()) out.of = "ahead, ppm";
        if (!out.plus_minus) {
            out.plus_minus = std::sqrt(2.0) * by_hand_s / *t.ran_s * ppm;
            by_hand = true;
        }
    }
    if (!out.degree) {
        if (t.ahead_s && !t.ran_s) out.says = "how long both ran is not said";
        return out;
    }
    const auto unit = out.of.empty() ? std::string() : " (" + out.of + ")";
    if (!out.expected) {
        out.says = fmt::format("{:.4g}{}; nobody said what was expected", *out.degree, unit);
        return out;
    }
    const double apart = *out.degree - *out.expected;
    if (!out.plus_minus) {
        out.says = fmt::format("{:.4g} against {:.4g}{}; how sure either is, is not said", *out.degree,
                               *out.expected, unit);
        return out;
    }
    const bool inside = std::abs(apart) <= *out.plus_minus;
    out.verdict = inside ? Verdict::holds : Verdict::doubt;
    out.says = fmt::format("{:.4g} against {:.4g}{}: {:.4g} apart, {} ±{:.4g}{}", *out.degree, *out.expected,
                           unit, apart, inside ? "within" : "beyond", *out.plus_minus,
                           by_hand ? " (started and stopped by hand)" : "");
    return out;
}

}  // namespace grayrelic
