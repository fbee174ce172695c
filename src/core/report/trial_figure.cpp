// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/trial_figure.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr double row_height = 20, head = 44, most_column = 26, least_column = 9, right_room = 268,
                 gap_between = 14;

class MatrixArtist {
  public:
    MatrixArtist(const TrialTable& table, const TrialStudy& study, double width) : t_(table), s_(study) {
        d_.width = std::max(width, 360.0);
        order_.resize(table.rows.size());
        std::iota(order_.begin(), order_.end(), std::size_t{0});
        std::stable_sort(order_.begin(), order_.end(),
                         [&](std::size_t a, std::size_t b) { return table.rows[a].bad > table.rows[b].bad; });
        if (order_.size() > most_runs_drawn) order_.resize(most_runs_drawn);
        for (const auto& c : study.single) {
            names_ = std::max(names_, text_width(print(table, c), 12) + 34);
            if (rows_.size() < most_values_drawn) rows_.push_back(&c);
        }
        for (const auto& c : study.pairs)
            if (c.explains && rows_.size() < most_values_drawn) {
                names_ = std::max(names_, text_width(print(table, c), 12) + 34);
                rows_.push_back(&c);
            }
        names_ = std::min(names_, d_.width * 0.36);
        const double room =
            d_.width - names_ - right_room - gap_between - (study.next ? most_column + 10 : 0);
        column_ = std::clamp(room / std::max<double>(1, static_cast<double>(order_.size())), least_column,
                             most_column);
    }
    Drawing make();

  private:
    [[nodiscard]] double x_of(std::size_t place) const {
        const bool good = !t_.rows[order_[place]].bad;
        return names_ + static_cast<double>(place) * column_ + (good && s_.bad > 0 ? gap_between : 0);
    }
    /// Right ends of the three columns of figures.
    [[nodiscard]] double failed_x() const { return d_.width - 152; }
    [[nodiscard]] double else_x() const { return d_.width - 76; }
    [[nodiscard]] double chance_x() const { return d_.width - 4; }
    [[nodiscard]] static bool has_all(const ValueCount& c, const std::vector<std::string>& values) {
        return std::all_of(c.values.begin(), c.values.end(),
                           [&](const FactorValue& v) { return values[v.factor] == v.value; });
    }
    void heads();
    void value_row(const ValueCount& c, double y);
    void brackets();
    const TrialTable& t_;
    const TrialStudy& s_;
    Drawing d_;
    std::vector<std::size_t> order_;
    std::vector<const ValueCount*> rows_;
    double names_ = 80, column_ = most_column, next_x_ = 0;
};

void MatrixArtist::heads() {
    for (std::size_t i = 0; i < order_.size(); ++i) {
        const auto& row = t_.rows[order_[i]];
        const double x = x_of(i) + column_ / 2;
        d_.marks.push_back({x, head - 12, row.bad ? Verdict::stop : Verdict::holds});
        if (column_ >= 16) {
            const auto name = row.id.empty() ? std::to_string(row.line) : std::to_string(order_[i] + 1);
            d_.texts.push_back({x, head - 22, name, Ink::ink2, Drawing::Anchor::middle, 11, false, true});
        }
    }
    if (s_.next) {
        next_x_ = (order_.empty() ? names_ : x_of(order_.size() - 1) + column_) + 12;
        d_.texts.push_back(
            {next_x_ + column_ / 2, head - 22, "next", Ink::ink, Drawing::Anchor::middle, 11, true});
        d_.marks.push_back({next_x_ + column_ / 2, head - 12, Verdict::unknown});
    }
    d_.texts.push_back({4, head - 22, s_.bad > 0 ? "run: failed, then worked" : "run", Ink::ink2});
    const auto heading = [&](double x, const char* text) {
        d_.texts.push_back({x, head - 22, text, Ink::ink2, Drawing::Anchor::end, 11});
    };
    heading(failed_x(), "failed of");
    heading(else_x(), "without");
    heading(chance_x(), "by chance");
}

void MatrixArtist::value_row(const ValueCount& c, double y) {
    d_.marks.push_back({10, y + row_height / 2, c.explains ? Verdict::stop : Verdict::unknown});
    Drawing::Text name{22, y + 14, print(t_, c), Ink::ink, Drawing::Anchor::start, 12, c.explains};
    while (text_width(name.text, 12) > names_ - 30 && name.text.size() > 4)
        name.text = shortened(name.text, name.text.size() - 4);
    d_.texts.push_back(name);
    Drawing::Fill on, off;
    for (std::size_t i = 0; i < order_.size(); ++i) {
        const auto& run = t_.rows[order_[i]];
        const bool has = has_all(c, run.values);
        (has ? on : off).rects.push_back({x_of(i) + 1, y + 2, column_ - 2, row_height - 4});
    }
    on.ink = c.explains ? Ink::stop : Ink::ink2;
    off.ink = Ink::shade;
    off.strength = 0.5;
    d_.fills.push_back(std::move(off));
    d_.fills.push_back(std::move(on));
    if (s_.next) {
        const bool has = has_all(c, s_.next->values);
        const bool changed = std::any_of(c.values.begin(), c.values.end(),
                                         [&](const FactorValue& v) { return v.factor == s_.next->factor; });
        Drawing::Area box;
        box.rings.push_back(ring_of_box({next_x_ + 1, y + 2, column_ - 2, row_height - 4}, 0));
        box.strength = has ? 0.55 : 0;
        box.ink = changed ? Ink::doubt : Ink::ink2;
        box.edge = Ink::hairline;
        box.edge_width = 1;
        d_.areas.push_back(std::move(box));
    }
    const auto ink = c.explains ? Ink::stop : Ink::ink2;
    const auto figure = [&](double x, std::string text) {
        d_.texts.push_back({x, y + 14, std::move(text), ink, Drawing::Anchor::end, 12, c.explains, true});
    };
    figure(failed_x(), fmt::format("{} of {}", c.bad_with, c.with));
    figure(else_x(), fmt::format("{} of {}", c.bad_without, c.without));
    figure(chance_x(), c.bad_with == 0       ? std::string("–")
                       : c.by_chance > 0.995 ? "1"
                                             : fmt::format("{:.2g}", c.by_chance));
    d_.places.push_back({print(t_, c), 0, y, d_.width, row_height});
}

