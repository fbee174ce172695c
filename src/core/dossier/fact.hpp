// SPDX-License-Identifier: GPL-3.0-or-later
// A fact: a value with where it came from. No number enters a verdict without one.
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "core/base/words.hpp"

namespace grayrelic {

/// Strongest first.
enum class EvidenceKind { measured, documented, deduced, assumed };
template <>
inline constexpr std::array words_of<EvidenceKind>{"measured", "documented", "deduced", "assumed"};

struct Evidence {
    EvidenceKind kind = EvidenceKind::assumed;
    std::string source;  ///< who and what: "unit 2, pad plugged in"
    std::string date;    ///< ISO 8601, may be empty
    std::string extra;   ///< JSON object text with the fields that this version does not know; empty for none
    std::string tool{};  ///< what it was measured with: "meter, 10 MΩ"
    bool operator==(const Evidence&) const = default;
};

template <class T>
struct Fact {
    T value{};
    std::optional<double> uncertainty;  ///< plus or minus, in the value's SI unit
    Evidence evidence;
    bool operator==(const Fact&) const = default;
};

}  // namespace grayrelic
