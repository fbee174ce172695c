// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/counter_keypad.hpp"

#include <fmt/format.h>

#include "core/capture/vcd_writer.hpp"
#include "standin/wires.hpp"

namespace grayrelic::standin {
namespace {

constexpr int strobes = 6, senses = 9;

std::vector<KeypadKey> laid_out() {
    // As they lie; the foil leads each column's keys to rows that step by one from column to column.
    const std::vector<std::vector<const char*>> legends{
        {"F1", "F2", "F3", "F4", "F5", "F6", "F7", "F8"},
        {"NOTE", "COIN", "BATCH", "COUNT", "7", "8", "9", "÷", "CLEAR"},
        {"MC", "MR", "M+", "M−", "4", "5", "6", "×", "STOP"},
        {"TAB", "↑", "BACK", "SUB", "1", "2", "3", "−", "ENTER"},
        {"←", "↓", "→", "SUM", "0", "00", ".", "+", "ENTER"},
        {"STOP", "FEED", "PRINT"}};
    std::vector<KeypadKey> out;
    for (std::size_t r = 0; r < legends.size(); ++r)
        for (std::size_t c = 0; c < legends[r].size(); ++c)
            out.push_back({legends[r][c], static_cast<double>(c),
                           static_cast<double>(r) + (r == 0 ? 0 : 0.25), static_cast<int>((r + c) % strobes),
                           static_cast<int>(c)});
    return out;
}

}  // namespace

const std::vector<KeypadKey>& counter_keypad() {
    static const auto keys = laid_out();
    return keys;
}

std::vector<KeypadPress> presses_of(const KeypadWalk& w) {
    Random random(w.seed);
    std::vector<KeypadPress> out;
    Time t = w.between;
    for (const auto& key : counter_keypad()) {
        const Time held = w.hold + Time::ms(static_cast<std::int64_t>(random.below(40)));
        out.push_back({key.legend, t, t + held});
        t += held + w.between + Time::ms(static_cast<std::int64_t>(random.below(60)));
    }
    return out;
}

std::string record_keypad_walk(const KeypadWalk& w) {
    Random random(w.seed + 1);
    std::vector<Wire> rows, columns;
    for (int r = 0; r < strobes; ++r) rows.emplace_back(fmt::format("rig.R{}", r));
    for (int c = 0; c < senses; ++c) columns.emplace_back(fmt::format("rig.C{}", c));
    for (auto& wire : rows) wire.jitter(Time::ns(200), random.below(1'000'000));
    for (auto& wire : columns) wire.jitter(Time::ns(400), random.below(1'000'000));
    const auto presses = presses_of(w);
    const auto& keys = counter_keypad();
    constexpr auto bounces = Time::ms(9);
    std::size_t at = 0;
    const Time end = presses.back().to + w.between;
    for (Time t = Time::ms(2); t + w.scan < end; t += w.scan) {
        while (at + 1 < presses.size() && presses[at].to + bounces < t) ++at;
        std::vector<std::uint64_t> closed(strobes, 0);
        const auto& p = presses[at];
        bool held = t >= p.from && t < p.to;
        // Around either end the contact chatters.
        if ((t >= p.from && t < p.from + bounces) || (t >= p.to && t < p.to + bounces))
            held = random.below(2) == 1;
        if (held)
            closed[static_cast<std::size_t>(keys[at].row)] |= std::uint64_t{1}
                                                              << static_cast<unsigned>(keys[at].column);
        static_cast<void>(say_matrix(rows, columns, t, closed, Time::us(60)));
    }
    auto wires = rows;
    wires.insert(wires.end(), columns.begin(), columns.end());
    const auto capture = capture_of(wires, end, Time::from_seconds(1 / w.sample_hz));
    std::string out;
    Progress progress;
    const auto done = write_vcd(
        capture, {},
        [&](std::string_view text) -> Status {
            out += text;
            return {};
        },
        progress);
    return done ? out : std::string();
}

}  // namespace grayrelic::standin
