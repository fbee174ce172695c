// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/person/drawer.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>

#include "core/base/table.hpp"
#include "core/person/kept_file.hpp"

namespace grayrelic {
namespace {

constexpr KeptFormat<Drawer> drawer_format{drawer_from_json, drawer_to_json, most_person_bytes};

DrawerPart read_part(JsonNode& n) {
    n.require_object();
    DrawerPart p;
    const auto name = n.required("part");
    p.part = name.text(most_name);
    if (part_key(p.part).empty()) name.fault("an empty text", "what the part is called");
    p.kind = read_kept_word(n, "kind", PartKind::other);
    p.count = static_cast<int>(n.required("count").whole(0, most_in_drawer));
    p.place = n.text_or("place");
    p.note = n.text_or("note");
    p.extra = n.unknown_members();
    return p;
}

}  // namespace

std::string part_key(std::string_view part) {
    std::string out;
    for (const auto word : split(trim(part), ' ')) {
        if (word.empty()) continue;
        if (!out.empty()) out += ' ';
        out += word;
    }
    std::transform(out.begin(), out.end(), out.begin(),
                   [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c; });
    return out;
}

int Drawer::count_of(std::string_view part) const {
    const auto key = part_key(part);
    long long total = 0;
    for (const auto& p : parts)
        if (part_key(p.part) == key) total += p.count;
    return static_cast<int>(std::min<long long>(total, most_in_drawer));
}

const DrawerPart* Drawer::find(std::string_view part) const {
    const auto key = part_key(part);
    const auto at = std::find_if(parts.begin(), parts.end(),
                                 [&](const DrawerPart& p) { return part_key(p.part) == key; });
    return at == parts.end() ? nullptr : &*at;
}

DrawerPart* Drawer::find(std::string_view part) {
    const auto* there = std::as_const(*this).find(part);
    return there == nullptr ? nullptr : &parts[static_cast<std::size_t>(there - parts.data())];
}

DrawerPart& Drawer::entry(std::string_view part, PartKind kind) {
    if (auto* there = find(part)) return *there;
    DrawerPart made;
    made.part = std::string(trim(part));
    made.kind = kind;
    parts.push_back(std::move(made));
    return parts.back();
}

void Drawer::set_count(std::string_view part, PartKind kind, int count) {
    auto& first = entry(part, kind);
    const auto key = part_key(part);
    for (auto& p : parts)
        if (part_key(p.part) == key) p.count = 0;
    first.count = count;
}

Result<Drawer> drawer_from_json(std::string_view text, const std::string& file) {
    return read_json(text, file, "a drawer as JSON", [](JsonNode& root) {
        check_kept_head(root, "gray-relic-drawer");
        Drawer d;
        if (const auto list = root.member("parts"))
            for (auto& n : list->elements(most_drawer_parts)) d.parts.push_back(read_part(n));
        d.extra = root.unknown_members();
        return d;
    });
}

std::string drawer_to_json(const Drawer& d) {
    Json j = {{"format", "gray-relic-drawer"}, {"version", 1}, {"parts", Json::array()}};
    for (const auto& p : d.parts) {
        Json x = {{"part", p.part}, {"kind", word(p.kind)}, {"count", p.count}};
        add_kept_text(x, "place", p.place);
        add_kept_text(x, "note", p.note);
        add_kept_extra(x, p.extra);
        j["parts"].push_back(std::move(x));
    }
    add_kept_extra(j, d.extra);
    return j.dump(2, ' ', false, Json::error_handler_t::replace) + "\n";
}

Result<Drawer> drawer_from_csv(std::string_view text, const std::string& name) {
    const auto table = read_table(text, name, "a drawer as a table", {64U << 20U, most_drawer_parts, 50});
    if (!table) return fail(table.error());
    const auto& heading = table->rows.front();
    const auto keys = heading_keys(heading);
    for (const auto* key : {"part", "count"})
        if (std::count(keys.begin(), keys.end(), key) != 1)
            return fail_at(name, heading.line, fmt::format("no single column {}", in_quotes(key)),
                           "the columns part,count, and kind,place,note if wanted");
    Drawer out;
    for (std::size_t i = 1; i < table->rows.size(); ++i) {
        const auto& row = table->rows[i];
        const auto cell = [&](std::string_view key) { return cell_below(keys, row, key); };
        DrawerPart p;
        p.part = cell("part");
        if (part_key(p.part).empty() || p.part.size() > most_name)
            return fail_at(name, row.line, "an empty or endless name in column part",
                           "what the part is called");
        const auto count = cell("count");
        const auto [end, code] = std::from_chars(count.data(), count.data() + count.size(), p.count);
        if (code != std::errc() || end != count.data() + count.size() || p.count < 0 ||
            p.count > most_in_drawer)
            return fail_at(name, row.line, in_quotes(count) + " in column count",
                           "a whole number from 0 to 10,000,000");
        if (const auto kind = cell("kind"); !kind.empty()) {
            const auto known = named<PartKind>(kind);
            if (!known)
                return fail_at(name, row.line, in_quotes(kind) + " in column kind", one_of<PartKind>());
            p.kind = *known;
        }
        p.place = cell("place");
        p.note = cell("note");
        out.parts.push_back(std::move(p));
    }
    return out;
}

std::string drawer_to_csv(const Drawer& d) {
    std::string out = "part,kind,count,place,note\n";
    for (const auto& p : d.parts)
        out += table_cell(p.part) + "," + std::string(word(p.kind)) + "," + std::to_string(p.count) + "," +
               table_cell(p.place) + "," + table_cell(p.note) + "\n";
    return out;
}

Result<Drawer> read_drawer(FileSystem& files, const std::filesystem::path& file) {
    return read_kept(files, file, drawer_format);
}

Result<Drawer> change_drawer(FileSystem& files, const std::filesystem::path& file,
                             const std::function<void(Drawer&)>& change) {
    return change_kept(files, file, drawer_format, change);
}

}  // namespace grayrelic
