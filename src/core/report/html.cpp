// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/html.hpp"

#include <fmt/format.h>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/report/svg.hpp"

namespace grayrelic::html {

std::string e(std::string_view text) {
    return escape_markup(text);
}

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

std::string mark(Verdict v) {
    return mark(word(v));
}

std::string evidence(const Evidence& ev) {
    auto text = std::string(word(ev.kind));
    if (ev.kind == EvidenceKind::assumed) text = "<i>assumed</i>";
    if (!ev.source.empty()) text += ": " + e(ev.source);
    if (!ev.date.empty()) text += ", " + e(ev.date);
    return text;
}

std::string time(const std::optional<Time>& t) {
    return t ? e(print(*t)) : std::string("·");
}

std::string number(double value, int decimals) {
    return fmt::format("{:.{}f}", value, decimals);
}

std::string sub(std::string_view html) {
    return fmt::format("<span class=\"sub\">{}</span>", html);
}

std::string h3(std::string_view text) {
    return fmt::format("<h3>{}</h3>\n", e(text));
}

std::string paragraph(std::string_view html, bool secondary) {
    return fmt::format("<p{}>{}</p>\n", secondary ? " class=\"sub\"" : "", html);
}

void Table::row(std::vector<std::string> cells) {
    cells.resize(columns_.size());
    rows_.push_back(std::move(cells));
}

std::string Table::html() const {
    if (rows_.empty()) return {};
    // A column in which nobody says anything takes the room of the others.
    std::vector<bool> said(columns_.size());
    for (const auto& row : rows_)
        for (std::size_t i = 0; i < row.size(); ++i) said[i] = said[i] || !row[i].empty();
    std::string out = "<table width=\"100%\">\n<tr>";
    for (std::size_t i = 0; i < columns_.size(); ++i)
        if (said[i])
            out += fmt::format("<th{}>{}</th>",
                               columns_[i].figure ? " class=\"n\" align=\"right\"" : " align=\"left\"",
                               e(columns_[i].heading));
    out += "</tr>\n";
    for (const auto& row : rows_) {
        out += "<tr>";
        for (std::size_t i = 0; i < row.size(); ++i)
            if (said[i])
                out += fmt::format("<td{}>{}</td>", columns_[i].figure ? " class=\"n\" align=\"right\"" : "",
                                   row[i]);
        out += "</tr>\n";
    }
    return out + "</table>\n";
}

std::string more_rows(std::size_t all) {
    if (all <= most_rows) return {};
    return paragraph(fmt::format("and {} more, which the dossier holds",
                                 print_count(static_cast<long long>(all - most_rows))),
                     true);
}

}  // namespace grayrelic::html
