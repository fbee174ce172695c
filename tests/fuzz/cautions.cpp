// SPDX-License-Identifier: GPL-3.0-or-later
// Cautions, and which of them a shipped dossier calls up.
#include "core/library/cautions.hpp"
#include "core/dossier/store.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    fuzz::HeldFile held;
    held.bytes = fuzz::text_of(data, size);
    const auto list = cautions_from_json(held.bytes, "fuzz");
    const auto library = CautionLibrary::load(held, {fuzz::data_folder()});
    if (library.cautions.size() > (list ? list->size() : 0)) std::abort();
    static const Dossier dossier = *load_dossier(GRAY_RELIC_SOURCE "/demos/calder-page-card.relic");
    static const FamilyLibrary families = FamilyLibrary::load(disk(), {GRAY_RELIC_SOURCE "/data"});
    for (const auto stage : {Stage::port, Stage::trace, Stage::build})
        for (const char* step : {"", "plug", "measure"})
            (void)cautions_for(library, families, dossier, stage, step);
    return 0;
}
