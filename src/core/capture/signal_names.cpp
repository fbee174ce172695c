// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/capture/signal_names.hpp"

#include <algorithm>

#include "core/base/long_work.hpp"
#include "core/capture/csv_preview.hpp"
#include "core/capture/expand.hpp"
#include "core/capture/vcd_header.hpp"

namespace grayrelic {

std::vector<std::string> signal_names(const std::filesystem::path& path) {
    long_work("signal_names");
    constexpr std::size_t heading = 256U << 10U;
    std::vector<std::string> out;
    const auto head = head_of_file(path, heading);
    if (!head) return out;
    const auto first = head->find_first_not_of(" \t\r\n");
    if (first == std::string::npos || head->starts_with("RIFF")) return out;
    if ((*head)[first] == '$') {
        Progress progress;
        const auto dump = parse_vcd_header(*head, progress, VcdLimits{});
        if (dump)
            for (const auto& d : dump->declared) out.push_back(d.name);
        return out;
    }
    const auto table = preview_csv(path, {});
    if (!table || !table->problem.empty()) return out;
    for (const auto& c : table->columns)
        if (c.use == ColumnUse::levels || c.use == ColumnUse::analogue) out.push_back(c.name);
    return out;
}

bool has_signal(const std::vector<std::string>& names, std::string_view name) {
    if (std::find(names.begin(), names.end(), name) != names.end()) return true;
    const auto ending = "." + std::string(name);
    return std::count_if(names.begin(), names.end(), [&](const auto& n) { return n.ends_with(ending); }) == 1;
}

}  // namespace grayrelic
