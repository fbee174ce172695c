// SPDX-License-Identifier: GPL-3.0-or-later
// Timing in the report: the contract and its breaches, the options with every number, networks, clocks,
// budgets and replicas.
#include <fmt/format.h>

#include <cmath>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/report/contract_figure.hpp"
#include "core/report/histogram_figure.hpp"
#include "core/report/html.hpp"
#include "core/report/network_figure.hpp"
#include "core/report/report_sections.hpp"
#include "core/report/worst_figure.hpp"
#include "core/timing/reply_option.hpp"
#include "core/timing/timing_analysis.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {
namespace {

using namespace html;

std::string edge_text(const std::string& edge) {
    const auto parsed = parse_edge(edge);
    return parsed ? show_edge(*parsed) : edge;
}

void write_contract(const Analysis& a, std::string& out) {
    Table t({{"Interval"},
             {"From, to"},
             {"Least", true},
             {"Typical", true},
             {"Most", true},
             {"A replica must keep"},
             {"Evidence"}});
    for (const auto& f : a.timing->contract)
        t.row({"<b>" + e(f->interval.name) + "</b>",
               e(edge_text(f->interval.from) + " → " + edge_text(f->interval.to)), time(f->min), time(f->typ),
               time(f->max), e(show_limits(limits_of(*f))),
               f->problem.empty() ? evidence(f->evidence) : e(f->problem)});
    out += t.html();
    for (const auto& f : a.timing->contract) {
        if (f->interval.kind != IntervalKind::response || f->lengths.empty() || f->n < 2) continue;
        out += h3(f->interval.name);
        out += paragraph(evidence(f->evidence), true);
        out += histogram_figure(f->interval.name, f->lengths, std::nullopt, Driver::bridge,
                                f->sampling.seconds());
    }
}

void write_breaches(const Analysis& a, std::string& out) {
    Table t({{"Capture"}, {"Interval"}, {"Signal"}, {"How often", true}, {"First", true}, {"Longest", true}});
    for (const auto& in : a.timing->breaches) {
        const auto* ref = a.dossier.find_capture(in->capture);
        for (const auto& f : a.timing->contract) {
            long n = 0;
            const ContractBreach* first = nullptr;
            Time longest;
            for (const auto& b : in->breaches) {
                if (b.interval != f->interval.id) continue;
                if (n++ == 0) first = &b;
                longest = std::max(longest, b.where.length());
            }
            if (first != nullptr)
                t.row({e(ref == nullptr ? in->capture : ref->title), e(f->interval.name), e(first->signal),
                       print_count(n), e(print(first->where.from)), e(print(longest))});
        }
    }
    out += t.html();
}

void write_question(const Analysis& a, std::string& out) {
    const auto& q = a.dossier.timing->reply;
    if (const auto look = parse_look(q.look.value); look && a.timing->tasks)
        out += paragraph(fmt::format("The host looks {} after {}. {}", e(show_look(*look)), e(q.trigger),
                                     evidence(q.look.evidence)));
    else
        out += paragraph(e(a.timing->question_problem));
    if (q.guard.value > Time{})
        out += paragraph("The reply must stand " + e(print(q.guard.value)) + " before it. " +
                         evidence(q.guard.evidence));
}

/// Every number that the option rests on.
void option_numbers(const Analysis& a, const BuildOption& o, std::string& out) {
    Table t({{"Number"}, {"Value", true}, {"Evidence"}});
    for (const auto& spec : parameters_of(o.kind)) {
        for (const auto& p : o.parameters)
            if (p.key == spec.key)
                t.row({e(spec.label), e(print(p.value.value)), evidence(p.value.evidence)});
        for (const auto& n : o.numbers)
            if (n.key == spec.key)
                t.row({e(spec.label), e(print_number(n.value.value, spec.unit)), evidence(n.value.evidence)});
    }
    if (!o.measured.from.empty())
        t.row({"Entry latency",
               {},
               e(fmt::format("measured in {}: {} → {}", o.measured.capture, edge_text(o.measured.from),
                             edge_text(o.measured.to)))});
    if (is_firmware(o.kind)) t.row({"A trigger while busy", std::string(word(o.busy)), {}});
    if (!o.network.empty()) t.row({"Network", {}, e(o.network)});
    const auto* cost = a.wire ? a.wire->find_cost(o.id) : nullptr;
    const auto bill = shown_bill(o, cost == nullptr ? nullptr : &cost->bill);
    if (!bill.parts.empty()) t.row({"Parts", {}, e(bill.parts)});
    if (bill.cost) t.row({"Cost", number(*bill.cost, 2), {}});
    if (bill.current) t.row({"Current", e(print(Amperes(*bill.current))), {}});
    if (!bill.soldering.empty()) t.row({"Soldering", {}, e(bill.soldering)});
    if (!o.note.empty()) t.row({"Note", {}, e(o.note)});
    out += t.html();
}

void write_options(const Analysis& a, std::string& out) {
    write_question(a, out);
    Table t({{"Option"},
             {"Replies", true},
             {"Missed", true},
             {"Slowest", true},
             {"Smallest margin", true},
             {"Would be enough", true}});
    for (const auto& o : a.timing->options) {
        const auto name = fmt::format("{}<b>{}</b>{}<br>{}", mark(o->verdict), e(o->option.name),
                                      o->chosen ? " (chosen)" : "", sub(e(kind_label(o->option.kind))));
        if (!o->summary) {
            t.row({name + "<br>" + e(o->problem)});
            continue;
        }
        const auto& s = *o->summary;
        t.row({name, print_count(s.replies),
               print_share(s.replies == 0 ? 0.0
                                          : static_cast<double>(s.missed) / static_cast<double>(s.replies)),
               time(s.latency.n > 0 ? std::optional(Time::from_seconds(s.latency.max)) : std::nullopt),
               time(s.worst_margin), time(s.enough_latency)});
    }
    out += t.html();
    for (const auto& o : a.timing->options) {
        out += h3(o->option.name);
        option_numbers(a, o->option, out);
        if (!o->summary || !a.timing->tasks) continue;
        Table bears({{"What it bears"}, {"Now", true}, {"At most", true}});
        for (const auto& s : o->sensitivity) {
            std::string name = s.key;
            for (const auto& spec : parameters_of(o->option.kind))
                if (spec.key == s.key) name = spec.label;
            bears.row({e(name), e(print(s.now)), s.at_most ? e(print(*s.at_most)) : "not even 0"});
        }
        for (const auto& c : o->corners)
            bears.row({e(c.name + " corner"), e(print(c.latency)), "margin " + e(print(c.margin))});
        out += bears.html();
        const auto& c = o->confidence;
        out += paragraph(
            e(fmt::format("{} replies, {} missed; with 95 % confidence at most {} would be.{}",
                          print_count(c.replies), print_share(c.missed_share), print_share(c.at_most_share),
                          c.assumed.empty()
                              ? ""
                              : fmt::format(" Nobody has measured: {}.", fmt::join(c.assumed, ", ")))),
            true);
        out += histogram_figure("Replies of " + o->option.name, o->summary->latencies,
                                o->summary->enough_latency->seconds(), Driver::bridge);
        out += worst_case_figure(a, *o);
    }
}

void write_networks(const Analysis& a, std::string& out) {
    for (const auto& n : a.timing->networks) {
        if (n->source.id == a.dossier.wire->network) continue;  // stands under Wire
        out += h3(n->source.name);
        if (!n->source.note.empty()) out += paragraph(e(n->source.note), true);
        if (n->network.computable()) out += drawing_svg(draw_network(n->network, {}), n->source.name) + "\n";
        for (const auto& p : n->network.problems)
            out += paragraph(e(fmt::format("line {}: {}, expected {}", p.line, p.says, p.expected)));
        out += "<pre>" + e(n->source.text) + "</pre>\n";
    }
}

void write_clocks(const Analysis& a, std::string& out) {
    for (const auto& c : a.timing->clocks) {
        const auto& s = c->study;
        out += h3(s.name);
        out += paragraph(e(print(s.rate.value)) + ", " + evidence(s.rate.evidence));
        if (!s.believed.empty()) out += paragraph("Taken to be " + e(s.believed) + ".");
        if (!c->problem.empty()) out += paragraph(e(c->problem));
        if (c->explanation) {
            constexpr std::size_t most_shown = 8;
            Table t({{"Source"}, {"Chain"}, {"Gives", true}, {"Off by", true}, {"Score", true}});
            const auto& list = c->explanation->candidates;
            for (std::size_t i = 0; i < std::min(list.size(), most_shown); ++i)
                t.row({e(list[i].source), e(list[i].chain), e(print_number(list[i].hz, Unit::hertz, 7)),
                       fmt::format("{:+.1f} ppm", list[i].error_ppm), number(list[i].score, 3)});
            out += t.html();
            if (list.size() > most_shown)
                out += paragraph(
                    fmt::format("and {} more within {:.0f} ppm", list.size() - most_shown, c->within_ppm),
                    true);
            if (!c->explanation->advice.empty()) out += paragraph(e(c->explanation->advice));
        }
        if (c->serial)
            out += paragraph(
                mark(c->serial->verdict) +
                e(fmt::format(
                    "With {} the modern side makes {}, {:+.0f} ppm off; the worst bit has {:.2f} bits "
                    "of margin, and {:.0f} ppm could be borne.",
                    print(s.clock.value), print_number(c->serial->achieved_hz, Unit::hertz, 7),
                    c->serial->error_ppm, c->serial->worst_margin_bit, c->bearable_ppm)));
        else if (!c->serial_problem.empty())
            out += paragraph(e(c->serial_problem));
    }
}

void write_budgets(const Analysis& a, std::string& out) {
    for (const auto& b : a.timing->budgets) {
        const auto& about = description_of(b->budget.kind);
        out += h3(b->budget.name);
        out += paragraph(e(about.question), true);
        if (b->result) {
            out += paragraph(mark(b->result->verdict) + "<b>" + e(b->result->says) + "</b>");
            if (!b->result->todo.empty()) out += paragraph(e(b->result->todo));
        } else {
            out += paragraph(e(b->problem));
        }
        Table t({{"Number"}, {"Value", true}, {"Evidence"}});
        for (const auto& f : about.fields)
            for (const auto& v : b->budget.values)
                if (v.key == f.key)
                    t.row({e(f.label), e(print_number(v.value.value, f.unit)), evidence(v.value.evidence)});
        for (const auto& w : about.words)
            if (const auto it = b->budget.words.find(w.key); it != b->budget.words.end())
                t.row({e(w.label), {}, e(it->second)});
        if (b->result)
            for (const auto& f : b->result->figures)
                t.row({e(f.label), e(print_number(f.value, f.unit)), "follows: " + e(f.note)});
        out += t.html();
    }
}

void write_replicas(const Analysis& a, std::string& out) {
    for (const auto& g : a.timing->golden) {
        const auto title = [&](const std::string& id) {
            const auto* ref = a.dossier.find_capture(id);
            return ref == nullptr ? id : ref->title;
        };
        out += h3(title(g->pair.replica) + " against " + title(g->pair.original));
        if (!g->result) {
            out += paragraph(e(g->problem));
            continue;
        }
        const auto& r = *g->result;
        out += paragraph(mark(r.verdict) + "<b>" + e(r.says) + "</b>");
        if (r.words)
            out += paragraph(e(fmt::format("Words: {} the same, {} differ, {} missing, {} too many.",
                                           print_count(r.words->same), print_count(r.words->differ),
                                           print_count(r.words->missing), print_count(r.words->extra))));
        Table t({{"Interval"},
                 {"How often", true},
                 {"Least", true},
                 {"Most", true},
                 {"Must keep"},
                 {"Broken", true}});
        for (const auto& i : r.intervals)
            t.row({e(i.name), print_count(i.n), e(print(i.least)), e(print(i.most)), e(show_limits(i.limits)),
                   print_count(i.broken)});
        out += t.html();
    }
}

}  // namespace

std::vector<ReportSection> timing_sections() {
    return {
        {Stage::timing, "timing-contract", "Contract",
         [](const Analysis& a) { return !a.timing->contract.empty(); }, write_contract},
        {Stage::timing, "timing-breaches", "What the contract does not allow",
         [](const Analysis& a) { return !a.timing->breaches.empty(); }, write_breaches},
        {Stage::timing, "timing-reply", "Does the reply arrive in time?",
         [](const Analysis& a) { return !a.timing->options.empty(); }, write_options},
        {Stage::timing, "timing-logic", "Networks of parts",
         [](const Analysis& a) { return !a.timing->networks.empty(); }, write_networks},
        {Stage::timing, "timing-clocks", "Clocks",
         [](const Analysis& a) { return !a.timing->clocks.empty(); }, write_clocks},
        {Stage::timing, "timing-budgets", "Budgets",
         [](const Analysis& a) { return !a.timing->budgets.empty(); }, write_budgets},
        {Stage::timing, "timing-replica", "Replicas",
         [](const Analysis& a) { return !a.timing->golden.empty(); }, write_replicas},
    };
}

}  // namespace grayrelic
