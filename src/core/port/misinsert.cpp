// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/port/misinsert.hpp"

#include "core/base/long_work.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace grayrelic {
namespace {

constexpr std::size_t most_cases = 40;

int weight(Verdict v) {
    return v == Verdict::stop ? 0 : v == Verdict::doubt ? 1 : v == Verdict::unknown ? 2 : 3;
}

bool is_round(const Connector& c) {
    return std::any_of(c.outlines.begin(), c.outlines.end(), [](const Outline& o) {
        return o.role == Outline::Role::shell && o.form == Outline::Form::circle;
    });
}

bool is_same_port(const Face& a, const Face& b) {
    return a.pins == b.pins && a.connector->id == b.connector->id;
}

struct Builder {
    const Face& socket;
    const Face& plug;
    const FamilyLibrary& families;
    bool quick = false;
    std::vector<WrongCase> out;

    Motion base;  ///< how the plug's face lies when it is in straight

    /// Rows of one pitch meet at contact 1, whatever their length; round shells meet at their middle.
    void align() {
        const auto& s = *socket.connector;
        const auto& p = *plug.connector;
        const bool rows =
            s.column_pitch_mm() > 0 && std::abs(s.column_pitch_mm() - p.column_pitch_mm()) < 0.05;
        if (is_same_port(socket, plug) || is_round(s) || !rows) return;
        base.dx_mm = s.contacts.front().x_mm - p.contacts.front().x_mm;
        base.dy_mm = s.contacts.front().y_mm - p.contacts.front().y_mm;
    }

    [[nodiscard]] Motion with_base(Motion m) const {
        // Turned about the middle of where it sits.
        m.dx_mm += base.dx_mm;
        m.dy_mm += base.dy_mm;
        return m;
    }

    void add(std::string id, std::string says, Motion motion, Possible possible, std::string why) {
        if (out.size() >= most_cases) return;
        WrongCase c;
        c.id = std::move(id);
        c.says = std::move(says);
        c.motion = with_base(motion);
        c.possible = possible;
        c.why_possible = std::move(why);
        c.landing = land(*plug.connector, *socket.connector, c.motion);
        keep(std::move(c));
    }

    void keep(WrongCase c) {
        c.landed = grayrelic::landed(c.landing);
        if (c.landed == 0) return;
        judge(c);
        out.push_back(std::move(c));
    }

    /// A shaft goes in along itself: on the way each contact passes those in front of its own.
    void part_of_the_way() {
        if (socket.connector->possible(WrongWay::shifted) == Possible::prevented) return;
        const auto n = plug.connector->contacts.size(), m = socket.connector->contacts.size();
        WrongCase c;
        c.id = "shifted-up";
        c.says = "Only part of the way in";
        c.possible = socket.connector->possible(WrongWay::shifted);
        c.why_possible = why(WrongWay::shifted);
        c.landing.resize(n);
        for (std::size_t i = 0; i + 1 < m && i < n; ++i) c.landing[i] = i + 1;
        keep(std::move(c));
    }

    void judge(WrongCase& c) const {
        const bool own = is_same_port(socket, plug);
        for (std::size_t i = 0; i < c.landing.size(); ++i)
            if (c.landing[i]) c.touches.push_back({*c.landing[i], i, own && i == *c.landing[i]});
        const auto study = study_case(c, socket, plug, families, {}, quick);
        c.verdict = study.verdict;
        c.faults = study.faults;
        c.ground_missing = study.ground_missing;
        const auto sides = circuits_of(c, socket, plug, families);
        for (std::size_t n = 0; n < c.touches.size(); ++n) {
            const auto& t = c.touches[n];
            Collision x{t.plug,
                        t.socket,
                        sides.plug.terminals[t.plug],
                        sides.socket.terminals[t.socket],
                        Verdict::holds,
                        {},
                        study.touch_a[n]};
            if (t.meant || (x.socket.kind == Terminal::Kind::open && x.plug.kind == Terminal::Kind::open) ||
                (x.plug.pin == nullptr && x.socket.pin == nullptr))
                continue;
            for (const auto& f : study.faults)
                if (std::find(f.touches.begin(), f.touches.end(), n) != f.touches.end() &&
                    (x.why.empty() || (worse(x.verdict, f.verdict) == f.verdict && x.verdict != f.verdict))) {
                    x.verdict = f.verdict;
                    x.why = f.says;
                }
            if (x.why.empty())
                x.why = x.amps > harmless_a ? fmt::format("About {} flow, which both endure.",
                                                          print_number(x.amps, Unit::ampere, 2))
                                            : "Nothing to speak of flows.";
            c.collisions.push_back(std::move(x));
        }
        std::stable_sort(c.collisions.begin(), c.collisions.end(),
                         [](const auto& x, const auto& y) { return weight(x.verdict) < weight(y.verdict); });
    }

    [[nodiscard]] std::string why(WrongWay w) const {
        for (const auto& x : socket.connector->ways)
            if (x.way == w) return x.why;
        return {};
    }

