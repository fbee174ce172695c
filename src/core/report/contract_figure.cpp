// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/contract_figure.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/quantity.hpp"
#include "core/signal/measure.hpp"
#include "core/timing/contract.hpp"

namespace grayrelic {
namespace {

/// An edge as it stands in the figure.
struct Instance {
    std::string event;   ///< as the interval names it
    std::string signal;  ///< row; "frame" for moments of frames
    Direction direction = Direction::any;
    double at_s = 0;
    double x = 0;
};

struct Measure {
    const ContractFigure* figure;
    int number;
    std::size_t from, to;  ///< instances
};

constexpr double row_height = 46, wave_height = 20, lane_height = 19, line_height = 17;

class ContractDrawer {
  public:
    ContractDrawer(const std::vector<std::shared_ptr<const ContractFigure>>& contract,
                   const ContractDrawingOptions& options)
        : o_(options) {
        place(contract);
        order_rows();
        spread();
    }

    Drawing draw() {
        d_.width = o_.width;
        if (measures_.empty()) {
            d_.height = 40;
            text(12, 24, "No interval with a figure yet.", Ink::ink2);
            return std::move(d_);
        }
        double y = 10;
        for (const auto& row : rows_) {
            wave(row, y);
            row_y_[row] = y;
            y += row_height;
        }
        y = lanes(y + 2);
        if (o_.table) y = table(y + 14);
        d_.height = y + 8;
        return std::move(d_);
    }

  private:
    static std::string signal_of(const std::string& event) {
        const auto e = parse_event(event);
        return !e                                     ? event
               : e->moment == EventName::Moment::edge ? short_name(e->edge.signal)
                                                      : std::string("frame");
    }
    static Direction direction_of(const std::string& event) {
        const auto e = parse_event(event);
        return !e || e->moment == EventName::Moment::edge ? (e ? e->edge.direction : Direction::any)
               : e->moment == EventName::Moment::start    ? Direction::rise
               : e->moment == EventName::Moment::end      ? Direction::fall
                                                          : Direction::any;
    }
    int find(const std::string& event, double at_s, double about) const {
        for (std::size_t i = 0; i < instances_.size(); ++i)
            if (instances_[i].event == event && std::abs(instances_[i].at_s - at_s) <= about)
                return static_cast<int>(i);
        return -1;
    }
    int first(const std::string& event) const {
        for (std::size_t i = 0; i < instances_.size(); ++i)
            if (instances_[i].event == event) return static_cast<int>(i);
        return -1;
    }
    std::size_t add(const std::string& event, double at_s) {
        instances_.push_back({event, signal_of(event), direction_of(event), at_s, 0});
        return instances_.size() - 1;
    }

    /// Intervals that share an edge with what stands already come first, so that the figure hangs together.
    void place(const std::vector<std::shared_ptr<const ContractFigure>>& contract) {
        std::vector<std::pair<const ContractFigure*, int>> left;
        int number = 0;
        for (const auto& f : contract) {
            ++number;
            if (f->problem.empty() && (f->typ || f->min || f->max)) left.emplace_back(f.get(), number);
        }
        double end = 0;
        while (!left.empty()) {
            auto next = std::find_if(left.begin(), left.end(), [&](const auto& f) {
                return first(f.first->interval.from) >= 0 || first(f.first->interval.to) >= 0;
            });
            if (next == left.end()) next = left.begin();
            const auto* f = next->first;
            const auto& i = f->interval;
            const double length = (f->typ ? *f->typ : f->max ? *f->max : *f->min).seconds();
            const double about = std::abs(length) * 0.2 + 1e-12;
            Measure m{f, next->second, 0, 0};
            const int from = first(i.from), to = first(i.to);
            if (from >= 0) {
                m.from = static_cast<std::size_t>(from);
            } else if (to >= 0 && i.from != i.to) {
                m.from = add(i.from, instances_[static_cast<std::size_t>(to)].at_s - length);
            } else {
                m.from = add(i.from, end * 1.2);
            }
            const double at = instances_[m.from].at_s + length;
            const int there = find(i.to, at, about);
            m.to = there >= 0 && static_cast<std::size_t>(there) != m.from ? static_cast<std::size_t>(there)
                                                                           : add(i.to, at);
            end = std::max(end, at);
            measures_.push_back(m);
            left.erase(next);
        }
        std::sort(measures_.begin(), measures_.end(),
                  [](const Measure& a, const Measure& b) { return a.number < b.number; });
    }

    void order_rows() {
        for (const auto& i : instances_)
            if (std::find(rows_.begin(), rows_.end(), i.signal) == rows_.end()) rows_.push_back(i.signal);
    }

