// SPDX-License-Identifier: GPL-3.0-or-later
// The words of searches, of frames that are looked for, and of rules for packets; what is understood is
// searched for.
#include "core/signal/find.hpp"
#include "core/base/text.hpp"
#include "core/decode/find_frames.hpp"
#include "core/decode/packets.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

namespace {

/// Three lines with pulses of many lengths.
const Capture& lines() {
    static const Capture capture = [] {
        Capture c;
        c.extent = {Time{}, Time::ms(2)};
        for (int line = 0; line < 3; ++line) {
            std::vector<Time> edges;
            for (Time t = Time::us(1 + line); t < Time::ms(2);
                 t += Time::us(2 + line) * (1 + edges.size() % 9))
                edges.push_back(t);
            c.signals.push_back({std::string(1, static_cast<char>('A' + line)), "", SignalKind::digital,
                                 std::make_shared<const DigitalWaveform>(false, edges), nullptr});
        }
        return c;
    }();
    return capture;
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto text = fuzz::text_of(data, size);
    const auto parts = split(text, '|');
    const auto part = [&](std::size_t i) {
        return std::string(i < parts.size() ? parts[i] : std::string_view());
    };
    FindText typed;
    typed.pulse = part(0);
    if (size % 3 != 0) typed.pulse_level = size % 3 == 1;
    typed.shorter = part(1);
    typed.longer = part(2);
    typed.pause = part(3);
    if (!part(4).empty()) typed.levels = {part(4)};
    typed.order = part(5);
    Progress progress;
    if (const auto query = find_query(typed)) {
        const auto hits = find_in(lines(), *query, progress);
        for (std::size_t i = 1; hits && i < hits->size(); ++i)
            if ((*hits)[i].from < (*hits)[i - 1].from) std::abort();
    }
    if (const auto query = parse_frame_query(text)) {
        Decoding decoded;
        for (int i = 0; i < 40; ++i) {
            Frame frame;
            frame.start = Time::us(10 * i);
            frame.end = Time::us(10 * i + 8);
            frame.value = static_cast<std::uint64_t>(i * 37 % 256);
            for (int bit = 7; bit >= 0; --bit) frame.levels += (*frame.value >> bit & 1U) != 0 ? '1' : '0';
            if (i % 5 == 0) frame.errors = {"parity"};
            decoded.frames.push_back(frame);
        }
        (void)find_frames(lines(), decoded, *query);
    }
    if (const auto rule = parse_packet_rule(text)) {
        const auto again = parse_packet_rule(print_packet_rule(*rule));
        if (!again || !(*again == *rule)) std::abort();
    }
    return 0;
}
