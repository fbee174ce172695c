// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/faults.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <numeric>

#include "core/base/text.hpp"
#include "core/parts/part.hpp"

namespace grayrelic {
namespace {

/// Against one another, for one place: as hobby boards are met, before any was closed here. A judgement, not
/// a measurement (decision 38).
constexpr std::array kind_weight{1.0, 0.6, 0.6, 0.8, 1.0, 0.5, 3.0, 2.0, 2.0, 1.0, 1.0};
static_assert(kind_weight.size() == words_of<FaultKind>.size());

std::string lead_of(const BenchThing& t, const BenchPin& p) {
    return t.ref + "." + p.number;
}

class FaultList {
  public:
    explicit FaultList(const BenchBoard& b) : b_(b) {}

    std::vector<BenchFault> make() {
        opens();
        shorts();
        for (const auto& t : b_.things) of_thing(t);
        for (const auto& s : b_.supplies)
            if (s.volts != 0) once(FaultKind::supply, net_name(*b_.net_of(s.lead)));
        lines();
        return std::move(out_);
    }

  private:
    const std::string& net_name(int net) const { return b_.nets[static_cast<std::size_t>(net)].name; }
    bool joined(const BenchPin& p) const { return b_.nets[static_cast<std::size_t>(p.net)].leads.size() > 1; }
    void once(FaultKind kind, std::string place, std::vector<std::string> leads = {}, double factor = 1) {
        for (const auto& f : out_)
            if (f.kind == kind && f.place == place) return;
        out_.push_back({kind, std::move(place), std::move(leads), factor});
    }

    void opens() {
        for (const auto& t : b_.things)
            for (const auto& p : t.pins)
                if (joined(p)) out_.push_back({FaultKind::open, lead_of(t, p), {lead_of(t, p)}});
    }

    void shorts() {
        std::map<std::pair<int, int>, std::size_t> at;
        for (const auto& n : b_.neighbours) {
            const int a = *b_.net_of(n.a), b = *b_.net_of(n.b);
            if (a == b) continue;
            const auto [it, fresh] = at.emplace(std::minmax(a, b), out_.size());
            if (fresh)
                out_.push_back(
                    {FaultKind::shorted, net_name(it->first.first) + "+" + net_name(it->first.second), {}});
            auto& leads = out_[it->second].leads;
            leads.push_back(n.a);
            leads.push_back(n.b);
        }
    }

    void of_thing(const BenchThing& t) {
        const bool measured = t.kind == ThingKind::resistor || t.kind == ThingKind::capacitor;
        if (measured) {
            out_.push_back({FaultKind::value, t.ref + " x10", {}, 10});
            out_.push_back({FaultKind::value, t.ref + " /10", {}, 0.1});
        }
        const bool turns =
            t.kind == ThingKind::diode || t.polar || (t.kind == ThingKind::logic && t.pins.size() % 2 == 0);
        if (turns) out_.push_back({FaultKind::reversed, t.ref, {}});
        if (t.kind != ThingKind::contacts &&
            std::any_of(t.pins.begin(), t.pins.end(), [&](const auto& p) { return joined(p); }))
            out_.push_back({t.jumper ? FaultKind::jumper : FaultKind::missing, t.ref, {}});
        if (t.kind != ThingKind::contacts) return;
        out_.push_back({FaultKind::mirrored, t.ref, {}});
        for (std::size_t i = 0; i + 1 < t.pins.size(); ++i) {
            const auto &p = t.pins[i], &q = t.pins[i + 1];
            if (p.net != q.net && (joined(p) || joined(q)))
                out_.push_back({FaultKind::swapped,
                                lead_of(t, p) + "+" + lead_of(t, q),
                                {lead_of(t, p), lead_of(t, q)}});
        }
    }

