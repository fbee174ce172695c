// SPDX-License-Identifier: GPL-3.0-or-later
// The reader of rails as text.
#include <fmt/format.h>

#include <algorithm>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/electrical/rail_line.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_bytes = 64 * 1024;
constexpr long most_lines = 400;

RailSource read_source(RailLineReader& r, bool battery) {
    RailSource s;
    s.place = r.place();
    s.name = r.name("a name for the source");
    s.volts = r.number(Unit::volt, volts_span);
    s.tolerance = r.tolerance();
    if (battery) s.battery.emplace();
    while (r.more()) {
        if (r.take("limit"))
            s.limit_a = r.number(Unit::ampere, limit_span);
        else if (r.take("ri"))
            s.ohm = r.number(Unit::ohm, ohms_span);
        else if (r.take("relic"))
            s.relic = true;
        else if (r.take("rise"))
            s.rise_s = r.number(Unit::second, seconds_span);
        else if (battery && r.take("capacity")) {
            const auto text = r.next("a capacity such as 900mAh");
            if (!text.ends_with("Ah"))
                r.wrong(in_quotes(text), "a capacity such as 900mAh");
            else
                s.battery->coulomb =
                    3600 * r.checked(text.substr(0, text.size() - 1), Unit::ampere, limit_span);
        } else if (battery && r.take("empty"))
            s.battery->empty_v = r.number(Unit::volt, volts_span);
        else if (battery && r.take("full"))
            s.battery->full_v = r.number(Unit::volt, volts_span);
        else if (battery && r.take("charge"))
            s.battery->charge_a = r.number(Unit::ampere, limit_span);
        else if (battery && r.take("shutdown")) {
            const double a = r.number(Unit::ampere, limit_span);
            s.battery->shutdown_coulomb = a * r.number(Unit::second, seconds_span);
        } else
            r.unknown(battery ? "capacity, empty, full, charge, shutdown, limit, ri, rise or relic"
                              : "limit, ri, rise or relic");
    }
    if (battery && !r.fault() && s.battery->coulomb <= 0)
        r.wrong("a battery without capacity", "capacity 900mAh");
    if (battery && s.battery->empty_v && s.battery->full_v && *s.battery->empty_v >= *s.battery->full_v)
        r.wrong("empty at or above full", "volts when empty below those when full");
    return s;
}

RailSource read_harvest(RailLineReader& r) {
    auto s = read_source(r, false);
    s.harvested = true;
    if (!r.fault() && s.ohm <= 0 && !s.limit_a)
        r.wrong("a line without a resistance",
                "ri and the resistance of its driver, or limit and what it gives");
    return s;
}

RailPart read_drop(RailLineReader& r) {
    RailPart p;
    p.kind = RailPartKind::drop;
    p.place = r.place();
    p.ref = r.name("the part's name");
    r.arrow(p);
    p.volts = r.number(Unit::volt, drop_span);
    while (r.more()) {
        if (r.take("max"))
            p.most_a = r.number(Unit::ampere, limit_span);
        else if (r.take("theta"))
            p.theta = r.number(Unit::none, theta_span);
        else
            r.unknown("max or theta");
    }
    return p;
}

void read_gate(RailLineReader& r, RailGate& g) {
    g.on_v = r.number(Unit::volt, gate_span);
    if (r.take("off")) g.off_v = r.number(Unit::volt, gate_span);
    while (r.more()) {
        if (r.take("at"))
            g.rated_v = r.number(Unit::volt, volts_span);
        else if (r.take("vth")) {
            g.threshold_least = r.number(Unit::volt, volts_span);
            g.threshold_most = r.number(Unit::volt, volts_span);
            if (!r.fault() && *g.threshold_least > *g.threshold_most)
                r.wrong("a threshold's least above its most", "vth with least, then most");
        } else if (r.take("low"))
            g.low_side = true;
        else
            return;
    }
}

