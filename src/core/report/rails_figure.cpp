// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/rails_figure.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr double frame_w = 118, frame_h = 52, row_gap = 24, label_h = 30, least_gap = 36, most_gap = 140,
                 margin = 10;
constexpr double widest = 24, narrowest = 1.5;
constexpr std::size_t most_loads_named = 3;

std::string cut_name(const std::string& text, std::size_t letters) {
    return text.size() <= letters ? text : shortened(text, letters - 1);
}

class RailArtist {
  public:
    RailArtist(const RailTree& tree, const RailModeFigures& figures, double width, const std::string& chosen)
        : t_(tree), f_(figures), chosen_(chosen), width_(width) {
        for (const auto& r : f_.rails) most_a_ = std::max(most_a_, r.load_a);
    }
    Drawing make();

  private:
    struct Spot {
        int column = 0;
        double y = 0;  ///< middle
    };
    void find_columns();
    double lay_rail(const std::string& rail);
    [[nodiscard]] bool has_loads(const std::string& rail) const {
        return std::any_of(t_.loads.begin(), t_.loads.end(), [&](const auto& l) { return l.rail == rail; });
    }
    [[nodiscard]] double frame_x(int column) const { return margin + column * (frame_w + gap_); }
    [[nodiscard]] double bar_x(int column) const { return frame_x(column) + frame_w + gap_ * 0.42; }
    [[nodiscard]] double band(double amps) const {
        return amps <= 0 || most_a_ <= 0 ? narrowest
                                         : narrowest + (widest - narrowest) * std::min(1.0, amps / most_a_);
    }
    [[nodiscard]] Ink ink_of_rail(const std::string& rail) const;
    void flow(double x1, double y1, double x2, double y2, double amps, Ink ink, bool backwards);
    void frame(const std::string& id, double x, double y, const std::vector<std::string>& rows, Verdict v,
               Ink ink);
    void draw_source(std::size_t i);
    void draw_part(std::size_t i);
    void draw_rail(const std::string& rail);
    void draw_loads(const std::string& rail);
    [[nodiscard]] std::vector<std::string> part_rows(std::size_t i) const;

    const RailTree& t_;
    const RailModeFigures& f_;
    const std::string& chosen_;
    double width_, gap_ = least_gap, next_y_ = margin + label_h, most_a_ = 0;
    int columns_ = 1;
    std::map<std::string, Spot> rails_, loads_;
    std::map<std::string, Spot> parts_;
    Drawing d_;
};

/// A rail stands right of all that feeds it.
void RailArtist::find_columns() {
    for (const auto& s : t_.sources) rails_[s.name] = {0, -1};
    // Each round moves a rail by one column at least; a tree has no loops.
    for (std::size_t round = 0; round <= t_.parts.size(); ++round)
        for (const auto& p : t_.parts) {
            const auto from = rails_.find(p.from);
            if (from == rails_.end()) continue;
            const int column = from->second.column + 1;
            auto& to = rails_.try_emplace(p.to, Spot{0, -1}).first->second;
            to.column = std::max(to.column, column);
        }
    for (const auto& [rail, spot] : rails_)
        columns_ = std::max(columns_, spot.column + (has_loads(rail) ? 2 : 1));
}

/// The middle of what stands behind a rail; each load and each end takes a row.
double RailArtist::lay_rail(const std::string& rail) {
    auto& spot = rails_[rail];
    if (spot.y >= 0) return spot.y;
    spot.y = 0;
    std::vector<double> ys;
    const auto row = [&] {
        const double y = next_y_ + frame_h / 2;
        next_y_ += frame_h + row_gap;
        return y;
    };
    if (has_loads(rail)) {
        loads_[rail] = {spot.column + 1, row()};
        ys.push_back(loads_[rail].y);
    }
    for (const auto& p : t_.parts) {
        if (p.from != rail || parts_.count(p.ref) > 0) continue;
        const bool first = rails_[p.to].y < 0;
        parts_[p.ref] = {rails_[p.to].column, 0};
        const double y = first ? lay_rail(p.to) : row();
        parts_[p.ref].y = y;
        ys.push_back(y);
    }
    if (ys.empty()) ys.push_back(row());
    spot.y = (*std::min_element(ys.begin(), ys.end()) + *std::max_element(ys.begin(), ys.end())) / 2;
    return spot.y;
}

