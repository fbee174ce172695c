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
    return fail_usage("option " + in_quotes(text),
                      "poll:period=P,work=W or irq:latency=MIN..MAX,held=T/EVERY,work=W or "
                      "core:latency=MIN..MAX,work=W or pio:clock=F,sync=2..3,cycles=N or "
                      "mixed:latency=MIN..MAX,work=W,path=MIN/TYP/MAX or logic:MIN,TYP,MAX");
}

/// What firmware of any kind may have besides.
void add_common(std::vector<ParameterSpec>& list) {
    list.push_back({"work", "Work", "from noticing the trigger to the end of the work", Unit::second, true});
    list.push_back({"cycles", "Work in cycles", "the same as cycles of the processor", Unit::none, true});
    list.push_back({"clock", "Clock", "of the processor, for the work in cycles", Unit::hertz, true});
    list.push_back({"write", "Output write", "from the end of the work to the pin", Unit::second, true});
    list.push_back(
        {"stall", "Stalled for", "held off at random: cache misses, flash writes", Unit::second, true});
    list.push_back({"stall-every", "Stalled every", "how far apart on average", Unit::second, true});
    list.push_back({"depth", "Queue", "places for triggers that wait", Unit::none, true});
}

/// The values of an option by key, each checked for its size.
struct Values {
    std::map<std::string, Time> times;
    std::map<std::string, double> numbers;
    [[nodiscard]] bool has(const char* key) const { return times.count(key) != 0; }
    [[nodiscard]] Time time(const char* key) const {
        const auto it = times.find(key);
        return it == times.end() ? Time{} : it->second;
    }
};

Result<Values> values_of(const BuildOption& option, const std::vector<ParameterSpec>& specs, bool measured) {
    Values v;
    for (const auto& spec : specs) {
        if (spec.unit == Unit::second) {
            const auto it = std::find_if(option.parameters.begin(), option.parameters.end(),
                                         [&](const OptionParameter& p) { return p.key == spec.key; });
            if (it == option.parameters.end()) {
                if (spec.optional || (measured && spec.key.starts_with("latency"))) continue;
                return wrong(option, "no " + spec.key, "a time for " + spec.key);
            }
            const Time t = it->value.value;
            if (t < Time{} || t > longest)
                return wrong(option, fmt::format("{} {}", spec.key, print_exact(t)),
                             "a time from 0 s to 1,000 s");
            v.times[spec.key] = t;
        } else {
            const auto it = std::find_if(option.numbers.begin(), option.numbers.end(),
                                         [&](const NumberFact& p) { return p.key == spec.key; });
            if (it == option.numbers.end()) {
                if (spec.optional) continue;
                return wrong(option, "no " + spec.key, "a number for " + spec.key);
            }
            const double x = it->value.value;
            if (!(x >= 0.0 && x <= 1e11))
                return wrong(option, fmt::format("{} {}", spec.key, x), "a number from 0");
            v.numbers[spec.key] = x;
        }
    }
    return v;
}

/// Work as a time, or as cycles at a clock.
Result<Time> work_of(const BuildOption& option, const Values& v) {
    if (v.has("work")) return v.time("work");
    const auto cycles = v.numbers.find("cycles"), clock = v.numbers.find("clock");
    if (cycles == v.numbers.end() || clock == v.numbers.end() || clock->second <= 0.0)
        return wrong(option, "no work", "a time for work, or cycles and a clock above 0");
    return Time::from_seconds(cycles->second / clock->second);
}

}  // namespace

std::vector<ParameterSpec> parameters_of(std::string_view kind) {
    std::vector<ParameterSpec> list;
    const auto entry = [&](const char* slow) {
        list.push_back({"latency-min", "Entry, fastest", "from the edge to the handler's first instruction",
                        Unit::second, false});
        list.push_back({"latency-max", "Entry, slowest", slow, Unit::second, false});
    };
    if (kind == "poll") {
        list.push_back({"period", "Loop period", "one round of the loop that looks at the trigger",
                        Unit::second, false});
        add_common(list);
    } else if (kind == "irq") {
        entry("the same, when the processor is at its slowest point");
        list.push_back({"held", "Held off for", "the longest time interrupts are off or a higher one runs",
                        Unit::second, false});
        list.push_back(
            {"held-every", "Held off every", "how often that happens; 0 for never", Unit::second, false});
        add_common(list);
    } else if (kind == "core") {
        entry("the same, with both cores on the bus");
        add_common(list);
    } else if (kind == "pio") {
        list.push_back({"clock", "Clock", "of the state machine", Unit::hertz, false});
        list.push_back(
            {"sync-min", "Synchroniser, least", "cycles until the input is seen", Unit::none, false});
        list.push_back(
            {"sync-max", "Synchroniser, most", "with the edge just after the clock", Unit::none, false});
        list.push_back({"cycles", "Program", "cycles from seeing the edge to the output", Unit::none, false});
        list.push_back({"write", "Output", "from the register to the pin", Unit::second, true});
    } else if (kind == "mixed") {
        entry("until firmware begins to prepare after a burst");
        list.push_back(
            {"held", "Held off for", "the longest time firmware is kept from it", Unit::second, true});
        list.push_back({"held-every", "Held off every", "how often that happens", Unit::second, true});
        list.push_back({"path-min", "Path, fastest", "of the hardware that answers", Unit::second, false});
        list.push_back({"path-typ", "Path, typical", "of the hardware that answers", Unit::second, false});
        list.push_back(
            {"path-max", "Path, slowest", "guaranteed maximum at the supply used", Unit::second, false});
        add_common(list);
        std::erase_if(list, [](const ParameterSpec& s) { return s.key == "depth" || s.key == "write"; });
    } else if (kind == "logic") {
        list.push_back({"min", "Path, fastest", "propagation delay, minimum", Unit::second, false});
        list.push_back({"typ", "Path, typical", "propagation delay, typical", Unit::second, false});
        list.push_back({"max", "Path, slowest", "propagation delay, guaranteed maximum at the supply used",
                        Unit::second, false});
    }
    return list;
}

