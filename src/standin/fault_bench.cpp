// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/fault_bench.hpp"

#include <Eigen/SparseCholesky>
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/random.hpp"
#include "standin/bench_chips.hpp"

namespace grayrelic::standin {
namespace {

using Pair = std::pair<std::string, std::string>;
/// Of the supply on the bench.
constexpr double limit_a = 0.5;

std::string part_of(const std::string& lead) {
    return lead.substr(0, lead.find('.'));
}

std::vector<Pair> bridges(const BenchBoard& b, std::map<Pair, Pair>* leads) {
    std::map<std::string, std::size_t> net;
    for (std::size_t i = 0; i < b.nets.size(); ++i)
        for (const auto& l : b.nets[i].leads) net[l] = i;
    std::vector<Pair> out;
    std::set<std::pair<std::size_t, std::size_t>> seen;
    for (const auto& n : b.neighbours) {
        const auto x = net.find(n.a), y = net.find(n.b);
        if (x == net.end() || y == net.end() || x->second == y->second) continue;
        const auto low = std::min(x->second, y->second), high = std::max(x->second, y->second);
        if (!seen.insert({low, high}).second) continue;
        out.emplace_back(b.nets[low].name, b.nets[high].name);
        if (leads != nullptr) (*leads)[out.back()] = {n.a, n.b};
    }
    return out;
}

}  // namespace

/// Conductances between nodes, sources, diodes and chips; one fault in it.
class FaultNetwork {
  public:
    FaultNetwork(const BenchBoard& b, std::uint64_t seed, const std::string& fault) : b_(b), random_(seed) {
        for (std::size_t i = 0; i < b.nets.size(); ++i)
            for (const auto& lead : b.nets[i].leads) node_[lead] = static_cast<int>(i);
        for (const auto& t : b.things)
            for (const auto& p : t.pins) node_.emplace(t.ref + "." + p.number, p.net);
        nodes_ = static_cast<int>(b.nets.size());
        for (const auto& t : b.things) {
            values_[t.ref] = t.value * (1 + t.tolerance * random_.uniform(-0.9, 0.9));
            for (const auto& p : t.pins) far_[t.ref + "." + p.number] = t.ref + "." + p.number;
        }
        const auto colon = fault.find(": ");
        if (colon != std::string::npos) break_it(fault.substr(0, colon), fault.substr(colon + 2));
        build();
    }

    std::string unable;
    std::string broken_kind, broken_part;
    bool late = false, turned_order = false;
    std::string odd_line;

    int node(const std::string& lead) const {
        // The copper that a lead is soldered to stays where it was drawn.
        if (const auto pad = lead.find(" pad"); pad != std::string::npos)
            return b_.net_of(lead.substr(0, pad)).value_or(-1);
        if (!lead.empty() && lead.back() == '~') {
            const auto it = far_.find(lead.substr(0, lead.size() - 1));
            return it == far_.end() || it->second.empty() ? -1 : node(it->second);
        }
        const auto it = node_.find(lead);
        return it == node_.end() ? -1 : it->second;
    }

    // --- power off -------------------------------------------------------------------------------------
    double ohms(int a, int c) {
        if (a < 0 || c < 0) return 1e12;
        if (a == c) return 0.05;
        // Chips draw nothing from a meter's little voltage.
        std::vector<Wire> links;
        for (std::size_t i = 0; i < wires_.size(); ++i)
            if (wired_power_.count(i) == 0) links.push_back(wires_[i]);
        std::vector<double> into(static_cast<std::size_t>(nodes_), 0.0);
        into[static_cast<std::size_t>(a)] = 1e-6;
        into[static_cast<std::size_t>(c)] = -1e-6;
        const auto v = solve(links, into, std::vector<double>(static_cast<std::size_t>(nodes_), 1e-12));
        return (v[static_cast<std::size_t>(a)] - v[static_cast<std::size_t>(c)]) / 1e-6;
    }
    /// A milliampere in, as meters do; at most 2.8 V.
    double diode_range(int a, int c) {
        if (a < 0 || c < 0) return 1e9;
        double v = 2.8;
        // The meter's own source against all that conducts, by bisection of its voltage.
        const double plain = ohms(a, c);
        const auto takes = [&](double volts) {
            double amps = volts / plain;
            for (const auto& d : diodes_) {
                if (d.chip) continue;
                const double way = ohms(a, d.from) + ohms(d.to, c);
                if (way < 1e6) {
                    double low = 0, high = volts;
                    for (int i = 0; i < 60; ++i) {
                        const double mid = (low + high) / 2;
                        (law(d, mid) * way + mid > volts ? high : low) = mid;
                    }
                    amps += law(d, low);
                }
            }
            return amps;
        };
        if (takes(v) < 1e-3) return 1e9;
        double low = 0, high = v;
        for (int i = 0; i < 60; ++i) {
            v = (low + high) / 2;
            (takes(v) > 1e-3 ? high : low) = v;
        }
        return v;
    }
    double farads(int a, int c) {
        if (a < 0 || c < 0) return 0;
        if (ohms(a, c) < 1000) return 1e9;
        double all = 0;
        for (const auto& [x, y, f] : stores_)
            if ((ohms(a, x) < 30 && ohms(c, y) < 30) || (ohms(a, y) < 30 && ohms(c, x) < 30)) all += f;
        return all;
    }

