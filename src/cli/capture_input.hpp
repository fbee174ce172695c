// SPDX-License-Identifier: GPL-3.0-or-later
// The options with which every verb of `capture` reads its file, where the file does not say everything
// itself.
#pragma once

#include <CLI/App.hpp>

#include <map>
#include <string>
#include <utility>
#include <vector>

#include "core/capture/capture_file.hpp"
#include "core/decode/decoder.hpp"

namespace grayrelic::cli {

struct InputArguments {
    std::string rate, unit, threshold;
    int raw = 0;
    bool raw_msb = false, raw_big_endian = false;
};

void add_input_options(CLI::App& verb, InputArguments& a);
[[nodiscard]] Result<Capture> read_input(const std::string& file, const InputArguments& a);

/// A capture and how its words are read: --as, --map and the families' settings.
struct ReadingArguments {
    InputArguments table;
    std::string file, kind;
    std::vector<std::string> map;
    std::map<std::string, std::string> settings;
    [[nodiscard]] Result<RoleMap> roles() const;
    [[nodiscard]] SettingMap given() const;  ///< the settings that are not empty
};
void add_reading_options(CLI::App& verb, ReadingArguments& a);

/// "clock=STEP" into its halves, for each of the texts; `option` and `expected` are for the message.
[[nodiscard]] Result<std::vector<std::pair<std::string, std::string>>> pairs_of(
    const std::vector<std::string>& list, const char* option, const char* expected);

}  // namespace grayrelic::cli
