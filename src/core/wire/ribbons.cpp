// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wire/ribbons.hpp"

#include <algorithm>
#include <limits>
#include <set>

#include "core/dossier/pin_fields.hpp"

namespace grayrelic {
namespace {

constexpr int most_hops = 4;

class Walker {
  public:
    Walker(const Circuit& c, const LinkStudy& s) : c_(c), study_(s) {}

    RibbonRow row(std::size_t contact) {
        RibbonRow out;
        out.contact = contact;
        const auto& at = c_.contacts[contact];
        const auto role = role_of(at.pin);
        const auto own = at.side == Side::relic ? Driver::relic : Driver::bridge;
        const auto d = at.pin.driver.value;
        using Flow = RibbonRow::Flow;
        out.flow = role == PinRole::ground                       ? Flow::ground
                   : role == PinRole::rail                       ? Flow::supply
                   : d == Driver::both                           ? Flow::both
                   : d == own                                    ? Flow::to_modern
                   : d == Driver::unknown || d == Driver::nobody ? Flow::nobody
                                                                 : Flow::to_relic;
        if (out.flow == Flow::supply)
            follow_supply(at.net, out);
        else if (out.flow != Flow::ground)
            follow_signal(at.net, out.flow == Flow::to_relic, out);
        judge(out);
        return out;
    }

  private:
    const std::string& ref(std::size_t part) const { return c_.network.all[part].ref; }
    bool is_module(std::size_t part) const { return c_.network.all[part].type->function == "module"; }

    void end_at(const std::string& name, RibbonRow& out) const {
        if (std::find(out.ends.begin(), out.ends.end(), name) == out.ends.end()) out.ends.push_back(name);
    }
    void note_line(int net, RibbonRow& out) const {
        const int at = study_.line_by_net[static_cast<std::size_t>(net)];
        if (at >= 0 &&
            std::find(out.lines.begin(), out.lines.end(), static_cast<std::size_t>(at)) == out.lines.end())
            out.lines.push_back(static_cast<std::size_t>(at));
    }

