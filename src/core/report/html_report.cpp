// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/html_report.hpp"

#include "core/base/long_work.hpp"
#include "core/listen/listen_analysis.hpp"

#include <functional>

#include <fmt/format.h>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/report/connector_figure.hpp"
#include "core/report/figures.hpp"
#include "core/report/svg.hpp"
#include "core/signal/measure.hpp"
#include "core/timing/reply_option.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic {
namespace {

std::string e(std::string_view text) {
    return escape_markup(text);
}

constexpr std::string_view style = R"(
body{background:#FAF9F5;color:#22262A;font:15px/1.5 B612,sans-serif;max-width:860px;margin:2em auto;padding:0 1em}
h1{font-size:26px;margin-bottom:0}h2{font-size:19px;border-top:1px solid #C2BDB2;padding-top:.8em;margin-top:2em}
h3{font-size:15px;margin-bottom:.3em}p.sub,td.sub,.sub{color:#5B6066}
table{border-collapse:collapse;width:100%;font-size:13px}th{text-align:left;color:#5B6066;font-weight:normal}
td,th{border-bottom:1px solid #C2BDB2;padding:4px 8px 4px 0;vertical-align:top}
td.n,th.n{text-align:right;font-family:"B612 Mono",monospace;white-space:nowrap}i{color:#5B6066}
.mark{display:inline-block;vertical-align:baseline;margin-right:6px}svg{max-width:100%;height:auto}
p.caution{border-left:4px solid #A3281E;padding-left:10px}
@media print{body{margin:0}h2{break-after:avoid}table,svg{break-inside:avoid}}
)";

/// The verdict's shape, so that it never rests on colour alone.
std::string mark(std::string_view v) {
    const auto shape = [&]() -> std::string {
        if (v == "stop")
            return fmt::format("<rect x=\"1\" y=\"1\" width=\"10\" height=\"10\" fill=\"{}\"/>",
                               paper::oxide);
        if (v == "doubt")
            return fmt::format("<polygon points=\"6,0 12,6 6,12 0,6\" fill=\"{}\"/>", paper::brass);
        if (v == "holds")
            return fmt::format("<circle cx=\"6\" cy=\"6\" r=\"5\" fill=\"{}\"/>", paper::verdigris);
        if (v == "note")
            return fmt::format("<rect x=\"1\" y=\"4\" width=\"10\" height=\"4\" fill=\"{}\"/>", paper::ink2);
        return fmt::format(
            "<circle cx=\"6\" cy=\"6\" r=\"4.5\" fill=\"none\" stroke=\"{}\" stroke-width=\"1.5\"/>",
            paper::ink2);
    }();
    return fmt::format(
        "<svg class=\"mark\" width=\"12\" height=\"12\" viewBox=\"0 0 12 12\" role=\"img\" "
        "aria-label=\"{}\">{}</svg>",
        v, shape);
}

std::string evidence(const Evidence& ev) {
    auto text = std::string(word(ev.kind));
    if (ev.kind == EvidenceKind::assumed) text = "<i>assumed</i>";
    if (!ev.source.empty()) text += ": " + e(ev.source);
    if (!ev.date.empty()) text += ", " + e(ev.date);
    return text;
}

std::string time_cell(const std::optional<Time>& t) {
    return fmt::format("<td class=\"n\">{}</td>", t ? e(print(*t)) : std::string("·"));
}

void findings_part(const Analysis& a, std::string& out) {
    const auto counts = count(a.findings);
    out += fmt::format("<h2>Findings</h2>\n<p class=\"sub\">{}</p>\n<table>\n", e(print(counts)));
    for (const auto& f : a.findings)
        out += fmt::format(
            "<tr><td>{}</td><td><b>{}</b><br>{}<br><span class=\"sub\">{}</span></td><td "
            "class=\"sub\">{}</td></tr>\n",
            mark(word(f.severity)), e(f.says), e(f.why), e(f.todo), word(f.stage));
    out += "</table>\n";
}

void pins_table(const Port& port, std::string& out) {
    out +=
        "<table>\n<tr><th>Pin</th><th>Name</th><th>Driven by</th><th>Family</th><th>Idle</th><th "
        "class=\"n\">At most</th><th>Evidence of the driver</th></tr>\n";
    for (const auto& p : port.pins) {
        std::string most;
        if (p.volts_max.value) most = print(*p.volts_max.value);
        if (p.current_max.value) most += (most.empty() ? "" : ", ") + print(*p.current_max.value);
        out += fmt::format(
            "<tr><td>{}</td><td><b>{}</b></td><td>{}</td><td>{}</td><td>{}</td><td "
            "class=\"n\">{}</td><td>{}</td></tr>\n",
            e(p.number), e(p.name.value), word(p.driver.value), e(p.family.value), e(p.idle.value), e(most),
            evidence(p.driver.evidence));
    }
    out += "</table>\n";
}

void cautions_of(const Analysis& a, const Port& port, std::string& out) {
    if (!a.data) return;
    for (const auto* c : cautions_for(a.data->cautions, a.data->families, a.dossier, Stage::port, {}, &port))
        out += fmt::format("<p class=\"caution\"><b>{}.</b> {} <span class=\"sub\">{}</span></p>\n",
                           e(c->title), e(c->says), e(c->defer));
}

void ports_part(const Analysis& a, std::string& out) {
    if (a.dossier.ports->empty()) return;
    out += "<h2>Port</h2>\n";
    for (const auto& port : *a.dossier.ports) {
        out += fmt::format("<h3>{} · {}</h3>\n", e(port.id), e(port.name));
        const auto connector = a.data ? a.data->connectors.find(port.connector)
                                      : fail_usage("no data files", "the folder of connectors");
        if (connector)
            out += connector_figure(port, *connector, viewpoint_named(port.viewpoint));
        else
            out += fmt::format("<p class=\"sub\">No drawing: {}.</p>\n", e(connector.error().message()));
        cautions_of(a, port, out);
        pins_table(port, out);
    }
    for (const auto& cable : *a.dossier.cables) {
        out += fmt::format(
            "<h3>Cable {}</h3>\n<table>\n<tr><th>From</th><th>To</th><th>Colour</th><th>Note</th>"
            "</tr>\n",
            e(cable.name));
        for (const auto& w : cable.wires)
            out += fmt::format("<tr><td>{}</td><td>{}</td><td>{}</td><td>{}</td></tr>\n", e(w.a), e(w.b),
                               e(w.colour), e(w.note));
        out += "</table>\n";
    }
}

void captures_part(const Analysis& a, std::string& out) {
    if (a.listen->captures.empty()) return;
    out +=
        "<h2>Listen</h2>\n<table>\n<tr><th>Capture</th><th class=\"n\">Length</th><th "
        "class=\"n\">Edges</th><th class=\"n\">Rate</th><th>Read as</th></tr>\n";
    for (const auto& c : a.listen->captures) {
        if (!c->capture) {
            out += fmt::format("<tr><td><b>{}</b></td><td colspan=\"4\">{}</td></tr>\n", e(c->ref.title),
                               e(c->problem));
            continue;
        }
        std::string read = c->decode_problem.empty() ? std::string("not decoded") : e(c->decode_problem);
        if (c->decoding)
            read = fmt::format("{}: {}, {}", e(c->decoding->kind),
                               plural(static_cast<long long>(c->decoding->frames.size()), "word", "words"),
                               plural(c->decoding->frames_with_errors(), "with errors", "with errors"));
        const auto rate = c->sample_period ? print(Hertz(1.0 / c->sample_period->seconds())) +
                                                 (c->sample_period_found ? " (deduced)" : "")
                                           : std::string("not known");
        out += fmt::format(
            "<tr><td><b>{}</b></td><td class=\"n\">{}</td><td class=\"n\">{}</td><td "
            "class=\"n\">{}</td><td>{}</td></tr>\n",
            e(c->ref.title), e(print(c->capture->extent.length())),
            print_count(static_cast<long long>(c->capture->edge_count())), e(rate), read);
    }
    out += "</table>\n";
}

void contract_part(const Analysis& a, std::string& out) {
    if (a.timing->contract.empty()) return;
    out +=
        "<h2>Contract</h2>\n<table>\n<tr><th>Interval</th><th>From, to</th><th class=\"n\">Least</th><th "
        "class=\"n\">Typical</th><th class=\"n\">Most</th><th>Evidence</th></tr>\n";
    for (const auto& f : a.timing->contract) {
        const auto from = parse_edge(f->interval.from);
        const auto to = parse_edge(f->interval.to);
        out += fmt::format("<tr><td><b>{}</b></td><td>{} → {}</td>{}{}{}<td>{}</td></tr>\n",
                           e(f->interval.name), e(from ? show_edge(*from) : f->interval.from),
                           e(to ? show_edge(*to) : f->interval.to), time_cell(f->min), time_cell(f->typ),
                           time_cell(f->max), f->problem.empty() ? evidence(f->evidence) : e(f->problem));
    }
    out += "</table>\n";
    for (const auto& f : a.timing->contract) {
        if (f->interval.kind != IntervalKind::response || f->lengths.empty() || f->n < 2) continue;
        out +=
            fmt::format("<h3>{}</h3>\n<p class=\"sub\">{}</p>\n", e(f->interval.name), evidence(f->evidence));
        out += histogram_figure(f->interval.name, f->lengths, std::nullopt, Driver::bridge,
                                f->sampling.seconds());
    }
}

void options_part(const Analysis& a, std::string& out) {
    if (a.timing->options.empty()) return;
    out += "<h2>Timing: does the reply arrive in time?</h2>\n";
    const auto& q = a.dossier.timing->reply;
    if (const auto look = parse_look(q.look.value); look && a.timing->tasks)
        out += fmt::format("<p>The host looks {} after {}. {}</p>\n", e(show_look(*look)), e(q.trigger),
                           evidence(q.look.evidence));
    else
        out += fmt::format("<p>{}</p>\n", e(a.timing->question_problem));
    out +=
        "<table>\n<tr><th>Option</th><th class=\"n\">Replies</th><th class=\"n\">Missed</th><th "
        "class=\"n\">Slowest</th><th class=\"n\">Smallest margin</th><th class=\"n\">Would be "
        "enough</th></tr>\n";
    for (const auto& o : a.timing->options) {
        const auto name =
            fmt::format("{}<b>{}</b>{}<br><span class=\"sub\">{}</span>", mark(word(o->verdict)),
                        e(o->option.name), o->chosen ? " (chosen)" : "", e(kind_label(o->option.kind)));
        if (!o->summary) {
            out += fmt::format("<tr><td>{}</td><td colspan=\"5\">{}</td></tr>\n", name, e(o->problem));
            continue;
        }
        const auto& s = *o->summary;
        out += fmt::format(
            "<tr><td>{}</td><td class=\"n\">{}</td><td class=\"n\">{}</td>{}{}{}</tr>\n", name,
            print_count(s.replies),
            print_share(s.replies == 0 ? 0.0
                                       : static_cast<double>(s.missed) / static_cast<double>(s.replies)),
            time_cell(s.latency.n > 0 ? std::optional(Time::from_seconds(s.latency.max)) : std::nullopt),
            time_cell(s.worst_margin), time_cell(s.enough_latency));
    }
    out += "</table>\n";
    for (const auto& o : a.timing->options) {
        if (!o->summary || !a.timing->tasks) continue;
        out += fmt::format("<h3>{}</h3>\n<table>\n", e(o->option.name));
        for (const auto& spec : parameters_of(o->option.kind))
            for (const auto& p : o->option.parameters)
                if (p.key == spec.key)
                    out += fmt::format("<tr><td>{}</td><td class=\"n\">{}</td><td>{}</td></tr>\n",
                                       e(spec.label), e(print(p.value.value)), evidence(p.value.evidence));
        out += "</table>\n";
        out += histogram_figure("Replies of " + o->option.name, o->summary->latencies,
                                o->summary->enough_latency->seconds(), Driver::bridge);
        out += worst_case_figure(a, *o);
    }
}

}  // namespace

std::string html_report(const Analysis& analysis) {
    long_work("html_report");
    Progress progress;
    return html_report(analysis, progress).value();
}

Result<std::string> html_report(const Analysis& a, Progress& progress) {
    long_work("html_report");
    const auto& about = *a.dossier.about;
    std::string out = fmt::format(
        "<!DOCTYPE html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">\n<meta name=\"viewport\" "
        "content=\"width=device-width\">\n"
        "<title>{}</title>\n<style>{}</style>\n</head>\n<body>\n<h1>{}</h1>\n<p class=\"sub\">Revision "
        "{}</p>\n",
        e(about.name), style, e(about.name), about.revision);
    if (!about.purpose.empty()) out += fmt::format("<p>{}</p>\n", e(about.purpose));
    const std::function<void()> parts[] = {[&] { findings_part(a, out); }, [&] { ports_part(a, out); },
                                           [&] { captures_part(a, out); }, [&] { contract_part(a, out); },
                                           [&] { options_part(a, out); }};
    double done = 0.0;
    for (const auto& part : parts) {
        if (progress.cancelled()) return fail_cancelled();
        part();
        progress.report(++done / static_cast<double>(std::size(parts)));
    }
    return out + "</body>\n</html>\n";
}

}  // namespace grayrelic
