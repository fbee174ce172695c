// SPDX-License-Identifier: GPL-3.0-or-later
// The options that say what is searched for: of `capture find`, and of the stop condition of `capture
// follow`.
#pragma once

#include <CLI/App.hpp>

#include <string>
#include <vector>

#include "core/signal/find.hpp"

namespace grayrelic::cli {

struct FindArguments : FindText {
    bool high = false, low = false;
    [[nodiscard]] bool anything() const {
        return !pulse.empty() || !pause.empty() || !order.empty() || !levels.empty();
    }
};

void add_find_options(CLI::App& verb, FindArguments& a);
[[nodiscard]] Result<FindQuery> find_query(const FindArguments& a);
/// A time of zero or more; nothing for an empty text or "auto".
[[nodiscard]] Result<std::optional<Time>> time_option(const std::string& text, const char* option);

}  // namespace grayrelic::cli
