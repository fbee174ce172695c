// SPDX-License-Identifier: GPL-3.0-or-later
// Lines read by a family, and what came of them in the short form that tests compare.
#pragma once

#include <gmock/gmock.h>

#include "core/decode/decoder.hpp"
#include "standin/wires.hpp"

namespace grayrelic::test {

inline Decoding decoded(const char* kind, const std::vector<standin::Wire>& wires, const RoleMap& roles,
                        const SettingMap& settings = {}, Time end = {}) {
    Progress progress;
    auto d = find_decoder(kind).value()->decode(standin::capture_of(wires, end), roles, settings, progress);
    EXPECT_TRUE(d) << d.error().message();
    return d ? std::move(*d) : Decoding{};
}

inline std::vector<std::uint64_t> values(const Decoding& d) {
    std::vector<std::uint64_t> out;
    for (const auto& f : d.frames) out.push_back(f.value.value_or(~0ULL));
    return out;
}

inline std::vector<std::string> errors(const Decoding& d) {
    std::vector<std::string> out;
    for (const auto& f : d.frames) {
        std::string all;
        for (const auto& e : f.errors) all += (all.empty() ? "" : " ") + e;
        out.push_back(all);
    }
    return out;
}

}  // namespace grayrelic::test
