// SPDX-License-Identifier: GPL-3.0-or-later
// Listen in the report: the captures and how they are read, the bits, what was pressed when.
#include <fmt/format.h>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/report/html.hpp"
#include "core/report/report_sections.hpp"

namespace grayrelic {
namespace {

using namespace html;

std::string read_as(const CaptureAnalysis& c) {
    if (!c.decoding) return c.decode_problem.empty() ? "not decoded" : e(c.decode_problem);
    return fmt::format("{}: {}, {}", e(c.decoding->kind),
                       plural(static_cast<long long>(c.decoding->frames.size()), "word", "words"),
                       plural(c.decoding->frames_with_errors(), "with errors", "with errors"));
}

void write_captures(const Analysis& a, std::string& out) {
    Table t({{"Capture"}, {"Length", true}, {"Edges", true}, {"Rate", true}, {"Read as"}});
    for (const auto& c : a.listen->captures) {
        const auto name = "<b>" + e(c->ref.title) + "</b>";
        if (!c->capture) {
            t.row({name, {}, {}, {}, e(c->problem)});
            continue;
        }
        const auto rate = c->sample_period ? print(Hertz(1.0 / c->sample_period->seconds())) +
                                                 (c->sample_period_found ? " (deduced)" : "")
                                           : std::string("not known");
        t.row({name, e(print(c->capture->extent.length())),
               print_count(static_cast<long long>(c->capture->edge_count())), e(rate), read_as(*c)});
    }
    out += t.html();
    for (const auto& c : a.listen->captures) {
        Table signals({{"Signal"}, {"Pin"}});
        for (const auto& tie : c->ref.ties) signals.row({e(tie.signal), e(c->ref.port + " " + tie.pin)});
        if (signals.empty() && c->ref.note.empty()) continue;
        out += h3(c->ref.title);
        if (!c->ref.note.empty()) out += paragraph(e(c->ref.note));
        out += signals.html();
    }
}

bool has_bits(const CaptureRef& c) {
    return !c.decode.bits.empty() || !c.moments.empty();
}

void write_bits(const Analysis& a, std::string& out) {
    Table bits({{"Family"}, {"Bit", true}, {"Name"}});
    std::vector<std::pair<std::string, std::vector<std::string>>> seen;
    for (const auto& c : *a.dossier.captures) {
        if (c.decode.bits.empty()) continue;
        // Recordings that are read the same way have the same names.
        if (std::find(seen.begin(), seen.end(), std::pair(c.decode.kind, c.decode.bits)) != seen.end())
            continue;
        seen.emplace_back(c.decode.kind, c.decode.bits);
        for (std::size_t i = 0; i < c.decode.bits.size(); ++i)
            if (!c.decode.bits[i].empty())
                bits.row({e(c.decode.kind), std::to_string(i), "<b>" + e(c.decode.bits[i]) + "</b>"});
    }
    out += bits.html();
    Table moments({{"Capture"}, {"From", true}, {"To", true}, {"Pressed"}});
    for (const auto& c : *a.dossier.captures)
        for (const auto& m : c.moments)
            moments.row(
                {e(c.title), e(print(m.from)), e(print(m.to)), m.pressed.empty() ? "nothing" : e(m.pressed)});
    out += moments.html();
}

}  // namespace

std::vector<ReportSection> listen_sections() {
    return {
        {Stage::listen, "listen-captures", "Captures",
         [](const Analysis& a) { return !a.dossier.captures->empty(); }, write_captures},
        {Stage::listen, "listen-bits", "Bits and presses",
         [](const Analysis& a) {
             return std::any_of(a.dossier.captures->begin(), a.dossier.captures->end(), has_bits);
         },
         write_bits},
    };
}

}  // namespace grayrelic
