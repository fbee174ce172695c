// SPDX-License-Identifier: GPL-3.0-or-later
// The button hunt over a dossier's recordings: which were made at rest, which during what press, and what
// follows for the bits.
#pragma once

#include <map>
#include <memory>
#include <set>
#include <string>
#include <vector>

#include "core/decode/hunt.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic {

/// By capture: what was pressed; empty: nothing; absent: left out.
using Pressed = std::map<std::string, std::string>;

/// A first guess from ids and titles for recordings that nobody has spoken of yet: "idle" or "rest" is the
/// one at rest, "button-left" the one with that button. One with marked moments says itself what was pressed
/// when. `said`: recordings that somebody has spoken of, if only to leave them out.
[[nodiscard]] Pressed guess_pressed(const std::vector<std::shared_ptr<const CaptureAnalysis>>& captures,
                                    Pressed known, const std::set<std::string>& said = {});

/// Words of another family have other bits: the family of the recordings at rest, and of those with moments.
[[nodiscard]] std::string hunted_family(const std::vector<std::shared_ptr<const CaptureAnalysis>>& captures,
                                        const Pressed& pressed);

struct CaptureHunt {
    HuntResult result;
    std::vector<std::string> names;  ///< of the bits, so far
    bool any = false;                ///< there are words at rest
    bool ready = false;              ///< and of a press
};
/// Goes through all words.
[[nodiscard]] CaptureHunt hunt_captures(const std::vector<std::shared_ptr<const CaptureAnalysis>>& captures,
                                        const Pressed& pressed);

/// How many words lie wholly within; costs the logarithm of their number.
[[nodiscard]] long words_within(const Decoding& decoding, Span span);

}  // namespace grayrelic
