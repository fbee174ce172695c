// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/chart_slate.hpp"

#include <cmath>
#include <numbers>

#include "core/capture/vcd_writer.hpp"
#include "standin/wires.hpp"

namespace grayrelic::standin {

std::string record_chart_slate(const ChartSlateSession& s) {
    Random random(s.seed);
    constexpr double baud = 6e6 / 448;
    AsyncStyle host, slate;
    host.baud = baud * (1 + 0.0011);  // each resonator is off by its own
    slate.baud = baud * (1 - 0.0024);
    host.inverted = slate.inverted = true;
    Wire txd("serial_port.TXD", false), rxd("serial_port.RXD", false);
    txd.jitter(Time::ns(150), s.seed + 1);
    rxd.jitter(Time::ns(250), s.seed + 2);
    for (int i = 0; i < s.polls; ++i) {
        const Time t = Time::ms(25) * i + Time::ms(3);
        const Time end = say_async(txd, t, 0x05, host);
        Time at = end + Time::us(410) + Time::us(static_cast<std::int64_t>(random.below(160)));
        // The pen draws a spiral, and is lifted now and then.
        const double turn = i * 0.11, radius = 1500 + 20.0 * i;
        const auto x = static_cast<unsigned>(8192 + radius * std::cos(turn)),
                   y = static_cast<unsigned>(8192 + radius * std::sin(turn));
        const unsigned buttons = i % 60 < 48 ? 1 : 0;
        unsigned bytes[6] = {0x80 | buttons, x & 127U, x >> 7U, y & 127U, y >> 7U, 0};
        for (int k = 0; k < 5; ++k) bytes[5] ^= bytes[k];
        for (int k = 0; k < 6; ++k)
            at = say_async(rxd, at, bytes[k], slate, i == s.spoilt_poll && k == 3 ? 4 : -1) +
                 Time::us(static_cast<std::int64_t>(random.below(30)));
    }
    const Time sample = Time::from_seconds(1 / s.sample_hz);
    auto capture = capture_of({txd, rxd}, Time::ms(25) * s.polls, sample);
    std::string out;
    Progress progress;
    const auto done = write_vcd(
        capture, {},
        [&](std::string_view text) -> Status {
            out += text;
            return {};
        },
        progress);
    return done ? out : std::string();
}

}  // namespace grayrelic::standin
