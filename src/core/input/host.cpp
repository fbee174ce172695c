// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/host.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

namespace grayrelic {
namespace {

bool is_key_modifier(const Usage& u) {
    return u.page == hid::keyboard && is_modifier(u.id);
}

}  // namespace

UsbHost::UsbHost(const ReportDescriptor& descriptor, const HostOptions& options)
    : descriptor_(descriptor), options_(options) {
    out_.caps = options.caps;
}

void UsbHost::take(const TimedReport& report) {
    at_ = report.at;
    const auto reading = read_report(descriptor_, ReportKind::input, report.bytes);
    if (!reading.problem.empty()) {
        trouble(reading.problem);
        if (reading.values.empty()) return;
    }
    std::set<Usage> held;
    bool too_many = false;
    for (const auto& v : reading.values) {
        if (v.usage == Usage{hid::keyboard, hid::rollover} && v.momentary)
            too_many = true;
        else if (v.momentary && v.value != 0)
            held.insert(v.usage);
        else if (v.momentary)
            continue;
        else
            take_value(v);
    }
    if (too_many) {
        // The keys are not told then; a host keeps those that it knows (HID 1.11, appendix C).
        ++out_.rollovers;
        trouble("too many keys: the report does not say which");
        keep_keys(reading.id, held);
    }
    change(reading.id, held);
}

const HostView& UsbHost::view() {
    out_.stuck.clear();
    for (const auto& [id, held] : held_) out_.stuck.insert(out_.stuck.end(), held.begin(), held.end());
    return out_;
}

void UsbHost::take_value(const ReportValue& v) {
    if (v.relative) {
        if (v.value != 0) event(HostEventKind::value, v.usage, v.value);
        return;
    }
    const auto value = v.null_state ? std::optional<long long>{} : std::optional(v.value);
    const auto seen = values_.find(v.usage);
    if (seen != values_.end() && seen->second == value) return;
    // At rest at the beginning is no news.
    const bool rests = value == std::nullopt || *value == 0;
    const bool news = seen != values_.end() || !rests;
    values_[v.usage] = value;
    if (!news) return;
    HostEvent e{at_, HostEventKind::value, v.usage, value.value_or(0), print_usage(v.usage)};
    e.says += value ? fmt::format(" {}", *value) : " at rest";
    out_.events.push_back(std::move(e));
}

void UsbHost::keep_keys(int id, std::set<Usage>& held) const {
    const auto before = held_.find(id);
    if (before == held_.end()) return;
    for (const auto& u : before->second)
        if (u.page == hid::keyboard && !is_modifier(u.id)) held.insert(u);
}

void UsbHost::change(int id, const std::set<Usage>& held) {
    auto& before = held_[id];
    std::vector<Usage> down;
    for (const auto& u : before)
        if (held.count(u) == 0) event(HostEventKind::release, u, 0);
    for (const auto& u : held)
        if (before.count(u) == 0) down.push_back(u);
    // Modifiers first: a host takes them from the report's first byte before its keys.
    std::stable_partition(down.begin(), down.end(), [](const Usage& u) { return is_key_modifier(u); });
    before = held;
    const auto keys =
        std::count_if(down.begin(), down.end(), [](const Usage& u) { return !is_key_modifier(u); });
    if (keys > 1) ++out_.together;
    for (const auto& u : down) {
        event(HostEventKind::press, u, 1);
        if (u.page == hid::keyboard) typed(u.id, held);
    }
}

void UsbHost::typed(std::uint16_t key, const std::set<Usage>& held) {
    if (key == hid::caps_lock) out_.caps = !out_.caps;
    if (options_.layout == nullptr || is_modifier(key)) return;
    const auto has = [&](std::uint16_t modifier) { return held.count({hid::keyboard, modifier}) != 0; };
    // With control, left alt or meta held it is a command, no character.
    if (has(0xE0) || has(0xE2) || has(0xE3) || has(0xE4) || has(0xE7)) return;
    if (key == 0x28 || key == 0x58) return character("\n");
    if (key == 0x2B) return character("\t");
    if (key == hid::space) return character(" ");
    const auto* k = options_.layout->find(static_cast<std::uint8_t>(key));
    if (k == nullptr) return;
    const bool alt = has(hid::right_alt);
    const bool shift = (has(0xE1) || has(0xE5)) != (out_.caps && k->caps && !alt);
    const std::size_t level = (shift ? 1U : 0U) + (alt ? 2U : 0U);
    if (k->types[level].empty()) return;
    if (k->dead[level])
        waiting_ = k->types[level];
    else
        character(k->types[level]);
}

void UsbHost::character(const std::string& c) {
    std::string now = c;
    if (!waiting_.empty()) {
        now = options_.layout->accented(waiting_, c).value_or(waiting_ + c);
        waiting_.clear();
    }
    out_.text += now;
    out_.events.push_back({at_, HostEventKind::typed, {}, 0, now});
}

void UsbHost::event(HostEventKind kind, Usage usage, long long value) {
    auto says = print_usage(usage);
    if (kind == HostEventKind::value) says += fmt::format(" {:+}", value);
    out_.events.push_back({at_, kind, usage, value, std::move(says)});
}

void UsbHost::trouble(const std::string& says) {
    ++out_.troubles;
    out_.events.push_back({at_, HostEventKind::trouble, {}, 0, says});
}

HostView host_view(const ReportDescriptor& descriptor, const std::vector<TimedReport>& reports,
                   const HostOptions& options) {
    UsbHost host(descriptor, options);
    for (const auto& r : reports) host.take(r);
    return host.view();
}

}  // namespace grayrelic
