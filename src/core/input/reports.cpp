// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/reports.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/input/hex_text.hpp"

namespace grayrelic {
namespace {

/// Bits from `at` on, the first being the least significant of the first byte (HID 1.11, 8.4).
std::uint64_t bits_at(const std::vector<std::uint8_t>& bytes, std::size_t first, std::size_t at,
                      std::size_t size) {
    std::uint64_t value = 0;
    for (std::size_t i = 0; i < size && i < 64; ++i) {
        const auto bit = at + i;
        if (((bytes[first + bit / 8] >> (bit % 8)) & 1U) != 0) value |= 1ULL << i;
    }
    return value;
}

long long with_sign(std::uint64_t raw, std::size_t size) {
    if (size == 0 || size >= 64) return static_cast<long long>(raw);
    const auto sign = 1ULL << (size - 1);
    return static_cast<long long>((raw ^ sign)) - static_cast<long long>(sign);
}

void take_element(const ReportField& f, std::size_t i, long long value, ReportReading& out) {
    if (f.variable) {
        if (i >= f.usages.size()) return;
        ReportValue v{f.usages[i], value, f.relative, f.size_bits == 1 && !f.relative};
        v.null_state = f.null_state && (value < f.logical_min || value > f.logical_max);
        out.values.push_back(v);
        return;
    }
    const auto index = value - f.logical_min;
    if (index < 0 || index >= static_cast<long long>(f.usages.size())) return;
    const auto usage = f.usages[static_cast<std::size_t>(index)];
    if (usage.id != 0) out.values.push_back({usage, 1, false, true});
}

}  // namespace

ReportReading read_report(const ReportDescriptor& descriptor, ReportKind kind,
                          const std::vector<std::uint8_t>& bytes) {
    ReportReading out;
    const std::size_t first = descriptor.has_ids() ? 1 : 0;
    if (bytes.size() < first || bytes.empty()) {
        out.problem = "an empty report";
        return out;
    }
    if (first == 1) out.id = bytes[0];
    const auto* shape = descriptor.find(kind, out.id);
    if (shape == nullptr) {
        out.problem = fmt::format("no {} report {} in the descriptor", word(kind), out.id);
        return out;
    }
    const auto whole = (shape->bits + 7) / 8 + first;
    if (bytes.size() != whole) {
        out.problem = fmt::format("{} of {}", plural(std::ssize(bytes), "byte", "bytes"), whole);
        if (bytes.size() < whole) return out;
    }
    for (const auto& f : shape->fields)
        for (std::size_t i = 0; i < f.count; ++i) {
            const auto raw = bits_at(bytes, first, f.bit + i * f.size_bits, f.size_bits);
            take_element(f, i, f.logical_min < 0 ? with_sign(raw, f.size_bits) : static_cast<long long>(raw),
                         out);
        }
    return out;
}

Result<std::vector<TimedReport>> read_report_dump(std::string_view text, const std::string& name, Time poll) {
    auto lines = read_hex_lines(text, name);
    if (!lines) return fail(lines.error());
    std::vector<TimedReport> out;
    for (auto& l : *lines) {
        TimedReport r{poll * std::ssize(out), std::move(l.bytes), l.line};
        if (!l.before.empty()) {
            const auto at = parse_time(l.before);
            if (!at)
                return fail_at(name, l.line, in_quotes(l.before),
                               "a time such as 0.008 or 8ms before the colon");
            r.at = *at;
        }
        if (!out.empty() && r.at < out.back().at)
            return fail_at(name, l.line, in_quotes(l.before.empty() ? "no time" : l.before),
                           "times that do not go back");
        out.push_back(std::move(r));
    }
    return out;
}

bool carries(const Profile& p, const Meaning& m) {
    switch (m.kind) {
        case MeaningKind::key:
            return p.kind == ProfileKind::keyboard && (m.usage.id <= 0x65 || is_modifier(m.usage.id));
        case MeaningKind::text: return p.kind == ProfileKind::keyboard;
        case MeaningKind::media: return p.kind == ProfileKind::media && m.usage.id <= 0x3FF;
        case MeaningKind::button: return p.kind == ProfileKind::pad && m.usage.id <= p.buttons;
        case MeaningKind::hat: return p.kind == ProfileKind::pad && p.hat;
        case MeaningKind::axis: return p.kind == ProfileKind::pad && m.usage.id - 0x30 < p.axes;
        case MeaningKind::pointer:
            if (p.kind != ProfileKind::pointer) return false;
            if (m.usage.page == hid::buttons) return m.usage.id <= p.buttons;
            return m.usage.id != 0x38 || p.wheel;
        default: return false;
    }
}

namespace {

void set_button(std::vector<std::uint8_t>& report, unsigned number) {
    report[(number - 1) / 8] |= static_cast<std::uint8_t>(1U << ((number - 1) % 8));
}

std::vector<std::uint8_t> keyboard_report(const std::vector<Meaning>& held) {
    std::vector<std::uint8_t> report(8, 0);
    std::vector<std::uint8_t> keys;
    for (const auto& m : held) {
        report[0] |= m.modifiers;
        const auto id = static_cast<std::uint8_t>(m.usage.id);
        if (is_modifier(id))
            report[0] |= static_cast<std::uint8_t>(1U << (id - hid::first_modifier));
        else if (std::find(keys.begin(), keys.end(), id) == keys.end())
            keys.push_back(id);
    }
    if (keys.size() > 6) keys.assign(6, hid::rollover);
    std::copy(keys.begin(), keys.end(), report.begin() + 2);
    return report;
}

/// Opposite directions give rest; two neighbours the one between them.
std::uint8_t hat_of(const std::vector<Meaning>& held) {
    int x = 0, y = 0;
    static constexpr std::array<std::pair<int, int>, 8> steps{
        {{0, -1}, {1, -1}, {1, 0}, {1, 1}, {0, 1}, {-1, 1}, {-1, 0}, {-1, -1}}};
    for (const auto& m : held)
        if (m.kind == MeaningKind::hat) {
            x += steps.at(static_cast<std::size_t>(m.direction)).first;
            y += steps.at(static_cast<std::size_t>(m.direction)).second;
        }
    const std::pair now{std::clamp(x, -1, 1), std::clamp(y, -1, 1)};
    const auto it = std::find(steps.begin(), steps.end(), now);
    return it == steps.end() ? std::uint8_t{0x0F} : static_cast<std::uint8_t>(it - steps.begin());
}

std::vector<std::uint8_t> pad_report(const Profile& p, const std::vector<Meaning>& held) {
    std::vector<std::uint8_t> report(report_bytes(p), 0);
    auto at = static_cast<std::size_t>((p.buttons + 7) / 8);
    for (const auto& m : held)
        if (m.kind == MeaningKind::button) set_button(report, m.usage.id);
    if (p.hat) report[at++] = hat_of(held);
    for (const auto& m : held)
        if (m.kind == MeaningKind::axis)
            report[at + m.usage.id - 0x30U] = static_cast<std::uint8_t>(m.direction * 127);
    return report;
}

}  // namespace

std::optional<std::vector<std::uint8_t>> report_of(const Profile& p, const std::vector<Meaning>& held) {
    for (const auto& m : held)
        if (m.kind == MeaningKind::text || !carries(p, m)) return std::nullopt;
    switch (p.kind) {
        case ProfileKind::keyboard: return keyboard_report(held);
        case ProfileKind::pad: return pad_report(p, held);
        case ProfileKind::media: {
            std::vector<std::uint8_t> report(2, 0);
            if (!held.empty()) {
                report[0] = static_cast<std::uint8_t>(held.back().usage.id);
                report[1] = static_cast<std::uint8_t>(held.back().usage.id >> 8U);
            }
            return report;
        }
        case ProfileKind::pointer: break;
    }
    std::vector<std::uint8_t> report(report_bytes(p), 0);
    for (const auto& m : held)
        if (m.usage.page == hid::buttons) set_button(report, m.usage.id);
    return report;
}

}  // namespace grayrelic
