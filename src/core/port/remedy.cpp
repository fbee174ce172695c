// SPDX-License-Identifier: GPL-3.0-or-later
// What takes the worst mis-insertions away, each remedy tried on the cases themselves.
#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <limits>
#include <optional>

#include "core/port/misinsert.hpp"

#include "core/base/long_work.hpp"

namespace grayrelic {
namespace {

bool is_bad(const WrongCase& c) {
    return can_happen(c) && c.verdict == Verdict::stop;
}

/// A contact of which nothing is known may be anything: only what is recorded as unused is free.
bool in_use(const Pin* pin) {
    return pin == nullptr || role_of(*pin) != PinRole::unused;
}

/// Blocking a contact of the socket holds a case off when a contact that the plug needs would land there.
void try_keys(const Face& socket, const Face& plug, const std::vector<WrongCase>& cases,
              std::vector<Remedy>& out) {
    Remedy best;
    best.stops_before = best.stops_after = count_stops(cases);
    for (std::size_t k = 0; k < socket.connector->contacts.size(); ++k) {
        if (in_use(socket.pin_at(k))) continue;
        Remedy r;
        r.stops_before = r.stops_after = best.stops_before;
        for (const auto& c : cases) {
            if (!is_bad(c) || c.possible == Possible::by_hand) continue;
            for (std::size_t i = 0; i < c.landing.size(); ++i)
                if (c.landing[i] == std::optional(k) && i != k && i < plug.connector->contacts.size()) {
                    r.prevented.push_back(c.id);
                    --r.stops_after;
                    break;
                }
        }
        if (r.stops_after < best.stops_after) {
            r.says = fmt::format(
                "Cut pin {} of the plug and fill that hole of the socket: it is recorded as unused, "
                "and it holds off {} of {} destructive ways.",
                socket.number_at(k), r.stops_before - r.stops_after, r.stops_before);
            best = std::move(r);
        }
    }
    if (!best.says.empty()) out.push_back(std::move(best));
}

/// Above this the exchanges to try are too many for an answer at once.
constexpr std::size_t most_reordered = 40;

std::pair<long, long> weigh(const std::vector<WrongCase>& cases) {
    long collisions = 0;
    for (const auto& c : cases)
        if (is_bad(c))
            collisions += std::count_if(c.collisions.begin(), c.collisions.end(),
                                        [](const Collision& x) { return x.verdict == Verdict::stop; });
    return {count_stops(cases), collisions};
}

/// Only for a connector of one's own: another order of the pins. A relic's port is as it is.
void try_order(const Face& socket, const Face& plug, const FamilyLibrary& families,
               const std::vector<WrongCase>& cases, std::vector<Remedy>& out) {
    const auto n = socket.connector->contacts.size();
    const bool own = socket.pins == plug.pins;
    if (!own || n < 3 || n > most_reordered) return;
    const auto before = weigh(cases);
    auto best = before;
    std::string says;
    std::vector<WrongCase> best_cases;
    for (std::size_t i = 0; i < n; ++i)
        for (std::size_t j = i + 1; j < n; ++j) {
            const auto* a = socket.pin_at(i);
            const auto* b = socket.pin_at(j);
            // Only moving a supply or a ground changes much; other pairs are left out to keep this quick.
            const auto matters = [](const Pin* p) {
                return p != nullptr && (role_of(*p) == PinRole::rail || role_of(*p) == PinRole::ground);
            };
            if (!matters(a) && !matters(b)) continue;
            auto pins = *socket.pins;
            for (auto& p : pins)
                p.number = a != nullptr && p.number == a->number   ? socket.number_at(j)
                           : b != nullptr && p.number == b->number ? socket.number_at(i)
                                                                   : p.number;
            Face changed = socket;
            changed.pins = &pins;
            const auto tried = wrong_cases(changed, changed, families, true);
            const auto now = weigh(tried);
            if (now >= best) continue;
            best = now;
            says = fmt::format(
                "If the order is yours to choose: exchange pins {} and {}; {} of {} destructive "
                "ways are left.",
                socket.number_at(i), socket.number_at(j), now.first, before.first);
            best_cases = tried;
        }
    if (best.first >= before.first) return;
    Remedy r;
    r.kind = Remedy::Kind::order;
    r.says = says;
    r.stops_before = before.first;
    r.stops_after = best.first;
    for (const auto& c : cases)
        if (is_bad(c) && std::none_of(best_cases.begin(), best_cases.end(),
                                      [&](const WrongCase& x) { return x.id == c.id && is_bad(x); }))
            r.prevented.push_back(c.id);
    out.push_back(std::move(r));
}

struct Candidate {
    std::string what;
    std::string costs;
    Shield shield;
};

/// The largest drop in a supply that the plug's circuit would see, at what it is said to take.
double load_a(const Face& plug) {
    double most = 0;
    for (const auto& p : *plug.pins)
        if (role_of(p) == PinRole::rail && p.current_max.value)
            most = std::max(most, p.current_max.value->value());
    return most > 0 ? most : unknown_load_a;
}

bool has_rails(const Face& face) {
    return std::any_of(face.pins->begin(), face.pins->end(),
                       [](const Pin& p) { return role_of(p) == PinRole::rail; });
}

/// What a line with an input and a lead of a hand's length holds.
constexpr double line_farad = 50e-12;

/// In the plug's supplies, the plainest first.
std::vector<Candidate> for_supplies(const Face& plug) {
    std::vector<Candidate> out;
    if (!has_rails(plug)) return out;
    const double a = load_a(plug);
    const auto amps = print_number(a, Unit::ampere, 2);
    const auto drop = [&](double v) {
        return fmt::format("about {} of each supply at {}", print_number(v, Unit::volt, 2), amps);
    };
    Shield s;
    s.rails.p_channel = true;
    out.push_back({"a P-channel transistor in each supply of the plug", drop(0.05 * a + 0.02), s});
    s = {};
    s.rails.diode = true;
    out.push_back({"a Schottky diode in each supply of the plug", drop(0.35 + 0.1 * a), s});
    s = {};
    s.rails.fuse_a = 1.5 * a;
    out.push_back({fmt::format("a fuse of {} in each supply", print_number(1.5 * a, Unit::ampere, 2)),
                   "a new fuse each time, and what flows until it opens", s});
    return out;
}

/// In its signals, the least resistance first.
std::vector<Candidate> for_signals() {
    std::vector<Candidate> out;
    for (const double ohm : {220.0, 470.0, 1e3, 2.2e3, 4.7e3, 10e3})
        for (const bool clamp : {false, true}) {
            Shield s;
            s.signals.series_ohm = ohm;
            s.signals.clamp_to_supply = clamp;
            out.push_back(
                {fmt::format("a resistor of {}{} in each signal of the plug", print_number(ohm, Unit::ohm, 2),
                             clamp ? " with clamp diodes behind it" : ""),
                 fmt::format("edges of about {} into {}",
                             print_number(2.2 * ohm * line_farad, Unit::second, 2),
                             print_number(line_farad, Unit::farad, 2)),
                 s});
        }
    return out;
}

Candidate both(const Candidate& rails, const Candidate& lines) {
    Candidate c = rails;
    c.what += " and " + lines.what;
    c.costs += "; " + lines.costs;
    c.shield.signals = lines.shield.signals;
    return c;
}

class Protecting {
  public:
    Protecting(const Face& socket, const Face& plug, const FamilyLibrary& families,
               const std::vector<WrongCase>& cases)
        : socket_(socket), plug_(plug), families_(families), cases_(cases), before_(count_stops(cases)) {}

