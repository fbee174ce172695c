// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/logic/minimise.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <bit>
#include <charconv>
#include <map>
#include <set>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

/// One gate of a package, or a whole package whose outputs share their inputs.
struct Unit {
    const PartLogic* logic = nullptr;
    std::string family;
    std::vector<std::vector<int>> outputs;     ///< [gate of the package] → its outputs
    std::vector<std::vector<int>> inputs;      ///< [gate of the package] → its inputs, in one order for all
    std::vector<const Expression*> functions;  ///< of gate 0's outputs
    std::vector<std::vector<int>> arguments;   ///< of each function: index into the gate's inputs
    bool symmetric = false;
    Time slow;
    std::size_t gates() const { return outputs.size(); }
    std::size_t fan_in() const { return inputs.front().size(); }
};

/// Parts a package into gates: outputs that read the same pins belong together.
std::optional<Unit> unit_of(const PartLogic& logic, const std::string& family) {
    const auto* delays = logic.find_delays(family);
    if (logic.stores() || delays == nullptr) return std::nullopt;
    Unit u;
    u.logic = &logic;
    u.family = family;
    u.slow = std::max(delays->gates[2].rise, delays->gates[2].fall);
    std::map<std::vector<int>, std::vector<int>> groups;
    std::vector<std::vector<int>> order;
    for (std::size_t o = 0; o < logic.outputs.size(); ++o) {
        if (!logic.outputs[o].enable.steps().empty())
            return std::nullopt;  // who pulls up, who else drives: not here
        std::vector<int> in;
        for (const auto& name : logic.outputs[o].value.names())
            in.push_back(static_cast<int>(std::find(logic.inputs.begin(), logic.inputs.end(), name) -
                                          logic.inputs.begin()));
        std::sort(in.begin(), in.end());
        if (groups.find(in) == groups.end()) order.push_back(in);
        groups[in].push_back(static_cast<int>(o));
    }
    // Gates that share a pin are not free of each other: then only the first is used.
    std::set<int> taken;
    bool shared = false;
    for (const auto& in : order)
        for (const int i : in) shared = !taken.insert(i).second || shared;
    if (shared) order.resize(1);
    for (const auto& in : order) {
        u.inputs.push_back(in);
        u.outputs.push_back(groups[in]);
    }
    if (u.fan_in() > 6 || u.fan_in() == 0) return std::nullopt;
    for (const int o : u.outputs.front()) {
        const auto& e = logic.outputs[static_cast<std::size_t>(o)].value;
        u.functions.push_back(&e);
        std::vector<int> args;
        for (const auto& name : e.names()) {
            const int pin = static_cast<int>(std::find(logic.inputs.begin(), logic.inputs.end(), name) -
                                             logic.inputs.begin());
            args.push_back(static_cast<int>(std::find(u.inputs[0].begin(), u.inputs[0].end(), pin) -
                                            u.inputs[0].begin()));
        }
        u.arguments.push_back(std::move(args));
    }
    // Symmetric: exchanging any two neighbours changes nothing.
    constexpr std::uint64_t columns[6] = {0xAAAAAAAAAAAAAAAAULL, 0xCCCCCCCCCCCCCCCCULL,
                                          0xF0F0F0F0F0F0F0F0ULL, 0xFF00FF00FF00FF00ULL,
                                          0xFFFF0000FFFF0000ULL, 0xFFFFFFFF00000000ULL};
    u.symmetric = u.functions.size() == 1;
    std::vector<std::uint64_t> v(columns, columns + u.fan_in());
    const auto eval = [&] {
        std::vector<std::uint64_t> args;
        for (const int a : u.arguments[0]) args.push_back(v[static_cast<std::size_t>(a)]);
        return u.functions[0]->evaluate_known(args);
    };
    const auto plain = eval();
    for (std::size_t i = 0; i + 1 < v.size() && u.symmetric; ++i) {
        std::swap(v[i], v[i + 1]);
        u.symmetric = eval() == plain;
        std::swap(v[i], v[i + 1]);
    }
    return u;
}

struct Placed {
    int unit;
    std::vector<int> inputs;  ///< signals
    int first_output;         ///< signal number
};

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
    bool run(const std::vector<const Unit*>& units, std::vector<int> capacity, int gates,
             std::vector<std::vector<Placed>>& out, std::size_t most) {
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
                           [](const Unit* u) { return u->functions.size() == 1; });
    }
    void choose(int u, std::vector<int>& inputs, std::size_t at, int left, const Key& last, int missing) {
        const Unit& unit = *(*units_)[static_cast<std::size_t>(u)];
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
    const std::vector<const Unit*>* units_ = nullptr;
    std::vector<int> capacity_;
    std::vector<Placed> placed_;
    std::vector<std::vector<Placed>>* out_ = nullptr;
    std::size_t most_ = 0;
};

