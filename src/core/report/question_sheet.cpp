// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/question_sheet.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/base/palette.hpp"
#include "core/base/text.hpp"
#include "core/dossier/pin_fields.hpp"
#include "core/dossier/reading_text.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/report/capture_figure.hpp"
#include "core/report/connector_figure.hpp"
#include "core/report/html.hpp"
#include "core/report/worst_figure.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic {
namespace {

using namespace html;

constexpr std::string_view sheet_style = R"(
body{background:@sheet;color:@ink;font:15px/1.5 B612,sans-serif;max-width:760px;margin:2em auto;padding:0 1em}
h1{font-size:22px;margin-bottom:.2em}h3{font-size:15px;margin-bottom:.3em}.sub{color:@ink2}
table{border-collapse:collapse;width:100%;font-size:13px}th{text-align:left;color:@ink2;font-weight:normal}
td,th{border-bottom:1px solid @hairline;padding:4px 8px 4px 0;vertical-align:top}
td.n,th.n{text-align:right;font-family:"B612 Mono",monospace;white-space:nowrap}i{color:@ink2}
svg{max-width:100%;height:auto}p.answer{border-left:4px solid @ink2;padding-left:10px}
)";

/// Only the last part of what looks like a path of this machine.
std::string without_paths(std::string_view text) {
    std::string out;
    for (const auto word : split(text, ' ')) {
        const bool path = word.starts_with('/') || word.starts_with("~/") ||
                          word.find("/home/") != std::string_view::npos ||
                          word.find(":\\") != std::string_view::npos;
        const auto cut = path ? word.find_last_of("/\\") : std::string_view::npos;
        if (!out.empty()) out += ' ';
        out += cut == std::string_view::npos ? word : word.substr(cut + 1);
    }
    return out;
}

std::string public_text(std::string_view text) {
    return e(without_paths(text));
}

std::string public_evidence(const Evidence& ev) {
    auto shown = ev;
    shown.source = without_paths(ev.source);
    return evidence(shown);
}

struct Asked {
    std::string title, why, how, tried;
    Stage stage = Stage::plan;
    FindingPlace place;
};

class Sheet {
  public:
    explicit Sheet(const Analysis& a) : a_(a), d_(a.dossier) {}

    std::string write(const Asked& q) {
        const auto& about = *d_.about;
        out_ = fmt::format(
            "<!DOCTYPE html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">\n"
            "<title>{}</title>\n<style>{}</style>\n</head>\n<body>\n",
            e(q.title), in_colours(sheet_style));
        out_ +=
            fmt::format("<h1>{}</h1>\n<p class=\"sub\">{}{}{}, {}</p>\n", public_text(q.title),
                        public_text(about.relic), about.relic.empty() || about.modern.empty() ? "" : " and ",
                        public_text(about.modern), e(std::string(label(q.stage))));
        if (!about.purpose.empty()) out_ += paragraph(public_text(about.purpose));
        if (!q.why.empty()) out_ += h3("What is known") + paragraph(public_text(q.why));
        facts(q.place);
        if (!q.how.empty()) out_ += h3("What would settle it") + paragraph(public_text(q.how));
        if (!q.tried.empty()) out_ += h3("What was tried") + paragraph(public_text(q.tried));
        out_ +=
            "<p class=\"answer\"><b>If you know:</b> please say what you measured or read, on which "
            "revision, with what, and when. It is entered with your words as its source.</p>\n";
        return std::move(out_) + "</body>\n</html>\n";
    }

  private:
    void facts(const FindingPlace& p) {
        if (p.kind == "pin") return pin(p.id);
        if (p.kind == "dimension") return dimension(p.id);
        if (p.kind == "interval") return interval(p.id);
        if (p.kind == "option" || p.kind == "look") return option(p.id);
        if (p.kind == "budget") return budget(p.id);
        if (p.kind == "capture") return capture(p.id, p.at);
        if (p.kind == "point" || p.kind == "net" || p.kind == "reading") return net(p.id);
    }

