// SPDX-License-Identifier: GPL-3.0-or-later
// What a fit and an order are read from: drawings of outlines, stacks, tiers, placements, lines as they are
// typed.
#include "core/board/outline_file.hpp"
#include "core/board/pad_patterns.hpp"
#include "core/fit/fit_text.hpp"
#include "core/fit/order_text.hpp"
#include "core/fit/stack.hpp"
#include "core/fit/stack_text.hpp"
#include "core/plan/board_order.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto text = fuzz::text_of(data, size);
    if (const auto drawing = read_outline(text, "fuzz"); drawing && drawing->outline.outer.size() < 400) {
        std::size_t corners = 0;
        for (const auto& c : drawing->outline.cutouts) corners += c.size();
        if (corners < 2'000) (void)lies_inside(drawing->outline.outer, drawing->outline, {});
    }
    if (const auto stack = read_stack(text, "fuzz")) (void)room_of(*stack);
    if (const auto tiers = read_tiers(text, "fuzz")) (void)order_boards(*tiers, 3, 0.7, 0.2);
    (void)looks_like_placements(text);
    if (const auto table = read_placements(text, "fuzz"); table && table->size() < 50) {
        PadPattern pattern;
        pattern.surface = true;
        pattern.places = {{"1", 0, 0}, {"2", 2.54, 0}};
        std::vector<Land> lands;
        std::map<std::string, PadPattern> patterns;
        for (const auto& p : *table) {
            lands.push_back({p.at, p.side});
            lands.push_back({{p.at.x + from_mm(2.54), p.at.y}, p.side});
            patterns[p.ref] = pattern;
        }
        (void)place_parts(lands, *table, patterns);
    }
    (void)parse_fit_line(text);
    (void)parse_place_line(text);
    (void)parse_zone(text);
    (void)parse_tier(text);
    (void)parse_obsolete(text);
    // What was understood is written as it is understood again.
    if (const auto x = parse_extra(text)) (void)parse_extra(extra_text(*x));
    if (const auto level = parse_level(text)) (void)parse_level(level_text(*level));
    if (const auto variant = parse_variant(text)) (void)parse_variant(variant_text(*variant));
    (void)parse_join(text);
    return 0;
}
