// SPDX-License-Identifier: GPL-3.0-or-later
// What the files of derive_contract share. For them only.
#pragma once

#include "core/timing/derive_contract.hpp"

#include <string_view>

#include "core/signal/cause.hpp"
#include "core/signal/measure.hpp"

namespace grayrelic::derive_parts {

using Lines = std::vector<const DigitalWaveform*>;

/// A contract being put together.
class Draft {
  public:
    explicit Draft(const DeriveFrom& from);

    [[nodiscard]] const DeriveFrom& from() const { return from_; }
    [[nodiscard]] DerivedContract& out() { return out_; }
    [[nodiscard]] Time sample() const { return sample_; }

    // Of the reading.
    [[nodiscard]] std::string role(std::string_view name) const;  ///< its first signal; empty without
    [[nodiscard]] std::vector<std::string> roles(std::string_view name) const;
    [[nodiscard]] std::string setting(std::string_view name) const;  ///< as chosen or given; empty without
    [[nodiscard]] const Unsure* unsure_of_reading(std::string_view setting) const;
    [[nodiscard]] const DigitalWaveform& line(const std::string& signal) const;
    [[nodiscard]] Lines lines(const std::vector<std::string>& signals) const;

    ContractInterval& add(const char* id, std::string name, const std::string& from, const std::string& to,
                          IntervalKind kind, std::optional<Time> within = std::nullopt);
    /// A reply: cut at the next edge of what also causes changes. Late strays, of which there are few, are
    /// left out and named.
    void response(const char* id, const std::string& name, const std::string& from, const std::string& to,
                  const std::vector<std::string>& until, std::optional<Time> within = std::nullopt);
    void pulses(const std::string& signal, std::optional<Time> within = std::nullopt);
    void frames();

    void ask(const std::string& trigger, const std::string& answer);
    /// When the host looks; that it is so can't be seen in a capture.
    void look(const std::string& look, std::optional<Time> within, const std::string& why);
    void nobody_answers(const std::string& why);
    void not_sure(const std::string& what, std::vector<std::string> values, const std::string& would_tell);
    /// Both edges stay possible: says so.
    void cause_is_open(const CauseStudy& study, const std::vector<std::string>& candidates);

  private:
    const DeriveFrom& from_;
    DerivedContract out_;
    Time sample_;
};

inline std::string rise_of(const std::string& signal) {
    return signal + ":rise";
}
inline std::string edge_of(const std::string& signal, Direction d) {
    return signal + ":" + std::string(word(d));
}
inline std::vector<std::string> any_of(const std::vector<std::string>& signals) {
    std::vector<std::string> out;
    for (const auto& s : signals)
        if (!s.empty()) out.push_back(s + ":any");
    return out;
}

/// Up to the next of four digits: a limit that a person can read.
[[nodiscard]] Time rounded_up(Time t);

/// Four periods of the clock: a burst's own intervals are below it, the pause between two polls is far above.
[[nodiscard]] Time burst_limit(const DigitalWaveform& clock);

// One family each.
void latch_shift(Draft& d);
void clocked(Draft& d);
void framed_clock(Draft& d);
void select_bank(Draft& d);
void strobed_bus(Draft& d);
void matrix(Draft& d);
void one_wire(Draft& d);
void async_serial(Draft& d);
void quadrature(Draft& d);
void usb(Draft& d);

}  // namespace grayrelic::derive_parts
