// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/electrical/link.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

/// Sums of decimal figures miss their value by less than this.
constexpr double rounding_v = 1e-9;

std::string volts(double v) {
    return print_number(v, Unit::volt);
}

/// Sentences that decide, the worst kept.
class Reasons {
  public:
    void add(Verdict v, const std::string& says) {
        if (v == Verdict::holds) return;
        if (worst_ != v && worse(worst_, v) == v) {
            text_.clear();
            worst_ = v;
        }
        if (v == worst_) text_ += (text_.empty() ? "" : " ") + says;
    }
    [[nodiscard]] Verdict worst() const { return worst_; }
    [[nodiscard]] const std::string& text() const { return text_; }

  private:
    Verdict worst_ = Verdict::holds;
    std::string text_;
};

Verdict of_margin(double margin) {
    return margin < -rounding_v                  ? Verdict::stop
           : margin < thin_margin_v - rounding_v ? Verdict::doubt
                                                 : Verdict::holds;
}

/// Outside the supplies for which its limits are given?
void judge_supply(const Family& f, SupplyRange s, const char* whose, Reasons& out) {
    const double middle = (s.least + s.most) / 2;
    const auto range =
        fmt::format("{}'s limits hold from {} to {}", whose, volts(f.works_min_v), volts(f.works_max_v));
    if (middle > f.works_max_v + rounding_v || middle < f.works_min_v - rounding_v)
        out.add(Verdict::stop, fmt::format("{}; it has {}.", range, volts(middle)));
    else if (s.most > f.works_max_v + rounding_v || s.least < f.works_min_v - rounding_v)
        out.add(Verdict::doubt,
                fmt::format("{}; its supply may be {} to {}.", range, volts(s.least), volts(s.most)));
}

}  // namespace

ArrivingLevels driven_levels(const Family& f, SupplyRange supply, double high_a, double low_a) {
    ArrivingLevels out;
    const bool own_swing = f.swings_below_ground() || f.differential_out_v.has_value();
    out.highest_v = own_swing ? f.output_high_max_v : supply.most;
    out.lowest_v = f.output_low_min_v;
    if (f.open_collector || !f.output_high_min_v) {
        out.high_problem = "An open collector gives no high by itself: nothing is said to pull the line up.";
        out.high_unknown = true;
        out.highest_v = 0;
    } else if (const auto high = f.high_at(supply.least, high_a)) {
        out.high_least_v = *high;
    } else {
        out.high_problem = fmt::format("The receivers take {} at a high; {} gives at most {}.",
                                       print_number(high_a, Unit::ampere), f.id,
                                       print_number(f.most_high_a(supply.least), Unit::ampere));
    }
    if (const auto low = f.low_at(supply.least, low_a))
        out.low_most_v = *low;
    else
        out.low_problem = fmt::format("The receivers give {} at a low; {} takes at most {}.",
                                      print_number(low_a, Unit::ampere), f.id,
                                      print_number(f.most_low_a(supply.least), Unit::ampere));
    return out;
}