    /// Gaps between neighbours in time as wide as the logarithm of their length says.
    void spread() {
        std::vector<double> times;
        for (const auto& i : instances_) times.push_back(i.at_s);
        std::sort(times.begin(), times.end());
        times.erase(std::unique(times.begin(), times.end(), [](double a, double b) { return b - a < 1e-12; }),
                    times.end());
        double least = 1e300;
        for (std::size_t i = 1; i < times.size(); ++i) least = std::min(least, times[i] - times[i - 1]);
        std::vector<double> gaps;
        double sum = 0;
        for (std::size_t i = 1; i < times.size(); ++i) {
            gaps.push_back(1.0 + 0.35 * std::log2((times[i] - times[i - 1]) / least));
            sum += gaps.back();
        }
        const double left = 96, right = o_.width - 40;
        double x = left + 26;
        std::map<double, double> where;
        for (std::size_t i = 0; i < times.size(); ++i) {
            if (i > 0) x += gaps[i - 1] / std::max(sum, 1.0) * (right - left - 52);
            where[times[i]] = x;
        }
        for (auto& i : instances_) i.x = std::prev(where.upper_bound(i.at_s + 1e-12))->second;
        left_ = left;
        right_ = right;
    }

    void line(double x1, double y1, double x2, double y2, Ink ink, double width = 1, bool dashed = false) {
        d_.lines.push_back({x1, y1, x2, y2, ink, width, dashed});
    }
    void text(double x, double y, std::string t, Ink ink = Ink::ink,
              Drawing::Anchor anchor = Drawing::Anchor::start, int size = 12, bool bold = false,
              bool figure = false, bool italic = false) {
        d_.texts.push_back({x, y, std::move(t), ink, anchor, size, bold, figure, italic});
    }

    void wave(const std::string& row, double y) {
        const Driver driver = o_.driver ? o_.driver(row) : Driver::unknown;
        const Ink ink = ink_of(driver);
        text(10, y + wave_height / 2 + 12, row, ink, Drawing::Anchor::start, 13, true);
        const double high = y + 8, low = y + 8 + wave_height;
        std::vector<const Instance*> list;
        for (const auto& i : instances_)
            if (i.signal == row) list.push_back(&i);
        std::sort(list.begin(), list.end(), [](const Instance* a, const Instance* b) { return a->x < b->x; });
        enum class State { down, up, either };
        const auto before = [](const Instance& i) {
            return i.direction == Direction::rise   ? State::down
                   : i.direction == Direction::fall ? State::up
                                                    : State::either;
        };
        const auto after = [](const Instance& i) {
            return i.direction == Direction::rise   ? State::up
                   : i.direction == Direction::fall ? State::down
                                                    : State::either;
        };
        const auto stretch = [&](double from, double to, State s) {
            if (to <= from) return;
            if (s != State::up) line(from, low, to, low, ink, 1.5);
            if (s != State::down) line(from, high, to, high, ink, 1.5);
        };
        double x = left_;
        State state = before(*list.front());
        for (const auto* i : list) {
            const State wanted = before(*i);
            if (state != wanted) {
                // An edge that no interval names brings it back, drawn where nothing is measured.
                const double turn = (x + i->x) / 2;
                stretch(x, turn - 3, state);
                line(turn - 3, state == State::up ? high : low, turn + 3, wanted == State::up ? high : low,
                     Ink::hairline, 1.5);
                x = turn + 3;
                state = wanted;
            }
            stretch(x, i->x - 3, state);
            if (wanted == State::either) {
                line(i->x - 3, low, i->x + 3, high, ink, 1.5);
                line(i->x - 3, high, i->x + 3, low, ink, 1.5);
            } else {
                line(i->x - 3, wanted == State::down ? low : high, i->x + 3,
                     wanted == State::down ? high : low, ink, 1.5);
            }
            x = i->x + 3;
            state = after(*i);
        }
        stretch(x, right_, state);
    }

    static std::string figures(const ContractFigure& f) {
        if (f.min && f.max && *f.min != *f.max) return fmt::format("{} … {}", print(*f.min), print(*f.max));
        return print(f.typ ? *f.typ : f.max ? *f.max : *f.min);
    }

