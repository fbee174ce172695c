// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/matrix_model.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

namespace grayrelic {

std::optional<std::size_t> MatrixModel::at(std::size_t row, std::size_t column) const {
    for (std::size_t i = 0; i < keys.size(); ++i)
        if (keys[i].row == row && keys[i].column == column) return i;
    return std::nullopt;
}

std::size_t MatrixModel::vacancies() const {
    std::set<std::pair<std::size_t, std::size_t>> taken;
    for (const auto& k : keys) taken.insert({k.row, k.column});
    return rows.size() * columns.size() - taken.size();
}

std::vector<std::pair<std::size_t, std::size_t>> MatrixModel::doubles() const {
    std::vector<std::pair<std::size_t, std::size_t>> out;
    std::map<std::pair<std::size_t, std::size_t>, std::size_t> first;
    for (std::size_t i = 0; i < keys.size(); ++i) {
        const auto [it, fresh] = first.emplace(std::pair(keys[i].row, keys[i].column), i);
        if (!fresh) out.emplace_back(it->second, i);
    }
    return out;
}

std::vector<std::string> MatrixModel::same_legends() const {
    std::map<std::string, int> count;
    for (const auto& k : keys) ++count[k.name];
    std::vector<std::string> out;
    for (const auto& [name, n] : count)
        if (n > 1 && !name.empty()) out.push_back(name);
    return out;
}

namespace {

std::size_t place_in(std::vector<std::string>& lines, const std::string& name) {
    const auto it = std::find(lines.begin(), lines.end(), name);
    if (it != lines.end()) return static_cast<std::size_t>(it - lines.begin());
    lines.push_back(name);
    return lines.size() - 1;
}

}  // namespace

WalkResult matrix_from_walk(const std::vector<WalkPress>& presses) {
    WalkResult out;
    std::map<std::pair<std::string, std::string>, std::string> answered;
    for (const auto& p : presses) {
        if (p.closed.empty()) out.doubts.push_back(fmt::format("{} closed nothing", p.key));
        if (p.closed.size() > 1)
            out.doubts.push_back(fmt::format(
                "{} closed {} positions: two keys held, a ghost, or two contacts", p.key, p.closed.size()));
        for (const auto& at : p.closed) {
            const auto [it, fresh] = answered.emplace(at, p.key);
            if (!fresh) {
                if (it->second != p.key)
                    out.doubts.push_back(fmt::format("{} and {} close the same position {} × {}", it->second,
                                                     p.key, at.first, at.second));
                else
                    continue;
            }
            const auto row = place_in(out.model.rows, at.first);
            const auto column = place_in(out.model.columns, at.second);
            out.model.keys.push_back({p.key, row, column});
        }
    }
    return out;
}

namespace {

/// Lines as points, keys as edges; the points of each group coloured in turn.
class TwoSides {
  public:
    explicit TwoSides(const std::vector<ProbedKey>& keys) : keys_(keys) {
        for (std::size_t i = 0; i < keys.size(); ++i)
            for (const auto& line : {keys[i].a, keys[i].b}) {
                const auto n = place_in(lines_, line);
                if (n == at_.size()) at_.emplace_back();
                at_[n].push_back(i);
            }
    }

    ProbeResult run() {
        side_.assign(lines_.size(), -1);
        ProbeResult out;
        std::size_t groups = 0;
        for (std::size_t start = 0; start < lines_.size(); ++start) {
            if (side_[start] >= 0) continue;
            ++groups;
            colour(start, out);
        }
        out.several = groups > 1;
        if (out.contradicting.empty()) out.model = model();
        return out;
    }

  private:
    void colour(std::size_t start, ProbeResult& out) {
        std::vector<std::size_t> waiting{start};
        side_[start] = 0;
        while (!waiting.empty()) {
            const auto line = waiting.back();
            waiting.pop_back();
            for (const auto k : at_[line]) {
                const auto other = place_in(lines_, keys_[k].a == lines_[line] ? keys_[k].b : keys_[k].a);
                if (side_[other] < 0) {
                    side_[other] = 1 - side_[line];
                    waiting.push_back(other);
                } else if (side_[other] == side_[line] &&
                           std::find(out.contradicting.begin(), out.contradicting.end(), keys_[k].key) ==
                               out.contradicting.end()) {
                    out.contradicting.push_back(keys_[k].key);
                }
            }
        }
    }

    MatrixModel model() {
        MatrixModel out;
        for (std::size_t i = 0; i < lines_.size(); ++i)
            (side_[i] == 0 ? out.rows : out.columns).push_back(lines_[i]);
        // The shorter side is strobed: fewer strobes scan faster.
        bool turned = out.rows.size() > out.columns.size();
        if (turned) std::swap(out.rows, out.columns);
        for (const auto& k : keys_) {
            auto row = k.a, column = k.b;
            if ((side_[place_in(lines_, row)] == 0) == turned) std::swap(row, column);
            out.keys.push_back({k.key, place_in(out.rows, row), place_in(out.columns, column)});
        }
        return out;
    }

    const std::vector<ProbedKey>& keys_;
    std::vector<std::string> lines_;
    std::vector<std::vector<std::size_t>> at_;
    std::vector<int> side_;
};

}  // namespace

ProbeResult matrix_from_probing(const std::vector<ProbedKey>& keys) {
    return TwoSides(keys).run();
}

MatrixModel matrix_of(const DeviceMap& map, std::vector<std::string>* outside) {
    MatrixModel out;
    out.rows = map.matrix.rows;
    out.columns = map.matrix.columns;
    const auto place = [](const std::vector<std::string>& lines, const std::string& name) {
        const auto it = std::find(lines.begin(), lines.end(), name);
        return it == lines.end() ? std::nullopt : std::optional(static_cast<std::size_t>(it - lines.begin()));
    };
    for (const auto& k : map.keys) {
        if (k.row.empty() && k.column.empty()) continue;
        const auto row = place(out.rows, k.row), column = place(out.columns, k.column);
        if (row && column)
            out.keys.push_back({k.legend.empty() ? k.id : k.legend, *row, *column, k.diode, 0, k.id, k.x, k.y,
                                k.width, k.height, true});
        else if (outside != nullptr)
            outside->push_back(k.id);
    }
    return out;
}

}  // namespace grayrelic
