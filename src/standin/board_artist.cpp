// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/board_artist.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numbers>
#include <numeric>
#include <optional>
#include <queue>

#include "core/base/random.hpp"
#include "core/trace/board_model.hpp"
#include "core/trace/points.hpp"

namespace grayrelic::standin {
namespace {

constexpr double cell_mm = 0.635;
constexpr double corner_mm = 3.175;  ///< of the corner holes from the rim
constexpr int turn_cost = 1, step_cost = 2, via_cost = 16;

/// Wires found one after the other by the cheapest way on two layers (Lee 1961, with costs).
class Router {
  public:
    Router(double width, double height)
        : w_(static_cast<int>(width / cell_mm) + 1),
          h_(static_cast<int>(height / cell_mm) + 1),
          owner_(static_cast<std::size_t>(2 * w_ * h_), free_) {
        for (int layer = 0; layer < 2; ++layer)
            for (int y = 0; y < h_; ++y)
                for (int x = 0; x < w_; ++x)
                    if (x < 2 || y < 2 || x >= w_ - 2 || y >= h_ - 2) own(layer, x, y, wall_);
    }
    static int cell(double mm) { return static_cast<int>(std::lround(mm / cell_mm)); }

    void block(double x, double y, double radius, int layer_from, int layer_to, int net) {
        const double reach = radius + 0.2 + 0.18;
        for (int j = cell(y - reach) - 1; j <= cell(y + reach) + 1; ++j)
            for (int i = cell(x - reach) - 1; i <= cell(x + reach) + 1; ++i) {
                if (i < 0 || j < 0 || i >= w_ || j >= h_) continue;
                if (std::hypot(i * cell_mm - x, j * cell_mm - y) > reach) continue;
                for (int l = layer_from; l <= layer_to; ++l)
                    if (const int o = owner(l, i, j); o == free_ || o == net)
                        own(l, i, j, net);
                    else
                        own(l, i, j, wall_);
            }
    }
    struct End {
        int x, y;
        int layer;  ///< 0, 1, or -1 for both
        double x_mm, y_mm;
    };

    /// Joins all ends; gives the group of each: ends of one group are joined.
    std::vector<int> join(const std::vector<End>& ends, int net, BoardArt& art) {
        std::vector<int> group(ends.size(), -1);
        std::vector<char> done(ends.size(), 0);
        int groups = 0;
        for (std::size_t first = 0; first < ends.size(); ++first) {
            if (done[first] != 0) continue;
            tree_.clear();
            add_end(ends[first]);
            done[first] = 1;
            group[first] = groups;
            for (;;) {
                const int met = extend(ends, done, net, art);
                if (met < 0) break;
                done[static_cast<std::size_t>(met)] = 1;
                group[static_cast<std::size_t>(met)] = groups;
                add_end(ends[static_cast<std::size_t>(met)]);
            }
            ++groups;
        }
        return group;
    }

  private:
    static constexpr int free_ = -1, wall_ = -2;
    [[nodiscard]] std::size_t at(int l, int x, int y) const {
        return static_cast<std::size_t>((l * h_ + y) * w_ + x);
    }
    [[nodiscard]] int owner(int l, int x, int y) const { return owner_[at(l, x, y)]; }
    void own(int l, int x, int y, int net) { owner_[at(l, x, y)] = net; }
    void add_end(const End& e) {
        for (int l = 0; l < 2; ++l)
            if (e.layer < 0 || e.layer == l) tree_.push_back(at(l, e.x, e.y));
    }
    [[nodiscard]] bool via_fits(int x, int y, int net) const {
        for (int l = 0; l < 2; ++l)
            for (int dy = -1; dy <= 1; ++dy)
                for (int dx = -1; dx <= 1; ++dx) {
                    const int i = x + dx, j = y + dy;
                    if (i < 2 || j < 2 || i >= w_ - 2 || j >= h_ - 2) return false;
                    if (const int o = owner(l, i, j); o != free_ && o != net) return false;
                }
        return true;
    }

