// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/budget.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/text.hpp"
#include "core/timing/budget_parts.hpp"

namespace grayrelic {

namespace {

/// What a kind asks for, and how it is computed from its values and, where it has a clock, the times of the
/// clock's events.
struct BudgetRow : BudgetDescription {
    EvaluateBudget* evaluate;
};

const std::vector<BudgetRow>& table() {
    constexpr auto s = Unit::second;
    constexpr auto plain = Unit::none;
    constexpr auto hz = Unit::hertz;
    static const std::vector<BudgetWord> from_capture{
        {"capture", "Capture", "whose events are the clock; its id"},
        {"event", "Event", "an edge or a frame's start in it: STEP:rise, frame:start"}};
    static const std::vector<BudgetRow> kinds{
        {{BudgetKind::queue,
          "Queue depth",
          "Events come in bursts and are taken away more slowly: how deep must the queue be?",
          {{"burst", "Events in a burst", "at most", plain, 12, false},
           {"gap", "Between two of them", "at least", s, 0.002, false},
           {"every", "From burst to burst", "at least", s, 0.5, false},
           {"drain", "To take one away", "usual", s, 0.008, false},
           {"drain-more", "Sometimes more", "up to so much longer", s, 0.002, true},
           {"depth", "Places there are", "of the queue as built", plain, 16, false}},
          from_capture},
         queue_budget},
        {{BudgetKind::watchdog,
          "Watchdog slack",
          "Is the longest round of the loop shorter than the watchdog's shortest time?",
          {{"timeout", "Watchdog time", "as set", s, 0.5, false},
           {"tolerance", "It may be off by", "share of it: an untrimmed oscillator is off by a tenth", plain,
            0.1, true},
           {"loop", "Longest round", "of the main loop without the below", s, 0.01, false},
           {"blocking", "Longest blocking work", "flash write, bus timeout", s, 0.05, true},
           {"start", "Until first served", "from its start", s, 0, true}},
          {}},
         watchdog_budget},
        {{BudgetKind::latency,
          "Key to host",
          "Scan, debounce and report: how long from the key to the host?",
          {{"scan", "Scan period", "of the whole matrix", s, 0.001, false},
           {"debounce", "Debounce count", "scans that must agree", plain, 5, false},
           {"report", "Report interval", "the host's polling", s, 0.008, false},
           {"work", "Work", "from decision to report", s, 0.0001, true},
           {"limit", "Allowed", "what the person, or the game, bears", s, 0.02, false}},
          {}},
         latency_budget},
        {{BudgetKind::startup,
          "Start-up race",
          "Is the bridge ready before the host stops looking for it?",
          {{"power", "Power to reset's end", "supply rise and reset hold", s, 0.01, false},
           {"boot", "Boot", "reset's end to main program", s, 0.05, false},
           {"ready", "Set-up", "until it answers, host side of it included", s, 0.1, false},
           {"first", "Host looks first", "after the same power-on", s, 0.2, false},
           {"last", "Host gives up", "after its last try; 0: it looks once", s, 0, true}},
          {}},
         startup_budget},
        {{BudgetKind::press,
          "Least injected press",
          "How long must an injected press be held so that somebody else's scan sees it?",
          {{"scan", "Their scan period", "at most", s, 0.02, false},
           {"samples", "Scans that must agree", "their debounce", plain, 2, false},
           {"jitter", "Own jitter", "of the press's length", s, 0.001, true},
           {"held", "Held for", "as planned", s, 0.05, false},
           {"pause", "Released for", "between two presses", s, 0.05, false}},
          from_capture},
         press_budget},
        {{BudgetKind::text,
          "Text to a slow mechanism",
          "Characters to an old mechanism: does its buffer hold, is anything lost?",
          {{"text", "Characters", "to be sent", plain, 2000, false},
           {"line", "In a line", "before its end", plain, 60, false},
           {"char-rate", "Sent, a second", "rate ÷ bits of a character", hz, 30, false},
           {"char-time", "To print one", "by the mechanism", s, 0.1, false},
           {"return-time", "Line feed", "without the way back", s, 0.2, false},
           {"column-time", "Back, a column", "of the carriage's way", s, 0.01, true},
           {"buffer", "Buffer", "places in the mechanism", plain, 256, false},
           {"stop-at", "Stop at", "places used when it says stop; 0: no flow control", plain, 200, true},
           {"go-at", "Go at", "places used when it says go", plain, 64, true},
           {"overrun", "Still sent", "characters after the stop", plain, 16, true}},
          {}},
         text_budget},
        {{BudgetKind::autofire,
          "Autofire",
          "Which rates are possible when the host's own polling is the clock?",
          {{"poll", "Poll period", "when no capture gives it", s, 0.02, true},
           {"wanted", "Wanted rate", "presses a second", hz, 10, false},
           {"spread", "May vary by", "share of the rate", plain, 0.1, true}},
          from_capture},
         autofire_budget},
        {{BudgetKind::memory,
          "Memory access",
          "Does the memory answer within the bus cycle?",
          {{"clock", "Bus clock", "", hz, 1e6, false},
           {"cycles", "Cycles of an access", "from address to read", plain, 1, false},
           {"address", "Address delay", "clock to valid address", s, 1e-7, false},
           {"decode", "Decoding", "address to chip select", s, 3e-8, false},
           {"buffer", "Data buffers", "on the way back", s, 1e-8, true},
           {"setup", "Data set-up", "before the read", s, 5e-8, false},
           {"access", "Memory's access time", "from select or address", s, 1.5e-7, false}},
          {}},
         memory_budget},
        {{BudgetKind::frame,
          "Frame-locked work",
          "Does the work fit into one picture frame, or its blanking?",
          {{"rate", "Frame rate", "", hz, 50, false},
           {"share", "Share of it", "1: the whole frame; 0.08: the blanking", plain, 1, false},
           {"work", "Work in a frame", "at most", s, 0.012, false},
           {"jitter", "Begins late by", "at most", s, 0.0005, true}},
          {}},
         frame_budget},
        {{BudgetKind::loop,
          "Software loop",
          "Does a software loop give the wanted rate?",
          {{"clock", "Clock", "of the processor", hz, 16e6, false},
           {"cycles", "Cycles a round", "all of them", plain, 64, false},
           {"toggles", "Toggles a round", "of the output", plain, 1, false},
           {"wanted", "Wanted rate", "of the output", hz, 1e5, false},
           {"tolerance", "May be off by", "share of it", plain, 0.02, false}},
          {}},
         loop_budget},
    };
    return kinds;
}

const BudgetRow& row_of(BudgetKind kind) {
    return table()[static_cast<std::size_t>(kind)];
}

}  // namespace

const BudgetDescription& description_of(BudgetKind kind) {
    return row_of(kind);
}

Verdict judge_budget(double used, double available) {
    if (used > available) return Verdict::stop;
    return available - used < 0.1 * available ? Verdict::doubt : Verdict::holds;
}

Result<BudgetResult> evaluate_budget(const Budget& budget, const std::vector<Time>& events,
                                     Progress& progress) {
    const auto& row = row_of(budget.kind);
    BudgetValues values;
    std::vector<std::string> assumed;
    for (const auto& field : row.fields) {
        const auto it = std::find_if(budget.values.begin(), budget.values.end(),
                                     [&](const NumberFact& f) { return f.key == field.key; });
        if (it == budget.values.end()) {
            if (!field.optional)
                return fail_usage(fmt::format("no {} in budget {}", field.key, in_quotes(budget.name)),
                                  field.label);
            continue;
        }
        if (!(it->value.value >= 0.0 && it->value.value <= 1e15))
            return fail_usage(
                fmt::format("{} {} in budget {}", field.key, it->value.value, in_quotes(budget.name)),
                "a number from 0");
        values.by_key[field.key] = it->value.value;
        if (it->value.evidence.kind == EvidenceKind::assumed) assumed.push_back(field.label);
    }
    for (const auto& f : budget.values)
        if (std::none_of(row.fields.begin(), row.fields.end(),
                         [&](const BudgetField& field) { return field.key == f.key; }))
            return fail_usage(fmt::format("{} in budget {}", in_quotes(f.key), in_quotes(budget.name)),
                              "one of its keys, such as " + row.fields.front().key);
    auto r = row.evaluate(values, events, progress);
    if (!r) return r;
    r->assumed = std::move(assumed);
    return r;
}

Budget usual_budget(BudgetKind kind, std::string id) {
    Budget b;
    b.id = std::move(id);
    b.kind = kind;
    b.name = row_of(kind).label;
    for (const auto& f : row_of(kind).fields)
        b.values.push_back(
            {f.key,
             {f.usual, std::nullopt, {EvidenceKind::assumed, "a usual size, to be replaced", "", ""}}});
    return b;
}

Result<Budget> parse_budget(std::string_view text) {
    const auto colon = text.find(':');
    const auto kind = named<BudgetKind>(text.substr(0, colon));
    if (!kind || colon == std::string_view::npos)
        return fail_usage("budget " + in_quotes(text), "KIND:key=value,… with KIND " + one_of<BudgetKind>());
    Budget b;
    b.kind = *kind;
    b.id = b.name = std::string(text);
    const auto& fields = row_of(b.kind).fields;
    for (const auto part : split(text.substr(colon + 1), ',')) {
        const auto equals = part.find('=');
        const auto key = trim(part.substr(0, equals));
        const auto field =
            std::find_if(fields.begin(), fields.end(), [&](const BudgetField& f) { return f.key == key; });
        if (equals == std::string_view::npos || field == fields.end()) {
            std::string keys;
            for (const auto& f : fields) keys += (keys.empty() ? "" : ", ") + f.key;
            return fail_usage(in_quotes(part) + " in a budget of kind " + std::string(word(b.kind)),
                              "one of " + keys + " with =");
        }
        const auto value = parse_number(part.substr(equals + 1), field->unit);
        if (!value) return fail(value.error());
        b.values.push_back(
            {std::string(key), {*value, std::nullopt, {EvidenceKind::assumed, "command line", "", ""}}});
    }
    return b;
}

}  // namespace grayrelic