    // --- power on --------------------------------------------------------------------------------------
    void power(const std::vector<bool>& lines) {
        lines_ = lines;
        volts_.assign(static_cast<std::size_t>(nodes_), 0.0);
        for (auto& c : chips_) {
            c.now.assign(64, false);
            c.before.assign(64, false);
        }
        settle();
        settle();
    }
    void line(std::size_t i, bool high) {
        lines_[i] = high;
        settle();
    }
    double volts(int n) const { return n < 0 ? 0 : volts_[static_cast<std::size_t>(n)]; }
    bool module_fed(const std::string& ref) const {
        if (!ref.empty() && ref == gone_) return false;
        for (const auto& m : modules_)
            if (m.ref == ref) return volts(m.plus) - volts(m.minus) > 2.6;
        return true;
    }
    int watched(std::size_t i) const { return watched_[i]; }
    double lamp_amps(const std::string& ref) const {
        for (const auto& d : diodes_)
            if (d.ref == ref) return law(d, volts(d.from) - volts(d.to));
        return 0;
    }

  private:
    struct Wire {
        int a, b;
        double siemens;
    };
    struct Diode {
        int from, to;
        double drop;  ///< at 10 mA
        std::string ref;
        bool chip = false;
    };
    struct Source {
        int node;
        double volts, ohm;
        std::size_t line = 1000000;  ///< of a driven line
        std::string module{};
        bool limited = false;  ///< a supply gives no more than its limit
    };
    struct Chip {
        std::unique_ptr<BenchChip> does;
        std::map<int, int> node;  ///< by pin number
        std::vector<bool> now, before;
        double threshold = 1.4;
    };
    struct Module {
        std::string ref;
        int plus, minus;
    };
    struct Store {
        int a, b;
        double farad;
    };

    static double law(const Diode& d, double v) {
        const double slope = 0.05, one = 0.01;
        return one * (std::exp(std::min((v - d.drop) / slope, 12.0)) - std::exp(-d.drop / slope));
    }

    void break_it(const std::string& kind, const std::string& place) {
        broken_kind = kind;
        broken_part = place.substr(0, place.find_first_of(" "));
        const auto plus = place.find('+', 1);
        if (kind == "open") {
            node_[place] = nodes_++;
        } else if (kind == "short") {
            std::map<Pair, Pair> leads;
            (void)bridges(b_, &leads);
            for (const auto& [nets, at] : leads)
                if (nets.first + "+" + nets.second == place)
                    wires_.push_back({node(at.first), node(at.second), 1 / random_.uniform(0.05, 0.6)});
        } else if (kind == "swapped") {
            const auto one = place.substr(0, plus), two = place.substr(plus + 1);
            std::swap(far_[one], far_[two]);
        } else if (kind == "value") {
            values_[broken_part] *= place.find("x10") != std::string::npos ? 10 : 0.1;
        } else if (kind == "reversed") {
            turn(broken_part);
        } else if (kind == "missing") {
            gone_ = place;
        } else if (kind == "jumper") {
            const auto* t = b_.find(place);
            if (t != nullptr && t->pins.size() == 3) {
                other_position_ = place;
            } else {
                gone_ = place;
            }
        } else if (kind == "supply") {
            for (auto& [lead, to] : far_)
                if (b_.net_of(lead) && b_.nets[static_cast<std::size_t>(*b_.net_of(lead))].name == place)
                    lost_.insert(lead);
        } else if (kind == "mirrored") {
            mirror(place);
        } else if (kind == "late" || kind == "order") {
            late = kind == "late";
            turned_order = kind == "order";
            odd_line = place;
        }
    }

