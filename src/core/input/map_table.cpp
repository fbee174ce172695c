// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/map_table.hpp"

#include <fmt/format.h>
#include <zlib.h>

#include <algorithm>
#include <optional>

#include "core/base/form.hpp"
#include "core/base/table.hpp"
#include "core/base/text.hpp"
#include "core/input/hex_text.hpp"
#include "core/input/reports.hpp"
#include "core/input/typing.hpp"
#include "core/json/json.hpp"

namespace grayrelic {
namespace {

std::uint32_t checksum_of(const std::vector<MapEntry>& entries) {
    std::vector<std::string> lines;
    lines.reserve(entries.size());
    for (const auto& e : entries)
        lines.push_back(fmt::format("{}|{}|{}|{}\n", e.code, e.with, e.release, e.meaning));
    std::sort(lines.begin(), lines.end());
    std::string all;
    for (const auto& l : lines) all += l;
    return static_cast<std::uint32_t>(crc32(crc32(0, nullptr, 0), reinterpret_cast<const Bytef*>(all.data()),
                                            static_cast<uInt>(all.size())));
}

std::string code_of(const MapKey& k) {
    if (!k.code.value.empty()) return k.code.value;
    return k.row.empty() ? std::string() : k.row + " " + k.column;
}

std::vector<MapEntry> entries_of(const DeviceMap& map) {
    std::vector<MapEntry> out;
    for (const auto& k : map.keys) {
        if (k.kind == ControlKind::lamp) continue;
        out.push_back({k.id, k.legend, code_of(k), k.release, {}, k.meaning});
        for (const auto& s : k.shifted) out.push_back({k.id, k.legend, s.code, {}, s.with, s.meaning});
    }
    return out;
}

/// Press and release on the interface that carries it.
std::optional<MapVector> vector_of(const Meaning& m, const std::vector<Profile>& profiles,
                                   const KeyboardLayout* layout) {
    for (const auto& p : profiles) {
        if (!carries(p, m)) continue;
        MapVector v;
        v.profile = print_profile(p);
        if (m.kind == MeaningKind::text) {
            if (layout == nullptr) return std::nullopt;
            auto typed = type_text(m.text, *layout, false);
            if (typed.reports.empty()) return std::nullopt;
            v.press = std::move(typed.reports);
            return v;
        }
        auto press = report_of(p, {m});
        auto rest = report_of(p, {});
        if (!press || !rest) return std::nullopt;
        v.press.push_back(std::move(*press));
        v.release.push_back(std::move(*rest));
        return v;
    }
    return std::nullopt;
}

/// The place of the bit that a code names: "bit fire", "bit 3" counted from 1 in order of arrival.
std::optional<std::size_t> bit_of(const std::string& code, const std::vector<std::string>& bits) {
    if (!code.starts_with("bit ")) return std::nullopt;
    const auto name = std::string(trim(std::string_view(code).substr(4)));
    const auto it = std::find(bits.begin(), bits.end(), name);
    if (it != bits.end()) return static_cast<std::size_t>(it - bits.begin());
    return std::nullopt;
}

void add_frames(MapTable& t) {
    const char rest = t.active_low ? '1' : '0', held = t.active_low ? '0' : '1';
    if (t.bits.empty()) return;
    // Identity, counters and positions are not the map's: nothing is said of their bits.
    std::string idle(t.bits.size(), '-');
    for (const auto& e : t.entries)
        if (const auto bit = bit_of(e.code, t.bits)) idle[*bit] = rest;
    t.frames.push_back({{}, idle});
    for (const auto& e : t.entries) {
        const auto bit = bit_of(e.code, t.bits);
        if (!bit || e.meaning.empty() || e.meaning == "nothing") continue;
        // Two bits may follow one control.
        auto it = std::find_if(t.frames.begin(), t.frames.end(),
                               [&](const auto& f) { return f.held == e.meaning; });
        if (it == t.frames.end()) it = t.frames.insert(t.frames.end(), {e.meaning, idle});
        it->levels[*bit] = held;
    }
}

std::string joined(const std::vector<std::vector<std::uint8_t>>& reports) {
    std::string out;
    for (const auto& r : reports) out += (out.empty() ? "" : "; ") + print_hex(r);
    return out;
}

const MapVector* vector_for(const MapTable& t, std::size_t entry) {
    const auto it =
        std::find_if(t.vectors.begin(), t.vectors.end(), [&](const auto& v) { return v.entry == entry; });
    return it == t.vectors.end() ? nullptr : &*it;
}

}  // namespace

MapTable map_table(const DeviceMap& map, const std::vector<std::string>& bits, const KeyboardLayout* layout) {
    MapTable t;
    t.way = map.way;
    t.entries = entries_of(map);
    t.checksum = checksum_of(t.entries);
    for (const auto& text : map.modern.profiles)
        if (const auto p = parse_profile(text)) t.profiles.push_back(*p);
    const auto says = [](const MapEntry& e) { return e.legend.empty() ? e.key : e.legend; };
    if (map.way == MapWay::new_to_old) {
        t.bits = bits;
        const auto high = std::find_if(map.numbers.begin(), map.numbers.end(),
                                       [](const auto& n) { return n.key == "active_high"; });
        t.level_known = high != map.numbers.end();
        t.active_low = !t.level_known || high->value.value == 0;
        add_frames(t);
        for (const auto& e : t.entries)
            if (!bit_of(e.code, t.bits))
                t.left_out.push_back(says(e) + (e.code.starts_with("bits ")
                                                    ? ": several bits are a number, and have no vector"
                                                    : ": no bit of the frame"));
        if (!t.level_known) t.left_out.push_back("nobody said whether a held bit is 0: 0 is assumed");
        return t;
    }
    for (std::size_t i = 0; i < t.entries.size(); ++i) {
        const auto& e = t.entries[i];
        const auto m = e.meaning.empty() ? Result<Meaning>(fail_usage("", "")) : parse_meaning(e.meaning);
        if (!m) {
            t.left_out.push_back(says(e) + ": no meaning");
            continue;
        }
        if (m->kind == MeaningKind::nothing || m->kind == MeaningKind::bridge) continue;
        auto v = vector_of(*m, t.profiles, layout);
        if (!v) {
            t.left_out.push_back(says(e) + ": no report for " + e.meaning);
            continue;
        }
        v->entry = i;
        t.vectors.push_back(std::move(*v));
    }
    return t;
}

std::string map_csv(const MapTable& t) {
    std::string out = "key,legend,code,release,with,meaning,press,release_reports\n";
    for (std::size_t i = 0; i < t.entries.size(); ++i) {
        const auto& e = t.entries[i];
        const auto* v = vector_for(t, i);
        for (const auto& cell : {e.key, e.legend, e.code, e.release, e.with, e.meaning,
                                 v != nullptr ? joined(v->press) : std::string()})
            out += table_cell(cell) + ",";
        out += table_cell(v != nullptr ? joined(v->release) : std::string()) + "\n";
    }
    return out + fmt::format("# checksum 0x{:08X}\n", t.checksum);
}

namespace {

Json reports_json(const std::vector<std::vector<std::uint8_t>>& reports) {
    Json out = Json::array();
    for (const auto& r : reports) out.push_back(print_hex(r));
    return out;
}

Json matrix_part(const DeviceMap& map) {
    Json keys = Json::array();
    for (const auto& k : map.keys)
        if (!k.row.empty())
            keys.push_back({{"key", k.id},
                            {"legend", k.legend},
                            {"row", k.row},
                            {"column", k.column},
                            {"diode", k.diode}});
    return {{"rows", map.matrix.rows}, {"columns", map.matrix.columns}, {"keys", std::move(keys)}};
}

}  // namespace

std::string map_json(const MapTable& t, const DeviceMap& map, const std::string& name) {
    Json j = {{"map", name}, {"way", word(t.way)}, {"checksum", fmt::format("0x{:08X}", t.checksum)}};
    j["entries"] = Json::array();
    for (const auto& e : t.entries)
        j["entries"].push_back({{"key", e.key},
                                {"legend", e.legend},
                                {"code", e.code},
                                {"release", e.release},
                                {"with", e.with},
                                {"meaning", e.meaning}});
    j["profiles"] = Json::array();
    for (const auto& p : t.profiles)
        j["profiles"].push_back({{"profile", print_profile(p)},
                                 {"descriptor_hex", print_hex(descriptor_of(p))},
                                 {"report_bytes", report_bytes(p)}});
    j["vectors"] = Json::array();
    for (const auto& v : t.vectors)
        j["vectors"].push_back({{"code", t.entries[v.entry].code},
                                {"with", t.entries[v.entry].with},
                                {"profile", v.profile},
                                {"press", reports_json(v.press)},
                                {"release", reports_json(v.release)}});
    if (t.way == MapWay::new_to_old) {
        j["bits"] = t.bits;
        j["held_level"] = t.active_low ? 0 : 1;
        j["held_level_assumed"] = !t.level_known;
        j["frames"] = Json::array();
        for (const auto& f : t.frames) j["frames"].push_back({{"held", f.held}, {"levels", f.levels}});
    }
    if (!map.matrix.rows.empty()) j["matrix"] = matrix_part(map);
    for (const auto& c : map.curves) {
        Json table = Json::array();
        for (const auto& p : c.table) table.push_back({{"out", p.out}, {"speed", p.speed}});
        j["curves"].push_back({{"id", c.id},
                               {"title", c.title},
                               {"counts_per_step", c.counts_per_step},
                               {"dead", c.dead},
                               {"limit", c.limit},
                               {"exponent", c.exponent},
                               {"table", std::move(table)}});
    }
    return j.dump(2) + "\n";
}

Result<std::string> map_form(const MapTable& t, const std::string& name, const std::string& form) {
    const FormValues all{{"name", name},
                         {"count", std::to_string(t.entries.size())},
                         {"checksum", fmt::format("0x{:08X}", t.checksum)}};
    FormItems entries{{"code", "release", "with", "legend", "meaning", "page", "usage", "modifiers", "press",
                       "release_reports"},
                      {}};
    for (std::size_t i = 0; i < t.entries.size(); ++i) {
        const auto& e = t.entries[i];
        const auto m = parse_meaning(e.meaning).value_or(Meaning{});
        const auto* v = vector_for(t, i);
        entries.values.push_back({{"code", e.code},
                                  {"release", e.release},
                                  {"with", e.with},
                                  {"legend", e.legend},
                                  {"meaning", e.meaning},
                                  {"page", fmt::format("0x{:02X}", m.usage.page)},
                                  {"usage", fmt::format("0x{:02X}", m.usage.id)},
                                  {"modifiers", fmt::format("0x{:02X}", m.modifiers)},
                                  {"press", v != nullptr ? joined(v->press) : std::string()},
                                  {"release_reports", v != nullptr ? joined(v->release) : std::string()}});
    }
    FormItems profiles{{"profile", "descriptor"}, {}};
    for (const auto& p : t.profiles)
        profiles.values.push_back(
            {{"profile", print_profile(p)}, {"descriptor", print_hex(descriptor_of(p))}});
    return fill_form(
        form, all, {entries, profiles},
        "{code}, {release}, {with}, {legend}, {meaning}, {page}, {usage}, {modifiers}, {press} or "
        "{release_reports} of an entry, {profile} or {descriptor} of a profile, {name}, {count} or "
        "{checksum} of all, or {{ for a brace");
}

}  // namespace grayrelic
