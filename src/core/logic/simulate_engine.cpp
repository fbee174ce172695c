// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/logic/simulate_engine.hpp"

#include <algorithm>
#include <bit>

namespace grayrelic::simulating {
namespace {

Time delay_to(const Delay& d, Level level) {
    switch (level) {
        case Level::one: return d.rise;
        case Level::zero: return d.fall;
        case Level::open: return d.off;
        case Level::unknown: break;
    }
    return std::min({d.rise, d.fall, d.off});
}

}  // namespace

void Engine::start(const std::vector<Stimulus>& stimuli, Time begin) {
    if (!o_.watched) out_.nets.resize(n_.nets.size());
    for (const auto& s : stores_) memory_ = std::max({memory_, s.setup, s.hold, s.width});
    for (const auto& s : stimuli) outside_[size(s.net)] = s.first;
    for (std::size_t i = 0; i < n_.nets.size(); ++i) {
        const auto& net = n_.nets[i];
        if (net.held) outside_[i] = *net.held ? Level::one : Level::zero;
        if (net.input) {
            const auto& in = n_.inputs[size(*net.input)];
            if (in.from == NetworkInput::From::level) outside_[i] = in.level ? Level::one : Level::zero;
        }
        level_[i] = resolve(static_cast<int>(i), begin);
        before_[i] = level_[i];
        if (level_[i] == Level::unknown) continue;
        if (!o_.watched)
            out_.nets[i].push_back({begin, level_[i]});
        else if (*o_.watched == static_cast<int>(i))
            o_.on_change({begin, level_[i]});
    }
    for (auto& s : stores_) pack(s);
    for (std::size_t s = 0; s < stores_.size(); ++s) mark_store(static_cast<int>(s), whole_part);
    for (std::size_t g = 0; g < gates_.size(); ++g) mark_gate(static_cast<int>(g));
    settle(begin);
}

void Engine::take() {
    std::pop_heap(heap_.begin(), heap_.end(), Later{});
    const Event e = heap_.back();
    heap_.pop_back();
    auto& g = gates_[size(e.who)];
    if (o_.transport) {
        if (g.queue.empty() || g.queue.front().number != e.number) return;
        g.queue.pop_front();
    } else {
        if (g.pending != e.number) return;
        g.pending = 0;
    }
    --scheduled_;
    g.out = e.level;
    ++out_.events;
    change(g.net, e.at);
}

Level Engine::resolve(int net, Time now) {
    const auto i = size(net);
    Level level = outside_[i];
    bool clash = false;
    for (const int d : drivers_[i]) {
        const Level v = gates_[size(d)].out;
        if (v == Level::open) continue;
        if (level == Level::open)
            level = v;
        else if (v != level) {
            clash = clash || (v != Level::unknown && level != Level::unknown);
            level = Level::unknown;
        }
    }
    if (clash && out_.clashes.size() < most_noted) out_.clashes.push_back({net, now});
    if (level == Level::open && n_.nets[i].pull) level = *n_.nets[i].pull ? Level::one : Level::zero;
    return level;
}

void Engine::change(int net, Time now) {
    const auto i = size(net);
    const Level level = resolve(net, now);
    if (level == level_[i]) return;
    if (!touched_[i]) {
        touched_[i] = true;
        before_[i] = level_[i];
        touched_list_.push_back(net);
    }
    level_[i] = level;
    if (o_.watched) {
        watched_changed_ = watched_changed_ || *o_.watched == net;
    } else {
        auto& record = out_.nets[i];
        if (!record.empty() && record.back().at == now)
            record.back().level = level;
        else
            record.push_back({now, level});
    }
    for (const int g : fan_gates_[i]) mark_gate(g);
    for (const auto& r : fan_stores_[i]) touch_pin(r, level);
}

void Engine::settle(Time now) {
    for (const int s : dirty_stores_) {
        auto& store = stores_[size(s)];
        update(store, now);
        store.touched = 0;
        store.touches = 0;
    }
    dirty_stores_.clear();
    for (const int net : touched_list_) {
        touched_[size(net)] = false;
        before_[size(net)] = level_[size(net)];
        changed_at_[size(net)] = now;
    }
    touched_list_.clear();
    for (const int g : dirty_gates_) {
        gates_[size(g)].dirty = false;
        schedule(g, now);
    }
    dirty_gates_.clear();
    if (watched_changed_) {
        watched_changed_ = false;
        o_.on_change({now, level_[size(*o_.watched)]});
    }
}

void Engine::schedule(int index, Time now) {
    auto& g = gates_[size(index)];
    const Level v = g.bound.value();
    const Time at = now + delay_to(g.delay, v);
    if (o_.transport) {
        while (!g.queue.empty() && g.queue.back().at >= at) g.queue.pop_back(), --scheduled_;
        if ((g.queue.empty() ? g.out : g.queue.back().level) == v) return;
        const auto number = next_number();
        g.queue.push_back({number, at, v});
        ++scheduled_;
        push({at, number, index, v});
        return;
    }
    if (g.pending != 0) {
        if (g.pending_level == v) return;
        g.pending = 0;
        --scheduled_;
    }
    if (v == g.out) return;
    g.pending = next_number();
    ++scheduled_;
    g.pending_level = v;
    push({at, g.pending, index, v});
}

void Engine::save(std::string& into) const {
    const auto add = [&](Level l) { into += static_cast<char>(l); };
    for (const auto l : outside_) add(l);
    for (const auto l : level_) add(l);
    for (const auto& g : gates_) add(g.out);
    for (const auto& s : stores_)
        for (const auto b : s.bits) add(b);
}

void Engine::load(std::string_view from) {
    heap_.clear();  // what stands there was replaced before it came
    std::size_t at = 0;
    const auto next = [&] { return static_cast<Level>(from[at++]); };
    for (auto& l : outside_) l = next();
    for (auto& l : level_) l = next();
    before_ = level_;
    for (auto& g : gates_) g.out = next();
    for (auto& s : stores_)
        for (auto& b : s.bits) b = next();  // in its place: it is pointed at
    for (auto& s : stores_) pack(s);
}

void Engine::fault(TimingFault::Kind kind, const Store& s, int pin, Time at, Time had, Time needed) {
    faulted_ = true;
    if (out_.faults.size() >= most_noted) return;
    const auto& name = n_.parts[size(s.part)].logic->inputs[size(pin)];
    // Several bits that read the pin are one fault.
    if (!out_.faults.empty()) {
        const auto& last = out_.faults.back();
        if (last.kind == kind && last.part == s.part && last.at == at && last.pin == name) return;
    }
    out_.faults.push_back({kind, s.part, name, at, had, needed});
}

/// Least pulse of clocks, and hold of what was stored at the last edge.
void Engine::check_changes(Store& s, const NetworkPart& part, Time now) {
    if (s.width > Time{})
        for (const int pin : s.edge_pins) {
            const auto net = part.inputs[size(pin)];
            if (!net || !touched_[size(*net)] || changed_at_[size(*net)] == never) continue;
            if (const Time had = now - changed_at_[size(*net)]; had < s.width)
                fault(TimingFault::Kind::width, s, pin, now, had, s.width);
        }
    if (s.hold == Time{}) return;
    for (std::size_t r = 0; r < s.rules.size(); ++r) {
        if (s.last_edge[r] == never || now - s.last_edge[r] >= s.hold || now == s.last_edge[r]) continue;
        for (const auto& set : s.rules[r].set)
            for (const int pin : set.pins) {
                const auto net = part.inputs[size(pin)];
                if (net && touched_[size(*net)]) {
                    fault(TimingFault::Kind::hold, s, pin, now, now - s.last_edge[r], s.hold);
                    if (o_.unknown_on_fault) s.next[size(set.bit)] = Level::unknown;
                }
            }
    }
}

/// The bit's new value at an edge; unknown when a pin that it reads moved within the set-up time and
/// matters.
Level Engine::stored_value(Store& s, const NetworkPart& part, const BoundRule::Set& set, Time now) {
    Level v = set.value.value();
    if (s.setup == Time{}) return v;
    for (const int pin : set.pins) {
        const auto pin_net = part.inputs[size(pin)];
        if (!pin_net) continue;
        const int net = *pin_net;
        const bool moves_now = touched_[size(net)];
        const Time changed = moves_now ? now : changed_at_[size(net)];
        if (changed == never || now - changed >= s.setup) continue;
        fault(TimingFault::Kind::setup, s, pin, now, now - changed, s.setup);
        if (!o_.unknown_on_fault) continue;
        const Level was = level_[size(net)];
        level_[size(net)] = Level::unknown;
        if (set.value.value() != v) v = Level::unknown;
        level_[size(net)] = was;
    }
    return v;
}

void Engine::pack_bits(Store& s) {
    s.packed = 0;
    if (!s.repeats) return;
    for (std::size_t b = 0; b < s.bits.size(); ++b) s.packed |= std::uint64_t{read_as(s.bits[b])} << 2 * b;
}

void Engine::pack(Store& s) const {
    pack_bits(s);
    s.pins = 0;
    if (!s.repeats) return;
    const auto& part = n_.parts[size(s.part)];
    for (std::size_t p = 0; p < part.inputs.size(); ++p)
        s.pins |= std::uint64_t{read_as(net_level(part, static_cast<int>(p), level_))} << 2 * p;
}

void Engine::repeat(Store& s, const PartStep& step, Time now) {
    for (auto acted = step.acted; acted != 0; acted &= acted - 1)
        s.last_edge[static_cast<std::size_t>(std::countr_zero(acted))] = now;
    if (step.next == s.packed) return;
    std::uint64_t changed = 0;
    for (auto differ = step.next ^ s.packed; differ != 0;) {
        const auto b = static_cast<unsigned>(std::countr_zero(differ)) / 2;
        changed |= 1ULL << b;
        differ &= ~(3ULL << 2 * b);
        constexpr Level levels[] = {Level::zero, Level::one, Level::unknown};
        s.bits[b] = levels[step.next >> 2 * b & 3U];  // its place is pointed at
    }
    s.packed = step.next;
    for (const auto& o : s.outputs)
        if ((o.bits & changed) != 0) mark_gate(o.gate);
}

void Engine::update(Store& s, Time now) {
    // One pin alone, and nothing else so lately that a check would look at it: then only the state counts.
    const bool quiet =
        s.repeats && s.touches == 1 && (s.last_touch == never || now - s.last_touch >= memory_);
    s.last_touch = now;
    if (!quiet) {
        compute(s, now);
        pack_bits(s);
        return;
    }
    const auto was = read_as(net_level(n_.parts[size(s.part)], s.pin, before_));
    PartStep step;
    step.bits = s.packed;
    // While no level rule is on, only what decides and what this pin's edge reads counts.
    const bool level_rule = std::any_of(s.rules.begin(), s.rules.end(), [](const BoundRule& r) {
        return r.kind == PartRule::Kind::when && r.condition.value() != Level::zero;
    });
    const auto counts = level_rule ? ~0ULL : s.control | s.edge_reads[size(s.pin)];
    step.pins = (s.pins & counts) | std::uint64_t{static_cast<unsigned>(s.pin) << 2U | was} << 48U;
    if (const auto* known = s.steps.find(step.bits, step.pins)) {
        repeat(s, *known, now);
        return;
    }
    faulted_ = false;
    compute(s, now);
    pack_bits(s);
    if (faulted_) return;
    step.next = s.packed;
    for (std::size_t r = 0; r < s.last_edge.size() && r < 64; ++r)
        if (s.last_edge[r] == now) step.acted |= 1ULL << r;
    s.steps.insert(step);
}

void Engine::compute(Store& s, Time now) {
    const auto& part = n_.parts[size(s.part)];
    s.next = s.bits;
    check_changes(s, part, now);
    // What only stands before an edge changes nothing by itself; nor does an edge that no rule waits for.
    if ((s.touched & (level_pin | whole_part)) == 0 && s.next == s.bits && !any_edge(s, part)) return;
    std::uint64_t claimed = 0;
    for (std::size_t r = 0; r < s.rules.size(); ++r) {
        const auto& rule = s.rules[r];
        bool sure = true;
        if (rule.kind == PartRule::Kind::when) {
            const Level c = rule.condition.value();
            if (c == Level::zero) continue;
            sure = c == Level::one;
        } else {
            const unsigned was = read_as(net_level(part, rule.pin, before_)),
                           is = read_as(net_level(part, rule.pin, level_));
            if (was == is) continue;
            const unsigned off = rule.kind == PartRule::Kind::rise ? 0U : 1U;
            if (was == 1U - off || is == off) continue;  // the other edge, or a part of it
            sure = was == off && is == 1U - off;
            s.last_edge[r] = now;
        }
        for (const auto& set : rule.set) {
            const auto mask = 1ULL << static_cast<unsigned>(set.bit);
            if ((claimed & mask) != 0) continue;
            const Level v =
                rule.kind == PartRule::Kind::when ? set.value.value() : stored_value(s, part, set, now);
            const Level was = s.bits[size(set.bit)];
            s.next[size(set.bit)] =
                sure || v == was ? (v == Level::open ? Level::unknown : v) : Level::unknown;
            // An unsure `when` may leave the bit to the rules below it; unknown covers both.
            claimed |= mask;
        }
    }
    if (s.next == s.bits) return;
    std::uint64_t changed = 0;
    for (std::size_t b = 0; b < s.bits.size(); ++b) changed |= s.next[b] != s.bits[b] ? 1ULL << b : 0;
    std::copy(s.next.begin(), s.next.end(), s.bits.begin());  // its place is pointed at
    for (const auto& o : s.outputs)
        if ((o.bits & changed) != 0) mark_gate(o.gate);
}

/// Has a pin moved the way that a rule waits for, or may it have?
bool Engine::any_edge(const Store& s, const NetworkPart& part) const {
    if ((s.touched & edge_pin) == 0) return false;
    for (const auto& rule : s.rules) {
        if (rule.kind == PartRule::Kind::when) continue;
        const unsigned was = read_as(net_level(part, rule.pin, before_)),
                       is = read_as(net_level(part, rule.pin, level_));
        const unsigned off = rule.kind == PartRule::Kind::rise ? 0U : 1U;
        if (was != is && was != 1U - off && is != off) return true;
    }
    return false;
}

}  // namespace grayrelic::simulating
