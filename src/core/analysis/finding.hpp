// SPDX-License-Identifier: GPL-3.0-or-later
// What the checks say. Each finding tells what was found, why (the numbers), what to do, and where it
// belongs.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/stage.hpp"
#include "core/base/time.hpp"
#include "core/base/verdict.hpp"

namespace grayrelic {

enum class Severity { stop, doubt, note };
[[nodiscard]] std::string_view word(Severity s);

/// Where a finding leads: a stage and a thing in it.
struct FindingPlace {
    std::string kind;          ///< "pin", "capture", "option", "look", "interval"
    std::string id;            ///< "J1/6", "minute", "firmware"; may be empty
    std::optional<Time> at{};  ///< a moment in a capture
    bool operator==(const FindingPlace&) const = default;
};

struct Finding {
    std::string id;  ///< the check's id, stable: "reply-late"
    Severity severity = Severity::note;
    Stage stage = Stage::port;
    std::string subject;  ///< what it is about, for scripts: "option firmware"
    std::string says;     ///< one short sentence
    std::string why;      ///< the numbers
    std::string todo;     ///< what to do
    FindingPlace place;
    bool operator==(const Finding&) const = default;
};
using Findings = std::vector<Finding>;

struct FindingCounts {
    long stop = 0;
    long doubt = 0;
    long note = 0;
};
[[nodiscard]] FindingCounts count(const Findings& findings, std::optional<Stage> stage = {});
/// "1 stop · 3 doubts · 1 note"; "nothing found" for none.
[[nodiscard]] std::string print(const FindingCounts& counts);
/// stop, doubt, or holds when there is neither.
[[nodiscard]] Verdict verdict(const FindingCounts& counts);

}  // namespace grayrelic
