// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/fit_figure.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr double top = 44, foot = 30, between = 28, aside = 8;

class FitArtist {
  public:
    FitArtist(const FitResult& fit, double width, double height) : f_(fit) {
        d_.width = std::max(width, 240.0);
        d_.height = std::max(height, 200.0);
        double gives = 0, takes = 0;
        for (const auto& l : f_.lines)
            if (l.mm && l.role == FitRole::gives)
                gives += *l.mm + l.plus;
            else if (l.mm && l.role == FitRole::takes)
                takes += *l.mm + l.plus;
        tallest_ = std::max({gives, takes, 0.1});
        scale_ = (d_.height - top - foot) / tallest_;
        base_ = d_.height - foot;
    }

    Drawing make() {
        place_columns();
        const double left = left_, right = left_ + column_ + between;
        d_.lines.push_back({left - 12, base_, right + column_ + 12, base_, Ink::ink, 1.5});
        d_.texts.push_back({left + column_ / 2, 14, "gives", Ink::relic, Drawing::Anchor::middle, 12, true});
        d_.texts.push_back(
            {right + column_ / 2, 14, "takes", Ink::bridge, Drawing::Anchor::middle, 12, true});
        const double room = column(FitRole::gives, left, Ink::relic, true);
        const double taken = column(FitRole::takes, right, Ink::bridge, false);
        gap(room, taken, left, right);
        bar();
        return std::move(d_);
    }

  private:
    /// Names stand beside the columns, which give way to them.
    void place_columns() {
        double names[2] = {};
        for (const auto& l : f_.lines)
            if (l.mm && (l.role == FitRole::gives || l.role == FitRole::takes)) {
                auto& most = names[l.role == FitRole::gives ? 0 : 1];
                most = std::max(most, text_width(l.what, 11) + aside + 4);
            }
        const double room = d_.width - between;
        column_ = std::clamp((room - names[0] - names[1]) / 2, 72.0, 120.0);
        const double rest = room - 2 * column_;
        // The shorter names have what they need, the longer ones what is left.
        const double first = std::min(names[0], rest / 2);
        name_room_[1] = std::min(names[1], rest - first);
        name_room_[0] = std::min(names[0], rest - name_room_[1]);
        left_ = name_room_[0] + std::max(0.0, rest - name_room_[0] - name_room_[1]) / 2;
    }
    /// Gives the height it comes to.
    double column(FitRole role, double x, Ink ink, bool names_left) {
        double up = 0;
        for (std::size_t i = 0; i < f_.lines.size(); ++i) {
            const auto& l = f_.lines[i];
            if (l.role != role || !l.mm) continue;
            const double h = *l.mm * scale_, y = base_ - up * scale_ - h;
            const bool assumed = l.evidence.kind == EvidenceKind::assumed;
            d_.areas.push_back({{{{x, y}, {x + column_, y}, {x + column_, y + h}, {x, y + h}}},
                                ink,
                                assumed ? 0.12 : 0.25,
                                ink,
                                1,
                                assumed});
            const double tolerance = (l.plus + l.minus) * scale_;
            if (tolerance >= 1)
                d_.areas.push_back({{{{x, y - l.plus * scale_},
                                      {x + column_, y - l.plus * scale_},
                                      {x + column_, y + l.minus * scale_},
                                      {x, y + l.minus * scale_}}},
                                    ink,
                                    0.3});
            d_.places.push_back({fmt::format("{}", i), x, y, column_, std::max(h, 8.0)});
            const double middle = y + h / 2 + 4;
            const double room = name_room_[names_left ? 0 : 1] - aside;
            const auto most = static_cast<std::size_t>(std::max(0.0, room / text_width("a", 11)));
            if (most >= 4 && (h >= 12 || f_.lines.size() < 6))
                d_.texts.push_back({names_left ? x - aside : x + column_ + aside, middle,
                                    shortened(l.what, most - 1), Ink::ink,
                                    names_left ? Drawing::Anchor::end : Drawing::Anchor::start, 11, false,
                                    false, assumed});
            if (h >= 14)
                d_.texts.push_back({x + column_ / 2, middle, figure(l), Ink::ink, Drawing::Anchor::middle, 11,
                                    false, true, assumed});
            up += *l.mm;
        }
        return up;
    }
    static std::string figure(const FitLine& l) {
        if (l.plus == 0 && l.minus == 0) return fmt::format("{:g}", *l.mm);
        if (l.plus == l.minus) return fmt::format("{:g} ±{:g}", *l.mm, l.plus);
        return fmt::format("{:g} +{:g}", *l.mm, l.plus);
    }
    void gap(double room, double taken, double left, double right) {
        if (room <= 0 || taken <= 0) return;
        const auto ink = f_.verdict == Verdict::stop    ? Ink::stop
                         : f_.verdict == Verdict::doubt ? Ink::doubt
                         : f_.verdict == Verdict::holds ? Ink::holds
                                                        : Ink::ink2;
        const double y_room = base_ - room * scale_, y_taken = base_ - taken * scale_;
        const double middle = d_.width / 2;
        for (const double y : {y_room, y_taken})
            d_.lines.push_back({left, y, right + column_, y, ink, 1, true});
        d_.lines.push_back({middle, y_room, middle, y_taken, ink, 3});
        d_.texts.push_back({middle, std::min(y_room, y_taken) - 5,
                            fmt::format("{}{:.2f} mm", room < taken ? "−" : "", std::abs(room - taken)), ink,
                            Drawing::Anchor::middle, 12, true, true, false, true});
    }
    /// How long a millimetre, or ten, is.
    void bar() {
        const double length = scale_ * 10 < 120 ? 10 : scale_ * 5 < 120 ? 5 : 1;
        d_.lines.push_back({8, d_.height - 8, 8 + length * scale_, d_.height - 8, Ink::ink2, 2});
        d_.texts.push_back({14 + length * scale_, d_.height - 5, fmt::format("{:g} mm", length), Ink::ink2,
                            Drawing::Anchor::start, 11, false, true});
    }

    const FitResult& f_;
    Drawing d_;
    double tallest_ = 1, scale_ = 1, base_ = 0, left_ = 0, column_ = 84;
    double name_room_[2] = {};
};

}  // namespace

Drawing draw_fit(const FitResult& fit, double width, double height) {
    return FitArtist(fit, width, height).make();
}

}  // namespace grayrelic
