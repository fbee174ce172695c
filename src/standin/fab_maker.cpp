// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/fab_maker.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <deque>
#include <numeric>
#include <optional>
#include <random>

namespace grayrelic::standin {
namespace {

constexpr double pitch = 0.635, clearance = 0.2, via_pad = 0.8, via_hole = 0.4, edge_room = 1.0;
constexpr int free_cell = -1, closed_cell = -2, tries = 200;

struct Placed {
    MadePad pad;
    std::string point;
    int net = -1;
};

struct Leg {
    double x1, y1, x2, y2;
    int layer, net;
};

/// Cells of two layers, each free, closed, or some net's.
class Grid {
  public:
    Grid(const FabPlan& plan, const std::vector<Placed>& pads) {
        // Cells lie on the pads, so that one lies half way between two pins.
        left_ = std::fmod(pads.front().pad.x, pitch);
        low_ = std::fmod(pads.front().pad.y, pitch);
        columns_ = static_cast<int>(plan.width / pitch);
        rows_ = static_cast<int>(plan.height / pitch);
        own_.assign(2 * static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_), free_cell);
        const double room = clearance + plan.track / 2;
        for (int layer = 0; layer < 2; ++layer)
            for (int y = 0; y < rows_; ++y)
                for (int x = 0; x < columns_; ++x) {
                    const bool at_edge = x_of(x) < edge_room || y_of(y) < edge_room ||
                                         x_of(x) > plan.width - edge_room ||
                                         y_of(y) > plan.height - edge_room;
                    if (at_edge) own(layer, x, y) = closed_cell;
                    for (const auto& p : pads) keep_off(p, layer, x, y, room);
                }
    }
    [[nodiscard]] double x_of(int x) const { return left_ + x * pitch; }
    [[nodiscard]] double y_of(int y) const { return low_ + y * pitch; }
    int& own(int layer, int x, int y) { return own_[index(cell(layer, x, y))]; }

    /// Cells whose middle lies well within the pad.
    std::vector<int> cells_of(const MadePad& pad) {
        std::vector<int> out;
        for (int layer = 0; layer < 2; ++layer) {
            if (!(layer == 0 ? pad.top : pad.bottom)) continue;
            for (int y = 0; y < rows_; ++y)
                for (int x = 0; x < columns_; ++x) {
                    const double dx = std::abs(x_of(x) - pad.x), dy = std::abs(y_of(y) - pad.y);
                    const bool inside = pad.hole > 0 ? std::hypot(dx, dy) < pad.width / 2 - 0.1
                                                     : dx < pad.width / 2 - 0.1 && dy < pad.height / 2 - 0.1;
                    if (inside) out.push_back(cell(layer, x, y));
                }
        }
        return out;
    }

    /// The shortest way from one of these cells to one of those; empty for none. Vias count as eight steps.
    std::vector<int> way(const std::vector<int>& from, const std::vector<int>& to, int net) {
        Search search{std::vector<int>(own_.size(), -1), std::vector<int>(own_.size(), -1), {}};
        std::vector<char> goal(own_.size(), 0);
        for (const int t : to) goal[index(t)] = 1;
        search.wave.resize(1);
        for (const int f : from) {
            search.cost[index(f)] = 0;
            search.wave[0].push_back(f);
        }
        for (std::size_t step = 0; step < search.wave.size(); ++step)
            while (!search.wave[step].empty()) {
                const int at = search.wave[step].front();
                search.wave[step].pop_front();
                if (search.cost[index(at)] != static_cast<int>(step)) continue;
                if (goal[index(at)] != 0) return search.back_from(at);
                spread(search, at, static_cast<int>(step), net);
            }
        return {};
    }

