// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/messages.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/quantity.hpp"
#include "core/input/coverage.hpp"

namespace grayrelic {
namespace {

constexpr double day_s = 86'400, wanted_alarms_day = 0.01, patient_s = 2;

void judge(const MapMessage& m, MessageStudy& s) {
    const bool measured = m.lost.evidence.kind == EvidenceKind::measured;
    const auto notice = print_number(*s.notice_s, Unit::second);
    if (!s.false_alarms_day) {
        s.verdict = Verdict::unknown;
        s.says = fmt::format("A dead device is noticed within {}. How many of them get lost is not known.",
                             notice);
        s.todo = "Record ten minutes and count the periods that are missing.";
        return;
    }
    const auto alarms = fmt::format("{:.2g} false alarms a day", *s.false_alarms_day);
    s.says = fmt::format("A dead device is noticed within {}; {}.", notice, alarms);
    if (*s.false_alarms_day > 1) {
        s.verdict = Verdict::doubt;
        s.todo = fmt::format("Call it dead after {} missing.", *s.misses_needed);
    } else if (*s.notice_s > patient_s) {
        s.verdict = Verdict::doubt;
        s.todo = "Release all keys earlier: after the first one missing.";
    } else if (!measured) {
        s.verdict = Verdict::doubt;
        s.todo = "The share that gets lost is not measured: record ten minutes and count.";
    } else {
        s.verdict = Verdict::holds;
    }
}

MapGap open_message(const MapMessage& m, Verdict verdict, std::string says, std::string todo) {
    return {GapKind::message_open, verdict, {m.id}, {}, std::move(says), std::move(todo), {}};
}

}  // namespace

std::vector<MapGap> message_gaps(const DeviceMap& map) {
    std::vector<MapGap> out;
    for (const auto& m : map.messages)
        if (!m.act)
            out.push_back(open_message(m, m.kind == MessageKind::error ? Verdict::stop : Verdict::doubt,
                                       fmt::format("On {} the bridge does what nobody has said.", m.name),
                                       m.kind == MessageKind::error
                                           ? "Release all keys and ask again."
                                           : "Say whether it is watched, told or ignored."));
        else if (m.kind == MessageKind::error && *m.act == MessageAct::ignore)
            out.push_back(open_message(
                m, Verdict::doubt,
                fmt::format("{} is ignored: keys that were held then stay down at the host.", m.name),
                "Release all keys on it."));
    return out;
}

std::optional<MapGap> level_gap(const DeviceMap& map) {
    if (map.way != MapWay::new_to_old) return std::nullopt;
    const auto& n = map.numbers;
    if (std::any_of(n.begin(), n.end(), [](const auto& f) { return f.key == "active_high"; }))
        return std::nullopt;
    MapGap g{GapKind::level_assumed, Verdict::doubt, {}, {}, {}, {}, {}};
    for (const auto& k : map.keys)
        if (k.code.value.starts_with("bit ")) g.keys.push_back(k.id);
    if (g.keys.empty()) return std::nullopt;
    g.says = "Whether the bit of a held control is 0 or 1 is assumed: 0.";
    g.todo = "Record one press and one moment at rest, and look at its bit.";
    return g;
}

MessageStudy study_message(const MapMessage& m) {
    MessageStudy s;
    s.id = m.id;
    s.watched = m.act == MessageAct::watch;
    if (!s.watched) {
        s.verdict = m.act ? Verdict::holds : Verdict::unknown;
        return s;
    }
    const double period = m.every.value.seconds();
    if (period <= 0) {
        s.says = "It is watched, and how often it comes is not known.";
        s.todo = "Record a minute at rest and measure its period.";
        return s;
    }
    s.notice_s = (m.misses + 1) * period;
    const double lost = m.lost.value;
    // 0 without evidence is what nobody has counted.
    const bool counted = lost > 0 || m.lost.evidence.kind == EvidenceKind::measured;
    if (counted) {
        s.false_alarms_day = day_s / period * std::pow(lost, m.misses);
        if (lost > 0 && lost < 1)
            s.misses_needed = std::max(
                1,
                static_cast<int>(std::ceil(std::log(wanted_alarms_day * period / day_s) / std::log(lost))));
        else
            s.misses_needed = lost <= 0 ? 1 : m.misses;
    }
    judge(m, s);
    return s;
}

}  // namespace grayrelic
