// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/logic/simulate.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <deque>
#include <map>
#include <memory>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t table_inputs = 6;

/// What an input pin or a bit is read as: 0, 1, or 2 for unknown and open.
unsigned read_as(Level l) {
    return l == Level::zero ? 0U : l == Level::one ? 1U : 2U;
}
Levels spread(unsigned value) {
    return {value == 1 ? ~0ULL : 0, value == 0 ? ~0ULL : 0};
}
Level level_of(Levels v) {
    return (v.one & 1U) != 0 ? Level::one : (v.zero & 1U) != 0 ? Level::zero : Level::unknown;
}

/// An expression, or an output's value and enable, as a table over its slots, or evaluated when it has too many.
struct Function {
    const Expression* value = nullptr;
    const Expression* enable = nullptr;  ///< null: always on
    std::vector<std::string> names;
    std::vector<int> value_slots, enable_slots;  ///< of each name of the expression: index into names
    std::vector<Level> table;                    ///< 4^n entries, empty when there are too many slots

    Level compute(const std::vector<unsigned>& in) const {
        const auto eval = [&](const Expression& e, const std::vector<int>& slots) {
            std::vector<Levels> v(slots.size());
            for (std::size_t i = 0; i < slots.size(); ++i) v[i] = spread(in[static_cast<std::size_t>(slots[i])]);
            return level_of(e.evaluate(v));
        };
        const Level level = eval(*value, value_slots);
        if (enable == nullptr) return level;
        const Level on = eval(*enable, enable_slots);
        if (on == Level::zero) return Level::open;
        return on == Level::one ? level : Level::unknown;
    }
};

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
        for (std::size_t k = 0; k < in.size(); ++k) in[k] = std::min(2U, static_cast<unsigned>((i >> (2 * k)) & 3U));
        f.table[i] = f.compute(in);
    }
    return f;
}

/// Where a slot's level is read: a net, a bit of the part, or nowhere (open).
struct Source {
    const Level* level = nullptr;
};

struct Bound {
    const Function* function = nullptr;
    std::vector<Source> sources;
    Level value() const {
        const auto& f = *function;
        if (sources.size() == 1) return f.table[read_as(*sources[0].level)];
        if (!f.table.empty()) {
            unsigned index = 0, shift = 0;
            for (const auto& s : sources) {
                index |= read_as(*s.level) << shift;
                shift += 2;
            }
            return f.table[index];
        }
        std::vector<unsigned> in(sources.size());
        for (std::size_t i = 0; i < in.size(); ++i) in[i] = read_as(*sources[i].level);
        return f.compute(in);
    }
};

struct Gate {
    Bound bound;
    int net = -1;  ///< -1: an open output, nothing is kept of it
    Delay delay;
    Level out = Level::unknown;
    Level pending_level = Level::unknown;
    std::uint32_t pending = 0;  ///< number of the scheduled event, 0 for none
    bool dirty = false;
    struct Later {
        std::uint32_t number;
        Time at;
        Level level;
    };
    std::deque<Later> queue;  ///< transport only
};

struct BoundRule {
    PartRule::Kind kind = PartRule::Kind::when;
    Bound condition;
    int pin = -1;  ///< index into the part's inputs
    struct Set {
        int bit;
        Bound value;
        std::vector<int> pins;  ///< inputs that the value reads
    };
    std::vector<Set> set;
};

struct Store {
    int part = -1;
    std::vector<Level> bits, next;
    std::vector<BoundRule> rules;
    struct Output {
        int gate;
        std::uint64_t bits;  ///< that it reads
    };
    std::vector<Output> outputs;  ///< that read bits
    std::vector<int> edge_pins;   ///< inputs with an edge rule
    std::vector<Time> last_edge;  ///< of each edge rule: when it last acted
    Time setup, hold, width;
    unsigned touched = 0;  ///< of Pin, by what has changed; 0: nothing
};
/// What a pin is to storage.
enum Pin : unsigned { edge_pin = 1, level_pin = 2, data_pin = 4, whole_part = 8 };

struct Event {
    Time at;
    std::uint32_t number;
    int who;  ///< gate, or −1 − stimulus
    Level level;
};
struct Later {
    bool operator()(const Event& a, const Event& b) const {
        return a.at > b.at || (a.at == b.at && a.number > b.number);
    }
};

constexpr Time never = Time::min();

class Engine {
  public:
    Engine(const Network& network, const SimulationOptions& options) : n_(network), o_(options) { build(); }

