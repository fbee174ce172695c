// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/wire_figure.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

using Anchor = Drawing::Anchor;
using Flow = RibbonRow::Flow;

constexpr double number_x = 26, name_x = 36, ribbon_x = 128, gauge_w = 92, figure_w = 58, mark_w = 22,
                 end_w = 92;

std::string cut_to(const std::string& text, double width) {
    if (text_width(text) <= width) return text;
    return shortened(text, static_cast<std::size_t>(std::max(4.0, width / text_width("a"))) - 1);
}

class RibbonArtist {
  public:
    RibbonArtist(const WireAnalysis& w, double width, std::optional<std::size_t> chosen)
        : w_(w), chosen_(chosen) {
        d_.width = std::max(width, 560.0);
        row_h_ = w.ribbons.size() <= 12 ? 34 : w.ribbons.size() <= 24 ? 26 : 21;
    }

    Drawing make() {
        std::string port;
        y_ = 4;
        for (std::size_t i = 0; i < w_.ribbons.size(); ++i) {
            const auto& contact = w_.circuit.contacts[w_.ribbons[i].contact];
            if (contact.far_port != port) {
                port = contact.far_port;
                heading(contact);
            }
            row(i);
            y_ += row_h_;
        }
        d_.height = y_ + 6;
        return std::move(d_);
    }

  private:
    void heading(const CircuitContact& c) {
        y_ += 14;
        d_.texts.push_back(
            {8, y_, c.far_port == c.port ? c.far_port : fmt::format("{}, through {}", c.far_port, c.port),
             c.side == Side::relic ? Ink::relic : Ink::bridge, Anchor::start, 12, true});
        const double g = gauge_x();
        d_.texts.push_back({g, y_, "low and high", Ink::ink2, Anchor::start, 11});
        d_.texts.push_back({g + gauge_w + figure_w - 6, y_, "margin", Ink::ink2, Anchor::end, 11});
        y_ += 8;
    }
    double gauge_x() const { return d_.width - mark_w - end_w - figure_w - gauge_w; }
    static Ink near_ink(Flow f) {
        return f == Flow::to_relic    ? Ink::bridge
               : f == Flow::to_modern ? Ink::relic
               : f == Flow::both      ? Ink::both
                                      : Ink::ink2;
    }
    void row(std::size_t index) {
        const auto& r = w_.ribbons[index];
        const auto& c = w_.circuit.contacts[r.contact];
        const double mid = y_ + row_h_ / 2, right = gauge_x() - 10;
        if (chosen_ == index) {
            d_.lines.push_back({1.5, y_ + 2, 1.5, y_ + row_h_ - 2, Ink::ink, 3});
        }
        d_.texts.push_back({number_x, mid + 4, c.far_contact, Ink::ink2, Anchor::end, 11, false, true});
        d_.texts.push_back({name_x, mid + 4, cut_to(c.pin.name.value.empty() ? "?" : c.pin.name.value, 84),
                            Ink::ink, Anchor::start, 12, true});
        const auto ink = near_ink(r.flow);
        const bool dashed = r.flow == Flow::nobody;
        d_.lines.push_back({ribbon_x, mid, right, mid, ink, 2, dashed});
        hops(r, mid, right);
        arrows(r, mid, right, ink);
        gauge(r, mid);
        const double end_x = d_.width - mark_w - end_w + 4;
        d_.texts.push_back({end_x, mid + 4, cut_to(end_text(r), end_w - 8),
                            r.ends.empty() ? Ink::ink2 : Ink::bridge, Anchor::start, 12, !r.ends.empty()});
        d_.marks.push_back({d_.width - mark_w / 2, mid, r.verdict});
        d_.places.push_back({fmt::format("contact {}", index), 0, y_, d_.width, row_h_});
    }
    std::string end_text(const RibbonRow& r) const {
        if (r.flow == Flow::ground) return "ground";
        if (r.ends.empty()) return r.hops.empty() ? "not joined" : "in the bridge";
        return r.ends.size() == 1 ? r.ends.front() : fmt::format("{} +{}", r.ends.front(), r.ends.size() - 1);
    }
    void hops(const RibbonRow& r, double mid, double right) {
        if (r.hops.empty()) return;
        const double room = right - ribbon_x, step = room / static_cast<double>(r.hops.size() + 1);
        for (std::size_t i = 0; i < r.hops.size(); ++i) {
            std::string text;
            for (std::size_t k = 0; k < r.hops[i].size() && k < 3; ++k)
                text += (k == 0 ? "" : " ") + r.hops[i][k];
            if (r.hops[i].size() > 3) text += fmt::format(" +{}", r.hops[i].size() - 3);
            text = cut_to(text, step - 22);
            const double w = text_width(text) + 14, x = ribbon_x + step * static_cast<double>(i + 1) - w / 2;
            const double h = std::min(row_h_ - 6, 22.0);
            d_.boxes.push_back({x, mid - h / 2, w, h, Ink::hairline});
            d_.texts.push_back({x + w / 2, mid + 4, text, Ink::ink, Anchor::middle, 12});
        }
    }
    void arrows(const RibbonRow& r, double mid, double right, Ink ink) {
        if (r.flow == Flow::to_modern || r.flow == Flow::both) d_.arrows.push_back({right, mid, true, ink});
        if (r.flow == Flow::to_relic || r.flow == Flow::both)
            d_.arrows.push_back({ribbon_x, mid, false, ink});
        if (r.inverted == true)
            d_.texts.push_back({right - 12, mid - 4, "inverted", Ink::ink2, Anchor::end, 11});
    }
    /// What the line surely gives, thick, over a scale from 0 V to the highest; what is needed, as two ticks.
    void gauge(const RibbonRow& r, double mid) {
        if (!r.worst) return;
        const auto& v = w_.study.links[*r.worst].levels;
        const auto& driver = w_.circuit.drivers[w_.study.links[*r.worst].driver];
        const double least =
            std::min({0.0, v.arriving.lowest_v, v.low_needed_v, v.arriving.low_most_v.value_or(0)});
        const double most = std::max(
            {v.arriving.highest_v, v.high_needed_v, v.arriving.high_least_v.value_or(0), least + 0.5});
        const double x = gauge_x();
        const auto at = [&](double volts) {
            return x + std::clamp((volts - least) / (most - least), 0.0, 1.0) * gauge_w;
        };
        d_.lines.push_back({x, mid, x + gauge_w, mid, Ink::hairline, 1});
        const auto ink = driver.contact && w_.circuit.contacts[*driver.contact].side == Side::relic
                             ? Ink::relic
                             : Ink::bridge;
        if (v.arriving.low_most_v)
            d_.lines.push_back(
                {at(least), mid, std::max(at(*v.arriving.low_most_v), at(least) + 2), mid, ink, 5});
        if (v.arriving.high_least_v && *v.arriving.high_least_v < most + 1e-9)
            d_.lines.push_back(
                {std::min(at(*v.arriving.high_least_v), at(most) - 2), mid, at(most), mid, ink, 5});
        d_.lines.push_back({at(v.low_needed_v), mid - 7, at(v.low_needed_v), mid + 7, Ink::ink, 1.2});
        d_.lines.push_back({at(v.high_needed_v), mid - 7, at(v.high_needed_v), mid + 7, Ink::ink, 1.2});
        if (v.over_limit && v.limit_high_v < most && v.limit_high_v > least)
            d_.lines.push_back({at(v.limit_high_v), mid - 9, at(v.limit_high_v), mid + 9, Ink::stop, 2});
        const auto text = v.over_limit ? std::string("over")
                          : v.high_margin_v && v.low_margin_v
                              ? print_number(std::min(*v.high_margin_v, *v.low_margin_v), Unit::volt, 2)
                              : std::string("open");
        const auto tone = v.verdict == Verdict::stop    ? Ink::stop
                          : v.verdict == Verdict::doubt ? Ink::doubt
                                                        : Ink::ink;
        d_.texts.push_back({x + gauge_w + figure_w - 6, mid + 4, text, tone, Anchor::end, 11, false, true});
    }
    const WireAnalysis& w_;
    std::optional<std::size_t> chosen_;
    Drawing d_;
    double row_h_ = 30, y_ = 0;
};

}  // namespace

