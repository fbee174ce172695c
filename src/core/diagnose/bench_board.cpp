// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/bench_board.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <set>

#include "core/base/unions.hpp"
#include "core/board/board_analysis.hpp"
#include "core/diagnose/bench_lines.hpp"
#include "core/fit/board_joins.hpp"
#include "core/library/data_library.hpp"
#include "core/wire/board_circuits.hpp"
#include "core/wire/circuit.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {
namespace {

constexpr double link_ohm = 0.1, usual_drop_v = 0.7, electrolytic_share = 0.2, ladder_ohm = 10'000;

std::optional<int> whole_number(std::string_view text) {
    int n = 0;
    const auto [end, ec] = std::from_chars(text.data(), text.data() + text.size(), n);
    return ec == std::errc() && end == text.data() + text.size() ? std::optional(n) : std::nullopt;
}

/// How the contacts of a connector meet when its other side is up: "dip-2x8" turns over its middle,
/// "header-2x5" changes its rows, one row begins at its other end.
std::vector<int> mirror_of(const BenchThing& t, const std::string& shape) {
    int last = 0;
    for (const auto& p : t.pins) last = std::max(last, whole_number(p.number).value_or(0));
    const auto two = shape.find("2x");
    const bool around = shape.find("dip") != std::string::npos;
    if (two != std::string::npos)
        if (const auto n = whole_number(shape.substr(two + 2)); n && *n > 0 && *n <= 200)
            last = std::max(last, *n * 2);
    std::vector<int> out;
    for (const auto& p : t.pins) {
        const auto n = whole_number(p.number);
        int meets = 0;
        if (n && two != std::string::npos && !around)
            meets = *n % 2 == 1 ? *n + 1 : *n - 1;
        else if (n)
            meets = last + 1 - *n;
        int at = -1;
        for (std::size_t i = 0; meets > 0 && i < t.pins.size(); ++i)
            if (whole_number(t.pins[i].number) == meets) at = static_cast<int>(i);
        out.push_back(at);
    }
    return out;
}

class BenchWork {
  public:
    BenchWork(const Analysis& a, const BuildBoard& board, const BoardCircuit& circuit,
              const BoardVariant* variant)
        : a_(a), board_(board), circuit_(circuit), variant_(variant) {}

    BenchBoard make() {
        out_.id = board_.id;
        out_.title = board_.title;
        out_.keeps = circuit_.circuit;
        nets();
        if (out_.nets.size() > most_bench_nets) {
            out_.problem =
                fmt::format("{} nets; at most {} are reckoned through", out_.nets.size(), most_bench_nets);
            return std::move(out_);
        }
        for (const auto& p : board_.parts) out_.things.push_back(thing(p));
        jumpers();
        for (const auto& n : board_.neighbours)
            if (out_.net_of(n.a) && out_.net_of(n.b)) out_.neighbours.push_back(n);
        supplies();
        if (out_.problem.empty()) find_lines(out_, circuit_.circuit.get());
        return std::move(out_);
    }

  private:
    /// With its jumpers open: they are links of their own.
    void nets() {
        std::vector<std::string> problems;
        std::optional<BoardVariant> open;
        if (variant_ != nullptr) {
            open = *variant_;
            for (const auto& [ref, words] : open->jumpers) {
                std::erase(open->omit, ref);
                if (!open->only.empty()) open->only.push_back(ref);
            }
            open->jumpers.clear();
        }
        for (const auto& n : fitted_nets(circuit_, open ? &*open : nullptr, problems).nets) {
            BenchNet net{n.name, n.points, std::nullopt};
            if (const auto it = circuit_.volts.find(n.name); it != circuit_.volts.end())
                net.volts = it->second;
            for (const auto& p : n.points) at_.emplace(p, static_cast<int>(out_.nets.size()));
            out_.nets.push_back(std::move(net));
        }
    }

    int net_at(const std::string& lead) {
        const auto [it, fresh] = at_.emplace(lead, static_cast<int>(out_.nets.size()));
        if (fresh) out_.nets.push_back({lead, {lead}, std::nullopt});
        return it->second;
    }

