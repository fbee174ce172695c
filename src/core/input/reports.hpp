// SPDX-License-Identifier: GPL-3.0-or-later
// Reports as bytes: what they hold under a descriptor, dumps of them read back, and those that a meaning
// makes.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"
#include "core/base/time.hpp"
#include "core/input/descriptor.hpp"
#include "core/input/descriptor_read.hpp"
#include "core/input/meaning.hpp"

namespace grayrelic {

struct TimedReport {
    Time at;
    std::vector<std::uint8_t> bytes;  ///< with the id byte where the descriptor has ids
    long line = 0;                    ///< of the dump; 0: of none
    bool operator==(const TimedReport&) const = default;
};

/// What one report says. Array elements that name nothing (below logical_min + the first usage, or usage 0)
/// are left out.
struct ReportValue {
    Usage usage;
    long long value = 0;  ///< array: 1
    bool relative = false;
    bool momentary = false;   ///< a button or key: one bit, or named by an array
    bool null_state = false;  ///< outside of the logical range of a field that has a null state
};
struct ReportReading {
    int id = 0;
    std::vector<ReportValue> values;
    std::string problem;  ///< "3 bytes of 8"; empty: none
};
[[nodiscard]] ReportReading read_report(const ReportDescriptor& descriptor, ReportKind kind,
                                        const std::vector<std::uint8_t>& bytes);

/// A line a report, in hexadecimal as hex_text takes it; before a colon the time of its arrival in seconds or
/// with a unit. Without times they come one `poll` apart. Times must not go back.
[[nodiscard]] Result<std::vector<TimedReport>> read_report_dump(std::string_view text,
                                                                const std::string& name, Time poll);

/// The input report of a profile with these meanings held at once; nothing when one of them is not in the
/// profile. Seven and more keys give the rollover report: usage 1 in all six places (HID 1.11, appendix C).
[[nodiscard]] std::optional<std::vector<std::uint8_t>> report_of(const Profile& profile,
                                                                 const std::vector<Meaning>& held);
/// Whether a profile can carry a meaning at all; text needs the keyboard.
[[nodiscard]] bool carries(const Profile& profile, const Meaning& meaning);

}  // namespace grayrelic