    bool via_fits(int x, int y, int net) {
        if (x < 1 || y < 1 || x >= columns_ - 1 || y >= rows_ - 1) return false;
        for (int layer = 0; layer < 2; ++layer)
            for (const auto& [dx, dy] :
                 {std::pair(0, 0), std::pair(1, 0), std::pair(-1, 0), std::pair(0, 1), std::pair(0, -1)}) {
                const int owner = own(layer, x + dx, y + dy);
                if (owner != free_cell && owner != net) return false;
            }
        return true;
    }
    void take(const std::vector<int>& cells, int net, std::vector<std::pair<double, double>>& vias,
              std::vector<Leg>& legs) {
        for (const int c : cells) own_[static_cast<std::size_t>(c)] = net;
        for (std::size_t i = 0; i + 1 < cells.size();) {
            const auto place = [&](int c) {
                return std::tuple(c / (rows_ * columns_), c % columns_, c / columns_ % rows_);
            };
            const auto [l0, x0, y0] = place(cells[i]);
            const auto [l1, x1, y1] = place(cells[i + 1]);
            if (l0 != l1) {
                vias.emplace_back(x_of(x0), y_of(y0));
                for (int layer = 0; layer < 2; ++layer)
                    for (const auto& [dx, dy] :
                         {std::pair(1, 0), std::pair(-1, 0), std::pair(0, 1), std::pair(0, -1)})
                        if (auto& cell = own(layer, x0 + dx, y0 + dy); cell == free_cell) cell = net;
                ++i;
                continue;
            }
            std::size_t end = i + 1;
            while (end + 1 < cells.size()) {
                const auto [l2, x2, y2] = place(cells[end + 1]);
                const auto [lp, xp, yp] = place(cells[end]);
                if (l2 != l0 || x2 - xp != x1 - x0 || y2 - yp != y1 - y0) break;
                ++end;
            }
            const auto [le, xe, ye] = place(cells[end]);
            legs.push_back({x_of(x0), y_of(y0), x_of(xe), y_of(ye), l0, net});
            i = end;
        }
    }

  private:
    struct Search {
        std::vector<int> cost, came;
        std::vector<std::deque<int>> wave;
        [[nodiscard]] std::vector<int> back_from(int at) const {
            std::vector<int> out;
            for (int c = at; c >= 0; c = came[index(c)]) out.push_back(c);
            return out;
        }
    };
    static std::size_t index(int cell) { return static_cast<std::size_t>(cell); }
    [[nodiscard]] int cell(int layer, int x, int y) const { return (layer * rows_ + y) * columns_ + x; }
    /// A cell too near a pad is its net's, and nobody's where two are too near.
    void keep_off(const Placed& p, int layer, int x, int y, double room) {
        if (!(layer == 0 ? p.pad.top : p.pad.bottom)) return;
        const double dx = std::max(0.0, std::abs(x_of(x) - p.pad.x) - p.pad.width / 2),
                     dy = std::max(0.0, std::abs(y_of(y) - p.pad.y) - p.pad.height / 2);
        if (std::hypot(dx, dy) >= room) return;
        auto& owner = own(layer, x, y);
        const int net = p.net >= 0 ? p.net : closed_cell;
        if (owner == free_cell)
            owner = net;
        else if (owner != net)
            owner = closed_cell;
    }
    void spread(Search& search, int at, int step, int net) {
        const int layer = at / (rows_ * columns_), y = at / columns_ % rows_, x = at % columns_;
        const auto go = [&](int l, int nx, int ny, int price) {
            if (nx < 0 || ny < 0 || nx >= columns_ || ny >= rows_) return;
            const int next = cell(l, nx, ny), owner = own(l, nx, ny);
            if (owner != free_cell && owner != net) return;
            const int sum = step + price;
            auto& known = search.cost[index(next)];
            if (known >= 0 && known <= sum) return;
            known = sum;
            search.came[index(next)] = at;
            if (search.wave.size() <= index(sum)) search.wave.resize(index(sum) + 1);
            search.wave[index(sum)].push_back(next);
        };
        // The front likes to go across, the back up and down.
        go(layer, x + 1, y, layer == 0 ? 2 : 3);
        go(layer, x - 1, y, layer == 0 ? 2 : 3);
        go(layer, x, y + 1, layer == 0 ? 3 : 2);
        go(layer, x, y - 1, layer == 0 ? 3 : 2);
        if (via_fits(x, y, net)) go(1 - layer, x, y, 16);
    }
    int columns_ = 0, rows_ = 0;
    double left_ = 0, low_ = 0;
    std::vector<int> own_;
};

struct Routed {
    std::vector<Leg> legs;
    std::vector<std::tuple<double, double, int>> vias;
};

/// The net that found no way; −1 when all did.
int route(const FabPlan& plan, const std::vector<Placed>& pads, const std::vector<int>& order, Routed& out) {
    Grid grid(plan, pads);
    for (const int net : order) {
        std::vector<std::vector<int>> ends;
        for (const auto& p : pads)
            if (p.net == net) ends.push_back(grid.cells_of(p.pad));
        if (ends.size() < 2) continue;
        auto joined = ends.front();
        std::vector<bool> done(ends.size(), false);
        done[0] = true;
        for (std::size_t k = 1; k < ends.size(); ++k) {
            std::vector<int> open;
            for (std::size_t i = 0; i < ends.size(); ++i)
                if (!done[i]) open.insert(open.end(), ends[i].begin(), ends[i].end());
            const auto cells = grid.way(joined, open, net);
            if (cells.empty()) return net;
            std::vector<std::pair<double, double>> vias;
            // The last connection of the net that is to be open is found, and not drawn.
            std::vector<Leg> legs;
            grid.take(cells, net, vias, legs);
            const bool left_out =
                plan.nets[static_cast<std::size_t>(net)].name == plan.open_net && k + 1 == ends.size();
            if (!left_out) {
                out.legs.insert(out.legs.end(), legs.begin(), legs.end());
                for (const auto& [x, y] : vias) out.vias.emplace_back(x, y, net);
            }
            joined.insert(joined.end(), cells.begin(), cells.end());
            for (std::size_t i = 0; i < ends.size(); ++i)
                if (!done[i] && std::find(ends[i].begin(), ends[i].end(), cells.front()) != ends[i].end()) {
                    done[i] = true;
                    joined.insert(joined.end(), ends[i].begin(), ends[i].end());
                }
        }
    }
    return -1;
}

/// One layer as the plotter writes it: X2, millimetres, 4.6.
class Sheet {
  public:
    Sheet(const std::string& function, const std::string& polarity) {
        out_ = "%TF.GenerationSoftware,Gray Relic,stand-in*%\n%TF.FileFunction," + function +
               "*%\n%TF.FilePolarity," + polarity + "*%\n%FSLAX46Y46*%\n%MOMM*%\n%LPD*%\nG75*\nG01*\n";
    }
    void flash(double x, double y, double w, double h, bool round, const std::string& function) {
        choose(round ? fmt::format("C,{:.4f}", w) : fmt::format("R,{:.4f}X{:.4f}", w, h), function);
        out_ += xy(x, y) + "D03*\n";
    }
    void line(double x1, double y1, double x2, double y2, double width, const std::string& function) {
        choose(fmt::format("C,{:.4f}", width), function);
        out_ += xy(x1, y1) + "D02*\n" + xy(x2, y2) + "D01*\n";
    }
    void say(const std::string& attribute) { out_ += "%" + attribute + "*%\n"; }
    std::string done() { return out_ + "M02*\n"; }

