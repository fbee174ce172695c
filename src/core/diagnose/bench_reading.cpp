// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/bench_reading.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/base/unions.hpp"

namespace grayrelic {
namespace {

constexpr double beeps_below = 30, bridge_ohm = 0.2, hides_ohm = 500, least_ohm = 0.05, ladder_share = 2;

class ReadingList {
  public:
    explicit ReadingList(const BenchBoard& b) : b_(b) {}
    std::vector<BenchReading> make() {
        for (const auto& t : b_.things)
            if (t.kind != ThingKind::contacts) out_.push_back({ReadingKind::look, t.ref, "", 1.0});
        beeps();
        for (const auto& t : b_.things) across(t);
        if (b_.problem.empty()) powered();
        return std::move(out_);
    }

  private:
    /// A short net each lead to each; a long one each to two of its leads, which answers the same.
    void beeps() {
        for (const auto& n : b_.nets) {
            if (n.leads.size() < 2) continue;
            const auto most = n.leads.size() <= 5 ? n.leads.size() : 2;
            for (std::size_t i = 0; i < most; ++i)
                for (std::size_t k = i + 1; k < n.leads.size(); ++k)
                    out_.push_back({ReadingKind::beep, n.leads[i], n.leads[k], 1.0});
        }
        // A joint by itself: from the lead to its pad.
        for (const auto& n : b_.nets)
            for (const auto& lead : n.leads)
                if (n.leads.size() > 1) out_.push_back({ReadingKind::beep, lead, lead + " pad", 1.3});
        // A connector's wires, far end to lead.
        for (const auto& t : b_.things)
            if (t.kind == ThingKind::contacts)
                for (const auto& p : t.pins)
                    if (b_.nets[static_cast<std::size_t>(p.net)].leads.size() > 1)
                        out_.push_back({ReadingKind::beep, t.ref + "." + p.number + "~", t.ref + "." + p.number,
                                        1.2});
        std::vector<std::pair<int, int>> seen;
        for (const auto& n : b_.neighbours) {
            const auto nets = std::minmax(*b_.net_of(n.a), *b_.net_of(n.b));
            if (nets.first == nets.second) continue;
            const std::pair<int, int> both(nets);
            if (std::find(seen.begin(), seen.end(), both) != seen.end()) continue;
            seen.push_back(both);
            out_.push_back({ReadingKind::beep, n.a, n.b, 1.0});
        }
    }

    void across(const BenchThing& t) {
        if (t.pins.size() < 2) return;
        const auto lead = [&](const BenchPin& p) { return t.ref + "." + p.number; };
        const auto one = lead(t.pins[0]), two = lead(t.pins[1]);
        switch (t.kind) {
            case ThingKind::resistor: out_.push_back({ReadingKind::ohms, one, two, 1.2}); break;
            case ThingKind::link: out_.push_back({ReadingKind::beep, one, two, 1.0}); break;
            case ThingKind::capacitor: out_.push_back({ReadingKind::farads, one, two, 1.6}); break;
            case ThingKind::diode:
                out_.push_back({ReadingKind::diode, lead(*t.find_name("A")), lead(*t.find_name("K")), 1.3});
                break;
            default: break;
        }
    }

    /// Each lead of a supply, an output, a contact; of other nets the first.
    void powered() {
        for (const auto& t : b_.things)
            for (const auto& p : t.pins) {
                const auto& n = b_.nets[static_cast<std::size_t>(p.net)];
                if (n.leads.size() > 1) out_.push_back({ReadingKind::volts, t.ref + "." + p.number, "", 1.2});
            }
    }

    const BenchBoard& b_;
    std::vector<BenchReading> out_;
};

/// Ohms through resistors, links, ladders and solder with the power off: chips and diodes do not conduct
/// below their drop.
class Unpowered {
  public:
    explicit Unpowered(const BenchCircuit& c) : c_(c), joined_(static_cast<std::size_t>(c.nodes) + 64) {
        int inner = c.nodes;
        for (std::size_t i = 0; i < c.board->things.size(); ++i) {
            if (c.gone[i]) continue;
            const auto& t = c.board->things[i];
            const auto& n = c.node[i];
            if (t.kind == ThingKind::resistor || t.kind == ThingKind::link)
                add(n[0], n[1], std::max(c.value[i], least_ohm));
            if (t.kind == ThingKind::ladder) ladder(t, n, inner);
        }
        for (const auto& s : c.shorts)
            if (s[0] >= 0 && s[1] >= 0) add(s[0], s[1], bridge_ohm);
        for (const auto& [a, b, ohm] : all_) joined_.unite(a, b);
    }

