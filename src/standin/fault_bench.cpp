// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/fault_bench.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "standin/fault_network.hpp"

namespace grayrelic::standin {

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
    // Once more with all other lines high, where the pressed one is let go.
    std::vector<std::string> let_go;  // [line, last: none][watched]
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
        rest.assign(rest.size(), true);
        for (std::size_t i = 0; i <= b_.driven.size(); ++i) {
            n_.power(rest);
            if (i < b_.driven.size()) n_.line(i, false);
            out.let_go.emplace_back();
            for (std::size_t w = 0; w < b_.watched.size(); ++w) out.let_go.back() += level(w);
        }
        return out;
    }

  private:
    char level(std::size_t w) const {
        const auto& at = b_.watched[w];
        const auto part = part_of(at.lead);
        if (at.lamp) return n_.lamp_amps(part) > 0.0008 ? '1' : '0';
        if (!n_.module_fed(part)) return '-';
        const double v = n_.volts(n_.watched(w));
        return v < 0.9 ? '0' : v > 1.9 ? '1' : '~';
    }
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
            if (b_.watched[w].stored != stored) continue;
            const char c = level(w);
            out.levels[pressed][w] += c;
        }
    }

    const BenchBoard& b_;
    FaultNetwork& n_;
};

std::string told_high(const BenchBoard& b, const Shown& good, const Shown& bad, std::size_t line,
                      std::size_t w) {
    const auto none = b.driven.size();
    const char rest = bad.let_go[none][w], now = bad.let_go[line][w];
    if (rest == '-') return "nothing";
    if (rest == '~' || now == '~') return "unclear";
    if (rest != now) {
        for (std::size_t j = 0; j < none; ++j)
            if (j != line && bad.let_go[j][w] != rest && good.let_go[j][w] == good.let_go[none][w])
                return "unclear";
        return "ok";
    }
    std::vector<std::size_t> others;
    for (std::size_t j = 0; j < none; ++j)
        if (j != line && bad.let_go[j][w] != rest && good.let_go[j][w] == good.let_go[none][w])
            others.push_back(j);
    if (others.size() == 1) return "as " + b.driven[others[0]].name;
    return rest == '0' ? "low" : "high";
}

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
        if (j != line && at(bad, j) != rest && at(good, j) == at(good, none)) others.push_back(j);
    if (pressed == rest && others.size() == 1) return "as " + b.driven[others[0]].name;
    if (pressed == rest && others.empty() && rest != '~') return rest == '0' ? "low" : "high";
    return "unclear";
}

}  // namespace

namespace {

/// Bridges, supplies, and what a whole reply does.
void faults_of_lines(const BenchBoard& b, std::vector<std::string>& out) {
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
                out.push_back("swapped: " + t.ref + "." + p.number + "+" + t.ref + "." +
                              t.pins[i + 1].number);
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
    faults_of_lines(b, out);
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

namespace {

/// A reply that comes a place late, or the wrong way round.
void disturb(const BenchBoard& board, const FaultNetwork& network, Shown& bad) {
    for (std::size_t w = 0; w < board.watched.size(); ++w) {
        if (board.watched[w].name != network.odd_line || !board.watched[w].stored) continue;
        for (auto& row : bad.levels) {
            auto& places = row[w];
            if (network.late && !places.empty()) places = "1" + places.substr(0, places.size() - 1);
            const auto bits =
                std::min<std::size_t>(static_cast<std::size_t>(board.storage_bits), places.size());
            if (network.turned_order)
                std::reverse(places.begin(), places.begin() + static_cast<std::ptrdiff_t>(bits));
        }
    }
}

std::string share_told(double share, double now) {
    const double part = now / share;
    return part > 0.8 && part < 1.2 ? "ok" : std::abs(part) < 0.15 ? "low" : part < 1 ? "weak" : "strong";
}

}  // namespace

std::vector<Symptom> FaultBench::complaint() {
    std::vector<Symptom> out;
    if (board_.driven.empty() || board_.watched.empty()) return out;
    const auto good = Presser(board_, *whole_).press_all();
    auto bad = Presser(board_, *network_).press_all();
    const auto none = board_.driven.size();
    disturb(board_, *network_, bad);
    for (std::size_t line = 0; line < none; ++line)
        for (std::size_t w = 0; w < board_.watched.size(); ++w) {
            const auto& rest = good.levels[none][w];
            const auto key = board_.driven[line].name + ">" + board_.watched[w].name;
            const double share = good.volts[line][w] - good.volts[none][w];
            if (rest.find('~') != std::string::npos && !board_.watched[w].lamp) {
                if (std::abs(share) < 0.01) continue;
                out.push_back({key, share_told(share, bad.volts[line][w] - bad.volts[none][w])});
                continue;
            }
            bool shown = false;
            for (std::size_t p = 0; !shown && p < rest.size() && p < good.levels[line][w].size(); ++p)
                if (good.levels[line][w][p] != rest[p]) {
                    out.push_back({key, told(board_, good, bad, line, w, p)});
                    shown = true;
                }
            if (!shown && !board_.watched[w].stored && good.let_go[line][w] != good.let_go[none][w])
                out.push_back({key, told_high(board_, good, bad, line, w)});
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