const std::vector<std::string>& option_kinds() {
    static const std::vector<std::string> kinds{"poll", "irq", "core", "pio", "mixed", "logic", "network"};
    return kinds;
}

bool is_firmware(std::string_view kind) {
    return kind == "poll" || kind == "irq" || kind == "core";
}

std::string kind_label(std::string_view kind) {
    if (kind == "poll") return "polling firmware";
    if (kind == "irq") return "interrupt firmware";
    if (kind == "core") return "second core";
    if (kind == "pio") return "programmable I/O";
    if (kind == "mixed") return "firmware prepares, hardware answers";
    if (kind == "logic") return "logic path";
    if (kind == "network") return "network of parts";
    return std::string(kind);
}

Result<ReplyModel> model_of(const BuildOption& option, std::vector<Time> measured) {
    const auto specs = parameters_of(option.kind);
    if (specs.empty())
        return wrong(option, "kind " + in_quotes(option.kind), "poll, irq, core, pio, mixed or logic");
    const auto values = values_of(option, specs, !measured.empty());
    if (!values) return fail(values.error());
    const auto& v = *values;
    ReplyModel m;
    if (option.busy != "late" && option.busy != "lost" && option.busy != "queue")
        return wrong(option, "busy " + in_quotes(option.busy), "late, lost or queue");
    m.busy = option.busy == "lost"    ? WhenBusy::lost
             : option.busy == "queue" ? WhenBusy::queue
                                      : WhenBusy::late;
    if (const auto d = v.numbers.find("depth"); d != v.numbers.end()) {
        if (d->second < 1 || d->second > 1e6)
            return wrong(option, fmt::format("depth {}", d->second), "a queue of 1 to 1000000 places");
        m.depth = static_cast<int>(d->second);
    }
    const auto in_order = [&](const char* low, const char* high) { return v.time(low) <= v.time(high); };
    m.held = v.time("held");
    m.held_every = v.time("held-every");
    m.stall = v.time("stall");
    m.stall_every = v.time("stall-every");
    m.write = v.time("write");
    if (m.held_every > Time{} && m.held > m.held_every)
        return wrong(option, fmt::format("held {} every {}", print_exact(m.held), print_exact(m.held_every)),
                     "a hold shorter than the time between holds");
    if (m.stall > Time{} && m.stall_every <= Time{})
        return wrong(option, "stall without stall-every", "how far apart the stalls are on average");
    if (option.kind == "pio") {
        m.kind = ReplyKind::pio;
        const double clock = v.numbers.at("clock"), low = v.numbers.at("sync-min"),
                     high = v.numbers.at("sync-max"), cycles = v.numbers.at("cycles");
        if (clock <= 0.0) return wrong(option, "clock 0 Hz", "a clock above 0 Hz");
        if (high < low)
            return wrong(option, "sync-min above sync-max", "the fewest cycles not above the most");
        m.latency_min = Time::from_seconds((low + cycles) / clock);
        m.latency_max = Time::from_seconds((high + cycles) / clock);
        return m;
    }
    if (option.kind == "logic") {
        m.latency_min = v.time("min");
        m.latency_typ = v.time("typ");
        m.latency_max = v.time("max");
        if (!in_order("min", "typ") || !in_order("typ", "max"))
            return wrong(option, "delays out of order", "min not above typ, typ not above max");
        return m;
    }
    auto work = work_of(option, v);
    if (!work) return fail(work.error());
    m.work = *work;
    if (option.kind == "poll") {
        m.kind = ReplyKind::poll;
        m.period = v.time("period");
        if (m.period == Time{}) return wrong(option, "period 0 s", "a loop period above 0 s");
        return m;
    }
    m.kind = option.kind == "irq"    ? ReplyKind::irq
             : option.kind == "core" ? ReplyKind::core
                                     : ReplyKind::mixed;
    if (!measured.empty()) {
        std::sort(measured.begin(), measured.end());
        m.latency_min = measured.front();
        m.latency_max = measured.back();
        m.measured = std::move(measured);
    } else {
        m.latency_min = v.time("latency-min");
        m.latency_max = v.time("latency-max");
    }
    if (m.latency_max < m.latency_min)
        return wrong(option, "latency-min above latency-max", "the fastest entry not above the slowest");
    if (m.kind == ReplyKind::mixed) {
        m.path_min = v.time("path-min");
        m.path_typ = v.time("path-typ");
        m.path_max = v.time("path-max");
        if (!in_order("path-min", "path-typ") || !in_order("path-typ", "path-max"))
            return wrong(option, "delays out of order",
                         "path-min not above path-typ, path-typ not above path-max");
    }
    return m;
}

