// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/html_report.hpp"

#include <fmt/format.h>

#include "core/base/long_work.hpp"
#include "core/base/palette.hpp"
#include "core/base/text.hpp"
#include "core/report/html.hpp"
#include "core/report/report_sections.hpp"

namespace grayrelic {
namespace {

using namespace html;

constexpr std::string_view style = R"(
body{background:@sheet;color:@ink;font:15px/1.5 B612,sans-serif;max-width:860px;margin:2em auto;padding:0 1em}
h1{font-size:26px;margin-bottom:0}h2{font-size:19px;border-top:1px solid @hairline;padding-top:.8em;margin-top:2em}
h3{font-size:15px;margin-bottom:.3em}p.sub,td.sub,.sub{color:@ink2}
table{border-collapse:collapse;width:100%;font-size:13px}th{text-align:left;color:@ink2;font-weight:normal}
td,th{border-bottom:1px solid @hairline;padding:4px 8px 4px 0;vertical-align:top}
td.n,th.n{text-align:right;font-family:"B612 Mono",monospace;white-space:nowrap}i{color:@ink2}
.mark{display:inline-block;vertical-align:baseline;margin-right:6px}svg{max-width:100%;height:auto}
nav{columns:2;font-size:13px}nav a{color:@ink}nav p{margin:.1em 0}pre{font:12px "B612 Mono",monospace;white-space:pre-wrap}
p.caution{border-left:4px solid @oxide;padding-left:10px}
@media print{body{margin:0}h2{break-after:avoid}table,svg{break-inside:avoid}}
)";

void write_findings(const Analysis& a, std::string& out) {
    out += paragraph(
        e(print(count(a.findings))) + (more_to_come(a) ? " so far: not everything has been computed" : ""),
        true);
    Table t({{"Finding"}, {"Stage"}});
    for (const auto& f : a.findings)
        t.row({fmt::format("{}<b>{}</b><br>{}<br>{}", mark(word(f.severity)), e(f.says), e(f.why),
                           sub(e(f.todo))),
               sub(label(f.stage))});
    out += t.html();
}

std::string heading(std::string_view id, std::string_view text) {
    return fmt::format("<h2 id=\"{0}\"><a name=\"{0}\">{1}</a></h2>\n", id, e(text));
}

std::string contents(const std::vector<std::pair<std::string, std::string>>& headings) {
    std::string out = "<nav>\n";
    for (const auto& [id, text] : headings)
        out += fmt::format("<p><a href=\"#{}\">{}</a></p>\n", id, e(text));
    return out + "</nav>\n";
}

}  // namespace

const std::vector<ReportSection>& report_sections() {
    static const std::vector<ReportSection> all = [] {
        std::vector<ReportSection> list;
        for (auto stage :
             {job_sections(), plan_sections(), port_sections(), trace_sections(), listen_sections(),
              timing_sections(), wire_sections(), rail_sections(), map_sections(), board_sections(),
              build_sections(), log_sections(), money_sections()})
            list.insert(list.end(), stage.begin(), stage.end());
        return list;
    }();
    return all;
}

std::string html_report(const Analysis& analysis) {
    Progress progress;
    return html_report(analysis, progress).value();
}

Result<std::string> html_report(const Analysis& a, Progress& progress) {
    long_work("html_report");
    const auto& about = *a.dossier.about;
    std::vector<const ReportSection*> written;
    std::vector<std::pair<std::string, std::string>> headings{{"findings", "Findings"}};
    for (const auto& s : report_sections())
        if (s.any(a)) {
            written.push_back(&s);
            headings.emplace_back(s.id, fmt::format("{}: {}", label(s.stage), s.title));
        }
    std::string out = fmt::format(
        "<!DOCTYPE html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">\n<meta name=\"viewport\" "
        "content=\"width=device-width\">\n"
        "<title>{}</title>\n<style>{}</style>\n</head>\n<body>\n<h1>{}</h1>\n<p class=\"sub\">Revision "
        "{}</p>\n",
        e(about.name), in_colours(style), e(about.name), about.revision);
    if (!about.purpose.empty()) out += paragraph(e(about.purpose));
    out += contents(headings);
    out += heading("findings", "Findings");
    write_findings(a, out);
    double done = 0.0;
    for (std::size_t i = 0; i < written.size(); ++i) {
        if (progress.cancelled()) return fail_cancelled();
        out += heading(headings[i + 1].first, headings[i + 1].second);
        written[i]->write(a, out);
        progress.report(++done / static_cast<double>(written.size()));
    }
    return out + "</body>\n</html>\n";
}

}  // namespace grayrelic