    void pin(const std::string& id) {
        const auto slash = id.find('/');
        const auto* port = d_.find_port(id.substr(0, slash));
        if (port == nullptr) return;
        if (a_.data)
            if (const auto connector = a_.data->connectors.find(port->connector))
                out_ += connector_figure(*port, *connector, viewpoint_named(port->viewpoint));
        const auto* pin = slash == std::string::npos ? nullptr : port->find_pin(id.substr(slash + 1));
        if (pin == nullptr) return;
        Table t({{"Fact"}, {"Value", true}, {"Evidence"}});
        for (const auto& f : pin_fields())
            if (field_known(*pin, f))
                t.row(
                    {e(f.label), public_text(field_text(*pin, f)), public_evidence(field_evidence(*pin, f))});
        out_ += t.html();
    }

    void dimension(const std::string& id) {
        for (const auto& m : *d_.dimensions) {
            if (m.id != id) continue;
            Table t({{"Dimension"}, {"mm", true}, {"Evidence"}, {"Decides"}});
            auto size = m.mm.value ? fmt::format("{}", *m.mm.value) : std::string("not known");
            if (m.mm.uncertainty) size += fmt::format(" ± {}", *m.mm.uncertainty);
            t.row({public_text(m.name), e(size), public_evidence(m.mm.evidence), public_text(m.decides)});
            out_ += t.html();
        }
    }

    void interval(const std::string& id) {
        const auto* figure = a_.find_figure(id);
        if (figure == nullptr) return;
        Table t({{"Interval"}, {"From"}, {"To"}, {"Evidence"}});
        t.row({public_text(figure->interval.name), e(figure->interval.from), e(figure->interval.to),
               public_evidence(figure->evidence)});
        out_ += t.html();
        if (!figure->interval.capture.empty()) capture(figure->interval.capture, std::nullopt);
    }

    void option(const std::string& id) {
        const auto* o = a_.find_option(id.empty() ? d_.timing->chosen : id);
        if (o == nullptr) return;
        Table t({{"Number"}, {"Value", true}, {"Evidence"}});
        for (const auto& n : o->option.numbers)
            t.row({e(n.key), fmt::format("{:.6g}", n.value.value), public_evidence(n.value.evidence)});
        for (const auto& p : o->option.parameters)
            t.row({e(p.key), e(print(p.value.value)), public_evidence(p.value.evidence)});
        out_ += h3(o->option.name) + t.html();
        out_ += worst_case_figure(a_, *o);
    }

    void budget(const std::string& id) {
        const auto* b = a_.timing->find_budget(id);
        if (b == nullptr) return;
        Table t({{"Number"}, {"Value", true}, {"Evidence"}});
        for (const auto& v : b->budget.values)
            t.row({e(v.key), fmt::format("{:.6g}", v.value.value), public_evidence(v.value.evidence)});
        out_ += h3(b->budget.name) + t.html();
        if (b->result) out_ += paragraph(public_text(b->result->says));
        if (!b->problem.empty()) out_ += paragraph(public_text(b->problem), true);
    }

    void capture(const std::string& id, const std::optional<Time>& at) {
        const auto* c = a_.find_capture(id);
        if (c == nullptr || !c->capture) return;
        const auto whole = c->capture->extent;
        auto window = whole;
        if (at) {
            const auto side = Time::from_seconds(std::max(whole.length().seconds() / 200, 20e-6));
            window = {std::max(whole.from, *at - side), std::min(whole.to, *at + side)};
        } else if (whole.length() > Time::from_seconds(1e-3)) {
            window.to = whole.from + Time::from_seconds(1e-3);
        }
        out_ += h3(without_paths(c->ref.title));
        out_ += capture_figure(c->named ? *c->named : *c->capture, window);
    }

