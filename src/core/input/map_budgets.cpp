// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/map_budgets.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <optional>

#include "core/base/quantity.hpp"
#include "core/input/coverage.hpp"
#include "core/input/meaning.hpp"
#include "core/input/typing.hpp"

namespace grayrelic {
namespace {

void set(Budget& b, const char* key, double value, EvidenceKind kind, const char* source) {
    NumberFact f{key, {value, {}, {kind, source, {}, {}}}};
    const auto at =
        std::find_if(b.values.begin(), b.values.end(), [&](const auto& v) { return v.key == key; });
    if (at == b.values.end())
        b.values.push_back(std::move(f));
    else
        *at = std::move(f);
}

void begin_with(Budget& b, const char* key, double value) {
    if (std::none_of(b.values.begin(), b.values.end(), [&](const auto& v) { return v.key == key; }))
        set(b, key, value, EvidenceKind::assumed, "usual");
}

Budget kept_or_new(const Dossier& d, const char* id, const char* name, BudgetKind kind) {
    if (const auto* old = d.timing->find_budget(id); old != nullptr && old->kind == kind) return *old;
    Budget b;
    b.id = id;
    b.name = name;
    b.kind = kind;
    return b;
}

}  // namespace

std::size_t most_reports_an_event(const DeviceMap& map, const KeyboardLayout* layout) {
    std::size_t most = 1;
    const auto take = [&](const std::string& text) {
        const auto m = parse_meaning(text);
        if (!m || m->kind != MeaningKind::text) return;
        most = std::max(most, layout == nullptr ? 4 : type_text(m->text, *layout, false).reports.size());
    };
    for (const auto& k : map.keys) {
        take(k.meaning);
        for (const auto& s : k.shifted) take(s.meaning);
    }
    return most;
}

std::optional<MapGap> repeat_gap(const DeviceMap& map, const KeyboardLayout* layout) {
    const auto& numbers = map.numbers;
    const auto at =
        std::find_if(numbers.begin(), numbers.end(), [](const auto& n) { return n.key == "repeat_s"; });
    const double poll = map.modern.poll.value.seconds();
    if (at == numbers.end() || at->value.value <= 0 || poll <= 0) return std::nullopt;
    const auto reports = most_reports_an_event(map, layout);
    const double needed = static_cast<double>(reports) * poll;
    if (needed <= at->value.value) return std::nullopt;
    return MapGap{
        GapKind::repeat_piles_up,
        Verdict::doubt,
        {},
        {},
        fmt::format("The old side repeats every {}: up to {} reports a character need {}.",
                    print_number(at->value.value, Unit::second), reports, print_number(needed, Unit::second)),
        "Drop repetitions while reports wait, or ask the host for a shorter poll.",
        {}};
}

namespace {

/// What is injected must be seen by the relic's own scan: its period from the contract, where one is there.
Budget press_budget_of(const Dossier& d) {
    auto press = kept_or_new(d, "map-press", "Least injected press", BudgetKind::press);
    std::optional<Time> longest;
    for (const auto& i : d.timing->intervals)
        if (i.kind == IntervalKind::period && i.max && (!longest || *i.max > *longest)) longest = i.max;
    if (longest) set(press, "scan", longest->seconds(), EvidenceKind::deduced, "Timing: the longest period");
    begin_with(press, "scan", 20e-3);
    begin_with(press, "samples", 2);
    const auto& hold = d.map->modern.hold;
    if (hold.value > Time{}) set(press, "held", hold.value.seconds(), hold.evidence.kind, "Map: held for");
    begin_with(press, "held", 50e-3);
    begin_with(press, "pause", 50e-3);
    return press;
}

}  // namespace

std::vector<Budget> budgets_of_map(const Dossier& d, const KeyboardLayout* layout, const ScanNumbers& numbers,
                                   const ScanBudget& scan, bool has_matrix) {
    std::vector<Budget> out;
    const auto& poll = d.map->modern.poll;
    const double report_s = poll.value.seconds() > 0 ? poll.value.seconds() : 8e-3;
    const auto poll_kind = poll.value.seconds() > 0 ? poll.evidence.kind : EvidenceKind::assumed;
    auto latency = kept_or_new(d, "map-latency", "Key to host", BudgetKind::latency);
    if (has_matrix) {
        const auto kind = numbers.assumed.empty() ? EvidenceKind::deduced : EvidenceKind::assumed;
        set(latency, "scan", scan.scan_s, kind, "Map: the matrix");
        set(latency, "debounce", numbers.debounce, kind, "Map: the matrix");
    }
    begin_with(latency, "scan", 1e-3);
    begin_with(latency, "debounce", 1);
    set(latency, "report", report_s, poll_kind, "Map: the host's poll");
    begin_with(latency, "work", 1e-4);
    begin_with(latency, "limit", 20e-3);
    out.push_back(std::move(latency));
    const auto reports = most_reports_an_event(*d.map, layout);
    if (d.map->way != MapWay::old_to_new) {
        out.push_back(press_budget_of(d));
        return out;
    }
    auto queue = kept_or_new(d, "map-queue", "Reports waiting", BudgetKind::queue);
    set(queue, "drain", static_cast<double>(reports) * report_s, poll_kind,
        "Map: reports an event and the host's poll");
    begin_with(queue, "burst", 6);
    begin_with(queue, "gap", 10e-3);
    begin_with(queue, "every", 1);
    begin_with(queue, "depth", 16);
    out.push_back(std::move(queue));
    return out;
}

}  // namespace grayrelic
