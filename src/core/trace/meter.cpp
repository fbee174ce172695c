// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/meter.hpp"

#include <charconv>
#include <cmath>
#include <limits>

#include "core/base/text.hpp"

namespace grayrelic {

Result<MeterReading> parse_meter_answer(std::string_view line) {
    auto text = trim(line);
    if (text.starts_with('+')) text.remove_prefix(1);
    double ohm = 0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), ohm);
    if (code != std::errc() || end != text.data() + text.size() || std::isnan(ohm))
        return fail_at("meter", 0, in_quotes(line), "a number such as +1.2E-01");
    MeterReading r;
    r.kind = MeterReadingKind::ohms;
    r.ohm = ohm >= 9e37 ? std::numeric_limits<double>::infinity() : std::abs(ohm) < 1e-3 ? 0.0 : ohm;
    if (*r.ohm < 0) return fail_at("meter", 0, in_quotes(line), "a resistance of 0 or more");
    return r;
}

}  // namespace grayrelic