    /// A package turned by half: what was pin 1 lies where the pin across the middle should.
    void turn(const std::string& ref) {
        const auto* t = b_.find(ref);
        if (t == nullptr) return;
        const auto n = t->pins.size();
        std::vector<int> was;
        for (const auto& p : t->pins) was.push_back(node(ref + "." + p.number));
        for (std::size_t i = 0; i < n; ++i) node_[ref + "." + t->pins[i].number] = was[(i + n / 2) % n];
    }

    void mirror(const std::string& ref) {
        const auto* t = b_.find(ref);
        if (t == nullptr) return;
        for (std::size_t i = 0; i < t->pins.size(); ++i) {
            const int to = t->mirrored.size() > i ? t->mirrored[i] : -1;
            far_[ref + "." + t->pins[i].number] =
                to < 0 ? std::string() : ref + "." + t->pins[static_cast<std::size_t>(to)].number;
        }
    }

    int pin(const BenchThing& t, const std::string& name) const {
        for (const auto& p : t.pins)
            if (p.name == name) return node(t.ref + "." + p.number);
        return -1;
    }
    void wire(int a, int c, double ohm) {
        if (a >= 0 && c >= 0 && a != c) wires_.push_back({a, c, 1 / std::max(ohm, 0.02)});
    }

    void build() {
        for (const auto& t : b_.things)
            if (t.ref != gone_) place(t);
        for (const auto& s : b_.supplies) {
            const int n = lost_.count(s.lead) != 0 ? -1 : node(s.lead + "~");
            if (n >= 0) sources_.push_back({n, s.volts * (s.volts == 0 ? 1 : random_.uniform(0.985, 1.015)),
                                            s.volts == 0 ? 0.05 : 0.3});
        }
        for (std::size_t i = 0; i < b_.driven.size(); ++i) {
            const auto& d = b_.driven[i];
            const auto* t = b_.find(part_of(d.lead));
            const bool of_module = t != nullptr && t->kind == ThingKind::module;
            const int n = of_module ? node(d.lead) : node(d.lead + "~");
            if (n >= 0 && !(of_module && gone_ == t->ref))
                sources_.push_back({n, d.high, of_module ? 30.0 : 120.0, i, of_module ? t->ref : ""});
        }
        for (const auto& w : b_.watched) {
            const auto* t = b_.find(part_of(w.lead));
            watched_.push_back(t != nullptr && t->kind == ThingKind::contacts ? node(w.lead + "~") : node(w.lead));
        }
        for (int i = 0; i < nodes_; ++i) rests_at_.push_back(random_.uniform(0, 4));
    }

    void place(const BenchThing& t) {
        const auto n = [&](std::size_t i) { return node(t.ref + "." + t.pins[i].number); };
        const double v = values_[t.ref];
        switch (t.kind) {
            case ThingKind::resistor: wire(n(0), n(1), v); break;
            case ThingKind::link:
                if (other_position_ == t.ref)
                    // Its middle pin, to the one that was left.
                    wire(t.pins[0].number == "2" ? n(0) : n(1), n(2), v);
                else
                    wire(n(0), n(1), v);
                break;
            case ThingKind::capacitor: stores_.push_back({n(0), n(1), v}); break;
            case ThingKind::diode: diodes_.push_back({pin(t, "A"), pin(t, "K"), v, t.ref}); break;
            case ThingKind::ladder: ladder(t, v); break;
            case ThingKind::logic: logic(t); break;
            case ThingKind::module: {
                const int plus = pin(t, "VIN"), minus = pin(t, "GND");
                modules_.push_back({t.ref, plus, minus});
                wire(plus, minus, 110);
                wired_power_.insert(wires_.size() - 1);
                if (plus >= 0 && minus >= 0) diodes_.push_back({minus, plus, 0.75, t.ref, true});
                break;
            }
            default: break;
        }
    }

    void ladder(const BenchThing& t, double r) {
        int last = 0;
        while (pin(t, "B" + std::to_string(last + 1)) >= 0) ++last;
        // From the most significant bit, which stands at the output, down to the end at ground.
        int here = pin(t, "OUT");
        for (int bit = last; bit >= 0; --bit) {
            wire(pin(t, "B" + std::to_string(bit)), here, 2 * r);
            if (bit == 0) {
                wire(here, pin(t, "GND"), 2 * r);
            } else {
                const int next = nodes_++;
                wire(here, next, r);
                here = next;
            }
        }
    }

