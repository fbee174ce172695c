// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/device_figure.hpp"

#include <algorithm>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr double device_margin = 8, key_gap = 3, widest_key = 96, device_letter = 6.4;

std::string fitting(const std::string& text, double room) {
    const auto letters = static_cast<std::size_t>(std::max(1.0, room / device_letter));
    return characters_of(text).size() <= letters ? text : shortened(text, letters);
}

std::string becomes(const MapKey& k) {
    const auto m = parse_meaning(k.meaning);
    if (!m) return {};
    return m->kind == MeaningKind::text      ? m->text
           : m->kind == MeaningKind::nothing ? "nothing"
                                             : say_meaning(*m);
}

std::string sent(const MapKey& k) {
    if (!k.code.value.empty()) return k.code.value;
    return k.row.empty() ? std::string("code ?") : k.row + " × " + k.column;
}

}  // namespace

Drawing draw_device(const DeviceMap& map, const Coverage& coverage, double width) {
    Drawing d;
    if (map.keys.empty()) return d;
    double left = map.keys.front().x, top = map.keys.front().y, right = left, bottom = top;
    for (const auto& k : map.keys) {
        left = std::min(left, k.x);
        top = std::min(top, k.y);
        right = std::max(right, k.x + k.width);
        bottom = std::max(bottom, k.y + k.height);
    }
    const double unit = std::min(widest_key, (width - 2 * device_margin) / std::max(1.0, right - left));
    const double tall = std::max(unit, 46.0);
    d.width = width;
    d.height = 2 * device_margin + (bottom - top) * tall;
    for (const auto& k : map.keys) {
        const double x = device_margin + (k.x - left) * unit, y = device_margin + (k.y - top) * tall;
        const double w = k.width * unit - key_gap, h = k.height * tall - key_gap;
        for (const auto& [x1, y1, x2, y2] : {std::tuple(x, y, x + w, y), std::tuple(x + w, y, x + w, y + h),
                                             std::tuple(x + w, y + h, x, y + h), std::tuple(x, y + h, x, y)})
            d.lines.push_back({x1, y1, x2, y2, Ink::hairline});
        const auto* view = coverage.find(k.id);
        const bool open = view != nullptr && view->state != Verdict::holds;
        Drawing::Text legend{x + 4, y + 13, fitting(k.legend, w - (open ? 20 : 8)), Ink::relic};
        legend.bold = true;
        d.texts.push_back(std::move(legend));
        Drawing::Text code{x + 4, y + 26, fitting(sent(k), w - 8), Ink::ink2};
        code.size = 10;
        code.figure = true;
        d.texts.push_back(std::move(code));
        Drawing::Text meaning{x + w - 4, y + h - 5, fitting(becomes(k), w - 8), Ink::bridge};
        meaning.anchor = Drawing::Anchor::end;
        meaning.size = 11;
        d.texts.push_back(std::move(meaning));
        if (open) d.marks.push_back({x + w - 8, y + 8, view->state});
        d.places.push_back({"key " + k.id, x, y, w, h});
    }
    return d;
}

}  // namespace grayrelic
