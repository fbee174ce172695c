// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/logic/minimise.hpp"

#include "core/base/long_work.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.hpp"
#include "core/logic/minimise_parts.hpp"

namespace grayrelic {

using namespace minimising;

namespace {

class Search {
  public:
    Search(const WantedLogic& w, const MinimiseLimits& limits, Progress& progress, long long& steps)
        : w_(w), limits_(limits), progress_(progress), steps_(steps) {
        rows_ = w.inputs.size() == 6 ? ~0ULL : (1ULL << (1U << w.inputs.size())) - 1;
        signals_ = {0, rows_};
        for (std::size_t i = 0; i < w.inputs.size(); ++i) {
            std::uint64_t bits = 0;
            for (std::uint64_t r = 0; r < (1ULL << w.inputs.size()); ++r)
                bits |= ((r >> (w.inputs.size() - 1 - i)) & 1U) << r;
            signals_.push_back(bits);
        }
    }
    /// All circuits with exactly `gates` gates of these units; found ones go to `out`. False: out of steps.
    bool run(const std::vector<const GateKind*>& units, std::vector<int> capacity, int gates,
             std::vector<std::vector<PlacedGate>>& out, std::size_t most) {
        units_ = &units;
        capacity_ = std::move(capacity);
        out_ = &out;
        most_ = most;
        place(gates, {0, {}});
        return steps_ < limits_.steps && !progress_.cancelled();
    }
    /// Signal of each output, when all are there.
    std::optional<std::vector<int>> met() const {
        std::vector<int> at;
        for (const auto& o : w_.outputs) {
            int found = -1;
            for (std::size_t s = 0; s < signals_.size() && found < 0; ++s)
                if (((signals_[s] ^ o.ones) & o.care) == 0) found = static_cast<int>(s);
            if (found < 0) return std::nullopt;
            at.push_back(found);
        }
        return at;
    }
    const std::vector<std::uint64_t>& signals() const { return signals_; }

