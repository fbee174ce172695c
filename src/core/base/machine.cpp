// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/machine.hpp"

#include <unistd.h>

#include <algorithm>

namespace grayrelic {

std::uint64_t memory_bound() {
    constexpr std::uint64_t most = 2ULL << 30U;
    const long pages = ::sysconf(_SC_PHYS_PAGES), page = ::sysconf(_SC_PAGESIZE);
    if (pages <= 0 || page <= 0) return most;
    return std::min(most, static_cast<std::uint64_t>(pages) * static_cast<std::uint64_t>(page) / 2);
}

Failure fail_memory(const std::string& name) {
    return fail_system(name, "more than there is memory for", "something smaller, or other programs closed");
}

}  // namespace grayrelic
