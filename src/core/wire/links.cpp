// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wire/links.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>
#include <queue>

#include "core/base/text.hpp"
#include "core/electrical/nodal.hpp"
#include "core/wire/line_solver.hpp"
#include "core/wire/pairs.hpp"

namespace grayrelic {
namespace {

bool is_rail(const Circuit& c, int net) {
    return c.nets[static_cast<std::size_t>(net)].supply.has_value() ||
           c.network.nets[static_cast<std::size_t>(net)].held.has_value();
}

/// Lines: unions of nets over all that conducts, supplies left out.
std::vector<int> group_nets(const Circuit& c) {
    std::vector<int> root(c.nets.size());
    std::iota(root.begin(), root.end(), 0);
    const auto find = [&](int n) {
        while (root[static_cast<std::size_t>(n)] != n)
            n = root[static_cast<std::size_t>(n)] =
                root[static_cast<std::size_t>(root[static_cast<std::size_t>(n)])];
        return n;
    };
    for (const auto& e : c.edges)
        if (e.kind != CircuitEdge::Kind::drop && !is_rail(c, e.a) && !is_rail(c, e.b))
            root[static_cast<std::size_t>(find(e.a))] = find(e.b);
    for (std::size_t n = 0; n < root.size(); ++n) root[n] = find(static_cast<int>(n));
    return root;
}

std::string name_of_line(const Circuit& c, const std::vector<int>& nets) {
    for (const int n : nets)
        for (const auto i : c.nets[static_cast<std::size_t>(n)].contacts)
            if (!c.contacts[i].pin.name.value.empty()) return c.contacts[i].pin.name.value;
    return c.nets[static_cast<std::size_t>(nets.front())].name;
}

void count_capacitance(const Circuit& c, WireLine& line) {
    for (const auto r : line.receivers) {
        const auto* f = c.receivers[r].family;
        line.farad += f != nullptr ? f->input_farad : unknown_family().input_farad;
    }
    line.farad += driver_farad * static_cast<double>(line.drivers.size());
    for (const int n : line.nets)
        if (!c.nets[static_cast<std::size_t>(n)].contacts.empty()) line.farad += lead_farad;
}

std::string names(const Circuit& c, const std::vector<NetEnd>& ends, const std::vector<std::size_t>& which) {
    std::string out;
    for (std::size_t i = 0; i < which.size(); ++i)
        out += (i == 0 ? "" : i + 1 == which.size() ? " and " : ", ") + c.name_of(ends[which[i]]);
    return out;
}

void add_fault(WireLine& line, LineFault kind, Verdict v, std::string says, std::string why,
               std::string todo) {
    line.faults.push_back({kind, v, std::move(says), std::move(why), std::move(todo)});
    line.verdict = worse(line.verdict, v);
}

/// A module's pin is an input where something else drives, an output where nothing does.
void settle_modules(const Circuit& c, WireLine& line) {
    const bool others = std::any_of(line.drivers.begin(), line.drivers.end(),
                                    [&](auto d) { return c.drivers[d].style != DriveStyle::firmware; });
    if (others) {
        std::erase_if(line.drivers, [&](auto d) { return c.drivers[d].style == DriveStyle::firmware; });
        return;
    }
    // Of several module pins on one line the firmware decides: each may read the other.
    if (line.drivers.size() != 1) return;
    const auto& own = c.drivers[line.drivers.front()];
    std::erase_if(line.receivers, [&](auto r) {
        return c.receivers[r].part == own.part && c.receivers[r].pin == own.pin && own.part.has_value();
    });
}

struct Drive {
    std::vector<std::size_t> firm, resting, collectors, firmware;
};

Drive drive_of(const Circuit& c, const WireLine& line) {
    Drive out;
    for (const auto d : line.drivers) switch (c.drivers[d].style) {
            case DriveStyle::firm: out.firm.push_back(d); break;
            case DriveStyle::may_rest: out.resting.push_back(d); break;
            case DriveStyle::pulls_low: out.collectors.push_back(d); break;
            case DriveStyle::firmware: out.firmware.push_back(d); break;
        }
    return out;
}

/// Two that drive at once, with less than this between them, harm each other.
constexpr double fight_ohm = 220;

void judge_contention(const LineSolver& solver, const Circuit& c, const Drive& d, WireLine& line) {
    const auto apart = [&](std::size_t a, std::size_t b) {
        return solver.ohm_between(c.drivers[a].net, c.drivers[b].net).value_or(1e12);
    };
    for (std::size_t i = 0; i < d.firm.size(); ++i)
        for (std::size_t j = i + 1; j < d.firm.size(); ++j) {
            const double r = apart(d.firm[i], d.firm[j]);
            if (r > 1e4) continue;
            add_fault(line, LineFault::contention, r < fight_ohm ? Verdict::stop : Verdict::doubt,
                      fmt::format("{} and {} drive {} against each other", c.name_of(c.drivers[d.firm[i]]),
                                  c.name_of(c.drivers[d.firm[j]]), line.name),
                      fmt::format("Both drive both levels, always, with {} between them.",
                                  print_number(r, Unit::ohm)),
                      "Let one of them go: a three-state or open-collector output, or another net.");
        }
    std::vector<std::size_t> both = d.resting;
    both.insert(both.end(), d.firmware.begin(), d.firmware.end());
    // What an open collector may short: whatever drives high on the same line.
    auto strong = d.firm;
    strong.insert(strong.end(), d.resting.begin(), d.resting.end());
    for (const auto collector : d.collectors)
        for (const auto f : strong)
            if (apart(collector, f) < fight_ohm)
                add_fault(line, LineFault::contention,
                          c.drivers[f].style == DriveStyle::firm ? Verdict::stop : Verdict::doubt,
                          fmt::format("{} drives {} high while {} pulls it low", c.name_of(c.drivers[f]),
                                      line.name, c.name_of(c.drivers[collector])),
                          "An open-collector line may only be pulled low.",
                          fmt::format("Make {} open-collector too, or take it off the line.",
                                      c.name_of(c.drivers[f])));
    for (const auto m : both)
        for (const auto f : d.firm)
            if (apart(m, f) < fight_ohm && c.drivers[m].style != DriveStyle::firmware)
                add_fault(
                    line, LineFault::may_contend, Verdict::doubt,
                    fmt::format("{} may drive {} against {}", c.name_of(c.drivers[m]), line.name,
                                c.name_of(c.drivers[f])),
                    "It lets go only while its enable says so; what the enable is then is not known here.",
                    "Tie its enable off, or put 330 Ω between them.");
}

void judge_floating(const LineSolver& solver, const Circuit& c, const Drive& d, WireLine& line) {
    if (line.receivers.empty()) {
        return;
    }
    const bool pulled = std::any_of(line.receivers.begin(), line.receivers.end(),
                                    [&](auto r) { return solver.pull_ohm(c.receivers[r].net).has_value(); });
    const auto readers = names(c, c.receivers, line.receivers);
    if (line.drivers.empty()) {
        const bool inside = std::any_of(line.receivers.begin(), line.receivers.end(),
                                        [&](auto r) { return c.receivers[r].part.has_value(); });
        // What only the relic reads has mostly a pull of its own there; nothing of the bridge is harmed.
        if (!pulled)
            add_fault(line, LineFault::floats, inside ? Verdict::stop : Verdict::doubt,
                      fmt::format("Nobody drives {}", line.name),
                      fmt::format("{} {} it, and nothing drives or pulls it.", readers,
                                  line.receivers.size() == 1 ? "reads" : "read"),
                      "Tie it to a level, or pull it up or down.");
        return;
    }
    if (pulled || !d.firm.empty()) return;
    if (!d.collectors.empty()) {
        const bool others = !d.resting.empty() || !d.firmware.empty();
        if (!others)
            add_fault(line, LineFault::no_pull, Verdict::stop,
                      fmt::format("Nothing pulls {} high", line.name),
                      fmt::format("{} only pulls low.", names(c, c.drivers, d.collectors)),
                      "Pull it up at the side that reads it.");
        return;
    }
    if (!d.resting.empty())
        add_fault(line, LineFault::floats, Verdict::doubt,
                  fmt::format("{} floats while its drivers rest", line.name),
                  fmt::format("{} may let go, and nothing pulls.", names(c, c.drivers, d.resting)),
                  "Pull it to its resting level: 10 kΩ.");
    else
        // What nobody but the bridge itself hears harms nothing in these moments.
        add_fault(line, LineFault::floats_at_boot,
                  std::any_of(line.receivers.begin(), line.receivers.end(),
                              [&](auto r) { return c.receivers[r].contact.has_value(); })
                      ? Verdict::doubt
                      : Verdict::holds,
                  fmt::format("{} floats until the firmware runs", line.name),
                  fmt::format("{} {} at reset; {} {} whatever comes.", names(c, c.drivers, d.firmware),
                              d.firmware.size() == 1 ? "is an input" : "are inputs", readers,
                              line.receivers.size() == 1 ? "reads" : "read"),
                  "Pull it to its resting level: 10 kΩ.");
}

}  // namespace

const WireLine* LinkStudy::line_of(int net) const {
    const auto at = line_by_net[static_cast<std::size_t>(net)];
    return at < 0 ? nullptr : &lines[static_cast<std::size_t>(at)];
}

LinkStudy judge_links(const Circuit& c) {
    LinkStudy out;
    out.line_by_net.assign(c.nets.size(), -1);
    const auto root = group_nets(c);
    for (std::size_t n = 0; n < c.nets.size(); ++n) {
        if (is_rail(c, static_cast<int>(n))) continue;
        auto& at = out.line_by_net[static_cast<std::size_t>(root[n])];
        if (at < 0) {
            at = static_cast<int>(out.lines.size());
            out.lines.emplace_back();
        }
        const int line = at;
        out.line_by_net[n] = line;
        out.lines[static_cast<std::size_t>(line)].nets.push_back(static_cast<int>(n));
    }
    const auto line_at = [&](int net) -> WireLine* {
        const int at = out.line_by_net[static_cast<std::size_t>(net)];
        return at < 0 ? nullptr : &out.lines[static_cast<std::size_t>(at)];
    };
    for (std::size_t i = 0; i < c.drivers.size(); ++i)
        if (auto* l = line_at(c.drivers[i].net)) l->drivers.push_back(i);
    for (std::size_t i = 0; i < c.receivers.size(); ++i)
        if (auto* l = line_at(c.receivers[i].net)) l->receivers.push_back(i);
    for (auto& line : out.lines) {
        settle_modules(c, line);
        line.name = name_of_line(c, line.nets);
        count_capacitance(c, line);
        if (line.nets.size() > most_line_nets ||
            line.drivers.size() * line.receivers.size() > most_line_links) {
            add_fault(line, LineFault::too_large, Verdict::unknown,
                      fmt::format("{} is too large to be judged", line.name),
                      fmt::format("{} nets, {} drivers and {} readers hang together; at most {} nets and {} "
                                  "links are judged.",
                                  line.nets.size(), line.drivers.size(), line.receivers.size(),
                                  most_line_nets, most_line_links),
                      "Look whether a net was joined by mistake.");
            continue;
        }
        const LineSolver solver(c, line);
        for (const auto d : line.drivers)
            for (const auto r : line.receivers)
                if (auto link = solver.judge(d, r)) {
                    line.verdict = worse(line.verdict, link->levels.verdict);
                    line.links.push_back(out.links.size());
                    out.links.push_back(std::move(*link));
                }
        const auto drive = drive_of(c, line);
        judge_contention(solver, c, drive, line);
        judge_floating(solver, c, drive, line);
    }
    judge_pairs(c, out);
    return out;
}

}  // namespace grayrelic