/// The circuit as a net list: inputs, outputs, one line a package; unused inputs tied to 0.
Realisation realise(const WantedLogic& w, const std::vector<const Unit*>& units,
                    const std::vector<Placed>& gates) {
    Realisation r;
    r.gates = static_cast<int>(gates.size());
    const auto inputs = w.inputs.size();
    std::vector<std::string> names{"0", "1"};
    for (const auto& i : w.inputs) names.push_back(i);
    // Inner nets are called n1, n2 … unless the table has such a name itself.
    std::string inner = "n";
    const auto taken = [&](const std::string& name) { return name.starts_with(inner); };
    while (std::any_of(w.inputs.begin(), w.inputs.end(), taken) ||
           std::any_of(w.outputs.begin(), w.outputs.end(),
                       [&](const WantedLogic::Output& o) { return taken(o.name); }))
        inner += "n";
    std::vector<std::uint64_t> values;
    std::vector<Time> slow(2 + inputs);
    // Values once more, to see which signal meets which output.
    const std::uint64_t rows = inputs == 6 ? ~0ULL : (1ULL << (1U << inputs)) - 1;
    values = {0, rows};
    for (std::size_t i = 0; i < inputs; ++i) {
        std::uint64_t bits = 0;
        for (std::uint64_t row = 0; row < (1ULL << inputs); ++row)
            bits |= ((row >> (inputs - 1 - i)) & 1U) << row;
        values.push_back(bits);
    }
    for (const auto& g : gates) {
        const Unit& u = *units[static_cast<std::size_t>(g.unit)];
        Time latest;
        for (const int s : g.inputs) latest = std::max(latest, slow[static_cast<std::size_t>(s)]);
        for (std::size_t f = 0; f < u.functions.size(); ++f) {
            std::vector<std::uint64_t> args;
            for (const int a : u.arguments[f])
                args.push_back(values[static_cast<std::size_t>(g.inputs[static_cast<std::size_t>(a)])]);
            values.push_back(u.functions[f]->evaluate_known(args) & rows);
            slow.push_back(latest + u.slow);
            names.push_back(fmt::format("{}{}", inner, names.size() - 1 - inputs));
        }
    }
    // An output takes its gate's net name; a net that serves two outputs, or an input or level, needs a
    // buffer we may not have: those are written as a remark by the caller's check.
    std::vector<bool> named(names.size(), false);
    for (const auto& o : w.outputs) {
        for (std::size_t s = names.size(); s-- > 2 + inputs;) {
            if (named[s] || ((values[s] ^ o.ones) & o.care) != 0) continue;
            names[s] = o.name;
            named[s] = true;
            r.slowest = std::max(r.slowest, slow[s]);
            break;
        }
    }
    r.net_list = "input";
    for (const auto& i : w.inputs) r.net_list += " " + i;
    r.net_list += "\noutput";
    for (const auto& o : w.outputs) r.net_list += " " + o.name;
    r.net_list += "\n";
    // Gates of one unit kind fill its packages one after the other.
    int ref = 0;
    for (std::size_t u = 0; u < units.size(); ++u) {
        const Unit& unit = *units[u];
        std::size_t used = 0;
        const auto total = static_cast<std::size_t>(std::count_if(
            gates.begin(), gates.end(), [&](const Placed& g) { return g.unit == static_cast<int>(u); }));
        for (const auto& g : gates) {
            if (g.unit != static_cast<int>(u)) continue;
            const auto gate = used % unit.gates();
            if (gate == 0) {
                r.net_list += fmt::format("U{} {} {}:", ++ref, unit.logic->id, unit.family);
                r.packages.push_back(unit.logic->id + " " + unit.family);
            }
            for (std::size_t i = 0; i < unit.fan_in(); ++i)
                r.net_list +=
                    fmt::format(" {}={}", unit.logic->inputs[static_cast<std::size_t>(unit.inputs[gate][i])],
                                names[static_cast<std::size_t>(g.inputs[i])]);
            for (std::size_t f = 0; f < unit.functions.size(); ++f)
                r.net_list += fmt::format(
                    " {}={}", unit.logic->outputs[static_cast<std::size_t>(unit.outputs[gate][f])].pin,
                    names[static_cast<std::size_t>(g.first_output) + f]);
            ++used;
            if (gate + 1 == unit.gates() || used == total) {
                const auto in_package = gate + 1;
                std::set<int> tied;
                for (std::size_t rest = 0; rest < in_package; ++rest)
                    for (const int i : unit.inputs[rest]) tied.insert(i);
                for (std::size_t i = 0; i < unit.logic->inputs.size(); ++i)
                    if (tied.count(static_cast<int>(i)) == 0)
                        r.net_list += fmt::format(" {}=0", unit.logic->inputs[i]);
                r.net_list += "\n";
                if (in_package < unit.gates())
                    r.spare.push_back(
                        fmt::format("U{}: {} of {} gates", ref, unit.gates() - in_package, unit.gates()));
            }
        }
    }
    return r;
}

}  // namespace

