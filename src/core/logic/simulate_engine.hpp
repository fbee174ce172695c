// SPDX-License-Identifier: GPL-3.0-or-later
// The events of a network: what is driven from outside, what follows after its delays, and the faults on the
// way. For simulate.cpp and settled.cpp only.
#pragma once

#include "core/logic/simulate_compile.hpp"

namespace grayrelic::simulating {

inline constexpr std::size_t most_noted = 1000;  ///< faults and clashes

class Engine : public CompiledNetwork {
  public:
    using CompiledNetwork::CompiledNetwork;

    /// Everything stands as it is from `begin` on.
    void start(const std::vector<Stimulus>& stimuli, Time begin);
    /// Drives a net from outside; it takes effect with the next settle().
    void drive(int net, Level level, Time now) {
        outside_[size(net)] = level;
        ++out_.events;
        change(net, now);
    }
    /// When the next event of its own comes; Time::max() when nothing is scheduled.
    [[nodiscard]] Time next_event() const { return heap_.empty() ? Time::max() : heap_.front().at; }
    void take_events(Time now) {
        while (!heap_.empty() && heap_.front().at == now) take();
    }
    /// What follows from all that has changed at this moment.
    void settle(Time now);
    /// True when nothing of its own is left to come.
    [[nodiscard]] bool is_settled() const { return scheduled_ == 0; }
    /// No check looks further back than this.
    [[nodiscard]] Time memory() const { return memory_; }

    // The state of a settled network, as bytes.
    void save(std::string& into) const;
    void load(std::string_view from);

    SimulationResult out_;

  private:
    std::uint32_t next_number() { return ++number_; }
    void push(Event e) {
        heap_.push_back(e);
        std::push_heap(heap_.begin(), heap_.end(), Later{});
    }
    void take();
    Level resolve(int net, Time now);
    void change(int net, Time now);
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
    void touch_pin(const Reader& r, Level level) {
        auto& store = stores_[size(r.store)];
        const auto at = 2U * static_cast<unsigned>(r.pin);
        store.pins = (store.pins & ~(3ULL << at)) | std::uint64_t{read_as(level)} << at;
        if (r.use == 0) return;
        store.pin = r.pin;
        ++store.touches;
        mark_store(r.store, r.use);
    }
    void schedule(int index, Time now);
    void fault(TimingFault::Kind kind, const Store& s, int pin, Time at, Time had, Time needed);
    [[nodiscard]] Level net_level(const NetworkPart& part, int pin, const std::vector<Level>& of) const {
        const auto net = part.inputs[size(pin)];
        return net ? of[size(*net)] : Level::unknown;
    }
    void check_changes(Store& s, const NetworkPart& part, Time now);
    Level stored_value(Store& s, const NetworkPart& part, const BoundRule::Set& set, Time now);
    void update(Store& s, Time now);
    void compute(Store& s, Time now);
    void pack(Store& s) const;
    static void pack_bits(Store& s);
    void repeat(Store& s, const PartStep& step, Time now);
    bool any_edge(const Store& s, const NetworkPart& part) const;

    std::vector<int> touched_list_, dirty_gates_, dirty_stores_;
    std::vector<Event> heap_;
    std::uint32_t number_ = 0;
    long scheduled_ = 0;  // gates with an event to come
    Time memory_;
    bool watched_changed_ = false;
    bool faulted_ = false;
};

}  // namespace grayrelic::simulating