    /// The plainest of those that prevent most; nothing when none prevents anything.
    std::optional<std::pair<Candidate, Remedy>> best_of(const std::vector<Candidate>& list) const {
        std::optional<std::pair<Candidate, Remedy>> best;
        for (const auto& c : list) {
            auto r = tried(c);
            if (r.prevented.empty() || (best && r.stops_after >= best->second.stops_after)) continue;
            best = std::pair(c, std::move(r));
            if (best->second.stops_after == 0) break;
        }
        return best;
    }

  private:
    [[nodiscard]] Remedy tried(const Candidate& c) const {
        Remedy r;
        r.kind = Remedy::Kind::protection;
        r.stops_before = r.stops_after = before_;
        r.shield = c.shield;
        r.costs = c.costs;
        for (const auto& w : cases_)
            if (is_bad(w) &&
                study_case(w, socket_, plug_, families_, c.shield, true).verdict != Verdict::stop) {
                r.prevented.push_back(w.id);
                --r.stops_after;
            }
        auto what = c.what;
        what[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(what[0])));
        r.says = fmt::format("{}: {} of {} destructive ways become survivable. It costs {}.", what,
                             r.prevented.size(), before_, c.costs);
        return r;
    }
    const Face& socket_;
    const Face& plug_;
    const FamilyLibrary& families_;
    const std::vector<WrongCase>& cases_;
    long before_;
};

/// In the supplies alone, in the signals alone, and in both where neither is enough.
void try_protection(const Face& socket, const Face& plug, const FamilyLibrary& families,
                    const std::vector<WrongCase>& cases, std::vector<Remedy>& out) {
    const Protecting p(socket, plug, families, cases);
    const auto rails = p.best_of(for_supplies(plug)), lines = p.best_of(for_signals());
    const auto least = [](const auto& x) {
        return x ? x->second.stops_after : std::numeric_limits<long>::max();
    };
    if (rails) out.push_back(rails->second);
    if (lines) out.push_back(lines->second);
    if (!has_rails(plug) || std::min(least(rails), least(lines)) == 0) return;
    std::vector<Candidate> together;
    const auto supply = rails ? rails->first : for_supplies(plug).front();
    for (const auto& l : for_signals()) together.push_back(both(supply, l));
    if (const auto best = p.best_of(together);
        best && best->second.stops_after < std::min(least(rails), least(lines)))
        out.push_back(best->second);
}

}  // namespace

std::vector<Remedy> remedies(const Face& socket, const Face& plug_of, const FamilyLibrary& families,
                             const std::vector<WrongCase>& cases, bool order_is_ours) {
    long_work("remedies");
    std::vector<Remedy> out;
    if (count_stops(cases) == 0) return out;
    try_keys(socket, plug_of, cases, out);
    if (order_is_ours) try_order(socket, plug_of, families, cases, out);
    try_protection(socket, plug_of, families, cases, out);
    std::stable_sort(out.begin(), out.end(),
                     [](const Remedy& a, const Remedy& b) { return a.stops_after < b.stops_after; });
    return out;
}

}  // namespace grayrelic