  private:
    void choose(const std::string& aperture, const std::string& function) {
        const auto [it, fresh] = codes_.emplace(aperture + function, static_cast<int>(codes_.size()) + 10);
        if (fresh && !function.empty()) out_ += "%TA.AperFunction," + function + "*%\n";
        if (fresh) out_ += fmt::format("%ADD{}{}*%\n", it->second, aperture);
        if (fresh && !function.empty()) out_ += "%TD.AperFunction*%\n";
        if (now_ != it->second) out_ += fmt::format("D{}*\n", it->second);
        now_ = it->second;
    }
    static std::string xy(double x, double y) {
        return fmt::format("X{}Y{}", std::llround(x * 1e6), std::llround(y * 1e6));
    }
    std::string out_;
    std::map<std::string, int> codes_;
    int now_ = 0;
};

std::string drill_file(const char* function,
                       const std::map<long, std::vector<std::pair<double, double>>>& holes) {
    std::string out = fmt::format("M48\n; #@! TF.FileFunction,{}\nMETRIC\n", function);
    int n = 0;
    for (const auto& [size, places] : holes)
        out += fmt::format("T{}C{:.3f}\n", ++n, static_cast<double>(size) / 1000);
    out += "%\nG90\nG05\n";
    n = 0;
    for (const auto& [size, places] : holes) {
        out += fmt::format("T{}\n", ++n);
        for (const auto& [x, y] : places) out += fmt::format("X{:.4f}Y{:.4f}\n", x, y);
    }
    return out + "T0\nM30\n";
}

using Holes = std::map<long, std::vector<std::pair<double, double>>>;  ///< by diameter in micrometres

std::vector<Placed> placed_pads(const FabPlan& plan, const std::map<std::string, int>& net_of) {
    std::vector<Placed> pads;
    for (const auto& part : plan.parts)
        for (const auto& pad : part.pads) {
            Placed p{pad, part.ref + "." + pad.pin, -1};
            if (const auto it = net_of.find(p.point); it != net_of.end()) p.net = it->second;
            pads.push_back(std::move(p));
        }
    return pads;
}

/// Nets of few points first; what finds no way goes first the next time. Nothing when none of the tries was
/// whole.
std::optional<Routed> route_all(const FabPlan& plan, const std::vector<Placed>& pads) {
    std::vector<int> order(plan.nets.size());
    std::iota(order.begin(), order.end(), 0);
    std::stable_sort(order.begin(), order.end(), [&](int a, int b) {
        return plan.nets[static_cast<std::size_t>(a)].points.size() <
               plan.nets[static_cast<std::size_t>(b)].points.size();
    });
    std::mt19937 chance(1986);
    for (int i = 0; i < tries; ++i) {
        Routed routed;
        const int stuck = route(plan, pads, order, routed);
        if (stuck < 0) return routed;
        const auto at = std::find(order.begin(), order.end(), stuck);
        std::rotate(order.begin(), at, at + 1);
        if (i % 10 == 9) std::swap(order[chance() % order.size()], order[chance() % order.size()]);
    }
    return std::nullopt;
}

struct Sheets {
    Sheet top{"Copper,L1,Top", "Positive"}, bottom{"Copper,L2,Bot", "Positive"},
        mask_top{"Soldermask,Top", "Negative"}, mask_bottom{"Soldermask,Bot", "Negative"},
        print{"Legend,Top", "Positive"}, edge{"Profile,NP", "Positive"};
    Holes plated{};