    Result<SimulationResult> run(const std::vector<Stimulus>& stimuli, Progress& progress) {
        out_.nets.resize(n_.nets.size());
        if (auto started = start(stimuli); !started) return fail(started.error());
        long counted = 0;
        while (!heap_.empty()) {
            const Time now = heap_.front().at;
            if (o_.end && now > *o_.end) break;
            while (!heap_.empty() && heap_.front().at == now) take(stimuli);
            settle(now);
            if ((++counted & 0xFFF) == 0) {
                if (progress.cancelled()) return fail_cancelled();
                if (span_ > 0) progress.report(static_cast<double>((now - first_).count()) / span_);
            }
            if (out_.events > o_.most_events) {
                out_.stopped = fmt::format("still changing after {} events, at {}: {}", print_count(out_.events), print(now),
                                           n_.loop.empty() ? "too much activity for one run" : "net " + n_.loop + " is in a loop that oscillates");
                break;
            }
        }
        return std::move(out_);
    }

  private:
    std::size_t size(int i) const { return static_cast<std::size_t>(i); }

    const Function* function(const Expression& value, const Expression* enable) {
        auto& slot = functions_[{&value, enable}];
        if (!slot) slot = std::make_unique<Function>(function_of(value, enable));
        return slot.get();
    }
    Bound bind(const Expression& value, const Expression* enable, const NetworkPart& part, Store* store) {
        Bound b;
        b.function = function(value, enable);
        for (const auto& name : b.function->names) {
            const auto& inputs = part.logic->inputs;
            const auto it = std::find(inputs.begin(), inputs.end(), name);
            if (it != inputs.end()) {
                const int net = part.inputs[static_cast<std::size_t>(it - inputs.begin())];
                b.sources.push_back({net < 0 ? &open_ : &level_[size(net)]});
            } else {
                const auto bit = std::find(part.logic->bits.begin(), part.logic->bits.end(), name);
                b.sources.push_back({&store->bits[static_cast<std::size_t>(bit - part.logic->bits.begin())]});
            }
        }
        return b;
    }

    void build() {
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
            if (gates_[g].net >= 0) drivers_[size(gates_[g].net)].push_back(static_cast<int>(g));
    }

