// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/turns.hpp"

#include <algorithm>
#include <cmath>

namespace grayrelic {
namespace {

constexpr double apart = 2.5;      ///< pauses of different kinds differ by this factor at least
constexpr std::size_t fewest = 3;  ///< polls and answers, to believe in them

/// Pauses between successive frames, never below 0.
std::vector<Time> pauses_of(const std::vector<Frame>& frames) {
    std::vector<Time> out;
    for (std::size_t i = 1; i < frames.size(); ++i)
        out.push_back(std::max(Time{}, frames[i].start - frames[i - 1].end));
    return out;
}

Time character_of(const Decoding& d) {
    return d.frames.empty() ? Time{} : d.frames.front().end - d.frames.front().start;
}

/// Borders between kinds of pauses, ascending. Pauses under half a character are all of one kind.
std::vector<Time> borders_of(const std::vector<Time>& pauses, Time character) {
    auto sorted = pauses;
    std::sort(sorted.begin(), sorted.end());
    std::vector<Time> out;
    for (std::size_t i = 1; i < sorted.size(); ++i) {
        const Time below = std::max(sorted[i - 1], character / 8);
        if (static_cast<double>(sorted[i].count()) > apart * static_cast<double>(below.count()))
            out.push_back(Time::ps(static_cast<std::int64_t>(
                std::sqrt(static_cast<double>(below.count()) * static_cast<double>(sorted[i].count())))));
    }
    return out;
}

long long side_of(const Frame& f) {
    const auto it = f.extra.find("side");
    if (it == f.extra.end()) return 0;
    const auto* side = std::get_if<long long>(&it->second);
    return side == nullptr ? 0 : *side;
}

/// Polls and answers that alternate: messages parted at `within`, the sides by whether the pause before is
/// above `between`.
std::vector<Turn> alternating(const Decoding& d, Time within, Time between) {
    auto turns = messages_of(d, within);
    std::size_t strange = 0, answers = 0;
    const Time least = character_of(d) / 2;  // nobody turns a line round faster; within a message it is usual
    for (std::size_t i = 1; i < turns.size(); ++i) {
        const Time pause = turns[i].start - turns[i - 1].end;
        const bool long_before = pause > between;
        if (!long_before && pause < least) return {};
        turns[i].answer = !long_before;
        if (turns[i].answer) ++answers;
        if (turns[i].answer && turns[i - 1].answer) ++strange;
    }
    const bool believed = answers >= fewest && 10 * strange <= answers && 10 * answers >= 3 * turns.size();
    return believed ? turns : std::vector<Turn>{};
}

std::vector<Turn> one_wire(const Decoding& d) {
    std::vector<Turn> out;
    std::size_t answers = 0;
    for (const auto& f : d.frames) {
        const auto side = side_of(f);
        if (side != 1 && side != 2) continue;
        answers += side == 2 ? 1 : 0;
        out.push_back({side == 2, f.start, f.end});
    }
    if (answers < fewest) out.clear();
    return out;
}

}  // namespace

std::vector<Turn> messages_of(const Decoding& decoding, Time pause) {
    std::vector<Turn> out;
    for (const auto& f : decoding.frames) {
        if (!out.empty() && f.start - out.back().end <= pause)
            out.back().end = f.end;
        else
            out.push_back({false, f.start, f.end});
    }
    return out;
}

Time message_pause(const Decoding& decoding) {
    const auto character = character_of(decoding);
    const auto borders = borders_of(pauses_of(decoding.frames), character);
    const auto above =
        std::find_if(borders.begin(), borders.end(), [&](Time b) { return b > character / 2; });
    return above == borders.end() ? character * 2 : *above;
}

std::vector<Turn> turns_of(const Decoding& decoding) {
    if (decoding.kind == "pulse-width") return one_wire(decoding);
    if (decoding.kind != "async-serial" || decoding.frames.size() < 2 * fewest) return {};
    const auto borders = borders_of(pauses_of(decoding.frames), character_of(decoding));
    // One kind of pause within messages, or messages of one character each.
    for (std::size_t i = 0; i + 1 < borders.size(); ++i)
        if (auto turns = alternating(decoding, borders[i], borders[i + 1]); !turns.empty()) return turns;
    for (const Time border : borders)
        if (auto turns = alternating(decoding, Time::ps(-1), border); !turns.empty()) return turns;
    return {};
}

std::vector<Turn> talk_of(const Decoding& decoding) {
    auto turns = turns_of(decoding);
    return turns.empty() ? messages_of(decoding, message_pause(decoding)) : turns;
}

}  // namespace grayrelic