Ink RailArtist::ink_of_rail(const std::string& rail) const {
    std::set<std::string> seen;
    std::vector<std::string> open{rail};
    while (!open.empty()) {
        const auto at = open.back();
        open.pop_back();
        if (!seen.insert(at).second) continue;
        if (const auto* s = t_.find_source(at)) return s->relic ? Ink::relic : Ink::bridge;
        for (std::size_t i = 0; i < t_.parts.size(); ++i)
            if (t_.parts[i].to == at && f_.parts[i].amps > 1e-9) open.push_back(t_.parts[i].from);
    }
    return Ink::bridge;
}

void RailArtist::flow(double x1, double y1, double x2, double y2, double amps, Ink ink, bool backwards) {
    const bool none = std::abs(amps) < 1e-9;
    d_.bands.push_back({x1, y1, x2, y2, band(std::abs(amps)), none ? Ink::hairline : ink, backwards});
}

void RailArtist::frame(const std::string& id, double x, double y, const std::vector<std::string>& rows,
                       Verdict v, Ink ink) {
    const double top = y - frame_h / 2;
    d_.boxes.push_back({x, top, frame_w, frame_h, Ink::hairline});
    if (id == chosen_) d_.lines.push_back({x - 3, top, x - 3, top + frame_h, Ink::ink, 3});
    for (std::size_t i = 0; i < rows.size(); ++i)
        d_.texts.push_back({x + 8, top + 17 + 15 * static_cast<double>(i), rows[i], i == 0 ? ink : Ink::ink2,
                            Drawing::Anchor::start, i == 0 ? 12 : 11, i == 0, false});
    if (v != Verdict::holds) d_.marks.push_back({x + frame_w - 11, top + 12, v});
    if (!id.empty()) d_.places.push_back({id, x, top, frame_w, frame_h});
}

void RailArtist::draw_source(std::size_t i) {
    const auto& s = t_.sources[i];
    const auto at = rails_.find(s.name)->second;
    const auto* r = f_.find_rail(s.name);
    const double x = frame_x(at.column);
    flow(x + frame_w, at.y, bar_x(at.column), at.y, r->load_a, s.relic ? Ink::relic : Ink::bridge, false);
    std::vector<std::string> rows{cut_name(s.name, 16)};
    const bool out = f_.off.count(s.name) > 0;
    rows.push_back(out ? std::string("out")
                   : s.tolerance > 0
                       ? fmt::format("{} ±{:.3g} %", print_number(s.volts, Unit::volt), 100 * s.tolerance)
                       : print_number(s.volts, Unit::volt));
    rows.push_back(s.limit_a ? fmt::format("{} of {}", print_number(r->load_a, Unit::ampere),
                                           print_number(*s.limit_a, Unit::ampere))
                             : fmt::format("{} used", print_number(r->load_a, Unit::ampere)));
    frame("source " + s.name, x, at.y, rows, r->verdict, s.relic ? Ink::relic : Ink::bridge);
}

std::vector<std::string> RailArtist::part_rows(std::size_t i) const {
    const auto& p = t_.parts[i];
    const auto& f = f_.parts[i];
    std::vector<std::string> rows{cut_name(p.ref, 16)};
    switch (p.kind) {
        case RailPartKind::drop:
            rows.push_back(fmt::format("drops {}", print_number(p.volts, Unit::volt)));
            break;
        case RailPartKind::switched:
            rows.push_back(fmt::format("{}{}", print_number(p.ohm, Unit::ohm),
                                       f_.off.count(p.ref) > 0 ? ", open"
                                       : p.gate                ? ", switched"
                                                               : ""));
            break;
        case RailPartKind::linear:
        case RailPartKind::switcher:
            rows.push_back(f.headroom_v ? fmt::format("{} to spare", print_number(*f.headroom_v, Unit::volt))
                           : p.kind == RailPartKind::switcher
                               ? fmt::format("switches, {:.0f} %", 100 * p.efficiency)
                               : std::string("linear"));
            break;
    }
    rows.push_back(f.junction_c
                       ? fmt::format("{} · {:.0f} °C", print_number(f.loss_w, Unit::watt), *f.junction_c)
                   : f.loss_w < 1e-9 ? std::string("no loss")
                                     : print_number(f.loss_w, Unit::watt));
    return rows;
}