    void logic(const BenchThing& t) {
        Chip c;
        c.does = bench_chip(t.logic == nullptr ? std::string() : t.logic->id);
        if (!c.does) {
            unable = t.ref + ": " + (t.logic == nullptr ? "a part without logic" : t.logic->id);
            return;
        }
        for (const auto& p : t.pins) c.node[std::atoi(p.number.c_str())] = node(t.ref + "." + p.number);
        c.threshold = t.family == "hc" || t.family == "4000b" ? 2.5 : 1.4;
        const int plus = c.node[c.does->supply_pin()], minus = c.node[c.does->ground_pin()];
        wire(plus, minus, 2500);
        wired_power_.insert(wires_.size() - 1);
        diodes_.push_back({minus, plus, 0.75, t.ref, true});
        // Its inputs clamp to its supply; it matters where nothing else feeds that.
        const auto feeds = std::count_if(node_.begin(), node_.end(), [&](const auto& x) { return x.second == plus; });
        if (feeds <= 1)
            for (const int i : c.does->inputs())
                if (c.node[i] >= 0) diodes_.push_back({c.node[i], plus, 0.75, t.ref, true});
        chips_.push_back(std::move(c));
    }

    /// Conductances and currents to voltages; each node leaks a little to where it rests.
    std::vector<double> solve(const std::vector<Wire>& wires, const std::vector<double>& into,
                              const std::vector<double>& to_ground) {
        using Triplets = std::vector<Eigen::Triplet<double>>;
        Triplets g;
        g.reserve(wires.size() * 4 + to_ground.size());
        for (const auto& w : wires) {
            g.emplace_back(w.a, w.a, w.siemens);
            g.emplace_back(w.b, w.b, w.siemens);
            g.emplace_back(w.a, w.b, -w.siemens);
            g.emplace_back(w.b, w.a, -w.siemens);
        }
        for (int i = 0; i < nodes_; ++i) g.emplace_back(i, i, to_ground[static_cast<std::size_t>(i)]);
        Eigen::SparseMatrix<double> m(nodes_, nodes_);
        m.setFromTriplets(g.begin(), g.end());
        solver_.compute(m);
        const Eigen::VectorXd right = Eigen::Map<const Eigen::VectorXd>(into.data(), nodes_);
        const Eigen::VectorXd v = solver_.solve(right);
        return {v.data(), v.data() + v.size()};
    }

    void solve_now() {
        for (int round = 0; round < 80; ++round) {
            auto wires = wires_;
            std::vector<double> into(static_cast<std::size_t>(nodes_)), leak(static_cast<std::size_t>(nodes_), 1e-9);
            for (std::size_t i = 0; i < into.size(); ++i) into[i] = rests_at_[i] * 1e-9;
            const auto hold = [&](int n, double v, double ohm) {
                leak[static_cast<std::size_t>(n)] += 1 / ohm;
                into[static_cast<std::size_t>(n)] += v / ohm;
            };
            for (const auto& s : sources_) {
                if (!s.module.empty() && !module_fed(s.module)) continue;
                if (s.limited) {
                    into[static_cast<std::size_t>(s.node)] += limit_a;
                    continue;
                }
                hold(s.node, s.line < lines_.size() ? (lines_[s.line] ? s.volts : 0) : s.volts, s.ohm);
            }
            for (const auto& c : chips_) {
                const double plus = volts(c.node.at(c.does->supply_pin())),
                             minus = volts(c.node.at(c.does->ground_pin()));
                if (plus - minus < 2.2) continue;
                for (const int o : c.does->outputs())
                    if (c.node.at(o) >= 0) hold(c.node.at(o), c.does->level(o, c.now) ? plus : minus, 45);
            }
            for (const auto& d : diodes_) {
                if (d.from < 0 || d.to < 0) continue;
                const double v = std::clamp(volts(d.from) - volts(d.to), -10.0, d.drop + 0.5);
                const double i = law(d, v), slope = std::max((law(d, v + 1e-5) - i) / 1e-5, 1e-9);
                wires.push_back({d.from, d.to, slope});
                into[static_cast<std::size_t>(d.from)] -= i - slope * v;
                into[static_cast<std::size_t>(d.to)] += i - slope * v;
            }
            const auto next = solve(wires, into, leak);
            double most = 0;
            for (std::size_t k = 0; k < next.size(); ++k) {
                const double step = next[k] - volts_[k];
                most = std::max(most, std::abs(step));
                volts_[k] = next[k];
            }
            bool turned = false;
            for (auto& s : sources_) {
                if (s.line < lines_.size() || s.volts == 0) continue;
                const double v = volts(s.node);
                const bool limit = s.limited ? v < s.volts : (s.volts - v) / s.ohm > limit_a;
                turned = turned || limit != s.limited;
                s.limited = limit;
            }
            if (most < 2e-3 && !turned) return;
        }
    }

