// SPDX-License-Identifier: GPL-3.0-or-later
// What each reading shows on a board with faults.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/unions.hpp"
#include "core/diagnose/bench_reading.hpp"

namespace grayrelic {
namespace {

constexpr double joined_below = 30, bridge_ohm = 0.2, hides_ohm = 500, wire_ohm = 0.05, ladder_share = 2;

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
                add(n[0], n[1], std::max(c.value[i], wire_ohm));
            if (t.kind == ThingKind::ladder) ladder(t, n, inner);
        }
        for (const auto& s : c.shorts)
            if (s[0] >= 0 && s[1] >= 0) add(s[0], s[1], bridge_ohm);
        for (const auto& [a, b, ohm] : all_) joined_.unite(a, b);
    }

    double ohms(int a, int b) {
        if (a < 0 || b < 0) return reads_open;
        if (a == b) return wire_ohm;
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
        return std::max(wire_ohm, m[from][n] / m[from][from]);
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
                return state == nullptr            ? reads_floating
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
            const auto near = [&](int x, int y) { return cold_.ohms(x, y) < joined_below; };
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

}  // namespace

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

}  // namespace grayrelic