    void lines() {
        for (const auto& w : b_.watched)
            if (w.stored && !w.lamp && b_.storage_bits >= 4) {
                out_.push_back({FaultKind::late, w.name, {w.lead}});
                out_.push_back({FaultKind::order, w.name, {w.lead}});
            }
        // A bus that the module reads.
        std::map<std::string, std::vector<std::string>> buses;
        for (const auto& w : b_.watched)
            if (const auto bit = bus_bit(w.name); bit && !w.stored) buses[bit->bus].push_back(w.lead);
        for (const auto& [bus, leads] : buses)
            if (leads.size() >= 3) out_.push_back({FaultKind::order, bus, leads});
    }

    const BenchBoard& b_;
    std::vector<BenchFault> out_;
};

class FaultMaker {
  public:
    explicit FaultMaker(const BenchBoard& b) : b_(b) {
        c_.board = &b;
        c_.nodes = static_cast<int>(b.nets.size());
        for (const auto& t : b.things) {
            std::vector<int> pins;
            for (const auto& p : t.pins) pins.push_back(p.net);
            c_.node.push_back(std::move(pins));
            c_.value.push_back(t.value);
        }
        c_.gone.resize(b.things.size(), false);
        for (const auto& s : b.supplies) c_.supply_v.push_back(s.volts);
    }

    void add(const BenchFault& f) {
        const auto thing = index(f.place.substr(0, f.place.find(' ')));
        switch (f.kind) {
            case FaultKind::open: pin(f.place) = c_.nodes++; break;
            case FaultKind::shorted: c_.shorts.push_back({pin(f.leads[0]), pin(f.leads[1])}); break;
            case FaultKind::swapped: swapped_.push_back({f.leads[0], f.leads[1]}); break;
            case FaultKind::value:
                if (thing) c_.value[*thing] *= f.factor;
                break;
            case FaultKind::reversed:
                if (thing) turn(*thing);
                break;
            case FaultKind::missing:
                if (thing) c_.gone[*thing] = true;
                break;
            case FaultKind::jumper:
                if (thing) set_jumper(*thing);
                break;
            case FaultKind::supply: lose_supply(f.place); break;
            case FaultKind::mirrored: mirrored_.push_back(f.place); break;
            case FaultKind::late: c_.late = f.place; break;
            case FaultKind::order: c_.order = f.place; break;
        }
    }

    BenchCircuit made() {
        for (const auto& s : b_.supplies) c_.supply_node.push_back(outside(s.lead));
        for (const auto& d : b_.driven) c_.driven_node.push_back(outside(d.lead));
        for (const auto& w : b_.watched) c_.watched_node.push_back(outside(w.lead));
        return std::move(c_);
    }

  private:
    std::optional<std::size_t> index(std::string_view ref) const {
        for (std::size_t i = 0; i < b_.things.size(); ++i)
            if (b_.things[i].ref == ref) return i;
        return std::nullopt;
    }
    int& pin(std::string_view lead) {
        const auto i = index(ref_in(lead));
        if (i)
            for (std::size_t k = 0; k < b_.things[*i].pins.size(); ++k)
                if (b_.things[*i].pins[k].number == lead.substr(b_.things[*i].ref.size() + 1))
                    return c_.node[*i][k];
        none_ = -1;
        return none_;
    }
    /// Half a turn: each pin of a chip in two rows comes where the opposite one should be.
    void turn(std::size_t i) {
        auto& pins = c_.node[i];
        const auto half = static_cast<std::ptrdiff_t>(pins.size() / 2);
        std::rotate(pins.begin(), pins.begin() + half, pins.end());
    }
    /// Open; or the last two pins instead of the first two (its third pin stands last).
    void set_jumper(std::size_t i) {
        auto& pins = c_.node[i];
        if (pins.size() == 3) {
            // "1-2" of three joins its middle to the other end then; the middle is the one numbered 2.
            const auto& p = b_.things[i].pins;
            if (p[0].number == "2")
                pins[1] = pins[2];
            else
                pins[0] = pins[2];
        } else {
            c_.gone[i] = true;
        }
    }
    void lose_supply(const std::string& net) {
        for (std::size_t i = 0; i < b_.supplies.size(); ++i) {
            const auto at = b_.net_of(b_.supplies[i].lead);
            if (at && b_.nets[static_cast<std::size_t>(*at)].name == net && b_.supplies[i].volts != 0) {
                lost_.push_back(b_.supplies[i].lead);
            }
        }
    }
    /// Where what comes in at a contact meets the board.
    int outside(const std::string& lead) {
        std::string at = lead;
        if (std::find(lost_.begin(), lost_.end(), lead) != lost_.end()) return -1;
        for (const auto& s : swapped_) {
            if (at == s[0])
                at = s[1];
            else if (at == s[1])
                at = s[0];
        }
        for (const auto& ref : mirrored_) {
            if (ref_in(at) != ref) continue;
            const auto& t = *b_.find(ref);
            int meets = -1;
            for (std::size_t k = 0; k < t.pins.size(); ++k)
                if (t.ref + "." + t.pins[k].number == at) meets = t.mirrored[k];
            if (meets < 0) return -1;
            at = t.ref + "." + t.pins[static_cast<std::size_t>(meets)].number;
        }
        return pin(at);
    }

