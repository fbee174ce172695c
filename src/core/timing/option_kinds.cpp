// SPDX-License-Identifier: GPL-3.0-or-later
// The kinds of options as one table: label, parameters with their usual values, and what they mean for a
// reply.
#include "core/timing/option_kinds.hpp"

#include <algorithm>
#include <cctype>

namespace grayrelic {
namespace {

constexpr double ns = 1e-9, us = 1e-6, ms = 1e-3, MHz = 1e6;
constexpr auto s = Unit::second;
constexpr auto plain = Unit::none;
constexpr auto hz = Unit::hertz;

using Specs = std::vector<ParameterSpec>;

Specs joined(std::initializer_list<Specs> lists) {
    Specs all;
    for (const auto& list : lists) all.insert(all.end(), list.begin(), list.end());
    return all;
}

Specs entry(const char* slow) {
    return {
        {"latency-min", "Entry, fastest", "from the edge to the handler's first instruction", s, 500 * ns},
        {"latency-max", "Entry, slowest", slow, s, 1 * us}};
}

Specs held(bool optional) {
    return {{"held", "Held off for",
             optional ? "the longest time firmware is kept from it"
                      : "the longest time interrupts are off or a higher one runs",
             s, 5 * us, optional, "held-every"},
            {"held-every", "Held off every",
             optional ? "how often that happens" : "how often that happens; 0 for never", s, 1 * ms, optional,
             "held"}};
}

/// From noticing the trigger to the end of the work, as a time or as cycles.
const Specs work{
    {"work", "Work", "from noticing the trigger to the end of the work", s, 1 * us, true, "", "cycles"},
    {"cycles", "Work in cycles", "the same as cycles of the processor", plain, 120, true, "clock", "work"},
    {"clock", "Clock", "of the processor, for the work in cycles", hz, 125 * MHz, true, "cycles", "work"}};
const Specs write{{"write", "Output write", "from the end of the work to the pin", s, 100 * ns, true}};
const Specs stall{{"stall", "Stalled for", "held off at random: cache misses, flash writes", s, 2 * us, true,
                   "stall-every"},
                  {"stall-every", "Stalled every", "how far apart on average", s, 1 * ms, true, "stall"}};
const Specs depth{{"depth", "Queue", "places for triggers that wait", plain, 16, true}};
const Specs firmware = joined({work, write, stall, depth});

/// The option a model is made for, its checked values, and latencies taken from a capture.
struct Making {
    const BuildOption& option;
    const OptionValues& v;
    std::vector<Time>& measured;
    [[nodiscard]] bool in_order(const char* low, const char* high) const {
        return v.time(low) <= v.time(high);
    }
};

/// Work as a time, or as cycles at a clock.
Result<Time> work_of(const Making& m) {
    if (m.v.has("work")) return m.v.time("work");
    const auto cycles = m.v.number("cycles"), clock = m.v.number("clock");
    if (!cycles || !clock || *clock <= 0.0)
        return wrong_option(m.option, "no work", "a time for work, or cycles and a clock above 0");
    return Time::from_seconds(*cycles / *clock);
}

Status add_work(const Making& making, ReplyModel& m) {
    auto work_time = work_of(making);
    if (!work_time) return fail(work_time.error());
    m.work = *work_time;
    return {};
}

Status add_latency(const Making& making, ReplyModel& m) {
    if (auto done = add_work(making, m); !done) return done;
    if (!making.measured.empty()) {
        std::sort(making.measured.begin(), making.measured.end());
        m.latency_min = making.measured.front();
        m.latency_max = making.measured.back();
        m.measured = std::move(making.measured);
    } else {
        m.latency_min = making.v.time("latency-min");
        m.latency_max = making.v.time("latency-max");
    }
    if (m.latency_max < m.latency_min)
        return wrong_option(making.option, "latency-min above latency-max",
                            "the fastest entry not above the slowest");
    return {};
}

Status poll_model(const Making& making, ReplyModel& m) {
    if (auto done = add_work(making, m); !done) return done;
    m.period = making.v.time("period");
    if (m.period == Time{}) return wrong_option(making.option, "period 0 s", "a loop period above 0 s");
    return {};
}

Status pio_model(const Making& making, ReplyModel& m) {
    const double clock = *making.v.number("clock"), low = *making.v.number("sync-min"),
                 high = *making.v.number("sync-max"), cycles = *making.v.number("cycles");
    if (clock <= 0.0) return wrong_option(making.option, "clock 0 Hz", "a clock above 0 Hz");
    if (high < low)
        return wrong_option(making.option, "sync-min above sync-max", "the fewest cycles not above the most");
    m.latency_min = Time::from_seconds((low + cycles) / clock);
    m.latency_max = Time::from_seconds((high + cycles) / clock);
    return {};
}

Status fpga_model(const Making& making, ReplyModel& m) {
    const double clock = *making.v.number("clock"), stages = *making.v.number("stages"),
                 cycles = *making.v.number("cycles");
    if (clock <= 0.0) return wrong_option(making.option, "clock 0 Hz", "a clock above 0 Hz");
    if (stages < 1.0) return wrong_option(making.option, "no synchroniser stage", "at least 1 stage");
    // An edge just before a clock is in the first flip-flop at once, one just after it a whole cycle later;
    // each further stage and each cycle of the logic is one period.
    m.latency_min = Time::from_seconds((stages - 1 + cycles) / clock);
    m.latency_max = Time::from_seconds((stages + cycles) / clock);
    if (making.v.has("pads")) m.write = making.v.time("pads");
    return {};
}

Status mixed_model(const Making& making, ReplyModel& m) {
    if (auto done = add_latency(making, m); !done) return done;
    m.path_min = making.v.time("path-min");
    m.path_typ = making.v.time("path-typ");
    m.path_max = making.v.time("path-max");
    if (!making.in_order("path-min", "path-typ") || !making.in_order("path-typ", "path-max"))
        return wrong_option(making.option, "delays out of order",
                            "path-min not above path-typ, path-typ not above path-max");
    return {};
}

Status logic_model(const Making& making, ReplyModel& m) {
    m.latency_min = making.v.time("min");
    m.latency_typ = making.v.time("typ");
    m.latency_max = making.v.time("max");
    if (!making.in_order("min", "typ") || !making.in_order("typ", "max"))
        return wrong_option(making.option, "delays out of order", "min not above typ, typ not above max");
    return {};
}

Status network_model(const Making& making, ReplyModel&) {
    return wrong_option(making.option, "kind \"network\"",
                        "an option with a model; a network is simulated itself");
}

struct OptionDescription {
    OptionKind kind;
    std::string label;
    bool firmware;  ///< something can be busy
    Specs parameters;
    Status (*model)(const Making&, ReplyModel&);
};

const std::vector<OptionDescription>& table() {
    static const std::vector<OptionDescription> kinds{
        {OptionKind::poll, "polling firmware", true,
         joined({{{"period", "Loop period", "one round of the loop that looks at the trigger", s, 5 * us}},
                 firmware}),
         poll_model},
        {OptionKind::irq, "interrupt firmware", true,
         joined({entry("the same, when the processor is at its slowest point"), held(false), firmware}),
         add_latency},
        {OptionKind::core, "second core", true,
         joined({entry("the same, with both cores on the bus"), firmware}), add_latency},
        {OptionKind::pio,
         "programmable I/O",
         false,
         {{"clock", "Clock", "of the state machine", hz, 125 * MHz},
          {"sync-min", "Synchroniser, least", "cycles until the input is seen", plain, 2},
          {"sync-max", "Synchroniser, most", "with the edge just after the clock", plain, 3},
          {"cycles", "Program", "cycles from seeing the edge to the output", plain, 4},
          {"write", "Output", "from the register to the pin", s, 100 * ns, true}},
         pio_model},
        {OptionKind::mixed, "firmware prepares, hardware answers", false,
         joined({entry("until firmware begins to prepare after a burst"),
                 held(true),
                 {{"path-min", "Path, fastest", "of the hardware that answers", s, 5 * ns},
                  {"path-typ", "Path, typical", "of the hardware that answers", s, 20 * ns},
                  {"path-max", "Path, slowest", "guaranteed maximum at the supply used", s, 60 * ns}},
                 work,
                 stall}),
         mixed_model},
        {OptionKind::logic,
         "logic path",
         false,
         {{"min", "Path, fastest", "propagation delay, minimum", s, 5 * ns},
          {"typ", "Path, typical", "propagation delay, typical", s, 20 * ns},
          {"max", "Path, slowest", "propagation delay, guaranteed maximum at the supply used", s, 60 * ns}},
         logic_model},
        {OptionKind::network, "network of parts", false, {}, network_model},
        {OptionKind::fpga,
         "FPGA",
         false,
         {{"clock", "Clock", "of the logic", hz, 50 * MHz},
          {"stages", "Synchroniser", "flip-flops that the input passes", plain, 2},
          {"cycles", "Latency", "cycles from the synchronised edge to the output", plain, 2},
          {"pads", "Pads", "delays of the input's and the output's pad together", s, 10 * ns, true},
          {"pins", "Pins", "that the job needs", plain, 12, true},
          {"banks", "Banks", "of pins at supplies of their own that are needed", plain, 1, true},
          {"cells", "Cells", "rough number of logic cells", plain, 500, true}},
         fpga_model},
    };
    return kinds;
}

const OptionDescription& row_of(OptionKind kind) {
    return table()[static_cast<std::size_t>(kind)];
}

const ParameterSpec* spec_of(OptionKind kind, std::string_view key) {
    for (const auto& spec : parameters_of(kind))
        if (spec.key == key) return &spec;
    return nullptr;
}

bool has(const BuildOption& option, std::string_view key) {
    return std::any_of(option.parameters.begin(), option.parameters.end(),
                       [&](const auto& p) { return p.key == key; }) ||
           std::any_of(option.numbers.begin(), option.numbers.end(),
                       [&](const auto& p) { return p.key == key; });
}

void add_usual(BuildOption& option, const ParameterSpec& spec) {
    if (has(option, spec.key)) return;
    const Evidence assumed{EvidenceKind::assumed, "a usual size, to be replaced", "", ""};
    if (spec.unit == Unit::second)
        option.parameters.push_back({spec.key, {Time::from_seconds(spec.usual), std::nullopt, assumed}});
    else
        option.numbers.push_back({spec.key, {spec.usual, std::nullopt, assumed}});
}

}  // namespace

const std::vector<ParameterSpec>& parameters_of(OptionKind kind) {
    return row_of(kind).parameters;
}

bool is_firmware(OptionKind kind) {
    return row_of(kind).firmware;
}

std::string kind_label(OptionKind kind) {
    return row_of(kind).label;
}

Status fill_model(const BuildOption& option, const OptionValues& values, std::vector<Time>& measured,
                  ReplyModel& model) {
    return row_of(option.kind).model({option, values, measured}, model);
}

BuildOption usual_option(OptionKind kind, std::string id) {
    BuildOption option;
    option.id = std::move(id);
    option.kind = kind;
    option.name = kind_label(kind);
    option.name[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(option.name[0])));
    for (const auto& spec : parameters_of(kind))
        if (!spec.optional || spec.key == "work") add_usual(option, spec);
    return option;
}

BuildOption with_usual(BuildOption option, std::string_view key) {
    const auto* spec = spec_of(option.kind, key);
    if (spec == nullptr) return option;
    add_usual(option, *spec);
    if (const auto* other = spec_of(option.kind, spec->together)) add_usual(option, *other);
    if (!spec->instead.empty()) {
        const auto goes = [&](const auto& value) {
            const auto* old = spec_of(option.kind, value.key);
            return value.key == spec->instead ||
                   (old != nullptr && !old->together.empty() && old->together == spec->instead);
        };
        std::erase_if(option.parameters, goes);
        std::erase_if(option.numbers, goes);
    }
    return option;
}

}  // namespace grayrelic
