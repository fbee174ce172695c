// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wire/value_study.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/text.hpp"
#include "core/wire/resistors.hpp"

namespace grayrelic {
namespace {

const ListedPart* find_part(const Circuit& c, const std::string& ref) {
    for (const auto& p : c.network.all)
        if (p.ref == ref) return &p;
    return nullptr;
}

/// Values of the parts that it is tied to; a tie to nothing is said.
void take_parts(const Circuit& c, const WireValue& v, ValueStudy& out,
                std::map<std::string, double>& tolerances) {
    for (const auto& [key, ref] : v.parts) {
        const auto* known = find_parameter(*out.kind, key);
        if (known == nullptr) {
            out.problem = fmt::format("{} has no {}.", label(*out.kind), in_quotes(key));
            return;
        }
        const auto* part = find_part(c, ref);
        if (part == nullptr) {
            out.problem = fmt::format("There is no part {} in the circuit.", ref);
            return;
        }
        const auto value = part_value(*part);
        if (!value || !*value) {
            out.problem = fmt::format("{} has no value that can be read.", ref);
            return;
        }
        out.inputs[key] = **value;
        tolerances[key] = part_tolerance(*part);
    }
}

void judge(ValueStudy& out, const std::map<std::string, double>& tolerances) {
    const auto& v = out.value;
    auto r = compute_value(*out.kind, out.inputs, out.series);
    if (!r) {
        out.problem = fmt::format("Found {}, expected {}.", r.error().found, r.error().expected);
        return;
    }
    out.result = std::move(*r);
    const WantedRange wanted{v.least, v.most};
    out.verdict = judge_wanted(*out.result, wanted);
    out.why = out.result->why;
    const auto* main = out.result->find(out.result->main);
    out.spread = spread_of(*out.kind, out.inputs, tolerances, out.series);
    if (out.spread && main != nullptr && (v.least || v.most)) {
        const bool least = v.least && out.spread->least < *v.least,
                   most = v.most && out.spread->most > *v.most;
        if (out.verdict == Verdict::stop && out.why.empty())
            out.why =
                fmt::format("{} is {}; wanted is {}{}{}.", main->label,
                            print_measure(main->value.value_or(0), main->measure),
                            v.least ? "at least " + print_measure(*v.least, main->measure) : std::string(),
                            v.least && v.most ? ", " : "",
                            v.most ? "at most " + print_measure(*v.most, main->measure) : std::string());
        else if ((least || most) && out.verdict == Verdict::holds) {
            out.verdict = Verdict::doubt;
            out.why = fmt::format("Within the parts' tolerance {} runs from {} to {}.", main->label,
                                  print_measure(out.spread->least, main->measure),
                                  print_measure(out.spread->most, main->measure));
        }
    }
    for (const auto& p : parameters_of(*out.kind)) {
        if (!p.part || out.inputs.count(p.key) == 0) continue;
        const auto tie = v.parts.find(p.key);
        out.fits.push_back({p.key, tie == v.parts.end() ? std::string() : tie->second, out.inputs.at(p.key),
                            wrong_fits(*out.kind, out.inputs, p.key, wanted, out.series)});
    }
}

NumberFact fact(const char* key, double value, EvidenceKind kind, std::string source) {
    NumberFact f;
    f.key = key;
    f.value.value = value;
    f.value.evidence.kind = kind;
    f.value.evidence.source = std::move(source);
    return f;
}

class Finder {
  public:
    Finder(const Circuit& c, const LinkStudy& s) : c_(c), study_(s) {}

    std::vector<WireValue> find() {
        for (std::size_t i = 0; i < c_.edges.size(); ++i) {
            const auto& e = c_.edges[i];
            const auto& f = type(e).function;
            if (f == "led") lamp(e);
            if (f == "resistor") pull_up(e), divider(e), filter(e);
        }
        for (std::size_t i = 0; i < c_.network.all.size(); ++i)
            if (c_.network.all[i].type->function == "crystal") crystal(c_.network.all[i]);
        return std::move(out_);
    }

