// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/dial_pad.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <memory>

#include "core/base/random.hpp"
#include "core/capture/vcd_writer.hpp"

namespace grayrelic::standin {
namespace {

constexpr double master_hz = 17'734'475.0;
constexpr double tick = 14.0 / master_hz;
constexpr double poll_every = 0.040;
constexpr int hold_ticks = 16;    // HOLD high
constexpr int settle_ticks = 12;  // from HOLD's fall to the first STEP fall
constexpr int step_low_ticks = 7;
constexpr int step_high_ticks = 4;  // rise to the next fall: the time a reply has
constexpr int bits = 20;
constexpr unsigned identity = 0b101;
constexpr double second = 1.0;

/// A line as it really moves, before sampling.
struct Line {
    bool first = false;
    bool level = false;
    std::vector<double> edges;
    explicit Line(bool start) : first(start), level(start) {}
    void set(bool to, double at) {
        if (to == level) return;
        level = to;
        edges.push_back(at);
    }
};

/// The pad: a shift register behind an open-collector driver that falls faster than its pull-up rises.
class Pad {
  public:
    Pad(Line& reply, Random& random, bool replica) : reply_(reply), random_(random), replica_(replica) {}
    void load(unsigned word, double at) {
        word_ = word;
        answer((word_ >> (bits - 1)) & 1U, at);
    }
    void shift(double at) {
        // The serial input is tied high; on the bridge's first board it is not.
        word_ = ((word_ << 1U) | (replica_ ? 0U : 1U)) & ((1U << bits) - 1U);
        answer((word_ >> (bits - 1)) & 1U, at);
    }

  private:
    void answer(bool level, double at) {
        const double mean = replica_ ? 24e-9 : level ? 236e-9 : 152e-9;
        const double spread = replica_ ? 3e-9 : level ? 14e-9 : 19e-9;
        reply_.set(level,
                   at + std::clamp(mean + spread * random_.normal(), replica_ ? 10e-9 : 95e-9, 330e-9));
    }
    Line& reply_;
    Random& random_;
    bool replica_ = false;
    unsigned word_ = 0;
};

/// What the person does with the pad.
class Hands {
  public:
    Hands(const DialPadSession& session, Random& random) : session_(session), random_(random) {}
    unsigned buttons(double at) {
        if (session_.pressed) {
            const bool held = at > session_.seconds / 3.0 && at < session_.seconds * 2.0 / 3.0;
            return held ? 1U << static_cast<unsigned>(*session_.pressed) : 0U;
        }
        if (!session_.lively) return 0;
        if (at >= change_at_) {
            down_ = random_.uniform() < 0.4 ? 1U << random_.below(7) : 0U;
            change_at_ = at + random_.uniform(0.12, 0.9) * second;
        }
        return down_;
    }
    unsigned dial(double at) {
        if (!session_.lively) return 0x155;
        if (at >= turn_until_) {
            speed_ = random_.uniform() < 0.5 ? 0.0 : random_.uniform(-260.0, 260.0);
            turn_until_ = at + random_.uniform(0.3, 1.5) * second;
        }
        position_ += speed_ * poll_every;
        return static_cast<unsigned>(std::llround(position_)) & 0x3FFU;
    }

  private:
    const DialPadSession& session_;
    Random& random_;
    unsigned down_ = 0;
    double change_at_ = 0.0;
    double position_ = 341.0;
    double speed_ = 0.0;
    double turn_until_ = 0.0;
};

/// The word in order of arrival, most significant bit first. Pressed is low.
unsigned word_of(unsigned pressed, unsigned low_part) {
    unsigned word = 0;
    for (unsigned b = 0; b < 7; ++b) word = (word << 1U) | ((pressed >> b) & 1U ? 0U : 1U);
    return (word << 13U) | (identity << 10U) | low_part;
}

/// Samples a line: an edge is seen at the next sample, and a pulse between two samples is not seen at all.
std::shared_ptr<const DigitalWaveform> sample(const Line& line, double hz, double phase) {
    std::vector<Time> edges;
    for (const double at : line.edges) {
        const double n = std::ceil(at * hz - phase);
        const Time seen =
            Time::ps(std::llround((n + phase) / hz * 1e9) * 1000);  // the device writes whole nanoseconds
        if (!edges.empty() && edges.back() >= seen)
            edges.pop_back();
        else
            edges.push_back(seen);
    }
    return std::make_shared<const DigitalWaveform>(line.first, std::move(edges));
}

}  // namespace

std::string record_dial_pad(const DialPadSession& session) {
    Random random(session.seed);
    Line hold(false);
    Line step(true);
    Line bank(false);
    Line reply(true);
    Pad pad(reply, random, session.replica);
    Hands hands(session, random);
    const auto jitter = [&] { return 6e-9 * random.normal(); };

    double next_glitch = session.lively ? 7.3 : 1e9;
    int poll = 0;
    for (double at = 0.0101; at + 0.001 < session.seconds; at += poll_every, ++poll) {
        const bool second_set = poll % 3 == 2;
        bank.set(second_set, at - 40.0 * tick + jitter());
        const unsigned pressed = hands.buttons(at);
        const unsigned dial = hands.dial(at);
        const double load_at = at + jitter();
        hold.set(true, load_at);
        pad.load(word_of(pressed, second_set ? 0x3FFU : dial), load_at);
        double t = at + hold_ticks * tick;
        hold.set(false, t + jitter());
        // The very first poll only looks whether a pad is there.
        if (poll == 0) continue;
        t += settle_ticks * tick;
        for (int b = 0; b < bits; ++b) {
            step.set(false, t + jitter());
            t += step_low_ticks * tick;
            const double rise = t + jitter();
            step.set(true, rise);
            pad.shift(rise);
            t += step_high_ticks * tick;
        }
        if (t >= next_glitch) {  // a spike between two polls, one sample wide
            const double spike = t + 0.002;
            const bool rest = reply.level;
            reply.set(!rest, spike);
            reply.set(rest, spike + 1.4 / session.sample_hz);
            next_glitch += random.uniform(12.0, 20.0);
        }
    }
    const double phase = random.uniform();
    VcdOutput out;
    out.scope = "control_port";
    out.comment = fmt::format("made by gray-relic-standin dial-pad, seed {}", session.seed);
    const std::array<std::pair<const char*, const Line*>, 4> lines{
        {{"HOLD", &hold}, {"STEP", &step}, {"BANK", &bank}, {"REPLY", &reply}}};
    for (const auto& [name, line] : lines)
        out.wires.push_back({name, sample(*line, session.sample_hz, phase)});
    out.end = Time::from_seconds(session.seconds);
    return write_vcd(out);
}

std::vector<NamedCapture> dial_pad_captures(std::uint64_t seed) {
    std::vector<NamedCapture> all;
    all.push_back({"idle.vcd", {seed * 16, 3.0, std::nullopt, false, 100e6}});
    for (int b = 0; b < 7; ++b)
        all.push_back(
            {fmt::format("button-{}.vcd", static_cast<char>('a' + b)),
             {seed * 16 + static_cast<std::uint64_t>(b) + 1, 3.0, b, false, b == 4 ? 0.5e6 : 100e6}});
    all.push_back({"replica.vcd", {seed * 16, 3.0, std::nullopt, false, 100e6, true}});
    all.push_back({"minute.vcd", {seed * 16 + 8, 60.0, std::nullopt, true, 100e6}});
    return all;
}

}  // namespace grayrelic::standin