/// Rows that no run tells apart.
void MatrixArtist::brackets() {
    double x = failed_x() - 66;
    const auto row_of = [&](const FactorValue& v) {
        for (std::size_t i = 0; i < rows_.size(); ++i)
            if (rows_[i]->values.size() == 1 && rows_[i]->values.front() == v) return static_cast<double>(i);
        return -1.0;
    };
    constexpr std::size_t most_brackets = 5;
    for (std::size_t i = 0; i < std::min(most_brackets, s_.confounded.size()); ++i) {
        const double a = row_of(s_.confounded[i].first), b = row_of(s_.confounded[i].second);
        if (a < 0 || b < 0) continue;
        const double y1 = head + a * row_height + row_height / 2, y2 = head + b * row_height + row_height / 2;
        d_.strokes.push_back({{{x - 5, y1}, {x, y1}, {x, y2}, {x - 5, y2}}, Ink::doubt, 1.5});
        x -= 7;
    }
}

Drawing MatrixArtist::make() {
    heads();
    double y = head;
    for (std::size_t i = 0; i < rows_.size(); ++i, y += row_height) {
        if (i > 0 && (rows_[i]->values.front().factor != rows_[i - 1]->values.front().factor ||
                      rows_[i]->values.size() != rows_[i - 1]->values.size()))
            d_.lines.push_back({0, y, d_.width, y, Ink::hairline});
        value_row(*rows_[i], y);
    }
    brackets();
    if (s_.single.size() > rows_.size() || t_.rows.size() > order_.size()) {
        d_.texts.push_back({4, y + 16,
                            fmt::format("drawn are {} of {} values and {} of {} runs", rows_.size(),
                                        s_.single.size(), order_.size(), t_.rows.size()),
                            Ink::ink2});
        y += 22;
    }
    d_.height = y + 6;
    return std::move(d_);
}

}  // namespace

Drawing trial_matrix(const TrialTable& table, const TrialStudy& study, double width) {
    return MatrixArtist(table, study, width).make();
}

Drawing cost_figure(const CostStudy& study, const Economics& money, int most, double width) {
    constexpr double height = 190, left = 62, foot = 34, over = 14;
    Drawing d;
    d.width = std::max(width, 260.0);
    d.height = height;
    most = std::clamp(most, 2, most_quantity);
    std::vector<double> each;
    for (int q = 1; q <= most; ++q) each.push_back(cost_of(study, q, {}).each);
    double top = *std::max_element(each.begin(), each.end());
    for (const auto& line : {money.price, money.original.value, money.ready_made.value})
        top = std::max(top, line.value_or(0));
    // Of nothing, and of more than anybody pays, there is no scale.
    constexpr double least = 1e-3, most_shown = 1e15;
    if (!(top >= least)) top = 1;
    top = std::min(top, most_shown);
    top *= 1.05;
    const double w = d.width - left - 12, h = height - foot - over;
    const auto x = [&](double q) { return left + (q - 1) / (most - 1) * w; };
    const auto y = [&](double v) { return over + h - v / top * h; };
    d.lines.push_back({left, over, left, over + h, Ink::hairline});
    d.lines.push_back({left, over + h, left + w, over + h, Ink::hairline});
    const double decade = std::pow(10, std::floor(std::log10(top / 4)));
    double tick = decade;
    for (const double times : {2.0, 5.0, 10.0})
        if (tick * 5 < top) tick = decade * times;
    for (double v = 0; v <= top; v += tick)
        d.texts.push_back({left - 6, y(v) + 4, fmt::format("{:.{}f}", v, tick < 1 ? 2 : 0), Ink::ink2,
                           Drawing::Anchor::end, 11, false, true});
    for (const int q : {1, 1 + (most - 1) / 2, most})
        d.texts.push_back(
            {x(q), over + h + 14, std::to_string(q), Ink::ink2, Drawing::Anchor::middle, 11, false, true});
    d.texts.push_back({left + w / 4, over + h + 28, "how many work", Ink::ink2, Drawing::Anchor::middle, 11});
    Drawing::Stroke line;
    line.ink = Ink::bridge;
    line.width = 2;
    for (int q = 1; q <= most; ++q) line.points.emplace_back(x(q), y(each[static_cast<std::size_t>(q) - 1]));
    d.strokes.push_back(std::move(line));
    const auto level = [&](const std::optional<double>& v, const char* name, Ink ink) {
        if (!v) return;
        d.lines.push_back({left, y(*v), left + w, y(*v), ink, 1.2, true});
        d.texts.push_back({left + w - 2, y(*v) - 4, fmt::format("{} {:.2f}", name, *v), ink,
                           Drawing::Anchor::end, 11, false, false, false, true});
    };
    level(money.price, "price", Ink::holds);
    level(money.original.value, "original", Ink::relic);
    level(money.ready_made.value, "ready-made", Ink::ink2);
    return d;
}

}  // namespace grayrelic
