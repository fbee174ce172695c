// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/reply_option.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr Time longest = Time::s(1000);

Failure wrong(const BuildOption& option, const std::string& found, const std::string& expected) {
    return fail_usage(fmt::format("{} in option {}", found, in_quotes(option.name)), expected);
}

void add(BuildOption& option, const char* key, Time value) {
    option.parameters.push_back(
        {key, {value, std::nullopt, {EvidenceKind::assumed, "command line", "", ""}}});
}

Failure wrong_spelling(std::string_view text) {
    return fail_usage(
        "option " + in_quotes(text),
        "poll:period=P,work=W or irq:latency=MIN..MAX,held=T/EVERY,work=W or logic:MIN,TYP,MAX");
}

}  // namespace

std::vector<ParameterSpec> parameters_of(std::string_view kind) {
    if (kind == "poll")
        return {{"period", "Loop period", "one round of the loop that looks at the trigger"},
                {"work", "Work", "from noticing the trigger to writing the reply"}};
    if (kind == "irq")
        return {{"latency-min", "Entry, fastest", "from the edge to the handler's first instruction"},
                {"latency-max", "Entry, slowest", "the same, when the processor is at its slowest point"},
                {"held", "Held off for", "the longest time interrupts are off or a higher one runs"},
                {"held-every", "Held off every", "how often that happens; 0 for never"},
                {"work", "Work", "from the handler's entry to writing the reply"}};
    if (kind == "logic")
        return {{"min", "Path, fastest", "propagation delay, minimum"},
                {"typ", "Path, typical", "propagation delay, typical"},
                {"max", "Path, slowest", "propagation delay, guaranteed maximum at the supply used"}};
    return {};
}

std::string kind_label(std::string_view kind) {
    if (kind == "poll") return "polling firmware";
    if (kind == "irq") return "interrupt firmware";
    if (kind == "logic") return "logic path";
    return std::string(kind);
}

Result<ReplyModel> model_of(const BuildOption& option) {
    const auto specs = parameters_of(option.kind);
    if (specs.empty()) return wrong(option, "kind " + in_quotes(option.kind), "poll, irq or logic");
    std::map<std::string, Time> values;
    for (const auto& spec : specs) {
        const auto it = std::find_if(option.parameters.begin(), option.parameters.end(),
                                     [&](const OptionParameter& p) { return p.key == spec.key; });
        if (it == option.parameters.end()) return wrong(option, "no " + spec.key, "a time for " + spec.key);
        const Time t = it->value.value;
        if (t < Time{} || t > longest)
            return wrong(option, fmt::format("{} {}", spec.key, print_exact(t)),
                         "a time from 0 s to 1,000 s");
        values[spec.key] = t;
    }
    ReplyModel m;
    if (option.busy != "late" && option.busy != "lost")
        return wrong(option, "busy " + in_quotes(option.busy), "late or lost");
    m.busy = option.busy == "lost" ? WhenBusy::lost : WhenBusy::late;
    const auto in_order = [&](const char* low, const char* high) { return values[low] <= values[high]; };
    if (option.kind == "poll") {
        m.kind = ReplyKind::poll;
        m.period = values["period"];
        m.work = values["work"];
        if (m.period == Time{}) return wrong(option, "period 0 s", "a loop period above 0 s");
    } else if (option.kind == "irq") {
        m.kind = ReplyKind::irq;
        m.latency_min = values["latency-min"];
        m.latency_max = values["latency-max"];
        m.held = values["held"];
        m.held_every = values["held-every"];
        m.work = values["work"];
        if (!in_order("latency-min", "latency-max"))
            return wrong(option, "latency-min above latency-max", "the fastest entry not above the slowest");
        if (m.held_every > Time{} && m.held > m.held_every)
            return wrong(option,
                         fmt::format("held {} every {}", print_exact(m.held), print_exact(m.held_every)),
                         "a hold shorter than the time between holds");
    } else {
        m.kind = ReplyKind::logic;
        m.latency_min = values["min"];
        m.latency_typ = values["typ"];
        m.latency_max = values["max"];
        if (!in_order("min", "typ") || !in_order("typ", "max"))
            return wrong(option, "delays out of order", "min not above typ, typ not above max");
    }
    return m;
}

Result<BuildOption> parse_option(std::string_view text) {
    const auto colon = text.find(':');
    if (colon == std::string_view::npos) return wrong_spelling(text);
    BuildOption option;
    option.kind = std::string(text.substr(0, colon));
    option.id = option.name = std::string(text);
    const auto parts = split(text.substr(colon + 1), ',');
    std::string problem;
    const auto time = [&](std::string_view value, const char* key) {
        const auto t = parse_time(value);
        if (!t)
            problem = t.error().found;
        else
            add(option, key, *t);
    };
    if (option.kind == "logic") {
        if (parts.size() != 3) return wrong_spelling(text);
        time(parts[0], "min");
        time(parts[1], "typ");
        time(parts[2], "max");
    } else if (option.kind == "poll" || option.kind == "irq") {
        bool held = false;
        for (const auto part : parts) {
            const auto equals = part.find('=');
            if (equals == std::string_view::npos) return wrong_spelling(text);
            const auto key = trim(part.substr(0, equals));
            const auto value = part.substr(equals + 1);
            const bool irq = option.kind == "irq";
            if (key == "work") {
                time(value, "work");
            } else if (key == "busy") {
                option.busy = std::string(trim(value));
            } else if (key == "period" && !irq) {
                time(value, "period");
            } else if (key == "latency" && irq) {
                const auto dots = value.find("..");
                if (dots == std::string_view::npos) {
                    time(value, "latency-min");
                    time(value, "latency-max");
                } else {
                    time(value.substr(0, dots), "latency-min");
                    time(value.substr(dots + 2), "latency-max");
                }
            } else if (key == "held" && irq) {
                const auto slash = value.find('/');
                if (slash == std::string_view::npos) return wrong_spelling(text);
                time(value.substr(0, slash), "held");
                time(value.substr(slash + 1), "held-every");
                held = true;
            } else {
                return wrong_spelling(text);
            }
        }
        if (option.kind == "irq" && !held) {
            add(option, "held", Time{});
            add(option, "held-every", Time{});
        }
    } else {
        return wrong_spelling(text);
    }
    if (!problem.empty()) return fail_usage(problem + " in option " + in_quotes(text), "a time like 2.2us");
    if (auto model = model_of(option); !model) return fail(model.error());
    return option;
}

}  // namespace grayrelic