    void turned_and_mirrored() {
        const auto& c = *socket.connector;
        if (c.coaxial()) return;  // round: every contact meets its own
        const auto add_if = [&](WrongWay w, std::string says, Motion m, std::string reason) {
            // A motion that leaves most contacts on nothing is not a way to go in.
            const auto landing = land(*plug.connector, c, with_base(m));
            if (grayrelic::landed(landing) * 3 < landing.size()) return;
            // One that changes nothing is no case.
            bool changes = !is_same_port(socket, plug);
            for (std::size_t i = 0; i < landing.size(); ++i)
                changes = changes || landing[i] != std::optional(i);
            if (changes) add(std::string(word(w)), std::move(says), m, c.possible(w), std::move(reason));
        };
        add_if(WrongWay::reversed, "Turned by half", {true, true, 0, 0}, why(WrongWay::reversed));
        add_if(WrongWay::mirrored, "Mirrored left to right", {true, false, 0, 0},
               c.possible(WrongWay::mirrored) == Possible::by_hand
                   ? "by wiring it to the face seen from the wrong side"
                   : why(WrongWay::mirrored));
        if (c.row_pitch_mm() > 0)
            add_if(
                WrongWay::rows_swapped, "Rows exchanged", {false, true, 0, 0},
                "by fitting it to the other side of the board, or crimping the ribbon from the other side");
    }

    void shifts(int most_steps) {
        const auto& c = *socket.connector;
        const double dx = c.column_pitch_mm(), dy = c.row_pitch_mm();
        const auto can = c.possible(WrongWay::shifted);
        if (c.coaxial()) return part_of_the_way();
        if (is_round(c) && can == Possible::prevented) return;  // a round shell has no beside
        for (const auto& w : c.ways)
            if (w.way == WrongWay::shifted && w.only_smaller &&
                plug.connector->contacts.size() >= c.contacts.size())
                return;
        const bool card = c.id.starts_with("edge-");  // its rows are the two faces of one board
        const auto reason = why(WrongWay::shifted);
        for (int n = 1; n <= most_steps; ++n) {
            const auto steps = n == 1 ? std::string() : fmt::format("-by-{}", n);
            const auto columns = n == 1 ? std::string("one column") : fmt::format("{} columns", n);
            if (dx > 0) {
                add("shifted-left" + steps, fmt::format("Off by {} to the left", columns),
                    {false, false, -dx * n, 0}, can, reason);
                add("shifted-right" + steps, fmt::format("Off by {} to the right", columns),
                    {false, false, dx * n, 0}, can, reason);
            }
            if (dy > 0 && n == 1 && !card) {
                add("shifted-up", "Off by one row upwards", {false, false, 0, dy}, can, reason);
                add("shifted-down", "Off by one row downwards", {false, false, 0, -dy}, can, reason);
            }
        }
    }
};

}  // namespace

const std::string& Face::number_at(std::size_t contact) const {
    return connector->numbering(numbering).numbers[contact];
}

const Pin* Face::pin_at(std::size_t contact) const {
    const auto& number = number_at(contact);
    for (const auto& p : *pins)
        if (p.number == number) return &p;
    return nullptr;
}

bool can_happen(const WrongCase& c) {
    return c.possible != Possible::prevented;
}

long count_stops(const std::vector<WrongCase>& cases) {
    return std::count_if(cases.begin(), cases.end(),
                         [](const auto& c) { return can_happen(c) && c.verdict == Verdict::stop; });
}

std::vector<WrongCase> wrong_cases(const Face& socket, const Face& plug_of, const FamilyLibrary& families,
                                   bool quick) {
    long_work("wrong_cases");
    constexpr std::size_t most_thorough = 30;  // contacts; beyond, one output at a time takes too long
    Builder b{socket, plug_of, families, quick || plug_of.connector->contacts.size() > most_thorough, {}, {}};
    b.align();
    const bool own = is_same_port(socket, plug_of);
    const bool same_shape = socket.connector->shape == plug_of.connector->shape;
    const bool goes = goes_into(*plug_of.connector, *socket.connector);
    if (!own)
        b.add("wrong-port", "In the other port", {}, goes ? Possible::easy : Possible::forced,
              same_shape ? "the two have the same shape"
              : goes     ? "the plug goes into this one too"
                         : "their contacts meet, their shells differ");
    b.turned_and_mirrored();
    // A supply is judged further off than a pin: a plug pushed on at an end of a longer row.
    const auto difference = socket.connector->contacts.size() > plug_of.connector->contacts.size()
                                ? socket.connector->contacts.size() - plug_of.connector->contacts.size()
                                : 0;
    b.shifts(difference > 0 ? static_cast<int>(std::min<std::size_t>(difference, 4)) : 1);
    std::stable_sort(b.out.begin(), b.out.end(), [](const WrongCase& x, const WrongCase& y) {
        return std::pair(can_happen(x) ? 0 : 1, weight(x.verdict)) <
               std::pair(can_happen(y) ? 0 : 1, weight(y.verdict));
    });
    return b.out;
}

}  // namespace grayrelic
