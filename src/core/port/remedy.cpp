// SPDX-License-Identifier: GPL-3.0-or-later
// What takes the worst mis-insertions away, each remedy tried on the cases themselves.
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/port/misinsert.hpp"

#include "core/base/long_work.hpp"

namespace grayrelic {
namespace {

bool is_bad(const WrongCase& c) {
    return can_happen(c) && c.verdict == Verdict::stop;
}

/// A contact of which nothing is known may be anything: only what is recorded as unused, or not at all, is
/// free.
bool in_use(const Pin* pin) {
    return pin != nullptr && role_of(*pin) != PinRole::unused;
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
                "Cut pin {} of the plug and fill that hole of the socket: nothing uses it, "
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
            collisions += std::count_if(c.collisions.begin(), c.collisions.end(), [](const Collision& x) {
                return x.meeting.verdict == Verdict::stop;
            });
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
            const auto tried = wrong_cases(changed, changed, families);
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
    Remedy r{Remedy::Kind::order, says, before.first, best.first, {}};
    for (const auto& c : cases)
        if (is_bad(c) && std::none_of(best_cases.begin(), best_cases.end(),
                                      [&](const WrongCase& x) { return x.id == c.id && is_bad(x); }))
            r.prevented.push_back(c.id);
    out.push_back(std::move(r));
}

/// The next resistor of series E12 (IEC 60063) that is not smaller.
double next_e12(double ohm) {
    constexpr std::array<double, 12> steps{1.0, 1.2, 1.5, 1.8, 2.2, 2.7, 3.3, 3.9, 4.7, 5.6, 6.8, 8.2};
    const double power = std::pow(10.0, std::floor(std::log10(ohm)));
    for (const double s : steps)
        if (s * power >= ohm * 0.9999) return s * power;
    return 10.0 * power;
}

/// Current through a protection diode or a fighting output that both commonly endure for a while.
constexpr double bearable_a = 0.010;

void try_protection(const std::vector<WrongCase>& cases, std::vector<Remedy>& out) {
    double most_v = 0.0;
    bool fuse = false;
    Remedy r;
    r.kind = Remedy::Kind::protection;
    r.stops_before = r.stops_after = count_stops(cases);
    for (const auto& c : cases) {
        if (!is_bad(c)) continue;
        bool all = true;
        for (const auto& x : c.collisions) {
            if (x.meeting.verdict != Verdict::stop) continue;
            all = all && x.meeting.limited_helps;
            if (!x.meeting.limited_helps) continue;
            const bool supply_line = x.plug.kind == Terminal::Kind::load ||
                                     x.plug.kind == Terminal::Kind::ground ||
                                     x.plug.kind == Terminal::Kind::source;
            if (supply_line)
                fuse = true;
            else
                most_v = std::max(most_v, x.meeting.across_v);
        }
        if (!all) continue;
        --r.stops_after;
        r.prevented.push_back(c.id);
    }
    if (r.prevented.empty()) return;
    if (most_v > 0)
        r.says = fmt::format("A resistor of {} in each signal of the plug keeps what flows under {}",
                             print_number(next_e12(most_v / bearable_a), Unit::ohm, 2),
                             print_number(bearable_a, Unit::ampere, 2));
    if (fuse)
        r.says +=
            r.says.empty() ? "A fuse in the supply ends a short" : "; a fuse in the supply ends a short";
    r.says +=
        fmt::format(": {} of {} destructive ways become survivable.", r.prevented.size(), r.stops_before);
    out.push_back(std::move(r));
}

}  // namespace

std::vector<Remedy> remedies(const Face& socket, const Face& plug_of, const FamilyLibrary& families,
                             const std::vector<WrongCase>& cases) {
    long_work("remedies");
    std::vector<Remedy> out;
    if (count_stops(cases) == 0) return out;
    try_keys(socket, plug_of, cases, out);
    try_order(socket, plug_of, families, cases, out);
    try_protection(cases, out);
    return out;
}

}  // namespace grayrelic
