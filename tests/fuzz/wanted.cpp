// SPDX-License-Identifier: GPL-3.0-or-later
// Truth tables as typed, and what lies in the drawer: what is understood is looked for with few gates.
#include "core/base/file_system.hpp"
#include "core/base/text.hpp"
#include "core/logic/minimise.hpp"
#include "tests/fuzz/fuzz.hpp"
#include "tests/fuzz/shipped_logic.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto text = fuzz::text_of(data, size);
    const auto cut = text.find('\n');
    const auto first = text.substr(0, cut);
    std::vector<DrawerItem> drawer;
    for (const auto word : split(first, ',')) {
        const auto item = parse_drawer_item(word);
        if (!item) continue;
        const auto again = parse_drawer_item(print_drawer_item(*item));
        if (!again || again->count != item->count || again->part != item->part) std::abort();
        drawer.push_back(*item);
    }
    if (cut == std::string_view::npos) return 0;
    const auto wanted = wanted_from_text(text.substr(cut + 1), "t");
    if (!wanted || wanted->inputs.size() > 3 || drawer.size() > 2) return 0;
    Progress progress;
    (void)minimise(*wanted, drawer, fuzz::shipped_logic(), {2, 4, 4}, progress);
    return 0;
}
