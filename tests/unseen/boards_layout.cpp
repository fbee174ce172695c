// SPDX-License-Identifier: GPL-3.0-or-later
// Pads, a search for tracks on a grid over two sides, pours and ink.
#include <algorithm>
#include <cmath>
#include <deque>
#include <numeric>
#include <random>

#include "tests/unseen/boards.hpp"

namespace grayrelic::unseen {
namespace {

struct Router {
    const LayoutWish& wish;
    BoardLayout& out;
    std::mt19937_64& dice;
    int cols, rows;
    std::vector<int> owner;  ///< by side, row, column: -1 free, -2 nobody's, else a net

    Router(const LayoutWish& w, BoardLayout& o, std::mt19937_64& d)
        : wish(w),
          out(o),
          dice(d),
          cols(static_cast<int>((w.width - 2.0) / w.pitch)),
          rows(static_cast<int>((w.height - 2.0) / w.pitch)),
          owner(static_cast<std::size_t>(2 * cols * rows), -1) {}

    [[nodiscard]] double at(int k) const { return 1.0 + (k + 0.5) * wish.pitch; }
    [[nodiscard]] int near(double v) const {
        return static_cast<int>(std::lround((v - 1.0) / wish.pitch - 0.5));
    }
    [[nodiscard]] std::size_t cell(int s, int c, int r) const {
        return static_cast<std::size_t>((s * rows + r) * cols + c);
    }
    [[nodiscard]] bool inside(int c, int r) const { return c >= 0 && r >= 0 && c < cols && r < rows; }

    /// No track of another net may come closer to this box than a gap.
    void keep_off(int side, double x, double y, double w, double h, int net) {
        const double gap = wish.pitch - wish.track + wish.track / 2 - 1e-6;
        for (int c = near(x - w / 2 - gap) - 1; c <= near(x + w / 2 + gap) + 1; ++c)
            for (int r = near(y - h / 2 - gap) - 1; r <= near(y + h / 2 + gap) + 1; ++r) {
                if (!inside(c, r) || std::abs(at(c) - x) > w / 2 + gap || std::abs(at(r) - y) > h / 2 + gap)
                    continue;
                for (int s = 0; s < 2; ++s)
                    if (side < 0 || s == side) {
                        auto& o = owner[cell(s, c, r)];
                        o = o == -1 || o == net ? net : -2;
                    }
            }
    }

    [[nodiscard]] bool via_fits(int c, int r, int net) const {
        const double across = wish.via_hole + 0.35;
        const double reach = across / 2 + wish.pitch - wish.track / 2 - 1e-6;
        const int n = static_cast<int>(std::ceil(reach / wish.pitch));
        for (int dc = -n; dc <= n; ++dc)
            for (int dr = -n; dr <= n; ++dr) {
                if (!inside(c + dc, r + dr)) continue;
                // From the via's rim to the track's rim there must be a gap.
                if (std::max(std::abs(dc), std::abs(dr)) * wish.pitch >= reach) continue;
                for (int s = 0; s < 2; ++s)
                    if (const int o = owner[cell(s, c + dc, r + dr)]; o != -1 && o != net) return false;
            }
        // Off the pads: a via in a pad would be no via to see.
        return std::none_of(out.pads.begin(), out.pads.end(), [&](const BoardPad& p) {
            return std::abs(p.x - at(c)) < p.w / 2 + across / 2 + 0.25 &&
                   std::abs(p.y - at(r)) < p.h / 2 + across / 2 + 0.25;
        });
    }

    /// A way from one pad to another; false when there is none.
    bool join(const BoardPad& from, const BoardPad& to, double width, bool thin) {
        const auto states = owner.size();
        std::vector<int> before(states, -2);
        std::deque<int> queue;
        const auto ends = [&](const BoardPad& p) {
            std::vector<int> list;
            for (int s = 0; s < 2; ++s)
                if (p.side < 0 || p.side == s)
                    if (const int c = near(p.x), r = near(p.y);
                        inside(c, r) && owner[cell(s, c, r)] == from.net)
                        list.push_back(static_cast<int>(cell(s, c, r)));
            return list;
        };
        const auto goals = ends(to);
        for (const int s : ends(from)) before[static_cast<std::size_t>(s)] = -1, queue.push_back(s);
        int found = -1;
        while (!queue.empty() && found < 0) {
            const int now = queue.front();
            queue.pop_front();
            if (std::find(goals.begin(), goals.end(), now) != goals.end()) {
                found = now;
                break;
            }
            const int s = now / (rows * cols), r = now / cols % rows, c = now % cols;
            std::array<std::array<int, 3>, 5> ways{
                {{s, c + 1, r}, {s, c - 1, r}, {s, c, r + 1}, {s, c, r - 1}, {1 - s, c, r}}};
            std::shuffle(ways.begin(), ways.begin() + 4, dice);
            for (std::size_t k = 0; k < ways.size(); ++k) {
                const auto [s2, c2, r2] = ways[k];
                if (!inside(c2, r2)) continue;
                const auto next = cell(s2, c2, r2);
                if (before[next] != -2 || (owner[next] != -1 && owner[next] != from.net)) continue;
                if (k == 4 && !via_fits(c, r, from.net)) continue;
                before[next] = now;
                queue.push_back(static_cast<int>(next));
            }
        }
        if (found < 0) return false;
        std::vector<int> way;
        for (int k = found; k >= 0; k = before[static_cast<std::size_t>(k)]) way.push_back(k);
        draw(way, from.net, width, thin);
        return true;
    }

