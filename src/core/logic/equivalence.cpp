// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/logic/equivalence.hpp"

#include "core/base/long_work.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <deque>
#include <thread>
#include <unordered_map>

#include "core/base/quantity.hpp"
#include "core/base/random.hpp"
#include "core/base/text.hpp"
#include "core/logic/step_machine.hpp"
#include "core/logic/truth.hpp"

namespace grayrelic {
namespace {

std::vector<std::string> free_inputs(const Network& n) {
    std::vector<std::string> out;
    for (const auto& in : n.inputs)
        if (in.from != NetworkInput::From::level) out.push_back(n.net_name(in.net));
    return out;
}
std::vector<std::string> output_names(const Network& n) {
    std::vector<std::string> out;
    for (const int o : n.outputs) out.push_back(n.net_name(o));
    return out;
}

Status same_names(std::vector<std::string> a, std::vector<std::string> b, const char* what) {
    std::sort(a.begin(), a.end());
    std::sort(b.begin(), b.end());
    std::vector<std::string> odd;
    std::set_symmetric_difference(a.begin(), a.end(), b.begin(), b.end(), std::back_inserter(odd));
    if (odd.empty()) return {};
    return fail_usage(fmt::format("{} {} in only one of the networks", what, in_quotes(odd.front())),
                      fmt::format("the same {}s in both", what));
}

std::vector<std::size_t> places(const std::vector<std::string>& names, const std::vector<std::string>& in) {
    std::vector<std::size_t> out;
    out.reserve(names.size());
    for (const auto& n : names)
        out.push_back(static_cast<std::size_t>(std::find(in.begin(), in.end(), n) - in.begin()));
    return out;
}

// --- gates only
// ---------------------------------------------------------------------------------------------

/// Rows of the second table are numbered by the first one's inputs, so its inputs must stand in the same
/// order: the network is read again with them sorted.
Network with_inputs_as(const Network& n, const std::vector<std::string>& order) {
    Network out = n;
    std::stable_sort(out.inputs.begin(), out.inputs.end(), [&](const NetworkInput& a, const NetworkInput& b) {
        const auto place = [&](const NetworkInput& i) {
            return std::find(order.begin(), order.end(), n.net_name(i.net)) - order.begin();
        };
        return place(a) < place(b);
    });
    for (std::size_t i = 0; i < out.inputs.size(); ++i)
        out.nets[static_cast<std::size_t>(out.inputs[i].net)].input = static_cast<int>(i);
    return out;
}

void report_row(Equivalence& e, const Tabulator& a, const Tabulator& b, std::uint64_t row) {
    const auto n = a.inputs().size();
    std::vector<Levels> in(n), x, y;
    std::vector<std::pair<std::string, bool>> setting;
    for (std::size_t i = 0; i < n; ++i) {
        const bool one = ((row >> (n - 1 - i)) & 1U) != 0;
        in[i] = known(one ? ~0ULL : 0);
        setting.emplace_back(a.inputs()[i], one);
    }
    a.evaluate(in, x);
    b.evaluate(in, y);
    const auto level = [](const Levels& v) {
        return (v.one & 1U) != 0 ? Level::one : (v.zero & 1U) != 0 ? Level::zero : Level::unknown;
    };
    const auto at = places(a.outputs(), b.outputs());
    for (std::size_t o = 0; o < x.size(); ++o) {
        if (level(x[o]) == level(y[at[o]])) continue;
        e.output = a.outputs()[o];
        e.first = level(x[o]);
        e.second = level(y[at[o]]);
        break;
    }
    e.answer = Equivalence::Answer::differ;
    e.steps = {std::move(setting)};
}

constexpr std::uint64_t none = ~0ULL;

/// The lowest row below `rows` in which they differ, by blocks of 512; threads take every n-th stretch of
/// blocks.
std::uint64_t first_difference(const Tabulator& a, const Tabulator& b, std::uint64_t rows, unsigned threads,
                               Progress& progress) {
    const std::uint64_t block_rows = Tabulator::block_words * 64,
                        blocks = (rows + block_rows - 1) / block_rows;
    const auto at = places(a.outputs(), b.outputs());
    std::atomic<std::uint64_t> found{none};
    constexpr std::uint64_t stretch = 256;
    const auto work = [&](unsigned first) {
        std::vector<Tabulator::Block> ra, rb;
        for (std::uint64_t s = first * stretch; s < blocks; s += stretch * threads) {
            if (progress.cancelled()) return;
            if (first == 0) progress.report(static_cast<double>(s) / static_cast<double>(blocks));
            for (std::uint64_t block = s; block < std::min(blocks, s + stretch); ++block) {
                if (block * block_rows > found.load(std::memory_order_relaxed)) return;
                a.evaluate_block(block, ra);
                b.evaluate_block(block, rb);
                for (std::size_t w = 0; w < Tabulator::block_words; ++w) {
                    std::uint64_t odd = 0;
                    for (std::size_t o = 0; o < at.size(); ++o)
                        odd |= a.output(o, ra)[w] ^ b.output(at[o], rb)[w];
                    if (odd == 0) continue;
                    const std::uint64_t row = (block * Tabulator::block_words + w) * 64 +
                                              static_cast<std::uint64_t>(__builtin_ctzll(odd));
                    if (row >= rows) continue;
                    auto seen = found.load();
                    while (row < seen && !found.compare_exchange_weak(seen, row)) {
                    }
                    return;
                }
            }
        }
    };
    std::vector<std::thread> pool;
    for (unsigned t = 1; t < threads; ++t) pool.emplace_back(work, t);
    work(0);
    for (auto& t : pool) t.join();
    return found.load();
}

/// The same with unknown levels, 64 rows at a time.
std::uint64_t first_difference_slow(const Tabulator& a, const Tabulator& b, std::uint64_t rows,
                                    Progress& progress) {
    const auto n = a.inputs().size();
    const auto at = places(a.outputs(), b.outputs());
    std::vector<Levels> in(n), x, y;
    for (std::uint64_t from = 0; from < rows; from += 64) {
        if (progress.cancelled()) return none;
        for (std::size_t i = 0; i < n; ++i) {
            std::uint64_t bits = 0;
            for (std::uint64_t r = 0; r < 64; ++r) bits |= (((from + r) >> (n - 1 - i)) & 1U) << r;
            in[i] = known(bits);
        }
        a.evaluate(in, x);
        b.evaluate(in, y);
        std::uint64_t odd = 0;
        for (std::size_t o = 0; o < x.size(); ++o)
            odd |= (x[o].one ^ y[at[o]].one) | (x[o].zero ^ y[at[o]].zero);
        if (rows - from < 64) odd &= (1ULL << (rows - from)) - 1;
        if (odd != 0) return from + static_cast<std::uint64_t>(__builtin_ctzll(odd));
    }
    return none;
}

Result<Equivalence> compare_gates(const Network& first, const Network& second,
                                  const EquivalenceLimits& limits, Progress& progress) {
    const auto a = Tabulator::of(first);
    if (!a) return fail(a.error());
    const auto sorted = with_inputs_as(second, a->inputs());
    const auto b = Tabulator::of(sorted);
    if (!b) return fail(b.error());
    Equivalence e;
    const auto n = a->inputs().size();
    const bool fast = a->two_valued() && b->two_valued();
    if (n > limits.inputs || (!fast && n > 22)) {
        // Too many to see them all: a difference can still be found, equality can't.
        Random random(limits.seed);
        std::vector<Levels> in(n), x, y;
        const auto at = places(a->outputs(), b->outputs());
        for (int round = 0; round < 20'000 && !progress.cancelled(); ++round) {
            for (auto& v : in) v = known(random.next());
            a->evaluate(in, x);
            b->evaluate(in, y);
            e.looked_at += 64;
            std::uint64_t odd = 0;
            for (std::size_t o = 0; o < x.size(); ++o)
                odd |= (x[o].one ^ y[at[o]].one) | (x[o].zero ^ y[at[o]].zero);
            if (odd == 0) continue;
            const auto bit = static_cast<unsigned>(__builtin_ctzll(odd));
            std::vector<std::pair<std::string, bool>> setting;
            for (std::size_t i = 0; i < n; ++i)
                setting.emplace_back(a->inputs()[i], ((in[i].one >> bit) & 1U) != 0);
            e.answer = Equivalence::Answer::differ;
            e.steps = {std::move(setting)};
            for (std::size_t o = 0; o < x.size(); ++o) {
                const auto level = [&](const Levels& v) {
                    return ((v.one >> bit) & 1U) != 0    ? Level::one
                           : ((v.zero >> bit) & 1U) != 0 ? Level::zero
                                                         : Level::unknown;
                };
                if (level(x[o]) == level(y[at[o]])) continue;
                e.output = a->outputs()[o];
                e.first = level(x[o]);
                e.second = level(y[at[o]]);
                break;
            }
            return e;
        }
        if (progress.cancelled()) return fail_cancelled();
        e.note = fmt::format("{} inputs are too many to see every setting; {} were sampled and agree", n,
                             print_count(static_cast<long long>(e.looked_at)));
        return e;
    }
    const std::uint64_t rows = std::uint64_t{1} << n;
    const auto row = fast ? first_difference(*a, *b, rows, std::max(1U, limits.threads), progress)
                          : first_difference_slow(*a, *b, rows, progress);
    if (progress.cancelled()) return fail_cancelled();
    e.looked_at = row == none ? rows : row + 1;
    if (row == none)
        e.answer = Equivalence::Answer::equal;
    else
        report_row(e, *a, *b, row);
    return e;
}

// --- storage
// ------------------------------------------------------------------------------------------------

struct Seen {
    std::string key;
    std::size_t from;
    int input;
    bool level;
    unsigned long depth;
};

std::string key_of(const StepMachine& a, const StepMachine& b) {
    std::string key;
    for (const auto* list : {&a.inputs(), &a.bits(), &b.inputs(), &b.bits()})
        for (const auto l : *list) key += static_cast<char>(l);
    return key;
}

void split_key(const std::string& key, StepMachine& a, StepMachine& b) {
    std::size_t at = 0;
    const auto take = [&](std::size_t n) {
        std::vector<Level> out;
        for (std::size_t i = 0; i < n; ++i) out.push_back(static_cast<Level>(key[at++]));
        return out;
    };
    const auto ai = take(a.inputs().size()), ab = take(a.bits().size()), bi = take(b.inputs().size()),
               bb = take(b.bits().size());
    (void)a.restore(ai, ab);
    (void)b.restore(bi, bb);
}

Result<Equivalence> compare_storage(const Network& first, const Network& second,
                                    const EquivalenceLimits& limits, Progress& progress) {
    StepMachine a(first), b(second);
    const auto names = free_inputs(first), outs = output_names(first);
    const auto input_place = [](const Network& n, const std::string& name) {
        return static_cast<std::size_t>(*n.nets[static_cast<std::size_t>(*n.find_net(name))].input);
    };
    std::vector<std::pair<std::size_t, std::size_t>> inputs;
    inputs.reserve(names.size());
    for (const auto& n : names) inputs.emplace_back(input_place(first, n), input_place(second, n));
    std::vector<std::pair<int, int>> outputs;
    outputs.reserve(outs.size());
    for (const auto& n : outs) outputs.emplace_back(*first.find_net(n), *second.find_net(n));
    Equivalence e;
    const auto read_level = [](Level l) { return l == Level::open ? Level::unknown : l; };
    const auto odd_output = [&]() -> int {
        for (std::size_t o = 0; o < outputs.size(); ++o) {
            const auto x = read_level(a.net(outputs[o].first)), y = read_level(b.net(outputs[o].second));
            if (x != Level::unknown && x != y) return static_cast<int>(o);
        }
        return -1;
    };
    std::vector<Seen> seen{{key_of(a, b), 0, -1, false, 0}};
    std::unordered_map<std::string, std::size_t> index{{seen[0].key, 0}};
    const auto path_to = [&](std::size_t at) {
        std::vector<std::vector<std::pair<std::string, bool>>> steps;
        for (; seen[at].input >= 0; at = seen[at].from)
            steps.push_back({{names[static_cast<std::size_t>(seen[at].input)], seen[at].level}});
        std::vector<std::pair<std::string, bool>> all;
        all.reserve(names.size());
        for (const auto& n : names) all.emplace_back(n, false);
        steps.push_back(std::move(all));
        std::reverse(steps.begin(), steps.end());
        return steps;
    };
    const auto differ = [&](std::size_t at, int o) {
        e.answer = Equivalence::Answer::differ;
        e.output = outs[static_cast<std::size_t>(o)];
        e.first = read_level(a.net(outputs[static_cast<std::size_t>(o)].first));
        e.second = read_level(b.net(outputs[static_cast<std::size_t>(o)].second));
        e.steps = path_to(at);
        e.looked_at = seen.size();
    };
    if (const int o = odd_output(); o >= 0) {
        differ(0, o);
        return e;
    }
    for (std::size_t at = 0; at < seen.size(); ++at) {
        if ((at & 0xFF) == 0) {
            if (progress.cancelled()) return fail_cancelled();
            progress.report(static_cast<double>(at) / static_cast<double>(limits.states));
        }
        e.depth = seen[at].depth;
        for (std::size_t i = 0; i < inputs.size(); ++i) {
            split_key(seen[at].key, a, b);
            const bool level = a.inputs()[inputs[i].first] != Level::one;
            const bool still = a.set(inputs[i].first, level ? Level::one : Level::zero) &&
                               b.set(inputs[i].second, level ? Level::one : Level::zero);
            if (!still) {
                e.note = "a network does not come to rest after a change of " + names[i];
                e.looked_at = seen.size();
                return e;
            }
            auto key = key_of(a, b);
            const auto [it, added] = index.emplace(std::move(key), seen.size());
            if (!added) continue;
            seen.push_back({it->first, at, static_cast<int>(i), level, seen[at].depth + 1});
            if (const int o = odd_output(); o >= 0) {
                differ(seen.size() - 1, o);
                return e;
            }
            if (seen.size() > limits.states) {
                e.looked_at = seen.size();
                e.note = fmt::format("more than {} states; everything up to {} changes deep agrees",
                                     print_count(static_cast<long long>(limits.states)), e.depth);
                return e;
            }
        }
    }
    e.answer = Equivalence::Answer::equal;
    e.looked_at = seen.size();
    return e;
}

}  // namespace

std::string_view word(Equivalence::Answer a) {
    return a == Equivalence::Answer::equal    ? "equal"
           : a == Equivalence::Answer::differ ? "differ"
                                              : "not proven";
}

Result<Equivalence> compare_networks(const Network& first, const Network& second,
                                     const EquivalenceLimits& limits, Progress& progress) {
    long_work("compare_networks");
    for (const auto* n : {&first, &second})
        for (const auto& p : n->problems)
            if (p.fatal) return fail_at("", p.line, p.says, p.expected);
    if (auto same = same_names(free_inputs(first), free_inputs(second), "input"); !same)
        return fail(same.error());
    if (auto same = same_names(output_names(first), output_names(second), "output"); !same)
        return fail(same.error());
    return first.stores() || second.stores() || !first.loop.empty() || !second.loop.empty()
               ? compare_storage(first, second, limits, progress)
               : compare_gates(first, second, limits, progress);
}

}  // namespace grayrelic
