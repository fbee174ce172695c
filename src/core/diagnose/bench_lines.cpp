// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/bench_lines.hpp"

#include <algorithm>
#include <set>

#include "core/wire/circuit.hpp"

namespace grayrelic {
namespace {

/// Above this a resistor pulls and passes nothing on.
constexpr double passes_ohm = 50'000, module_high_v = 3.3;

class LineFinder {
  public:
    LineFinder(BenchBoard& b, const Circuit* circuit) : b_(b), circuit_(circuit) {
        const auto n = b.nets.size();
        series_.resize(n);
        pins_.resize(n);
        for (std::size_t i = 0; i < b.things.size(); ++i) {
            const auto& t = b.things[i];
            for (std::size_t k = 0; k < t.pins.size(); ++k) pins_[at(t.pins[k].net)].emplace_back(i, k);
            if (t.kind == ThingKind::link || (t.kind == ThingKind::resistor && t.value <= passes_ohm))
                join(t.pins[0].net, t.pins[1].net);
            if (t.kind == ThingKind::ladder)
                for (const auto& p : t.pins)
                    if (p.name != "OUT" && p.name != "GND") join(p.net, t.find_name("OUT")->net);
        }
    }

    void find() {
        for (const auto& t : b_.things)
            if (t.kind == ThingKind::contacts)
                for (const auto& p : t.pins) contact(t, p);
        for (const auto& t : b_.things)
            if (t.kind == ThingKind::module)
                for (const auto& p : t.pins) module_pin(t, p);
        for (const auto& t : b_.things)
            if (t.kind == ThingKind::diode && t.light) lamp(t);
        controls();
        stored();
    }

  private:
    static std::size_t at(int net) { return static_cast<std::size_t>(net); }
    bool rail(int net) const { return b_.nets[at(net)].volts.has_value(); }
    void join(int a, int b) {
        if (rail(a) || rail(b)) return;
        series_[at(a)].push_back(b);
        series_[at(b)].push_back(a);
    }
    /// The net and those behind resistors that pass a level on.
    std::set<int> group(int net) const {
        std::set<int> seen{net};
        std::vector<int> todo{net};
        while (!todo.empty()) {
            const int n = todo.back();
            todo.pop_back();
            for (const int next : series_[at(n)])
                if (seen.insert(next).second) todo.push_back(next);
        }
        return seen;
    }
    template <class Test>
    bool any_pin(int net, Test test) const {
        return std::any_of(pins_[at(net)].begin(), pins_[at(net)].end(), [&](const auto& p) {
            return test(b_.things[p.first], b_.things[p.first].pins[p.second]);
        });
    }
    static bool is_output(const BenchThing& t, const BenchPin& p) {
        return t.logic != nullptr && t.logic->output_index(p.name).has_value();
    }
    static bool is_input(const BenchThing& t, const BenchPin& p) {
        return t.logic != nullptr &&
               std::find(t.logic->inputs.begin(), t.logic->inputs.end(), p.name) != t.logic->inputs.end();
    }
    static bool of_module(const BenchThing& t, const BenchPin& p) {
        return t.kind == ThingKind::module && p.name.size() > 1 && p.name[0] == 'P' &&
               p.name.find_first_not_of("0123456789", 1) == std::string::npos;
    }

    const CircuitContact* facts(const std::string& lead) const {
        if (circuit_ != nullptr)
            for (const auto& c : circuit_->contacts)
                if (c.port + "." + c.contact == lead) return &c;
        return nullptr;
    }

    void contact(const BenchThing& t, const BenchPin& p) {
        const auto lead = t.ref + "." + p.number;
        if (rail(p.net) || pins_[at(p.net)].size() < 2) return;
        const auto nets = group(p.net);
        const auto in_group = [&](auto test) {
            return std::any_of(nets.begin(), nets.end(), [&](int n) { return any_pin(n, test); });
        };
        const auto* known = facts(lead);
        const auto driver = known == nullptr ? Driver::unknown : known->pin.driver.value;
        bool watched = driver == Driver::bridge;
        const bool read = in_group(is_input) || in_group(of_module);
        // What the other side drives and nothing here reads can only be seen.
        if (driver != Driver::bridge && (driver != Driver::relic || !read))
            watched = any_pin(p.net, of_module) || in_group(is_output);
        if (!watched && !read) return;
        const auto& name = b_.nets[at(p.net)].name;
        if (watched) {
            if (known_watch(p.net)) return;
            b_.watched.push_back({name, lead});
        } else if (!known_drive(p.net)) {
            BenchDriven d{name, lead, highest()};
            d.idle = known != nullptr && !known->pin.idle.value.empty() ? known->pin.idle.value == "high"
                                                                        : pulled_up(p.net);
            b_.driven.push_back(d);
        }
    }
    bool known_watch(int net) const {
        return std::any_of(b_.watched.begin(), b_.watched.end(),
                           [&](const BenchWatched& w) { return b_.net_of(w.lead) == net; });
    }
    bool known_drive(int net) const {
        return std::any_of(b_.driven.begin(), b_.driven.end(),
                           [&](const BenchDriven& d) { return b_.net_of(d.lead) == net; });
    }
    double highest() const {
        double v = 0;
        for (const auto& s : b_.supplies) v = std::max(v, s.volts);
        return std::min(v, 5.0);
    }
    bool pulled_up(int net) const {
        return any_pin(net, [&](const BenchThing& t, const BenchPin& p) {
            const auto& other = t.pins[t.pins.size() > 1 && t.pins[0].number == p.number ? 1 : 0];
            return t.kind == ThingKind::resistor && b_.nets[at(other.net)].volts.value_or(0) > 0;
        });
    }

