// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wire/fixes.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/wire/resistors.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_fixes = 5;

std::string stock_text(int count) {
    return count > 0 ? fmt::format("{} in the drawer", count) : std::string("to be bought");
}

class Proposer {
  public:
    Proposer(const Dossier& d, const Circuit& c, const LinkStudy& s, const WireLine& line,
             const CircuitData& data, const Drawer& drawer)
        : d_(d), c_(c), study_(s), line_(line), data_(data), drawer_(drawer), resistors_(drawer) {}

    std::vector<WireFix> make() {
        bool pull = false, rest = false, contend = false;
        for (const auto& f : line_.faults) {
            pull = pull || f.kind == LineFault::no_pull;
            rest = rest || f.kind == LineFault::floats || f.kind == LineFault::floats_at_boot;
            contend = contend || f.kind == LineFault::contention || f.kind == LineFault::may_contend;
        }
        if (pull) pull_ups(1e3, 22e3);
        if (rest) resting_pulls();
        if (contend) between_drivers();
        for (const auto i : line_.links) {
            const auto& link = study_.links[i];
            if (link.levels.verdict == Verdict::holds) continue;
            const auto& levels = link.levels;
            if (levels.over_limit) series_at(link), divider_at(link), buffer_at(link);
            if (levels.high_margin_v && *levels.high_margin_v < thin_margin_v)
                other_family(link), buffer_at(link), smaller_divider(link), pull_ups(470, 4700);
            if (levels.low_margin_v && *levels.low_margin_v < thin_margin_v) buffer_at(link);
            if (!levels.arriving.high_problem.empty() || !levels.arriving.low_problem.empty())
                buffer_at(link);
        }
        judge_all();
        return std::move(out_);
    }

  private:
    void propose(WireFix fix) {
        const bool known =
            std::any_of(tried_.begin(), tried_.end(), [&](const WireFix& f) { return f.id == fix.id; });
        if (!known && tried_.size() < 24) tried_.push_back(std::move(fix));
    }
    const std::string& net_name(int net) const { return c_.nets[static_cast<std::size_t>(net)].name; }

