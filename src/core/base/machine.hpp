// SPDX-License-Identifier: GPL-3.0-or-later
// What the machine has, as far as limits depend on it.
#pragma once

#include <cstdint>

#include "core/base/result.hpp"

namespace grayrelic {

/// Bytes that reading one file from outside may take: half of the machine's memory, at most 2 GiB.
[[nodiscard]] std::uint64_t memory_bound();

/// The one message of work that found no memory: "NAME: found more than there is memory for, …".
[[nodiscard]] Failure fail_memory(const std::string& name);

}  // namespace grayrelic
