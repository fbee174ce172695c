// SPDX-License-Identifier: GPL-3.0-or-later
// Links that nobody rehearsed: seeded captures of every family over its whole space, written from the
// families' descriptions (decoder table of the command line, the serial, clocked and USB standards' framing)
// without the decoders. Nothing of src/ is used here; what a decoder must find is said beside each capture.
#pragma once

#include <cstdint>
#include <map>
#include <random>
#include <set>
#include <string>
#include <vector>

namespace grayrelic::unseen {

/// Seeded draws.
class Dice {
  public:
    explicit Dice(std::uint64_t seed) : engine_(seed) {}
    double real(double low, double high) { return low + (high - low) * unit(); }
    /// The same chance for each decade.
    double log(double low, double high);
    long whole(long low, long high) {  ///< both ends included
        return low + static_cast<long>(engine_() % static_cast<std::uint64_t>(high - low + 1));
    }
    bool chance(double p) { return unit() < p; }
    double bell();  ///< standard normal, cut at 3
    template <class T>
    const T& one_of(const std::vector<T>& all) {
        return all[static_cast<std::size_t>(whole(0, static_cast<long>(all.size()) - 1))];
    }
    double unit() { return static_cast<double>(engine_() >> 11) * 0x1p-53; }

  private:
    std::mt19937_64 engine_;
};

/// A line over time, in picoseconds; edges alternate.
struct Wire {
    std::string name;
    bool first = false;  ///< its level before the first edge
    std::vector<std::int64_t> edges;
    [[nodiscard]] bool level() const { return first != (edges.size() % 2 != 0); }
    [[nodiscard]] bool level_at(std::int64_t t) const;
    /// From t on; never before its last edge.
    void set(double t_ps, bool high);
    void pulse(double from_ps, double to_ps, bool high) { set(from_ps, high), set(to_ps, !high); }
};

struct Word {
    std::string levels;  ///< data bits in order of arrival
    std::string error;   ///< "", "parity", "framing", "break"
};

/// What is on some of the lines.
struct Link {
    std::string kind;
    std::map<std::string, std::vector<std::string>> roles;
    std::map<std::string, std::string> settings;  ///< as the command line spells them
    std::set<std::string> open;                   ///< settings that this capture does not decide
    std::vector<Word> words;                      ///< as the host would read them, where that can be listed
    long position = 0;                            ///< quadrature: at the end
    std::set<std::pair<int, int>> closed;         ///< matrix: ever closed, as strobe and sense
    std::set<std::string> alike;                  ///< kinds that read the same lines without an error too
};

struct Made {
    std::uint64_t seed = 0;
    std::vector<Wire> wires;
    std::vector<Link> links;  ///< empty: nonsense
    std::string about;        ///< drawn parameters in a line
    std::int64_t end = 0;     ///< of the capture
    std::int64_t sample = 0;  ///< period, 0 where edges are exact
    double shortest = 0;      ///< pulse of the link's lines, ps
};

/// Being put together.
struct Draft {
    Dice dice;
    Made made;
    double jitter = 0;  ///< standard deviation of an edge, ps
    double now = 0;     ///< ps
    explicit Draft(std::uint64_t seed) : dice(seed) { made.seed = seed; }
    Wire& wire(const std::string& name, bool rests);
    double shaken(double t) { return t + jitter * dice.bell(); }
};

// One family each; the link's lines are drawn into the draft, from draft.now on.
void async_serial(Draft& d);
void latch_shift(Draft& d);
void select_bank(Draft& d);
void pulse_width(Draft& d);
void framed_clock(Draft& d);
void clocked(Draft& d);
void quadrature(Draft& d);
void strobed_bus(Draft& d);
void matrix(Draft& d);
void usb_low_full(Draft& d);
/// A line or two that belong to no family.
void nonsense(Draft& d);
/// The end of the capture, other lines beside it, and the recorder's sampling.
void finish(Draft& d);
/// Lines that have nothing to do with it.
void clutter(Draft& d, int lines);

/// Kinds in the order in which seeds draw them; the last is "nonsense".
[[nodiscard]] const std::vector<std::string>& kinds();
/// The capture of a seed; `kind` empty: drawn too.
[[nodiscard]] Made make(std::uint64_t seed, const std::string& kind = {});

}  // namespace grayrelic::unseen
