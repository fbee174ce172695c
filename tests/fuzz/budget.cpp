// SPDX-License-Identifier: GPL-3.0-or-later
// Budgets as spelt on the command line: computed, with events and without.
#include "core/timing/budget.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto b = parse_budget(fuzz::text_of(data, size));
    if (!b) return 0;
    Progress progress;
    (void)evaluate_budget(*b, {}, progress);
    (void)description_of(b->kind);
    if (!evaluate_budget(usual_budget(b->kind, "usual"), {}, progress)) std::abort();
    std::vector<Time> events;
    events.reserve(200);
    for (int i = 0; i < 200; ++i) events.push_back(Time::us(i * i));
    (void)evaluate_budget(*b, events, progress);
    return 0;
}
