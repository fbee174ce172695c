// SPDX-License-Identifier: GPL-3.0-or-later
// What a person can measure on a board, and what each fault would show.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"
#include "core/base/words.hpp"
#include "core/diagnose/exercise.hpp"

namespace grayrelic {

enum class ReadingKind {
    look,    ///< at a part: there, right way round, its marking
    beep,    ///< between two leads, no power; a lead "J2.3~" is the far end of the contact's wire,
             ///< "U1.3 pad" what the lead is soldered to
    ohms,    ///< between two leads, no power
    diode,   ///< volts of the meter's diode range, first lead positive, no power
    farads,  ///< between two leads, no power
    volts    ///< at a lead, powered, all lines at rest
};
template <>
inline constexpr std::array words_of<ReadingKind>{"look", "beep", "ohms", "diode", "farads", "volts"};

/// Of a look, as numbers of readings.
enum class Looks { as_drawn, missing, turned, other_marking, other_place };
template <>
inline constexpr std::array words_of<Looks>{"as-drawn", "missing", "turned", "other-marking", "other-place"};

struct BenchReading {
    ReadingKind kind = ReadingKind::beep;
    std::string a, b;                       ///< leads, or a part
    double effort = 1;                      ///< against a beep
    [[nodiscard]] std::string key() const;  ///< "beep:U1.3+J2.4", "volts:U2.16", "look:D1"
    bool operator==(const BenchReading&) const = default;
};
/// What stands for "no current flows", "out of range" among ohms and volts of the diode range, and for what
/// floats among volts.
inline constexpr double reads_open = 1e9, reads_floating = -1000;
/// Of a prediction: an output whose level nobody can tell.
inline constexpr double reads_unknown = -4000;

/// "beep:U1.3+J2.4=open", "volts:U2.16=0.1 V", "ohms:R1.1+R1.2=4k7", "look:D1=turned", or a symptom
/// "a>REPLY=low". Errors say what was expected.
struct SaidReading {
    std::optional<BenchReading> reading;
    double value = 0;
    Symptom symptom;
};
[[nodiscard]] Result<SaidReading> read_said(std::string_view text);
/// "4.7 kΩ", "beep", "turned", "open"
[[nodiscard]] std::string print_reading(ReadingKind kind, double value);

/// All readings worth taking, in a fixed order.
[[nodiscard]] std::vector<BenchReading> readings_of(const BenchBoard& board);

/// What the readings would show on a board with faults.
struct Prediction {
    std::vector<Symptom> symptoms;
    std::vector<double> values;  ///< of each reading
};
[[nodiscard]] Prediction predict(const BenchBoard& board, const Exercise& exercise,
                                 const std::vector<BenchReading>& readings,
                                 const std::vector<BenchFault>& faults);

/// How well a reading fits what was predicted, 0 to 1 for a perfect fit. Never 0: meters slip.
[[nodiscard]] double fit_of(ReadingKind kind, double predicted, double read);
[[nodiscard]] double fit_of(const std::string& predicted, const std::string& seen);

}  // namespace grayrelic
