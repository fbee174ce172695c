// SPDX-License-Identifier: GPL-3.0-or-later
// What a standard part does, and how fast: the "logic" member of a file in data/parts
// (docs/formats/parts.md).
//
// A part has inner bits of storage, rules that set them, and outputs that follow from pins and bits.
//   when C set …        while C holds (clear, preset, a transparent latch, an asynchronous load)
//   rise/fall P set …   at an edge of pin P, unless a `when` above it that sets the same bit holds
// Rules stand in order of precedence. Right-hand sides see the bits as they were before.
// A pin that is not driven, or floats, is read as unknown.
#pragma once

#include <array>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/time.hpp"
#include "core/logic/expression.hpp"
#include "core/parts/part.hpp"

namespace grayrelic {

enum class Corner { fast, typical, slow };
[[nodiscard]] std::string_view word(Corner c);  ///< "fast", "typical", "slow"

/// From a cause at the inputs to the output's new level.
struct Delay {
    Time rise, fall, off;  ///< off: until an output that is switched off lets go
    bool operator==(const Delay&) const = default;
};

/// Delays of one family at one supply, for the corners; set-up and hold of the stored inputs.
struct PartDelays {
    std::string family;  ///< "hct"
    double supply_v = 5.0;
    std::array<Delay, 3> gates{};    ///< outputs that follow from pins alone, by corner
    std::array<Delay, 3> storage{};  ///< outputs that follow from stored bits
    Time setup, hold, width;         ///< before and after the edge; least pulse of clock and `when` inputs
};

struct PartOutput {
    std::string pin;
    Expression value;     ///< over input pins and bits
    Expression enable;    ///< no steps: always on. Off: the output floats.
    bool stored = false;  ///< depends on a bit
};

/// The other direction of what passes both ways, as an analogue switch does: in place of the outputs `of`.
struct PartReverse {
    std::vector<std::string> of;  ///< pins of outputs
    std::vector<PartOutput> outputs;
};

struct PartRule {
    enum class Kind { when, rise, fall };
    Kind kind = Kind::when;
    Expression condition;                         ///< for when
    std::string pin;                              ///< for rise and fall
    std::vector<std::pair<int, Expression>> set;  ///< bit and its new value
};

struct PartLogic {
    std::string id;  ///< of the part
    std::string name;
    std::vector<std::string> inputs;  ///< every pin that an expression reads
    std::vector<std::string> bits;    ///< inner storage
    std::vector<PartOutput> outputs;
    std::vector<PartRule> rules;
    std::vector<PartDelays> delays;
    std::vector<PartReverse> reverse{};
    [[nodiscard]] const PartDelays* find_delays(std::string_view family) const;
    /// With these of `reverse` (by index) in place of the outputs that they turn round.
    [[nodiscard]] PartLogic turned(const std::vector<std::size_t>& groups) const;
    [[nodiscard]] std::optional<int> output_index(std::string_view pin) const;
    [[nodiscard]] bool stores() const { return !bits.empty(); }
};

/// Reads the "logic" member. Refused: names that are no pins of the part, bits that nothing sets, times not
/// above 0 or out of order (least above typical above most).
[[nodiscard]] Result<PartLogic> part_logic(const PartType& part);

/// All parts of a library that have logic; what could not be read is collected with the file's name left to
/// the id.
struct LogicLibrary {
    std::map<std::string, PartLogic, std::less<>> parts;
    /// Of every part, with logic or without: its pins, function and family.
    std::map<std::string, PartType, std::less<>> types;
    std::vector<Error> problems;
    [[nodiscard]] static LogicLibrary from(const PartLibrary& library);
    [[nodiscard]] const PartLogic* find(std::string_view id) const;
    [[nodiscard]] const PartType* find_type(std::string_view id) const;
};

}  // namespace grayrelic