  private:
    const PartType& type(const CircuitEdge& e) const { return *c_.network.all[e.part].type; }
    const std::string& ref(const CircuitEdge& e) const { return c_.network.all[e.part].ref; }
    const std::optional<NetSupply>& supply(int net) const {
        return c_.nets[static_cast<std::size_t>(net)].supply;
    }
    const std::string& name(int net) const { return c_.nets[static_cast<std::size_t>(net)].name; }
    static WireValue begin(ValueKind kind, std::string name) {
        WireValue v;
        v.kind = std::string(word(kind));
        v.name = std::move(name);
        return v;
    }
    void add(WireValue v) {
        std::string refs;
        for (const auto& [key, part] : v.parts) refs += (refs.empty() ? "" : " ") + part;
        v.id = "found " + v.kind + " " + refs;
        out_.push_back(std::move(v));
    }
    void lamp(const CircuitEdge& led) {
        for (const int net : {led.a, led.b})
            for (const auto i : c_.nets[static_cast<std::size_t>(net)].edges) {
                const auto& e = c_.edges[i];
                if (type(e).function != "resistor") continue;
                const int beyond = e.a == net ? e.b : e.a;
                const int other = net == led.a ? led.b : led.a;
                // From a supply through both, or from a driver to ground.
                double volts = 0;
                if (supply(beyond) && !supply(beyond)->ground)
                    volts = supply(beyond)->typical;
                else if (supply(other) && !supply(other)->ground)
                    volts = supply(other)->typical;
                else if (const auto v = driver_volts(beyond))
                    volts = *v;
                else if (const auto w = driver_volts(other))
                    volts = *w;
                const double vf = (led.drop_min + led.drop_max) / 2;
                if (volts <= vf) continue;
                auto v = begin(ValueKind::led, fmt::format("Lamp {}", ref(led)));
                v.numbers = {fact("supply", volts, EvidenceKind::deduced, "the circuit's supply"),
                             fact("vf", vf, EvidenceKind::documented, "data of " + type(led).id),
                             fact("current", 0.005, EvidenceKind::assumed, "5 mA light most lamps well")};
                v.parts["r"] = ref(e);
                return add(std::move(v));
            }
    }
    /// What drives the net itself, as its line was settled.
    std::optional<double> driver_volts(int net) const {
        const auto* line = study_.line_of(net);
        if (line == nullptr) return std::nullopt;
        for (const auto i : line->drivers)
            if (const auto& d = c_.drivers[i]; d.net == net) return d.supply.most;
        return std::nullopt;
    }
    void pull_up(const CircuitEdge& e) {
        for (const auto& [net, rail] : {std::pair(e.a, e.b), std::pair(e.b, e.a)}) {
            if (!supply(rail) || supply(rail)->ground || supply(net)) continue;
            const auto* line = study_.line_of(net);
            if (line == nullptr) continue;
            for (const auto i : line->links) {
                const auto& link = study_.links[i];
                const auto& d = c_.drivers[link.driver];
                if (d.style != DriveStyle::pulls_low) continue;
                const auto* f = d.family;
                auto v = begin(ValueKind::pull_up, "Pull-up of " + line->name);
                v.numbers = {
                    fact("vcc", supply(rail)->least, EvidenceKind::deduced, supply(rail)->because),
                    fact("vth", link.levels.high_needed_v, EvidenceKind::documented, "the reader's family"),
                    fact("c", line->farad, EvidenceKind::assumed, "inputs, driver and 150 pF for a lead"),
                    fact("within", 1e-6, EvidenceKind::assumed, "1 µs until the line's bit time is entered")};
                if (f != nullptr && f->most_low_a(d.supply.least) > 0)
                    v.numbers.push_back(
                        fact("sink", f->most_low_a(d.supply.least), EvidenceKind::documented, f->name));
                v.parts["r"] = ref(e);
                return add(std::move(v));
            }
        }
    }
    void divider(const CircuitEdge& lower) {
        for (const auto& [net, rail] : {std::pair(lower.a, lower.b), std::pair(lower.b, lower.a)}) {
            if (!supply(rail) || !supply(rail)->ground || supply(net) || driver_volts(net)) continue;
            for (const auto i : c_.nets[static_cast<std::size_t>(net)].edges) {
                const auto& upper = c_.edges[i];
                if (&upper == &lower || type(upper).function != "resistor") continue;
                const int top = upper.a == net ? upper.b : upper.a;
                const auto volts = supply(top) && !supply(top)->ground ? std::optional(supply(top)->typical)
                                                                       : driver_volts(top);
                if (!volts) continue;
                auto v = begin(ValueKind::divider, "Divider at " + name(net));
                v.numbers = {fact("vin", *volts, EvidenceKind::deduced, "what stands at " + name(top))};
                v.parts = {{"r1", ref(upper)}, {"r2", ref(lower)}};
                return add(std::move(v));
            }
        }
    }
    /// A capacitor to ground behind a resistor.
    void filter(const CircuitEdge& e) {
        for (const int net : {e.a, e.b}) {
            if (supply(net)) continue;
            for (const auto& [part, pin] : c_.nets[static_cast<std::size_t>(net)].pins) {
                const auto& cap = c_.network.all[part];
                if (cap.type->function != "capacitor" || cap.pins.size() != 2) continue;
                const int far = cap.pins[0].second == net ? cap.pins[1].second : cap.pins[0].second;
                if (!supply(far) || !supply(far)->ground) continue;
                auto v = begin(ValueKind::filter, "Filter at " + name(net));
                v.parts = {{"c", cap.ref}, {"r", ref(e)}};
                return add(std::move(v));
            }
        }
    }
    void crystal(const ListedPart& x) {
        for (const auto& [pin, net] : x.pins)
            for (const auto& [part, cap_pin] : c_.nets[static_cast<std::size_t>(net)].pins) {
                const auto& cap = c_.network.all[part];
                if (cap.type->function != "capacitor") continue;
                auto v = begin(ValueKind::crystal, "Load of " + x.ref);
                v.numbers = {
                    fact("cl", 18e-12, EvidenceKind::assumed, "18 pF until the crystal's sheet is read"),
                    fact("stray", 5e-12, EvidenceKind::assumed, "pads and pins")};
                v.parts["c"] = cap.ref;
                return add(std::move(v));
            }
    }
    const Circuit& c_;
    const LinkStudy& study_;
    std::vector<WireValue> out_;
};

}  // namespace

ValueStudy study_value(const WireValue& v, const Circuit& c) {
    ValueStudy out;
    out.value = v;
    out.kind = named<ValueKind>(v.kind);
    if (!out.kind) {
        out.problem = fmt::format("Found {} as a kind, expected {}.", in_quotes(v.kind), one_of<ValueKind>());
        return out;
    }
    if (const auto s = named<Series>(v.series)) out.series = *s;
    for (const auto& n : v.numbers) {
        out.inputs[n.key] = n.value.value;
        if (n.value.evidence.kind == EvidenceKind::assumed) out.assumed.push_back(n.key);
    }
    std::map<std::string, double> tolerances;
    take_parts(c, v, out, tolerances);
    if (out.problem.empty()) judge(out, tolerances);
    return out;
}

void look_into_drawer(ValueStudy& s, const Drawer& drawer) {
    const auto* standard = s.result ? s.result->find("nearest_ohm") : nullptr;
    if (standard == nullptr || standard->is_list || !standard->value) return;
    // The exact value where the kind has one: the drawer may be nearer to it than the series.
    const auto* exact = s.result->find("ohm");
    const Resistors resistors(drawer);
    const auto found =
        resistors.nearest_to(exact != nullptr && exact->value ? *exact->value : *standard->value);
    if (!found) return;
    auto inputs = s.inputs;
    inputs["r"] = found->ohm;
    const auto r = compute_value(*s.kind, inputs, s.series);
    if (!r) return;
    s.at_hand = ValueStudy::AtHand{found->ohm, found->count, r->main_value(),
                                   judge_wanted(*r, {s.value.least, s.value.most})};
}

std::vector<WireValue> values_found(const Circuit& c, const LinkStudy& s,
                                    const std::vector<WireValue>& held) {
    auto found = Finder(c, s).find();
    std::erase_if(found, [&](const WireValue& v) {
        return std::any_of(held.begin(), held.end(),
                           [&](const WireValue& h) { return h.kind == v.kind && h.parts == v.parts; });
    });
    // One of each id: several lamps on one resistor, for example.
    std::vector<WireValue> out;
    for (auto& v : found)
        if (std::none_of(out.begin(), out.end(), [&](const WireValue& o) { return o.id == v.id; }))
            out.push_back(std::move(v));
    return out;
}

}  // namespace grayrelic