LinkVerdict judge_levels(ArrivingLevels a, const Receiver& to) {
    LinkVerdict out;
    const auto& f = *to.family;
    Reasons reasons;
    judge_supply(f, to.supply, "the receiver", reasons);
    if (a.differential) {
        out.high_needed_v = *f.differential_in_v;
        out.low_needed_v = -*f.differential_in_v;
    } else {
        out.high_needed_v = f.needs_at(to.supply.most).high_min_v;
        out.low_needed_v = f.needs_at(to.supply.least).low_max_v;
    }
    out.limit_high_v = f.input_limit_v(to.may_be_off ? 0.0 : to.supply.least);
    out.limit_low_v = f.limit_low_v;
    const bool high_side = a.highest_v > out.limit_high_v + rounding_v;
    const bool low_side = a.lowest_v < out.limit_low_v - rounding_v;
    out.over_limit = high_side || low_side;
    if (high_side)
        reasons.add(Verdict::stop,
                    fmt::format("Up to {} arrives; the input endures {}{}.", volts(a.highest_v),
                                volts(out.limit_high_v), to.may_be_off ? " while its part is off" : ""));
    if (low_side)
        reasons.add(Verdict::stop, fmt::format("Down to {} arrives; the input endures {}.", volts(a.lowest_v),
                                               volts(out.limit_low_v)));
    if (a.high_least_v) {
        out.high_margin_v = *a.high_least_v - out.high_needed_v;
        reasons.add(
            of_margin(*out.high_margin_v),
            fmt::format("High: {} given, {} needed.", volts(*a.high_least_v), volts(out.high_needed_v)));
    } else {
        reasons.add(a.high_unknown ? Verdict::unknown : Verdict::stop, a.high_problem);
    }
    if (a.low_most_v) {
        out.low_margin_v = out.low_needed_v - *a.low_most_v;
        reasons.add(of_margin(*out.low_margin_v),
                    fmt::format("Low: {} given, {} needed.", volts(*a.low_most_v), volts(out.low_needed_v)));
    } else {
        reasons.add(a.low_unknown ? Verdict::unknown : Verdict::stop, a.low_problem);
    }
    out.verdict = reasons.worst();
    out.why =
        out.verdict == Verdict::holds
            ? fmt::format("High: {} given, {} needed. Low: {} given, {} needed.", volts(*a.high_least_v),
                          volts(out.high_needed_v), volts(*a.low_most_v), volts(out.low_needed_v))
            : reasons.text();
    out.arriving = std::move(a);
    return out;
}

LinkVerdict judge_link(const Family& driver, SupplyRange supply, const Receiver& to) {
    const auto& f = *to.family;
    auto levels = driven_levels(driver, supply, f.input_high_a, f.input_low_a);
    if (f.is_pair() && driver.differential_out_v) {
        // Both wires of the pair; high and low stand between them.
        levels.differential = true;
        levels.high_least_v = *driver.differential_out_v;
        levels.low_most_v = -*driver.differential_out_v;
    } else if (f.is_pair() && !driver.swings_below_ground()) {
        levels.high_least_v.reset();
        levels.low_most_v.reset();
        levels.high_unknown = levels.low_unknown = true;
        levels.high_problem =
            "A receiver of a pair compares two wires: what stands at the other one is not said.";
        levels.low_problem.clear();
    }
    auto out = judge_levels(std::move(levels), to);
    Reasons supplies;
    judge_supply(driver, supply, "the driver", supplies);
    if (supplies.worst() != Verdict::holds) {
        if (worse(out.verdict, supplies.worst()) != out.verdict || out.verdict == Verdict::holds)
            out.why = supplies.text();
        else
            out.why += " " + supplies.text();
        out.verdict = worse(out.verdict, supplies.worst());
    }
    return out;
}

SupplyRange around(double volts, double tolerance) {
    return {volts * (1 - tolerance), volts * (1 + tolerance)};
}

Result<double> parse_tolerance(std::string_view text) {
    auto number = trim(text);
    double scale = 1;
    for (const std::string_view sign : {"±", "+-"})
        if (number.starts_with(sign)) number.remove_prefix(sign.size());
    if (number.ends_with('%')) {
        number.remove_suffix(1);
        scale = 0.01;
    }
    const auto v = parse_number(trim(number), Unit::none);
    if (!v || !(*v * scale >= 0 && *v * scale < 1))
        return fail_usage(in_quotes(text), "a tolerance from 0 to below 100 %, such as 5%");
    return *v * scale;
}

Result<NamedSupply> parse_named_supply(std::string_view text) {
    constexpr double most_v = 1000;
    const auto at = text.find('@');
    const auto expected = "FAMILY@VOLTS, such as hct@5V";
    if (at == std::string_view::npos || at == 0) return fail_usage(in_quotes(text), expected);
    const auto v = parse_number(text.substr(at + 1), Unit::volt);
    if (!v || !(*v > 0 && *v <= most_v)) return fail_usage(in_quotes(text), expected);
    return NamedSupply{std::string(text.substr(0, at)), *v};
}

}  // namespace grayrelic