Drawing draw_ribbons(const WireAnalysis& wire, double width, std::optional<std::size_t> chosen) {
    return RibbonArtist(wire, width, chosen).make();
}

Drawing draw_levels(const std::vector<double>& levels, double width, double height) {
    Drawing d;
    d.width = width;
    d.height = height;
    if (levels.empty()) return d;
    const double most = std::max(*std::max_element(levels.begin(), levels.end()), 1e-9);
    const double left = 58, bottom = height - 22, top = 12, right = width - 10;
    const auto y = [&](double v) { return bottom - v / most * (bottom - top); };
    const double step = (right - left) / static_cast<double>(levels.size());
    d.lines.push_back({left, bottom, right, bottom, Ink::hairline, 1});
    d.lines.push_back({left, top, left, bottom, Ink::hairline, 1});
    for (const double share : {0.0, 0.5, 1.0})
        d.texts.push_back({left - 6, y(most * share) + 4, print_number(most * share, Unit::volt), Ink::ink2,
                           Anchor::end, 11, false, true});
    d.texts.push_back({left, height - 6, "0", Ink::ink2, Anchor::start, 11, false, true});
    d.texts.push_back(
        {right, height - 6, std::to_string(levels.size() - 1), Ink::ink2, Anchor::end, 11, false, true});
    d.texts.push_back({(left + right) / 2, height - 6, "code", Ink::ink2, Anchor::middle, 11});
    for (std::size_t i = 0; i < levels.size(); ++i) {
        const double x = left + step * static_cast<double>(i);
        const bool falls = i > 0 && levels[i] < levels[i - 1] - 1e-12;
        if (i > 0)
            d.lines.push_back(
                {x, y(levels[i - 1]), x, y(levels[i]), falls ? Ink::stop : Ink::bridge, falls ? 2.0 : 1.0});
        d.lines.push_back({x, y(levels[i]), x + step, y(levels[i]), Ink::bridge, 1.6});
    }
    return d;
}

}  // namespace grayrelic
