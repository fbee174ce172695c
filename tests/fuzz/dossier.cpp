// SPDX-License-Identifier: GPL-3.0-or-later
// dossier.json: what is read is written, and reads back equal.
#include <cstdlib>

#include "core/dossier/dossier_json.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto d = dossier_from_json({reinterpret_cast<const char*>(data), size}, "fuzz");
    if (!d) return 0;
    const auto text = dossier_to_json(*d);
    const auto back = dossier_from_json(text, "written");
    if (!back || dossier_to_json(*back) != text) std::abort();
    return 0;
}
