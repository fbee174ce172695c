// SPDX-License-Identifier: GPL-3.0-or-later
// A network made ready for simulation: every output a gate with its function as a table, every part with
// storage a store with its rules bound to nets and bits. For simulate.cpp only.
#pragma once

#include <deque>
#include <map>
#include <memory>
#include <vector>

#include "core/logic/simulate.hpp"
#include "core/logic/step_table.hpp"

namespace grayrelic::simulating {

inline constexpr std::size_t table_inputs = 6;

/// What an input pin or a bit is read as: 0, 1, or 2 for unknown and open.
inline unsigned read_as(Level l) {
    return l == Level::zero ? 0U : l == Level::one ? 1U : 2U;
}
inline Levels spread(unsigned value) {
    return {value == 1 ? ~0ULL : 0, value == 0 ? ~0ULL : 0};
}
inline Level level_of(Levels v) {
    return (v.one & 1U) != 0 ? Level::one : (v.zero & 1U) != 0 ? Level::zero : Level::unknown;
}

/// An expression, or an output's value and enable, as a table over its slots, or evaluated when it has too
/// many.
struct Function {
    const Expression* value = nullptr;
    const Expression* enable = nullptr;  ///< null: always on
    std::vector<std::string> names;
    std::vector<int> value_slots, enable_slots;  ///< of each name of the expression: index into names
    std::vector<Level> table;                    ///< 4^n entries, empty when there are too many slots

    Level compute(const std::vector<unsigned>& in) const {
        const auto eval = [&](const Expression& e, const std::vector<int>& slots) {
            std::vector<Levels> v(slots.size());
            for (std::size_t i = 0; i < slots.size(); ++i)
                v[i] = spread(in[static_cast<std::size_t>(slots[i])]);
            return level_of(e.evaluate(v));
        };
        const Level level = eval(*value, value_slots);
        if (enable == nullptr) return level;
        const Level on = eval(*enable, enable_slots);
        if (on == Level::zero) return Level::open;
        return on == Level::one ? level : Level::unknown;
    }
};

[[nodiscard]] Function function_of(const Expression& value, const Expression* enable);

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
    int net = 0;
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

    // What it did once it does again: bits and pins packed, two bits each, as read_as() has them.
    bool repeats = false;                   ///< few enough bits and pins for that
    std::uint64_t control = 0;              ///< pins that decide whether a rule acts, as `pins` has them
    std::vector<std::uint64_t> edge_reads;  ///< by pin: what its edge rules read
    std::uint64_t packed = 0, pins = 0;
    int pin = -1, touches = 0;  ///< in this moment: the last pin that changed, and how many did
    Time last_touch;            ///< when one did before
    StepTable steps;
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

inline constexpr Time never = Time::min();

/// What does not change while it runs, and the levels that everything points at. It must not move.
class CompiledNetwork {
  public:
    CompiledNetwork(const Network& network, const SimulationOptions& options);
    CompiledNetwork(const CompiledNetwork&) = delete;
    CompiledNetwork& operator=(const CompiledNetwork&) = delete;

  protected:
    ~CompiledNetwork() = default;
    [[nodiscard]] static std::size_t size(int i) { return static_cast<std::size_t>(i); }
    const Network& n_;
    const SimulationOptions& o_;
    Level open_ = Level::open;
    std::vector<Level> level_, before_, outside_;
    std::vector<Time> changed_at_;
    std::vector<bool> touched_;
    std::vector<std::vector<int>> fan_gates_, drivers_;
    struct Reader {
        int store;
        unsigned use;  ///< of Pin
        int pin;
    };
    std::vector<std::vector<Reader>> fan_stores_;
    std::vector<Gate> gates_;
    std::vector<Store> stores_;

  private:
    const Function* function(const Expression& value, const Expression* enable);
    Bound bind(const Expression& value, const Expression* enable, const NetworkPart& part, Store* store);
    void build_part(int index);
    std::map<std::pair<const Expression*, const Expression*>, std::unique_ptr<Function>> functions_;
};

}  // namespace grayrelic::simulating