    double lanes(double y) {
        // Measures that do not touch share a lane.
        std::vector<double> free_from;
        std::vector<std::size_t> order(measures_.size());
        for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
        std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
            return instances_[measures_[a].from].x < instances_[measures_[b].from].x;
        });
        for (const auto index : order) {
            const auto& m = measures_[index];
            const auto &a = instances_[m.from], &b = instances_[m.to];
            const auto label = fmt::format("{}  {}", m.number, figures(*m.figure));
            const double x1 = std::min(a.x, b.x), x2 = std::max(a.x, b.x),
                         wide = 7.3 * static_cast<double>(label.size()), end = std::max(x2, x2 + 8 + wide);
            // Beside the measure, to the right or left; over it when neither has room.
            const bool left_label = end > o_.width - 6, over = left_label && x1 - 8 - wide < 6;
            const double begin = left_label && !over ? x1 - 8 - wide : x1;
            std::size_t lane = 0;
            while (lane < free_from.size() && free_from[lane] > begin - 14) ++lane;
            if (lane == free_from.size()) free_from.push_back(-100);
            free_from[lane] = left_label ? x2 : end;
            const double ly = y + lane_height * static_cast<double>(lane) + 9;
            const bool selected = m.figure->interval.id == o_.selected;
            const Ink ink = selected ? Ink::ink : Ink::ink2;
            for (const auto* i : {&a, &b})
                line(i->x, row_y_[i->signal] + 8 + wave_height / 2, i->x, ly + 4, Ink::hairline, 1, true);
            line(x1, ly, x2, ly, ink, selected ? 2 : 1);
            d_.arrows.push_back({x1, ly, false, ink});
            d_.arrows.push_back({x2, ly, true, ink});
            const bool assumed = m.figure->evidence.kind == EvidenceKind::assumed;
            if (over)
                text((x1 + x2) / 2, ly - 3, label, ink, Drawing::Anchor::middle, 11, selected, true, assumed);
            else
                text(left_label ? x1 - 8 : x2 + 8, ly + 4, label, ink,
                     left_label ? Drawing::Anchor::end : Drawing::Anchor::start, 11, selected, true, assumed);
            d_.places.push_back({m.figure->interval.id, begin, ly - 8, (left_label ? x2 : end) - begin, 16});
        }
        y += lane_height * static_cast<double>(free_from.size()) + 6;
        text(right_, y + 6, "not to scale", Ink::ink2, Drawing::Anchor::end, 11);
        return y + 8;
    }

    double table(double y) {
        const double w = o_.width;
        const double columns[] = {12, 0.36 * w, 0.47 * w, 0.58 * w, 0.60 * w, 0.80 * w};
        const char* headings[] = {"Interval", "least", "typical", "most", "a replica keeps", "evidence"};
        for (std::size_t c = 0; c < 6; ++c)
            text(columns[c], y, headings[c], Ink::ink2,
                 c >= 1 && c <= 3 ? Drawing::Anchor::end : Drawing::Anchor::start, 11);
        line(12, y + 5, w - 12, y + 5, Ink::hairline);
        for (const auto& m : measures_) {
            y += line_height;
            const auto& f = *m.figure;
            const bool assumed = f.evidence.kind == EvidenceKind::assumed,
                       selected = f.interval.id == o_.selected;
            text(columns[0], y, fmt::format("{}  {} ({})", m.number, f.interval.name, word(f.interval.kind)),
                 Ink::ink, Drawing::Anchor::start, 12, selected);
            const std::optional<Time> figure[] = {f.min, f.typ, f.max};
            for (std::size_t c = 0; c < 3; ++c)
                text(columns[c + 1], y, figure[c] ? print(*figure[c]) : "·", Ink::ink, Drawing::Anchor::end,
                     12, false, true, assumed);
            text(columns[4], y, show_limits(limits_of(f)), Ink::ink, Drawing::Anchor::start, 12, false, true);
            // Where there is little room the word must do.
            constexpr double room_for_counts = 620;
            auto known = std::string(word(f.evidence.kind));
            if (w >= room_for_counts) known += f.n > 0 ? ", " + print_count(f.n) + "×" : ", entered";
            text(columns[5], y, known, Ink::ink2, Drawing::Anchor::start, 11);
            d_.places.push_back({f.interval.id, 8, y - 13, w - 16, line_height});
        }
        return y + 4;
    }

    const ContractDrawingOptions& o_;
    Drawing d_;
    std::vector<Instance> instances_;
    std::vector<Measure> measures_;
    std::vector<std::string> rows_;
    std::map<std::string, double> row_y_;
    double left_ = 0, right_ = 0;
};

}  // namespace

std::string show_limits(const ContractLimits& l) {
    if (l.least && l.most) return fmt::format("{} … {}", print(*l.least), print(*l.most));
    if (l.least) return fmt::format("at least {}", print(*l.least));
    if (l.most) return fmt::format("at most {}", print(*l.most));
    return "any";
}

Drawing draw_contract(const std::vector<std::shared_ptr<const ContractFigure>>& contract,
                      const ContractDrawingOptions& options) {
    return ContractDrawer(contract, options).draw();
}

std::string contract_figure(const std::vector<std::shared_ptr<const ContractFigure>>& contract,
                            const ContractDrawingOptions& options) {
    return drawing_svg(draw_contract(contract, options), "Contract");
}

}  // namespace grayrelic
