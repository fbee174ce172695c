// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/board_stack.hpp"

#include <algorithm>

namespace grayrelic {

bool BoardVariant::fits(const std::string& ref) const {
    if (!only.empty() && std::find(only.begin(), only.end(), ref) == only.end()) return false;
    return std::find(omit.begin(), omit.end(), ref) == omit.end();
}

const StackLevel* BoardStack::find_level(std::string_view named) const {
    for (const auto& l : levels)
        if (l.name == named) return &l;
    return nullptr;
}

}  // namespace grayrelic
