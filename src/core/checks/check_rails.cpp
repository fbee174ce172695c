// SPDX-License-Identifier: GPL-3.0-or-later
// Rails that are too low, too high or overloaded, what feeds back, what plugging in and switching does.
#include <fmt/format.h>

#include <map>
#include <set>

#include "core/base/text.hpp"
#include "core/checks/registry.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {
namespace {

class RailFindings {
  public:
    RailFindings(const RailStudy& s, Findings& out) : s_(s), out_(out) {}
    void add_all();

  private:
    void add(const char* id, Verdict v, const std::string& subject, std::string says, std::string why,
             std::string todo, const std::string& place) {
        if (v != Verdict::stop && v != Verdict::doubt) return;
        out_.push_back({id,
                        v == Verdict::stop ? Severity::stop : Severity::doubt,
                        Stage::wire,
                        subject,
                        std::move(says),
                        std::move(why),
                        std::move(todo),
                        {"rail", place}});
    }
    void add_mode(const RailModeFigures& m);
    void add_back_feed();
    void add_events();
    void add_switched();
    [[nodiscard]] std::string fix_of(const std::string& ref) const;

    const RailStudy& s_;
    Findings& out_;
    std::set<std::string> said_;
};

std::string when(const RailModeFigures& m) {
    return m.mode.empty()               ? std::string()
           : m.mode.ends_with(" alone") ? m.mode + ": "
                                        : "In " + m.mode + ": ";
}

std::string RailFindings::fix_of(const std::string& ref) const {
    const auto* p = s_.tree.find_part(ref);
    if (p == nullptr) return {};
    if (p->kind == RailPartKind::linear && p->dropout_v && p->most_a)
        return "Feed it higher, take one of less dropout, or a switching one: Compare shows both.";
    if (p->kind == RailPartKind::linear || p->kind == RailPartKind::switcher)
        return "Write what its sheet says behind it, under Rails.";
    return "Take one for more current, or split the load.";
}

/// The same thing is said once, for the first mode in which it is so.
void RailFindings::add_mode(const RailModeFigures& m) {
    const auto first = [&](const std::string& what, Verdict v) {
        return said_.insert(what + (v == Verdict::stop ? " stop" : " doubt")).second;
    };
    if (!m.settled && first("unsettled", Verdict::stop)) {
        add("rail-fails", Verdict::stop, "rails", when(m) + "the rails break down",
            "The loads take more power than the way to them can give.",
            "Lower the resistance of the way, raise the supply, or lower the load.",
            "rail " + m.rails.front().name);
        return;
    }
    for (const auto& r : m.rails)
        if (r.verdict != Verdict::holds && first("rail " + r.name, r.verdict))
            add("rail-fails", r.verdict, "rail " + r.name,
                fmt::format("{}{} is {}", when(m), r.name,
                            r.verdict == Verdict::stop ? "overloaded" : "near its limit"),
                r.why, "Take less from it, or feed it from a source that gives more.", "rail " + r.name);
    for (const auto& p : m.parts)
        if (p.verdict != Verdict::holds && first("part " + p.ref, p.verdict))
            add("rail-fails", p.verdict, "part " + p.ref,
                fmt::format("{}{} {}", when(m), p.ref,
                            p.verdict == Verdict::stop ? "does not hold" : "is in doubt"),
                p.why, fix_of(p.ref), "part " + p.ref);
    for (const auto& l : m.loads)
        if (l.verdict != Verdict::holds && first("load " + l.name, l.verdict))
            add("rail-fails", l.verdict, "load " + l.name,
                fmt::format("{}{} gets the wrong volts", when(m), l.name), l.why, "Change what feeds it.",
                "rail " + l.rail);
}

void RailFindings::add_back_feed() {
    struct Way {
        const BackFeed* worst = nullptr;
        std::vector<std::string> when;
    };
    std::map<std::string, Way> ways;
    std::vector<std::string> order;
    for (const auto& b : s_.back_feed) {
        const auto key = b.from + "\n" + b.to + "\n" + b.through;
        auto& w = ways[key];
        if (w.worst == nullptr) order.push_back(key);
        if (w.worst == nullptr || (b.verdict == Verdict::stop && w.worst->verdict != Verdict::stop))
            w.worst = &b;
        w.when.push_back(b.when);
    }
    for (const auto& key : order) {
        const auto& w = ways[key];
        const auto& b = *w.worst;
        add("back-feed", b.verdict, "rail " + b.to, fmt::format("{} can feed {}", b.from, b.to),
            fmt::format("{}: {}{}", w.when.front(), b.why,
                        w.when.size() > 1 ? fmt::format(" So with {} of the plugs.",
                                                        plural(static_cast<long long>(w.when.size()),
                                                               "combination", "combinations"))
                                          : std::string()),
            b.todo, "rail " + b.to);
    }
}

void RailFindings::add_events() {
    for (const auto& i : s_.inrush)
        add("inrush", i.verdict, "rail " + i.rail, fmt::format("Plugging in charges {} hard", i.rail), i.why,
            "Let it rise slowly, or charge through a resistor.", "rail " + i.rail);
    for (const auto& o : s_.orders)
        add("rails-order", o.verdict, "rail " + o.first,
            fmt::format("{} should be up before {}", o.first, o.then), o.why,
            "Let the later one wait: feed it from the first, or by its enable pin.", "rail " + o.first);
    for (const auto& b : s_.batteries)
        add("battery", b.verdict, "rail " + b.source,
            fmt::format(
                "{}: {}", b.source,
                b.verdict == Verdict::stop ? "the battery does not do" : "the battery's end is not known"),
            b.why, "Enter what is missing behind it, under Rails.", "rail " + b.source);
    for (const auto& h : s_.harvests)
        add("harvest", h.verdict, "rail " + h.rail, fmt::format("{} lives on signal lines", h.rail), h.why,
            "Lower its load, or give it a supply of its own.", "rail " + h.rail);
}

void RailFindings::add_switched() {
    for (const auto& w : s_.switched) {
        const auto subject = "part " + w.ref;
        add("load-switched", w.conducts, subject, fmt::format("{} may not conduct", w.ref), w.conducts_why,
            "Hold its gate's volts against its sheet.", subject);
        add("load-switched", w.opens, subject, fmt::format("{} does not open surely", w.ref), w.opens_why,
            "Drive its gate to its source's own volts.", subject);
        add("load-switched", w.lift, subject, fmt::format("{} lifts the ground of {}", w.ref, w.rail),
            w.lift_why, "Switch the supply's side instead.", subject);
        add("load-switched", w.resets, subject, fmt::format("{} may not reset while it is off", w.rail),
            w.resets_why, "Let its lines go low or open first.", "rail " + w.rail);
    }
}

void RailFindings::add_all() {
    constexpr std::size_t most_said = 10;
    for (const auto& f : s_.faults) {
        if (out_.size() >= most_said) return;
        out_.push_back({"rails-broken",
                        Severity::stop,
                        Stage::wire,
                        f.line > 0 ? fmt::format("line {}", f.line) : std::string("rails"),
                        fmt::format("Found {}.", f.found),
                        f.line > 0 ? fmt::format("Line {} of the rails.", f.line) : std::string(),
                        fmt::format("Expected {}.", f.expected),
                        {"rail", fmt::format("line {}", f.line)}});
    }
    for (const auto& m : s_.modes) add_mode(m);
    for (const auto& m : s_.alone) add_mode(m);
    add_back_feed();
    add_events();
    add_switched();
}

}  // namespace

void check_rails(const Analysis& a, Findings& out) {
    if (a.wire) RailFindings(a.wire->rails, out).add_all();
}

}  // namespace grayrelic
