// SPDX-License-Identifier: GPL-3.0-or-later
// One line of rails as text, taken apart word by word: used by rails_text.cpp only.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/base/quantity.hpp"
#include "core/electrical/rails.hpp"

namespace grayrelic {

/// What a number of a line may be.
struct RailSpan {
    double least, most;
    const char* expected;
};
inline constexpr RailSpan volts_span{1e-3, 1000, "volts above 0 V and up to 1 kV, such as 5V"};
inline constexpr RailSpan drop_span{0, 100, "a drop from 0 V to 100 V, such as 0.45V"};
inline constexpr RailSpan amperes_span{0, 1000, "a current from 0 A to 1 kA, such as 320mA"};
inline constexpr RailSpan limit_span{1e-9, 1000, "a current above 0 A and up to 1 kA, such as 500mA"};
inline constexpr RailSpan watts_span{0, 1e5, "a power from 0 W to 100 kW, such as 5W"};
inline constexpr RailSpan ohms_span{0, 1e9, "a resistance from 0 Ω to 1 GΩ, such as 60mΩ"};
inline constexpr RailSpan load_ohms_span{1e-3, 1e9, "a resistance from 1 mΩ to 1 GΩ, such as 82Ω"};
inline constexpr RailSpan theta_span{0, 10000, "K/W from 0 to 10,000, such as 60"};
inline constexpr RailSpan seconds_span{0, 3600, "a time up to an hour, such as 10ms"};
inline constexpr RailSpan farad_span{1e-15, 1, "a capacitance up to 1 F, such as 470µF"};
inline constexpr RailSpan gate_span{-100, 100, "volts from -100 V to 100 V, such as 3.3V"};

/// The words of a line, without its comment; an arrow is a word of its own.
[[nodiscard]] std::vector<std::string> rail_words(std::string line);

/// The first thing that is wrong ends the line: all that is read after it is empty.
class RailLineReader {
  public:
    RailLineReader(long line, std::vector<std::string> words) : line_(line), words_(std::move(words)) {}

    [[nodiscard]] bool more() const { return !fault_ && at_ < words_.size(); }
    [[nodiscard]] std::string_view peek() const {
        return at_ < words_.size() ? words_[at_] : std::string_view();
    }
    /// True, and behind it, when this word stands here.
    [[nodiscard]] bool take(std::string_view word);
    std::string next(const char* expected);
    std::string name(const char* expected);
    double number(Unit unit, const RailSpan& span);
    double checked(const std::string& text, Unit unit, const RailSpan& span);
    /// "85%" as a share.
    double share(const char* expected, double least, double most);
    /// "±5%" as a share, if it stands here; else 0.
    double tolerance();
    RailAmount amount(const char* expected);
    /// "A -> B".
    void arrow(RailPart& p);
    void wrong(std::string found, std::string expected);
    /// A word that has no meaning at this place.
    void unknown(const char* expected);
    [[nodiscard]] const std::optional<RailFault>& fault() const { return fault_; }
    [[nodiscard]] RailPlace place() const { return {line_, {}}; }

  private:
    long line_;
    std::vector<std::string> words_;
    std::size_t at_ = 0;
    std::optional<RailFault> fault_;
};

}  // namespace grayrelic
