// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/output.hpp"
#include "core/json/json.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/capture/capture_file.hpp"
#include "core/dossier/store.hpp"
#include "render/picture.hpp"

namespace grayrelic::cli {

void put(std::FILE* where, const std::string& text) {
    std::string lines;
    for (const auto line : split(text, '\n')) lines += printable(line) + '\n';
    lines.pop_back();
    fmt::print(where, "{}", lines);
}

int report_error(const Error& error) {
    say(stderr, "{}\n", error.message());
    return error.kind == Error::Kind::usage ? wrong_usage : unreadable;
}

void print_json(const Json& json) {
    fmt::print("{}\n", json.dump(2, ' ', false, Json::error_handler_t::replace));
}

Json to_json(const Statistics& s) {
    const auto value = [&](double v) { return s.n == 0 ? Json() : Json(v); };
    return {{"n", s.n},
            {"min", value(s.min)},
            {"p01", value(s.p01)},
            {"median", value(s.median)},
            {"mean", value(s.mean)},
            {"p99", value(s.p99)},
            {"max", value(s.max)},
            {"sd", value(s.sd)}};
}

Json to_json(std::optional<Time> t) {
    return t ? Json(t->seconds()) : Json();
}

Json unsure_json(const std::vector<Unsure>& list) {
    Json out = Json::array();
    for (const auto& u : list)
        out.push_back({{"what", u.what}, {"values", u.values}, {"would_tell", u.would_tell}});
    return out;
}

Json to_json(const FrameExtra& value) {
    return std::visit(
        [](const auto& v) {
            if constexpr (std::is_same_v<std::decay_t<decltype(v)>, std::monostate>)
                return Json();
            else
                return Json(v);
        },
        value);
}

std::string show(const Statistics& s) {
    if (s.n == 0) return "none";
    const auto t = [](double v) { return print_number(v, Unit::second); };
    return fmt::format("n {}  min {}  median {}  mean {}  max {}  sd {}", print_count(s.n), t(s.min),
                       t(s.median), t(s.mean), t(s.max), t(s.sd));
}

namespace {

/// Columns on a terminal: UTF-8 continuation bytes take none.
std::size_t width_of(const std::string& text) {
    return static_cast<std::size_t>(std::count_if(
        text.begin(), text.end(), [](char c) { return (static_cast<unsigned char>(c) & 0xC0U) != 0x80U; }));
}

}  // namespace

void print_table(const std::vector<std::vector<std::string>>& rows) {
    std::vector<std::size_t> widths;
    auto shown = rows;
    for (auto& row : shown)
        for (auto& cell : row) cell = printable(cell);
    for (const auto& row : shown)
        for (std::size_t i = 0; i < row.size(); ++i) {
            if (widths.size() <= i) widths.push_back(0);
            widths[i] = std::max(widths[i], width_of(row[i]));
        }
    for (const auto& row : shown) {
        std::string line;
        for (std::size_t i = 0; i < row.size(); ++i) {
            line += row[i];
            if (i + 1 < row.size()) line += std::string(widths[i] - width_of(row[i]) + 2, ' ');
        }
        fmt::print("{}\n", line);
    }
}

int print_findings(const Findings& findings, std::optional<Stage> stage, bool json, Json gates) {
    auto list = Json::array();
    for (const auto& f : findings) {
        if (stage && f.stage != *stage) continue;
        list.push_back({{"id", f.id},
                        {"severity", word(f.severity)},
                        {"stage", word(f.stage)},
                        {"subject", f.subject},
                        {"says", f.says},
                        {"why", f.why},
                        {"do", f.todo}});
        if (!json) say("{:5}  {}\n       {}\n       {}\n", word(f.severity), f.says, f.why, f.todo);
    }
    const auto counts = count(findings, stage);
    if (json) {
        Json out = Json::object();
        if (!gates.is_null()) out["gates"] = std::move(gates);
        out["findings"] = std::move(list);
        out["counts"] = {{"stop", counts.stop}, {"doubt", counts.doubt}, {"note", counts.note}};
        print_json(out);
    } else
        say("{}\n", print(counts));
    return counts.stop > 0 ? bad_answer : fine;
}

Error usage_error(std::string found, std::string expected) {
    return {Error::Kind::usage, {}, 0, std::move(found), std::move(expected)};
}

}  // namespace grayrelic::cli
