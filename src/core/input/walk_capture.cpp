// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/walk_capture.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

#include "core/input/device_table.hpp"

namespace grayrelic {
namespace {

using Closed = std::vector<std::pair<std::string, std::string>>;

std::string last_part(const std::string& path) {
    const auto dot = path.rfind('.');
    return dot == std::string::npos ? path : path.substr(dot + 1);
}

const Closed* closed_in(const Frame& frame) {
    if (!frame.errors.empty()) return nullptr;
    for (const auto& [key, value] : frame.extra)
        if (key == "closed") return std::get_if<Closed>(&value);
    return nullptr;
}

}  // namespace

std::vector<WalkPress> walk_presses(const Decoding& scans, const std::vector<MarkedMoment>& moments) {
    struct Seen {
        std::size_t scans = 0;
        std::map<std::pair<std::string, std::string>, std::size_t> positions;
    };
    std::vector<std::string> order;
    std::map<std::string, Seen> seen;
    for (const auto& m : moments) {
        if (m.pressed.empty()) continue;
        const auto [it, fresh] = seen.emplace(m.pressed, Seen{});
        if (fresh) order.push_back(m.pressed);
        for (const auto& f : scans.frames) {
            if (f.start < m.from || f.end > m.to) continue;
            const auto* closed = closed_in(f);
            if (closed == nullptr) continue;
            ++it->second.scans;
            for (const auto& at : *closed)
                ++it->second.positions[{last_part(at.first), last_part(at.second)}];
        }
    }
    std::vector<WalkPress> out;
    for (const auto& name : order) {
        WalkPress press{name, {}};
        for (const auto& [at, count] : seen[name].positions)
            if (count * 2 >= seen[name].scans) press.closed.push_back(at);
        out.push_back(std::move(press));
    }
    return out;
}

WalkTaken take_walk(const DeviceMap& map, const std::vector<WalkPress>& presses) {
    WalkTaken out{map, matrix_from_walk(presses).doubts, 0};
    std::set<std::string> used;
    const auto add_line = [](std::vector<std::string>& lines, const std::string& line) {
        if (std::find(lines.begin(), lines.end(), line) == lines.end()) lines.push_back(line);
    };
    for (const auto& press : presses) {
        // What answered at several positions is not to be guessed.
        if (press.closed.size() != 1) continue;
        auto& keys = out.map.keys;
        const auto wanted = [&](const MapKey& k) {
            return used.count(k.id) == 0 && (k.id == press.key || k.legend == press.key);
        };
        auto it =
            std::find_if(keys.begin(), keys.end(), [&](const auto& k) { return wanted(k) && k.row.empty(); });
        if (it == keys.end()) it = std::find_if(keys.begin(), keys.end(), wanted);
        if (it == keys.end()) {
            keys.push_back(
                walked_key(keys, {press.key, {}, {}, 1, 1, 0, keys.size() % 10 == 0 && !keys.empty()}));
            it = keys.end() - 1;
        }
        it->row = press.closed.front().first;
        it->column = press.closed.front().second;
        used.insert(it->id);
        add_line(out.map.matrix.rows, it->row);
        add_line(out.map.matrix.columns, it->column);
        ++out.placed;
    }
    std::sort(out.map.matrix.rows.begin(), out.map.matrix.rows.end());
    std::sort(out.map.matrix.columns.begin(), out.map.matrix.columns.end());
    return out;
}

namespace {

bool is_number(const std::string& text) {
    return !text.empty() &&
           std::all_of(text.begin(), text.end(), [](char c) { return c >= '0' && c <= '9'; });
}

}  // namespace

DeviceMap take_bits(const DeviceMap& map, const std::vector<std::string>& bits, const Evidence& evidence) {
    auto out = map;
    double y = 0, x = 0;
    for (const auto& k : out.keys) y = std::max(y, k.y + k.height);
    const auto add = [&](const std::string& legend, const std::string& code, ControlKind kind) {
        const bool there = std::any_of(out.keys.begin(), out.keys.end(),
                                       [&](const auto& k) { return k.code.value == code; });
        if (there) return;
        MapKey key;
        key.id = free_key_id(out.keys, legend);
        key.legend = legend;
        key.kind = kind;
        key.code = {code, {}, evidence};
        key.sends = KeySends::state;
        key.x = x;
        key.y = y;
        x += 1;
        out.keys.push_back(std::move(key));
    };
    for (std::size_t i = 0; i < bits.size(); ++i) {
        if (bits[i].empty()) continue;
        auto last = i;
        while (is_number(bits[i]) && last + 1 < bits.size() && is_number(bits[last + 1])) ++last;
        if (last > i)
            add(fmt::format("{}..{}", bits[i], bits[last]), fmt::format("bits {}..{}", bits[i], bits[last]),
                ControlKind::dial);
        else
            add(bits[i], "bit " + bits[i], ControlKind::button);
        i = last;
    }
    return out;
}

}  // namespace grayrelic
