// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/logic/part_logic.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/text.hpp"
#include "core/json/json_node.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_bits = 64, most_outputs = 64, most_rules = 256;

struct Reader {
    const PartType& part;
    PartLogic out;

    bool is_pin(const std::string& name) const {
        return std::any_of(part.pins.begin(), part.pins.end(),
                           [&](const PartPin& p) { return p.name == name; });
    }
    int bit(const std::string& name) const {
        const auto it = std::find(out.bits.begin(), out.bits.end(), name);
        return it == out.bits.end() ? -1 : static_cast<int>(it - out.bits.begin());
    }
    Expression expression(const JsonNode& n) {
        const auto text = n.text();
        auto e = Expression::parse(text);
        if (!e) n.fault(e.error().found, e.error().expected);
        for (const auto& name : e->names()) {
            if (bit(name) >= 0) continue;
            if (!is_pin(name)) n.fault(in_quotes(name), "the name of a pin or of one of \"bits\"");
            if (std::find(out.inputs.begin(), out.inputs.end(), name) == out.inputs.end())
                out.inputs.push_back(name);
        }
        return std::move(*e);
    }
    PartOutput output(const JsonNode& n) {
        // [pin, value] or [pin, value, enable]
        const auto cells = n.elements(3);
        if (cells.size() < 2) n.fault(n.shown(), "[pin, value] or [pin, value, enable]");
        PartOutput o;
        o.pin = cells[0].text(40);
        if (!is_pin(o.pin)) cells[0].fault(cells[0].shown(), "the name of a pin");
        o.value = expression(cells[1]);
        if (cells.size() == 3) o.enable = expression(cells[2]);
        for (const auto* e : {&o.value, &o.enable})
            for (const auto& name : e->names()) o.stored = o.stored || bit(name) >= 0;
        return o;
    }
    PartReverse reverse(JsonNode& n) {
        n.require_object();
        PartReverse r;
        for (const auto& pin : n.required("of").elements(most_outputs)) {
            r.of.push_back(pin.text(40));
            if (!out.output_index(r.of.back())) pin.fault(pin.shown(), "a pin of \"outputs\"");
        }
        const auto inputs = out.inputs;  // those of this direction come when it is turned
        for (const auto& o : n.required("outputs").elements(most_outputs)) r.outputs.push_back(output(o));
        out.inputs = inputs;
        return r;
    }
    PartRule rule(JsonNode& n) {
        PartRule r;
        if (const auto when = n.member("when")) {
            r.condition = expression(*when);
        } else {
            const auto rise = n.member("rise");
            const auto edge = rise ? *rise : n.required("fall");
            r.kind = rise ? PartRule::Kind::rise : PartRule::Kind::fall;
            r.pin = edge.text(40);
            if (!is_pin(r.pin)) edge.fault(edge.shown(), "the name of a pin");
            if (std::find(out.inputs.begin(), out.inputs.end(), r.pin) == out.inputs.end())
                out.inputs.push_back(r.pin);
        }
        auto set = n.required("set");
        set.require_object();
        for (const auto& name : set.keys()) {
            const int b = bit(name);
            const auto child = set.required(name);
            if (b < 0) child.fault(in_quotes(name), "one of \"bits\"");
            r.set.emplace_back(b, expression(child));
        }
        return r;
    }
    Time time(const JsonNode& n, bool above_zero) const {
        const double ns = n.number();
        if (!(ns >= 0.0 && ns <= 1e6) || (above_zero && !(ns > 0.0)))
            n.fault(n.shown(), above_zero ? "a delay above 0 ns" : "a time from 0 ns");
        return Time::ps(std::llround(ns * 1000.0));
    }
    /// [least, typical, most] in nanoseconds
    std::array<Time, 3> triple(const JsonNode& n) const {
        const auto cells = n.elements(3);
        if (cells.size() != 3) n.fault(n.shown(), "[least, typical, most] in ns");
        std::array<Time, 3> t{time(cells[0], true), time(cells[1], true), time(cells[2], true)};
        if (t[1] < t[0] || t[2] < t[1]) n.fault(n.shown(), "least not above typical, typical not above most");
        return t;
    }
    /// A triple for all, or {"rise", "fall", "off"}.
    std::array<Delay, 3> delay(JsonNode n) const {
        std::array<Time, 3> rise, fall, off;
        if (n.is_list()) {
            rise = fall = off = triple(n);
        } else {
            rise = triple(n.required("rise"));
            fall = triple(n.required("fall"));
            const auto o = n.member("off");
            off = o ? triple(*o) : fall;
        }
        std::array<Delay, 3> d;
        for (std::size_t i = 0; i < 3; ++i) d[i] = {rise[i], fall[i], off[i]};
        return d;
    }
    PartDelays delays(const std::string& family, JsonNode n) const {
        PartDelays d;
        d.family = family;
        d.supply_v = n.required("supply_v").number();
        const auto gates = n.member("gates"), storage = n.member("storage");
        if (!gates && !storage) n.fault(n.shown(), "\"gates\" or \"storage\" delays");
        d.gates = delay(gates ? *gates : *storage);
        d.storage = delay(storage ? *storage : *gates);
        if (const auto t = n.member("setup_ns")) d.setup = time(*t, false);
        if (const auto t = n.member("hold_ns")) d.hold = time(*t, false);
        if (const auto t = n.member("width_ns")) d.width = time(*t, false);
        return d;
    }
    PartLogic read(JsonNode& root) {
        out.id = part.id;
        out.name = part.name;
        if (const auto bits = root.member("bits"))
            for (const auto& b : bits->elements(most_bits)) {
                out.bits.push_back(b.text(40));
                if (is_pin(out.bits.back())) b.fault(b.shown(), "a name that no pin has");
            }
        const auto outputs = root.required("outputs");
        for (const auto& o : outputs.elements(most_outputs)) out.outputs.push_back(output(o));
        if (out.outputs.empty()) outputs.fault("no outputs", "at least one output");
        if (const auto groups = root.member("reverse"))
            for (auto& g : groups->elements(most_outputs)) out.reverse.push_back(reverse(g));
        std::set<int> set;
        if (const auto rules = root.member("rules"))
            for (auto& r : rules->elements(most_rules)) {
                r.require_object();
                out.rules.push_back(rule(r));
                for (const auto& [b, e] : out.rules.back().set) set.insert(b);
            }
        if (set.size() != out.bits.size())
            root.fault("a bit that no rule sets", "a rule for each of \"bits\"");
        if (auto families = root.member("delays")) {
            families->require_object();
            for (const auto& family : families->keys())
                out.delays.push_back(delays(family, families->required(family)));
        }
        return std::move(out);
    }
};

}  // namespace

