// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/unseen/fab_boards.hpp"

#include "tests/unseen/fab_plot.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>
#include <random>
#include <set>

namespace unseen {
namespace {

using fab::P;
using fab::Plotter;
using std::string;

/// Writes one drill file in one of its ways.
string drill_text(std::mt19937_64& chance, const std::vector<std::pair<P, double>>& holes,
                  const std::vector<std::tuple<P, P, double>>& slots, int plated, bool inch) {
    const int zeros = static_cast<int>(chance() % 3);  // 0: decimals, 1: LZ, 2: TZ
    const int decimals = inch ? 4 : 3, whole = inch ? 2 : 3;
    string out = "M48\n";
    if (plated >= 0 && chance() % 2 == 0)
        out += fmt::format("; #@! TF.FileFunction,{},1,2,{}\n", plated ? "Plated" : "NonPlated",
                           plated ? "PTH" : "NPTH");
    out += inch ? "INCH" : "METRIC";
    if (zeros > 0) out += string(zeros == 1 ? ",LZ" : ",TZ") + (inch ? ",00.0000" : ",000.000");
    out += "\n";
    std::map<long, int> tools;
    const auto key = [](double mm) { return std::lround(mm * 1e4); };
    for (const auto& [at, mm] : holes) tools.emplace(key(mm), 0);
    for (const auto& [a, b, mm] : slots) tools.emplace(key(mm), 0);
    int n = 0;
    for (auto& [k, number] : tools) {
        number = ++n;
        out += fmt::format("T{:02}C{:.6f}\n", n,
                           inch ? static_cast<double>(k) / 1e4 / 25.4 : static_cast<double>(k) / 1e4);
    }
    out += "%\nG90\nG05\n";
    const auto number = [&](double mm) {
        const double v = inch ? mm / 25.4 : mm;
        if (zeros == 0) return fmt::format("{:.{}f}", v, inch ? 6 : 4);
        auto digits = std::to_string(std::llabs(std::llround(v * std::pow(10.0, decimals))));
        if (zeros == 1) {
            digits = string(std::max<std::size_t>(static_cast<std::size_t>(whole + decimals), digits.size()) -
                                digits.size(),
                            '0') +
                     digits;
            while (digits.size() > 1 && digits.back() == '0') digits.pop_back();
        }
        return (v < 0 ? "-" : "") + digits;
    };
    const auto xy = [&](P p) { return "X" + number(p.x) + "Y" + number(p.y); };
    for (const auto& [k, tool] : tools) {
        out += fmt::format("T{:02}\n", tool);
        for (const auto& [at, mm] : holes)
            if (key(mm) == k) out += xy(at) + "\n";
        for (const auto& [a, b, mm] : slots) {
            if (key(mm) != k) continue;
            if (chance() % 2 == 0)
                out += xy(a) + "G85" + xy(b) + "\n";
            else
                out += "G00" + xy(a) + "\nM15\nG01" + xy(b) + "\nM16\nG05\n";
        }
    }
    return out + (chance() % 2 == 0 ? "T0\nM30\n" : "M30\n");
}

struct Groups {
    std::vector<int> up;
    explicit Groups(std::size_t n) : up(n) { std::iota(up.begin(), up.end(), 0); }
    int top(int x) {
        return up[static_cast<std::size_t>(x)] == x
                   ? x
                   : up[static_cast<std::size_t>(x)] = top(up[static_cast<std::size_t>(x)]);
    }
    void join(int a, int b) { up[static_cast<std::size_t>(top(a))] = top(b); }
};

}  // namespace

FabBoard fab_board(std::uint64_t seed, const FabWish& wish) {
    std::mt19937_64 chance(seed * 7919 + 17);
    const auto pick = [&](std::size_t n) { return static_cast<std::size_t>(chance() % n); };
    FabBoard out;
    const std::size_t nets = wish.nets > 0 ? wish.nets : 3 + pick(10);
    const std::size_t contacts = wish.contacts > 0 ? wish.contacts : nets * 2 + pick(nets * 2);
    const double column = 1.6 + 0.1 * static_cast<double>(pick(12)),
                 lane = 1.4 + 0.1 * static_cast<double>(pick(10));
    const P origin{static_cast<double>(pick(120)) - 60 + 0.123, static_cast<double>(pick(90)) - 45 + 0.456};
    const double lanes_low = origin.y + 8, lanes_high = lanes_low + lane * static_cast<double>(nets);
    const double width = column * static_cast<double>(contacts + 1) + 4;
    const bool pour = pick(2) == 0, tracks_on_top = pick(2) == 0, donut_vias = pick(3) == 0;

    std::vector<std::size_t> net_of(contacts);
    for (std::size_t i = 0; i < contacts; ++i) net_of[i] = i < 2 * nets ? i / 2 : pick(nets);
    std::shuffle(net_of.begin(), net_of.end(), chance);
    struct Contact {
        string point;
        P at;
        std::size_t net;
        bool via = true, stub = true;  ///< whether its via and its column's track are there
    };
    std::vector<Contact> list;
    for (std::size_t i = 0; i < contacts; ++i) {
        const bool above = pick(2) == 0;
        const double y = above ? lanes_high + 1.5 + static_cast<double>(pick(40)) * 0.1
                               : lanes_low - 1.8 - static_cast<double>(pick(40)) * 0.1;
        list.push_back({fmt::format("{}{}.{}", i % 3 == 0 ? "J" : "U", 1 + i / 9, 1 + i % 9),
                        {origin.x + 2 + column * static_cast<double>(i + 1), y},
                        net_of[i]});
    }
    const auto lane_y = [&](std::size_t net) { return lanes_low + lane * static_cast<double>(net); };

    // Faults: a via that is missing, a track that is missing, a bridge between neighbouring lanes.
    std::vector<std::size_t> bridges;  // between lane n and n + 1
    if (wish.faults) {
        for (auto& c : list) {
            if (pick(20) == 0)
                c.via = false;
            else if (pick(20) == 0)
                c.stub = false;
        }
        for (std::size_t n = 0; n + 1 < nets; ++n)
            if (pick(8) == 0) bridges.push_back(n);
    }

    const bool inch = pick(3) == 0;
    const auto layer = [&](const char* function) {
        return Plotter(chance, inch, pick(2) == 0 ? function : "");
    };
    Plotter top = layer("Copper,L1,Top"), bottom = layer("Copper,L2,Bot"), edge = layer("Profile,NP");
    Plotter& along = tracks_on_top ? top : bottom;   // the lanes
    Plotter& across = tracks_on_top ? bottom : top;  // the columns
    const double thin = 0.2 + 0.05 * static_cast<double>(pick(4)), pad = 1.2, via = 0.8;
    const double left = origin.x, right = origin.x + width, low = lanes_low - 7.5, high = lanes_high + 7.5;

    // A pour over the lanes' side, that belongs to nothing: cleared around all that it must not touch.
    struct Stroke {
        P a, b;
    };
    std::vector<Stroke> strokes;
    std::vector<double> from(nets, 1e9), to(nets, -1e9);
    for (const auto& c : list) {
        if (!c.stub) continue;
        from[c.net] = std::min(from[c.net], c.at.x);
        to[c.net] = std::max(to[c.net], c.at.x);
    }
    for (std::size_t n = 0; n < nets; ++n)
        if (from[n] < to[n]) strokes.push_back({{from[n], lane_y(n)}, {to[n], lane_y(n)}});
    // A bridge stands between two columns, where both lanes are.
    std::vector<std::pair<std::size_t, bool>> bridged;
    for (const auto n : bridges) {
        const double begin = std::max(from[n], from[n + 1]), end = std::min(to[n], to[n + 1]);
        if (!(begin + 0.01 < end)) continue;
        const double x = begin + column / 2;
        if (x >= end) continue;
        strokes.push_back({{x, lane_y(n)}, {x, lane_y(n + 1)}});
        bridged.emplace_back(n, true);
    }
    if (pour) {
        along.box({left + 1, low + 0.6}, {right - 1, high - 0.6});
        along.polarity(false);
        for (const auto& s : strokes) along.track(s.a, s.b, thin + 0.5);
        for (const auto& c : list) {
            along.flash(c.at, fmt::format("C,{:.6f}", along.unit(pad * 1.3 + 0.8)));
            if (c.via) along.flash({c.at.x, lane_y(c.net)}, fmt::format("C,{:.6f}", along.unit(via + 0.5)));
        }
        along.polarity(true);
    }
    for (const auto& s : strokes) {
        if (pick(4) == 0 && s.a.y == s.b.y)
            along.box({s.a.x - thin / 2, s.a.y - thin / 2}, {s.b.x + thin / 2, s.b.y + thin / 2});
        else
            along.track(s.a, s.b, thin);
    }
    std::vector<std::pair<P, double>> drilled;
    const double drill = 0.8, via_drill = 0.3;
    for (const auto& c : list) {
        top.flash(c.at, top.pad(pad));
        bottom.flash(c.at, bottom.pad(pad));
        drilled.emplace_back(c.at, drill);
        if (c.via) {
            const P v{c.at.x, lane_y(c.net)};
            const auto form = donut_vias ? fmt::format("C,{:.6f}X{:.6f}", top.unit(via), top.unit(via_drill))
                                         : fmt::format("C,{:.6f}", top.unit(via));
            top.flash(v, form);
            bottom.flash(v, form);
            drilled.emplace_back(v, via_drill);
        }
        if (c.stub) across.track(c.at, {c.at.x, lane_y(c.net)}, thin);
    }
    edge.frame({left, low}, {right, high}, static_cast<double>(pick(3)), 0.1);
    out.width_mm = right - left;
    out.height_mm = high - low;

    // Mounting holes, not plated, in a file of their own; one is a slot.
    std::vector<std::pair<P, double>> mounting{{{left + 0.9, low + 3}, 1.0}};
    std::vector<std::tuple<P, P, double>> mounting_slots;
    if (pick(2) == 0) mounting_slots.emplace_back(P{right - 0.8, low + 3}, P{right - 0.8, low + 5}, 0.9);
    const bool drill_inch = pick(3) == 0;
    out.files["copper-top.gbr"] = top.done();
    out.files["copper-bottom.gbr"] = bottom.done();
    out.files["board-outline.gbr"] = edge.done();
    out.files["holes-plated.drl"] = drill_text(chance, drilled, {}, 1, drill_inch);
    out.files["holes-npth.drl"] = drill_text(chance, mounting, mounting_slots, 0, drill_inch);
    out.holes[{drill, true}] = list.size();
    out.holes[{via_drill, true}] = static_cast<std::size_t>(
        std::count_if(list.begin(), list.end(), [](const auto& c) { return c.via; }));
    if (out.holes[{via_drill, true}] == 0) out.holes.erase({via_drill, true});
    out.holes[{1.0, false}] = 1;
    if (!mounting_slots.empty()) out.holes[{0.9, false}] = 1;

    // What the copper joins: contacts 0…, then lanes.
    Groups groups(contacts + nets);
    for (std::size_t i = 0; i < contacts; ++i) {
        // The column leads to the lane through its via; where the track ends on the lane without one, the
        // sides stay apart. A lane that shrank to nothing has no copper but its vias' pads.
        const auto& c = list[i];
        const bool lane_there = from[c.net] < to[c.net];
        if (c.stub && c.via && lane_there)
            groups.join(static_cast<int>(i), static_cast<int>(contacts + c.net));
    }
    for (const auto& [n, there] : bridged)
        groups.join(static_cast<int>(contacts + n), static_cast<int>(contacts + n + 1));
    std::map<int, std::vector<string>> by_group;
    out.pads_csv = "ref,pin,x_mm,y_mm,side\n";
    out.nets_csv = "net,point\n";
    for (std::size_t i = 0; i < contacts; ++i) {
        const auto& c = list[i];
        by_group[groups.top(static_cast<int>(i))].push_back(c.point);
        const auto dot = c.point.find('.');
        out.pads_csv += fmt::format("{},{},{:.4f},{:.4f},both\n", c.point.substr(0, dot),
                                    c.point.substr(dot + 1), c.at.x, c.at.y);
        out.nets_csv += fmt::format("N{},{}\n", c.net, c.point);
    }
    for (auto& [root, points] : by_group) {
        std::sort(points.begin(), points.end());
        out.copper.push_back(points);
    }
    std::sort(out.copper.begin(), out.copper.end());
    std::set<std::pair<std::size_t, std::size_t>> pairs;
    std::map<int, std::set<std::size_t>> meet;
    for (std::size_t i = 0; i < contacts; ++i) meet[groups.top(static_cast<int>(i))].insert(list[i].net);
    for (const auto& [root, here] : meet)
        for (const auto a : here)
            for (const auto b : here)
                if (a < b) pairs.emplace(a, b);
    out.joined = pairs.size();
    for (std::size_t n = 0; n < nets; ++n) {
        std::set<int> pieces;
        bool alone = true;
        for (std::size_t i = 0; i < contacts; ++i)
            if (list[i].net == n) pieces.insert(groups.top(static_cast<int>(i)));
        for (const auto p : pieces) alone = alone && meet[p].size() == 1;
        if (pieces.size() > 1)
            ++out.split;
        else if (alone)
            ++out.same;
    }
    out.story = fmt::format("seed {}: {} nets, {} contacts, {}, pour {}, lanes on {}", seed, nets, contacts,
                            inch ? "inch" : "mm", pour, tracks_on_top ? "top" : "bottom");
    return out;
}

}  // namespace unseen