    int extend(const std::vector<End>& ends, const std::vector<char>& done, int net, BoardArt& art) {
        struct Open {
            int cost;
            std::size_t at;
            bool operator>(const Open& o) const { return cost != o.cost ? cost > o.cost : at > o.at; }
        };
        std::vector<int> cost(owner_.size(), 1 << 30), came(owner_.size(), -1);
        std::map<std::size_t, int> targets;
        for (std::size_t e = 0; e < ends.size(); ++e)
            if (done[e] == 0)
                for (int l = 0; l < 2; ++l)
                    if (ends[e].layer < 0 || ends[e].layer == l)
                        targets[at(l, ends[e].x, ends[e].y)] = static_cast<int>(e);
        if (targets.empty()) return -1;
        std::priority_queue<Open, std::vector<Open>, std::greater<>> open;
        for (const auto s : tree_) {
            cost[s] = 0;
            open.push({0, s});
        }
        while (!open.empty()) {
            const auto [c, s] = open.top();
            open.pop();
            if (c > cost[s]) continue;
            if (const auto t = targets.find(s); t != targets.end()) {
                lay(s, came, net, art);
                return t->second;
            }
            const int l = static_cast<int>(s) / (w_ * h_), y = static_cast<int>(s) / w_ % h_,
                      x = static_cast<int>(s) % w_;
            const auto go = [&](std::size_t to, int price) {
                if (cost[s] + price >= cost[to]) return;
                cost[to] = cost[s] + price;
                came[to] = static_cast<int>(s);
                open.push({cost[to], to});
            };
            constexpr std::array<std::pair<int, int>, 4> ways{{{1, 0}, {-1, 0}, {0, 1}, {0, -1}}};
            for (const auto& [dx, dy] : ways) {
                const int i = x + dx, j = y + dy;
                if (i < 0 || j < 0 || i >= w_ || j >= h_) continue;
                if (const int o = owner(l, i, j); o != free_ && o != net) continue;
                // The front prefers one direction, the back the other.
                go(at(l, i, j), step_cost + ((dx != 0) == (l == 0) ? 0 : turn_cost));
            }
            if (via_fits(x, y, net)) go(at(1 - l, x, y), via_cost);
        }
        return -1;
    }

    void lay(std::size_t end, const std::vector<int>& came, int net, BoardArt& art) {
        std::vector<std::size_t> way{end};
        while (came[way.back()] >= 0) way.push_back(static_cast<std::size_t>(came[way.back()]));
        const auto x = [&](std::size_t s) { return static_cast<double>(static_cast<int>(s) % w_) * cell_mm; };
        const auto y = [&](std::size_t s) {
            return static_cast<double>(static_cast<int>(s) / w_ % h_) * cell_mm;
        };
        const auto l = [&](std::size_t s) { return static_cast<int>(s) / (w_ * h_); };
        for (std::size_t i = 0; i < way.size(); ++i) {
            own(l(way[i]), static_cast<int>(way[i]) % w_, static_cast<int>(way[i]) / w_ % h_, net);
            tree_.push_back(way[i]);
            if (i == 0) continue;
            const auto a = way[i - 1], b = way[i];
            if (l(a) != l(b)) {
                art.pads.push_back({x(a), y(a), 1.1, 0.5});
                block(x(a), y(a), 0.55, 0, 1, net);
                continue;
            }
            const auto side = l(a) == 0 ? BoardSide::front : BoardSide::back;
            if (!art.tracks.empty() && art.tracks.back().side == side && art.tracks.back().x2 == x(a) &&
                art.tracks.back().y2 == y(a) &&
                ((art.tracks.back().x1 == x(b) && x(a) == x(b)) ||
                 (art.tracks.back().y1 == y(b) && y(a) == y(b)))) {
                art.tracks.back().x2 = x(b);
                art.tracks.back().y2 = y(b);
            } else {
                art.tracks.push_back({side, x(a), y(a), x(b), y(b)});
            }
        }
    }

