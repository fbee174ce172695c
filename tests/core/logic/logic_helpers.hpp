// SPDX-License-Identifier: GPL-3.0-or-later
// The shipped parts' logic, and short ways to read a network and drive it.
#pragma once

#include "core/base/file_system.hpp"
#include "core/logic/network.hpp"
#include "core/logic/simulate.hpp"

namespace grayrelic::test {

inline const LogicLibrary& shipped_logic() {
    static const PartLibrary parts = PartLibrary::load(disk(), {GRAY_RELIC_SOURCE "/data"});
    static const LogicLibrary library = LogicLibrary::from(parts);
    return library;
}

inline Network network(const std::string& text) {
    return read_network(text, shipped_logic());
}

/// "A" → its changes: level at 0, then a toggle at each time (nanoseconds).
inline Stimulus toggles(const Network& n, const std::string& net, bool first,
                        const std::vector<std::int64_t>& ns) {
    Stimulus s{*n.find_net(net), first ? Level::one : Level::zero, {}};
    for (const auto t : ns) {
        first = !first;
        s.changes.push_back({Time::ns(t), first ? Level::one : Level::zero});
    }
    return s;
}

inline std::string shown(const std::vector<LevelChange>& changes) {
    std::string out;
    for (const auto& c : changes)
        out +=
            (out.empty() ? "" : " ") + std::string(1, letter(c.level)) + "@" + std::to_string(c.at.count());
    return out;
}

}  // namespace grayrelic::test
