// SPDX-License-Identifier: GPL-3.0-or-later
// What the codecs of a dossier's sections share, to read and to write. For those codecs only.
#pragma once

#include <fmt/format.h>

#include <cmath>
#include <filesystem>
#include <functional>
#include <set>

#include "core/base/date.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/base/words.hpp"
#include "core/dossier/fact.hpp"
#include "core/dossier/section_codec.hpp"
#include "core/json/json.hpp"
#include "core/json/json_node.hpp"

namespace grayrelic::dossier_codec {

inline constexpr std::size_t most_items = 100'000;

inline std::string read_id(JsonNode& node, const std::string& key) {
    auto child = node.required(key);
    auto id = child.text(most_name);
    if (id.empty()) child.fault("an empty text", "a name for " + print_path(child.path()));
    return id;
}

template <Vocabulary E>
E read_word(const JsonNode& node) {
    const auto text = node.text(64);
    const auto value = named<E>(text);
    if (!value) node.fault(in_quotes(text), one_of<E>() + " for " + print_path(node.path()));
    return *value;
}

template <Vocabulary E>
E read_word_or(JsonNode& parent, const std::string& key, E otherwise) {
    const auto child = parent.member(key);
    return child ? read_word<E>(*child) : otherwise;
}

inline Evidence read_evidence(JsonNode& node) {
    Evidence e;
    if (const auto kind = node.member("evidence")) e.kind = read_word<EvidenceKind>(*kind);
    e.source = node.text_or("source");
    e.tool = node.text_or("tool");
    e.date = node.text_or("date");
    return e;
}

/// Where a record keeps the members that it does not know. A record without such a place can't be read.
template <class T>
std::string& extra_of(T& record) {
    if constexpr (requires { record.extra; })
        return record.extra;
    else
        return record.value.evidence.extra;
}

/// One record, with the members that `read_members` did not ask for kept beside the others.
template <class T>
T read_record(JsonNode node, T (*read_members)(JsonNode&)) {
    node.require_object();
    T record = read_members(node);
    extra_of(record) = node.unknown_members();
    return record;
}

template <class T>
std::vector<T> read_items(const JsonNode& list, T (*read_members)(JsonNode&),
                          std::string T::*unique = nullptr) {
    std::vector<T> out;
    std::set<std::string> seen;
    for (const auto& element : list.elements(most_items)) {
        out.push_back(read_record(element, read_members));
        if (unique != nullptr && !seen.insert(out.back().*unique).second)
            element.fault(in_quotes(out.back().*unique) + " a second time",
                          "each one once in " + print_path(list.path()));
    }
    return out;
}

template <class T>
std::vector<T> read_list(JsonNode& parent, const std::string& key, T (*read_members)(JsonNode&),
                         std::string T::*unique = nullptr) {
    const auto list = parent.member(key);
    return list ? read_items(*list, read_members, unique) : std::vector<T>{};
}

inline std::vector<std::string> read_texts(JsonNode& parent, const std::string& key) {
    std::vector<std::string> out;
    if (const auto list = parent.member(key))
        for (const auto& element : list->elements(most_items)) out.push_back(element.text());
    return out;
}

/// A day, or nothing.
inline std::string read_day(JsonNode& n, const char* key) {
    const auto child = n.member(key);
    if (!child) return {};
    auto text = child->text(64);
    if (!text.empty() && !parse_day(text))
        child->fault(in_quotes(text), "a day such as 2026-11-29 for " + print_path(child->path()));
    return text;
}

inline Time read_time(const JsonNode& node) {
    if (node.is_number()) {
        const double seconds = node.number();
        if (!(std::abs(seconds) * 1e12 < 0x1p62))
            node.fault(node.shown(), "a time below 53 days for " + print_path(node.path()));
        return Time::from_seconds(seconds);
    }
    const auto text = node.text(64);
    const auto time = parse_time(text);
    if (!time) node.fault(in_quotes(text), time.error().expected + " for " + print_path(node.path()));
    return *time;
}

inline std::optional<Time> read_optional_time(JsonNode& node, const std::string& key) {
    const auto child = node.member(key);
    return child ? std::optional(read_time(*child)) : std::nullopt;
}

template <class T>
Fact<T> read_fact(JsonNode& parent, const std::string& key,
                  const std::function<T(const JsonNode&)>& read_value) {
    Fact<T> fact;
    auto node = parent.member(key);
    if (!node) return fact;
    if (const auto value = node->member("value")) fact.value = read_value(*value);
    if (const auto pm = node->member("plus_minus")) fact.uncertainty = pm->number();
    fact.evidence = read_evidence(*node);
    fact.evidence.extra = node->unknown_members();
    return fact;
}

inline std::string plain_text(const JsonNode& n) {
    return n.text();
}

template <Unit U>
std::optional<Quantity<U>> read_quantity(const JsonNode& node) {
    if (node.is_number()) return Quantity<U>(node.number());
    const auto text = node.text(64);
    const auto value = parse_quantity<U>(text);
    if (!value) node.fault(in_quotes(text), value.error().expected + " for " + print_path(node.path()));
    return *value;
}

/// A path below the dossier's folder.
inline std::string read_inner_file(JsonNode& n) {
    const auto child = n.required("file");
    auto file = child.text();
    const std::filesystem::path path(file);
    bool leaves = path.is_absolute() || file.empty() || file.find('\\') != std::string::npos ||
                  file.find('\0') != std::string::npos;
    for (const auto& part : path) leaves = leaves || part == "..";
    if (leaves) child.fault(in_quotes(file), "a path inside the dossier's folder");
    return file;
}

inline void add_extra(Json& object, const std::string& extra) {
    if (extra.empty()) return;
    const auto parsed = Json::parse(extra, nullptr, false);
    if (!parsed.is_object()) return;
    for (const auto& [key, value] : parsed.items())
        if (!object.contains(key)) object[key] = value;
}

inline void add_text(Json& object, const char* key, const std::string& text) {
    if (!text.empty()) object[key] = text;
}

inline void add_evidence(Json& object, const Evidence& e) {
    object["evidence"] = word(e.kind);
    add_text(object, "source", e.source);
    add_text(object, "tool", e.tool);
    add_text(object, "date", e.date);
    add_extra(object, e.extra);
}

/// Plain ASCII units in files: "1.9us", "120mA".
inline std::string ascii(std::string text) {
    const auto replace = [&](std::string_view from, std::string_view to) {
        for (auto at = text.find(from); at != std::string::npos; at = text.find(from, at + to.size()))
            text.replace(at, from.size(), to);
    };
    replace("µ", "u");
    replace("Ω", "ohm");
    replace("−", "-");
    return text;
}

inline Json time(Time t) {
    return ascii(print_exact(t));
}

template <class T>
void add_fact(Json& object, const char* key, const Fact<T>& fact, Json value) {
    if (fact == Fact<T>{}) return;
    Json f = Json::object();
    if (!value.is_null()) f["value"] = std::move(value);
    if (fact.uncertainty) f["plus_minus"] = *fact.uncertainty;
    add_evidence(f, fact.evidence);
    object[key] = std::move(f);
}

inline void add_fact(Json& object, const char* key, const Fact<std::string>& fact) {
    add_fact(object, key, fact, fact.value.empty() ? Json() : Json(fact.value));
}

template <Unit U>
void add_fact(Json& object, const char* key, const Fact<std::optional<Quantity<U>>>& fact) {
    add_fact(object, key, fact, fact.value ? Json(ascii(print_exact(fact.value->value(), U))) : Json());
}

/// A number with its evidence; figures from `least` to `most`.
inline double figure_in(const JsonNode& node, double least, double most) {
    const double v = node.number();
    if (!(v >= least && v <= most))
        node.fault(node.shown(),
                   fmt::format("a number from {} to {} for {}", least, most, print_path(node.path())));
    return v;
}

inline NumberFact read_number_fact(JsonNode& node) {
    constexpr double most_number = 1e18;
    NumberFact f;
    f.key = read_id(node, "key");
    f.value.value = figure_in(node.required("value"), -most_number, most_number);
    if (const auto pm = node.member("plus_minus"))
        f.value.uncertainty = figure_in(*pm, -most_number, most_number);
    f.value.evidence = read_evidence(node);
    return f;
}

inline Json number_json(const NumberFact& f) {
    Json j = {{"key", f.key}, {"value", f.value.value}};
    if (f.value.uncertainty) j["plus_minus"] = *f.value.uncertainty;
    add_evidence(j, f.value.evidence);
    return j;
}

/// A record as an object, with the members of newer versions that it carries.
template <class T, class Write>
Json record(const T& item, Write write) {
    Json out = write(item);
    if constexpr (requires { item.extra; })
        add_extra(out, item.extra);
    else
        add_extra(out, item.value.evidence.extra);
    return out;
}

template <class T, class Write>
Json list_of(const std::vector<T>& list, Write write) {
    Json out = Json::array();
    for (const auto& item : list) out.push_back(record(item, write));
    return out;
}

/// A list of which there are at most so many.
template <class T>
std::vector<T> read_bounded(JsonNode& n, const char* key, std::size_t most, T (*read_members)(JsonNode&),
                            std::string T::*unique = nullptr) {
    auto list = read_list<T>(n, key, read_members, unique);
    if (list.size() > most) n.fault(fmt::format("{} {}", list.size(), key), fmt::format("at most {}", most));
    return list;
}

}  // namespace grayrelic::dossier_codec
