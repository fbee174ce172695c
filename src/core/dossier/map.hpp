// SPDX-License-Identifier: GPL-3.0-or-later
// What a dossier holds for Map: the keys and buttons of the old device at their places, what each becomes on
// the other side, messages that are no key, the switch matrix, and curves for movement.
//
// `extra` members hold fields of newer versions, as in dossier.hpp.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/quantity.hpp"
#include "core/base/words.hpp"
#include "core/dossier/fact.hpp"
#include "core/dossier/timing.hpp"

namespace grayrelic {

/// Which side is operated by the hand: an old device at a modern host, or a modern one at the relic.
enum class MapWay { old_to_new, new_to_old };
template <>
inline constexpr std::array words_of<MapWay>{"old-to-new", "new-to-old"};

enum class ControlKind { key, button, dial, stick, lamp };
template <>
inline constexpr std::array words_of<ControlKind>{"key", "button", "dial", "stick", "lamp"};

/// What the old side sends of a control: a code at the press and one at the release; a character at the press
/// only; a bit or contact that stays as long as it is held; a count for every step.
enum class KeySends { press_release, press, state, counts };
template <>
inline constexpr std::array words_of<KeySends>{"press-release", "press", "state", "counts"};

/// A further code of the same key: what it sends with a modifier of the old side.
struct ShiftedCode {
    std::string with;     ///< "shift", "code"
    std::string code;     ///< as MapKey::code
    std::string meaning;  ///< as MapKey::meaning
    std::string extra{};
    bool operator==(const ShiftedCode&) const = default;
};

struct MapKey {
    std::string id;
    std::string legend;  ///< as printed; two keys may have one legend
    ControlKind kind = ControlKind::key;
    double x = 0, y = 0, width = 1, height = 1;  ///< upper left corner and size, in usual key widths
    Fact<std::string> code;                      ///< at the press: "0x1C", "bit 3", "C R0 C4"; empty: unknown
    std::string release;                         ///< at the release, where it has a code of its own
    KeySends sends = KeySends::press_release;
    std::vector<ShiftedCode> shifted;
    std::string row, column;  ///< of the matrix; both empty: not in it
    bool diode = false;
    std::string meaning;  ///< see input/meaning.hpp; empty: not yet
    std::string note;
    std::string extra;
    bool operator==(const MapKey&) const = default;
};

/// A message of the old side that is no key.
enum class MessageKind { heartbeat, error, version, other };
template <>
inline constexpr std::array words_of<MessageKind>{"heartbeat", "error", "version", "other"};
/// What the bridge does on it.
enum class MessageAct { ignore, watch, release_all, ask_again, tell };
template <>
inline constexpr std::array words_of<MessageAct>{"ignore", "watch", "release-all", "ask-again", "tell"};

struct MapMessage {
    std::string id;
    std::string name;
    std::string code;
    MessageKind kind = MessageKind::other;
    std::optional<MessageAct> act;  ///< nothing: not decided
    Fact<Time> every;               ///< 0: not regularly
    Fact<double> lost;              ///< share of them that does not arrive, 0…1
    int misses = 3;                 ///< so many missing in a row, and the device counts as dead
    std::string note;
    std::string extra;
    bool operator==(const MapMessage&) const = default;
};

/// The modern side as the host sees or gives it.
struct ModernSide {
    std::vector<std::string>
        profiles;                     ///< "keyboard", "pad:buttons=8,hat=1,axes=2": see input/descriptor.hpp
    std::string layout;               ///< that the host is set to: an id of data/layouts
    Fact<Time> poll;                  ///< the host's polling interval; 0: unknown
    Fact<Time> hold;                  ///< how long a synthesised press is held; 0: one report
    std::vector<std::string> wanted;  ///< meanings that something must reach; "text", "media": groups
    std::string extra;
    bool operator==(const ModernSide&) const = default;
};

/// What is done about ghosts.
enum class GhostGuard { nothing, block, diodes };
template <>
inline constexpr std::array words_of<GhostGuard>{"nothing", "block", "diodes"};

struct SwitchMatrix {
    std::vector<std::string> rows, columns;        ///< as the lines are called; rows are strobed
    std::vector<NumberFact> numbers;               ///< see input/scan_budget.hpp
    std::vector<std::vector<std::string>> chords;  ///< MapKey::id held together in usual work
    GhostGuard guard = GhostGuard::nothing;
    std::string drive;  ///< of the strobes: "push-pull" or "open-drain"; empty: not decided
    std::string extra;
    bool operator==(const SwitchMatrix&) const = default;
};

/// What the old side makes of one position of its stick or one rate of its dial.
struct CurvePoint {
    double out = 0;    ///< what is sent
    double speed = 0;  ///< what moves, in steps per poll
    std::string extra{};
    bool operator==(const CurvePoint&) const = default;
};

/// How a modern pointer's counts become an old stick's or dial's positions.
struct MoveCurve {
    std::string id;
    std::string title;
    double counts_per_step = 1;
    long dead = 0;        ///< of the old side: positions up to this move nothing
    long limit = 127;     ///< the largest that can be sent
    double exponent = 1;  ///< of the old side's curve where there is no table: speed = (out − dead)^exponent
    std::vector<CurvePoint> table;  ///< rising
    Evidence evidence;              ///< of dead, limit and curve
    std::string note;
    std::string extra;
    bool operator==(const MoveCurve&) const = default;
};

struct DeviceMap {
    MapWay way = MapWay::old_to_new;
    std::vector<MapKey> keys;
    std::vector<MapMessage> messages;
    ModernSide modern;
    SwitchMatrix matrix;
    std::vector<MoveCurve> curves;
    std::string curve;                ///< MoveCurve::id of the chosen one; empty: none
    std::string capture;              ///< CaptureRef::id whose bits or packets the codes are; may be empty
    std::vector<NumberFact> numbers;  ///< see input/map_numbers.hpp: "press_s", "repeat_s" …
    std::string form;                 ///< the person's own text for the output; empty: C
    std::string extra;
    bool operator==(const DeviceMap&) const = default;
    [[nodiscard]] const MapKey* find_key(std::string_view id) const;
    [[nodiscard]] const MapMessage* find_message(std::string_view id) const;
    [[nodiscard]] const MoveCurve* find_curve(std::string_view id) const;
};

}  // namespace grayrelic
