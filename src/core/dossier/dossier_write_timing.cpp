// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/text.hpp"
#include "core/dossier/dossier_writing.hpp"

namespace grayrelic::dossier_writing {
namespace {

Json reply_json(const ReplyQuestion& q) {
    Json j = {{"capture", q.capture}, {"trigger", q.trigger}};
    add_fact(j, "look", q.look);
    add_fact(j, "guard", q.guard, time(q.guard.value));
    if (q.within) j["within"] = time(*q.within);
    j["seed"] = q.seed;
    return j;
}

Json interval_json(const ContractInterval& i) {
    Json j = {{"id", i.id}, {"name", i.name}, {"from", i.from}, {"to", i.to}, {"kind", i.kind}};
    add_text(j, "capture", i.capture);
    if (!i.also.empty()) j["also"] = i.also;
    if (i.within) j["within"] = time(*i.within);
    if (i.guard) j["guard"] = time(*i.guard);
    if (i.min) j["min"] = time(*i.min);
    if (i.typ) j["typ"] = time(*i.typ);
    if (i.max) j["max"] = time(*i.max);
    add_evidence(j, i.evidence);
    return j;
}

Json number_json(const NumberFact& f) {
    Json j = {{"key", f.key}, {"value", f.value.value}};
    if (f.value.uncertainty) j["plus_minus"] = *f.value.uncertainty;
    add_evidence(j, f.value.evidence);
    return j;
}

Json bill_json(const OptionBill& b) {
    Json j = Json::object();
    add_text(j, "parts", b.parts);
    if (b.cost) j["cost"] = *b.cost;
    if (b.current) j["current_a"] = *b.current;
    add_text(j, "soldering", b.soldering);
    return j;
}

Json option_json(const BuildOption& o) {
    Json j = {{"id", o.id}, {"name", o.name}, {"kind", o.kind}, {"busy", o.busy}};
    j["parameters"] = list_of(o.parameters, [](const OptionParameter& p) {
        Json x = {{"key", p.key}, {"value", time(p.value.value)}};
        if (p.value.uncertainty) x["plus_minus"] = *p.value.uncertainty;
        add_evidence(x, p.value.evidence);
        return x;
    });
    if (!o.numbers.empty()) j["numbers"] = list_of(o.numbers, number_json);
    if (!o.measured.capture.empty())
        j["measured"] = record(o.measured, [](const MeasuredDelay& m) {
            return Json{{"capture", m.capture}, {"from", m.from}, {"to", m.to}};
        });
    add_text(j, "network", o.network);
    if (o.bill != OptionBill{}) j["bill"] = record(o.bill, bill_json);
    add_text(j, "note", o.note);
    return j;
}

Json network_json(const LogicNetwork& n) {
    Json j = {{"id", n.id}, {"name", n.name}};
    Json lines = Json::array();
    auto text = std::string_view(n.text);
    if (text.ends_with('\n')) text.remove_suffix(1);
    if (!text.empty())
        for (const auto line : split(text, '\n')) lines.push_back(std::string(line));
    j["lines"] = std::move(lines);
    add_text(j, "note", n.note);
    return j;
}

void add_rate(Json& j, const char* key, const Fact<Hertz>& rate) {
    add_fact(j, key, rate,
             rate.value.value() > 0.0 ? Json(ascii(print_exact(rate.value.value(), Unit::hertz))) : Json());
}

Json clock_json(const ClockStudy& c) {
    Json j = {{"id", c.id}, {"name", c.name}};
    add_rate(j, "rate", c.rate);
    if (c.within_ppm > 0) j["within_ppm"] = c.within_ppm;
    add_text(j, "believed", c.believed);
    add_rate(j, "clock", c.clock);
    j["divider"] = c.divider;
    j["oversample"] = c.oversample;
    j["bits"] = c.bits;
    if (c.jitter > Time{}) j["jitter"] = time(c.jitter);
    return j;
}

Json budget_json(const Budget& b) {
    Json j = {{"id", b.id}, {"name", b.name}, {"kind", b.kind}};
    j["values"] = list_of(b.values, number_json);
    if (!b.words.empty()) j["words"] = b.words;
    add_text(j, "note", b.note);
    return j;
}

Json golden_json(const GoldenPair& g) {
    Json j = {{"id", g.id}, {"original", g.original}, {"replica", g.replica}};
    if (!g.signals.empty()) j["signals"] = g.signals;
    add_text(j, "align", g.align);
    if (g.tolerance > Time{}) j["tolerance"] = time(g.tolerance);
    return j;
}

}  // namespace

Json timing_json(const Timing& t) {
    Json j = Json::object();
    if (!t.reply.trigger.empty()) j["reply"] = record(t.reply, reply_json);
    j["intervals"] = list_of(t.intervals, interval_json);
    j["options"] = list_of(t.options, option_json);
    add_text(j, "chosen", t.chosen);
    if (!t.networks.empty()) j["networks"] = list_of(t.networks, network_json);
    if (!t.clocks.empty()) j["clocks"] = list_of(t.clocks, clock_json);
    if (!t.budgets.empty()) j["budgets"] = list_of(t.budgets, budget_json);
    if (!t.golden.empty()) j["golden"] = list_of(t.golden, golden_json);
    if (!t.drawer.empty()) j["drawer"] = t.drawer;
    return j;
}

}  // namespace grayrelic::dossier_writing
