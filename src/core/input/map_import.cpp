// SPDX-License-Identifier: GPL-3.0-or-later
// Tables of a map read back, and held against the dossier.
#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/base/table.hpp"
#include "core/base/text.hpp"
#include "core/input/map_table.hpp"
#include "core/json/json_node.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_entries = 100'000;

using EntryKey = std::pair<std::string, std::string>;

/// What an entry is found by.
EntryKey key_of(const MapEntry& e) {
    return {e.code.empty() ? "key " + e.key : e.code, e.with};
}

/// An entry of the JSON form; `seen` refuses a code with two meanings, while two keys may share one.
void take_entry(JsonNode n, std::map<EntryKey, std::string>& seen, std::vector<MapEntry>& out) {
    MapEntry e;
    e.key = n.text_or("key");
    e.legend = n.text_or("legend");
    e.code = n.text_or("code");
    e.release = n.text_or("release");
    e.with = n.text_or("with");
    e.meaning = n.text_or("meaning");
    if (!e.meaning.empty())
        if (const auto m = parse_meaning(e.meaning); !m)
            n.required("meaning").fault(m.error().found, m.error().expected);
    const auto [at, fresh] = seen.emplace(key_of(e), e.meaning);
    if (!fresh && at->second != e.meaning)
        n.fault("the code " + in_quotes(e.code) + " with another meaning", "one meaning a code");
    out.push_back(std::move(e));
}

Result<std::vector<MapEntry>> read_json_map(std::string_view text, const std::string& name) {
    return read_json(text, name, "a map as JSON", [](JsonNode& root) {
        std::vector<MapEntry> out;
        std::map<EntryKey, std::string> seen;
        for (const auto& n : root.required("entries").elements(most_entries)) take_entry(n, seen, out);
        return out;
    });
}

Result<std::vector<MapEntry>> read_csv_map(std::string_view text, const std::string& name) {
    const auto table = read_table(text, name, "a map as JSON or CSV", {16U << 20U, most_entries, 64});
    if (!table) return fail(table.error());
    const auto keys = heading_keys(table->rows.front());
    for (const char* needed : {"code", "meaning"})
        if (std::find(keys.begin(), keys.end(), needed) == keys.end())
            return fail_at(name, table->rows.front().line, fmt::format("no column \"{}\"", needed),
                           "the columns code and meaning");
    std::vector<MapEntry> out;
    std::map<EntryKey, std::string> seen;
    for (std::size_t i = 1; i < table->rows.size(); ++i) {
        const auto& row = table->rows[i];
        const auto cell = [&](const char* key) { return cell_below(keys, row, key); };
        MapEntry e{cell("key"), cell("legend"), cell("code"), cell("release"), cell("with"), cell("meaning")};
        if (e.code.empty() && e.key.empty()) return fail_at(name, row.line, "no code", "the old code");
        if (!e.meaning.empty())
            if (const auto m = parse_meaning(e.meaning); !m)
                return fail_at(name, row.line, m.error().found, m.error().expected);
        const auto [at, fresh] = seen.emplace(key_of(e), e.meaning);
        if (!fresh && at->second != e.meaning)
            return fail_at(name, row.line, fmt::format("the code {} with another meaning", in_quotes(e.code)),
                           "one meaning a code");
        out.push_back(std::move(e));
    }
    return out;
}

std::string said(const MapEntry& e) {
    auto out = e.code.empty() ? e.key : e.code;
    if (!e.with.empty()) out += " with " + e.with;
    if (!e.legend.empty()) out += " (" + e.legend + ")";
    return out;
}

std::string or_nothing(const std::string& text) {
    return text.empty() ? "nothing" : text;
}

}  // namespace

Result<std::vector<MapEntry>> read_map_table(std::string_view text, const std::string& name) {
    const auto start = text.find_first_not_of(" \t\r\n");
    if (start != std::string_view::npos && text[start] == '{') return read_json_map(text, name);
    return read_csv_map(text, name);
}

std::vector<MapChange> compare_maps(const std::vector<MapEntry>& before, const std::vector<MapEntry>& after) {
    std::vector<MapChange> out;
    std::map<EntryKey, const MapEntry*> theirs, ours;
    for (const auto& e : after) theirs.emplace(key_of(e), &e);
    for (const auto& e : before) {
        if (!ours.emplace(key_of(e), &e).second) continue;
        const auto it = theirs.find(key_of(e));
        if (it == theirs.end())
            out.push_back({MapChange::Kind::gone,
                           e,
                           {},
                           fmt::format("{} is gone; it became {}", said(e), or_nothing(e.meaning))});
        else if (it->second->meaning != e.meaning || it->second->release != e.release)
            out.push_back({MapChange::Kind::changed, e, *it->second,
                           it->second->meaning != e.meaning
                               ? fmt::format("{} becomes {} instead of {}", said(e),
                                             or_nothing(it->second->meaning), or_nothing(e.meaning))
                               : fmt::format("{} is released by {} instead of {}", said(e),
                                             or_nothing(it->second->release), or_nothing(e.release))});
    }
    for (const auto& e : after)
        if (ours.find(key_of(e)) == ours.end())
            out.push_back({MapChange::Kind::added,
                           {},
                           e,
                           fmt::format("{} is new; it becomes {}", said(e), or_nothing(e.meaning))});
    return out;
}

DeviceMap take_map_table(const DeviceMap& map, const std::vector<MapEntry>& entries) {
    DeviceMap out = map;
    std::map<EntryKey, const MapEntry*> theirs;
    for (const auto& e : entries) theirs.emplace(key_of(e), &e);
    for (auto& k : out.keys) {
        auto code = k.code.value;
        if (code.empty() && !k.row.empty()) code = k.row + " " + k.column;
        if (const auto it = theirs.find(key_of({k.id, k.legend, code, {}, {}, {}})); it != theirs.end()) {
            k.meaning = it->second->meaning;
            k.release = it->second->release;
        }
        for (auto& s : k.shifted)
            if (const auto it = theirs.find(key_of({k.id, k.legend, s.code, {}, s.with, {}}));
                it != theirs.end())
                s.meaning = it->second->meaning;
    }
    return out;
}

}  // namespace grayrelic
