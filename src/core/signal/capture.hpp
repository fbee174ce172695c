// SPDX-License-Identifier: GPL-3.0-or-later
// A recorded conversation: named signals over a common span of time, and the helpers that find a signal by
// name.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/base/result.hpp"
#include "core/signal/analogue.hpp"
#include "core/signal/waveform.hpp"

namespace grayrelic {

enum class SignalKind { digital, real, event, analogue };

/// A real-valued signal as its changes: values[i] holds from times[i] on.
struct RealWaveform {
    std::vector<Time> times;
    std::vector<double> values;
};

struct Signal {
    std::string name;    ///< dotted path; a bit of a vector is "top.q[2]"
    std::string vector;  ///< "top.q[2:0]" for a bit of a vector, else empty
    SignalKind kind = SignalKind::digital;
    std::shared_ptr<const DigitalWaveform>
        digital;                               ///< set for digital signals, and the levels of analogue ones
    std::shared_ptr<const RealWaveform> real;  ///< set for real signals and events (values 1)
    std::shared_ptr<const AnalogueWaveform> analogue{};  ///< set for analogue ones, which have levels too
};

/// What a reader decided where the file did not say it.
struct Remark {
    std::string says;      ///< "times read as nanoseconds: the file states no unit"
    bool guessed = false;  ///< figures rest on it, and it may be wrong
    bool operator==(const Remark&) const = default;
};

struct Capture {
    std::string format;  ///< "vcd", "csv", "wav" or "raw"
    Time resolution;     ///< the file's time unit; rounded up to 1 ps
    Time rounding;       ///< largest error made by rounding to picoseconds; zero for 1 ps and coarser
    Span extent;         ///< first to last time stamp
    std::vector<Signal> signals;
    std::vector<Remark> remarks;
    /// As the file states it, or as its rows are spaced where each is a sample; nothing where it does not
    /// say.
    std::optional<Time> sample_period = {};
    /// Further names of signals, such as those of the pins that they are tied to: name and the signal's own.
    std::vector<std::pair<std::string, std::string>> also_called = {};

    [[nodiscard]] std::size_t edge_count() const;
    /// The signal with this name, or the only one whose path ends with it at a dot, or that is also called
    /// so. Otherwise a usage error that lists what there is.
    [[nodiscard]] Result<const Signal*> find(std::string_view name) const;
    /// As find(), and the signal must be digital.
    [[nodiscard]] Result<const DigitalWaveform*> find_digital(std::string_view name) const;
};

/// The shortest ending of a signal's path that no other signal of the capture ends with.
[[nodiscard]] std::string unique_ending(const Capture& capture, std::string_view name);

/// The last part of a dotted path: "STEP" of "control_port.STEP".
[[nodiscard]] std::string short_name(std::string_view name);

/// "STEP:rise": a signal's edges. The last colon parts the name from the direction.
struct EdgeName {
    std::string signal;
    Direction direction = Direction::any;
    bool operator==(const EdgeName&) const = default;
};
[[nodiscard]] Result<EdgeName> parse_edge(std::string_view text);
[[nodiscard]] std::string print_edge(const EdgeName& edge);  ///< "STEP:rise", for files and the command line
[[nodiscard]] std::string show_edge(const EdgeName& edge);   ///< "STEP ↑", for people
[[nodiscard]] Direction opposite(Direction d);
[[nodiscard]] std::string_view word(Direction d);  ///< "rise", "fall", "any"

}  // namespace grayrelic