RailPart read_switch(RailLineReader& r) {
    RailPart p;
    p.kind = RailPartKind::switched;
    p.place = r.place();
    p.ref = r.name("the part's name");
    r.arrow(p);
    if (!r.take("ron")) r.unknown("ron and its resistance");
    p.ohm = r.number(Unit::ohm, ohms_span);
    while (r.more()) {
        if (r.take("max"))
            p.most_a = r.number(Unit::ampere, limit_span);
        else if (r.take("theta"))
            p.theta = r.number(Unit::none, theta_span);
        else if (r.take("start"))
            p.start_s = r.number(Unit::second, seconds_span);
        else if (r.take("gate"))
            read_gate(r, p.gate.emplace());
        else
            r.unknown("max, theta, start or gate");
    }
    return p;
}

RailPart read_regulator(RailLineReader& r, RailPartKind kind) {
    RailPart p;
    p.kind = kind;
    p.place = r.place();
    p.ref = r.name("the part's name");
    r.arrow(p);
    p.volts = r.number(Unit::volt, volts_span);
    p.tolerance = r.tolerance();
    while (r.more()) {
        if (r.take("dropout"))
            p.dropout_v = r.number(Unit::volt, drop_span);
        else if (r.take("iq"))
            p.own_a = r.number(Unit::ampere, amperes_span);
        else if (r.take("theta"))
            p.theta = r.number(Unit::none, theta_span);
        else if (r.take("max"))
            p.most_a = r.number(Unit::ampere, limit_span);
        else if (r.take("start"))
            p.start_s = r.number(Unit::second, seconds_span);
        else if (kind == RailPartKind::switcher && r.take("eff"))
            p.efficiency = r.share("an efficiency from 1% to 100%, such as 85%", 0.01, 1);
        else
            r.unknown(kind == RailPartKind::switcher ? "eff, max, iq, theta, dropout or start"
                                                     : "dropout, iq, theta, max or start");
    }
    if (kind == RailPartKind::switcher && !r.fault() && p.efficiency <= 0)
        r.wrong("a switcher without efficiency", "eff 85%");
    return p;
}

RailLoad read_load(RailLineReader& r) {
    constexpr auto expected = "a current, a power or a resistance: 320mA, 5W, 82Ω";
    RailLoad l;
    l.place = r.place();
    l.name = r.name("a name for the load");
    l.rail = r.name("the rail that it stands on");
    l.amount = r.amount(expected);
    while (r.more()) {
        if (r.take("in")) {
            const auto mode = r.name("a name of the mode");
            const auto amount = r.amount(expected);
            if (!r.fault() && !l.in_mode.emplace(mode, amount).second)
                r.wrong("mode " + in_quotes(mode) + " a second time", "each mode once");
        } else if (r.take("works"))
            l.works_v = r.number(Unit::volt, volts_span);
        else if (r.take("dies"))
            l.dies_v = r.number(Unit::volt, volts_span);
        else if (r.take("reset"))
            l.reset_v = r.number(Unit::volt, volts_span);
        else
            r.unknown("in MODE and its figure, works, dies or reset");
    }
    return l;
}

RailCapacitor read_capacitor(RailLineReader& r) {
    RailCapacitor c;
    c.place = r.place();
    c.ref = r.name("the capacitor's name");
    c.rail = r.name("the rail that it stands on");
    c.farad = r.number(Unit::farad, farad_span);
    while (r.more()) {
        if (r.take("esr"))
            c.ohm = r.number(Unit::ohm, ohms_span);
        else
            r.unknown("esr");
    }
    return c;
}

RailLine read_signal_line(RailLineReader& r) {
    RailLine l;
    l.place = r.place();
    l.name = r.name("the line's name");
    RailPart way;
    r.arrow(way);
    l.from = way.from;
    l.to = way.to;
    l.ohm = r.number(Unit::ohm, load_ohms_span);
    while (r.more()) {
        if (r.take("clamp"))
            l.clamp_v = r.number(Unit::volt, drop_span);
        else if (r.take("low"))
            l.low_most_v = r.number(Unit::volt, drop_span);
        else if (r.take("needs"))
            l.needs_low_v = r.number(Unit::volt, drop_span);
        else
            r.unknown("clamp, low or needs");
    }
    return l;
}

