// SPDX-License-Identifier: GPL-3.0-or-later
// The words of an original against those of a replica: which say something else, which are missing, which are
// extra.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/decode/decoder.hpp"

namespace grayrelic {

enum class FrameDifferenceKind { levels, errors, missing, extra };
[[nodiscard]] std::string_view word(FrameDifferenceKind kind);  ///< "levels", "errors", "missing", "extra"

struct FrameDifference {
    FrameDifferenceKind kind = FrameDifferenceKind::levels;
    Time at;                        ///< in the original's time
    std::string original, replica;  ///< levels; with the errors behind them where these differ
};

struct FrameComparison {
    long same = 0, differ = 0, missing = 0, extra = 0;
    Time tolerance;
    std::vector<FrameDifference> differences;  ///< in order of time, the first most_frame_differences
    [[nodiscard]] bool all_same() const { return differ + missing + extra == 0; }
};
inline constexpr std::size_t most_frame_differences = 10'000;

/// Frames are matched in order by where they begin, `shift` added to the replica's; those further apart than
/// the tolerance are not the same one. Without a tolerance it is half the median distance of the original's
/// frames.
[[nodiscard]] FrameComparison compare_frames(const Decoding& original, const Decoding& replica, Time shift,
                                             std::optional<Time> tolerance = {});

/// What was found or set, as settings that read another capture the same way: no estimate of an error, no
/// "auto".
[[nodiscard]] SettingMap settings_of(const Decoding& decoding);

}  // namespace grayrelic
