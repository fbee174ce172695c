// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/logic/truth.hpp"

#include "core/base/long_work.hpp"

#include <fmt/format.h>

#include <algorithm>

namespace grayrelic {
namespace {

constexpr std::array<std::uint64_t, 6> inner_bits{0xAAAAAAAAAAAAAAAAULL, 0xCCCCCCCCCCCCCCCCULL,
                                                  0xF0F0F0F0F0F0F0F0ULL, 0xFF00FF00FF00FF00ULL,
                                                  0xFFFF0000FFFF0000ULL, 0xFFFFFFFF00000000ULL};

/// Bit `bit` of the row numbers of 64 rows that begin at 64·word.
std::uint64_t row_bit(std::uint64_t word, std::size_t bit) {
    return bit < 6 ? inner_bits[bit] : ((word >> (bit - 6)) & 1U) != 0 ? ~0ULL : 0;
}

Level level_at(const Levels& v, unsigned row) {
    return ((v.one >> row) & 1U) != 0    ? Level::one
           : ((v.zero >> row) & 1U) != 0 ? Level::zero
                                         : Level::unknown;
}

}  // namespace

Result<Tabulator> Tabulator::of(const Network& n) {
    for (const auto& p : n.problems)
        if (p.fatal) return fail_at("", p.line, p.says, p.expected);
    if (n.stores()) return fail_usage("a network with storage", "gates only: storage has no truth table");
    if (!n.loop.empty()) return fail_usage("a loop of gates through net " + n.loop, "gates without loops");
    Tabulator t;
    t.nets_ = n.nets.size();
    t.shared_.assign(t.nets_, false);
    for (const auto& in : n.inputs) {
        if (in.from == NetworkInput::From::level) {
            t.held_.emplace_back(in.net, in.level);
        } else {
            t.inputs_.push_back(n.net_name(in.net));
            t.input_nets_.push_back(in.net);
        }
    }
    for (std::size_t i = 0; i < n.nets.size(); ++i) {
        if (n.nets[i].held) t.held_.emplace_back(static_cast<int>(i), *n.nets[i].held);
        if (n.nets[i].pull) t.pulls_.emplace_back(static_cast<int>(i), *n.nets[i].pull ? 1 : 0);
    }
    for (const int o : n.outputs) {
        t.outputs_.push_back(n.net_name(o));
        t.output_nets_.push_back(o);
    }
    std::vector<Gate> found;
    for (std::size_t p = 0; p < n.parts.size(); ++p) {
        const auto& part = n.parts[p];
        for (std::size_t o = 0; o < part.outputs.size(); ++o) {
            if (!part.outputs[o]) continue;
            const auto& out = part.logic->outputs[o];
            Gate g{&out.value, out.enable.steps().empty() ? nullptr : &out.enable, {}, {}, *part.outputs[o]};
            const auto nets = [&](const Expression& e, std::vector<PinNet>& to) {
                for (const auto& name : e.names()) {
                    const auto it = std::find(part.logic->inputs.begin(), part.logic->inputs.end(), name);
                    to.push_back(part.inputs[static_cast<std::size_t>(it - part.logic->inputs.begin())]);
                    if (!to.back()) t.two_valued_ = false;
                }
            };
            nets(out.value, g.value_nets);
            if (g.enable != nullptr) {
                nets(*g.enable, g.enable_nets);
                t.shared_[static_cast<std::size_t>(g.net)] = true;
                t.two_valued_ = false;
            }
            found.push_back(std::move(g));
        }
    }
    // A gate is ready when all drivers of what it reads are done.
    std::vector<int> waiting(t.nets_, 0);
    for (const auto& g : found) ++waiting[static_cast<std::size_t>(g.net)];
    std::vector<bool> done(found.size(), false);
    for (bool progress = true; progress;) {
        progress = false;
        for (std::size_t i = 0; i < found.size(); ++i) {
            if (done[i]) continue;
            const auto& g = found[i];
            const auto ready = [&](const std::vector<PinNet>& nets) {
                return std::all_of(nets.begin(), nets.end(), [&](PinNet net) {
                    return !net || waiting[static_cast<std::size_t>(*net)] == 0;
                });
            };
            if (!ready(g.value_nets) || !ready(g.enable_nets)) continue;
            done[i] = progress = true;
            --waiting[static_cast<std::size_t>(g.net)];
            t.gates_.push_back(g);
        }
    }
    if (t.two_valued_) t.flatten();
    return t;
}

int Tabulator::emit(const Expression& e, const std::vector<PinNet>& nets) {
    std::vector<int> stack;
    const auto pop = [&] {
        const int v = stack.back();
        stack.pop_back();
        return v;
    };
    for (const auto& s : e.steps()) {
        if (s.op == Expression::Op::name) {
            stack.push_back(net_register_[static_cast<std::size_t>(*nets[static_cast<std::size_t>(s.name)])]);
            continue;
        }
        Code c{s.op, registers_++, 0, 0, 0};
        if (s.op == Expression::Op::choose) c.c = pop();
        if (s.op == Expression::Op::choose || s.op == Expression::Op::and_ || s.op == Expression::Op::or_ ||
            s.op == Expression::Op::xor_)
            c.b = pop();
        if (s.op != Expression::Op::constant0 && s.op != Expression::Op::constant1) c.a = pop();
        code_.push_back(c);
        stack.push_back(c.to);
    }
    return stack.back();
}

void Tabulator::flatten() {
    // Registers 0 and 1 are the levels, then the inputs.
    registers_ = 2 + static_cast<int>(input_nets_.size());
    net_register_.assign(nets_, -1);
    for (const auto& [net, level] : held_) net_register_[static_cast<std::size_t>(net)] = level ? 1 : 0;
    for (std::size_t i = 0; i < input_nets_.size(); ++i)
        net_register_[static_cast<std::size_t>(input_nets_[i])] = 2 + static_cast<int>(i);
    for (const auto& [net, level] : pulls_)
        if (net_register_[static_cast<std::size_t>(net)] < 0)
            net_register_[static_cast<std::size_t>(net)] = level;
    for (const auto& g : gates_)
        net_register_[static_cast<std::size_t>(g.net)] = emit(*g.value, g.value_nets);
    for (const int o : output_nets_) output_register_.push_back(net_register_[static_cast<std::size_t>(o)]);
}

void Tabulator::evaluate_block(std::uint64_t block, std::vector<Block>& r) const {
    if (r.size() != static_cast<std::size_t>(registers_)) {
        r.assign(static_cast<std::size_t>(registers_), Block{});
        r[1].fill(~0ULL);
    }
    const auto n = input_nets_.size();
    for (std::size_t i = 0; i < n; ++i)
        for (std::size_t w = 0; w < block_words; ++w)
            r[2 + i][w] = row_bit(block * block_words + w, n - 1 - i);
    for (const auto& c : code_) {
        auto& to = r[static_cast<std::size_t>(c.to)];
        const auto &a = r[static_cast<std::size_t>(c.a)], &b = r[static_cast<std::size_t>(c.b)],
                   &z = r[static_cast<std::size_t>(c.c)];
        switch (c.op) {
            case Expression::Op::not_:
                for (std::size_t w = 0; w < block_words; ++w) to[w] = ~a[w];
                break;
            case Expression::Op::and_:
                for (std::size_t w = 0; w < block_words; ++w) to[w] = a[w] & b[w];
                break;
            case Expression::Op::or_:
                for (std::size_t w = 0; w < block_words; ++w) to[w] = a[w] | b[w];
                break;
            case Expression::Op::xor_:
                for (std::size_t w = 0; w < block_words; ++w) to[w] = a[w] ^ b[w];
                break;
            case Expression::Op::choose:
                for (std::size_t w = 0; w < block_words; ++w) to[w] = (a[w] & b[w]) | (~a[w] & z[w]);
                break;
            case Expression::Op::constant0: to.fill(0); break;
            case Expression::Op::constant1: to.fill(~0ULL); break;
            case Expression::Op::name: break;
        }
    }
}

void Tabulator::evaluate(const std::vector<Levels>& in, std::vector<Levels>& out) const {
    // on: who drives; an undriven net stays unknown, or at its pull.
    std::vector<Levels> net(nets_);
    std::vector<std::uint64_t> on(nets_, 0);
    for (const auto& [n, level] : held_) net[static_cast<std::size_t>(n)] = known(level ? ~0ULL : 0);
    for (std::size_t i = 0; i < input_nets_.size(); ++i)
        net[static_cast<std::size_t>(input_nets_[i])] = in[i];
    std::vector<int> pull(nets_, -1);
    for (const auto& [n, level] : pulls_) pull[static_cast<std::size_t>(n)] = level;
    const auto settled = [&](int n) {
        const auto i = static_cast<std::size_t>(n);
        Levels v = net[i];
        if (pull[i] >= 0) (pull[i] == 1 ? v.one : v.zero) |= ~on[i] & ~(v.one | v.zero);
        return v;
    };
    std::vector<Levels> values;
    const auto eval = [&](const Expression& e, const std::vector<PinNet>& nets) {
        values.clear();
        for (const auto n : nets) values.push_back(n ? settled(*n) : Levels{});
        return e.evaluate(values);
    };
    for (const auto& g : gates_) {
        const auto i = static_cast<std::size_t>(g.net);
        const Levels v = eval(*g.value, g.value_nets);
        if (g.enable == nullptr) {
            net[i] = v;
            on[i] = ~0ULL;
            continue;
        }
        const Levels e = eval(*g.enable, g.enable_nets);
        const std::uint64_t maybe = ~e.zero, sure = e.one;
        // Where another one drives too, only agreement is known.
        const Levels mine{v.one & sure, v.zero & sure};
        const Levels old = net[i];
        net[i].one = (mine.one & ~on[i]) | (old.one & ~maybe) | (mine.one & old.one);
        net[i].zero = (mine.zero & ~on[i]) | (old.zero & ~maybe) | (mine.zero & old.zero);
        on[i] |= maybe;
    }
    out.clear();
    for (const int o : output_nets_) out.push_back(settled(o));
}

Result<TruthTable> truth_table(const Network& network, Progress& progress) {
    long_work("truth_table");
    auto t = Tabulator::of(network);
    if (!t) return fail(t.error());
    const auto n = t->inputs().size();
    if (n > most_table_inputs)
        return fail_usage(fmt::format("{} inputs", n),
                          fmt::format("at most {} for a table: hold some at a level", most_table_inputs));
    TruthTable table{t->inputs(), t->outputs(), {}};
    const std::size_t rows = std::size_t{1} << n;
    table.rows.reserve(rows);
    std::vector<Levels> in(n), out;
    for (std::size_t from = 0; from < rows; from += 64) {
        for (std::size_t i = 0; i < n; ++i) in[i] = known(row_bit(from / 64, n - 1 - i));
        t->evaluate(in, out);
        for (unsigned r = 0; r < 64 && from + r < rows; ++r) {
            table.rows.emplace_back();
            for (const auto& o : out) table.rows.back().push_back(level_at(o, r));
        }
        if (progress.cancelled()) return fail_cancelled();
    }
    return table;
}

std::string truth_csv(const TruthTable& t) {
    std::string out;
    const auto heading = [&](const std::vector<std::string>& names) {
        for (const auto& n : names) out += (out.empty() ? "" : ",") + n;
    };
    heading(t.inputs);
    heading(t.outputs);
    out += "\n";
    for (std::size_t row = 0; row < t.rows.size(); ++row) {
        std::string line;
        for (std::size_t i = 0; i < t.inputs.size(); ++i)
            line += ((row >> (t.inputs.size() - 1 - i)) & 1U) != 0 ? "1," : "0,";
        for (const auto level : t.rows[row]) {
            line += letter(level);
            line += ',';
        }
        line.back() = '\n';
        out += line;
    }
    return out;
}

Result<HazardReport> find_hazards(const Network& network, Progress& progress) {
    long_work("find_hazards");
    auto t = Tabulator::of(network);
    if (!t) return fail(t.error());
    const auto n = t->inputs().size();
    if (n > 20)
        return fail_usage(fmt::format("{} inputs", n), "at most 20 for hazards: hold some at a level");
    HazardReport report;
    std::vector<Levels> in(n), low, high, between;
    const std::uint64_t rows = std::uint64_t{1} << n, words = (rows + 63) / 64;
    const std::uint64_t valid = rows < 64 ? (std::uint64_t{1} << rows) - 1 : ~0ULL;
    for (std::size_t changing = 0; changing < n; ++changing)
        for (std::uint64_t word = 0; word < words; ++word) {
            for (std::size_t i = 0; i < n; ++i) in[i] = known(row_bit(word, n - 1 - i));
            // Each change once: the rows in which the changing input is 0.
            const std::uint64_t mine = in[changing].zero & valid;
            if (mine == 0) continue;
            in[changing] = known(0);
            t->evaluate(in, low);
            in[changing] = known(~0ULL);
            t->evaluate(in, high);
            in[changing] = Levels{};
            t->evaluate(in, between);
            report.transitions += __builtin_popcountll(mine);
            for (std::size_t o = 0; o < low.size(); ++o) {
                const auto same = (low[o].one & high[o].one) | (low[o].zero & high[o].zero);
                auto twitch = mine & same & ~(between[o].one | between[o].zero);
                report.count += __builtin_popcountll(twitch);
                for (; twitch != 0 && report.hazards.size() < 1000; twitch &= twitch - 1) {
                    const auto row = word * 64 + static_cast<std::uint64_t>(__builtin_ctzll(twitch));
                    Hazard h{
                        t->inputs()[changing], t->outputs()[o], {}, ((low[o].one >> (row & 63U)) & 1U) != 0};
                    for (std::size_t i = 0; i < n; ++i) h.at.push_back(((row >> (n - 1 - i)) & 1U) != 0);
                    report.hazards.push_back(std::move(h));
                }
            }
            if (progress.cancelled()) return fail_cancelled();
        }
    return report;
}

}  // namespace grayrelic