Result<DrawerItem> parse_drawer_item(std::string_view text) {
    std::vector<std::string_view> words;
    for (const auto w : split(text, ' '))
        if (!trim(w).empty()) words.push_back(trim(w));
    DrawerItem item;
    if (words.size() == 4 && (words[1] == "×" || words[1] == "x")) {
        const auto [end, code] =
            std::from_chars(words[0].data(), words[0].data() + words[0].size(), item.count);
        if (code != std::errc() || end != words[0].data() + words[0].size() || item.count < 1 ||
            item.count > 1000)
            return fail_usage(in_quotes(words[0]) + " packages", "a number from 1 to 1000");
        words.erase(words.begin(), words.begin() + 2);
    }
    if (words.size() != 2) return fail_usage(in_quotes(text), "N × PART FAMILY, such as 2 × 74x00 hct");
    item.part = std::string(words[0]);
    item.family = std::string(words[1]);
    return item;
}

std::string print_drawer_item(const DrawerItem& i) {
    return fmt::format("{} × {} {}", i.count, i.part, i.family);
}

Result<WantedLogic> wanted_from(const Network& network, Progress& progress) {
    const auto t = truth_table(network, progress);
    if (!t) return fail(t.error());
    if (t->inputs.size() > 6)
        return fail_usage(fmt::format("{} inputs", t->inputs.size()), "at most 6: hold some at a level");
    WantedLogic w;
    w.inputs = t->inputs;
    for (std::size_t o = 0; o < t->outputs.size(); ++o) {
        WantedLogic::Output out{t->outputs[o], 0, 0};
        for (std::size_t r = 0; r < t->rows.size(); ++r) {
            if (t->rows[r][o] == Level::one) out.ones |= 1ULL << r;
            if (t->rows[r][o] == Level::one || t->rows[r][o] == Level::zero) out.care |= 1ULL << r;
        }
        w.outputs.push_back(std::move(out));
    }
    return w;
}

Result<WantedLogic> wanted_from_text(std::string_view text, const std::string& name) {
    WantedLogic w;
    long line = 0;
    const auto words = [](std::string_view part) {
        std::vector<std::string_view> out;
        for (const auto a : split(part, ' '))
            if (!trim(a).empty()) out.push_back(trim(a));
        return out;
    };
    for (auto row : split(text, '\n')) {
        ++line;
        if (const auto hash = row.find('#'); hash != std::string_view::npos) row = row.substr(0, hash);
        if (trim(row).empty()) continue;
        const auto bar = row.find('|');
        if (bar == std::string_view::npos)
            return fail_at(name, line, in_quotes(trim(row)), "inputs | outputs");
        const auto left = words(row.substr(0, bar)), right = words(row.substr(bar + 1));
        if (w.outputs.empty()) {
            if (left.empty() || left.size() > 6 || right.empty() || right.size() > 8)
                return fail_at(name, line, in_quotes(trim(row)),
                               "1 to 6 inputs | 1 to 8 outputs as the heading");
            std::set<std::string_view> seen;
            for (const auto n : left) w.inputs.emplace_back(n);
            for (const auto n : right) w.outputs.push_back({std::string(n), 0, 0});
            for (const auto* list : {&left, &right})
                for (const auto n : *list)
                    if (n == "0" || n == "1" || !seen.insert(n).second)
                        return fail_at(name, line, in_quotes(n), "each name once");
            continue;
        }
        if (left.size() != w.inputs.size() || right.size() != w.outputs.size())
            return fail_at(name, line, in_quotes(trim(row)),
                           fmt::format("{} inputs | {} outputs", w.inputs.size(), w.outputs.size()));
        for (std::uint64_t r = 0; r < (1ULL << w.inputs.size()); ++r) {
            bool mine = true;
            for (std::size_t i = 0; i < left.size(); ++i) {
                const bool one = ((r >> (w.inputs.size() - 1 - i)) & 1U) != 0;
                if (left[i] != "0" && left[i] != "1" && left[i] != "-")
                    return fail_at(name, line, in_quotes(left[i]), "0, 1 or -");
                mine = mine && (left[i] == "-" || (left[i] == "1") == one);
            }
            for (std::size_t o = 0; o < right.size() && mine; ++o) {
                if (right[o] != "0" && right[o] != "1" && right[o] != "x")
                    return fail_at(name, line, in_quotes(right[o]), "0, 1 or x");
                auto& out = w.outputs[o];
                const auto bit = 1ULL << r;
                if (right[o] == "x") continue;
                if ((out.care & bit) != 0 && ((out.ones & bit) != 0) != (right[o] == "1"))
                    return fail_at(name, line, "a row that contradicts one above",
                                   "each setting of the inputs once");
                out.care |= bit;
                if (right[o] == "1") out.ones |= bit;
            }
        }
    }
    if (w.outputs.empty()) return fail_at(name, 1, "no table", "a heading \"a b | y\" and rows");
    return w;
}

