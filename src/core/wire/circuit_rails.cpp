// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wire/circuit_rails.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/dossier/pin_fields.hpp"
#include "core/wire/bill.hpp"

namespace grayrelic {
namespace {

/// What a computer's USB port promises: a published standard's 5 V ± 5 % and 500 mA for a device that is
/// known.
constexpr double usb_volts = 5, usb_tolerance = 0.05, usb_limit = 0.5;
constexpr double unknown_join_ohm = 0.1;
constexpr double most_series_ohm = 10;

std::string plain_name(std::string name) {
    std::replace(name.begin(), name.end(), ' ', '_');
    return name.empty() ? "?" : name;
}

class RailFinder {
  public:
    explicit RailFinder(const Circuit& c) : c_(c) {}
    RailTree take() {
        add_sources();
        for (std::size_t i = 0; i < c_.network.all.size(); ++i) add_converter(i);
        // A rail whose volts the text says, and that a part makes: the part is its source.
        std::erase_if(tree_.sources, [&](const auto& s) {
            return std::any_of(tree_.parts.begin(), tree_.parts.end(), [&](const auto& p) {
                return p.to == s.name && p.kind != RailPartKind::switched && p.from != s.name;
            });
        });
        add_ways();
        for (std::size_t i = 0; i < c_.network.all.size(); ++i) {
            add_load(i);
            add_capacitor(i);
        }
        drop_unfed();
        return std::move(tree_);
    }

  private:
    [[nodiscard]] bool is_rail(int net) const {
        const auto& s = c_.nets[static_cast<std::size_t>(net)].supply;
        return s && !s->ground;
    }
    [[nodiscard]] std::string name(int net) const {
        return plain_name(c_.nets[static_cast<std::size_t>(net)].name);
    }
    [[nodiscard]] static std::optional<int> net_of(const ListedPart& p, const PartPin& pin) {
        const auto by_name = p.net_of(pin.name);
        return by_name ? by_name : p.net_of(pin.number);
    }
    [[nodiscard]] std::optional<std::string> rail_at(const ListedPart& p, PinKind kind,
                                                     std::string_view not_named = {}) const {
        for (const auto& pin : p.type->pins)
            if (pin.kind == kind && pin.name != not_named)
                if (const auto net = net_of(p, pin); net && is_rail(*net)) return name(*net);
        return std::nullopt;
    }
    [[nodiscard]] static RailPlace from(const std::string& what) { return {0, "the circuit: " + what}; }
    void add_source(const std::string& rail, double least, double most, std::optional<double> limit,
                    const std::string& because) {
        if (tree_.find_source(rail) != nullptr || most <= 0) return;
        RailSource s;
        s.name = rail;
        s.volts = (least + most) / 2;
        s.tolerance = (most - least) / (most + least);
        s.limit_a = limit;
        s.place = from(because);
        tree_.sources.push_back(std::move(s));
    }
    void add_sources();
    void add_usb(const ListedPart& p, const std::string& in);
    void add_converter(std::size_t i);
    void add_ways();
    void add_load(std::size_t i);
    void add_capacitor(std::size_t i);
    void drop_unfed();