    double ohms(int a, int b) {
        if (a < 0 || b < 0) return reads_open;
        if (a == b) return least_ohm;
        if (joined_.find(a) != joined_.find(b)) return reads_open;
        auto [it, fresh] = solved_.emplace(std::minmax(a, b), 0.0);
        if (fresh) it->second = solve(a, b);
        return it->second;
    }
    int root(int n) { return joined_.find(n); }

  private:
    void add(int a, int b, double ohm) {
        if (a >= 0 && b >= 0 && a != b) all_.emplace_back(a, b, ohm);
    }
    void ladder(const BenchThing& t, const std::vector<int>& n, int& inner) {
        const auto pin = [&](const std::string& name) {
            for (std::size_t k = 0; k < t.pins.size(); ++k)
                if (t.pins[k].name == name) return n[k];
            return -1;
        };
        int below = pin("GND");
        double to_below = ladder_share * t.value;
        for (int b = 0; pin(fmt::format("B{}", b)) >= 0 && inner < c_.nodes + 63; ++b) {
            const int here = pin(fmt::format("B{}", b + 1)) < 0 ? pin("OUT") : inner++;
            add(pin(fmt::format("B{}", b)), here, ladder_share * t.value);
            add(below, here, to_below);
            below = here;
            to_below = t.value;
        }
    }
    /// One ampere in at a, out at b: the volts between them are the ohms. Elimination over the nodes of
    /// this group, of which there are few.
    double solve(int a, int b) {
        std::map<int, std::size_t> number;
        for (const auto& [x, y, ohm] : all_)
            if (joined_.find(x) == joined_.find(a)) {
                number.emplace(x, number.size());
                number.emplace(y, number.size());
            }
        const auto n = number.size();
        std::vector<std::vector<double>> m(n, std::vector<double>(n + 1, 0.0));
        for (const auto& [x, y, ohm] : all_) {
            const auto p = number.find(x), q = number.find(y);
            if (p == number.end() || q == number.end()) continue;
            m[p->second][p->second] += 1 / ohm;
            m[q->second][q->second] += 1 / ohm;
            m[p->second][q->second] -= 1 / ohm;
            m[q->second][p->second] -= 1 / ohm;
        }
        const auto to = number.at(b), from = number.at(a);
        m[from][n] = 1;
        std::fill(m[to].begin(), m[to].end(), 0.0);
        m[to][to] = 1;  // b is held at 0 V
        for (std::size_t k = 0; k < n; ++k) {
            std::size_t best = k;
            for (std::size_t r = k + 1; r < n; ++r)
                if (std::abs(m[r][k]) > std::abs(m[best][k])) best = r;
            std::swap(m[k], m[best]);
            if (m[k][k] == 0) return reads_open;
            for (std::size_t r = 0; r < n; ++r) {
                if (r == k || m[r][k] == 0) continue;
                const double f = m[r][k] / m[k][k];
                for (std::size_t col = k; col <= n; ++col) m[r][col] -= f * m[k][col];
            }
        }
        return std::max(least_ohm, m[from][n] / m[from][from]);
    }

    const BenchCircuit& c_;
    Unions joined_;
    std::vector<std::tuple<int, int, double>> all_;
    std::map<std::pair<int, int>, double> solved_;
};

class Predictor {
  public:
    Predictor(const BenchBoard& b, const BenchCircuit& c, const std::vector<BenchFault>& faults)
        : b_(b), c_(c), faults_(faults), cold_(c) {
        for (std::size_t i = 0; i < b.things.size(); ++i)
            for (std::size_t k = 0; k < b.things[i].pins.size(); ++k)
                node_.emplace(b.things[i].ref + "." + b.things[i].pins[k].number, c.node[i][k]);
    }

    double value(const BenchReading& r, const BenchState* state) {
        switch (r.kind) {
            case ReadingKind::look: return static_cast<double>(look(r.a));
            case ReadingKind::beep:
            case ReadingKind::ohms: return cold_.ohms(node(r.a), node(r.b));
            case ReadingKind::diode: return diode(node(r.a), node(r.b));
            case ReadingKind::farads: return farads(node(r.a), node(r.b));
            case ReadingKind::volts:
                return state == nullptr              ? reads_floating
                       : state->unknown(node(r.a)) ? reads_unknown
                                                   : state->volts(node(r.a)).value_or(reads_floating);
        }
        return 0;
    }