    void draw(const std::vector<int>& way, int net, double width, bool thin) {
        const auto place = [&](int k) {
            return std::array<int, 3>{k / (rows * cols), k % cols, k / cols % rows};
        };
        for (const int k : way) owner[static_cast<std::size_t>(k)] = net;
        std::size_t i = 0;
        while (i + 1 < way.size()) {
            const auto a = place(way[i]);
            auto b = place(way[i + 1]);
            if (a[0] != b[0]) {
                std::uniform_int_distribution<int> look(0, 5);
                const int l = look(dice);
                out.vias.push_back({at(a[1]), at(a[2]), wish.via_hole + 0.35, wish.via_hole,
                                    l < 3   ? ViaLook::open
                                    : l < 5 ? ViaLook::tented
                                            : ViaLook::filled,
                                    net});
                for (int s = 0; s < 2; ++s)
                    keep_off(s, at(a[1]), at(a[2]), wish.via_hole + 0.35, wish.via_hole + 0.35, net);
                ++i;
                continue;
            }
            std::size_t j = i + 1;
            while (j + 1 < way.size()) {
                const auto c = place(way[j + 1]);
                if (c[0] != a[0] || c[1] - b[1] != b[1] - place(way[j - 1])[1] ||
                    c[2] - b[2] != b[2] - place(way[j - 1])[2])
                    break;
                b = c;
                ++j;
            }
            out.tracks.push_back({a[0], at(a[1]), at(a[2]), at(b[1]), at(b[2]), width, net, thin});
            i = j;
        }
    }
};

void place_pads(BoardLayout& out, const LayoutWish& wish, std::mt19937_64& dice, const Router& grid) {
    std::uniform_real_distribution<double> any(0, 1);
    const int every = std::max(1, static_cast<int>(std::lround(2.54 / wish.pitch)));
    const double step = every * wish.pitch;
    std::vector<std::array<double, 4>> taken;
    const auto free_box = [&](double x1, double y1, double x2, double y2) {
        if (x1 < 2.2 || y1 < 2.2 || x2 > wish.width - 2.2 || y2 > wish.height - 2.2) return false;
        for (const auto& t : taken)
            if (x1 < t[2] && t[0] < x2 && y1 < t[3] && t[1] < y2) return false;
        taken.push_back({x1, y1, x2, y2});
        return true;
    };
    const auto name = [&] { return "P" + std::to_string(out.pads.size() + 1); };
    for (int attempt = 0; attempt < 60; ++attempt) {
        const int c = static_cast<int>(any(dice) * grid.cols), r = static_cast<int>(any(dice) * grid.rows);
        const double x = grid.at(c), y = grid.at(r);
        const double what = any(dice);
        if (what < 0.45) {
            // Two rows of holes, as a part with legs has them.
            const int legs = 2 + static_cast<int>(any(dice) * 6);
            const int apart = 3;
            if (!free_box(x - 1.6, y - 1.6, x + (legs - 1) * step + 1.6, y + apart * step + 1.6)) continue;
            const double pad = 1.35 + 0.35 * any(dice), hole = 0.7 + 0.3 * any(dice);
            for (int row = 0; row < 2; ++row)
                for (int k = 0; k < legs; ++k)
                    out.pads.push_back({name(), x + k * step, y + row * apart * step, pad, pad, hole,
                                        row == 0 && k == 0, -1, -1});
            if (wish.ink) {
                const double in = 1.05 + 0.6 * any(dice), side = 0.4 + 0.5 * any(dice);
                const double x1 = x - side, x2 = x + (legs - 1) * step + side, y1 = y + in,
                             y2 = y + apart * step - in;
                for (const auto& l :
                     {std::array{x1, y1, x2, y1}, {x2, y1, x2, y2}, {x2, y2, x1, y2}, {x1, y2, x1, y1}})
                    out.ink.push_back({0, l[0], l[1], l[2], l[3], 0.13 + 0.1 * any(dice)});
            }
        } else if (what < 0.75 && wish.surface) {
            // A small part on two pads, on either side.
            const bool down = any(dice) < 0.5;
            const double dx = down ? 0 : step, dy = down ? step : 0;
            if (!free_box(x - 1.3, y - 1.3, x + dx + 1.3, y + dy + 1.3)) continue;
            const int side = any(dice) < 0.7 ? 0 : 1;
            const double w = 0.9 + 0.5 * any(dice), h = 0.9 + 0.5 * any(dice);
            out.pads.push_back({name(), x, y, w, h, 0, true, side, -1});
            out.pads.push_back({name(), x + dx, y + dy, w, h, 0, true, side, -1});
            if (wish.ink && side == 0)
                for (const double o : {-1.05, 1.05})
                    out.ink.push_back({0, x + (down ? o : 0), y + (down ? 0 : o), x + dx + (down ? o : 0),
                                       y + dy + (down ? 0 : o), 0.15});
        } else {
            if (!free_box(x - 1.3, y - 1.3, x + 1.3, y + 1.3)) continue;
            out.pads.push_back({name(), x, y, 1.4, 1.4, 0.8, false, -1, -1});
        }
    }
    // Letters: short strokes anywhere, also over tracks.
    if (wish.ink)
        for (int k = 0; k < 14; ++k) {
            const double x = 2 + any(dice) * (wish.width - 8), y = 2 + any(dice) * (wish.height - 5),
                         w = 0.12 + 0.1 * any(dice);
            for (int l = 0; l < 3; ++l) {
                const double u = x + 1.2 * l;
                const auto off_pads = [&](const BoardInk& i) {
                    return std::none_of(out.pads.begin(), out.pads.end(), [&](const BoardPad& p) {
                        return std::abs((i.x1 + i.x2) / 2 - p.x) < p.w / 2 + 1.0 &&
                               std::abs((i.y1 + i.y2) / 2 - p.y) < p.h / 2 + 1.1;
                    });
                };
                for (const auto& s : {BoardInk{k % 3 == 2, u, y, u, y + 1.3, w},
                                      BoardInk{k % 3 == 2, u, y, u + 0.8, y + 0.65, w},
                                      BoardInk{k % 3 == 2, u, y + 1.3, u + 0.8, y + 0.65, w}})
                    if (any(dice) < 0.75 && off_pads(s)) out.ink.push_back(s);
            }
        }
}

}  // namespace

BoardLayout lay_out(std::uint64_t seed, const LayoutWish& wish) {
    std::mt19937_64 dice(seed * 7919 + 17);
    std::uniform_real_distribution<double> any(0, 1);
    BoardLayout out;
    out.width = wish.width;
    out.height = wish.height;
    Router grid(wish, out, dice);
    place_pads(out, wish, dice, grid);
    // Nets: neighbours in a random order, two to five pads each, a fifth of the pads alone.
    std::vector<int> order(out.pads.size());
    std::iota(order.begin(), order.end(), 0);
    std::shuffle(order.begin(), order.end(), dice);
    int nets = 0;
    std::vector<std::vector<int>> wanted;
    for (const int p : order) {
        if (out.pads[static_cast<std::size_t>(p)].net >= 0) continue;
        std::vector<int> near = order;
        const auto far = [&](int q) {
            const auto &a = out.pads[static_cast<std::size_t>(p)], &c = out.pads[static_cast<std::size_t>(q)];
            return std::hypot(a.x - c.x, a.y - c.y) + (c.net >= 0 ? 1e6 : 0.0) + (q == p ? -1e9 : 0.0);
        };
        std::sort(near.begin(), near.end(), [&](int a, int c) { return far(a) < far(c); });
        const std::size_t many = any(dice) < 0.2 ? 1 : 2 + static_cast<std::size_t>(any(dice) * 3.5);
        std::vector<int> list;
        for (std::size_t k = 0; k < near.size() && list.size() < many; ++k)
            if (out.pads[static_cast<std::size_t>(near[k])].net < 0 && (list.empty() || any(dice) < 0.45))
                list.push_back(near[k]);
        for (const int q : list) out.pads[static_cast<std::size_t>(q)].net = nets;
        wanted.push_back(list);
        ++nets;
    }
    for (const auto& p : out.pads) grid.keep_off(p.side, p.x, p.y, p.w, p.h, p.net);
    // The net of a pour is joined by it; its pads need no track.
    std::size_t largest = 0;
    for (std::size_t k = 0; k < wanted.size(); ++k)
        if (wanted[k].size() > wanted[largest].size()) largest = k;
    if (wish.pours && !wanted.empty()) {
        // Pads with holes only, or the pour would have to be on their side.
        auto& list = wanted[largest];
        std::vector<int> in, off;
        for (const int p : list) (out.pads[static_cast<std::size_t>(p)].hole > 0 ? in : off).push_back(p);
        for (const int p : off) out.pads[static_cast<std::size_t>(p)].net = nets++;
        list.clear();
        const int side = any(dice) < 0.5 ? 0 : 1;
        out.pours.push_back({side, 0.6, 0.6, wish.width - 0.6, wish.height - 0.6,
                             std::max(0.25, wish.pitch - wish.track), static_cast<int>(largest),
                             any(dice) < 0.6});
    }
    for (std::size_t n = 0; n < wanted.size(); ++n)
        for (std::size_t k = 1; k < wanted[n].size(); ++k) {
            const bool thin = wish.thin_track > 0 && any(dice) < 0.2;
            const int a = wanted[n][k - 1], b = wanted[n][k];
            (void)grid.join(out.pads[static_cast<std::size_t>(a)], out.pads[static_cast<std::size_t>(b)],
                            thin ? wish.thin_track : wish.track, thin);
        }
    return out;
}

}  // namespace grayrelic::unseen
