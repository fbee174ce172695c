// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/capture/import_options.hpp"

#include <algorithm>
#include <charconv>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

std::optional<long> whole(std::string_view text, long low, long high) {
    long v = 0;
    const auto [p, code] = std::from_chars(text.data(), text.data() + text.size(), v);
    if (code != std::errc{} || p != text.data() + text.size() || v < low || v > high) return std::nullopt;
    return v;
}

}  // namespace

const std::vector<std::pair<std::string, int>>& time_units() {
    static const std::vector<std::pair<std::string, int>> units{
        {"s", 0}, {"ms", -3}, {"us", -6}, {"ns", -9}, {"ps", -12}};
    return units;
}

Result<CaptureOptions> capture_options(const ReadAs& words) {
    CaptureOptions o;
    RawOptions raw;
    bool packed = false, shaped = false;
    for (const auto& [key, value] : words) {
        const auto wrong = [&, k = key, v = value](const char* expected) {
            return fail_usage(k + " " + in_quotes(v), expected);
        };
        if (key == "separator") {
            if (value == "tab")
                o.table.delimiter = '\t';
            else if (value == "space")
                o.table.delimiter = ' ';
            else if (value == "," || value == ";")
                o.table.delimiter = value[0];
            else
                return wrong(", ; tab or space");
        } else if (key == "decimal") {
            if (value != "." && value != ",") return wrong(". or ,");
            o.table.decimal = value[0];
        } else if (key == "first_row") {
            const auto n = whole(value, 1, 1'000'000);
            if (!n) return wrong("the number of a line");
            o.table.first_row = *n;
        } else if (key == "time_column") {
            const auto n = value == "none" ? std::optional<long>(0) : whole(value, 1, 4096);
            if (!n) return wrong("the number of a column, or none");
            o.table.time_column = static_cast<std::size_t>(*n);
        } else if (key == "unit") {
            const auto& units = time_units();
            const auto it = std::find_if(units.begin(), units.end(),
                                         [&v = value](const auto& u) { return u.first == v; });
            if (it == units.end()) return wrong("s, ms, us, ns or ps");
            o.table.time_power = it->second;
        } else if (key == "rate") {
            const auto hz = parse_quantity<Unit::hertz>(value);
            if (!hz || !(hz->value() > 0)) return wrong("samples a second such as 24 MHz");
            o.table.rate_hz = raw.rate_hz = hz->value();
        } else if (key == "threshold") {
            const auto v = parse_number(value, Unit::volt);
            if (!v) return wrong("a voltage, or a number in the column's own unit");
            o.table.threshold = *v;
        } else if (key == "raw") {
            const auto n = whole(value, 1, 32);
            if (!n || (*n & (*n - 1)) != 0) return wrong("1, 2, 4, 8, 16 or 32 lines in a sample");
            raw.width = static_cast<int>(*n);
            packed = true;
        } else if (key == "raw_order") {
            if (value != "lsb" && value != "msb") return wrong("lsb or msb");
            raw.msb_first = value == "msb";
            shaped = true;
        } else if (key == "raw_bytes") {
            if (value != "little" && value != "big") return wrong("little or big");
            raw.big_endian = value == "big";
            shaped = true;
        } else {
            return fail_usage("import option " + in_quotes(key),
                              "separator, decimal, first_row, time_column, unit, rate, threshold, raw, "
                              "raw_order or raw_bytes");
        }
    }
    if (shaped && !packed)
        return fail_usage("the order of bits or bytes without raw", "raw as well: the lines in a sample");
    if (packed) {
        if (!o.table.rate_hz) return fail_usage("packed samples without a rate", "rate, samples a second");
        o.raw = raw;
    }
    return o;
}

}  // namespace grayrelic
