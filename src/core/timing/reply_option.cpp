// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/reply_option.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.hpp"
#include "core/timing/option_kinds.hpp"

namespace grayrelic {
namespace {

constexpr Time longest = Time::s(1000);

Result<OptionValues> values_of(const BuildOption& option, const std::vector<ParameterSpec>& specs,
                               bool measured) {
    OptionValues v;
    for (const auto& spec : specs) {
        if (spec.unit == Unit::second) {
            const auto it = std::find_if(option.parameters.begin(), option.parameters.end(),
                                         [&](const OptionParameter& p) { return p.key == spec.key; });
            if (it == option.parameters.end()) {
                if (spec.optional || (measured && spec.key.starts_with("latency"))) continue;
                return wrong_option(option, "no " + spec.key, "a time for " + spec.key);
            }
            const Time t = it->value.value;
            if (t < Time{} || t > longest)
                return wrong_option(option, fmt::format("{} {}", spec.key, print_exact(t)),
                                    "a time from 0 s to 1,000 s");
            v.times[spec.key] = t;
        } else {
            const auto it = std::find_if(option.numbers.begin(), option.numbers.end(),
                                         [&](const NumberFact& p) { return p.key == spec.key; });
            if (it == option.numbers.end()) {
                if (spec.optional) continue;
                return wrong_option(option, "no " + spec.key, "a number for " + spec.key);
            }
            const double x = it->value.value;
            if (!(x >= 0.0 && x <= 1e11))
                return wrong_option(option, fmt::format("{} {}", spec.key, x), "a number from 0");
            v.numbers[spec.key] = x;
        }
    }
    return v;
}

}  // namespace

Failure wrong_option(const BuildOption& option, const std::string& found, const std::string& expected) {
    return fail_usage(fmt::format("{} in option {}", found, in_quotes(option.name)), expected);
}

Result<ReplyModel> model_of(const BuildOption& option, std::vector<Time> measured) {
    const auto values = values_of(option, parameters_of(option.kind), !measured.empty());
    if (!values) return fail(values.error());
    const auto& v = *values;
    ReplyModel m;
    m.kind = option.kind;
    m.busy = option.busy;
    if (const auto depth = v.number("depth")) {
        if (*depth < 1 || *depth > 1e6)
            return wrong_option(option, fmt::format("depth {}", *depth), "a queue of 1 to 1000000 places");
        m.depth = static_cast<int>(*depth);
    }
    m.held = v.time("held");
    m.held_every = v.time("held-every");
    m.stall = v.time("stall");
    m.stall_every = v.time("stall-every");
    m.write = v.time("write");
    if (m.held_every > Time{} && m.held > m.held_every)
        return wrong_option(option,
                            fmt::format("held {} every {}", print_exact(m.held), print_exact(m.held_every)),
                            "a hold shorter than the time between holds");
    if (m.stall > Time{} && m.stall_every <= Time{})
        return wrong_option(option, "stall without stall-every", "how far apart the stalls are on average");
    if (auto filled = fill_model(option, v, measured, m); !filled) return fail(filled.error());
    return m;
}

}  // namespace grayrelic
