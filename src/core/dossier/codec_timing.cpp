// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/codec_tools.hpp"
#include "core/dossier/event_name.hpp"

namespace grayrelic::dossier_codec {
namespace {

std::string edge_text(const JsonNode& child) {
    auto text = child.text();
    if (const auto edge = parse_edge(text); !edge) child.fault(in_quotes(text), edge.error().expected);
    return text;
}

std::string event_text(const JsonNode& child) {
    auto text = child.text();
    if (const auto event = parse_event(text); !event) child.fault(in_quotes(text), event.error().expected);
    return text;
}

std::string optional_edge(JsonNode& n, const std::string& key) {
    const auto child = n.member(key);
    return child ? edge_text(*child) : std::string();
}

std::optional<Time> read_positive_time(JsonNode& n, const std::string& key) {
    const auto t = read_optional_time(n, key);
    if (t && *t < Time{}) n.required(key).fault(n.required(key).shown(), "a time from 0 s");
    return t;
}

std::optional<double> read_positive(JsonNode& n, const std::string& key) {
    const auto child = n.member(key);
    if (!child) return std::nullopt;
    const double v = child->number();
    if (!(v >= 0.0 && v <= 1e18)) child->fault(child->shown(), "a number from 0");
    return v;
}

ContractInterval read_interval(JsonNode& n) {
    ContractInterval i;
    i.id = read_id(n, "id");
    i.name = n.text_or("name", i.id);
    i.from = event_text(n.required("from"));
    i.to = event_text(n.required("to"));
    i.kind = read_word<IntervalKind>(n.required("kind"));
    i.capture = n.text_or("capture");
    i.also = read_texts(n, "also");
    i.within = read_optional_time(n, "within");
    i.beyond = read_optional_time(n, "beyond");
    if (const auto until = n.member("until"))
        for (const auto& element : until->elements(most_items)) i.until.push_back(event_text(element));
    i.at_once = n.flag("at_once");
    i.guard = read_positive_time(n, "guard");
    i.min = read_optional_time(n, "min");
    i.typ = read_optional_time(n, "typ");
    i.max = read_optional_time(n, "max");
    i.evidence = read_evidence(n);
    return i;
}

OptionParameter read_parameter(JsonNode& n) {
    OptionParameter p;
    p.key = read_id(n, "key");
    p.value.value = read_time(n.required("value"));
    if (const auto pm = n.member("plus_minus")) p.value.uncertainty = pm->number();
    p.value.evidence = read_evidence(n);
    return p;
}

MeasuredDelay read_measured(JsonNode& n) {
    MeasuredDelay m;
    m.capture = n.required("capture").text();
    m.from = edge_text(n.required("from"));
    m.to = edge_text(n.required("to"));
    return m;
}

OptionBill read_bill(JsonNode& n) {
    OptionBill b;
    b.parts = n.text_or("parts");
    b.cost = read_positive(n, "cost");
    b.current = read_positive(n, "current_a");
    b.soldering = n.text_or("soldering");
    b.area = read_positive(n, "area_m2");
    b.hours = read_positive(n, "hours");
    b.reversible = n.text_or("reversible");
    b.service = n.text_or("service");
    b.sample = n.text_or("sample");
    return b;
}

BuildOption read_option(JsonNode& n) {
    BuildOption o;
    o.id = read_id(n, "id");
    o.name = n.text_or("name", o.id);
    o.kind = read_word<OptionKind>(n.required("kind"));
    o.parameters = read_list<OptionParameter>(n, "parameters", read_parameter, &OptionParameter::key);
    o.numbers = read_list<NumberFact>(n, "numbers", read_number_fact, &NumberFact::key);
    if (const auto m = n.member("measured")) o.measured = read_record<MeasuredDelay>(*m, read_measured);
    o.network = n.text_or("network");
    o.busy = read_word_or(n, "busy", o.busy);
    if (const auto bill = n.member("bill")) o.bill = read_record<OptionBill>(*bill, read_bill);
    o.note = n.text_or("note");
    return o;
}

ReplyQuestion read_reply(JsonNode& n) {
    ReplyQuestion r;
    r.capture = n.text_or("capture");
    r.trigger = event_text(n.required("trigger"));
    r.answer = optional_edge(n, "answer");
    r.look = read_fact<std::string>(n, "look", plain_text);
    r.guard = read_fact<Time>(n, "guard", read_time);
    r.within = read_optional_time(n, "within");
    if (const auto seed = n.member("seed"))
        r.seed = static_cast<unsigned long>(seed->whole(0, 0x7FFFFFFFFFFFFFFFLL));
    return r;
}

LogicNetwork read_network(JsonNode& n) {
    LogicNetwork net;
    net.id = read_id(n, "id");
    net.name = n.text_or("name", net.id);
    // One line of the net list an element: a diff of the dossier then shows what changed.
    const auto lines = read_texts(n, "lines");
    for (const auto& line : lines) net.text += line + "\n";
    net.note = n.text_or("note");
    return net;
}

Hertz read_rate(const JsonNode& node) {
    const double v = node.is_number() ? node.number() : [&] {
        const auto text = node.text(64);
        const auto value = parse_quantity<Unit::hertz>(text);
        if (!value) node.fault(in_quotes(text), value.error().expected + " for " + print_path(node.path()));
        return value->value();
    }();
    if (!(v >= 0.0 && v <= 1e12)) node.fault(node.shown(), "a rate from 0 to 1 THz");
    return Hertz(v);
}

ClockStudy read_clock(JsonNode& n) {
    ClockStudy c;
    c.id = read_id(n, "id");
    c.name = n.text_or("name", c.id);
    c.rate = read_fact<Hertz>(n, "rate", read_rate);
    c.within_ppm = read_positive(n, "within_ppm").value_or(0.0);
    c.believed = n.text_or("believed");
    c.clock = read_fact<Hertz>(n, "clock", read_rate);
    c.divider = read_word_or(n, "divider", c.divider);
    if (const auto m = n.member("oversample")) c.oversample = static_cast<int>(m->whole(1, 256));
    if (const auto m = n.member("bits")) c.bits = static_cast<int>(m->whole(3, 16));
    c.jitter = read_positive_time(n, "jitter").value_or(Time{});
    return c;
}

std::map<std::string, std::string> read_words(JsonNode& n, const std::string& key) {
    std::map<std::string, std::string> out;
    auto words = n.member(key);
    if (!words) return out;
    words->require_object();
    for (const auto& name : words->keys()) out[name] = words->required(name).text();
    return out;
}

Budget read_budget(JsonNode& n) {
    Budget b;
    b.id = read_id(n, "id");
    b.name = n.text_or("name", b.id);
    b.kind = read_word<BudgetKind>(n.required("kind"));
    b.values = read_list<NumberFact>(n, "values", read_number_fact, &NumberFact::key);
    b.words = read_words(n, "words");
    b.note = n.text_or("note");
    return b;
}

GoldenPair read_golden(JsonNode& n) {
    GoldenPair g;
    g.id = read_id(n, "id");
    g.original = n.required("original").text();
    g.replica = n.required("replica").text();
    g.signals = read_words(n, "signals");
    g.align = optional_edge(n, "align");
    g.tolerance = read_positive_time(n, "tolerance").value_or(Time{});
    return g;
}

Timing read_timing(JsonNode& n) {
    Timing t;
    if (const auto reply = n.member("reply")) t.reply = read_record<ReplyQuestion>(*reply, read_reply);
    t.intervals = read_list<ContractInterval>(n, "intervals", read_interval, &ContractInterval::id);
    t.options = read_list<BuildOption>(n, "options", read_option, &BuildOption::id);
    t.chosen = n.text_or("chosen");
    if (!t.chosen.empty() && t.find_option(t.chosen) == nullptr)
        n.required("chosen").fault(in_quotes(t.chosen), "the id of one of the options");
    t.networks = read_list<LogicNetwork>(n, "networks", read_network, &LogicNetwork::id);
    t.clocks = read_list<ClockStudy>(n, "clocks", read_clock, &ClockStudy::id);
    t.budgets = read_list<Budget>(n, "budgets", read_budget, &Budget::id);
    t.golden = read_list<GoldenPair>(n, "golden", read_golden, &GoldenPair::id);
    t.drawer = read_texts(n, "drawer");
    return t;
}

Json reply_json(const ReplyQuestion& q) {
    Json j = {{"capture", q.capture}, {"trigger", q.trigger}};
    add_fact(j, "look", q.look);
    add_fact(j, "guard", q.guard, time(q.guard.value));
    if (!q.answer.empty()) j["answer"] = q.answer;
    if (q.within) j["within"] = time(*q.within);
    j["seed"] = q.seed;
    return j;
}

Json interval_json(const ContractInterval& i) {
    Json j = {{"id", i.id}, {"name", i.name}, {"from", i.from}, {"to", i.to}, {"kind", word(i.kind)}};
    add_text(j, "capture", i.capture);
    if (!i.also.empty()) j["also"] = i.also;
    if (i.within) j["within"] = time(*i.within);
    if (i.beyond) j["beyond"] = time(*i.beyond);
    if (!i.until.empty()) j["until"] = i.until;
    if (i.at_once) j["at_once"] = true;
    if (i.guard) j["guard"] = time(*i.guard);
    if (i.min) j["min"] = time(*i.min);
    if (i.typ) j["typ"] = time(*i.typ);
    if (i.max) j["max"] = time(*i.max);
    add_evidence(j, i.evidence);
    return j;
}

Json bill_json(const OptionBill& b) {
    Json j = Json::object();
    add_text(j, "parts", b.parts);
    if (b.cost) j["cost"] = *b.cost;
    if (b.current) j["current_a"] = *b.current;
    add_text(j, "soldering", b.soldering);
    if (b.area) j["area_m2"] = *b.area;
    if (b.hours) j["hours"] = *b.hours;
    add_text(j, "reversible", b.reversible);
    add_text(j, "service", b.service);
    add_text(j, "sample", b.sample);
    return j;
}

Json option_json(const BuildOption& o) {
    Json j = {{"id", o.id}, {"name", o.name}, {"kind", word(o.kind)}, {"busy", word(o.busy)}};
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
    j["divider"] = word(c.divider);
    j["oversample"] = c.oversample;
    j["bits"] = c.bits;
    if (c.jitter > Time{}) j["jitter"] = time(c.jitter);
    return j;
}

Json budget_json(const Budget& b) {
    Json j = {{"id", b.id}, {"name", b.name}, {"kind", word(b.kind)}};
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

}  // namespace

const SectionCodec timing = codec_of<&Dossier::timing>(
    "timing", [](JsonNode n, Dossier& d) { d.timing = Section(read_record<Timing>(n, read_timing)); },
    [](const Dossier& d) { return record(*d.timing, timing_json); });

}  // namespace grayrelic::dossier_codec