  private:
    /// "J2.3~": where the contact's wire comes out.
    int node(const std::string& lead) const {
        if (lead.empty()) return -1;
        if (lead.ends_with(" pad")) return b_.net_of(lead.substr(0, lead.size() - 4)).value_or(-1);
        if (lead.back() != '~') {
            const auto it = node_.find(lead);
            return it == node_.end() ? -1 : it->second;
        }
        // As a line that comes in there.
        auto at = lead.substr(0, lead.size() - 1);
        for (const auto& f : faults_) {
            if (f.kind == FaultKind::swapped && (at == f.leads[0] || at == f.leads[1])) {
                at = at == f.leads[0] ? f.leads[1] : f.leads[0];
            } else if (f.kind == FaultKind::mirrored && ref_in(at) == f.place) {
                const auto* t = b_.find(f.place);
                int meets = -1;
                for (std::size_t k = 0; k < t->pins.size(); ++k)
                    if (t->ref + "." + t->pins[k].number == at) meets = t->mirrored[k];
                if (meets < 0) return -1;
                at = t->ref + "." + t->pins[static_cast<std::size_t>(meets)].number;
            }
        }
        const auto it = node_.find(at);
        return it == node_.end() ? -1 : it->second;
    }

    Looks look(const std::string& ref) const {
        for (const auto& f : faults_) {
            if (f.place.substr(0, f.place.find(' ')) != ref) continue;
            if (f.kind == FaultKind::missing) return Looks::missing;
            if (f.kind == FaultKind::reversed) return Looks::turned;
            if (f.kind == FaultKind::value) return Looks::other_marking;
            if (f.kind == FaultKind::jumper) return Looks::other_place;
        }
        return Looks::as_drawn;
    }

    double diode(int a, int k) {
        if (a < 0 || k < 0) return reads_open;
        if (const double ohm = cold_.ohms(a, k); ohm < hides_ohm) return ohm * 0.001;
        double best = reads_open;
        for (std::size_t i = 0; i < b_.things.size(); ++i) {
            const auto& t = b_.things[i];
            if (t.kind != ThingKind::diode || c_.gone[i]) continue;
            const auto pin = [&](std::string_view name) {
                return t.pins[0].name == name ? c_.node[i][0] : c_.node[i][1];
            };
            if (cold_.ohms(a, pin("A")) < hides_ohm && cold_.ohms(pin("K"), k) < hides_ohm)
                best = std::min(best, t.value);
        }
        return best;
    }

    double farads(int a, int z) {
        if (a < 0 || z < 0) return 0;
        if (cold_.ohms(a, z) < 2 * hides_ohm) return reads_open;
        double sum = 0;
        for (std::size_t i = 0; i < b_.things.size(); ++i) {
            if (b_.things[i].kind != ThingKind::capacitor || c_.gone[i]) continue;
            const int p = c_.node[i][0], q = c_.node[i][1];
            const auto near = [&](int x, int y) { return cold_.ohms(x, y) < beeps_below; };
            if ((near(a, p) && near(z, q)) || (near(a, q) && near(z, p))) sum += c_.value[i];
        }
        return sum;
    }

