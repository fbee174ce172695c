// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/ghosts.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>
#include <set>

#include "core/base/long_work.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_looked_at = 2'000'000;  // rectangles, for ranking
constexpr std::size_t most_guarded_chords = 64, most_guarded_keys = 128;

/// Which positions hold a key, and which of them have a diode in every contact.
class Grid {
  public:
    explicit Grid(const MatrixModel& m) : rows_(m.rows.size()), columns_(m.columns.size()) {
        key_.assign(rows_ * columns_, none);
        bare_.assign(rows_ * columns_, false);
        columns_of_.resize(rows_);
        rows_of_.resize(columns_);
        for (std::size_t i = 0; i < m.keys.size(); ++i) {
            const auto& k = m.keys[i];
            auto& at = key_[k.row * columns_ + k.column];
            if (at == none) {
                at = i;
                columns_of_[k.row].push_back(k.column);
                rows_of_[k.column].push_back(k.row);
            }
            if (!k.diode) bare_[k.row * columns_ + k.column] = true;
        }
        for (auto& list : columns_of_) std::sort(list.begin(), list.end());
        for (auto& list : rows_of_) std::sort(list.begin(), list.end());
    }
    static constexpr std::size_t none = ~std::size_t{0};
    [[nodiscard]] std::size_t key(std::size_t row, std::size_t column) const {
        return key_[row * columns_ + column];
    }
    [[nodiscard]] bool holds(std::size_t row, std::size_t column) const { return key(row, column) != none; }
    [[nodiscard]] bool bare(std::size_t row, std::size_t column) const {
        return bare_[row * columns_ + column];
    }
    [[nodiscard]] const std::vector<std::size_t>& columns_of(std::size_t row) const {
        return columns_of_[row];
    }
    [[nodiscard]] const std::vector<std::size_t>& rows_of(std::size_t column) const {
        return rows_of_[column];
    }
    [[nodiscard]] std::size_t rows() const { return rows_; }
    [[nodiscard]] std::size_t columns() const { return columns_; }

  private:
    std::size_t rows_, columns_;
    std::vector<std::size_t> key_;
    std::vector<bool> bare_;
    std::vector<std::vector<std::size_t>> columns_of_, rows_of_;
};

/// Calls with row, column of the faked key, and the other row and column of the rectangle, until it gives
/// false.
template <class Use>
void each_rectangle(const Grid& g, Use use) {
    for (std::size_t row = 0; row < g.rows(); ++row)
        for (const auto column : g.columns_of(row))
            for (const auto c : g.columns_of(row)) {
                if (c == column) continue;
                for (const auto r : g.rows_of(c))
                    if (r != row && g.bare(r, c) && g.holds(r, column) && !use(row, column, r, c)) return;
            }
}

/// Their number, by pairs of rows and the columns that both have: what each_rectangle would count.
std::size_t rectangles(const Grid& g) {
    std::size_t out = 0;
    for (std::size_t row = 0; row < g.rows(); ++row)
        for (std::size_t r = 0; r < g.rows(); ++r) {
            if (r == row) continue;
            std::size_t common = 0, bare = 0;
            for (const auto c : g.columns_of(row))
                if (g.holds(r, c)) {
                    ++common;
                    if (g.bare(r, c)) ++bare;
                }
            if (common > 1) out += bare * (common - 1);
        }
    return out;
}

/// Paths of a fixed number of keys from a row to a column past all positions but the faked one.
class LongerPaths {
  public:
    LongerPaths(const Grid& g, std::size_t& effort, const Progress& progress)
        : g_(g), effort_(effort), progress_(progress), row_used_(g.rows()), column_used_(g.columns()) {}

    /// Nothing when the effort ran out.
    std::optional<std::size_t> count(std::size_t keys) {
        found_ = 0;
        for (std::size_t row = 0; row < g_.rows(); ++row)
            for (const auto column : g_.columns_of(row)) {
                goal_ = column;
                row_used_[row] = column_used_[column] = true;
                const bool whole = walk(row, keys);
                row_used_[row] = column_used_[column] = false;
                if (!whole) return std::nullopt;
            }
        return found_;
    }

