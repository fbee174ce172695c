// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/wire.hpp"

#include <algorithm>

namespace grayrelic {

const WireValue* Wire::find_value(std::string_view id) const {
    const auto it = std::find_if(values.begin(), values.end(), [&](const auto& v) { return v.id == id; });
    return it == values.end() ? nullptr : &*it;
}

const WireSetting* Wire::find_setting(std::string_view id) const {
    const auto it = std::find_if(settings.begin(), settings.end(), [&](const auto& s) { return s.id == id; });
    return it == settings.end() ? nullptr : &*it;
}

const PinNeed* Wire::find_need(std::string_view id) const {
    const auto it =
        std::find_if(pins.needs.begin(), pins.needs.end(), [&](const auto& p) { return p.id == id; });
    return it == pins.needs.end() ? nullptr : &*it;
}

std::pair<std::string, long> BridgeText::place_of(long line) const {
    if (line <= common_lines) return {common_id, line};
    return {option_id, line - common_lines};
}

BridgeText bridge_text(const Wire& wire, const Timing& timing) {
    return bridge_text(wire, timing, timing.chosen);
}

BridgeText bridge_text(const Wire& wire, const Timing& timing, std::string_view id) {
    BridgeText out;
    if (const auto* common = timing.find_network(wire.network)) {
        out.common_id = common->id;
        out.text = common->text;
        if (!out.text.empty() && !out.text.ends_with('\n')) out.text += '\n';
        out.common_lines = std::count(out.text.begin(), out.text.end(), '\n');
    }
    const auto* option = timing.find_option(id);
    out.undecided = option == nullptr && !timing.options.empty();
    if (option == nullptr) return out;
    out.option = option->name;
    const auto* own = option->network.empty() ? nullptr : timing.find_network(option->network);
    if (own == nullptr || own->id == out.common_id) return out;
    out.option_id = own->id;
    out.text += own->text;
    return out;
}

}  // namespace grayrelic
