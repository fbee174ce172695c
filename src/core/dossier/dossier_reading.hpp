// SPDX-License-Identifier: GPL-3.0-or-later
// What the readers of a dossier's sections share. For those readers only.
#pragma once

#include <filesystem>
#include <functional>
#include <set>

#include "core/base/text.hpp"
#include "core/dossier/fact.hpp"
#include "core/dossier/timing.hpp"
#include "core/dossier/trace.hpp"
#include "core/json/json_node.hpp"

namespace grayrelic::dossier_reading {

inline constexpr std::size_t most_items = 100'000;

inline std::string read_id(JsonNode& node, const std::string& key) {
    auto child = node.required(key);
    auto id = child.text(200);
    if (id.empty()) child.fault("an empty text", "a name for " + print_path(child.path()));
    return id;
}

template <class Word>
auto read_word(const JsonNode& node, Word named, const char* expected) {
    const auto text = node.text(64);
    const auto value = named(text);
    if (!value) node.fault(in_quotes(text), std::string(expected) + " for " + print_path(node.path()));
    return *value;
}

inline Evidence read_evidence(JsonNode& node) {
    Evidence e;
    if (const auto kind = node.member("evidence"))
        e.kind = read_word(*kind, evidence_kind, "measured, documented, deduced or assumed");
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
std::vector<T> read_list(JsonNode& parent, const std::string& key, T (*read_members)(JsonNode&),
                         std::string T::*unique = nullptr) {
    std::vector<T> out;
    const auto list = parent.member(key);
    if (!list) return out;
    std::set<std::string> seen;
    for (const auto& element : list->elements(most_items)) {
        out.push_back(read_record(element, read_members));
        if (unique != nullptr && !seen.insert(out.back().*unique).second)
            element.fault(in_quotes(out.back().*unique) + " a second time",
                          "each one once in " + print_path(list->path()));
    }
    return out;
}

inline std::vector<std::string> read_texts(JsonNode& parent, const std::string& key) {
    std::vector<std::string> out;
    if (const auto list = parent.member(key))
        for (const auto& element : list->elements(most_items)) out.push_back(element.text());
    return out;
}

inline Time read_time(const JsonNode& node) {
    if (node.is_number()) return Time::from_seconds(node.number());
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

/// In dossier_read_timing.cpp.
[[nodiscard]] Timing read_timing(JsonNode& n);
/// In dossier_read_trace.cpp.
[[nodiscard]] Trace read_trace(JsonNode& n);
[[nodiscard]] MeterReading read_reading(JsonNode& n);

}  // namespace grayrelic::dossier_reading