    int w_, h_;
    std::vector<int> owner_;
    std::vector<std::size_t> tree_;
};

}  // namespace

namespace {

/// One attempt; nets with a lower rank are laid first. `failed` takes those that stayed in pieces.
BoardArt attempt(double width, double height, const std::vector<BoardPart>& parts, const PartLibrary& library,
                 const std::vector<Net>& nets, const std::vector<int>& rank,
                 std::vector<std::size_t>& failed) {
    BoardArt art;
    art.width = width;
    art.height = height;
    Router router(width, height);
    std::map<std::string, Router::End> ends;
    std::map<std::string, int> net_of;
    for (std::size_t n = 0; n < nets.size(); ++n)
        for (const auto& p : nets[n].points) net_of[p] = static_cast<int>(n);
    for (const double x : {corner_mm, width - corner_mm})
        for (const double y : {corner_mm, height - corner_mm}) {
            art.pads.push_back({x, y, 4.0, 2.5});
            router.block(x, y, 2.0, 0, 1, static_cast<int>(nets.size()) + 1);
        }
    int loose = static_cast<int>(nets.size()) + 10;
    for (const auto& part : parts) {
        const auto* type = library.find(part.type);
        const auto package = !part.package.empty() ? part.package : type == nullptr ? "" : type->package;
        for (const auto& pin : placed_pins(part, package)) {
            const auto point = part.ref + "." + pin.number;
            const auto it = net_of.find(point);
            const int net = it == net_of.end() ? ++loose : it->second;
            const int layer = !pin.side ? -1 : *pin.side == BoardSide::front ? 0 : 1;
            double y = pin.y_mm;
            if (layer < 0) {
                art.pads.push_back({pin.x_mm, pin.y_mm, 1.5, 0.8});
                router.block(pin.x_mm, pin.y_mm, 0.75, 0, 1, net);
            } else {
                art.fingers.push_back({*pin.side, pin.x_mm, pin.y_mm, 1.6, 7.0});
                for (double dy = -2.8; dy <= 2.9; dy += cell_mm)
                    router.block(pin.x_mm, pin.y_mm + dy, 0.7, layer, layer, net);
                y -= 2.5;
            }
            ends[point] = {Router::cell(pin.x_mm), Router::cell(y), layer, pin.x_mm, y};
        }
    }
    // Short nets first: they have the fewest ways.
    std::vector<std::size_t> order(nets.size());
    std::iota(order.begin(), order.end(), 0U);
    const auto span = [&](std::size_t n) {
        double x0 = 1e9, x1 = -1e9, y0 = 1e9, y1 = -1e9;
        for (const auto& p : nets[n].points)
            if (const auto e = ends.find(p); e != ends.end()) {
                x0 = std::min(x0, e->second.x_mm), x1 = std::max(x1, e->second.x_mm);
                y0 = std::min(y0, e->second.y_mm), y1 = std::max(y1, e->second.y_mm);
            }
        return x1 - x0 + y1 - y0;
    };
    std::stable_sort(order.begin(), order.end(), [&](auto a, auto b) {
        return rank[a] != rank[b] ? rank[a] < rank[b] : span(a) < span(b);
    });
    art.nets.resize(0);
    for (const auto n : order) {
        std::vector<Router::End> list;
        std::vector<std::string> names;
        for (const auto& p : nets[n].points)
            if (const auto e = ends.find(p); e != ends.end()) {
                list.push_back(e->second);
                names.push_back(p);
                if (e->second.layer >= 0 || std::hypot(e->second.x * cell_mm - e->second.x_mm,
                                                       e->second.y * cell_mm - e->second.y_mm) > 0.02) {
                    // A stub from the pad's middle to the grid.
                    const auto side = e->second.layer == 1 ? BoardSide::back : BoardSide::front;
                    art.tracks.push_back(
                        {side, e->second.x_mm, e->second.y_mm, e->second.x * cell_mm, e->second.y * cell_mm});
                }
            }
        const auto group = router.join(list, static_cast<int>(n), art);
        const int groups = group.empty() ? 0 : 1 + *std::max_element(group.begin(), group.end());
        art.unrouted += std::max(0, groups - 1);
        if (groups > 1) failed.push_back(n);
        for (int g = 0; g < groups; ++g) {
            Net net{nets[n].name, {}};
            if (g > 0) net.name += fmt::format(" (piece {})", g + 1);
            for (std::size_t i = 0; i < names.size(); ++i)
                if (group[i] == g) net.points.push_back(names[i]);
            art.nets.push_back(std::move(net));
        }
    }
    return art;
}

}  // namespace

BoardArt draw_board(double width, double height, const std::vector<BoardPart>& parts,
                    const PartLibrary& library, const std::vector<Net>& nets, int attempts) {
    std::vector<int> rank(nets.size(), 0);
    std::optional<BoardArt> best;
    for (int k = 0; k < std::max(1, attempts); ++k) {
        std::vector<std::size_t> failed;
        auto art = attempt(width, height, parts, library, nets, rank, failed);
        if (!best || art.unrouted < best->unrouted) best = std::move(art);
        if (failed.empty()) break;
        for (const auto n : failed)  // whoever found no way goes before the others next time
            rank[n] = -1 - k;
    }
    return std::move(*best);
}

PaintedScan paint_scan(const BoardArt& art, BoardSide side, const ScanStyle& style) {
    PaintedScan out;
    const double s = style.dpi / 25.4;
    auto& r = out.pixels;
    r.width = static_cast<int>((art.width + 2 * style.margin_mm) * s);
    r.height = static_cast<int>((art.height + 2 * style.margin_mm) * s);
    const double turn = style.turn_deg * std::numbers::pi / 180.0, c = std::cos(turn), q = std::sin(turn);
    const double mx = r.width / 2.0, my = r.height / 2.0;
    const double flip = side == BoardSide::back ? -1.0 : 1.0;
    const auto to_px = [&](double x, double y) {
        const double u = flip * (x - art.width / 2) * s, v = (y - art.height / 2) * s;
        return std::pair(mx + c * u - q * v, my + q * u + c * v);
    };
    // How much of each pixel is copper and how much hole, by distance to the shapes' rims.
    const auto area = static_cast<std::size_t>(r.width) * static_cast<std::size_t>(r.height);
    std::vector<float> copper(area, 0.0F), hole(area, 0.0F), board(area, 0.0F), charred(area, 0.0F);
    const double soft = std::max(0.5, style.blur_px);
    const auto paint = [&](std::vector<float>& into, double x0, double y0, double x1, double y1,
                           auto distance) {
        double i0 = 1e9, i1 = -1e9, j0 = 1e9, j1 = -1e9;
        for (const double x : {x0, x1})
            for (const double y : {y0, y1}) {
                const auto [i, j] = to_px(x, y);
                i0 = std::min(i0, i), i1 = std::max(i1, i), j0 = std::min(j0, j), j1 = std::max(j1, j);
            }
        for (int j = std::max(0, static_cast<int>(j0 - 3));
             j <= std::min(r.height - 1, static_cast<int>(j1 + 3)); ++j)
            for (int i = std::max(0, static_cast<int>(i0 - 3));
                 i <= std::min(r.width - 1, static_cast<int>(i1 + 3)); ++i) {
                const double u = i - mx, v = j - my;
                const double x = flip * (c * u + q * v) / s + art.width / 2,
                             y = (-q * u + c * v) / s + art.height / 2;
                const double d = distance(x, y) * s;  // below 0 inside, in pixels
                const auto cover = static_cast<float>(std::clamp(0.5 - d / (2.0 * soft), 0.0, 1.0));
                auto& p = into[static_cast<std::size_t>(j) * static_cast<std::size_t>(r.width) +
                               static_cast<std::size_t>(i)];
                p = std::max(p, cover);
            }
    };
    const auto box = [](double x, double y, double cx, double cy, double w, double h) {
        return std::max(std::abs(x - cx) - w / 2, std::abs(y - cy) - h / 2);
    };
    paint(board, 0, 0, art.width, art.height, [&](double x, double y) {
        return box(x, y, art.width / 2, art.height / 2, art.width, art.height);
    });
    for (const auto& t : art.tracks) {
        if (t.side != side) continue;
        const double h = t.width / 2;
        paint(copper, std::min(t.x1, t.x2) - h, std::min(t.y1, t.y2) - h, std::max(t.x1, t.x2) + h,
              std::max(t.y1, t.y2) + h, [&](double x, double y) {
                  const double dx = t.x2 - t.x1, dy = t.y2 - t.y1, l2 = dx * dx + dy * dy;
                  const double k =
                      l2 > 0 ? std::clamp(((x - t.x1) * dx + (y - t.y1) * dy) / l2, 0.0, 1.0) : 0.0;
                  return std::hypot(x - t.x1 - k * dx, y - t.y1 - k * dy) - h;
              });
    }
    for (const auto& f : art.fingers)
        if (f.side == side)
            paint(copper, f.x - f.width / 2, f.y - f.height / 2, f.x + f.width / 2, f.y + f.height / 2,
                  [&](double x, double y) { return box(x, y, f.x, f.y, f.width, f.height); });
    for (const auto& p : art.pads) {
        paint(copper, p.x - p.across / 2, p.y - p.across / 2, p.x + p.across / 2, p.y + p.across / 2,
              [&](double x, double y) { return std::hypot(x - p.x, y - p.y) - p.across / 2; });
        paint(hole, p.x - p.hole / 2, p.y - p.hole / 2, p.x + p.hole / 2, p.y + p.hole / 2,
              [&](double x, double y) { return std::hypot(x - p.x, y - p.y) - p.hole / 2; });
    }
    if (const auto& k = style.charred; k.radius > 0)
        paint(charred, k.x - k.radius, k.y - k.radius, k.x + k.radius, k.y + k.radius,
              [&](double x, double y) {
                  const double angle = std::atan2(y - k.y, x - k.x);
                  return std::hypot(x - k.x, y - k.y) -
                         k.radius * (0.85 + 0.1 * std::sin(3 * angle) + 0.05 * std::sin(7 * angle + 1));
              });
    constexpr std::array<double, 3> lid{226, 226, 222}, bare{36, 84, 58}, metal{186, 138, 84},
        dark{14, 14, 16}, soot{28, 20, 16};
    r.rgb.resize(area * 3);
    Random random(style.seed);
    for (std::size_t i = 0; i < area; ++i) {
        const double light =
            style.uneven * (static_cast<double>(i % static_cast<std::size_t>(r.width)) / r.width - 0.5);
        for (std::size_t k = 0; k < 3; ++k) {
            double v = lid[k] + (bare[k] - lid[k]) * board[i];
            v += (metal[k] - v) * copper[i];
            v += (dark[k] - v) * hole[i];
            v += (soot[k] - v) * charred[i];
            if (style.noise > 0) v += style.noise * random.normal();
            r.rgb[3 * i + k] = static_cast<std::uint8_t>(std::clamp(std::lround(v + light), 0L, 255L));
        }
    }
    for (const double x : {corner_mm, art.width - corner_mm})
        for (const double y : {corner_mm, art.height - corner_mm}) {
            const auto [i, j] = to_px(x, y);
            out.references.push_back({i, j, x, y});
        }
    return out;
}

}  // namespace grayrelic::standin
