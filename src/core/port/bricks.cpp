// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/port/bricks.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cmath>

#include "core/base/quantity.hpp"

namespace grayrelic {
namespace {

const Pin* pin_at(const Port& port, const Connector& c, std::size_t i) {
    return port.find_pin(c.numbering(port.numbering).numbers[i]);
}

bool says_alternating(const Pin& pin) {
    const auto& n = pin.name.value;
    for (std::size_t i = 0; i + 1 < n.size(); ++i) {
        const auto letter = [&](std::size_t k) {
            return k < n.size() && std::isalpha(static_cast<unsigned char>(n[k]));
        };
        if ((n[i] == 'A' || n[i] == 'a') && (n[i + 1] == 'C' || n[i + 1] == 'c') && !letter(i + 2) &&
            (i == 0 || !letter(i - 1) || n[i - 1] == 'V'))
            return true;
    }
    return n.find('~') != std::string::npos;
}

/// The brick's two contacts, its middle at this many volts against its sleeve.
CircuitSide brick_at(double middle_v, double amperes) {
    CircuitSide s;
    s.called = "supply";
    Terminal hot, cold;
    hot.kind = Terminal::Kind::source;
    hot.volts = std::abs(middle_v);
    hot.amperes = amperes;
    hot.name = print_number(std::abs(middle_v), Unit::volt);
    cold.kind = Terminal::Kind::ground;
    cold.name = "its other side";
    if (middle_v > 0)
        s.terminals = {hot, cold};
    else
        s.terminals = {cold, hot};
    return s;
}

CircuitSide port_of(const Port& port, const Connector& c, const FamilyLibrary& families, bool protected_) {
    CircuitSide s;
    s.called = "jack";
    s.machine = false;
    for (std::size_t i = 0; i < 2; ++i) {
        const auto* pin = pin_at(port, c, i);
        auto t = terminal(pin, c.numbering(port.numbering).numbers[i], port.side, true, families);
        if (t.kind == Terminal::Kind::source) t.kind = Terminal::Kind::load;
        if (!protected_) t.protection = {};
        s.terminals.push_back(std::move(t));
    }
    return s;
}

PluggedStudy study_at(double middle_v, double amperes, const CircuitSide& jack, double draws = 1.0) {
    PluggedCase c;
    c.socket = brick_at(middle_v, amperes);
    c.plug = jack;
    c.isolated = true;
    // It draws what the supply can give; that this may be too little is said apart.
    for (auto& t : c.plug.terminals)
        if (t.kind == Terminal::Kind::load)
            t.amperes = 0.9 * draws * std::min(amperes, t.amperes.value_or(unknown_load_a));
    c.touches = {{0, 0, false}, {1, 1, false}};
    return study_plugged(c, true);
}

void take_worse(BrickCase& into, Verdict v, const std::string& says, const std::string& path) {
    if (into.says.empty() || (worse(into.verdict, v) == v && into.verdict != v)) {
        into.verdict = v;
        into.says = says;
        into.path = path;
    }
}

void take_study(BrickCase& into, const PluggedStudy& s) {
    for (const auto& f : s.faults) take_worse(into, f.verdict, f.says, f.path);
}

/// Of its current, while little is drawn.
constexpr double idle_share = 0.05;

BrickCase tried(const SupplyBrick& b, const JackWants& wants, const CircuitSide& jack) {
    BrickCase out;
    out.brick = b;
    const double peak = std::abs(b.no_load_v);
    if (wants.alternating) {
        if (!b.alternating)
            take_worse(out, Verdict::doubt,
                       fmt::format("It is steady where the jack wants {} alternating: what is made from the "
                                   "alternation itself (a second rail, a clock) is missing.",
                                   print_number(std::abs(wants.volts), Unit::volt)),
                       {});
        if (std::abs(b.volts) > std::abs(wants.volts) * 1.12)
            take_worse(
                out, Verdict::stop,
                fmt::format("It gives {} where {} are wanted.", print_number(std::abs(b.volts), Unit::volt),
                            print_number(std::abs(wants.volts), Unit::volt)),
                {});
    } else if (b.alternating) {
        // Its peaks, drawn from as wanted and hardly at all.
        for (const double v : {peak, -peak})
            for (const double draws : {1.0, idle_share}) take_study(out, study_at(v, b.amperes, jack, draws));
    } else {
        take_study(out, study_at(b.volts, b.amperes, jack));
        if (!b.regulated && out.verdict == Verdict::holds)
            for (const auto& f : study_at(b.no_load_v, b.amperes, jack, idle_share).faults)
                if (f.kind == PathFault::Kind::wrong_voltage)
                    take_worse(
                        out, Verdict::doubt,
                        fmt::format("It is not regulated: {} stand there while little is drawn. Unless the "
                                    "jack is known to endure that.",
                                    print_number(peak, Unit::volt)),
                        f.path);
    }
    const bool right_volts = std::abs(b.volts) >= 0.9 * wants.least && std::abs(b.volts) <= 1.1 * wants.most;
    out.meant = right_volts && b.alternating == wants.alternating &&
                (b.alternating || (b.volts > 0) == (wants.volts > 0));
    // One that the protection keeps out gives nothing, so too little is no matter.
    const bool same_way = b.alternating || wants.alternating || (b.volts > 0) == (wants.volts > 0);
    if (out.verdict == Verdict::holds && same_way && wants.amperes && *wants.amperes > b.amperes * 1.001)
        take_worse(out, Verdict::doubt,
                   fmt::format("It gives {}, and {} may be wanted.", print_number(b.amperes, Unit::ampere),
                               print_number(*wants.amperes, Unit::ampere)),
                   {});
    if (out.says.empty())
        out.says =
            out.meant ? "What the jack wants." : "Nothing is harmed; whether it works is another matter.";
    return out;
}

}  // namespace

std::optional<JackWants> jack_wants(const Port& port, const Connector& c) {
    if (c.contacts.size() != 2) return std::nullopt;
    for (std::size_t i = 0; i < 2; ++i) {
        const auto* pin = pin_at(port, c, i);
        if (pin == nullptr || role_of(*pin) != PinRole::rail) continue;
        const auto v = rail_volts(*pin);
        if (!v || *v == 0) return std::nullopt;
        JackWants w;
        const bool middle_positive = (i == 0) == (*v > 0);
        w.volts = middle_positive ? std::abs(*v) : -std::abs(*v);
        w.least = w.most = std::abs(*v);
        if (pin->volts_min.value && pin->volts_max.value)
            w.least =
                std::min(std::abs(pin->volts_min.value->value()), std::abs(pin->volts_max.value->value()));
        const auto* other = pin_at(port, c, 1 - i);
        w.alternating = says_alternating(*pin) || (other != nullptr && says_alternating(*other));
        if (pin->current_max.value) w.amperes = pin->current_max.value->value();
        return w;
    }
    return std::nullopt;
}

std::vector<BrickCase> try_bricks(const Port& port, const Connector& c, const SupplyLibrary& supplies,
                                  const FamilyLibrary& families) {
    std::vector<BrickCase> out;
    const auto wants = jack_wants(port, c);
    if (!wants) return out;
    const auto bare = port_of(port, c, families, false), whole = port_of(port, c, families, true);
    for (const auto& b : supplies.supplies) {
        if (std::find(b.connectors.begin(), b.connectors.end(), c.id) == b.connectors.end()) continue;
        auto made = tried(b, *wants, whole);
        made.unprotected = tried(b, *wants, bare).verdict;
        out.push_back(std::move(made));
    }
    const auto weight = [](Verdict v) { return v == Verdict::stop ? 0 : v == Verdict::doubt ? 1 : 2; };
    std::stable_sort(out.begin(), out.end(), [&](const BrickCase& a, const BrickCase& b) {
        return std::pair(weight(a.verdict), !a.meant) < std::pair(weight(b.verdict), !b.meant);
    });
    return out;
}

}  // namespace grayrelic
