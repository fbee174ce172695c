// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/record/dossier_lines.hpp"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <map>

#include "core/base/date.hpp"
#include "core/base/text.hpp"
#include "core/dossier/dossier_json.hpp"
#include "core/json/json.hpp"

namespace grayrelic {
namespace {

using Tree = Json;

/// What tells a thing from others in its list.
std::string name_in_list(const Tree& item, std::size_t place) {
    for (const auto* key : {"id", "ref", "pin", "number", "key", "name", "signal", "file", "part", "task"})
        if (const auto at = item.is_object() ? item.find(key) : item.end(); at != item.end()) {
            if (at->is_string() && !at->get_ref<const std::string&>().empty()) return at->get<std::string>();
            if (at->is_number_integer()) return at->dump();
        }
    return fmt::format("{}.", place + 1);
}

std::string text_of(const Tree& value) {
    return value.is_string() ? value.get<std::string>() : value.dump();
}

bool is_fact(const Tree& item) {
    return item.contains("evidence") && (item.contains("value") || item.contains("plus_minus"));
}

std::string fact_text(const Tree& item) {
    std::string out = item.contains("value") ? text_of(item["value"]) : std::string("not known");
    if (item.contains("plus_minus")) out += " ± " + text_of(item["plus_minus"]);
    out += " (" + text_of(item["evidence"]);
    std::string more;
    for (const auto* key : {"source", "tool", "date"})
        if (item.contains(key)) more += (more.empty() ? "" : ", ") + text_of(item[key]);
    return out + (more.empty() ? ")" : ": " + more + ")");
}

bool plain_list(const Tree& list) {
    return std::none_of(list.begin(), list.end(), [](const Tree& t) { return t.is_structured(); });
}

class Walker {
  public:
    std::vector<DossierLine> out;
    void walk(const Tree& at, const std::string& section);

  private:
    void object(const Tree& at);
    void list(const Tree& at);
    void text(const std::string& value);
    void leaf(std::string value, const std::string& day, bool is_day);
    template <class Inside>
    void within(const std::string& step, Inside inside) {
        path_.push_back(step);
        inside();
        path_.pop_back();
    }
    std::string section_;
    std::vector<std::string> path_;
    std::size_t entry_ = 0;  ///< so many steps of the path name a thing
};

void Walker::leaf(std::string value, const std::string& day, bool is_day) {
    DossierLine line;
    line.section = section_;
    line.path = path_;
    line.value = std::move(value);
    line.day = day;
    line.is_day = is_day;
    line.entry = print({path_.begin(), path_.begin() + static_cast<std::ptrdiff_t>(entry_)});
    out.push_back(std::move(line));
}

/// Each line under its first word; equal ones are numbered. A line that begins with a space goes on with the
/// one above.
void Walker::text(const std::string& value) {
    std::vector<std::string> whole;
    for (const auto part : split(value, '\n')) {
        const auto line = trim(part);
        if (line.empty()) continue;
        const bool goes_on = part.front() == ' ' || part.front() == '\t';
        if (goes_on && !whole.empty())
            whole.back() += " " + std::string(line);
        else
            whole.emplace_back(line);
    }
    std::map<std::string, int> seen;
    for (auto& line : whole) {
        auto word = line.substr(0, line.find_first_of(" \t:"));
        const int times = ++seen[word];
        if (times > 1) word += fmt::format(" ({})", times);
        within(word, [&] { leaf(std::move(line), {}, false); });
    }
}

void Walker::list(const Tree& at) {
    if (plain_list(at)) {
        std::vector<std::string> values;
        for (const auto& v : at) values.push_back(text_of(v));
        if (!values.empty()) leaf(fmt::format("{}", fmt::join(values, ", ")), {}, false);
        return;
    }
    std::map<std::string, int> seen;
    for (std::size_t i = 0; i < at.size(); ++i) {
        auto name = name_in_list(at[i], i);
        const int times = ++seen[name];
        if (times > 1) name += fmt::format(" ({})", times);
        within(name, [&] {
            const auto before = std::exchange(entry_, path_.size());
            walk(at[i], section_);
            entry_ = before;
        });
    }
}

void Walker::object(const Tree& at) {
    if (is_fact(at)) {
        const auto day = at.find("date");
        const bool dated = day != at.end() && day->is_string() && parse_day(day->get<std::string>());
        leaf(fact_text(at), dated ? day->get<std::string>() : std::string(), false);
        out.back().evidence = text_of(at["evidence"]);
        if (at.contains("source")) out.back().source = text_of(at["source"]);
        for (const auto& member : at.items())
            if (member.value().is_structured()) within(member.key(), [&] { walk(member.value(), section_); });
        return;
    }
    for (const auto& member : at.items()) {
        const auto& key = member.key();
        const Tree& value = member.value();
        const bool lines = (key == "lines" || key == "rails") && value.is_array() && plain_list(value);
        within(key, [&] {
            if (!lines) return walk(value, section_);
            std::string whole;
            for (const auto& line : value) whole += text_of(line) + "\n";
            text(whole);
        });
    }
}

void Walker::walk(const Tree& at, const std::string& section) {
    section_ = section;
    if (at.is_object()) {
        object(at);
    } else if (at.is_array()) {
        list(at);
    } else if (at.is_string() && at.get_ref<const std::string&>().find('\n') != std::string::npos) {
        text(at.get<std::string>());
    } else if (!at.is_null()) {
        const auto value = text_of(at);
        const bool is_day = at.is_string() && parse_day(value).has_value();
        leaf(value, is_day ? value : std::string(), is_day);
    }
}

}  // namespace

std::string print(const std::vector<std::string>& path) {
    return fmt::format("{}", fmt::join(path, " / "));
}

std::vector<DossierLine> dossier_lines(const Dossier& dossier) {
    const auto tree = Tree::parse(dossier_to_json(dossier), nullptr, false);
    Walker walker;
    if (!tree.is_object()) return {};
    Tree about = Tree::object();
    for (const auto& [key, value] : tree.items())
        if (!value.is_structured() && key != "format" && key != "version") about[key] = value;
    walker.walk(about, "about");
    for (const auto& [key, value] : tree.items())
        if (value.is_structured()) walker.walk(value, key);
    return std::move(walker.out);
}

std::optional<Stage> stage_of_section(const std::string& section) {
    static const std::map<std::string, Stage> stages{
        {"about", Stage::plan},      {"units", Stage::plan},      {"supply", Stage::plan},
        {"plan", Stage::plan},       {"dimensions", Stage::plan}, {"ports", Stage::port},
        {"cables", Stage::port},     {"readings", Stage::trace},  {"trace", Stage::trace},
        {"captures", Stage::listen}, {"timing", Stage::timing},   {"wire", Stage::wire},
        {"map", Stage::map},         {"boards", Stage::board},    {"stacks", Stage::board},
        {"builds", Stage::build},    {"log", Stage::log}};
    const auto at = stages.find(section);
    return at == stages.end() ? std::nullopt : std::optional(at->second);
}

}  // namespace grayrelic
