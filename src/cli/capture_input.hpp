// SPDX-License-Identifier: GPL-3.0-or-later
// The options with which every verb of `capture` reads its file, where the file does not say everything
// itself.
#pragma once

#include <CLI/App.hpp>

#include <string>

#include "core/signal/capture_file.hpp"

namespace grayrelic::cli {

struct InputArguments {
    std::string rate, unit, threshold;
    int raw = 0;
    bool raw_msb = false, raw_big_endian = false;
};

void add_input_options(CLI::App& verb, InputArguments& a);
[[nodiscard]] Result<Capture> read_input(const std::string& file, const InputArguments& a);

}  // namespace grayrelic::cli