    void module_pin(const BenchThing& t, const BenchPin& p) {
        if (!of_module(t, p) || rail(p.net) || pins_[at(p.net)].size() < 2) return;
        const auto nets = group(p.net);
        const bool reads = std::any_of(nets.begin(), nets.end(),
                                       [&](int n) { return known_drive(n) || any_pin(n, is_output); });
        const auto& name = b_.nets[at(p.net)].name;
        const auto lead = t.ref + "." + p.number;
        if (reads) {
            if (!known_watch(p.net)) b_.watched.push_back({name, lead});
        } else if (!known_drive(p.net)) {
            b_.driven.push_back({name, lead, module_high_v});
        }
    }

    void lamp(const BenchThing& t) {
        for (const auto& p : t.pins)
            for (const int n : group(p.net))
                if (!rail(p.net) && (known_drive(n) || any_pin(n, is_output))) {
                    b_.watched.push_back({t.ref, t.ref + "." + p.number, true});
                    return;
                }
    }

    /// All nets that follow from one without storage between; what stands at clocks and loads on the way.
    void follow(int net, std::set<int>& seen, bool through_storage, bool* clocks, bool* loads) const {
        std::vector<int> todo;
        const auto reach = [&](int n) {
            if (!rail(n) && seen.insert(n).second) todo.push_back(n);
        };
        reach(net);
        while (!todo.empty()) {
            const int n = todo.back();
            todo.pop_back();
            for (const int next : series_[at(n)]) reach(next);
            for (const auto& [i, k] : pins_[at(n)]) {
                const auto& t = b_.things[i];
                if (!is_input(t, t.pins[k])) continue;
                for (const auto& r : t.logic->rules) {
                    const auto& names = r.condition.names();
                    if (clocks != nullptr && r.kind != PartRule::Kind::when && r.pin == t.pins[k].name)
                        *clocks = true;
                    if (loads != nullptr && r.kind == PartRule::Kind::when &&
                        std::find(names.begin(), names.end(), t.pins[k].name) != names.end())
                        *loads = true;
                }
                for (const auto& o : t.logic->outputs) {
                    const auto& names = o.value.names();
                    const bool passes = std::find(names.begin(), names.end(), t.pins[k].name) != names.end();
                    const auto* pin = t.find_name(o.pin);
                    if (pin != nullptr && (passes || (through_storage && o.stored))) reach(pin->net);
                }
            }
        }
    }

    void controls() {
        for (auto& d : b_.driven) {
            std::set<int> seen;
            bool clocks = false, loads = false;
            follow(*b_.net_of(d.lead), seen, false, &clocks, &loads);
            d.control = clocks || loads;
            d.loads = loads;
        }
        for (const auto& t : b_.things)
            if (t.logic != nullptr) b_.storage_bits += static_cast<int>(t.logic->bits.size());
        b_.storage_bits = std::min(b_.storage_bits, 64);
    }
    void stored() {
        std::set<int> seen;
        for (const auto& t : b_.things)
            if (t.logic != nullptr)
                for (const auto& o : t.logic->outputs)
                    if (const auto* pin = t.find_name(o.pin); o.stored && pin != nullptr)
                        follow(pin->net, seen, true, nullptr, nullptr);
        for (auto& w : b_.watched) w.stored = seen.count(*b_.net_of(w.lead)) != 0;
    }

    BenchBoard& b_;
    const Circuit* circuit_;
    std::vector<std::vector<int>> series_;
    std::vector<std::vector<std::pair<std::size_t, std::size_t>>> pins_;
};

}  // namespace

void find_lines(BenchBoard& board, const Circuit* circuit) {
    LineFinder(board, circuit).find();
}

}  // namespace grayrelic
