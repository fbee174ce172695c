// SPDX-License-Identifier: GPL-3.0-or-later
// Drill and rout files in Excellon's format and its strict form XNC (published by the makers of the Gerber
// format, revision 2021.11): tools, holes, slots by G85, routed slots by M15/M16 with lines and arcs, METRIC
// and INCH, LZ and TZ, decimals, repeats by R, attributes in remarks ("; #@! TF.…").
#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/board/gerber.hpp"

namespace grayrelic {

struct DrillTool {
    int number = 0;
    double diameter = 0;  ///< nanometres
    std::string function{};
    std::optional<bool> plated{};  ///< where its remark says so
    long line = 0;
};

/// A hole, or a slot along a way of more than one spot.
struct DrillHole {
    std::vector<BoardXY> way;  ///< at least one
    double diameter = 0;       ///< nanometres
    bool plated = true;
    std::uint32_t tool = 0;  ///< into tools
    long line = 0;
    [[nodiscard]] bool slot() const { return way.size() > 1; }
    [[nodiscard]] BoardXY middle() const;
    /// What is taken away.
    [[nodiscard]] Rings rings() const;
};

struct DrillFile {
    std::vector<DrillTool> tools;
    std::vector<DrillHole> holes;
    std::map<std::string, std::string> attributes;
    std::optional<bool> plated;  ///< what the file says of itself; nothing: it does not say
    bool inch = false;
    /// Digits were cut without the file saying which: they are taken as `format`, which is a guess.
    bool format_guessed = false;
    std::optional<bool> leading_kept;  ///< LZ or TZ, where the head says it
    std::string format;
    std::vector<FileNote> notes;
};

struct DrillOptions {
    /// Where digits are cut and the file does not say how: whole digits and decimals, and whether leading
    /// zeros are kept.
    struct Digits {
        int whole = 0, decimals = 0;
        bool leading_kept = false;
        bool operator==(const Digits&) const = default;
    };
    std::optional<Digits> digits;
};

[[nodiscard]] bool looks_like_drill(std::string_view text);
[[nodiscard]] Result<DrillFile> read_drill(std::string_view text, const std::string& name,
                                           const DrillOptions& options = {});
[[nodiscard]] Extent extent_of(const DrillFile& file);

inline constexpr std::size_t most_drill_bytes = 64U << 20U;
inline constexpr std::size_t most_holes = 500'000;

}  // namespace grayrelic
