// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/edits.hpp"

#include <fmt/format.h>

#include <algorithm>

namespace grayrelic {
namespace {

template <class T>
void replace_or_add(std::vector<T>& list, T item, std::string T::*key) {
    const auto it = std::find_if(list.begin(), list.end(), [&](const T& t) { return t.*key == item.*key; });
    if (it == list.end())
        list.push_back(std::move(item));
    else
        *it = std::move(item);
}

/// One of Timing's lists with an item put in by its id.
template <class T>
Dossier with_item(const Dossier& d, std::vector<T> Timing::*list, T item) {
    auto timing = *d.timing;
    replace_or_add(timing.*list, std::move(item), &T::id);
    return with_timing(d, std::move(timing));
}

template <class T>
Dossier without_item(const Dossier& d, std::vector<T> Timing::*list, std::string_view id) {
    auto timing = *d.timing;
    std::erase_if(timing.*list, [&](const T& t) { return t.id == id; });
    return with_timing(d, std::move(timing));
}

template <class Taken>
std::string free_id(std::string_view wish, Taken taken) {
    std::string base;
    for (const char c : wish) {
        const bool word_char = (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9');
        if (word_char)
            base += c;
        else if (c >= 'A' && c <= 'Z')
            base += static_cast<char>(c - 'A' + 'a');
        else if (!base.empty() && base.back() != '-')
            base += '-';
    }
    while (!base.empty() && base.back() == '-') base.pop_back();
    if (base.empty()) base = "item";
    if (base.size() > 40) base.resize(40);
    auto id = base;
    for (int n = 2; taken(id); ++n) id = fmt::format("{}-{}", base, n);
    return id;
}

}  // namespace

Dossier with_about(const Dossier& d, About about) {
    auto out = d;
    out.about = Section(std::move(about));
    return out;
}

Dossier with_port(const Dossier& d, Port port) {
    auto ports = *d.ports;
    replace_or_add(ports, std::move(port), &Port::id);
    auto out = d;
    out.ports = Section(std::move(ports));
    return out;
}

Dossier with_pin(const Dossier& d, std::string_view port, Pin pin) {
    const auto* found = d.find_port(port);
    if (found == nullptr) return d;
    auto changed = *found;
    replace_or_add(changed.pins, std::move(pin), &Pin::number);
    return with_port(d, std::move(changed));
}

Dossier without_port(const Dossier& d, std::string_view id) {
    auto ports = *d.ports;
    std::erase_if(ports, [&](const Port& p) { return p.id == id; });
    auto out = d;
    out.ports = Section(std::move(ports));
    return out;
}

Dossier with_cable(const Dossier& d, Cable cable) {
    auto cables = *d.cables;
    replace_or_add(cables, std::move(cable), &Cable::id);
    auto out = d;
    out.cables = Section(std::move(cables));
    return out;
}

Dossier without_cable(const Dossier& d, std::string_view id) {
    auto cables = *d.cables;
    std::erase_if(cables, [&](const Cable& c) { return c.id == id; });
    auto out = d;
    out.cables = Section(std::move(cables));
    return out;
}

Dossier with_capture(const Dossier& d, CaptureRef capture) {
    auto captures = *d.captures;
    replace_or_add(captures, std::move(capture), &CaptureRef::id);
    auto out = d;
    out.captures = Section(std::move(captures));
    return out;
}

Dossier without_capture(const Dossier& d, std::string_view id) {
    auto captures = *d.captures;
    std::erase_if(captures, [&](const CaptureRef& c) { return c.id == id; });
    auto out = d;
    out.captures = Section(std::move(captures));
    return out;
}

Dossier with_timing(const Dossier& d, Timing timing) {
    auto out = d;
    out.timing = Section(std::move(timing));
    return out;
}

Dossier with_option(const Dossier& d, BuildOption option) {
    return with_item(d, &Timing::options, std::move(option));
}

Dossier without_option(const Dossier& d, std::string_view id) {
    auto timing = *d.timing;
    std::erase_if(timing.options, [&](const BuildOption& o) { return o.id == id; });
    if (timing.chosen == id) timing.chosen.clear();
    return with_timing(d, std::move(timing));
}

Dossier with_chosen(const Dossier& d, std::string_view option) {
    if (d.timing->find_option(option) == nullptr) return d;
    auto timing = *d.timing;
    timing.chosen = std::string(option);
    return with_timing(d, std::move(timing));
}

Dossier with_reply(const Dossier& d, ReplyQuestion reply) {
    auto timing = *d.timing;
    timing.reply = std::move(reply);
    return with_timing(d, std::move(timing));
}

Dossier with_interval(const Dossier& d, ContractInterval interval) {
    return with_item(d, &Timing::intervals, std::move(interval));
}

Dossier without_interval(const Dossier& d, std::string_view id) {
    return without_item(d, &Timing::intervals, id);
}
Dossier with_network(const Dossier& d, LogicNetwork network) {
    return with_item(d, &Timing::networks, std::move(network));
}
Dossier without_network(const Dossier& d, std::string_view id) {
    return without_item(d, &Timing::networks, id);
}
Dossier with_clock(const Dossier& d, ClockStudy clock) {
    return with_item(d, &Timing::clocks, std::move(clock));
}
Dossier without_clock(const Dossier& d, std::string_view id) {
    return without_item(d, &Timing::clocks, id);
}
Dossier with_budget(const Dossier& d, Budget budget) {
    return with_item(d, &Timing::budgets, std::move(budget));
}
Dossier without_budget(const Dossier& d, std::string_view id) {
    return without_item(d, &Timing::budgets, id);
}
Dossier with_golden(const Dossier& d, GoldenPair pair) {
    return with_item(d, &Timing::golden, std::move(pair));
}
Dossier without_golden(const Dossier& d, std::string_view id) {
    return without_item(d, &Timing::golden, id);
}

std::string free_port_id(const Dossier& d) {
    int n = 1;
    while (d.find_port(fmt::format("J{}", n)) != nullptr) ++n;
    return fmt::format("J{}", n);
}

std::string free_cable_id(const Dossier& d, std::string_view wish) {
    return free_id(wish, [&](const std::string& id) { return d.find_cable(id) != nullptr; });
}

std::string free_source_id(const Port& port, std::string_view wish) {
    return free_id(wish, [&](const std::string& id) { return port.find_source(id) != nullptr; });
}

std::string free_capture_id(const Dossier& d, std::string_view wish) {
    return free_id(wish, [&](const std::string& id) { return d.find_capture(id) != nullptr; });
}

std::string free_option_id(const Dossier& d, std::string_view wish) {
    return free_id(wish, [&](const std::string& id) { return d.timing->find_option(id) != nullptr; });
}

std::string free_id_among(const std::vector<std::string>& taken, std::string_view wish) {
    return free_id(wish, [&](const std::string& id) {
        return std::find(taken.begin(), taken.end(), id) != taken.end();
    });
}

Dossier with_trace(const Dossier& d, Trace trace) {
    auto out = d;
    out.trace = Section(std::move(trace));
    return out;
}

Dossier with_readings(const Dossier& d, std::vector<MeterReading> readings) {
    auto out = d;
    out.readings = Section(std::move(readings));
    return out;
}

Dossier with_reading(const Dossier& d, MeterReading reading) {
    auto readings = *d.readings;
    readings.push_back(std::move(reading));
    return with_readings(d, std::move(readings));
}

}  // namespace grayrelic