  private:
    /// `left` keys from here; odd.
    bool walk(std::size_t row, std::size_t left) {
        if (effort_ == 0 || progress_.cancelled()) return false;
        --effort_;
        if (left == 1) {
            if (g_.holds(row, goal_)) ++found_;
            return true;
        }
        for (const auto c : g_.columns_of(row)) {
            if (column_used_[c]) continue;
            column_used_[c] = true;
            for (const auto r : g_.rows_of(c)) {
                if (row_used_[r] || !g_.bare(r, c)) continue;
                row_used_[r] = true;
                const bool whole = walk(r, left - 2);
                row_used_[r] = false;
                if (!whole) {
                    column_used_[c] = false;
                    return false;
                }
            }
            column_used_[c] = false;
        }
        return true;
    }

    const Grid& g_;
    std::size_t& effort_;
    const Progress& progress_;
    std::vector<bool> row_used_, column_used_;
    std::size_t goal_ = 0, found_ = 0;
};

}  // namespace

Result<GhostCount> count_ghosts(const MatrixModel& model, Progress& progress, std::size_t effort) {
    long_work("counting ghosts");
    const Grid g(model);
    GhostCount out;
    out.sets = rectangles(g);
    const auto most = 2 * std::min(g.rows(), g.columns());
    for (std::size_t keys = 5; keys < most; keys += 2) {
        const auto n = LongerPaths(g, effort, progress).count(keys);
        if (progress.cancelled()) return fail_cancelled();
        if (!n) {
            out.counted_to = keys - 2;
            break;
        }
        out.by_keys.emplace_back(keys, *n);
        out.longer += *n;
    }
    return out;
}

namespace {

double apart(const MatrixKey& a, const MatrixKey& b) {
    return std::hypot(a.x + a.width / 2 - b.x - b.width / 2, a.y + a.height / 2 - b.y - b.height / 2);
}

/// How many of the held keys stand in a chord.
std::size_t shared(const std::vector<std::size_t>& chord, const std::vector<std::size_t>& held) {
    return static_cast<std::size_t>(std::count_if(held.begin(), held.end(), [&](auto k) {
        return std::find(chord.begin(), chord.end(), k) != chord.end();
    }));
}

/// How many of the held keys the nearest chord has, and how far they lie apart; nothing where that is not
/// known.
struct GhostView {
    std::size_t in_chord = 0;
    std::optional<double> span;
};

GhostView look_at(const MatrixModel& m, const GhostOptions& options, const std::vector<std::size_t>& held) {
    GhostView v;
    for (const auto& chord : options.chords) v.in_chord = std::max(v.in_chord, shared(chord, held));
    const auto& a = m.keys[held[0]];
    const auto& b = m.keys[held[1]];
    const auto& c = m.keys[held[2]];
    if (a.placed && b.placed && c.placed) v.span = std::max({apart(a, b), apart(b, c), apart(a, c)});
    return v;
}

double likelihood_of(const GhostView& v) {
    if (v.in_chord == 3) return 1;
    if (!v.span) return v.in_chord == 2 ? 0.5 : 0.1;
    // A hand spans about five key widths: within it three keys are held without effort, and beyond two spans
    // hardly.
    const double near = 1 / (1 + std::exp((*v.span - 5) / 1.5));
    return v.in_chord == 2 ? 0.5 + 0.4 * near : 0.4 * near;
}

std::string say_why(const GhostView& v) {
    if (v.in_chord == 3) return "all of them are held together in usual work";
    const bool two = v.in_chord == 2;
    if (!v.span)
        return two ? "two of them are held together in usual work" : "where the keys lie is not known";
    return fmt::format("{}{} within {:.1f} key widths", two ? "two are held together in usual work; " : "",
                       *v.span <= 5 ? "one hand reaches them:" : "they lie", *v.span);
}

}  // namespace

std::vector<GhostSet> rank_ghosts(const MatrixModel& model, const GhostOptions& options) {
    const Grid g(model);
    const auto better = [](const GhostSet& a, const GhostSet& b) {
        return std::tuple(-a.likelihood, a.held, a.faked) < std::tuple(-b.likelihood, b.held, b.faked);
    };
    // Only the best are kept: a large bare matrix has more sets than there is memory.
    std::vector<GhostSet> best;
    std::size_t looked_at = 0;
    each_rectangle(g, [&](std::size_t row, std::size_t column, std::size_t r, std::size_t c) {
        if (options.most == 0 || ++looked_at > most_looked_at) return false;
        GhostSet set{{g.key(row, c), g.key(r, c), g.key(r, column)}, g.key(row, column), 0, {}};
        set.likelihood = likelihood_of(look_at(model, options, set.held));
        if (best.size() == options.most) {
            if (!better(set, best.front())) return true;
            std::pop_heap(best.begin(), best.end(), better);
            best.pop_back();
        }
        best.push_back(std::move(set));
        std::push_heap(best.begin(), best.end(), better);
        return true;
    });
    std::sort_heap(best.begin(), best.end(), better);
    for (auto& set : best) set.why = say_why(look_at(model, options, set.held));
    return best;
}