    const ListedPart* listed(const std::string& ref) const {
        if (circuit_.circuit)
            for (const auto& p : circuit_.circuit->network.all)
                if (p.ref == ref && p.type != nullptr) return &p;
        return nullptr;
    }

    BenchThing thing(const BuildPart& part) {
        BenchThing t;
        t.ref = part.ref;
        const auto* p = listed(part.ref);
        std::set<std::string> seen;
        const auto pin = [&](const std::string& number, const std::string& name) {
            if (seen.insert(number).second) t.pins.push_back({number, name, net_at(part.ref + "." + number)});
        };
        if (p != nullptr)
            for (const auto& x : p->type->pins) pin(x.number, x.name);
        else
            for (const auto& number : part.pins) pin(number, number);
        if (p == nullptr)
            t.kind = ThingKind::contacts;
        else
            what_it_is(*p, t);
        if (t.kind == ThingKind::contacts) t.mirrored = mirror_of(t, shape_of(part));
        return t;
    }

    std::string shape_of(const BuildPart& part) const {
        if (const auto* port = a_.dossier.find_port(part.ref); port != nullptr) return port->connector;
        return part.package;
    }

    void what_it_is(const ListedPart& p, BenchThing& t) {
        const auto& f = p.type->function;
        const auto& e = p.type->electrical;
        t.tolerance = part_tolerance(p);
        const auto value = part_value(p);
        const auto number = value && *value ? **value : 0.0;
        if (f == "resistor" && t.pins.size() == 2 && number > 0) {
            t.kind = ThingKind::resistor;
            t.value = number;
        } else if (f == "fuse" || f == "ferrite" || f == "inductor" || f == "jumper") {
            t.kind = ThingKind::link;
            t.jumper = f == "jumper";
            t.value = e.ohm.value_or(link_ohm);
        } else if (f == "capacitor" && number > 0) {
            t.kind = ThingKind::capacitor;
            t.value = number;
            t.polar = t.find_name("+") != nullptr;
            if (t.polar) t.tolerance = std::max(t.tolerance, electrolytic_share);
        } else if ((f == "diode" || f == "led") && t.find_name("A") != nullptr &&
                   t.find_name("K") != nullptr) {
            t.kind = ThingKind::diode;
            t.light = f == "led";
            const double most = e.drop_max_v.value_or(usual_drop_v);
            t.value = (e.drop_min_v.value_or(most) + most) / 2;
        } else if (f == "ladder" && t.find_name("OUT") != nullptr) {
            t.kind = ThingKind::ladder;
            t.value = e.ohm.value_or(ladder_ohm);
        } else if (f == "regulator" && t.find_name("IN") != nullptr && t.find_name("OUT") != nullptr) {
            t.kind = ThingKind::regulator;
            t.value = number > 0 ? number : e.output_v.value_or(0);
        } else if (f == "module") {
            t.kind = ThingKind::module;
            t.family = e.family;
        } else if (f == "connector") {
            t.kind = ThingKind::contacts;
        } else if (p.logic && circuit_.circuit) {
            const auto& part = circuit_.circuit->network.parts[static_cast<std::size_t>(*p.logic)];
            t.kind = ThingKind::logic;
            t.logic = part.logic;
            t.family = part.family;
        }
        if (const auto* family = a_.data->families.find(t.family); family != nullptr) {
            const auto needs = family->needs_at(family->supply_typ_v);
            t.low_max_v = needs.low_max_v;
            t.high_min_v = needs.high_min_v;
        }
    }

