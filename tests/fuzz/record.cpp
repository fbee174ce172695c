// SPDX-License-Identifier: GPL-3.0-or-later
// Trials and results as tables and lines, and what is looked at before a pack goes out.
#include "core/record/cover_study.hpp"
#include "core/record/privacy.hpp"
#include "core/record/trial_study.hpp"
#include "core/record/trial_words.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto text = fuzz::text_of(data, size);
    if (const auto table = read_trials(text, "t.csv", {"went", "no", {}, {}}))
        if (table->rows.size() < 60) (void)study_trials(*table);
    if (const auto trials = trials_from_csv(text, "t.csv", {}))
        for (const auto& t : *trials) (void)setup_text(t);
    if (const auto items = cover_from_csv(text, "t.csv")) {
        (void)study_cover(merge_cover(*items, *items, "x", {}));
        (void)cover_to_csv(*items);
    }
    (void)trial_from_text(text, {});
    (void)cost_from_text(text);
    (void)hours_from_text(text);
    (void)card_line_from_text(text, CardKind::light);
    (void)cover_from_text(text, {});
    (void)decision_from_text(text);
    Progress progress;
    (void)private_things(text, "f", {{"somebody"}}, progress);
    return 0;
}