namespace {

/// "MIN..MAX", or one value for both.
std::pair<std::string_view, std::string_view> range_of(std::string_view value) {
    const auto dots = value.find("..");
    return dots == std::string_view::npos ? std::pair(value, value)
                                          : std::pair(value.substr(0, dots), value.substr(dots + 2));
}

/// Takes the command line's key=value pairs into an option.
class OptionSpeller {
  public:
    explicit OptionSpeller(BuildOption& option) : o_(option) {}
    bool take(std::string_view key, std::string_view value) {
        const auto& kind = o_.kind;
        const auto two = [&](const char* first, const char* second) {
            const auto slash = value.find('/');
            if (slash == std::string_view::npos) return false;
            time(value.substr(0, slash), first);
            time(value.substr(slash + 1), second);
            return true;
        };
        if (key == "busy")
            o_.busy = std::string(trim(value));
        else if (key == "work" || key == "write" || (key == "period" && kind == "poll"))
            time(value, std::string(key).c_str());
        else if (key == "latency" && kind != "poll" && kind != "pio") {
            const auto [low, high] = range_of(value);
            time(low, "latency-min");
            time(high, "latency-max");
        } else if (key == "held" && (kind == "irq" || kind == "mixed"))
            return two("held", "held-every");
        else if (key == "stall" && kind != "pio")
            return two("stall", "stall-every");
        else if (key == "cycles" || key == "depth")
            number(value, std::string(key).c_str(), Unit::none);
        else if (key == "clock")
            number(value, "clock", Unit::hertz);
        else if (key == "sync" && kind == "pio") {
            const auto [low, high] = range_of(value);
            number(low, "sync-min", Unit::none);
            number(high, "sync-max", Unit::none);
        } else if (key == "path" && kind == "mixed") {
            const auto parts = split(value, '/');
            if (parts.size() != 3) return false;
            time(parts[0], "path-min");
            time(parts[1], "path-typ");
            time(parts[2], "path-max");
        } else
            return false;
        return true;
    }
    void time(std::string_view value, const char* key) {
        const auto t = parse_time(value);
        if (!t)
            problem_ = t.error().found;
        else
            add(o_, key, *t);
    }
    const std::string& problem() const { return problem_; }

  private:
    void number(std::string_view value, const char* key, Unit unit) {
        const auto n = parse_number(value, unit);
        if (!n)
            problem_ = n.error().found;
        else
            o_.numbers.push_back({key, {*n, std::nullopt, {EvidenceKind::assumed, "command line", "", ""}}});
    }
    BuildOption& o_;
    std::string problem_;
};

}  // namespace

Result<BuildOption> parse_option(std::string_view text) {
    const auto colon = text.find(':');
    if (colon == std::string_view::npos) return wrong_spelling(text);
    BuildOption option;
    option.kind = std::string(text.substr(0, colon));
    option.id = option.name = std::string(text);
    const auto parts = split(text.substr(colon + 1), ',');
    OptionSpeller speller(option);
    if (option.kind == "logic") {
        if (parts.size() != 3) return wrong_spelling(text);
        speller.time(parts[0], "min");
        speller.time(parts[1], "typ");
        speller.time(parts[2], "max");
    } else if (parameters_of(option.kind).empty()) {
        return wrong_spelling(text);
    } else {
        for (const auto part : parts) {
            const auto equals = part.find('=');
            if (equals == std::string_view::npos ||
                !speller.take(trim(part.substr(0, equals)), part.substr(equals + 1)))
                return wrong_spelling(text);
        }
        const auto has = [&](const char* key) {
            return std::any_of(option.parameters.begin(), option.parameters.end(),
                               [&](const OptionParameter& p) { return p.key == key; });
        };
        if (option.kind == "irq" && !has("held")) {
            add(option, "held", Time{});
            add(option, "held-every", Time{});
        }
    }
    if (!speller.problem().empty())
        return fail_usage(speller.problem() + " in option " + in_quotes(text),
                          "a time like 2.2us, or a number");
    if (auto model = model_of(option); !model) return fail(model.error());
    return option;
}

}  // namespace grayrelic
