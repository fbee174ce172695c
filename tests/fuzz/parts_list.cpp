// SPDX-License-Identifier: GPL-3.0-or-later
// Parts as tables and in words: what is read is written and read again the same, and the list that follows
// keeps its arithmetic.
#include <algorithm>

#include "core/dossier/dimension_text.hpp"
#include "core/dossier/edits.hpp"
#include "core/plan/parts_list.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

namespace {

void add_up(std::vector<PartLine> lines) {
    Supply s;
    s.boards = 3;
    s = with_parts(std::move(s), std::move(lines), false);
    const auto list = parts_list(put(Dossier{}, s), nullptr, {});
    for (const auto& r : list.rows)
        if (r.need < 0 || r.spare < 0 || r.order < 0) std::abort();
    const auto back = parts_from_csv(parts_to_csv(list, s.parts), "again");
    if (!back || back->size() != s.parts.size()) std::abort();
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto text = fuzz::text_of(data, size);
    if (auto lines = parts_from_csv(text, "fuzz"); lines && size < 5000) add_up(std::move(*lines));
    auto words = parts_in_words(text);
    if (size < 500) {
        for (auto& w : words)
            if (w.part.size() > 100 ||
                !std::all_of(w.part.begin(), w.part.end(), [](char c) { return c > ' '; }))
                w.part = "part";
        add_up(std::move(words));
    }
    if (const auto p = parse_prices(text))
        if (const auto back = parse_prices(print_prices(*p)); !back || *back != *p) std::abort();
    if (const auto l = parse_lead_days(text))
        if (const auto back = parse_lead_days(print_lead_days(l->first, l->second)); !back || *back != *l)
            std::abort();
    if (const auto d = parse_dimension(text); d && !(*d->mm.value >= 0)) std::abort();
    return 0;
}