    void put(const MadePart& part, const MadePad& pad, const std::string& net) {
        // Pin 1 is square.
        const bool round = pad.hole > 0 && pad.pin != "1";
        for (const bool front : {true, false}) {
            if (!(front ? pad.top : pad.bottom)) continue;
            auto& copper = front ? top : bottom;
            copper.say("TO.P," + part.ref + "," + pad.pin);
            if (!net.empty()) copper.say("TO.N," + net);
            copper.flash(pad.x, pad.y, pad.width, pad.height, round,
                         pad.hole > 0 ? "ComponentPad" : "ConnectorPad");
            copper.say("TD");
            (front ? mask_top : mask_bottom)
                .flash(pad.x, pad.y, pad.width + 0.1, pad.height + 0.1, round, "");
        }
        if (pad.hole > 0) plated[std::lround(pad.hole * 1000)].emplace_back(pad.x, pad.y);
    }
    static void frame(Sheet& on, double left, double low, double right, double high, double width,
                      const std::string& function) {
        on.line(left, low, right, low, width, function);
        on.line(right, low, right, high, width, function);
        on.line(right, high, left, high, width, function);
        on.line(left, high, left, low, width, function);
    }
    /// A box about the part's pads; none about fingers.
    void print_box(const MadePart& part) {
        if (part.pads.front().hole <= 0) return;
        double left = 1e9, right = -1e9, low = 1e9, high = -1e9;
        for (const auto& pad : part.pads) {
            left = std::min(left, pad.x - pad.width / 2 - 0.4);
            right = std::max(right, pad.x + pad.width / 2 + 0.4);
            low = std::min(low, pad.y - pad.height / 2 - 0.4);
            high = std::max(high, pad.y + pad.height / 2 + 0.4);
        }
        frame(print, left, low, right, high, 0.15, "");
    }
};

}  // namespace

std::map<std::string, std::string> make_fabrication(const FabPlan& plan) {
    std::map<std::string, int> net_of;
    for (std::size_t n = 0; n < plan.nets.size(); ++n)
        for (const auto& p : plan.nets[n].points) net_of[p] = static_cast<int>(n);
    const auto pads = placed_pads(plan, net_of);
    const auto routed = route_all(plan, pads);
    if (!routed) return {};
    const auto name_of = [&](int net) {
        return net < 0 ? std::string() : plan.nets[static_cast<std::size_t>(net)].name;
    };
    Sheets sheets;
    for (const auto& part : plan.parts) {
        for (const auto& pad : part.pads) {
            const auto it = net_of.find(part.ref + "." + pad.pin);
            sheets.put(part, pad, name_of(it == net_of.end() ? -1 : it->second));
        }
        sheets.print_box(part);
    }
    for (const auto& leg : routed->legs)
        (leg.layer == 0 ? sheets.top : sheets.bottom)
            .line(leg.x1, leg.y1, leg.x2, leg.y2, name_of(leg.net) == plan.thin_net ? 0.1 : plan.track,
                  "Conductor");
    for (const auto& [x, y, net] : routed->vias) {
        sheets.top.flash(x, y, via_pad, via_pad, true, "ViaPad");
        sheets.bottom.flash(x, y, via_pad, via_pad, true, "ViaPad");
        sheets.plated[std::lround(via_hole * 1000)].emplace_back(x, y);
    }
    Sheets::frame(sheets.edge, 0, 0, plan.width, plan.height, 0.1, "Profile");
    return {{"copper-top.gbr", sheets.top.done()},
            {"copper-bottom.gbr", sheets.bottom.done()},
            {"mask-top.gbr", sheets.mask_top.done()},
            {"mask-bottom.gbr", sheets.mask_bottom.done()},
            {"print-top.gbr", sheets.print.done()},
            {"outline.gbr", sheets.edge.done()},
            {"holes-plated.drl", drill_file("Plated,1,2,PTH", sheets.plated)}};
}

}  // namespace grayrelic::standin
