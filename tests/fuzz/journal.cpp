// SPDX-License-Identifier: GPL-3.0-or-later
// Edit journals, beside an empty dossier and beside the one that the seeds begin with.
#include "core/dossier/journal.hpp"
#include "core/dossier/dossier_json.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    fuzz::HeldFile file;
    file.bytes = fuzz::text_of(data, size);
    (void)read_journal("fuzz", Dossier{}, file);
    static const Dossier begun = *dossier_from_json(
        R"({"format": "gray-relic-dossier", "version": 2, "name": "The beginning", "revision": 1})", "seed");
    const auto left = read_journal("fuzz", begun, file);
    if (!left || !*left) return 0;
    // What was taken up is kept as well as any other state.
    fuzz::HeldFile kept;
    JournalWriter writer("kept", begun, kept);
    if (!writer.record((*left)->dossier)) std::abort();
    const auto again = read_journal("kept", begun, kept);
    if (!again || !*again || dossier_to_json((*again)->dossier) != dossier_to_json((*left)->dossier))
        std::abort();
    return 0;
}