void RailArtist::draw_part(std::size_t i) {
    const auto& p = t_.parts[i];
    const auto& f = f_.parts[i];
    const auto spot = parts_.find(p.ref);
    if (spot == parts_.end()) return;
    const auto &from = rails_[p.from], &to = rails_[p.to];
    const double x = frame_x(spot->second.column), y = spot->second.y;
    const auto ink = ink_of_rail(p.from);
    const bool back = f.amps < -1e-9;
    flow(bar_x(from.column), from.y, x, y, back ? f.amps : f.in_a, ink, back);
    flow(x + frame_w, y, bar_x(to.column), to.y, f.amps, ink, back);
    frame("part " + p.ref, x, y, part_rows(i), f.verdict, Ink::ink);
}

void RailArtist::draw_rail(const std::string& rail) {
    const auto at = rails_.find(rail)->second;
    const auto* r = f_.find_rail(rail);
    double top = at.y, bottom = at.y;
    const auto reach = [&](double y) {
        top = std::min(top, y);
        bottom = std::max(bottom, y);
    };
    for (const auto& p : t_.parts)
        if (p.from == rail && parts_.count(p.ref) > 0) reach(at.y + (parts_[p.ref].y - at.y) * 0.1);
    const double x = bar_x(at.column);
    d_.lines.push_back(
        {x, top - 14, x, bottom + 14, Ink::ink, rail.empty() || chosen_ != "rail " + rail ? 2.0 : 4.0});
    const bool ranged = r->most - r->least > 1e-6;
    // Ends before the next box, above those on its left.
    const double label_x = frame_x(at.column + 1) - 4;
    d_.texts.push_back({label_x, at.y - 45, cut_name(rail, 14), Ink::ink, Drawing::Anchor::end, 12, true});
    d_.texts.push_back(
        {label_x, at.y - 32,
         ranged ? fmt::format("{:#.3g} … {:#.3g} V", r->least, r->most) : print_number(r->volts, Unit::volt),
         Ink::ink2, Drawing::Anchor::end, 11, false, true});
    if (r->verdict != Verdict::holds) d_.marks.push_back({x, bottom + 22, r->verdict});
    d_.places.push_back({"rail " + rail, x - 30, at.y - 58, 60, 74});
}

void RailArtist::draw_loads(const std::string& rail) {
    const auto spot = loads_.find(rail);
    if (spot == loads_.end()) return;
    const auto at = rails_.find(rail)->second;
    double amps = 0;
    std::vector<std::string> rows;
    auto verdict = Verdict::holds;
    std::size_t named = 0, all = 0;
    for (const auto& l : f_.loads) all += l.rail == rail ? 1 : 0;
    for (const auto& l : f_.loads) {
        if (l.rail != rail) continue;
        amps += l.amps;
        verdict = worse(verdict, l.verdict);
        if (named < most_loads_named - (all > most_loads_named ? 1 : 0)) {
            rows.push_back(fmt::format("{}  {}", cut_name(l.name, 10), print_number(l.amps, Unit::ampere)));
            ++named;
        }
    }
    if (all > named) rows.push_back(fmt::format("and {} more", all - named));
    const double x = frame_x(spot->second.column);
    flow(bar_x(at.column), at.y, x, spot->second.y, amps, ink_of_rail(rail), false);
    frame("rail " + rail, x, spot->second.y, rows, verdict, Ink::ink);
}

Drawing RailArtist::make() {
    find_columns();
    for (const auto& s : t_.sources) lay_rail(s.name);
    if (columns_ > 1)
        gap_ = std::clamp((width_ - 2 * margin - columns_ * frame_w) / (columns_ - 0.5), least_gap, most_gap);
    for (std::size_t i = 0; i < t_.sources.size(); ++i) draw_source(i);
    for (std::size_t i = 0; i < t_.parts.size(); ++i) draw_part(i);
    for (const auto& [rail, spot] : loads_) draw_loads(rail);
    for (const auto& [rail, spot] : rails_) draw_rail(rail);
    d_.width = std::max(width_, frame_x(columns_ - 1) + frame_w + margin);
    d_.height = next_y_ + 10;
    return std::move(d_);
}

}  // namespace

Drawing draw_rails(const RailTree& tree, const RailModeFigures& figures, double width,
                   const std::string& chosen) {
    if (tree.sources.empty() || figures.rails.empty()) return {};
    return RailArtist(tree, figures, width, chosen).make();
}

}  // namespace grayrelic
