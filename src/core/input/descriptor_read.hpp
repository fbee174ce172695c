// SPDX-License-Identifier: GPL-3.0-or-later
// A report descriptor read back (HID 1.11, 6.2.2): its items in words, and what its reports hold, bit by bit.
#pragma once

#include <algorithm>
#include <array>
#include <cstdint>
#include <map>
#include <span>
#include <string>
#include <vector>

#include "core/base/words.hpp"
#include "core/input/usages.hpp"

namespace grayrelic {

enum class ReportKind { input, output, feature };
template <>
inline constexpr std::array words_of<ReportKind>{"input", "output", "feature"};

struct ReportField {
    std::vector<Usage> usages;  ///< variable: one for each of `count`; array: all that an element can name
    std::size_t bit = 0;        ///< of the first element, from the report's begin, without an id byte
    std::size_t size_bits = 0, count = 0;
    long long logical_min = 0, logical_max = 0;
    bool variable = false, relative = false, null_state = false;
};

struct ReportShape {
    int id = 0;  ///< 0: none
    ReportKind kind = ReportKind::input;
    std::size_t bits = 0;  ///< with constants, without an id byte
    std::vector<ReportField> fields;
};

struct DescriptorItem {
    std::size_t offset = 0;
    std::vector<std::uint8_t> bytes;
    int depth = 0;  ///< of collections around it
    std::string says;
};

struct ReportDescriptor {
    std::vector<ReportShape> reports;  ///< in the order in which they first appear
    std::vector<DescriptorItem> items;
    std::vector<std::string> problems;  ///< "at 12: …"
    [[nodiscard]] bool has_ids() const {
        return std::any_of(reports.begin(), reports.end(), [](const auto& r) { return r.id != 0; });
    }
    [[nodiscard]] const ReportShape* find(ReportKind kind, int id) const {
        const auto it = std::find_if(reports.begin(), reports.end(),
                                     [&](const auto& r) { return r.kind == kind && r.id == id; });
        return it == reports.end() ? nullptr : &*it;
    }
};

/// Never fails: what is wrong is among the problems, and what follows is read as far as it can be. Bounds:
/// 65,535 bytes, collections 64 deep, 32 states pushed, reports of 65,535 bytes, 65,536 usages in all.
[[nodiscard]] ReportDescriptor read_descriptor(std::span<const std::uint8_t> bytes);

}  // namespace grayrelic
