// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/find_frames.hpp"

#include <algorithm>
#include <charconv>

#include "core/base/text.hpp"

namespace grayrelic {

Result<FrameQuery> parse_frame_query(std::string_view text) {
    FrameQuery q;
    auto t = trim(text);
    if (t.empty()) return q;
    if (t == "error" || t.starts_with("error ")) {
        q.with_errors = true;
        q.error = std::string(trim(t.substr(5)));
        return q;
    }
    const auto wrong = [&] {
        return fail_usage("words " + in_quotes(text),
                          "error, error and its kind, a value such as 0x3f, or bits such as 1..0");
    };
    if (t.find_first_not_of("01.") == std::string_view::npos && t.find('.') != std::string_view::npos) {
        q.levels = std::string(t);
        return q;
    }
    std::uint64_t v = 0;
    const int base = t.starts_with("0x") || t.starts_with("0X") ? 16 : 10;
    const auto digits = base == 16 ? t.substr(2) : t;
    const auto [p, code] = std::from_chars(digits.data(), digits.data() + digits.size(), v, base);
    if (code != std::errc{} || digits.empty() || p != digits.data() + digits.size()) return wrong();
    q.value = v;
    return q;
}

Result<std::vector<Span>> find_frames(const Capture& capture, const Decoding& decoding,
                                      const FrameQuery& query) {
    std::vector<std::pair<const DigitalWaveform*, bool>> conditions;
    for (const auto& w : query.while_levels) {
        const auto waveform = capture.find_digital(w.signal);
        if (!waveform) return fail(waveform.error());
        conditions.emplace_back(*waveform, w.high);
    }
    std::vector<Span> out;
    for (const auto& f : decoding.frames) {
        if (out.size() >= most_hits) break;
        if (query.with_errors &&
            (f.errors.empty() || (!query.error.empty() && std::find(f.errors.begin(), f.errors.end(),
                                                                    query.error) == f.errors.end())))
            continue;
        if (query.value && f.value != query.value) continue;
        if (query.levels.size() > f.levels.size()) continue;
        bool fits = true;
        for (std::size_t i = 0; fits && i < query.levels.size(); ++i)
            fits = query.levels[i] == '.' || query.levels[i] == f.levels[i];
        for (const auto& [waveform, high] : conditions) fits = fits && waveform->level_at(f.start) == high;
        if (fits) out.push_back({f.start, f.end});
    }
    return out;
}

}  // namespace grayrelic