RailMode read_mode(RailLineReader& r) {
    RailMode m;
    m.place = r.place();
    m.name = r.name("a name for the mode");
    if (!r.take("off")) r.unknown("off and the sources and switches that are off");
    while (r.more()) m.off.push_back(r.name("a source or a switch"));
    return m;
}

RailOrder read_order(RailLineReader& r) {
    RailOrder o;
    o.place = r.place();
    o.first = r.name("the rail that comes first");
    o.then = r.name("the rail that comes after it");
    return o;
}

void read_line(RailLineReader& r, RailTree& tree) {
    const auto keep = [&](auto& list, auto thing) {
        if (!r.fault() && r.more()) r.unknown("the end of the line");
        if (!r.fault()) list.push_back(std::move(thing));
    };
    if (r.take("source")) return keep(tree.sources, read_source(r, false));
    if (r.take("battery")) return keep(tree.sources, read_source(r, true));
    if (r.take("harvest")) return keep(tree.sources, read_harvest(r));
    if (r.take("drop")) return keep(tree.parts, read_drop(r));
    if (r.take("switch")) return keep(tree.parts, read_switch(r));
    if (r.take("linear")) return keep(tree.parts, read_regulator(r, RailPartKind::linear));
    if (r.take("switcher")) return keep(tree.parts, read_regulator(r, RailPartKind::switcher));
    if (r.take("load")) return keep(tree.loads, read_load(r));
    if (r.take("capacitor")) return keep(tree.capacitors, read_capacitor(r));
    if (r.take("line")) return keep(tree.lines, read_signal_line(r));
    if (r.take("mode")) return keep(tree.modes, read_mode(r));
    if (r.take("before")) return keep(tree.orders, read_order(r));
    r.unknown(
        "source, battery, harvest, drop, switch, linear, switcher, load, capacitor, line, mode or before");
}

}  // namespace

RailText read_rails(std::string_view text) {
    RailText out;
    if (text.size() > most_bytes) {
        out.faults.push_back(
            {1, fmt::format("a text of {} bytes", print_count(static_cast<long long>(text.size()))),
             "rails of at most 64 KiB"});
        return out;
    }
    if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
    long line = 0;
    for (const auto row : split(text, '\n')) {
        if (++line > most_lines) {
            out.faults.push_back({line, "more than 400 lines", "rails of at most 400 lines"});
            break;
        }
        auto words = rail_words(std::string(row));
        if (words.empty()) continue;
        RailLineReader reader(line, std::move(words));
        read_line(reader, out.tree);
        if (reader.fault()) out.faults.push_back(*reader.fault());
    }
    return out;
}

Result<RailTree> rails_from_text(std::string_view text, const std::string& file) {
    auto read = read_rails(text);
    auto faults = std::move(read.faults);
    // A line that was left out makes others look wrong that are not.
    if (faults.empty()) faults = faults_of(read.tree);
    if (faults.empty()) {
        if (read.tree.sources.empty())
            return fail_at(file, 1, "no source", "a line such as: source USB 5V ±5% limit 500mA");
        return std::move(read.tree);
    }
    const auto first = std::min_element(faults.begin(), faults.end(),
                                        [](const auto& a, const auto& b) { return a.line < b.line; });
    return fail_at(file, first->line, first->found, first->expected);
}

std::string print_amount(const RailAmount& a) {
    switch (a.kind) {
        case RailAmount::Kind::watts: return print_number(a.value, Unit::watt);
        case RailAmount::Kind::ohms: return print_number(a.value, Unit::ohm);
        case RailAmount::Kind::amperes: break;
    }
    return print_number(a.value, Unit::ampere);
}

std::string_view word(RailPartKind kind) {
    switch (kind) {
        case RailPartKind::drop: return "drop";
        case RailPartKind::switched: return "switch";
        case RailPartKind::linear: return "linear";
        case RailPartKind::switcher: return "switcher";
    }
    return "drop";
}

}  // namespace grayrelic
