// SPDX-License-Identifier: GPL-3.0-or-later
// Every protocol family spoken: words turned into the edges that a capture device would record, with jitter,
// sampling and honest faults, and with what was said beside them. For tests, demos and the stand-in's live
// source. All of it is seeded.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "core/base/random.hpp"
#include "core/decode/decoder.hpp"

namespace grayrelic::standin {

/// One line, edge by edge, in order of time. Times that jitter turns around are kept a picosecond apart.
class Wire {
  public:
    explicit Wire(std::string name, bool level = true)
        : name_(std::move(name)), first_(level), level_(level) {}
    /// The level from t on. Nothing happens when the line has it already.
    void set(Time t, bool level);
    void pulse(Time from, Time to, bool level) {
        set(from, level);
        set(to, !level);
    }
    [[nodiscard]] bool level() const { return level_; }
    [[nodiscard]] Time last() const { return edges_.empty() ? Time{} : edges_.back(); }
    /// Standard deviation of each edge from now on.
    void jitter(Time sd, std::uint64_t seed) {
        sd_ = sd;
        random_ = Random(seed);
    }
    /// Edges rounded up to the next sample, as a logic capture sees them; zero keeps them exact.
    [[nodiscard]] Signal signal(Time sample = {}) const;

  private:
    std::string name_;
    bool first_, level_;
    std::vector<Time> edges_;
    Time sd_;
    Random random_{1};
};

[[nodiscard]] Capture capture_of(const std::vector<Wire>& wires, Time end, Time sample = {});

// --- the families ------------------------------------------------------------------------------------

struct AsyncStyle {
    double baud = 9600;
    int bits = 8;
    std::string parity = "none";
    double stop = 1;
    bool inverted = false;
    bool msb = false;
    Time gap;  ///< between characters, beside the stop bits
};
/// One character from t on; gives the time at which the next may begin. `flip` turns single positions around
/// (0 start, then data, parity, stop): an error on purpose.
Time say_async(Wire& line, Time t, std::uint64_t value, const AsyncStyle& style, int flip = -1);

struct ShiftStyle {
    int bits = 16;
    Time latch = Time::us(12), half = Time::us(6);
    bool msb = true;
};
/// A latch pulse (high), then clocks that rest high; the device shifts after the rise, the host reads at the
/// fall.
Time say_latch_shift(Wire& latch, Wire& clock, Wire& data, Time t, std::uint64_t value,
                     const ShiftStyle& style);

/// Bits of one burst, most significant first, and its stop bit (a short pulse). A cell lasts `cell`; pulses
/// take a quarter or three of it, and the line rests high.
Time say_pulse_width(Wire& line, Time t, std::uint64_t value, int bits, Time cell, bool short_is_one = true);

/// Start, data least significant first, odd parity, stop; the clock rests high and data is read at its fall.
Time say_framed_clock(Wire& clock, Wire& data, Time t, std::uint64_t value, int bits, Time half,
                      bool wrong_parity = false);

/// One word in a mode; the select line, where there is one, is pulled low around it by the caller.
Time say_clocked(Wire& clock, Wire& data, Time t, std::uint64_t value, int bits, int mode, Time half);

/// Steps of a wheel: +1 or -1, one change each `step`.
Time say_quadrature(Wire& a, Wire& b, Time t, int steps, Time step);

/// Lines set, then a strobe pulse (low) whose rise takes them over.
Time say_strobed(Wire& strobe, std::vector<Wire>& lines, Time t, std::uint64_t value, Time setup, Time width,
                 Time hold);

/// One look: enable low, select low, the first bank, select high, the second, enable high.
Time say_select_bank(Wire& select, Wire& enable, std::vector<Wire>& lines, Time t, std::uint64_t bank0,
                     std::uint64_t bank1, Time dwell);

/// One scan of a bare matrix, active low: closed[strobe] has a bit for each sense line.
Time say_matrix(std::vector<Wire>& strobes, std::vector<Wire>& senses, Time t,
                const std::vector<std::uint64_t>& closed, Time dwell);

/// One USB packet of these bytes (identifier first; checks included by the caller), with SYNC, stuffing and
/// end of packet.
Time say_usb(Wire& plus, Wire& minus, Time t, const std::vector<std::uint8_t>& bytes, bool full);

}  // namespace grayrelic::standin
