// SPDX-License-Identifier: GPL-3.0-or-later
// Coverage both ways: which old codes have no meaning, which wanted meanings nothing reaches, and what goes
// wrong between the two sides. Each with a proposal.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/verdict.hpp"
#include "core/dossier/map.hpp"
#include "core/input/descriptor.hpp"
#include "core/input/layout.hpp"
#include "core/input/meaning.hpp"

namespace grayrelic {

enum class GapKind {
    unreadable_meaning,  ///< a meaning that is none
    no_meaning,          ///< an old code that becomes nothing, and nobody said so
    no_code,             ///< a key whose code nobody knows
    code_twice,          ///< one code, several meanings
    same_meaning,        ///< two keys become one: the release of one releases the other
    not_carried,         ///< no profile has that usage
    no_layout,           ///< characters, and the host's layout is not said
    no_such_character,   ///< the layout can't type it
    not_reached,         ///< wanted, and nothing becomes it
    lifts_modifier,      ///< a character that needs the modifiers otherwise than the old key holds them
    caps_lock,           ///< letters that the host's caps lock turns round
    never_held,          ///< the old side tells no release, and the meaning is one that is held
    no_repeat,           ///< a character is pressed and released at once: the host can't repeat it
    message_open,        ///< a message on which nobody said what to do
    repeat_piles_up,     ///< the old side repeats faster than its reports go out
    level_assumed,       ///< new to old: nobody said whether a held bit is 0 or 1
    unknown_want,        ///< a wish that is neither a meaning nor a group
};

struct MapGap {
    GapKind kind = GapKind::no_meaning;
    Verdict verdict = Verdict::doubt;  ///< stop, doubt; holds: worth a note
    std::vector<std::string> keys;     ///< MapKey::id, or MapMessage::id of message_open
    std::string what;                  ///< the code, the character, the usage
    std::string says, todo;
    std::optional<Meaning> proposal;  ///< for the first of the keys
};

/// A key as its drawing shows it.
struct KeyView {
    std::string id;
    std::optional<Meaning> meaning;  ///< nothing: none yet, or unreadable
    Verdict state = Verdict::holds;  ///< the worst of its gaps; unknown: its code is not known
};

struct Coverage {
    std::vector<KeyView> keys;                      ///< in the dossier's order
    std::vector<MapGap> gaps;                       ///< the worst first
    std::size_t codes = 0, codes_with_meaning = 0;  ///< shifted ones included
    std::size_t wanted = 0, reached = 0;
    std::vector<Profile> profiles;
    std::vector<std::string> wrong_profiles;
    [[nodiscard]] const KeyView* find(std::string_view id) const;
};

[[nodiscard]] Coverage cover(const DeviceMap& map, const LayoutLibrary& layouts);

/// The old side's own repeat ("repeat_s" of the map's numbers): each repetition is reports again, one a poll.
/// Nothing where they go out in time, or where one of the two is not known.
[[nodiscard]] std::optional<MapGap> repeat_gap(const DeviceMap& map, const KeyboardLayout* layout);

/// New to old: bits, and nobody said at which level they are held ("active_high" of the map's numbers, 0 or
/// 1).
[[nodiscard]] std::optional<MapGap> level_gap(const DeviceMap& map);

/// Messages on which nobody said what to do, or the wrong thing; among the gaps of cover().
[[nodiscard]] std::vector<MapGap> message_gaps(const DeviceMap& map);

/// What a legend most likely means: "A", "F1", "RETURN", "↑", "7"; on a pad "FIRE" is a button. Nothing when
/// it tells nothing.
[[nodiscard]] std::optional<Meaning> propose_meaning(const MapKey& key, const std::vector<Profile>& profiles,
                                                     const KeyboardLayout* layout);

/// The least profile that has all of them; they are of one kind, and none is text or key beside another kind.
[[nodiscard]] Profile least_profile(const std::vector<Meaning>& meanings);

/// The meanings that a wish stands for: a meaning, "text" (all printing characters of ASCII), "letters",
/// "digits", "media", "arrows", "pad" (everything the pad has), "pointer". Empty: unknown.
[[nodiscard]] std::vector<Meaning> wanted_meanings(std::string_view wish,
                                                   const std::vector<Profile>& profiles);

}  // namespace grayrelic