    const BenchBoard& b_;
    const BenchCircuit& c_;
    const std::vector<BenchFault>& faults_;
    Unpowered cold_;
    std::map<std::string, int, std::less<>> node_;
};

double bell(double off, double width) {
    return std::exp(-0.5 * (off / width) * (off / width));
}

}  // namespace

std::string BenchReading::key() const {
    return b.empty() ? fmt::format("{}:{}", word(kind), a) : fmt::format("{}:{}+{}", word(kind), a, b);
}

std::string print_reading(ReadingKind kind, double v) {
    switch (kind) {
        case ReadingKind::look: return std::string(word(static_cast<Looks>(static_cast<int>(v))));
        case ReadingKind::beep: return v < beeps_below ? "beep" : "open";
        case ReadingKind::ohms: return v >= reads_open / 10 ? "open" : print_number(v, Unit::ohm);
        case ReadingKind::diode: return v >= reads_open / 10 ? "open" : print_number(v, Unit::volt);
        case ReadingKind::farads:
            return v >= reads_open / 10 ? "none" : print_number(v, Unit::farad);
        case ReadingKind::volts: return v <= reads_unknown / 2 ? "unknown" : v <= reads_floating / 10 ? "floating" : print_number(v, Unit::volt);
    }
    return {};
}

Result<SaidReading> read_said(std::string_view text) {
    const auto wrong = [&] {
        return fail_usage(in_quotes(text),
                          "a reading such as \"beep:U1.3+J2.4=open\", \"volts:U2.16=4.9\", \"ohms:R1.1+R1.2=4k7\", "
                          "\"look:D1=turned\", or a symptom such as \"HOLD>REPLY=low\"");
    };
    const auto equals = text.rfind('=');
    if (equals == std::string_view::npos || equals == 0 || text.size() > 400) return wrong();
    const auto key = trim(text.substr(0, equals)), value = trim(text.substr(equals + 1));
    SaidReading out;
    const auto colon = key.find(':');
    const auto kind = colon == std::string_view::npos ? std::nullopt : named<ReadingKind>(key.substr(0, colon));
    if (!kind) {
        if (key.find('>') == std::string_view::npos || value.empty()) return wrong();
        out.symptom = {std::string(key), std::string(value)};
        return out;
    }
    const auto where = key.substr(colon + 1);
    const auto plus = where.find('+');
    BenchReading r{*kind, std::string(where.substr(0, plus)),
                   plus == std::string_view::npos ? std::string() : std::string(where.substr(plus + 1))};
    const bool two = *kind != ReadingKind::look && *kind != ReadingKind::volts;
    if (r.a.empty() || r.b.empty() == two) return wrong();
    if (*kind == ReadingKind::look) {
        const auto looks = named<Looks>(value);
        if (!looks) return fail_usage(in_quotes(value), "as-drawn, missing, turned, other-marking or other-place");
        out.value = static_cast<double>(*looks);
    } else if (value == "open" && *kind != ReadingKind::volts) {
        out.value = reads_open;
    } else if (value == "beep" && *kind == ReadingKind::beep) {
        out.value = least_ohm;
    } else if (value == "none" && *kind == ReadingKind::farads) {
        out.value = reads_open;
    } else if (value == "floating" && *kind == ReadingKind::volts) {
        out.value = reads_floating;
    } else {
        const auto unit = *kind == ReadingKind::farads ? Unit::farad
                          : *kind == ReadingKind::beep || *kind == ReadingKind::ohms ? Unit::ohm
                                                                                     : Unit::volt;
        const auto number = parse_number(value, unit);
        if (!number) return fail_usage(in_quotes(value), number.error().expected);
        out.value = *number;
    }
    out.reading = std::move(r);
    return out;
}

std::vector<BenchReading> readings_of(const BenchBoard& board) {
    return ReadingList(board).make();
}

Prediction predict(const BenchBoard& board, const Exercise& exercise,
                   const std::vector<BenchReading>& readings, const std::vector<BenchFault>& faults) {
    Prediction out;
    const auto circuit = circuit_with(board, faults);
    Predictor predictor(board, circuit, faults);
    std::optional<BenchState> state;
    if (board.problem.empty()) state.emplace(circuit);
    out.values.reserve(readings.size());
    for (const auto& r : readings) out.values.push_back(predictor.value(r, state ? &*state : nullptr));
    if (state) out.symptoms = exercise.run(*state, circuit);
    return out;
}

double fit_of(ReadingKind kind, double p, double r) {
    constexpr double slips = 0.003;
    switch (kind) {
        case ReadingKind::look: return p == r ? 1 : slips;
        case ReadingKind::beep: return (p < beeps_below) == (r < beeps_below) ? 1 : slips;
        case ReadingKind::ohms: {
            const bool none = p > 5e6, open = r > 5e6;
            if (none || open) return none == open ? 1 : slips;
            return std::max(slips, bell(std::log((r + 0.5) / (p + 0.5)), 0.06));
        }
        case ReadingKind::diode: {
            const bool none = p > 2.5, open = r > 2.5;
            if (none || open) return none == open ? 1 : slips;
            return std::max(slips, bell(r - p, 0.15));
        }
        case ReadingKind::farads: {
            const bool none = p > 1, open = r > 1;
            if (none || open) return none == open ? 1 : slips;
            return std::max(slips, bell(std::log((r + 5e-11) / (p + 5e-11)), 0.12));
        }
        case ReadingKind::volts: {
            const bool floats = p <= reads_floating / 10, floating = r <= reads_floating / 10;
            // Nobody knows what a floating node shows on a meter; near 0 is likeliest.
            if (p <= reads_unknown / 2) return 0.4;
            if (floats) return floating ? 1 : std::abs(r) < 0.5 ? 0.6 : 0.25;
            if (floating) return slips;
            // How far a supply comes down under a fault is hard to say.
            return std::max(slips, bell(r - p, (p < 2.5 ? 0.3 : 0.12) + 0.05 * std::abs(p)));
        }
    }
    return slips;
}

double fit_of(const std::string& predicted, const std::string& seen) {
    if (predicted == seen) return 1;
    if (predicted == "ok" || seen == "ok") return predicted == "unclear" ? 0.1 : 0.02;
    // What can't be told is no proof.
    if (predicted == "unclear") return 0.5;
    if (seen == "unclear") return 0.2;
    const auto dull = [](const std::string& s) { return s == "low" || s == "high" || s == "nothing"; };
    if (dull(predicted) && dull(seen)) return 0.12;
    return 0.02;
}

}  // namespace grayrelic
