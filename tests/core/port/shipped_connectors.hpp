// SPDX-License-Identifier: GPL-3.0-or-later
// The connectors that ship with the program.
#pragma once

#include "core/port/connector_library.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic::test {

inline const ConnectorLibrary& shipped_connectors() {
    static const auto l = ConnectorLibrary::load(disk(), {test::source_folder() / "data"});
    return l;
}

inline Connector get(const std::string& id) {
    auto c = shipped_connectors().find(id);
    EXPECT_TRUE(c) << message(c);
    return c ? *c : Connector{};
}

}  // namespace grayrelic::test
