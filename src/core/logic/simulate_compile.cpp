// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/logic/simulate_compile.hpp"

#include <algorithm>

namespace grayrelic::simulating {
namespace {

unsigned use_of(const PartLogic& logic, int pin) {
    const auto& name = logic.inputs[static_cast<std::size_t>(pin)];
    const auto reads = [&](const Expression& e) {
        return std::find(e.names().begin(), e.names().end(), name) != e.names().end();
    };
    unsigned use = 0;
    for (const auto& rule : logic.rules) {
        const bool level = rule.kind == PartRule::Kind::when;
        if (level && reads(rule.condition)) use |= level_pin;
        if (!level && rule.pin == name) use |= edge_pin;
        for (const auto& [bit, value] : rule.set)
            if (reads(value)) use |= level ? level_pin : data_pin;
    }
    return use;
}
std::uint64_t bits_read(const PartLogic& logic, const PartOutput& output) {
    std::uint64_t mask = 0;
    for (const auto* e : {&output.value, &output.enable})
        for (const auto& name : e->names())
            if (const auto it = std::find(logic.bits.begin(), logic.bits.end(), name); it != logic.bits.end())
                mask |= 1ULL << static_cast<unsigned>(it - logic.bits.begin());
    return mask;
}
void add_once(std::vector<int>& list, int v) {
    if (std::find(list.begin(), list.end(), v) == list.end()) list.push_back(v);
}

/// Which pins count for what, two bits each.
void note_pins(Store& store, const PartLogic& logic) {
    const auto bits = [](int pin) { return 3ULL << 2 * static_cast<unsigned>(pin); };
    store.repeats = logic.bits.size() <= 32 && logic.inputs.size() <= 24 && logic.rules.size() <= 64;
    if (!store.repeats) return;
    store.edge_reads.assign(logic.inputs.size(), 0);
    for (std::size_t r = 0; r < store.rules.size(); ++r) {
        const auto& rule = store.rules[r];
        if (rule.kind == PartRule::Kind::when) {
            for (const auto& name : logic.rules[r].condition.names())
                if (const auto it = std::find(logic.inputs.begin(), logic.inputs.end(), name);
                    it != logic.inputs.end())
                    store.control |= bits(static_cast<int>(it - logic.inputs.begin()));
            continue;
        }
        store.control |= bits(rule.pin);
        for (const auto& set : rule.set)
            for (const int pin : set.pins) store.edge_reads[static_cast<std::size_t>(rule.pin)] |= bits(pin);
    }
}

}  // namespace

Function function_of(const Expression& value, const Expression* enable) {
    Function f;
    f.value = &value;
    if (enable != nullptr && !enable->steps().empty()) f.enable = enable;
    const auto slots = [&](const Expression& e, std::vector<int>& out) {
        for (const auto& name : e.names()) {
            auto it = std::find(f.names.begin(), f.names.end(), name);
            if (it == f.names.end()) it = f.names.insert(f.names.end(), name);
            out.push_back(static_cast<int>(it - f.names.begin()));
        }
    };
    slots(value, f.value_slots);
    if (f.enable != nullptr) slots(*f.enable, f.enable_slots);
    if (f.names.size() > table_inputs) return f;
    f.table.resize(1U << (2 * f.names.size()));
    std::vector<unsigned> in(f.names.size());
    for (std::size_t i = 0; i < f.table.size(); ++i) {
        for (std::size_t k = 0; k < in.size(); ++k)
            in[k] = std::min(2U, static_cast<unsigned>((i >> (2 * k)) & 3U));
        f.table[i] = f.compute(in);
    }
    return f;
}

const Function* CompiledNetwork::function(const Expression& value, const Expression* enable) {
    auto& slot = functions_[{&value, enable}];
    if (!slot) slot = std::make_unique<Function>(function_of(value, enable));
    return slot.get();
}
Bound CompiledNetwork::bind(const Expression& value, const Expression* enable, const NetworkPart& part,
                            Store* store) {
    Bound b;
    b.function = function(value, enable);
    for (const auto& name : b.function->names) {
        const auto& inputs = part.logic->inputs;
        const auto it = std::find(inputs.begin(), inputs.end(), name);
        if (it != inputs.end()) {
            const auto net = part.inputs[static_cast<std::size_t>(it - inputs.begin())];
            b.sources.push_back({net ? &level_[size(*net)] : &open_});
        } else {
            const auto bit = std::find(part.logic->bits.begin(), part.logic->bits.end(), name);
            b.sources.push_back({&store->bits[static_cast<std::size_t>(bit - part.logic->bits.begin())]});
        }
    }
    return b;
}

CompiledNetwork::CompiledNetwork(const Network& network, const SimulationOptions& options)
    : n_(network), o_(options) {
    const auto nets = n_.nets.size();
    level_.assign(nets, Level::open);
    before_.assign(nets, Level::open);
    changed_at_.assign(nets, never);
    fan_gates_.resize(nets);
    fan_stores_.resize(nets);
    drivers_.resize(nets);
    outside_.assign(nets, Level::open);
    touched_.assign(nets, false);
    // Bits are pointed at, so the stores must not move.
    std::size_t stores = 0;
    for (const auto& p : n_.parts) stores += p.logic->stores() ? 1U : 0U;
    stores_.reserve(stores);
    for (std::size_t i = 0; i < n_.parts.size(); ++i) build_part(static_cast<int>(i));
    for (std::size_t g = 0; g < gates_.size(); ++g)
        drivers_[size(gates_[g].net)].push_back(static_cast<int>(g));
}

void CompiledNetwork::build_part(int index) {
    const auto& part = n_.parts[size(index)];
    const auto& logic = *part.logic;
    const auto corner =
        static_cast<std::size_t>(o_.part_corners.empty() ? o_.corner : o_.part_corners[size(index)]);
    Store* store = nullptr;
    if (logic.stores()) {
        stores_.emplace_back();
        store = &stores_.back();
        store->part = index;
        store->bits.assign(logic.bits.size(), Level::unknown);
        store->next = store->bits;
        store->setup = part.delays->setup;
        store->hold = part.delays->hold;
        store->width = part.delays->width;
        for (const auto& rule : logic.rules) {
            BoundRule r;
            r.kind = rule.kind;
            if (rule.kind == PartRule::Kind::when)
                r.condition = bind(rule.condition, nullptr, part, store);
            else {
                r.pin = static_cast<int>(std::find(logic.inputs.begin(), logic.inputs.end(), rule.pin) -
                                         logic.inputs.begin());
                if (std::find(store->edge_pins.begin(), store->edge_pins.end(), r.pin) ==
                    store->edge_pins.end())
                    store->edge_pins.push_back(r.pin);
            }
            for (const auto& [bit, value] : rule.set) {
                BoundRule::Set s{bit, bind(value, nullptr, part, store), {}};
                for (const auto& name : value.names()) {
                    const auto it = std::find(logic.inputs.begin(), logic.inputs.end(), name);
                    if (it != logic.inputs.end())
                        s.pins.push_back(static_cast<int>(it - logic.inputs.begin()));
                }
                r.set.push_back(std::move(s));
            }
            store->rules.push_back(std::move(r));
        }
        store->last_edge.assign(store->rules.size(), never);
        note_pins(*store, logic);
        for (std::size_t pin = 0; pin < part.inputs.size(); ++pin)
            if (part.inputs[pin])
                fan_stores_[size(*part.inputs[pin])].push_back({static_cast<int>(stores_.size()) - 1,
                                                                use_of(logic, static_cast<int>(pin)),
                                                                static_cast<int>(pin)});
        store->last_touch = never;
    }
    for (std::size_t o = 0; o < logic.outputs.size(); ++o) {
        Gate g;
        if (!part.outputs[o]) continue;  // nothing is kept of an open output
        g.net = *part.outputs[o];
        const auto& output = logic.outputs[o];
        g.bound = bind(output.value, &output.enable, part, store);
        g.delay = output.stored ? part.delays->storage[corner] : part.delays->gates[corner];
        const int gate = static_cast<int>(gates_.size());
        for (const auto* e : {&output.value, &output.enable})
            for (const auto& name : e->names()) {
                const auto it = std::find(logic.inputs.begin(), logic.inputs.end(), name);
                if (it == logic.inputs.end()) continue;
                const auto net = part.inputs[static_cast<std::size_t>(it - logic.inputs.begin())];
                if (net) add_once(fan_gates_[size(*net)], gate);
            }
        if (output.stored) store->outputs.push_back({gate, bits_read(logic, output)});
        gates_.push_back(std::move(g));
    }
}

}  // namespace grayrelic::simulating
