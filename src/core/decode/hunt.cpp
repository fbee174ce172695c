// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/hunt.hpp"

#include "core/base/long_work.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <map>
#include <set>

#include "core/decode/packets.hpp"

namespace grayrelic {
namespace {

bool usable(const Frame& f, std::size_t width) {
    return f.errors.empty() && f.levels.size() == width && f.levels.find('x') == std::string::npos;
}

/// The width most frames have.
std::size_t usual_width(const std::vector<HuntTake>& takes) {
    std::map<std::size_t, long> widths;
    for (const auto& t : takes)
        for (const auto* f : t.frames)
            if (f->errors.empty()) ++widths[f->levels.size()];
    std::size_t best = 0;
    long most = 0;
    for (const auto& [w, n] : widths)
        if (n > most) most = n, best = w;
    return best;
}

/// States of each bit in a take. A bit that differs in one frame out of fifty is a slip of the line, no
/// press.
std::vector<BitState> bit_states(const HuntTake& take, std::size_t width, std::size_t& left_out) {
    std::vector<long> high(width, 0);
    long n = 0;
    for (const auto* f : take.frames) {
        if (!usable(*f, width)) {
            ++left_out;
            continue;
        }
        ++n;
        for (std::size_t i = 0; i < width; ++i) high[i] += f->levels[i] == '1' ? 1 : 0;
    }
    std::vector<BitState> out(width, BitState::absent);
    if (n == 0) return out;
    for (std::size_t i = 0; i < width; ++i)
        out[i] = 50 * high[i] <= n         ? BitState::low
                 : 50 * (n - high[i]) <= n ? BitState::high
                                           : BitState::moves;
    return out;
}

std::uint64_t number(const Frame& f, std::size_t from, std::size_t count, bool msb) {
    return value_of(std::string_view(f.levels).substr(from, count), msb).value_or(0);
}

}  // namespace

std::vector<HuntHint> find_hints(const std::vector<const Frame*>& frames) {
    std::vector<HuntHint> out;
    if (frames.size() < 4) return out;
    const auto width = frames.front()->levels.size();
    std::set<std::string> different;
    for (const auto* f : frames) different.insert(f->levels);
    if (different.size() < 4) return out;
    std::size_t counter_end = 0;
    for (const std::size_t count : {8U, 4U})
        for (std::size_t from = 0; from + count <= width; from += 4) {
            if (from < counter_end && count == 4) continue;
            for (const bool msb : {true, false}) {
                std::map<std::uint64_t, std::size_t> steps;
                const auto mask = (1ULL << count) - 1;
                for (std::size_t i = 1; i < frames.size(); ++i)
                    ++steps[(number(*frames[i], from, count, msb) -
                             number(*frames[i - 1], from, count, msb)) &
                            mask];
                const auto best =
                    std::max_element(steps.begin(), steps.end(),
                                     [](const auto& a, const auto& b) { return a.second < b.second; });
                if (best->first == 0 || 10 * best->second < 9 * (frames.size() - 1)) continue;
                const bool down = best->first > mask / 2;
                out.push_back({from, count,
                               fmt::format("counts {} by {}{}", down ? "down" : "up",
                                           down ? mask + 1 - best->first : best->first,
                                           msb ? "" : ", least significant bit first")});
                counter_end = from + count;
                break;
            }
        }
    if (width % 8 != 0 || width < 24) return out;
    constexpr std::array<std::pair<Checksum, const char*>, 4> kinds = {
        {{Checksum::exclusive_or, "the odd bits (exclusive or) of the bytes before it"},
         {Checksum::sum, "the sum of the bytes before it"},
         {Checksum::sum_complement, "what makes the sum of all bytes 0"},
         {Checksum::crc8, "a CRC-8 of the bytes before it"}}};
    const auto bytes = width / 8;
    for (const bool msb : {true, false})
        for (const auto& [kind, says] : kinds) {
            std::size_t fits = 0;
            for (const auto* f : frames) {
                std::vector<std::uint8_t> body;
                for (std::size_t b = 0; b + 1 < bytes; ++b)
                    body.push_back(static_cast<std::uint8_t>(number(*f, 8 * b, 8, msb)));
                fits += checksum_bytes(kind, body).front() == number(*f, width - 8, 8, msb) ? 1 : 0;
            }
            if (20 * fits >= 19 * frames.size()) {
                out.push_back({width - 8, 8, says});
                return out;
            }
        }
    return out;
}

HuntResult hunt(const std::vector<HuntTake>& takes) {
    long_work("hunt");
    HuntResult out;
    if (takes.empty() || takes.front().frames.empty()) {
        out.problem = "no frames at rest";
        return out;
    }
    out.width = usual_width(takes);
    if (out.width == 0) {
        out.problem = "no frame without errors";
        return out;
    }
    std::vector<std::vector<BitState>> states;
    states.reserve(takes.size());
    for (const auto& t : takes) states.push_back(bit_states(t, out.width, out.left_out));
    if (states.front().front() == BitState::absent) {
        out.problem = fmt::format("no frame at rest has the usual {} bits", out.width);
        return out;
    }
    for (std::size_t i = 0; i < out.width; ++i) {
        HuntBit bit;
        bit.place = i;
        bit.idle = states[0][i];
        if (bit.idle == BitState::moves) out.restless.push_back(i);
        for (std::size_t t = 1; t < takes.size(); ++t) {
            const auto now = states[t][i];
            if (bit.idle == BitState::moves || now == BitState::absent || now == bit.idle) continue;
            bit.moved_by.push_back(takes[t].name);
        }
        bit.active_low = bit.idle == BitState::high && !bit.moved_by.empty();
        if (bit.idle != BitState::moves && bit.moved_by.empty()) out.never_moved.push_back(i);
        out.bits.push_back(std::move(bit));
    }
    for (std::size_t t = 1; t < takes.size(); ++t) {
        HuntAnswer a;
        a.take = takes[t].name;
        for (const bool own : {true, false})
            for (const auto& bit : out.bits) {
                const bool moved =
                    std::find(bit.moved_by.begin(), bit.moved_by.end(), a.take) != bit.moved_by.end();
                if (moved && (bit.moved_by.size() == 1) == own) a.bits.push_back(bit.place);
            }
        a.shared = !a.bits.empty() && out.bits[a.bits.front()].moved_by.size() > 1;
        out.answers.push_back(std::move(a));
    }
    std::vector<const Frame*> all;
    for (const auto& t : takes)
        for (const auto* f : t.frames)
            if (usable(*f, out.width)) all.push_back(f);
    out.hints = find_hints(all);
    return out;
}

std::vector<HuntTake> takes_at(const Decoding& decoding, const std::vector<HuntMoment>& moments) {
    long_work("takes_at");
    std::vector<HuntTake> out{{"at rest", {}}};
    const bool rest_marked =
        std::any_of(moments.begin(), moments.end(), [](const HuntMoment& m) { return m.name.empty(); });
    for (const auto& m : moments)
        if (!m.name.empty() &&
            std::none_of(out.begin() + 1, out.end(), [&](const HuntTake& t) { return t.name == m.name; }))
            out.push_back({m.name, {}});
    for (const auto& f : decoding.frames) {
        const HuntMoment* inside = nullptr;
        bool touches = false;
        for (const auto& m : moments) {
            if (f.end < m.span.from || f.start > m.span.to) continue;
            touches = true;
            if (f.start >= m.span.from && f.end <= m.span.to) inside = &m;
        }
        if (inside == nullptr) {
            if (!touches && !rest_marked) out.front().frames.push_back(&f);
            continue;
        }
        for (std::size_t t = 0; t < out.size(); ++t)
            if (inside->name.empty() ? t == 0 : t > 0 && out[t].name == inside->name)
                out[t].frames.push_back(&f);
    }
    return out;
}

}  // namespace grayrelic
