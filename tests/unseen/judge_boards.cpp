// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/unseen/judge_boards.hpp"

#include <fmt/format.h>

#include <chrono>
#include <cmath>
#include <random>
#include <set>

#include "tests/unseen/click_boards.hpp"

namespace grayrelic::unseen {
namespace {

BoardModel points_of(const BoardLayout& board) {
    BoardModel out;
    for (const auto& p : board.pads) {
        BoardPoint point;
        point.place = BoardPlace{p.x, p.y, {}};
        if (p.side >= 0) point.place->side = p.side == 0 ? BoardSide::front : BoardSide::back;
        out.points.push_back(point);
    }
    return out;
}

void count(const BoardLayout& board, const BoardTruth& truth, const ScanNets& nets, BoardVerdict& v) {
    const auto groups = [](const std::vector<int>& of, const std::vector<int>& points) {
        std::set<int> out;
        for (const int p : points) out.insert(of[static_cast<std::size_t>(p)]);
        return static_cast<int>(out.size());
    };
    std::vector<int> net(board.pads.size());
    int alone = -1;
    for (auto& n : net) n = alone--;
    for (std::size_t k = 0; k < nets.nets.size(); ++k)
        for (const int p : nets.nets[k].points) net[static_cast<std::size_t>(p)] = static_cast<int>(k);
    std::map<int, std::vector<int>> sure, whole, read;
    for (int p = 0; p < static_cast<int>(board.pads.size()); ++p) {
        sure[truth.sure[static_cast<std::size_t>(p)]].push_back(p);
        whole[truth.joined[static_cast<std::size_t>(p)]].push_back(p);
        read[net[static_cast<std::size_t>(p)]].push_back(p);
    }
    for (const auto& [g, list] : sure) {
        v.joins += static_cast<int>(list.size()) - 1;
        v.found += static_cast<int>(list.size()) - groups(net, list);
        if (groups(net, list) > 1)
            for (const int p : list)
                v.told +=
                    fmt::format(" {}({:.0f},{:.0f}):{}", board.pads[static_cast<std::size_t>(p)].name,
                                board.pads[static_cast<std::size_t>(p)].x,
                                board.pads[static_cast<std::size_t>(p)].y, net[static_cast<std::size_t>(p)]);
        if (groups(net, list) > 1) v.told += ";";
    }
    for (const auto& [g, list] : whole) v.all_joins += static_cast<int>(list.size()) - 1;
    for (const auto& [g, list] : read)
        if (const int more = groups(truth.joined, list) - 1; more > 0) {
            v.false_joins += more;
            v.told += " FALSE";
            for (const int p : list) v.told += " " + board.pads[static_cast<std::size_t>(p)].name;
            v.told += ";";
        }
}

}  // namespace

BoardCase board_case(std::uint64_t seed, bool disturbed, bool pale) {
    std::mt19937_64 dice(seed * 1009 + (disturbed ? 1 : 0) + (pale ? 2 : 0));
    std::uniform_real_distribution<double> any(0, 1);
    BoardCase c;
    c.seed = seed;
    c.look = board_looks()[seed % board_looks().size()];
    const double dpis[] = {300, 400, 600, 600, 800, 1200};
    c.dpi = dpis[static_cast<std::size_t>(any(dice) * 6) % 6];
    // Tracks and gaps of five pixels and more, as the drill's grid allows.
    const double px = 25.4 / c.dpi;
    const double track = std::max(0.16, px * (5 + 4 * any(dice))),
                 gap = std::max(0.16, px * (5 + 4 * any(dice)));
    const int parts = std::clamp(static_cast<int>(2.54 / (track + gap)), 2, 8);
    c.wish.pitch = 2.54 / parts;
    c.wish.track = std::max(px * 5, c.wish.pitch * (0.42 + 0.12 * any(dice)));
    c.wish.track = std::min(c.wish.track, c.wish.pitch - px * 5);
    if (any(dice) < 0.25) c.wish.thin_track = px * (2 + 1.2 * any(dice));
    c.wish.width = c.dpi > 700 ? 34 + 10 * any(dice) : 44 + 20 * any(dice);
    c.wish.height = c.dpi > 700 ? 26 + 8 * any(dice) : 34 + 14 * any(dice);
    c.wish.pours = any(dice) < 0.4;
    c.wish.ink = any(dice) < 0.85;
    c.wish.via_hole = std::max(0.3, px * 6.5) + 0.2 * any(dice);
    if (pale) c.step = 2 + 8 * any(dice);
    if (disturbed) {
        const auto& list = board_troubles();
        c.troubles.push_back(list[static_cast<std::size_t>(any(dice) * static_cast<double>(list.size()))]);
        if (any(dice) < 0.4)
            c.troubles.push_back(
                list[static_cast<std::size_t>(any(dice) * static_cast<double>(list.size()))]);
    }
    return c;
}

ScanPicture picture_of(const BoardPicture& p, int side) {
    std::vector<ScanReference> references;
    for (const auto& r : p.references) references.push_back({r[0], r[1], r[2], r[3]});
    ScanPicture out;
    out.pixels = {p.width, p.height, p.rgb};
    out.placement = place_scan(references, side == 0 ? BoardSide::front : BoardSide::back).value();
    return out;
}

BoardVerdict judge(const BoardCase& c, int clicks) {
    BoardVerdict v;
    const auto board = lay_out(c.seed, c.wish);
    const auto truth = truth_of(board, c.dpi);
    BoardTrouble trouble;
    std::mt19937_64 dice(c.seed + 99);
    std::uniform_real_distribution<double> any(0, 1);
    for (const auto& t : c.troubles) trouble_of(trouble, t) = 0.3 + 0.7 * any(dice);
    const auto look = board_look(c.seed, c.look, c.step);
    auto front = picture_of(paint(board, 0, look, trouble, c.dpi, c.seed), 0);
    auto back = picture_of(paint(board, 1, look, trouble, c.dpi, c.seed), 1);
    Progress progress;
    const auto begun = std::chrono::steady_clock::now();
    const auto read = clicks == 0 ? read_scans(front, &back, progress)
                                  : read_with_clicks(board, front, back, clicks, v.clicks);
    v.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
    if (!read) {
        v.told = read.error().message();
        return v;
    }
    for (const auto& l : read->layers)
        if (!l.doubt.empty()) v.told += " (" + l.doubt + ")";
    count(board, truth, nets_of_scan(*read, points_of(board)), v);
    return v;
}

void BoardTable::add(const BoardCase& c, const BoardVerdict& v) {
    std::vector<std::string> names{"all", "look " + c.look, fmt::format("{:.0f} dpi", c.dpi)};
    for (const auto& t : c.troubles) names.push_back("with " + t);
    for (const auto& n : names) {
        auto& r = rows_[n];
        r.joins += v.joins, r.found += v.found, r.false_joins += v.false_joins, r.all_joins += v.all_joins;
        r.seconds += v.seconds, r.boards += 1, r.clicks += v.clicks;
    }
}

std::string BoardTable::text() const {
    auto out = fmt::format("{:18} {:>7} {:>7} {:>8} {:>8} {:>8} {:>7}\n", "", "boards", "joins", "found",
                           "false", "seconds", "clicks");
    for (const auto& [name, r] : rows_)
        out += fmt::format(
            "{:18} {:7} {:7} {:7.1f}% {:7.2f}% {:8.2f} {:7.1f}\n", name, r.boards, r.joins,
            100.0 * r.found / std::max(1, r.joins), 100.0 * r.false_joins / std::max(1, r.all_joins),
            r.seconds / std::max(1, r.boards), static_cast<double>(r.clicks) / std::max(1, r.boards));
    return out;
}

}  // namespace grayrelic::unseen
