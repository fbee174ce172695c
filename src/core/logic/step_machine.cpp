// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/logic/step_machine.hpp"

#include <algorithm>

namespace grayrelic {
namespace {

Levels as_levels(Level l) {
    return {l == Level::one ? 1ULL : 0, l == Level::zero ? 1ULL : 0};
}

}  // namespace

StepMachine::StepMachine(const Network& network) : n_(network) {
    std::size_t bits = 0;
    for (const auto& p : n_.parts) {
        first_bit_.push_back(bits);
        bits += p.logic->bits.size();
    }
    bits_.assign(bits, Level::unknown);
    level_.assign(n_.nets.size(), Level::unknown);
    for (const auto& in : n_.inputs)
        inputs_.push_back(in.from == NetworkInput::From::level && in.level ? Level::one : Level::zero);
    // Stage by stage; what is stored reads as it was, so any order among a stage will do. Loops are cut by
    // settle().
    const auto stages = stages_of(n_);
    for (std::size_t p = 0; p < n_.parts.size(); ++p)
        for (std::size_t o = 0; o < n_.parts[p].outputs.size(); ++o)
            if (n_.parts[p].outputs[o]) order_.emplace_back(static_cast<int>(p), static_cast<int>(o));
    std::stable_sort(order_.begin(), order_.end(), [&](const auto& a, const auto& b) {
        return stages[static_cast<std::size_t>(a.first)] < stages[static_cast<std::size_t>(b.first)];
    });
    spread();
    before_ = level_;
    (void)settle();
}

Level StepMachine::eval(const Expression& e, std::size_t part) const {
    const auto& p = n_.parts[part];
    std::vector<Levels> values;
    for (const auto& name : e.names()) {
        const auto in = std::find(p.logic->inputs.begin(), p.logic->inputs.end(), name);
        if (in != p.logic->inputs.end()) {
            const auto net = p.inputs[static_cast<std::size_t>(in - p.logic->inputs.begin())];
            values.push_back(net ? as_levels(level_[static_cast<std::size_t>(*net)]) : Levels{});
        } else {
            const auto bit =
                std::find(p.logic->bits.begin(), p.logic->bits.end(), name) - p.logic->bits.begin();
            values.push_back(as_levels(bits_[first_bit_[part] + static_cast<std::size_t>(bit)]));
        }
    }
    const auto v = e.evaluate(values);
    return (v.one & 1U) != 0 ? Level::one : (v.zero & 1U) != 0 ? Level::zero : Level::unknown;
}

/// Nets from inputs, bits and gates, until they stand still or have gone round as often as there are gates.
void StepMachine::spread() {
    for (std::size_t round = 0; round <= order_.size() + 1; ++round) {
        std::vector<Level> next(n_.nets.size(), Level::open);
        for (std::size_t i = 0; i < n_.nets.size(); ++i) {
            const auto& net = n_.nets[i];
            if (net.held) next[i] = *net.held ? Level::one : Level::zero;
            if (net.input) next[i] = inputs_[static_cast<std::size_t>(*net.input)];
            if (net.held || net.input) level_[i] = next[i];
        }
        for (const auto& [p, o] : order_) {
            const auto part = static_cast<std::size_t>(p);
            const auto& out = n_.parts[part].logic->outputs[static_cast<std::size_t>(o)];
            const auto net = static_cast<std::size_t>(*n_.parts[part].outputs[static_cast<std::size_t>(o)]);
            const Level on = out.enable.steps().empty() ? Level::one : eval(out.enable, part);
            if (on == Level::zero) continue;
            const Level v = on == Level::one ? eval(out.value, part) : Level::unknown;
            next[net] = next[net] == Level::open || next[net] == v ? v : Level::unknown;
            // Gates further on read it in this round already, when nobody else can drive it.
            if (n_.nets[net].drivers.size() == 1) level_[net] = next[net];
        }
        for (std::size_t i = 0; i < next.size(); ++i)
            if (next[i] == Level::open && n_.nets[i].pull)
                next[i] = *n_.nets[i].pull ? Level::one : Level::zero;
        const bool still = next == level_;
        level_ = std::move(next);
        if (still && round > 0) return;
    }
}

/// Applies the rules once; true when a bit changed.
bool StepMachine::update(bool edges) {
    auto next = bits_;
    for (std::size_t part = 0; part < n_.parts.size(); ++part) {
        const auto& p = n_.parts[part];
        std::uint64_t claimed = 0;
        for (const auto& rule : p.logic->rules) {
            bool sure = true;
            if (rule.kind == PartRule::Kind::when) {
                const Level c = eval(rule.condition, part);
                if (c == Level::zero) continue;
                sure = c == Level::one;
            } else {
                if (!edges) continue;
                const auto pin = std::find(p.logic->inputs.begin(), p.logic->inputs.end(), rule.pin) -
                                 p.logic->inputs.begin();
                const auto net = p.inputs[static_cast<std::size_t>(pin)];
                if (!net) continue;
                const Level was = before_[static_cast<std::size_t>(*net)],
                            is = level_[static_cast<std::size_t>(*net)];
                const Level off = rule.kind == PartRule::Kind::rise ? Level::zero : Level::one;
                const Level on = rule.kind == PartRule::Kind::rise ? Level::one : Level::zero;
                if (was == is || was == on || is == off) continue;
                sure = was == off && is == on;
            }
            for (const auto& [bit, value] : rule.set) {
                const auto mask = 1ULL << static_cast<unsigned>(bit);
                if ((claimed & mask) != 0) continue;
                claimed |= mask;
                const Level v = eval(value, part);
                auto& slot = next[first_bit_[part] + static_cast<std::size_t>(bit)];
                slot = sure || v == slot ? v : Level::unknown;
            }
        }
    }
    if (next == bits_) return false;
    bits_ = std::move(next);
    return true;
}

bool StepMachine::settle() {
    for (int round = 0; round < 1000; ++round) {
        const bool changed = update(true);
        before_ = level_;
        spread();
        if (!changed && before_ == level_) return true;
    }
    return false;
}

bool StepMachine::set(std::size_t input, Level level) {
    before_ = level_;
    inputs_[input] = level;
    spread();
    return settle();
}

bool StepMachine::restore(const std::vector<Level>& inputs, const std::vector<Level>& bits) {
    inputs_ = inputs;
    bits_ = bits;
    spread();
    before_ = level_;
    return settle();
}

}  // namespace grayrelic
