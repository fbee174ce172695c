// SPDX-License-Identifier: GPL-3.0-or-later
// A map as tables for firmware: C header, JSON, CSV and a person's own text, each with test vectors and a
// checksum, so that nothing is typed by hand; and read back, to be held against the dossier.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"
#include "core/dossier/map.hpp"
#include "core/input/descriptor.hpp"
#include "core/input/layout.hpp"
#include "core/input/meaning.hpp"

namespace grayrelic {

/// One old code and what becomes of it. `key` is MapKey::id.
struct MapEntry {
    std::string key, legend;
    std::string code, release, with;
    std::string meaning;  ///< as print_meaning writes it; empty: none
    bool operator==(const MapEntry&) const = default;
};

/// What is sent when an entry's control is pressed, and when it is released again.
struct MapVector {
    std::size_t entry = 0;
    std::string profile;  ///< the interface that sends it, as print_profile writes it
    std::vector<std::vector<std::uint8_t>> press, release;
};

/// From the modern side to the relic: the levels of the frame, in order of arrival, while one control is
/// held.
struct FrameVector {
    std::string held;    ///< a meaning; empty: nothing
    std::string levels;  ///< "1110-111": one character a bit; - where the map says nothing of it
};

struct MapTable {
    MapWay way = MapWay::old_to_new;
    std::vector<MapEntry> entries;
    std::vector<Profile> profiles;
    std::vector<MapVector> vectors;     ///< old to new
    std::vector<std::string> bits;      ///< new to old: names in order of arrival
    bool active_low = true;             ///< new to old: a held control's bit is 0
    bool level_known = true;            ///< that was said and is not assumed
    std::vector<FrameVector> frames;    ///< new to old
    std::vector<std::string> left_out;  ///< entries without meaning or without a profile, in words
    std::uint32_t checksum = 0;  ///< CRC-32 (as in zlib) over the sorted lines "code|with|release|meaning\n"
};

/// `bits`: of the capture's words; without them a new-to-old map has no frames. `layout` may be null:
/// characters then have no vectors.
[[nodiscard]] MapTable map_table(const DeviceMap& map, const std::vector<std::string>& bits,
                                 const KeyboardLayout* layout);

/// `name` becomes part of the identifiers: "calder_keypad". The header compiles as C99 and C++, and has a
/// function that builds a report from an entry and one that checks it against the vectors.
[[nodiscard]] std::string map_c_header(const MapTable& table, const std::string& name);
[[nodiscard]] std::string map_json(const MapTable& table, const DeviceMap& map, const std::string& name);
/// key,legend,code,release,with,meaning,press,release_reports; a last comment with the checksum.
[[nodiscard]] std::string map_csv(const MapTable& table);
/// A text with places: {code} {release} {with} {legend} {meaning} {page} {usage} {modifiers} {press}
/// {release_reports} of an entry, {profile} {descriptor} of a profile, {name} {count} {checksum} of all.
[[nodiscard]] Result<std::string> map_form(const MapTable& table, const std::string& name,
                                           const std::string& form);

/// JSON or CSV as written above, or a CSV of one's own with the columns code and meaning, and with, release,
/// legend, key where there are any. Refused with file and line: what is neither, a meaning that is none, a
/// code twice.
[[nodiscard]] Result<std::vector<MapEntry>> read_map_table(std::string_view text, const std::string& name);

struct MapChange {
    enum class Kind { added, gone, changed } kind = Kind::changed;
    MapEntry before, after;
    std::string says;
};
/// By code and modifier; where codes are missing, by key.
[[nodiscard]] std::vector<MapChange> compare_maps(const std::vector<MapEntry>& before,
                                                  const std::vector<MapEntry>& after);
/// The dossier's map with the meanings and releases of a table; entries of unknown codes are left out.
[[nodiscard]] DeviceMap take_map_table(const DeviceMap& map, const std::vector<MapEntry>& entries);

}  // namespace grayrelic
