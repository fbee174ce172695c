// SPDX-License-Identifier: GPL-3.0-or-later
// Several lines at a time: banks behind a select, quadrature, strobed buses, switch matrices; what belongs to
// no family; and what only stands beside.
#include <algorithm>
#include <cmath>

#include "tests/unseen/links.hpp"

namespace grayrelic::unseen {

/// The select line shows one of two banks of switches; an enable that is not active forces the outputs.
void select_bank(Draft& d) {
    auto& dice = d.dice;
    d.made.wires.reserve(24);
    const int lines = static_cast<int>(dice.whole(2, 6));
    const bool enabled = dice.chance(0.4), passes = dice.chance(0.5), forced = dice.chance(0.5);
    const double half = dice.log(3e6, 2000e6), delay = half * dice.log(0.001, 0.05);
    d.jitter = half * dice.real(0, 0.02);
    auto& select = d.wire("sel", dice.chance(0.5));
    Wire* enable = enabled ? &d.wire("en", !passes) : nullptr;
    std::vector<Wire*> data;
    Link link;
    link.kind = "select-bank";
    link.roles = {{"select", {"sel"}}};
    std::vector<bool> banks[2];
    for (int k = 0; k < lines; ++k) {
        const auto name = "d" + std::to_string(k);
        data.push_back(&d.wire(name, true));
        link.roles["data"].push_back(name);
        banks[0].push_back(dice.chance(0.5));
        // Each line shows something else in the other bank, at least at first.
        banks[1].push_back(dice.chance(0.75) ? !banks[0].back() : dice.chance(0.5));
    }
    if (enabled) link.roles["enable"] = {"en"};
    double t = d.now + half * dice.real(1, 4);
    bool bank = select.level();
    const auto show = [&](double at, bool on) {
        for (std::size_t k = 0; k < data.size(); ++k)
            data[k]->set(at + delay * dice.real(0.8, 1.2), on ? banks[bank ? 1 : 0][k] : forced);
    };
    show(t * 0.5, enable == nullptr);
    const long polls = dice.whole(60, 250);
    const int switches = static_cast<int>(dice.whole(2, 6));  // of the select in a poll
    for (long p = 0; p < polls; ++p) {
        for (auto& b : banks)
            for (std::size_t k = 0; k < b.size(); ++k)
                if (dice.chance(0.06)) b[k] = !b[k];
        if (enable != nullptr) {
            const double at = d.shaken(t);
            enable->set(at, passes);
            show(at, true);
            t += half;
        }
        for (int s = 0; s < switches; ++s) {
            bank = !bank;
            const double at = d.shaken(t);
            select.set(at, bank);
            show(at, true);
            t += half;
        }
        if (enable != nullptr) {
            const double at = d.shaken(t);
            enable->set(at, !passes);
            show(at, false);
            t += half;
        }
        t += half * dice.real(2, 12);
    }
    d.now = t;
    if (enabled) link.settings = {{"enable-level", passes ? "high" : "low"}};
    d.made.about = std::to_string(lines) + " lines" + (enabled ? ", enable" : "") + ", " +
                   std::to_string(half / 1e6) + " us, answers after " + std::to_string(delay / 1e3) + " ns";
    d.made.links.push_back(std::move(link));
}

/// Counts as a, b: 00, 10, 11, 01 is forward. People turn back often.
void quadrature(Draft& d) {
    auto& dice = d.dice;
    d.made.wires.reserve(24);
    const int axes = dice.chance(0.4) ? 2 : 1;
    const double step = dice.log(50e6, 5000e6);
    const double turns = dice.real(0.01, 0.25);
    for (int axis = 0; axis < axes; ++axis) {
        const std::string a_name = axes == 1 ? "qa" : "qa" + std::to_string(axis),
                          b_name = axes == 1 ? "qb" : "qb" + std::to_string(axis);
        static const bool as[4] = {false, true, true, false}, bs[4] = {false, false, true, true};
        int at = static_cast<int>(dice.whole(0, 3));
        auto& a = d.wire(a_name, as[at]);
        const std::size_t index_a = d.made.wires.size() - 1;
        d.wire(b_name, bs[at]);
        (void)a;
        Link link;
        link.kind = "quadrature";
        link.roles = {{"a", {a_name}}, {"b", {b_name}}};
        double t = d.now + step * dice.real(2, 20);
        bool forward = dice.chance(0.5);
        double speed = 1;
        for (long n = dice.whole(200, 2500); n > 0; --n) {
            if (dice.chance(turns)) forward = !forward;
            if (dice.chance(0.05)) speed = dice.log(0.5, 8);
            if (dice.chance(0.01)) t += step * dice.real(20, 400);
            at = (at + (forward ? 1 : 3)) % 4;
            link.position += forward ? 1 : -1;
            t += step * speed * dice.real(0.6, 1.4);
            d.made.wires[index_a].set(t, as[at]);
            d.made.wires[index_a + 1].set(t, bs[at]);
        }
        d.made.end = std::max(d.made.end, static_cast<std::int64_t>(t + 10 * step));
        link.open = {"detent"};
        d.made.links.push_back(std::move(link));
    }
    d.made.shortest = step * 0.5 * 0.6;
    d.made.about = std::to_string(axes) + " axes, turns back at " + std::to_string(turns);
}

/// Data is put on the lines, rests around the strobe's active edge, moves between strobes.
void strobed_bus(Draft& d) {
    auto& dice = d.dice;
    d.made.wires.reserve(24);
    const int lines = static_cast<int>(dice.whole(4, 8));
    const bool rises = dice.chance(0.5), rests = rises ? dice.chance(0.3) : dice.chance(0.7);
    const double cycle = dice.log(1e6, 400e6);
    const double width = cycle * dice.real(0.1, 0.3);
    const double setup = cycle * dice.real(0.1, 0.3), hold = cycle * dice.real(0.05, 0.2);
    d.jitter = cycle * dice.real(0, 0.01);
    auto& strobe = d.wire("stb", rests);
    std::vector<Wire*> data;
    Link link;
    link.kind = "strobed-bus";
    link.roles = {{"strobe", {"stb"}}};
    for (int k = 0; k < lines; ++k) {
        const auto name = "b" + std::to_string(k);
        data.push_back(&d.wire(name, dice.chance(0.5)));
        link.roles["data"].push_back(name);
    }
    const bool regular = dice.chance(0.4), changes_all = dice.chance(0.5);
    double t = d.now + cycle * dice.real(2, 10);
    unsigned value = 0;
    for (long n = dice.whole(80, 500); n > 0; --n) {
        value = changes_all || dice.chance(0.5) ? static_cast<unsigned>(dice.whole(0, (1L << lines) - 1))
                                                : value + 1;
        // The active edge is at t; the other edge of the pulse before or behind it.
        const bool active_first = rests != rises;
        const double other = active_first ? t + width : t - width;
        const double stable_from = std::min(t, other) - setup * 0.1;
        (void)stable_from;
        Word w;
        for (int k = 0; k < lines; ++k) {
            const bool one = (value >> (lines - 1 - k) & 1U) != 0;
            w.levels += one ? '1' : '0';
            data[static_cast<std::size_t>(k)]->set(d.shaken(t - setup - (active_first ? 0 : width)), one);
        }
        strobe.set(d.shaken(std::min(t, other)), !rests);
        strobe.set(d.shaken(std::max(t, other)), rests);
        // Behind the hold the lines go elsewhere for a while in some designs.
        if (dice.chance(0.5))
            for (auto* line : data)
                if (dice.chance(0.3)) line->set(d.shaken(std::max(t, other) + hold), !line->level());
        link.words.push_back(w);
        t += cycle * (regular ? 1.0 : dice.real(1, 6));
    }
    d.now = t;
    link.settings = {{"edge", rises ? "rise" : "fall"}};
    link.open = {"edge"};  // the lines may rest around both edges
    d.made.about = std::to_string(lines) + " lines, " + std::to_string(cycle / 1e6) + " us" +
                   (regular ? ", regular" : "") + (rises ? ", rises" : ", falls");
    d.made.links.push_back(std::move(link));
}

/// One strobe is active at a time; each sense line follows the switches that are closed on it.
void matrix(Draft& d) {
    auto& dice = d.dice;
    d.made.wires.reserve(24);
    const int strobes = static_cast<int>(dice.whole(3, 8)), senses = static_cast<int>(dice.whole(2, 6));
    const bool active = dice.chance(0.3);
    const double slot = dice.log(5e6, 2000e6), settle = slot * dice.real(0.02, 0.2);
    const double between = dice.chance(0.5) ? 0.0 : slot * dice.real(0.05, 0.5);
    d.jitter = slot * dice.real(0, 0.01);
    Link link;
    link.kind = "matrix";
    const auto index = d.made.wires.size();
    for (int k = 0; k < strobes; ++k) {
        d.wire("s" + std::to_string(k), !active);
        link.roles["strobe"].push_back("s" + std::to_string(k));
    }
    for (int k = 0; k < senses; ++k) {
        d.wire("n" + std::to_string(k), !active);
        link.roles["sense"].push_back("n" + std::to_string(k));
    }
    double t = d.now + slot * dice.real(1, 5);
    std::set<std::pair<int, int>> held;
    const long scans = dice.whole(60, 200);
    for (long scan = 0; scan < scans; ++scan) {
        // A key or two at a time, as fingers do; every line is used sooner or later.
        if (scan < 2 * senses) {
            // First once around: a line on which nothing was ever pressed is no part of what can be seen.
            held = {{static_cast<int>(dice.whole(0, strobes - 1)), static_cast<int>(scan / 2)}};
        } else if (dice.chance(0.5)) {
            held.clear();
            const long keys = dice.whole(0, 2);
            for (long k = 0; k < keys; ++k)
                held.insert({static_cast<int>(dice.whole(0, strobes - 1)),
                             static_cast<int>(dice.whole(0, senses - 1))});
        }
        for (int s = 0; s < strobes; ++s) {
            const double on = d.shaken(t), off = d.shaken(t + slot);
            d.made.wires[index + static_cast<std::size_t>(s)].set(on, active);
            for (int n = 0; n < senses; ++n) {
                if (held.count({s, n}) == 0) continue;
                d.made.wires[index + static_cast<std::size_t>(strobes + n)].set(on + settle, active);
                link.closed.insert({s, n});
            }
            d.made.wires[index + static_cast<std::size_t>(s)].set(off, !active);
            t += slot + between;
            // The line goes back to rest with its strobe, unless the next one holds it.
            for (int n = 0; n < senses; ++n)
                if (between > 0 || s + 1 == strobes || held.count({s + 1, n}) == 0)
                    d.made.wires[index + static_cast<std::size_t>(strobes + n)].set(off + settle, !active);
        }
        t += slot * dice.real(0.5, 6);
    }
    d.now = t;
    link.settings = {{"active", active ? "high" : "low"}};
    d.made.about = std::to_string(strobes) + " by " + std::to_string(senses) + (active ? ", high" : ", low");
    d.made.links.push_back(std::move(link));
}

void nonsense(Draft& d) {
    auto& dice = d.dice;
    d.made.wires.reserve(24);
    const int what = static_cast<int>(dice.whole(0, 4));
    auto& w = d.wire("x", dice.chance(0.5));
    const double unit = dice.log(0.5e6, 200e6);
    double t = d.now + unit * 5;
    const long n = dice.whole(400, 3000);
    static const char* const names[] = {"self-clocked code", "frequency shift", "noise", "random telegraph",
                                        "sliding tone"};
    d.made.about = names[what];
    for (long k = 0; k < n; ++k) {
        switch (what) {
            case 0:  // a change in the middle of each bit says its value
            {
                const bool one = dice.chance(0.5);
                w.set(t, one);
                w.set(t + unit / 2, !one);
                t += unit;
                break;
            }
            case 1:  // each bit some periods of one of two tones
            {
                const bool one = dice.chance(0.5);
                for (int c = 0; c < (one ? 8 : 4); ++c) {
                    w.set(t, !w.level());
                    t += unit * (one ? 0.5 : 1.0);
                }
                break;
            }
            case 2:  // uncorrelated pulses
                t += unit * -std::log(1 - dice.unit());
                w.set(t, dice.chance(0.5));
                break;
            case 3:
                t += unit * -std::log(1 - dice.unit()) + unit * 0.05;
                w.set(t, !w.level());
                break;
            default:
                t += unit * (0.5 + 4.0 * static_cast<double>(k) / static_cast<double>(n));
                w.set(t, !w.level());
        }
    }
    d.now = t + unit * 10;
    d.made.shortest = unit * 0.05;
}

void clutter(Draft& d, int lines) {
    auto& dice = d.dice;
    const double length = static_cast<double>(d.made.end), least = length / 20000;
    for (int k = 0; k < lines; ++k) {
        auto& w = d.wire("u" + std::to_string(k), dice.chance(0.5));
        switch (dice.whole(0, 3)) {
            case 0:  // a free clock
            {
                const double half = dice.log(std::max(least, length / 4000), length / 20);
                for (double t = half * dice.unit(); t < length; t += half) w.set(t, !w.level());
                break;
            }
            case 1:  // a level that changes now and then
                for (long n = dice.whole(0, 8); n > 0; --n)
                    w.set(w.edges.empty()
                              ? length * dice.real(0, 0.3)
                              : static_cast<double>(w.edges.back()) + length * dice.real(0.02, 0.2),
                          !w.level());
                break;
            case 2:  // chatter around a few changes
                for (double t = length * dice.real(0.01, 0.2); t < length; t += length * dice.real(0.05, 0.3))
                    for (long n = 2 * dice.whole(1, 8) + 1; n > 0; --n)
                        w.set(t += least * dice.real(0.2, 3), !w.level());
                break;
            default:  // short pulses at random
                for (double t = length * dice.real(0, 0.1); t < length; t += length * dice.log(0.002, 0.1))
                    w.pulse(t, t + least * dice.real(1, 6), !w.first);
        }
        while (!w.edges.empty() && w.edges.back() >= d.made.end) w.edges.pop_back();
    }
}

}  // namespace grayrelic::unseen
