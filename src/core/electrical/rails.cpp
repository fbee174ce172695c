// SPDX-License-Identifier: GPL-3.0-or-later
// What a tree of rails is as a whole, and what is wrong with it.
#include "core/electrical/rails.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/base/text.hpp"
#include "core/base/unions.hpp"

namespace grayrelic {
namespace {

void add_once(std::vector<std::string>& list, const std::string& name) {
    if (std::find(list.begin(), list.end(), name) == list.end()) list.push_back(name);
}

/// Rails that a source reaches through parts.
std::set<std::string> fed_rails(const RailTree& t) {
    std::set<std::string> out;
    for (const auto& s : t.sources) out.insert(s.name);
    for (bool more = true; more;) {
        more = false;
        for (const auto& p : t.parts)
            if (out.count(p.from) > 0) more |= out.insert(p.to).second;
    }
    return out;
}

void find_twice(const RailTree& t, std::vector<RailFault>& out) {
    std::set<std::string> seen;
    const auto once = [&](const char* what, const std::string& name, const RailPlace& place,
                          const char* expected) {
        if (!seen.insert(fmt::format("{} {}", what, name)).second)
            out.push_back({place.line, fmt::format("{} {} a second time", what, in_quotes(name)), expected});
    };
    for (const auto& s : t.sources)
        once("source", s.name, s.place,
             "one source a rail: give the second a rail of its own, and join the two by a drop or a switch");
    for (const auto& p : t.parts) once("part", p.ref, p.place, "each part once, under a name of its own");
    for (const auto& l : t.loads)
        once("load", l.name + " on " + l.rail, l.place, "each load once, or each under a name of its own");
    for (const auto& c : t.capacitors) once("capacitor", c.ref, c.place, "each capacitor once");
    for (const auto& m : t.modes) once("mode", m.name, m.place, "one line for each mode");
}

void find_unfed(const RailTree& t, std::vector<RailFault>& out) {
    const auto fed = fed_rails(t);
    const auto must_be_fed = [&](const std::string& rail, const std::string& what, const RailPlace& place) {
        if (fed.count(rail) == 0)
            out.push_back({place.line,
                           fmt::format("{} on rail {}, which nothing feeds", what, in_quotes(rail)),
                           fmt::format("a source named {}, or a part that leads to it", in_quotes(rail))});
    };
    for (const auto& p : t.parts) must_be_fed(p.from, "part " + in_quotes(p.ref), p.place);
    for (const auto& l : t.loads) must_be_fed(l.rail, "load " + in_quotes(l.name), l.place);
    for (const auto& c : t.capacitors) must_be_fed(c.rail, "capacitor " + in_quotes(c.ref), c.place);
    for (const auto& l : t.lines) {
        must_be_fed(l.from, "line " + in_quotes(l.name), l.place);
        must_be_fed(l.to, "line " + in_quotes(l.name), l.place);
    }
    for (const auto& o : t.orders) {
        must_be_fed(o.first, "an order", o.place);
        must_be_fed(o.then, "an order", o.place);
    }
}

/// Parts that lead from a rail back to itself.
void find_loops(const RailTree& t, std::vector<RailFault>& out) {
    for (const auto& p : t.parts) {
        std::set<std::string> reached{p.to};
        for (bool more = true; more;) {
            more = false;
            for (const auto& q : t.parts)
                if (reached.count(q.from) > 0) more |= reached.insert(q.to).second;
        }
        if (reached.count(p.from) == 0) continue;
        out.push_back({p.place.line,
                       p.kind == RailPartKind::linear || p.kind == RailPartKind::switcher
                           ? fmt::format("regulator {}, fed from its own output", in_quotes(p.ref))
                           : fmt::format("a loop through {}: {} leads back to itself", in_quotes(p.ref),
                                         in_quotes(p.from)),
                       "parts that lead from a source to loads, never back"});
        return;  // all parts of a loop would be named
    }
}

/// Two sources that nothing but switches of 0 Ω join: what would flow is not bounded by anything.
void find_stiff(const RailTree& t, std::vector<RailFault>& out) {
    const auto names = t.rails();
    const auto index = [&](const std::string& rail) {
        return static_cast<int>(std::find(names.begin(), names.end(), rail) - names.begin());
    };
    Unions joined(names.size());
    for (const auto& p : t.parts) {
        if (p.kind != RailPartKind::switched || p.ohm > 0) continue;
        joined.unite(index(p.from), index(p.to));
        for (std::size_t i = 0; i < t.sources.size(); ++i)
            for (std::size_t k = 0; k < i; ++k) {
                const auto &a = t.sources[k], &b = t.sources[i];
                if (a.ohm > 0 || b.ohm > 0 || !joined.same(index(a.name), index(b.name))) continue;
                out.push_back(
                    {p.place.line,
                     fmt::format("sources {} and {} joined by 0 Ω", in_quotes(a.name), in_quotes(b.name)),
                     "the resistance of the switch above 0 Ω, or ri at one of the sources"});
                return;
            }
    }
}

void find_strangers(const RailTree& t, std::vector<RailFault>& out) {
    for (const auto& m : t.modes)
        for (const auto& name : m.off) {
            const auto* part = t.find_part(name);
            if (t.find_source(name) != nullptr || (part != nullptr && part->kind == RailPartKind::switched))
                continue;
            out.push_back({m.place.line, in_quotes(name), "the name of a source or of a switch"});
        }
}

}  // namespace

std::vector<std::string> RailTree::rails() const {
    std::vector<std::string> out;
    for (const auto& s : sources) add_once(out, s.name);
    for (const auto& p : parts) {
        add_once(out, p.from);
        add_once(out, p.to);
    }
    for (const auto& l : loads) add_once(out, l.rail);
    for (const auto& c : capacitors) add_once(out, c.rail);
    for (const auto& l : lines) {
        add_once(out, l.from);
        add_once(out, l.to);
    }
    return out;
}

std::vector<std::string> RailTree::mode_names() const {
    std::vector<std::string> out;
    for (const auto& m : modes) add_once(out, m.name);
    for (const auto& l : loads)
        for (const auto& [mode, amount] : l.in_mode) add_once(out, mode);
    return out;
}

const RailSource* RailTree::find_source(std::string_view name) const {
    const auto it =
        std::find_if(sources.begin(), sources.end(), [&](const auto& s) { return s.name == name; });
    return it == sources.end() ? nullptr : &*it;
}

const RailPart* RailTree::find_part(std::string_view ref) const {
    const auto it = std::find_if(parts.begin(), parts.end(), [&](const auto& p) { return p.ref == ref; });
    return it == parts.end() ? nullptr : &*it;
}

std::vector<RailFault> faults_of(const RailTree& tree) {
    std::vector<RailFault> out;
    find_twice(tree, out);
    find_loops(tree, out);
    find_unfed(tree, out);
    find_stiff(tree, out);
    find_strangers(tree, out);
    return out;
}

}  // namespace grayrelic
