// SPDX-License-Identifier: GPL-3.0-or-later
// Fixes as changes of the texts.
#include <fmt/format.h>

#include <algorithm>

#include "core/dossier/edits.hpp"
#include "core/wire/fixes.hpp"

namespace grayrelic {

std::string free_ref(const Circuit& c, std::string_view letter, const std::vector<std::string>& lines) {
    for (int i = 1;; ++i) {
        auto ref = fmt::format("{}{}", letter, i);
        const bool taken = std::any_of(c.network.all.begin(), c.network.all.end(),
                                       [&](const ListedPart& p) { return p.ref == ref; }) ||
                           std::any_of(lines.begin(), lines.end(),
                                       [&](const std::string& l) { return l.starts_with(ref + " "); });
        if (!taken) return ref;
    }
}

Dossier apply_fix(const Dossier& d, const WireFix& fix) {
    auto next = d;
    const auto text = bridge_text(*d.wire, *d.timing);
    std::vector<std::string> networks;
    if (!text.common_id.empty()) networks.push_back(text.common_id);
    if (!text.option_id.empty()) networks.push_back(text.option_id);
    const auto change = [&](auto edit_text) {
        for (const auto& id : networks) {
            const auto* n = next.timing->find_network(id);
            if (n == nullptr) continue;
            auto changed = *n;
            if (!edit_text(changed.text)) continue;
            next = put(next, std::move(changed));
            return;
        }
    };
    for (const auto& move : fix.moves)
        change([&](std::string& t) { return move_pin(t, move.first, move.second); });
    for (const auto& said : fix.words)
        change([&](std::string& t) { return change_word(t, said.first, said.second); });
    if (fix.lines.empty()) return next;
    std::string into = text.common_id;
    if (into.empty()) {
        LogicNetwork common;
        common.id = into = free_id<LogicNetwork>(next, "bridge");
        common.name = "Bridge";
        next = put(next, std::move(common));
        next = edit(next, &Dossier::wire, [&](Wire& w) { w.network = into; });
    }
    return edit<LogicNetwork>(next, into, [&](LogicNetwork& n) {
        for (const auto& line : fix.lines) add_line(n.text, line);
    });
}

}  // namespace grayrelic
