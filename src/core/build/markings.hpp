// SPDX-License-Identifier: GPL-3.0-or-later
// What is printed or painted on a part: colour bands, digits, letters (IEC 60062), as a value with its
// tolerance. A marking that can be read in more than one way is given in all of them.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"

namespace grayrelic {

enum class MarkedAs { ohms, farads };

struct MarkedValue {
    MarkedAs as = MarkedAs::ohms;
    double value = 0;                 ///< ohms or farads
    std::optional<double> tolerance;  ///< a share; a tolerance in picofarads is in `tolerance_farad`
    std::optional<double> tolerance_farad{};
    std::optional<double> ppm_per_k{};  ///< temperature coefficient, of a sixth band
    std::string how;                    ///< "4 bands, brown first", "3 digits"
    bool standard = true;               ///< the value is one of the series E24 or E96
    bool operator==(const MarkedValue&) const = default;
};

/// "brown black red gold", "yellow-violet-black-red-brown"; three to six colours, short forms of three
/// letters too (brn, blk). Read from either end, where both can be.
[[nodiscard]] Result<std::vector<MarkedValue>> read_bands(std::string_view colours);
/// "103" and "4702" and "4R7" as a resistor, "104K", "4n7", "2A222J" as a capacitor; `as` where it is known.
[[nodiscard]] Result<std::vector<MarkedValue>> read_code(std::string_view code,
                                                         std::optional<MarkedAs> as = {});
/// Colours where all words are colours, else a code.
[[nodiscard]] Result<std::vector<MarkedValue>> read_marking(std::string_view text,
                                                            std::optional<MarkedAs> as = {});
/// "4.7 kΩ ± 5 %"
[[nodiscard]] std::string print_marked(const MarkedValue& value);

}  // namespace grayrelic