    const Circuit& c_;
    RailTree tree_;
};

void RailFinder::add_sources() {
    for (const auto& c : c_.contacts) {
        if (role_of(c.pin) != PinRole::rail || !is_rail(c.net)) continue;
        const auto& s = *c_.nets[static_cast<std::size_t>(c.net)].supply;
        add_source(name(c.net), s.least, s.most, s.limit_a, s.because);
        if (c.side == Side::relic && tree_.sources.back().name == name(c.net))
            tree_.sources.back().relic = true;
    }
    for (const auto& r : c_.network.rails)
        if (r.volts > 0)
            add_source(name(r.net), r.volts * (1 - r.tolerance), r.volts * (1 + r.tolerance), std::nullopt,
                       fmt::format("line {}", r.line));
}

/// A module's jack. Whether it is kept apart from the other input is its sheet's matter: taken as joined.
void RailFinder::add_usb(const ListedPart& p, const std::string& in) {
    const auto* jack = p.type->find_name("USB5V");
    if (jack == nullptr) return;
    auto rail = p.ref + ".USB5V";
    if (const auto net = net_of(p, *jack)) {
        if (name(*net) == in || tree_.find_source(name(*net)) != nullptr) return;
        rail = name(*net);
    }
    add_source(rail, usb_volts * (1 - usb_tolerance), usb_volts * (1 + usb_tolerance), usb_limit,
               p.ref + "'s USB jack, taken as 5 V ± 5 % and 500 mA");
    RailPart way;
    way.ref = p.ref + ".jack";
    way.kind = RailPartKind::switched;
    way.from = rail;
    way.to = in;
    way.ohm = unknown_join_ohm;
    way.assumed = true;
    way.place = {0, "taken as joined: its sheet says whether the jack is kept apart from the input"};
    tree_.parts.push_back(std::move(way));
}

void RailFinder::add_converter(std::size_t i) {
    const auto& p = c_.network.all[i];
    const auto& e = p.type->electrical;
    const bool module = p.type->function == "module" && e.output_v.has_value();
    if (!module && p.type->function != "regulator") return;
    const auto in = rail_at(p, PinKind::supply, "USB5V");
    auto out = rail_at(p, PinKind::source);
    if (!out && module) out = p.ref + ".3V3";
    const auto said = part_value(p);
    const auto volts = said && *said ? *said : e.output_v;
    const auto jack = module && p.type->find_name("USB5V") != nullptr;
    const auto from_rail = in ? *in : jack ? p.ref + ".VIN" : std::string();
    if (from_rail.empty() || !out || !volts || *out == from_rail) return;
    if (jack) add_usb(p, from_rail);
    RailPart r;
    r.ref = p.ref;
    r.kind = e.efficiency ? RailPartKind::switcher : RailPartKind::linear;
    r.from = from_rail;
    r.to = *out;
    r.volts = *volts;
    r.dropout_v = e.dropout_v;
    r.theta = e.theta_k_per_w;
    r.most_a = e.current_max_a;
    r.efficiency = e.efficiency.value_or(0);
    if (!module) r.own_a = e.supply_a.value_or(0);
    r.place = from(p.ref);
    tree_.parts.push_back(std::move(r));
    if (module && e.supply_a) {
        RailLoad l;
        l.name = p.ref;
        l.rail = *out;
        l.amount = {RailAmount::Kind::amperes, *e.supply_a};
        l.place = from(p.ref);
        tree_.loads.push_back(std::move(l));
    }
}

/// What lies between two rails, from where the supply comes.
void RailFinder::add_ways() {
    std::set<std::string> reached;
    for (const auto& s : tree_.sources) reached.insert(s.name);
    std::set<std::size_t> done;
    const auto add = [&](std::size_t i, int a, int b) {
        const auto& e = c_.edges[i];
        const auto& p = c_.network.all[e.part];
        RailPart w;
        w.ref = p.ref;
        w.from = name(a);
        w.to = name(b);
        w.most_a = p.type->electrical.current_max_a;
        if (p.type->function == "fuse" || p.type->function == "fuse-resettable")
            for (const auto& word : p.words)
                if (const auto amps = parse_number(word, Unit::ampere); amps && word.ends_with('A'))
                    w.most_a = *amps;
        w.place = from(p.ref);
        if (e.kind == CircuitEdge::Kind::drop) {
            w.kind = RailPartKind::drop;
            w.volts = e.drop_max;  // at the current it is for: the worst
        } else {
            w.kind = RailPartKind::switched;
            w.ohm = e.ohm;
        }
        done.insert(i);
        reached.insert(w.to);
        tree_.parts.push_back(std::move(w));
    };
    const auto passes = [&](const CircuitEdge& e) {
        if (!is_rail(e.a) || !is_rail(e.b) || name(e.a) == name(e.b)) return false;
        if (e.kind == CircuitEdge::Kind::drop) return c_.network.all[e.part].type->function == "diode";
        return e.kind == CircuitEdge::Kind::resistor && e.ohm <= most_series_ohm;
    };
    for (bool more = true; more;) {
        more = false;
        for (const auto& p : tree_.parts)
            if (reached.count(p.from) > 0) more |= reached.insert(p.to).second;
        for (std::size_t i = 0; i < c_.edges.size(); ++i) {
            const auto& e = c_.edges[i];
            if (done.count(i) > 0 || !passes(e)) continue;
            const bool ahead = reached.count(name(e.a)) > 0;
            const bool behind = reached.count(name(e.b)) > 0 && e.kind == CircuitEdge::Kind::resistor;
            if (ahead)
                add(i, e.a, e.b);
            else if (behind)
                add(i, e.b, e.a);
            more |= ahead || behind;
        }
    }
}

void RailFinder::add_load(std::size_t i) {
    const auto& p = c_.network.all[i];
    RailLoad l;
    l.name = p.ref;
    l.place = from(p.ref);
    l.amount.kind = RailAmount::Kind::amperes;
    if (p.type->function == "module" || p.type->function == "regulator") {
        // A module that makes no supply of its own takes its current from the one it stands on.
        if (p.type->function == "regulator" || p.type->electrical.output_v) return;
    }
    if (p.type->function == "led") {
        // Through its resistor from a rail; from a chip's pin it is that chip's matter.
        for (const auto& e : c_.edges) {
            if (e.kind != CircuitEdge::Kind::resistor || e.ohm <= 0) continue;
            const auto* anode = p.type->find_name("A");
            const auto net = anode == nullptr ? std::nullopt : net_of(p, *anode);
            if (!net || (e.a != *net && e.b != *net)) continue;
            const int other = e.a == *net ? e.b : e.a;
            if (!is_rail(other)) continue;
            const auto& s = *c_.nets[static_cast<std::size_t>(other)].supply;
            l.rail = name(other);
            l.amount.value = std::max(0.0, (s.typical - p.type->electrical.drop_min_v.value_or(1.7)) / e.ohm);
            tree_.loads.push_back(std::move(l));
            return;
        }
        return;
    }
    const auto amps = own_current(p);
    const auto rail = rail_at(p, PinKind::supply);
    if (!amps || !rail) return;
    l.rail = *rail;
    l.amount.value = *amps;
    for (const auto* ends : {&c_.receivers, &c_.drivers})
        for (const auto& end : *ends)
            if (end.part == i && end.family != nullptr && !l.dies_v) l.dies_v = end.family->supply_max_v;
    tree_.loads.push_back(std::move(l));
}

void RailFinder::add_capacitor(std::size_t i) {
    const auto& p = c_.network.all[i];
    if (p.type->function != "capacitor" || p.pins.size() != 2) return;
    const auto farad = part_value(p);
    if (!farad || !*farad) return;
    for (const auto& [pin, net] : p.pins)
        if (is_rail(net)) {
            tree_.capacitors.push_back({p.ref, name(net), **farad, 0, from(p.ref)});
            return;
        }
}

/// What stands on a rail that the circuit does not feed is the circuit's fault, not the tree's.
void RailFinder::drop_unfed() {
    std::set<std::string> fed;
    for (const auto& s : tree_.sources) fed.insert(s.name);
    for (bool more = true; more;) {
        more = false;
        for (const auto& p : tree_.parts)
            if (fed.count(p.from) > 0) more |= fed.insert(p.to).second;
    }
    std::erase_if(tree_.parts, [&](const auto& p) { return fed.count(p.from) == 0; });
    std::erase_if(tree_.loads, [&](const auto& l) { return fed.count(l.rail) == 0; });
    std::erase_if(tree_.capacitors, [&](const auto& c) { return fed.count(c.rail) == 0; });
}

template <class T>
void take_over(std::vector<T>& found, const std::vector<T>& typed, std::string T::*name) {
    for (const auto& t : typed) {
        std::erase_if(found, [&](const T& f) { return f.*name == t.*name && f.place.line == 0; });
        found.push_back(t);
    }
}

}  // namespace

RailTree rails_of(const Circuit& circuit) {
    return RailFinder(circuit).take();
}

RailTree joined_rails(RailTree found, const RailTree& typed) {
    take_over(found.sources, typed.sources, &RailSource::name);
    take_over(found.parts, typed.parts, &RailPart::ref);
    take_over(found.loads, typed.loads, &RailLoad::name);
    take_over(found.capacitors, typed.capacitors, &RailCapacitor::ref);
    found.lines = typed.lines;
    found.modes = typed.modes;
    found.orders = typed.orders;
    return found;
}

std::string begin_rails(const Dossier& d) {
    std::string out;
    std::set<std::string> names;
    for (const auto& port : *d.ports)
        for (const auto& pin : port.pins) {
            if (role_of(pin) != PinRole::rail) continue;
            const auto volts = rail_volts(pin);
            if (!volts || *volts <= 0) continue;
            auto name = plain_name(pin.name.value.empty() ? port.id + "." + pin.number : pin.name.value);
            if (!names.insert(name).second) names.insert(name = port.id + "." + name);
            const double least = pin.volts_min.value ? pin.volts_min.value->value() : 0.9 * *volts;
            const double middle = (least + *volts) / 2;
            out += fmt::format("source {} {:.6g}V ±{:.3g}%", name, middle,
                               100 * (*volts - least) / (*volts + least));
            if (port.side == Side::relic) out += " relic";
            if (pin.current_max.value) out += fmt::format(" limit {:.6g}A", pin.current_max.value->value());
            out += fmt::format("  # {}/{}{}\n", port.id, pin.number,
                               pin.volts_min.value ? "" : ", its lowest is assumed");
        }
    return out;
}

RailStudy study_rails_of(const Wire& wire, const Circuit& circuit) {
    const auto typed = read_rails(wire.rails);
    auto tree = joined_rails(rails_of(circuit), typed.tree);
    if (tree.empty() && typed.faults.empty()) return {};
    if (typed.faults.empty()) return study_rails(std::move(tree));
    RailStudy out;
    out.tree = std::move(tree);
    out.faults = typed.faults;
    return out;
}

}  // namespace grayrelic