  private:
    struct Key {
        int unit;
        std::vector<int> inputs;
    };
    int unmet() const {
        int n = 0;
        for (const auto& o : w_.outputs)
            n += std::none_of(signals_.begin(), signals_.end(),
                              [&](std::uint64_t s) { return ((s ^ o.ones) & o.care) == 0; })
                     ? 1
                     : 0;
        return n;
    }
    void place(int left, const Key& last) {
        if (out_->size() >= most_) return;
        const int missing = unmet();
        if (left == 0) {
            if (missing == 0) out_->push_back(placed_);
            return;
        }
        // Gates with many outputs can meet more than one each.
        if (missing == 0 || (missing > left && single_outputs_only())) return;
        for (int u = 0; u < static_cast<int>(units_->size()); ++u) {
            if (capacity_[static_cast<std::size_t>(u)] == 0) continue;
            std::vector<int> inputs((*units_)[static_cast<std::size_t>(u)]->fan_in(), 0);
            choose(u, inputs, 0, left, last, missing);
            if (steps_ >= limits_.steps) return;
        }
    }
    bool single_outputs_only() const {
        return std::all_of(units_->begin(), units_->end(),
                           [](const GateKind* u) { return u->functions.size() == 1; });
    }
    void choose(int u, std::vector<int>& inputs, std::size_t at, int left, const Key& last, int missing) {
        const GateKind& unit = *(*units_)[static_cast<std::size_t>(u)];
        if (at < inputs.size()) {
            const int from = unit.symmetric && at > 0 ? inputs[at - 1] : 0;
            for (int s = from; s < static_cast<int>(signals_.size()) && steps_ < limits_.steps; ++s) {
                inputs[at] = s;
                choose(u, inputs, at + 1, left, last, missing);
            }
            return;
        }
        if ((++steps_ & 0xFFFF) == 0 && progress_.cancelled()) steps_ = limits_.steps;
        // In one order only: a gate that does not read the last one stands after it by unit and inputs.
        const bool reads_last = !placed_.empty() && std::any_of(inputs.begin(), inputs.end(), [&](int s) {
            return s >= placed_.back().first_output;
        });
        if (!placed_.empty() && !reads_last && (u < last.unit || (u == last.unit && inputs <= last.inputs)))
            return;
        const auto before = signals_.size();
        bool useful = false;
        for (std::size_t f = 0; f < unit.functions.size(); ++f) {
            std::uint64_t args[6];
            for (std::size_t k = 0; k < unit.arguments[f].size(); ++k)
                args[k] = signals_[static_cast<std::size_t>(
                    inputs[static_cast<std::size_t>(unit.arguments[f][k])])];
            const auto v = unit.functions[f]->evaluate_known(
                               std::span<const std::uint64_t>(args, unit.arguments[f].size())) &
                           rows_;
            useful = useful ||
                     std::find(signals_.begin(), signals_.begin() + static_cast<std::ptrdiff_t>(before), v) ==
                         signals_.begin() + static_cast<std::ptrdiff_t>(before);
            signals_.push_back(v);
        }
        // As many gates as are left must be able to meet what is missing.
        if (useful && (left > 1 || missing <= static_cast<int>(unit.functions.size()))) {
            placed_.push_back({u, inputs, static_cast<int>(before)});
            --capacity_[static_cast<std::size_t>(u)];
            place(left - 1, {u, inputs});
            ++capacity_[static_cast<std::size_t>(u)];
            placed_.pop_back();
        }
        signals_.resize(before);
    }
    const WantedLogic& w_;
    const MinimiseLimits& limits_;
    Progress& progress_;
    long long& steps_;
    std::uint64_t rows_ = 0;
    std::vector<std::uint64_t> signals_;  ///< 0, 1, the inputs, then what the gates give
    const std::vector<const GateKind*>* units_ = nullptr;
    std::vector<int> capacity_;
    std::vector<PlacedGate> placed_;
    std::vector<std::vector<PlacedGate>>* out_ = nullptr;
    std::size_t most_ = 0;
};

/// Every choice of n packages, as a number of each kind.
void add_choices(const std::vector<int>& counts, std::size_t at, int left, std::vector<int>& take,
                 std::vector<std::vector<int>>& out) {
    if (at == counts.size()) {
        if (left == 0) out.push_back(take);
        return;
    }
    for (int k = 0; k <= std::min(left, counts[at]); ++k) {
        take[at] = k;
        add_choices(counts, at + 1, left - k, take, out);
    }
    take[at] = 0;
}
std::vector<std::vector<int>> choices_of(const std::vector<int>& counts, int n) {
    std::vector<std::vector<int>> out;
    std::vector<int> take(counts.size(), 0);
    add_choices(counts, 0, n, take, out);
    return out;
}

/// The net list read back does what is wanted, where it is cared for.
bool does(const Realisation& r, const WantedLogic& wanted, const LogicLibrary& library, Progress& progress) {
    const auto network = read_network(r.net_list, library);
    if (!network.computable()) return false;
    const auto back = wanted_from(network, progress);
    if (!back || back->outputs.size() != wanted.outputs.size()) return false;
    for (std::size_t o = 0; o < wanted.outputs.size(); ++o)
        if (((back->outputs[o].ones ^ wanted.outputs[o].ones) & wanted.outputs[o].care) != 0) return false;
    return true;
}

/// The kinds of gates in the drawer, and how many packages there are of each; parts that are no plain gates
/// are left out.
Result<std::pair<std::vector<GateKind>, std::vector<int>>> drawer_kinds(const std::vector<DrawerItem>& drawer,
                                                                        const LogicLibrary& library) {
    std::vector<GateKind> units;
    std::vector<int> counts;
    for (const auto& item : drawer) {
        const auto* logic = library.find(item.part);
        if (logic == nullptr)
            return fail_usage(in_quotes(item.part) + " in the drawer",
                              "a part whose logic is known, such as 74x00");
        if (logic->find_delays(item.family) == nullptr)
            return fail_usage(fmt::format("{} in family {}", item.part, in_quotes(item.family)),
                              "a family in the part's data");
        if (auto u = gate_kind(*logic, item.family)) {
            units.push_back(std::move(*u));
            counts.push_back(item.count);
        }
    }
    return std::pair(std::move(units), std::move(counts));
}

struct SearchTask {
    const WantedLogic& wanted;
    const std::vector<GateKind>& units;
    const LogicLibrary& library;
    const MinimiseLimits& limits;
    Progress& progress;
};
struct CircuitSize {
    int packages, gates;
};

/// Every circuit of so many gates from this choice of packages. False: it could not look at all of them.
bool try_choice(const SearchTask& t, const std::vector<int>& choice, CircuitSize size,
                MinimiseResult& result) {
    std::vector<const GateKind*> used;
    std::vector<int> capacity;
    int total = 0;
    for (std::size_t u = 0; u < t.units.size(); ++u)
        if (choice[u] > 0) {
            used.push_back(&t.units[u]);
            capacity.push_back(choice[u] * static_cast<int>(t.units[u].gates()));
            total += capacity.back();
        }
    if (total < size.gates) return true;
    std::vector<std::vector<PlacedGate>> found;
    Search search(t.wanted, t.limits, t.progress, result.steps);
    const bool complete = search.run(used, capacity, size.gates, found, t.limits.results);
    if (t.progress.cancelled()) return false;
    for (const auto& circuit : found) {
        auto r = realise(t.wanted, used, circuit);
        if (r.packages.size() != static_cast<std::size_t>(size.packages))
            continue;  // fewer would do: found before
        if (does(r, t.wanted, t.library, t.progress)) result.best.push_back(std::move(r));
    }
    return complete;
}

}  // namespace

Result<MinimiseResult> minimise(const WantedLogic& wanted, const std::vector<DrawerItem>& drawer,
                                const LogicLibrary& library, const MinimiseLimits& limits,
                                Progress& progress) {
    long_work("minimise");
    if (wanted.inputs.empty() || wanted.inputs.size() > 6 || wanted.outputs.empty())
        return fail_usage(fmt::format("{} inputs, {} outputs", wanted.inputs.size(), wanted.outputs.size()),
                          "1 to 6 inputs and at least one output");
    auto drawn = drawer_kinds(drawer, library);
    if (!drawn) return fail(drawn.error());
    const auto& [units, counts] = *drawn;
    MinimiseResult result;
    if (units.empty()) {
        result.note = "no package in the drawer is made of plain gates";
        return result;
    }
    Search trivial(wanted, limits, progress, result.steps);
    if (trivial.met()) {
        result.complete = true;
        result.note = "every output is an input, or a level: no gate is needed";
        return result;
    }
    bool out_of_steps = false;
    for (int n = 1; n <= limits.packages && result.best.empty() && !out_of_steps; ++n) {
        const auto choices = choices_of(counts, n);
        for (int gates = n; gates <= limits.gates && result.best.empty() && !out_of_steps; ++gates) {
            for (const auto& choice : choices) {
                if (!try_choice({wanted, units, library, limits, progress}, choice, {n, gates}, result))
                    out_of_steps = true;
                if (progress.cancelled()) return fail_cancelled();
                if (out_of_steps) break;
            }
        }
    }
    std::stable_sort(result.best.begin(), result.best.end(), [](const Realisation& a, const Realisation& b) {
        return std::tuple(a.packages.size(), a.gates, a.slowest) <
               std::tuple(b.packages.size(), b.gates, b.slowest);
    });
    result.best.erase(std::unique(result.best.begin(), result.best.end(),
                                  [](const auto& a, const auto& b) { return a.net_list == b.net_list; }),
                      result.best.end());
    if (result.best.size() > limits.results) result.best.resize(limits.results);
    result.complete = !out_of_steps;
    if (result.best.empty())
        result.note = out_of_steps ? "none found before the search was ended"
                                   : fmt::format("none with up to {} packages and {} gates from this drawer",
                                                 limits.packages, limits.gates);
    else if (out_of_steps)
        result.note = "the search was ended early: something smaller may exist";
    return result;
}

}  // namespace grayrelic