std::string_view word(Corner c) {
    return c == Corner::fast ? "fast" : c == Corner::typical ? "typical" : "slow";
}

const PartDelays* PartLogic::find_delays(std::string_view family) const {
    for (const auto& d : delays)
        if (d.family == family) return &d;
    return nullptr;
}

std::optional<int> PartLogic::output_index(std::string_view pin) const {
    for (std::size_t i = 0; i < outputs.size(); ++i)
        if (outputs[i].pin == pin) return static_cast<int>(i);
    return std::nullopt;
}

Result<PartLogic> part_logic(const PartType& part) {
    if (part.logic.empty())
        return fail_usage(in_quotes(part.id) + ", which has no logic", "a part with a \"logic\" member");
    const auto document = JsonDocument::parse(part.logic, part.id, "the logic of a part");
    if (!document) return fail(document.error());
    try {
        auto root = document->root();
        root.require_object();
        return Reader{part, {}}.read(root);
    } catch (const JsonFault& fault) {
        return fail_at(part.id, 0, fault.found,
                       fault.expected + " in " + print_path(fault.path) + " of its logic");
    }
}

LogicLibrary LogicLibrary::from(const PartLibrary& library) {
    LogicLibrary out;
    for (const auto& p : library.parts) {
        auto type = p;
        type.logic.clear();
        out.types.emplace(p.id, std::move(type));
        if (p.logic.empty()) continue;
        auto logic = part_logic(p);
        if (logic)
            out.parts.emplace(p.id, std::move(*logic));
        else
            out.problems.push_back(logic.error());
    }
    return out;
}

PartLogic PartLogic::turned(const std::vector<std::size_t>& groups) const {
    PartLogic out = *this;
    for (const auto g : groups) {
        const auto& r = reverse[g];
        std::erase_if(out.outputs, [&](const PartOutput& o) {
            return std::find(r.of.begin(), r.of.end(), o.pin) != r.of.end();
        });
        out.outputs.insert(out.outputs.end(), r.outputs.begin(), r.outputs.end());
    }
    out.reverse.clear();
    out.inputs.clear();
    const auto reads = [&](const std::string& name) {
        const bool stored = std::find(bits.begin(), bits.end(), name) != bits.end();
        if (!stored && std::find(out.inputs.begin(), out.inputs.end(), name) == out.inputs.end())
            out.inputs.push_back(name);
    };
    for (const auto& o : out.outputs)
        for (const auto* e : {&o.value, &o.enable})
            for (const auto& name : e->names()) reads(name);
    for (const auto& r : out.rules) {
        if (r.kind != PartRule::Kind::when) reads(r.pin);
        for (const auto& name : r.condition.names()) reads(name);
        for (const auto& [bit, e] : r.set)
            for (const auto& name : e.names()) reads(name);
    }
    return out;
}

const PartType* LogicLibrary::find_type(std::string_view id) const {
    const auto it = types.find(id);
    return it == types.end() ? nullptr : &it->second;
}

const PartLogic* LogicLibrary::find(std::string_view id) const {
    const auto it = parts.find(id);
    return it == parts.end() ? nullptr : &it->second;
}

}  // namespace grayrelic