namespace {

/// The columns that read low while a row is strobed.
std::set<std::size_t> low_columns(const MatrixModel& m, const std::vector<std::size_t>& held,
                                  std::size_t strobed) {
    std::set<std::size_t> rows{strobed}, columns;
    for (bool more = true; more;) {
        more = false;
        for (const auto k : held) {
            const auto& key = m.keys[k];
            // From the column into a row that is low; backward into a further row only without diode.
            if (rows.count(key.row) != 0) more = columns.insert(key.column).second || more;
            if (columns.count(key.column) != 0 && !key.diode) more = rows.insert(key.row).second || more;
        }
    }
    return columns;
}

}  // namespace

ScanView scan_view(const MatrixModel& model, const std::vector<std::size_t>& held) {
    ScanView out;
    const Grid g(model);
    std::vector<std::set<std::size_t>> low(g.rows());
    std::set<std::size_t> strobes;
    for (const auto k : held) strobes.insert(model.keys[k].row);
    for (const auto r : strobes) low[r] = low_columns(model, held, r);
    const auto is_held = [&](std::size_t row, std::size_t column) {
        return std::any_of(held.begin(), held.end(), [&](auto k) {
            return model.keys[k].row == row && model.keys[k].column == column;
        });
    };
    for (const auto r : strobes)
        for (const auto c : low[r]) {
            if (!g.holds(r, c)) continue;
            out.seen.push_back(g.key(r, c));
            if (!is_held(r, c)) out.ghosts.push_back(g.key(r, c));
        }
    // Firmware can't tell the corners of a rectangle apart that all read closed and all hold keys.
    for (const auto k : held) {
        const auto& key = model.keys[k];
        bool corner = false;
        for (const auto r : strobes)
            for (const auto c : low[key.row])
                corner = corner || (r != key.row && c != key.column && low[r].count(c) != 0 &&
                                    low[r].count(key.column) != 0 && g.holds(r, c) &&
                                    g.holds(r, key.column) && g.holds(key.row, c));
        if (corner) out.blocked.push_back(k);
    }
    return out;
}

namespace {

/// A diode where it ends the most ghosts, until none is left: not proven to be the fewest, but never too few.
std::vector<std::size_t> diodes_for(MatrixModel m, const std::vector<std::vector<std::size_t>>& chords) {
    std::vector<std::size_t> out;
    const auto ghosts = [&] {
        std::size_t n = 0;
        for (const auto& chord : chords) n += scan_view(m, chord).ghosts.size();
        return n;
    };
    std::set<std::size_t> concerned;
    for (const auto& chord : chords) concerned.insert(chord.begin(), chord.end());
    if (chords.size() > most_guarded_chords || concerned.size() > most_guarded_keys) return out;
    for (auto left = ghosts(); left > 0;) {
        std::size_t best = Grid::none, fewest = left + 1;
        for (const auto k : concerned) {
            if (m.keys[k].diode) continue;
            m.keys[k].diode = true;
            const auto now = ghosts();
            m.keys[k].diode = false;
            if (now < fewest) {
                fewest = now;
                best = k;
            }
        }
        if (best == Grid::none) break;
        m.keys[best].diode = true;
        out.push_back(best);
        left = fewest;
    }
    return out;
}

}  // namespace

GuardCosts guard_costs(const MatrixModel& model, const std::vector<std::vector<std::size_t>>& chords,
                       const GhostCount& count) {
    GuardCosts out;
    out.chords = chords.size();
    for (const auto& chord : chords) {
        const auto view = scan_view(model, chord);
        if (!view.ghosts.empty()) ++out.chords_wrong;
        if (!view.blocked.empty()) ++out.chords_blocked;
    }
    const auto n = model.keys.size();
    out.triples = n < 3 ? 0 : n * (n - 1) * (n - 2) / 6;
    out.triples_wrong = count.sets;
    for (const auto& k : model.keys)
        if (!k.diode) ++out.diodes;
    out.needed = diodes_for(model, chords);
    return out;
}

}  // namespace grayrelic