Result<MinimiseResult> minimise(const WantedLogic& wanted, const std::vector<DrawerItem>& drawer,
                                const LogicLibrary& library, const MinimiseLimits& limits,
                                Progress& progress) {
    if (wanted.inputs.empty() || wanted.inputs.size() > 6 || wanted.outputs.empty())
        return fail_usage(fmt::format("{} inputs, {} outputs", wanted.inputs.size(), wanted.outputs.size()),
                          "1 to 6 inputs and at least one output");
    std::vector<Unit> units;
    std::vector<int> counts;
    for (const auto& item : drawer) {
        const auto* logic = library.find(item.part);
        if (logic == nullptr)
            return fail_usage(in_quotes(item.part) + " in the drawer",
                              "a part whose logic is known, such as 74x00");
        if (logic->find_delays(item.family) == nullptr)
            return fail_usage(fmt::format("{} in family {}", item.part, in_quotes(item.family)),
                              "a family in the part's data");
        if (auto u = unit_of(*logic, item.family)) {
            units.push_back(std::move(*u));
            counts.push_back(item.count);
        }
    }
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
        // Every choice of n packages, as a number of each kind.
        std::vector<std::vector<int>> choices;
        std::vector<int> take(units.size(), 0);
        const auto spread = [&](auto&& self, std::size_t at, int left) -> void {
            if (at == units.size()) {
                if (left == 0) choices.push_back(take);
                return;
            }
            for (int k = 0; k <= std::min(left, counts[at]); ++k) {
                take[at] = k;
                self(self, at + 1, left - k);
            }
            take[at] = 0;
        };
        spread(spread, 0, n);
        for (int gates = n; gates <= limits.gates && result.best.empty() && !out_of_steps; ++gates) {
            for (const auto& choice : choices) {
                std::vector<const Unit*> used;
                std::vector<int> capacity;
                int total = 0;
                for (std::size_t u = 0; u < units.size(); ++u)
                    if (choice[u] > 0) {
                        used.push_back(&units[u]);
                        capacity.push_back(choice[u] * static_cast<int>(units[u].gates()));
                        total += capacity.back();
                    }
                if (total < gates) continue;
                std::vector<std::vector<Placed>> found;
                Search search(wanted, limits, progress, result.steps);
                if (!search.run(used, capacity, gates, found, limits.results)) out_of_steps = true;
                if (progress.cancelled()) return fail_cancelled();
                for (const auto& circuit : found) {
                    auto r = realise(wanted, used, circuit);
                    if (r.packages.size() != static_cast<std::size_t>(n))
                        continue;  // fewer would do: found before
                    const auto network = read_network(r.net_list, library);
                    const auto back = network.computable() ? wanted_from(network, progress)
                                                           : Result<WantedLogic>(fail_usage("", ""));
                    bool right = back && back->outputs.size() == wanted.outputs.size();
                    for (std::size_t o = 0; right && o < wanted.outputs.size(); ++o)
                        right =
                            ((back->outputs[o].ones ^ wanted.outputs[o].ones) & wanted.outputs[o].care) == 0;
                    if (right) result.best.push_back(std::move(r));
                }
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