    void build_part(int index) {
        const auto& part = n_.parts[size(index)];
        const auto& logic = *part.logic;
        const auto corner = static_cast<std::size_t>(o_.part_corners.empty() ? o_.corner : o_.part_corners[size(index)]);
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
                if (rule.kind == PartRule::Kind::when) r.condition = bind(rule.condition, nullptr, part, store);
                else {
                    r.pin = static_cast<int>(std::find(logic.inputs.begin(), logic.inputs.end(), rule.pin) - logic.inputs.begin());
                    if (std::find(store->edge_pins.begin(), store->edge_pins.end(), r.pin) == store->edge_pins.end())
                        store->edge_pins.push_back(r.pin);
                }
                for (const auto& [bit, value] : rule.set) {
                    BoundRule::Set s{bit, bind(value, nullptr, part, store), {}};
                    for (const auto& name : value.names()) {
                        const auto it = std::find(logic.inputs.begin(), logic.inputs.end(), name);
                        if (it != logic.inputs.end()) s.pins.push_back(static_cast<int>(it - logic.inputs.begin()));
                    }
                    r.set.push_back(std::move(s));
                }
                store->rules.push_back(std::move(r));
            }
            store->last_edge.assign(store->rules.size(), never);
            for (std::size_t pin = 0; pin < part.inputs.size(); ++pin)
                if (part.inputs[pin] >= 0) fan_stores_[size(part.inputs[pin])].push_back({static_cast<int>(stores_.size()) - 1, use_of(logic, static_cast<int>(pin))});
        }
        for (std::size_t o = 0; o < logic.outputs.size(); ++o) {
            Gate g;
            g.net = part.outputs[o];
            if (g.net < 0) continue;
            const auto& output = logic.outputs[o];
            g.bound = bind(output.value, &output.enable, part, store);
            g.delay = output.stored ? part.delays->storage[corner] : part.delays->gates[corner];
            const int gate = static_cast<int>(gates_.size());
            for (const auto* e : {&output.value, &output.enable})
                for (const auto& name : e->names()) {
                    const auto it = std::find(logic.inputs.begin(), logic.inputs.end(), name);
                    if (it == logic.inputs.end()) continue;
                    const int net = part.inputs[static_cast<std::size_t>(it - logic.inputs.begin())];
                    if (net >= 0) add_once(fan_gates_[size(net)], gate);
                }
            if (output.stored) store->outputs.push_back({gate, bits_read(logic, output)});
            gates_.push_back(std::move(g));
        }
    }
    static unsigned use_of(const PartLogic& logic, int pin) {
        const auto& name = logic.inputs[static_cast<std::size_t>(pin)];
        const auto reads = [&](const Expression& e) { return std::find(e.names().begin(), e.names().end(), name) != e.names().end(); };
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
    static std::uint64_t bits_read(const PartLogic& logic, const PartOutput& output) {
        std::uint64_t mask = 0;
        for (const auto* e : {&output.value, &output.enable})
            for (const auto& name : e->names())
                if (const auto it = std::find(logic.bits.begin(), logic.bits.end(), name); it != logic.bits.end()) mask |= 1ULL << static_cast<unsigned>(it - logic.bits.begin());
        return mask;
    }
    static void add_once(std::vector<int>& list, int v) {
        if (std::find(list.begin(), list.end(), v) == list.end()) list.push_back(v);
    }

    Status start(const std::vector<Stimulus>& stimuli) {
        cursor_.assign(stimuli.size(), 0);
        Time last = Time::min();
        first_ = Time::max();
        for (std::size_t i = 0; i < stimuli.size(); ++i) {
            const auto& s = stimuli[i];
            if (s.net < 0 || size(s.net) >= n_.nets.size()) return fail_usage("a stimulus of no net", "a net of the network");
            for (std::size_t k = 1; k < s.changes.size(); ++k)
                if (s.changes[k].at <= s.changes[k - 1].at) return fail_usage("changes out of order on " + n_.net_name(s.net), "strictly increasing times");
            outside_[size(s.net)] = s.first;
            if (s.changes.empty()) continue;
            first_ = std::min(first_, s.changes.front().at);
            last = std::max(last, s.changes.back().at);
            push({s.changes.front().at, next_number(), -1 - static_cast<int>(i), s.changes.front().level});
        }
        if (first_ == Time::max()) first_ = last = Time{};
        span_ = static_cast<double>((last - first_).count());
        // Everything stands as it is from the beginning of time as far as anyone can see: one picosecond before the
        // first change at the latest, and at 0.
        const Time begin = std::min(Time{}, first_ - Time::ps(1));
        for (std::size_t i = 0; i < n_.nets.size(); ++i) {
            const auto& net = n_.nets[i];
            if (net.held) outside_[i] = *net.held ? Level::one : Level::zero;
            if (net.input >= 0) {
                const auto& in = n_.inputs[size(net.input)];
                if (in.from == NetworkInput::From::level) outside_[i] = in.level ? Level::one : Level::zero;
            }
            level_[i] = resolve(static_cast<int>(i), begin);
            before_[i] = level_[i];
            if (level_[i] != Level::unknown) out_.nets[i].push_back({begin, level_[i]});
        }
        for (std::size_t s = 0; s < stores_.size(); ++s) mark_store(static_cast<int>(s), whole_part);
        for (std::size_t g = 0; g < gates_.size(); ++g) mark_gate(static_cast<int>(g));
        settle(begin);
        return {};
    }

    std::uint32_t next_number() { return ++number_; }
    void push(Event e) {
        heap_.push_back(e);
        std::push_heap(heap_.begin(), heap_.end(), Later{});
    }

    void take(const std::vector<Stimulus>& stimuli) {
        std::pop_heap(heap_.begin(), heap_.end(), Later{});
        const Event e = heap_.back();
        heap_.pop_back();
        if (e.who < 0) {
            const auto i = size(-1 - e.who);
            const auto& s = stimuli[i];
            outside_[size(s.net)] = e.level;
            ++out_.events;
            change(s.net, e.at);
            if (++cursor_[i] < s.changes.size()) push({s.changes[cursor_[i]].at, next_number(), e.who, s.changes[cursor_[i]].level});
            return;
        }
        auto& g = gates_[size(e.who)];
        if (o_.transport) {
            if (g.queue.empty() || g.queue.front().number != e.number) return;
            g.queue.pop_front();
        } else {
            if (g.pending != e.number) return;
            g.pending = 0;
        }
        g.out = e.level;
        ++out_.events;
        change(g.net, e.at);
    }

    Level resolve(int net, Time now) {
        const auto i = size(net);
        Level level = outside_[i];
        bool clash = false;
        for (const int d : drivers_[i]) {
            const Level v = gates_[size(d)].out;
            if (v == Level::open) continue;
            if (level == Level::open) level = v;
            else if (v != level) {
                clash = clash || (v != Level::unknown && level != Level::unknown);
                level = Level::unknown;
            }
        }
        if (clash && out_.clashes.size() < 1000) out_.clashes.push_back({net, now});
        if (level == Level::open && n_.nets[i].pull) level = *n_.nets[i].pull ? Level::one : Level::zero;
        return level;
    }

    void change(int net, Time now) {
        const auto i = size(net);
        const Level level = resolve(net, now);
        if (level == level_[i]) return;
        if (!touched_[i]) {
            touched_[i] = true;
            before_[i] = level_[i];
            touched_list_.push_back(net);
        }
        level_[i] = level;
        auto& record = out_.nets[i];
        if (!record.empty() && record.back().at == now) record.back().level = level;
        else record.push_back({now, level});
        for (const int g : fan_gates_[i]) mark_gate(g);
        for (const auto& [s, use] : fan_stores_[i]) mark_store(s, use);
    }
    void mark_gate(int g) {
        if (gates_[size(g)].dirty) return;
        gates_[size(g)].dirty = true;
        dirty_gates_.push_back(g);
    }
    void mark_store(int s, unsigned use) {
        auto& store = stores_[size(s)];
        if (store.touched == 0 && use != 0) dirty_stores_.push_back(s);
        store.touched |= use;
    }

    void settle(Time now) {
        for (const int s : dirty_stores_) {
            auto& store = stores_[size(s)];
            update(store, now);
            store.touched = 0;
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
    }

    static Time delay_to(const Delay& d, Level level) {
        switch (level) {
            case Level::one: return d.rise;
            case Level::zero: return d.fall;
            case Level::open: return d.off;
            case Level::unknown: break;
        }
        return std::min({d.rise, d.fall, d.off});
    }

    void schedule(int index, Time now) {
        auto& g = gates_[size(index)];
        const Level v = g.bound.value();
        const Time at = now + delay_to(g.delay, v);
        if (o_.transport) {
            while (!g.queue.empty() && g.queue.back().at >= at) g.queue.pop_back();
            if ((g.queue.empty() ? g.out : g.queue.back().level) == v) return;
            const auto number = next_number();
            g.queue.push_back({number, at, v});
            push({at, number, index, v});
            return;
        }
        if (g.pending != 0) {
            if (g.pending_level == v) return;
            g.pending = 0;
        }
        if (v == g.out) return;
        g.pending = next_number();
        g.pending_level = v;
        push({at, g.pending, index, v});
    }

    void fault(TimingFault::Kind kind, const Store& s, int pin, Time at, Time had, Time needed) {
        if (out_.faults.size() >= 1000) return;
        const auto& name = n_.parts[size(s.part)].logic->inputs[size(pin)];
        // Several bits that read the pin are one fault.
        if (!out_.faults.empty()) {
            const auto& last = out_.faults.back();
            if (last.kind == kind && last.part == s.part && last.at == at && last.pin == name) return;
        }
        out_.faults.push_back({kind, s.part, name, at, had, needed});
    }

    Level net_level(const NetworkPart& part, int pin, const std::vector<Level>& of) const {
        const int net = part.inputs[size(pin)];
        return net < 0 ? Level::unknown : of[size(net)];
    }

    /// Least pulse of clocks, and hold of what was stored at the last edge.
    void check_changes(Store& s, const NetworkPart& part, Time now) {
        if (s.width > Time{})
            for (const int pin : s.edge_pins) {
                const int net = part.inputs[size(pin)];
                if (net < 0 || !touched_[size(net)] || changed_at_[size(net)] == never) continue;
                if (const Time had = now - changed_at_[size(net)]; had < s.width) fault(TimingFault::Kind::width, s, pin, now, had, s.width);
            }
        if (s.hold == Time{}) return;
        for (std::size_t r = 0; r < s.rules.size(); ++r) {
            if (s.last_edge[r] == never || now - s.last_edge[r] >= s.hold || now == s.last_edge[r]) continue;
            for (const auto& set : s.rules[r].set)
                for (const int pin : set.pins) {
                    const int net = part.inputs[size(pin)];
                    if (net >= 0 && touched_[size(net)]) {
                        fault(TimingFault::Kind::hold, s, pin, now, now - s.last_edge[r], s.hold);
                        if (o_.unknown_on_fault) s.next[size(set.bit)] = Level::unknown;
                    }
                }
        }
    }

    /// The bit's new value at an edge; unknown when a pin that it reads moved within the set-up time and matters.
    Level stored_value(Store& s, const NetworkPart& part, const BoundRule::Set& set, Time now) {
        Level v = set.value.value();
        if (s.setup == Time{}) return v;
        for (const int pin : set.pins) {
            const int net = part.inputs[size(pin)];
            if (net < 0) continue;
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

    void update(Store& s, Time now) {
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
                const unsigned was = read_as(net_level(part, rule.pin, before_)), is = read_as(net_level(part, rule.pin, level_));
                if (was == is) continue;
                const unsigned off = rule.kind == PartRule::Kind::rise ? 0U : 1U;
                if (was == 1U - off || is == off) continue;  // the other edge, or a part of it
                sure = was == off && is == 1U - off;
                s.last_edge[r] = now;
            }
            for (const auto& set : rule.set) {
                const auto mask = 1ULL << static_cast<unsigned>(set.bit);
                if ((claimed & mask) != 0) continue;
                const Level v = rule.kind == PartRule::Kind::when ? set.value.value() : stored_value(s, part, set, now);
                const Level was = s.bits[size(set.bit)];
                s.next[size(set.bit)] = sure || v == was ? (v == Level::open ? Level::unknown : v) : Level::unknown;
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
    bool any_edge(const Store& s, const NetworkPart& part) const {
        if ((s.touched & edge_pin) == 0) return false;
        for (const auto& rule : s.rules) {
            if (rule.kind == PartRule::Kind::when) continue;
            const unsigned was = read_as(net_level(part, rule.pin, before_)), is = read_as(net_level(part, rule.pin, level_));
            const unsigned off = rule.kind == PartRule::Kind::rise ? 0U : 1U;
            if (was != is && was != 1U - off && is != off) return true;
        }
        return false;
    }

    const Network& n_;
    const SimulationOptions& o_;
    SimulationResult out_;
    Level open_ = Level::open;
    std::vector<Level> level_, before_, outside_;
    std::vector<Time> changed_at_;
    std::vector<bool> touched_;
    std::vector<int> touched_list_, dirty_gates_, dirty_stores_;
    std::vector<std::vector<int>> fan_gates_, drivers_;
    std::vector<std::vector<std::pair<int, unsigned>>> fan_stores_;  ///< store and Pin
    std::vector<Gate> gates_;
    std::vector<Store> stores_;
    std::map<std::pair<const Expression*, const Expression*>, std::unique_ptr<Function>> functions_;
    std::vector<Event> heap_;
    std::vector<std::size_t> cursor_;
    std::uint32_t number_ = 0;
    Time first_;
    double span_ = 0;
};

}  // namespace

char letter(Level level) {
    return "01xz"[static_cast<std::size_t>(level)];
}

std::string_view word(TimingFault::Kind k) {
    return k == TimingFault::Kind::setup ? "setup" : k == TimingFault::Kind::hold ? "hold" : "width";
}

Result<SimulationResult> simulate(const Network& network, const std::vector<Stimulus>& stimuli, const SimulationOptions& options, Progress& progress) {
    for (const auto& p : network.problems)
        if (p.fatal) return fail_at("", p.line, p.says, p.expected);
    if (network.parts.empty()) return fail_usage("a network without parts", "at least one part");
    if (!options.part_corners.empty() && options.part_corners.size() != network.parts.size())
        return fail_usage("corners for some of the parts", "one for each part");
    return Engine(network, options).run(stimuli, progress);
}

Stimulus stimulus_of(int net, const DigitalTrace& trace) {
    Stimulus s;
    s.net = net;
    s.first = trace.first_level() ? Level::one : Level::zero;
    const auto edges = trace.edges();
    s.changes.reserve(edges.size());
    for (std::size_t i = 0; i < edges.size(); ++i) s.changes.push_back({edges[i], trace.is_rise(i) ? Level::one : Level::zero});
    return s;
}

DigitalTrace trace_of(const std::vector<LevelChange>& changes, Time end) {
    std::optional<bool> first;
    bool level = false;
    std::vector<Time> edges;
    std::vector<Span> unknown, floating;
    Time since = Time{};
    Level is = Level::unknown;
    const auto leave = [&](Time now) {
        if (now <= since) return;
        if (is == Level::unknown || is == Level::open) {
            if (!unknown.empty() && unknown.back().to == since) unknown.back().to = now;
            else unknown.push_back({since, now});
        }
        if (is == Level::open) floating.push_back({since, now});
    };
    for (const auto& c : changes) {
        if (c.at > end) break;
        leave(c.at);
        since = std::max(c.at, Time{});
        is = c.level;
        if (is != Level::zero && is != Level::one) continue;
        const bool now = is == Level::one;
        if (!first) {
            first = now;
            level = now;
        } else if (now != level) {
            edges.push_back(c.at);
            level = now;
        }
    }
    leave(end);
    EdgeBuffer buffer;
    for (const auto t : edges) buffer.push_back(t);
    return DigitalTrace::from_sorted(first.value_or(false), std::move(buffer), std::move(unknown), std::move(floating));
}

}  // namespace grayrelic