    void net(const std::string& point) {
        Table t({{"From"}, {"To"}, {"Reading"}, {"With"}});
        for (const auto& r : *d_.readings)
            if ((r.a == point || r.b == point) && r.set_aside.empty())
                t.row({e(r.a), e(r.b), e(show_reading(r)), public_text(r.tool)});
        if (a_.trace && a_.trace->view) {
            const auto& table = a_.trace->view->board.table;
            const int at = table.find(point);
            if (at >= 0 && static_cast<std::size_t>(at) < a_.trace->state.net_of.size()) {
                std::string members;
                const auto net =
                    static_cast<std::size_t>(a_.trace->state.net_of[static_cast<std::size_t>(at)]);
                for (const int p : a_.trace->state.nets[net])
                    members += (members.empty() ? "" : ", ") + a_.trace->name(p);
                out_ += paragraph("Proven to be one net: " + e(members));
            }
        }
        out_ += t.html();
    }

    const Analysis& a_;
    const Dossier& d_;
    std::string out_;
};

std::optional<Asked> moment(const Analysis& a, std::string_view rest) {
    const auto space = rest.rfind(' ');
    if (space == std::string_view::npos) return std::nullopt;
    const auto at = parse_time(rest.substr(space + 1));
    const auto* c = a.find_capture(rest.substr(0, space));
    if (!at || c == nullptr) return std::nullopt;
    return Asked{fmt::format("What happens here, in {}, at {}?", c->ref.title, print(*at)),
                 {},
                 {},
                 {},
                 Stage::listen,
                 {"capture", c->ref.id, *at}};
}

std::optional<Asked> asked(const Analysis& a, const Outlook& o, std::string_view about) {
    if (const auto* q = o.questions.find(about))
        return Asked{q->says, q->why, q->how, q->tried, q->stage, q->place};
    for (const auto& q : o.questions.settled)
        if (q.id == about) return Asked{q.says, "Answered: " + q.answer.value, {}, {}, Stage::plan, {}};
    for (const auto& f : a.findings)
        if (about == "finding " + f.id + ' ' + f.subject)
            return Asked{f.says, f.why, f.todo, {}, f.stage, f.place};
    if (about.starts_with("moment ")) return moment(a, about.substr(7));
    if (about.starts_with("net ")) {
        const std::string point(about.substr(4));
        const bool read = std::any_of(a.dossier.readings->begin(), a.dossier.readings->end(),
                                      [&](const MeterReading& r) { return r.a == point || r.b == point; });
        if (read) return Asked{"Where does " + point + " go?", {}, {}, {}, Stage::trace, {"net", point}};
    }
    if (about.starts_with("budget "))
        if (const auto* b = a.timing->find_budget(about.substr(7)))
            return Asked{
                b->budget.name + ": is this right?", {}, {}, {}, Stage::timing, {"budget", b->budget.id}};
    return std::nullopt;
}

}  // namespace

std::vector<SheetSubject> sheet_subjects(const Analysis& a, const Outlook& o) {
    std::vector<SheetSubject> out;
    for (const auto& q : o.questions.open) out.push_back({q.id, q.says});
    for (const auto& f : a.findings) {
        auto id = "finding " + f.id + ' ' + f.subject;
        if (o.questions.find(id) == nullptr) out.push_back({std::move(id), f.says});
    }
    for (const auto& b : a.dossier.timing->budgets) out.push_back({"budget " + b.id, "Budget: " + b.name});
    std::set<std::string> points;
    for (const auto& r : *a.dossier.readings)
        if (r.set_aside.empty()) points.insert({r.a, r.b});
    for (const auto& p : points) out.push_back({"net " + p, "Net of " + p});
    if (out.size() > most_sheet_subjects) out.resize(most_sheet_subjects);
    return out;
}

Result<std::string> question_sheet(const Analysis& a, const Outlook& o, std::string_view about) {
    if (const auto q = asked(a, o, about)) return Sheet(a).write(*q);
    std::string open;
    for (std::size_t i = 0; i < std::min<std::size_t>(o.questions.open.size(), 5); ++i)
        open += (open.empty() ? "" : ", ") + in_quotes(o.questions.open[i].id);
    return fail_usage(in_quotes(about),
                      fmt::format("an open question{}{}, or finding ID SUBJECT, net POINT, budget ID, moment "
                                  "CAPTURE TIME",
                                  open.empty() ? "" : " such as ", open));
}

}  // namespace grayrelic
