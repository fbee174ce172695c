// SPDX-License-Identifier: GPL-3.0-or-later
// Pin tables, one-line entries, families and cautions: what is read is written and read again the same.
#include <cstdint>
#include <cstdlib>

#include "core/dossier/pin_fields.hpp"
#include "core/electrical/family.hpp"
#include "core/port/pin_entry.hpp"
#include "core/port/pin_table.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace grayrelic;
    const std::string_view text(reinterpret_cast<const char*>(data), size);
    if (const auto table = read_pin_table(text, "fuzz")) {
        const auto back = read_pin_table(write_pin_table(table->pins), "again");
        if (!back || back->pins.size() != table->pins.size()) std::abort();
    }
    (void)pin_with_entry({}, text, {});
    (void)family_from_json(text, "fuzz");
    return 0;
}
