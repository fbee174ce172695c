// SPDX-License-Identifier: GPL-3.0-or-later
// Connector files.
#include "core/port/connector_library.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    (void)grayrelic::connector_from_json({reinterpret_cast<const char*>(data), size}, "fuzz");
    return 0;
}