    /// One step through parts: from these nets to those behind, away from the contact.
    struct Step {
        std::vector<int> nets;
        std::vector<std::string> refs;
        bool plain = false, turned = false;  ///< a way through without, and one with an inversion
    };
    Step step(const std::vector<int>& from, bool backward, std::set<int>& seen, std::optional<bool>& inverted,
              RibbonRow& out) const {
        Step next;
        const auto reach = [&](int net, const std::string& through) {
            const bool rail = c_.nets[static_cast<std::size_t>(net)].supply.has_value() ||
                              c_.network.nets[static_cast<std::size_t>(net)].held.has_value();
            if (rail || !seen.insert(net).second) return false;
            next.nets.push_back(net);
            if (std::find(next.refs.begin(), next.refs.end(), through) == next.refs.end())
                next.refs.push_back(through);
            return true;
        };
        for (const int net : from) {
            for (const auto i : c_.nets[static_cast<std::size_t>(net)].edges) {
                const auto& e = c_.edges[i];
                next.plain = reach(e.a == net ? e.b : e.a, ref(e.part)) || next.plain;
            }
            for (const auto& [part, pin] : c_.nets[static_cast<std::size_t>(net)].pins)
                through_part(part, net, backward, reach, next, inverted, out);
        }
        return next;
    }
    template <class Reach>
    void through_part(std::size_t index, int net, bool backward, Reach reach, Step& next,
                      std::optional<bool>& inverted, RibbonRow& out) const {
        const auto& p = c_.network.all[index];
        if (is_module(index)) {
            for (const auto& [pin, at] : p.pins)
                if (at == net) end_at(p.ref + "." + pin, out);
            return;
        }
        if (p.type->function == "translator" || p.type->function == "translator-drain") {
            for (const auto& [pin, at] : p.pins) {
                if (at != net || pin.size() < 2) continue;
                const auto other = (pin[0] == 'A' ? "B" : "A") + pin.substr(1);
                if (const auto far = p.net_of(other)) (void)reach(*far, p.ref);
            }
            return;
        }
        if (p.logic) through_logic(p, net, backward, reach, next, inverted);
    }
    template <class Reach>
    void through_logic(const ListedPart& p, int net, bool backward, Reach reach, Step& next,
                       std::optional<bool>& inverted) const {
        const auto& part = c_.network.parts[static_cast<std::size_t>(*p.logic)];
        bool any = false;
        for (std::size_t o = 0; o < part.outputs.size(); ++o) {
            const auto& output = part.logic->outputs[o];
            if (!part.outputs[o]) continue;
            const bool here = *part.outputs[o] == net;
            if (backward != here) continue;
            for (std::size_t k = 0; k < part.inputs.size(); ++k) {
                if (!part.inputs[k] || !reads(part, output, part.logic->inputs[k])) continue;
                const int other = backward ? *part.inputs[k] : *part.outputs[o];
                if (!backward && *part.inputs[k] != net) continue;
                any = reach(other, p.ref) || any;
            }
            // One name behind a sign of inversion: the level is turned.
            if (any && output.value.steps().size() == 2 && output.value.steps()[1].op == Expression::Op::not_)
                next.turned = true;
            else if (any && output.value.steps().size() == 1)
                next.plain = true;
            else if (any && output.value.steps().size() > 1)
                inverted.reset();
        }
        if (!any && std::find(next.refs.begin(), next.refs.end(), p.ref) == next.refs.end() &&
            ends_here(part, net, backward))
            next.refs.push_back(p.ref);
    }
    static bool ends_here(const NetworkPart& part, int net, bool backward) {
        const auto& nets = backward ? part.outputs : part.inputs;
        return std::find(nets.begin(), nets.end(), PinNet(net)) != nets.end();
    }
    /// A stored bit follows from all that its rules read.
    static bool reads(const NetworkPart& part, const PartOutput& output, const std::string& input) {
        if (output.stored || part.logic->stores()) return true;
        for (const auto* e : {&output.value, &output.enable})
            if (std::find(e->names().begin(), e->names().end(), input) != e->names().end()) return true;
        return false;
    }
    void note_ends(const std::vector<int>& nets, std::size_t own, RibbonRow& out) const {
        for (const int net : nets) {
            note_line(net, out);
            for (const auto i : c_.nets[static_cast<std::size_t>(net)].contacts)
                if (i != own && c_.contacts[i].side == Side::modern)
                    end_at(c_.contacts[i].place() + " " + c_.contacts[i].pin.name.value, out);
            for (const auto& [part, pin] : c_.nets[static_cast<std::size_t>(net)].pins)
                if (is_module(part)) end_at(ref(part) + "." + pin, out);
        }
    }
    void follow_signal(int net, bool backward, RibbonRow& out) const {
        std::set<int> seen{net};
        std::vector<int> at{net};
        std::set<std::string> passed;
        std::optional<bool> inverted = false;
        note_ends(at, out.contact, out);
        for (int hop = 0; hop < most_hops && !at.empty() && out.ends.empty(); ++hop) {
            auto next = step(at, backward, seen, inverted, out);
            // Where one way turns the level and another does not, it can't be said.
            if (next.turned) inverted = next.plain || !inverted ? std::nullopt : std::optional(!*inverted);
            std::erase_if(next.refs, [&](const std::string& r) { return !passed.insert(r).second; });
            if (!next.refs.empty()) out.hops.push_back(std::move(next.refs));
            at = std::move(next.nets);
            note_ends(at, out.contact, out);
        }
        out.inverted = inverted;
    }
    void follow_supply(int net, RibbonRow& out) const {
        std::set<int> seen{net};
        std::vector<int> at{net};
        for (int hop = 0; hop < most_hops && !at.empty(); ++hop) {
            for (const int n : at)
                for (const auto& [part, pin] : c_.nets[static_cast<std::size_t>(n)].pins) {
                    const auto& p = c_.network.all[part];
                    const auto* known =
                        p.type->find_name(pin) != nullptr ? p.type->find_name(pin) : p.type->find_pin(pin);
                    if (known != nullptr && known->kind == PinKind::supply && is_module(part))
                        end_at(p.ref + "." + known->name, out);
                }
            std::vector<int> next;
            std::vector<std::string> refs;
            for (const int n : at)
                for (const auto i : c_.nets[static_cast<std::size_t>(n)].edges) {
                    const auto& e = c_.edges[i];
                    const int other = e.a == n ? e.b : e.a;
                    const auto& s = c_.nets[static_cast<std::size_t>(other)].supply;
                    if (!s || s->ground || !seen.insert(other).second) continue;
                    next.push_back(other);
                    refs.push_back(ref(e.part));
                }
            if (!refs.empty()) out.hops.push_back(std::move(refs));
            at = std::move(next);
        }
    }
    void judge(RibbonRow& row) const {
        using Flow = RibbonRow::Flow;
        // What a supply feeds, and whether it bears it, is not judged here.
        row.verdict = row.flow == Flow::ground ? Verdict::holds : Verdict::unknown;
        double least = std::numeric_limits<double>::infinity();
        for (const auto l : row.lines) {
            const auto& line = study_.lines[l];
            if (line.links.empty() && line.faults.empty()) continue;
            row.verdict = row.verdict == Verdict::unknown ? line.verdict : worse(row.verdict, line.verdict);
            // The gauge is that of the contact's own line; those behind count for the verdict.
            if (l != row.lines.front()) continue;
            for (const auto i : line.links) {
                const auto& v = study_.links[i].levels;
                const double margin = std::min(v.high_margin_v.value_or(-9), v.low_margin_v.value_or(-9)) -
                                      (v.over_limit ? 20 : 0);
                if (margin >= least) continue;
                least = margin;
                row.worst = i;
            }
        }
    }
    const Circuit& c_;
    const LinkStudy& study_;
};

}  // namespace

std::vector<RibbonRow> ribbons_of(const Circuit& c, const LinkStudy& s) {
    std::vector<RibbonRow> out;
    Walker walker(c, s);
    const bool relic = std::any_of(c.contacts.begin(), c.contacts.end(),
                                   [](const CircuitContact& k) { return k.side == Side::relic; });
    for (std::size_t i = 0; i < c.contacts.size(); ++i)
        if (!relic || c.contacts[i].side == Side::relic) out.push_back(walker.row(i));
    return out;
}

}  // namespace grayrelic