    void settle() {
        for (int round = 0; round < 30; ++round) {
            solve_now();
            bool changed = false;
            for (auto& c : chips_) {
                const double minus = volts(c.node.at(c.does->ground_pin()));
                auto now = c.now;
                for (const int i : c.does->inputs())
                    now[static_cast<std::size_t>(i)] = volts(c.node.at(i)) - minus > c.threshold;
                if (now == c.now) continue;
                changed = true;
                c.before = c.now;
                c.now = now;
            }
            if (!changed) return;
            for (auto& c : chips_) {
                if (c.before != c.now) c.does->change(c.before, c.now);
                c.before = c.now;
            }
        }
    }

    const BenchBoard& b_;
    Random random_;
    std::map<std::string, int> node_;
    std::map<std::string, std::string> far_;  ///< where a contact's wire ends: a lead; empty: nowhere
    std::map<std::string, double> values_;
    std::set<std::string> lost_;
    std::string gone_, other_position_;
    int nodes_ = 0;
    std::vector<Wire> wires_;
    std::set<std::size_t> wired_power_;
    std::vector<Diode> diodes_;
    std::vector<Store> stores_;
    std::vector<Source> sources_;
    std::vector<Chip> chips_;
    std::vector<Module> modules_;
    std::vector<int> watched_;
    std::vector<double> rests_at_, volts_;
    std::vector<bool> lines_;
    Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> solver_;
};

namespace {

std::string draw(const BenchBoard& board, std::uint64_t seed) {
    std::map<std::string, std::vector<std::string>> by_kind;
    for (const auto& f : hidden_faults(board)) by_kind[f.substr(0, f.find(':'))].push_back(f);
    if (by_kind.empty()) return {};
    Random random(seed ^ 0x5DEECE66DULL);
    auto it = by_kind.begin();
    std::advance(it, static_cast<std::ptrdiff_t>(random.below(by_kind.size())));
    return it->second[static_cast<std::size_t>(random.below(it->second.size()))];
}

/// What shows at each watched lead, each clock a place of its own, all over with one line pressed at a time.
struct Shown {
    // [pressed line, last: none][watched][place]: '0', '1', '~' between, '-' nothing is told
    std::vector<std::vector<std::string>> levels;
    std::vector<std::vector<double>> volts;  // [pressed line, last: none][watched]
};

class Presser {
  public:
    Presser(const BenchBoard& b, FaultNetwork& n) : b_(b), n_(n) {}

    Shown press_all() {
        Shown out;
        std::vector<bool> rest;
        for (const auto& d : b_.driven) rest.push_back(d.control && d.idle);
        for (std::size_t i = 0; i <= b_.driven.size(); ++i) {
            n_.power(rest);
            out.levels.emplace_back(b_.watched.size());
            out.volts.emplace_back(b_.watched.size(), 0.0);
            const bool control = i < b_.driven.size() && b_.driven[i].control;
            if (i < b_.driven.size()) n_.line(i, true);
            // A control is seen at rest and pressed; with another line it is used.
            if (control) n_.line(i, !b_.driven[i].idle);
            look(out, i, false);
            if (control) continue;
            pulse(true);
            look(out, i, true);
            for (std::size_t c = 0; c < b_.driven.size(); ++c) {
                if (!b_.driven[c].control || b_.driven[c].loads) continue;
                for (int k = 0; k <= b_.storage_bits && stores(); ++k) {
                    n_.line(c, !b_.driven[c].idle);
                    n_.line(c, b_.driven[c].idle);
                    look(out, i, true);
                }
            }
            for (std::size_t w = 0; w < b_.watched.size(); ++w) out.volts[i][w] = n_.volts(n_.watched(w));
        }
        return out;
    }

