// SPDX-License-Identifier: GPL-3.0-or-later
// A program run as a person would, with its exit status and what it printed.
#pragma once

#include <sys/wait.h>

#include <nlohmann/json.hpp>

#include "tests/core/helpers.hpp"

namespace grayrelic::test {

struct Answer {
    int status = -1;
    std::string out, err;
    [[nodiscard]] nlohmann::json json() const { return nlohmann::json::parse(out); }
};

inline Answer run(const std::string& arguments, const std::string& program = GRAY_RELIC_CLI) {
    const TempFolder folder;
    const auto command = program + " " + arguments + " >" + (folder / "out").string() + " 2>" +
                         (folder / "err").string() + " </dev/null";
    const int status = std::system(command.c_str());
    return {WIFEXITED(status) ? WEXITSTATUS(status) : -1, read_file(folder / "out"),
            read_file(folder / "err")};
}

/// Whether the programs are built with what needs all addresses for itself: nothing can be bounded then.
#ifdef __SANITIZE_ADDRESS__
inline constexpr bool takes_all_addresses = true;
#else
inline constexpr bool takes_all_addresses = false;
#endif

inline std::vector<std::string> keys(const nlohmann::json& j) {
    std::vector<std::string> out;
    for (const auto& [key, value] : j.items()) out.push_back(key);
    return out;
}

/// Shipped dossiers, and recordings of models in a hardware description language.
inline const std::string demo = (source_folder() / "demos/calder-dial-pad.relic").string();
inline const std::string hdl = (source_folder() / "tests/data/hdl/").string();

}  // namespace grayrelic::test
