// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/compare_frames.hpp"

#include "core/base/long_work.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/decode/settings.hpp"

namespace grayrelic {
namespace {

std::string shown(const Frame& f, bool with_errors) {
    auto out = f.levels;
    if (with_errors)
        for (const auto& e : f.errors) out += (out.empty() ? "" : " ") + e;
    return out;
}

Time usual_tolerance(const Decoding& d) {
    std::vector<Time> starts;
    for (const auto& f : d.frames) starts.push_back(f.start);
    const auto distance = median_distance(starts);
    if (distance) return *distance / 2;
    return d.frames.empty() ? Time::ms(1)
                            : std::max(Time::us(1), d.frames.front().end - d.frames.front().start);
}

}  // namespace

std::string_view word(FrameDifferenceKind kind) {
    switch (kind) {
        case FrameDifferenceKind::levels: return "levels";
        case FrameDifferenceKind::errors: return "errors";
        case FrameDifferenceKind::missing: return "missing";
        case FrameDifferenceKind::extra: return "extra";
    }
    return "levels";
}

FrameComparison compare_frames(const Decoding& original, const Decoding& replica, Time shift,
                               std::optional<Time> tolerance) {
    long_work("compare_frames");
    FrameComparison out;
    out.tolerance = tolerance ? *tolerance : usual_tolerance(original);
    const auto note = [&](FrameDifference d) {
        if (out.differences.size() < most_frame_differences) out.differences.push_back(std::move(d));
    };
    const auto& a = original.frames;
    const auto& b = replica.frames;
    for (std::size_t i = 0, j = 0; i < a.size() || j < b.size();) {
        const auto later = j < b.size() ? b[j].start + shift : Time::max();
        if (i == a.size() || (j < b.size() && later < a[i].start - out.tolerance)) {
            ++out.extra;
            note({FrameDifferenceKind::extra, later, {}, shown(b[j], true)});
            ++j;
        } else if (j == b.size() || later > a[i].start + out.tolerance) {
            ++out.missing;
            note({FrameDifferenceKind::missing, a[i].start, shown(a[i], true), {}});
            ++i;
        } else {
            const bool levels = a[i].levels != b[j].levels, errors = a[i].errors != b[j].errors;
            if (levels || errors) {
                ++out.differ;
                note({levels ? FrameDifferenceKind::levels : FrameDifferenceKind::errors, a[i].start,
                      shown(a[i], errors), shown(b[j], errors)});
            } else {
                ++out.same;
            }
            ++i, ++j;
        }
    }
    return out;
}

SettingMap settings_of(const Decoding& decoding) {
    const auto decoder = find_decoder(decoding.kind);
    SettingMap out;
    if (!decoder) return out;
    for (const auto& spec : (*decoder)->settings()) {
        const auto it = decoding.settings.find(spec.name);
        if (it == decoding.settings.end()) continue;
        if (const auto* text = std::get_if<std::string>(&it->second))
            out[spec.name] = *text;
        else if (const auto* whole = std::get_if<long long>(&it->second))
            out[spec.name] = std::to_string(*whole);
        else if (const auto* number = std::get_if<double>(&it->second))
            out[spec.name] = fmt::format("{}", *number);
    }
    std::erase_if(out, [](const auto& s) { return s.second == "auto"; });
    return out;
}

}  // namespace grayrelic