    /// A supply net with the range and origin of what an end stands on.
    std::optional<int> supply_net(const NetEnd& end) const {
        for (std::size_t n = 0; n < c_.nets.size(); ++n) {
            const auto& s = c_.nets[n].supply;
            if (s && !s->ground && s->origin == end.supply_origin &&
                std::abs(s->most - end.supply.most) < 0.05)
                return static_cast<int>(n);
        }
        return std::nullopt;
    }
    std::optional<int> ground_net() const {
        for (std::size_t n = 0; n < c_.nets.size(); ++n)
            if (c_.nets[n].supply && c_.nets[n].supply->ground && c_.nets[n].name != "0")
                return static_cast<int>(n);
        return std::nullopt;
    }
    int at_receiver() const {
        return line_.receivers.empty() ? line_.nets.front() : c_.receivers[line_.receivers.front()].net;
    }
    void pull(int net, int to, const Stocked& r, const char* way) {
        WireFix fix;
        const auto ref = free_ref(c_, "R");
        fix.id = fmt::format("pull {} {} {}", net_name(net), net_name(to), short_ohm(r.ohm));
        fix.says = fmt::format("Pull {} {} to {} with {} ({}, {})", net_name(net), way, net_name(to),
                               print_number(r.ohm, Unit::ohm, 2), ref, stock_text(r.count));
        fix.lines.push_back(
            fmt::format("{} resistor {}: 1={} 2={}", ref, short_ohm(r.ohm), net_name(net), net_name(to)));
        propose(std::move(fix));
    }
    void pull_ups(double least, double most) {
        std::optional<int> to;
        for (const auto r : line_.receivers)
            if (!to) to = supply_net(c_.receivers[r]);
        for (const auto d : line_.drivers)
            if (!to) to = supply_net(c_.drivers[d]);
        if (!to) return;
        // Not less than what pulls it low can sink.
        for (const auto d : line_.drivers) {
            const auto& e = c_.drivers[d];
            const auto& f = e.family != nullptr ? *e.family : unknown_family();
            if (const double a = f.most_low_a(e.supply.least); a > 0)
                least = std::max(least, 1.1 * c_.nets[static_cast<std::size_t>(*to)].supply->most / a);
        }
        if (least <= most)
            for (const auto& r : resistors_.between(least, most)) pull(at_receiver(), *to, r, "up");
    }
    void resting_pulls() {
        bool high = false, low = false;
        for (const int n : line_.nets)
            for (const auto i : c_.nets[static_cast<std::size_t>(n)].contacts) {
                high = high || c_.contacts[i].pin.idle.value == "high";
                low = low || c_.contacts[i].pin.idle.value == "low";
            }
        const auto ground = ground_net();
        std::optional<int> up;
        for (const auto r : line_.receivers)
            if (!up) up = supply_net(c_.receivers[r]);
        if (!low && up)
            for (const auto& r : resistors_.between(4.7e3, 22e3)) pull(at_receiver(), *up, r, "up");
        if (!high && ground)
            for (const auto& r : resistors_.between(4.7e3, 22e3)) pull(at_receiver(), *ground, r, "down");
    }
    PinPlace place_of(const NetEnd& end) const {
        if (end.part) {
            const auto& p = c_.network.all[*end.part];
            const auto* pin = p.type->find_name(end.pin);
            // As the text spells it: by name or by number.
            for (const auto& [said, net] : p.pins)
                if (net == end.net && (said == end.pin || (pin != nullptr && said == pin->number)))
                    return {p.ref, said};
            return {p.ref, end.pin};
        }
        const auto& c = c_.contacts[*end.contact];
        for (const auto& port : c_.network.ports)
            if (port.port == c.port)
                for (const auto& [said, net] : port.contacts)
                    if (net == c.net) return {"port " + c.port, said};
        return {"port " + c.port, c.contact};
    }
    std::string fresh_net(const std::string& base) const {
        for (int i = 2;; ++i) {
            auto name = fmt::format("{}.{}", base, i);
            if (std::none_of(c_.nets.begin(), c_.nets.end(),
                             [&](const CircuitNet& n) { return n.name == name; }))
                return name;
        }
    }
    void series(const NetEnd& end, double least, double most, std::string_view why) {
        for (const auto& r : resistors_.between(least, most)) {
            WireFix fix;
            const auto ref = free_ref(c_, "R");
            const auto net = net_name(end.net), behind = fresh_net(net);
            fix.id = fmt::format("series {} {}", c_.name_of(end), short_ohm(r.ohm));
            fix.says = fmt::format("Put {} before {}{} ({}, {})", print_number(r.ohm, Unit::ohm, 2),
                                   c_.name_of(end), why, ref, stock_text(r.count));
            fix.lines.push_back(fmt::format("{} resistor {}: 1={} 2={}", ref, short_ohm(r.ohm), net, behind));
            fix.moves.emplace_back(place_of(end), behind);
            propose(std::move(fix));
        }
    }
    void series_at(const LineLink& link) {
        const auto& r = c_.receivers[link.receiver];
        const auto& f = r.family != nullptr ? *r.family : unknown_family();
        if (!f.clamps) return;
        const double over = link.levels.arriving.highest_v - link.levels.limit_high_v;
        if (over > 0)
            series(r, 1.2 * over / harmless_clamp_a, 30 * over / harmless_clamp_a,
                   ": its input diode carries the rest");
    }
    void between_drivers() {
        for (const auto d : line_.drivers)
            if (c_.drivers[d].style != DriveStyle::firm || line_.drivers.size() == 2)
                series(c_.drivers[d], 270, 1000, "");
    }
    /// Two resistors: surely high, and never above what the input endures.
    void divider_at(const LineLink& link) {
        const auto ground = ground_net();
        const auto& a = link.levels.arriving;
        if (!ground || !a.high_least_v) return;
        const auto& end = c_.receivers[link.receiver];
        const double limit = std::min(
            link.levels.limit_high_v < end.supply.least ? end.supply.least : link.levels.limit_high_v,
            end.supply.least + 0.2);
        for (const auto& lower : resistors_.between(8.2e3, 33e3)) {
            const double most_share = limit / a.highest_v;
            const double wanted = (link.levels.high_needed_v + 1.5 * thin_margin_v) / *a.high_least_v;
            if (wanted >= most_share) continue;
            const double share = (wanted + most_share) / 2;
            const double upper = lower.ohm * (1 / share - 1);
            for (const auto& top : resistors_.between(upper * 0.85, upper * 1.15)) {
                WireFix fix;
                const auto net = net_name(end.net), behind = fresh_net(net);
                const auto r1 = free_ref(c_, "R");
                const auto line1 =
                    fmt::format("{} resistor {}: 1={} 2={}", r1, short_ohm(top.ohm), net, behind);
                const auto r2 = free_ref(c_, "R", {line1});
                fix.id = fmt::format("divider {} {} {}", c_.name_of(end), short_ohm(top.ohm),
                                     short_ohm(lower.ohm));
                fix.says =
                    fmt::format("Divide before {}: {} over {} ({} {}, {} {})", c_.name_of(end),
                                print_number(top.ohm, Unit::ohm, 2), print_number(lower.ohm, Unit::ohm, 2),
                                r1, stock_text(top.count), r2, stock_text(lower.count));
                fix.lines = {line1, fmt::format("{} resistor {}: 1={} 2={}", r2, short_ohm(lower.ohm), behind,
                                                net_name(*ground))};
                fix.moves.emplace_back(place_of(end), behind);
                propose(std::move(fix));
            }
        }
    }
    /// Another upper resistor of a divider that takes too much.
    void smaller_divider(const LineLink& link) {
        if (!link.through_parts) return;
        for (const int n : line_.nets)
            for (const auto i : c_.nets[static_cast<std::size_t>(n)].edges) {
                const auto& e = c_.edges[i];
                const auto& p = c_.network.all[e.part];
                if (p.type->function != "resistor" || c_.nets[static_cast<std::size_t>(e.a)].supply ||
                    c_.nets[static_cast<std::size_t>(e.b)].supply)
                    continue;
                for (const auto& r : resistors_.between(e.ohm / 3, e.ohm / 1.1)) {
                    WireFix fix;
                    fix.id = fmt::format("value {} {}", p.ref, short_ohm(r.ohm));
                    fix.says = fmt::format("Fit {} as {} instead of {} ({})", p.ref,
                                           print_number(r.ohm, Unit::ohm, 2),
                                           print_number(e.ohm, Unit::ohm, 2), stock_text(r.count));
                    fix.words.emplace_back(p.ref, short_ohm(r.ohm));
                    propose(std::move(fix));
                }
            }
    }
    void other_family(const LineLink& link) {
        const auto& r = c_.receivers[link.receiver];
        if (!r.part) return;
        const auto& p = c_.network.all[*r.part];
        const auto* logic = data_.logic->find(p.type->id);
        if (logic == nullptr || p.words.empty()) return;
        for (const char* family : {"hct", "ahct"}) {
            if (family == p.words.front() || logic->find_delays(family) == nullptr) continue;
            const int count = drawer_.count_of(p.type->id + " " + family);
            WireFix fix;
            fix.id = fmt::format("family {} {}", p.ref, family);
            fix.says = fmt::format("Fit {} as {} {} ({})", p.ref, p.type->id, family, stock_text(count));
            fix.words.emplace_back(p.ref, family);
            propose(std::move(fix));
        }
    }
    /// A gate of a buffer at the receiver's supply.
    void buffer_at(const LineLink& link) {
        const auto& end = c_.receivers[link.receiver];
        const auto ground = ground_net();
        auto supply = supply_net(end);
        if (!ground || !supply) return;
        for (const char* family : {"hct", "ahct", "lvc"}) {
            const auto* f = data_.families->find(family);
            const auto& s = *c_.nets[static_cast<std::size_t>(*supply)].supply;
            if (f == nullptr || s.typical > f->works_max_v || s.typical < f->works_min_v) continue;
            const auto part = std::string("74x125 ") + family;
            const auto ref = free_ref(c_, "U");
            const auto net = net_name(end.net), behind = fresh_net(net);
            WireFix fix;
            fix.id = fmt::format("buffer {} {}", c_.name_of(end), family);
            fix.says = fmt::format("Put a gate of a {} before {} ({} at {}, {})", part, c_.name_of(end), ref,
                                   net_name(*supply), stock_text(drawer_.count_of(part)));
            fix.lines.push_back(
                fmt::format("{} {}: 1A={} 1Y={} /1OE=0 2A=0 /2OE=1 3A=0 /3OE=1 4A=0 /4OE=1 VCC={} GND={}",
                            ref, part, net, behind, net_name(*supply), net_name(*ground)));
            fix.moves.emplace_back(place_of(end), behind);
            propose(std::move(fix));
        }
    }

