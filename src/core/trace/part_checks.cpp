// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/part_checks.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>

namespace grayrelic {
namespace {

class Checker {
  public:
    Checker(const BoardModel& board, const NetState& state) : board_(board), state_(state) {}

    std::vector<PartIssue> check() {
        for (int n = 0; n < state_.net_count(); ++n) check_net(n);
        check_rails();
        return std::move(out_);
    }

  private:
    [[nodiscard]] const BoardPoint& point(int p) const { return board_.points[static_cast<std::size_t>(p)]; }
    [[nodiscard]] std::string shown(int p) const {
        const auto& f = point(p).function;
        return f.empty() ? board_.table.name(p) : fmt::format("{} ({})", board_.table.name(p), f);
    }
    [[nodiscard]] std::vector<int> of_kind(int net, PinKind kind) const {
        std::vector<int> out;
        for (const int p : state_.nets[static_cast<std::size_t>(net)])
            if (p < static_cast<int>(board_.points.size()) && point(p).kind == kind) out.push_back(p);
        return out;
    }

    void check_net(int n) {
        const auto& net = state_.nets[static_cast<std::size_t>(n)];
        const auto grounds = of_kind(n, PinKind::ground), supplies = of_kind(n, PinKind::supply);
        const auto outputs = of_kind(n, PinKind::output), loose = of_kind(n, PinKind::unconnected);
        if (!grounds.empty() && !supplies.empty())
            out_.push_back(
                {PartIssue::Kind::supply_to_ground,
                 {supplies.front(), grounds.front()},
                 fmt::format("{} and {} are one net", shown(supplies.front()), shown(grounds.front())),
                 "Readings join a supply pin and a ground pin."});
        if (outputs.size() > 1 && point(outputs[0]).ref != point(outputs[1]).ref)
            out_.push_back(
                {PartIssue::Kind::outputs_joined,
                 {outputs[0], outputs[1]},
                 fmt::format("{} and {} drive one net", shown(outputs[0]), shown(outputs[1])),
                 "Both outputs drive high and low; joined they fight. A slip, or a part of another type."});
        if (!loose.empty() && net.size() > 1)
            out_.push_back(
                {PartIssue::Kind::not_connected,
                 {loose.front()},
                 fmt::format("{} is joined, and its part leaves it unconnected", shown(loose.front())),
                 "Its pin-out says not connected."});
        check_driven(n, net);
    }

    /// Only where it is proven: everything that could drive the input is separated from it.
    void check_driven(int n, const std::vector<int>& net) {
        int input = -1;
        for (const int p : net) {
            if (p >= static_cast<int>(board_.points.size())) return;
            const auto k = point(p).kind;
            if (k == PinKind::input)
                input = p;
            else if (k != PinKind::unconnected)
                return;
        }
        if (input < 0 ||
            static_cast<int>(state_.apart[static_cast<std::size_t>(n)].size()) + 1 < state_.net_count())
            return;
        out_.push_back({PartIssue::Kind::input_floating,
                        {input},
                        fmt::format("{} floats", shown(input)),
                        "Readings separate it from every other net."});
    }

    /// The rail is the net with most pins of its kind; others must not be separated from it. Supplies of
    /// several voltages are told apart by their names.
    void check_rails() {
        std::map<std::pair<int, std::string>, std::map<int, std::vector<int>>> rails;
        for (std::size_t p = 0; p < board_.points.size(); ++p) {
            const auto& pt = board_.points[p];
            if (pt.kind != PinKind::ground && pt.kind != PinKind::supply) continue;
            if (p >= state_.net_of.size()) continue;
            const bool generic = pt.kind == PinKind::ground || pt.function == "VCC" || pt.function == "VDD";
            rails[{pt.kind == PinKind::ground ? 0 : 1, generic ? std::string() : pt.function}]
                 [state_.net_of[p]]
                     .push_back(static_cast<int>(p));
        }
        for (const auto& [kind, nets] : rails) {
            const auto main = std::max_element(nets.begin(), nets.end(), [](const auto& a, const auto& b) {
                return a.second.size() < b.second.size();
            });
            for (const auto& [net, points] : nets)
                if (net != main->first && main->second.size() > 1 && state_.separated(net, main->first))
                    out_.push_back({PartIssue::Kind::supply_astray,
                                    {points.front(), main->second.front()},
                                    fmt::format("{} does not reach {}", shown(points.front()),
                                                kind.first == 0 ? "ground" : "the supply"),
                                    fmt::format("Readings separate it from the net of {} and {} like it.",
                                                shown(main->second.front()), main->second.size() - 1)});
        }
    }

    const BoardModel& board_;
    const NetState& state_;
    std::vector<PartIssue> out_;
};

}  // namespace

std::vector<PartIssue> check_parts(const BoardModel& board, const NetState& state) {
    return Checker(board, state).check();
}

std::vector<BusRun> find_bus_runs(const BoardModel& board, const NetState& state) {
    std::map<std::pair<std::string, std::string>, std::vector<std::pair<int, int>>> met;
    for (const auto& net : state.nets) {
        std::vector<std::pair<std::string, int>> bits;
        for (const int p : net) {
            if (p >= static_cast<int>(board.points.size())) continue;
            const auto& pt = board.points[static_cast<std::size_t>(p)];
            if (pt.ref.empty() || pt.kind == PinKind::passive || pt.kind == PinKind::ground ||
                pt.kind == PinKind::supply)
                continue;
            if (const auto bit = bus_bit(pt.function)) bits.emplace_back(pt.ref + " " + bit->bus, bit->bit);
        }
        if (bits.size() > 24) continue;
        std::sort(bits.begin(), bits.end(),
                  [](const auto& x, const auto& y) { return natural_less(x.first, y.first); });
        for (std::size_t i = 0; i < bits.size(); ++i)
            for (std::size_t j = i + 1; j < bits.size(); ++j)
                if (bits[i].first != bits[j].first)
                    met[{bits[i].first, bits[j].first}].emplace_back(bits[i].second, bits[j].second);
    }
    std::vector<BusRun> out;
    for (auto& [buses, pairs] : met) {
        if (pairs.size() < 3) continue;
        std::sort(pairs.begin(), pairs.end());
        std::map<int, int> offsets, sums;
        for (const auto& [x, y] : pairs) ++offsets[y - x], ++sums[y + x];
        const auto most = [](const auto& m) {
            return *std::max_element(m.begin(), m.end(),
                                     [](const auto& a, const auto& b) { return a.second < b.second; });
        };
        const auto [offset, straight] = most(offsets);
        const auto [sum, reversed] = most(sums);
        BusRun r{buses.first, buses.second, static_cast<int>(pairs.size()), {}, {}};
        const bool turned = reversed > straight;
        for (const auto& [x, y] : pairs)
            if (turned ? x + y != sum : y - x != offset) r.crossed.push_back(fmt::format("{} to {}", x, y));
        r.order = std::max(straight, reversed) * 2 < static_cast<int>(pairs.size()) ? "crossed"
                  : turned                                                          ? "reversed"
                  : offset == 0                                                     ? "straight"
                                : fmt::format("shifted by {}", offset);
        out.push_back(std::move(r));
    }
    return out;
}

}  // namespace grayrelic