    const BenchBoard& b_;
    BenchCircuit c_;
    std::vector<std::array<std::string, 2>> swapped_;
    std::vector<std::string> mirrored_, lost_;
    int none_ = -1;
};

}  // namespace

std::string BenchFault::key() const {
    return fmt::format("{}: {}", word(kind), place);
}

std::string BenchFault::says() const {
    switch (kind) {
        case FaultKind::open: return fmt::format("the joint {} does not hold", place);
        case FaultKind::shorted: {
            std::string where;
            for (std::size_t i = 0; i + 1 < leads.size() && i < 6; i += 2)
                where += fmt::format("{}{} to {}", where.empty() ? "" : " or ", leads[i], leads[i + 1]);
            const auto plus = place.find('+', 1);
            return fmt::format("{} and {} are bridged, {}", place.substr(0, plus),
                               plus == std::string::npos ? "" : place.substr(plus + 1), where);
        }
        case FaultKind::swapped: return fmt::format("{} and {} are changed over", leads[0], leads[1]);
        case FaultKind::value:
            return fmt::format("{} is {} what was drawn", place.substr(0, place.find(' ')),
                               factor > 1 ? "ten times" : "a tenth of");
        case FaultKind::reversed: return place + " is in the wrong way round";
        case FaultKind::missing: return place + " is missing";
        case FaultKind::jumper: return "the jumper " + place + " is open or in its other position";
        case FaultKind::supply: return place + " does not come in: its wire, its source or its switch";
        case FaultKind::mirrored: return "the connector " + place + " is mirrored";
        case FaultKind::late: return place + " comes one clock late";
        case FaultKind::order: return "the bits of " + place + " stand in the reversed order";
    }
    return place;
}

std::vector<BenchFault> single_faults(const BenchBoard& board) {
    return FaultList(board).make();
}

double prior_of(const BenchFault& fault, const FaultCounts& closed) {
    const auto i = static_cast<std::size_t>(fault.kind);
    const int all = std::accumulate(closed.begin(), closed.end(), 0);
    // Each fault that was closed moves the weight of its kind, slowly: four times at most.
    const double learned = all == 0 ? 1.0 : (1.0 + 3.0 * closed[i] / (all + 3.0));
    return kind_weight[i] * learned;
}

int BenchCircuit::node_of(std::string_view lead) const {
    for (std::size_t i = 0; i < board->things.size(); ++i) {
        const auto& t = board->things[i];
        if (t.ref != ref_in(lead)) continue;
        for (std::size_t k = 0; k < t.pins.size(); ++k)
            if (lead.substr(t.ref.size() + 1) == t.pins[k].number) return node[i][k];
    }
    return -1;
}

BenchCircuit circuit_with(const BenchBoard& board, const std::vector<BenchFault>& faults) {
    FaultMaker maker(board);
    for (const auto& f : faults) maker.add(f);
    return maker.made();
}

}  // namespace grayrelic
