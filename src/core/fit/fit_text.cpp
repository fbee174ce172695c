// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/fit_text.hpp"

#include <cmath>

#include "core/base/decimal.hpp"
#include "core/base/text.hpp"
#include "core/dossier/dimension_text.hpp"

namespace grayrelic {

Result<FitEntry> parse_fit_line(std::string_view text) {
    FitEntry e;
    auto rest = trim(text);
    const auto expected = "such as: + lid to board 12.4 ± 0.1 measured";
    bool said = false;
    for (const auto& [sign, role] : {std::pair<std::string_view, FitRole>{"+", FitRole::gives},
                                     {"-", FitRole::takes},
                                     {"−", FitRole::takes},
                                     {"travel ", FitRole::travel},
                                     {"actuates ", FitRole::actuates},
                                     {"endures ", FitRole::endures},
                                     {"bend ", FitRole::bend},
                                     {"stands ", FitRole::stands},
                                     {"opens ", FitRole::opens}})
        if (rest.starts_with(sign) && !rest.starts_with("+-") && !rest.starts_with("+/-")) {
            e.role = role;
            // Of the words the name is one of them; a sign is no part of it.
            if (sign.size() <= 3) rest = trim(rest.substr(sign.size()));
            said = true;
            break;
        }
    if (!said)
        return fail_usage(in_quotes(text),
                          std::string("+ for what gives room, - for what takes it, ") + expected);
    auto evidence = EvidenceKind::assumed;
    std::string source;
    for (const auto kind : all_of<EvidenceKind>()) {
        const auto at = rest.rfind(std::string(" ") + std::string(word(kind)));
        if (at == std::string_view::npos) continue;
        evidence = kind;
        source = trim(rest.substr(at + 1 + word(kind).size()));
        rest = trim(rest.substr(0, at));
        break;
    }
    auto dimension = parse_dimension(rest);
    if (!dimension) return fail_usage(in_quotes(text), expected);
    e.dimension = std::move(*dimension);
    e.dimension.mm.evidence.kind = evidence;
    e.dimension.mm.evidence.source = source;
    return e;
}

std::optional<FitItem> parse_place_line(std::string_view text) {
    auto rest = trim(text);
    FitItem item;
    bool said = false;
    for (const auto& [sign, role] : {std::pair<std::string_view, FitRole>{"+", FitRole::gives},
                                     {"-", FitRole::takes},
                                     {"stands ", FitRole::stands}})
        if (rest.starts_with(sign)) {
            item.role = role;
            rest = trim(rest.substr(sign.size()));
            said = true;
            break;
        }
    if (!said || rest.find(' ') != std::string_view::npos || rest.size() < 3) return std::nullopt;
    if (!rest.ends_with(".x") && !rest.ends_with(".y")) return std::nullopt;
    item.place = rest;
    return item;
}

Result<FitZone> parse_zone(std::string_view text) {
    const auto bad = [&] {
        return fail_usage(in_quotes(text),
                          "such as: zone slider 10 20 30 15 5.5, a name, its corner, width, height and the "
                          "room over the board in millimetres");
    };
    auto rest = trim(text);
    if (!rest.starts_with("zone ")) return bad();
    rest = trim(rest.substr(5));
    FitZone z;
    if (rest.starts_with("back ")) {
        z.back = true;
        rest = trim(rest.substr(5));
    }
    double numbers[5] = {};
    for (int i = 4; i >= 0; --i) {
        const auto space = rest.rfind(' ');
        if (space == std::string_view::npos) return bad();
        const auto point = decimal_number(rest.substr(space + 1), '.');
        const auto v = point ? point : decimal_number(rest.substr(space + 1), ',');
        if (!v || std::abs(*v) > 2000 || (i >= 2 && *v < 0)) return bad();
        numbers[i] = *v;
        rest = trim(rest.substr(0, space));
    }
    if (rest.empty()) return bad();
    z.name = rest;
    z.x_mm = numbers[0];
    z.y_mm = numbers[1];
    z.width_mm = numbers[2];
    z.height_mm = numbers[3];
    z.most = numbers[4];
    return z;
}

}  // namespace grayrelic
