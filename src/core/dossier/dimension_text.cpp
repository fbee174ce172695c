// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/dimension_text.hpp"

#include <algorithm>
#include <charconv>

#include "core/base/text.hpp"

namespace grayrelic {

Result<double> parse_mm(std::string_view text) {
    auto figure = trim(text);
    if (figure.ends_with("mm")) figure = trim(figure.substr(0, figure.size() - 2));
    std::string plain(figure);
    std::replace(plain.begin(), plain.end(), ',', '.');
    double mm = 0;
    const auto [end, code] = std::from_chars(plain.data(), plain.data() + plain.size(), mm);
    if (code != std::errc() || end != plain.data() + plain.size() || !(mm >= 0 && mm <= 100'000))
        return fail_usage(in_quotes(text), "millimetres such as 12.4");
    return mm;
}

Result<Dimension> parse_dimension(std::string_view text) {
    Dimension d;
    auto rest = trim(text);
    for (const std::string_view sign : {"±", "+/-", "+-"}) {
        const auto at = rest.rfind(sign);
        if (at == std::string_view::npos) continue;
        const auto tolerance = parse_mm(rest.substr(at + sign.size()));
        if (!tolerance) return fail(tolerance.error());
        d.mm.uncertainty = *tolerance;
        rest = trim(rest.substr(0, at));
        break;
    }
    if (rest.ends_with("mm")) rest = trim(rest.substr(0, rest.size() - 2));
    const auto space = rest.rfind(' ');
    if (space == std::string_view::npos)
        return fail_usage(in_quotes(text), "a name and millimetres, such as: lid to board 12.4 ± 0.1");
    const auto mm = parse_mm(rest.substr(space + 1));
    if (!mm) return fail(mm.error());
    d.mm.value = *mm;
    d.name = std::string(trim(rest.substr(0, space)));
    return d;
}

}  // namespace grayrelic
