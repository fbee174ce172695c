// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/logic/simulate.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/logic/simulate_compile.hpp"

namespace grayrelic {
namespace {

using namespace simulating;

class Engine : public CompiledNetwork {
  public:
    using CompiledNetwork::CompiledNetwork;

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
                out_.stopped = fmt::format(
                    "still changing after {} events, at {}: {}", print_count(out_.events), print(now),
                    n_.loop.empty() ? "too much activity for one run"
                                    : "net " + n_.loop + " is in a loop that oscillates");
                break;
            }
        }
        return std::move(out_);
    }

  private:
    Status start(const std::vector<Stimulus>& stimuli) {
        cursor_.assign(stimuli.size(), 0);
        Time last = Time::min();
        first_ = Time::max();
        for (std::size_t i = 0; i < stimuli.size(); ++i) {
            const auto& s = stimuli[i];
            if (s.net < 0 || size(s.net) >= n_.nets.size())
                return fail_usage("a stimulus of no net", "a net of the network");
            for (std::size_t k = 1; k < s.changes.size(); ++k)
                if (s.changes[k].at <= s.changes[k - 1].at)
                    return fail_usage("changes out of order on " + n_.net_name(s.net),
                                      "strictly increasing times");
            outside_[size(s.net)] = s.first;
            if (s.changes.empty()) continue;
            first_ = std::min(first_, s.changes.front().at);
            last = std::max(last, s.changes.back().at);
            push({s.changes.front().at, next_number(), -1 - static_cast<int>(i), s.changes.front().level});
        }
        if (first_ == Time::max()) first_ = last = Time{};
        span_ = static_cast<double>((last - first_).count());
        // Everything stands as it is from the beginning of time as far as anyone can see: one picosecond
        // before the first change at the latest, and at 0.
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
            if (++cursor_[i] < s.changes.size())
                push({s.changes[cursor_[i]].at, next_number(), e.who, s.changes[cursor_[i]].level});
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
            if (level == Level::open)
                level = v;
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
        if (!record.empty() && record.back().at == now)
            record.back().level = level;
        else
            record.push_back({now, level});
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
                if (const Time had = now - changed_at_[size(net)]; had < s.width)
                    fault(TimingFault::Kind::width, s, pin, now, had, s.width);
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

    /// The bit's new value at an edge; unknown when a pin that it reads moved within the set-up time and
    /// matters.
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
    bool any_edge(const Store& s, const NetworkPart& part) const {
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

    SimulationResult out_;
    std::vector<int> touched_list_, dirty_gates_, dirty_stores_;
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

Result<SimulationResult> simulate(const Network& network, const std::vector<Stimulus>& stimuli,
                                  const SimulationOptions& options, Progress& progress) {
    for (const auto& p : network.problems)
        if (p.fatal) return fail_at("", p.line, p.says, p.expected);
    if (network.parts.empty()) return fail_usage("a network without parts", "at least one part");
    if (!options.part_corners.empty() && options.part_corners.size() != network.parts.size())
        return fail_usage("corners for some of the parts", "one for each part");
    return Engine(network, options).run(stimuli, progress);
}

}  // namespace grayrelic