    BenchThing* thing_named(std::string_view ref) {
        for (auto& t : out_.things)
            if (t.ref == ref) return &t;
        return nullptr;
    }
    void jumpers() {
        if (variant_ == nullptr) return;
        for (const auto& [ref, words] : variant_->jumpers) {
            auto* t = thing_named(ref);
            const auto dash = words.find('-');
            if (t == nullptr || dash == std::string::npos || words.find('-', dash + 1) != std::string::npos)
                continue;
            const auto *one = t->find_pin(words.substr(0, dash)), *two = t->find_pin(words.substr(dash + 1));
            if (one == nullptr || two == nullptr) continue;
            t->kind = ThingKind::link;
            t->jumper = true;
            t->value = link_ohm;
            // The two that are joined first.
            auto pins = std::vector{*one, *two};
            for (const auto& p : t->pins)
                if (p.number != one->number && p.number != two->number) pins.push_back(p);
            t->pins = std::move(pins);
        }
    }

    /// Connectors of ports before others: a header to the next board takes what comes in at a port.
    void supplies() {
        std::vector<const BenchThing*> of_ports, others;
        for (const auto& t : out_.things) {
            if (t.kind != ThingKind::contacts) continue;
            const bool feeds = std::any_of(t.pins.begin(), t.pins.end(), [&](const BenchPin& p) {
                return out_.nets[static_cast<std::size_t>(p.net)].volts.value_or(0) != 0;
            });
            if (feeds) (listed(t.ref) == nullptr ? of_ports : others).push_back(&t);
        }
        for (const auto* t : of_ports.empty() ? others : of_ports)
            for (const auto& p : t->pins)
                if (const auto& volts = out_.nets[static_cast<std::size_t>(p.net)].volts)
                    out_.supplies.push_back({t->ref + "." + p.number, *volts});
        // A rail without a connector: clips on its first lead.
        if (of_ports.empty() && others.empty())
            for (const auto& n : out_.nets)
                if (n.volts && !n.leads.empty() && out_.net_of(n.leads.front()))
                    out_.supplies.push_back({n.leads.front(), *n.volts});
        const auto none = [&](bool ground) {
            return std::none_of(out_.supplies.begin(), out_.supplies.end(),
                                [&](const BenchSupply& s) { return (s.volts == 0) == ground; });
        };
        if (none(false))
            out_.problem = "no contact brings in a supply";
        else if (none(true))
            out_.problem = "no contact brings in ground";
    }

    const Analysis& a_;
    const BuildBoard& board_;
    const BoardCircuit& circuit_;
    const BoardVariant* variant_;
    std::map<std::string, int> at_;
    BenchBoard out_;
};

}  // namespace

const BenchPin* BenchThing::find_pin(std::string_view number) const {
    for (const auto& p : pins)
        if (p.number == number) return &p;
    return nullptr;
}

const BenchPin* BenchThing::find_name(std::string_view name) const {
    for (const auto& p : pins)
        if (p.name == name) return &p;
    return nullptr;
}

const BenchThing* BenchBoard::find(std::string_view ref) const {
    for (const auto& t : things)
        if (t.ref == ref) return &t;
    return nullptr;
}

std::optional<int> BenchBoard::net_of(std::string_view lead) const {
    const auto* t = find(ref_in(lead));
    if (t == nullptr || lead.size() <= t->ref.size()) return std::nullopt;
    const auto* p = t->find_pin(lead.substr(t->ref.size() + 1));
    return p == nullptr ? std::nullopt : std::optional(p->net);
}

std::optional<BenchBoard> bench_board(const Analysis& a, const std::string& board,
                                      const std::string& variant) {
    const auto built = build_board(a, board, variant);
    if (!built) return std::nullopt;
    const auto* read = a.board ? a.board->find(board) : nullptr;
    std::shared_ptr<const BoardCircuit> circuit;
    if (read != nullptr)
        circuit = read->circuit;
    else
        circuit = board_circuit_of(std::shared_ptr<const Circuit>(a.wire, &a.wire->circuit), "Wire");
    const BoardVariant* as = nullptr;
    for (const auto& b : *a.dossier.boards)
        for (const auto& v : b.variants)
            if (b.id == board && v.name == variant) as = &v;
    return BenchWork(a, *built, *circuit, as).make();
}

}  // namespace grayrelic