  private:
    bool stores() const {
        return std::any_of(b_.watched.begin(), b_.watched.end(), [](const auto& w) { return w.stored; });
    }
    void pulse(bool loads) {
        for (std::size_t c = 0; c < b_.driven.size(); ++c)
            if (b_.driven[c].control && b_.driven[c].loads == loads) {
                n_.line(c, !b_.driven[c].idle);
                n_.line(c, b_.driven[c].idle);
            }
    }
    void look(Shown& out, std::size_t pressed, bool stored) {
        for (std::size_t w = 0; w < b_.watched.size(); ++w) {
            const auto& at = b_.watched[w];
            if (at.stored != stored) continue;
            const auto part = part_of(at.lead);
            char c = '-';
            if (at.lamp)
                c = n_.lamp_amps(part) > 0.0008 ? '1' : '0';
            else if (n_.module_fed(part)) {
                const double v = n_.volts(n_.watched(w));
                c = v < 0.9 ? '0' : v > 1.9 ? '1' : '~';
            }
            out.levels[pressed][w] += c;
        }
    }

    const BenchBoard& b_;
    FaultNetwork& n_;
};

std::string told(const BenchBoard& b, const Shown& good, const Shown& bad, std::size_t line, std::size_t w,
                 std::size_t place) {
    const auto none = b.driven.size();
    const auto at = [&](const Shown& s, std::size_t pressed) {
        // A pressed control has no places of its own.
        const auto& all = s.levels[pressed][w];
        return place < all.size() ? all[place] : s.levels[none][w][place];
    };
    const char rest = at(bad, none), pressed = at(bad, line);
    if (rest == '-') return "nothing";
    if (rest == at(good, none) && pressed == at(good, line)) {
        for (std::size_t j = 0; j < none; ++j)
            if (j != line && at(bad, j) != at(good, j)) return "unclear";
        return "ok";
    }
    std::vector<std::size_t> others;
    for (std::size_t j = 0; j < none; ++j)
        if (j != line && at(bad, j) != rest) others.push_back(j);
    if (pressed == rest && others.size() == 1) return "as " + b.driven[others[0]].name;
    if (pressed == rest && others.empty() && rest != '~') return rest == '0' ? "low" : "high";
    return "unclear";
}

}  // namespace

std::vector<std::string> hidden_faults(const BenchBoard& b) {
    std::vector<std::string> out;
    std::map<int, int> on_net;
    for (const auto& n : b.nets)
        for (const auto& lead : n.leads)
            if (const auto net = b.net_of(lead)) ++on_net[*net];
    const auto leads_on = [&](const BenchPin& p) { return on_net[p.net] > 1; };
    for (const auto& t : b.things) {
        bool used = false;
        for (std::size_t i = 0; i < t.pins.size(); ++i) {
            const auto& p = t.pins[i];
            used = used || leads_on(p);
            if (leads_on(p)) out.push_back("open: " + t.ref + "." + p.number);
            if (t.kind == ThingKind::contacts && i + 1 < t.pins.size() && p.net != t.pins[i + 1].net &&
                (leads_on(p) || leads_on(t.pins[i + 1])))
                out.push_back("swapped: " + t.ref + "." + p.number + "+" + t.ref + "." + t.pins[i + 1].number);
        }
        if (t.kind == ThingKind::contacts) {
            out.push_back("mirrored: " + t.ref);
            continue;
        }
        if (t.kind == ThingKind::resistor || t.kind == ThingKind::capacitor) {
            out.push_back("value: " + t.ref + " x10");
            out.push_back("value: " + t.ref + " /10");
        }
        if (t.kind == ThingKind::diode || t.polar || (t.kind == ThingKind::logic && t.pins.size() % 2 == 0))
            out.push_back("reversed: " + t.ref);
        if (used) out.push_back((t.jumper ? "jumper: " : "missing: ") + t.ref);
    }
    for (const auto& [one, two] : bridges(b, nullptr)) out.push_back("short: " + one + "+" + two);
    std::set<std::string> fed;
    for (const auto& s : b.supplies)
        if (const auto net = b.net_of(s.lead); s.volts != 0 && net)
            fed.insert(b.nets[static_cast<std::size_t>(*net)].name);
    for (const auto& name : fed) out.push_back("supply: " + name);
    for (const auto& w : b.watched)
        if (w.stored && !w.lamp && b.storage_bits >= 4) {
            out.push_back("late: " + w.name);
            out.push_back("order: " + w.name);
        }
    return out;
}

FaultBench::FaultBench(const BenchBoard& board, std::uint64_t seed)
    : FaultBench(board, seed, draw(board, seed)) {}

FaultBench::FaultBench(const BenchBoard& board, std::uint64_t seed, const std::string& fault)
    : network_(std::make_unique<FaultNetwork>(board, seed, fault)),
      whole_(std::make_unique<FaultNetwork>(board, seed, std::string())),
      board_(board),
      hidden_(fault),
      noise_(seed * 77 + 5) {
    network_->power(std::vector<bool>(board.driven.size(), false));
}

FaultBench::~FaultBench() = default;

std::string FaultBench::unable() const {
    return network_->unable;
}

std::vector<Symptom> FaultBench::complaint() {
    std::vector<Symptom> out;
    if (board_.driven.empty() || board_.watched.empty()) return out;
    const auto good = Presser(board_, *whole_).press_all();
    auto bad = Presser(board_, *network_).press_all();
    const auto none = board_.driven.size();
    for (std::size_t w = 0; w < board_.watched.size(); ++w) {
        if (board_.watched[w].name != network_->odd_line || !board_.watched[w].stored) continue;
        for (auto& row : bad.levels) {
            auto& places = row[w];
            if (network_->late && !places.empty()) places = "1" + places.substr(0, places.size() - 1);
            const auto bits = std::min<std::size_t>(static_cast<std::size_t>(board_.storage_bits), places.size());
            if (network_->turned_order) std::reverse(places.begin(), places.begin() + static_cast<std::ptrdiff_t>(bits));
        }
    }
    for (std::size_t line = 0; line < none; ++line)
        for (std::size_t w = 0; w < board_.watched.size(); ++w) {
            const auto& rest = good.levels[none][w];
            const auto key = board_.driven[line].name + ">" + board_.watched[w].name;
            const double share = good.volts[line][w] - good.volts[none][w];
            if (rest.find('~') != std::string::npos && !board_.watched[w].lamp) {
                if (std::abs(share) < 0.01) continue;
                const double now = bad.volts[line][w] - bad.volts[none][w];
                const double part = now / share;
                out.push_back({key, part > 0.8 && part < 1.2   ? "ok"
                                    : std::abs(part) < 0.15 ? "low"
                                    : part < 1              ? "weak"
                                                            : "strong"});
                continue;
            }
            for (std::size_t p = 0; p < rest.size() && p < good.levels[line][w].size(); ++p)
                if (good.levels[line][w][p] != rest[p]) {
                    out.push_back({key, told(board_, good, bad, line, w, p)});
                    break;
                }
        }
    return out;
}

double FaultBench::read(const BenchReading& r) {
    Random noise(noise_ += 0x9E3779B97F4A7C15ULL);
    auto& n = *network_;
    const double share = 1 + noise.uniform(-0.008, 0.008);
    const int a = n.node(r.a), c = r.b.empty() ? -1 : n.node(r.b);
    switch (r.kind) {
        case ReadingKind::look: {
            if (n.broken_part != r.a) return static_cast<double>(Looks::as_drawn);
            if (n.broken_kind == "missing") return static_cast<double>(Looks::missing);
            if (n.broken_kind == "reversed") return static_cast<double>(Looks::turned);
            if (n.broken_kind == "value") return static_cast<double>(Looks::other_marking);
            if (n.broken_kind == "jumper") return static_cast<double>(Looks::other_place);
            return static_cast<double>(Looks::as_drawn);
        }
        case ReadingKind::beep:
        case ReadingKind::ohms: {
            const double ohm = n.ohms(a, c);
            return ohm > 2e7 ? reads_open : ohm * share + noise.uniform(0.1, 0.4);
        }
        case ReadingKind::diode: {
            const double v = n.diode_range(a, c);
            return v > 2.7 ? reads_open : v * share;
        }
        case ReadingKind::farads: {
            const double f = n.farads(a, c);
            return f > 1 ? reads_open : f * (1 + noise.uniform(-0.03, 0.03));
        }
        case ReadingKind::volts: {
            std::vector<bool> rest;
            for (const auto& d : board_.driven) rest.push_back(d.idle);
            n.power(rest);
            return n.volts(a) * share + noise.uniform(-0.02, 0.02);
        }
    }
    return 0;
}

}  // namespace grayrelic::standin