    /// Each on a copy: kept when the line is better for it, and nothing else worse.
    void judge_all() {
        const auto weight = [](Verdict v) {
            return v == Verdict::stop ? 3 : v == Verdict::doubt ? 2 : v == Verdict::unknown ? 1 : 0;
        };
        const auto total = [&](const LinkStudy& s) {
            int sum = 0;
            for (const auto& l : s.lines) sum += weight(l.verdict);
            return sum;
        };
        const int before = total(study_);
        for (auto& fix : tried_) {
            const auto next = apply_fix(d_, fix);
            const auto circuit = build_circuit(next, bridge_text(*next.wire, *next.timing), data_);
            const auto study = judge_links(circuit);
            const auto at = circuit.network.find_net(net_name(line_.nets.front()));
            const auto* line = at ? study.line_of(*at) : nullptr;
            if (line == nullptr || total(study) >= before) continue;
            // Nets that were split off belong to the line still, on the far side of a buffer.
            auto verdict = line->verdict;
            for (const auto& [place, net] : fix.moves)
                if (const auto n = circuit.network.find_net(net))
                    if (const auto* far = study.line_of(*n)) verdict = worse(verdict, far->verdict);
            if (weight(verdict) >= weight(line_.verdict)) continue;
            fix.verdict = verdict;
            fix.then = margins(circuit, study, *line, fix);
            out_.push_back(fix);
        }
        const auto bought = [](const WireFix& f) { return f.says.find("to be bought") != std::string::npos; };
        std::stable_sort(out_.begin(), out_.end(), [&](const WireFix& a, const WireFix& b) {
            return std::pair(weight(a.verdict), bought(a)) < std::pair(weight(b.verdict), bought(b));
        });
        if (out_.size() > most_fixes) out_.resize(most_fixes);
    }
    static std::string margins(const Circuit& circuit, const LinkStudy& study, const WireLine& line,
                               const WireFix& fix) {
        std::optional<double> high, low;
        const auto add = [&](const WireLine& l) {
            for (const auto i : l.links) {
                const auto& v = study.links[i].levels;
                if (v.high_margin_v) high = std::min(high.value_or(1e9), *v.high_margin_v);
                if (v.low_margin_v) low = std::min(low.value_or(1e9), *v.low_margin_v);
            }
        };
        add(line);
        for (const auto& [place, net] : fix.moves)
            if (const auto n = circuit.network.find_net(net))
                if (const auto* far = study.line_of(*n)) add(*far);
        if (!high || !low) return {};
        return fmt::format("high margin {}, low margin {}", print_number(*high, Unit::volt),
                           print_number(*low, Unit::volt));
    }

    const Dossier& d_;
    const Circuit& c_;
    const LinkStudy& study_;
    const WireLine& line_;
    const CircuitData& data_;
    const Drawer& drawer_;
    Resistors resistors_;
    std::vector<WireFix> tried_, out_;
};

}  // namespace

std::vector<WireFix> fixes_for(const Dossier& d, const Circuit& c, const LinkStudy& s, std::size_t line,
                               const CircuitData& data, const Drawer& drawer) {
    return Proposer(d, c, s, s.lines[line], data, drawer).make();
}

}  // namespace grayrelic
