// SPDX-License-Identifier: GPL-3.0-or-later
// Stacks and variants as a person types them, a line each.
#pragma once

#include <string_view>
#include <variant>

#include "core/base/result.hpp"
#include "core/dossier/fabrication.hpp"

namespace grayrelic {

/// "level ladder board test as mixer at 10 5 turn 90 over gap 11 ± 0.1 measured caliper"; everything behind
/// the board may be left out.
[[nodiscard]] Result<StackLevel> parse_level(std::string_view text);
/// "join tone/J2 ladder/J1 soldered"; plugged unless said.
[[nodiscard]] Result<StackJoin> parse_join(std::string_view text);
/// "variant mixer without R5 C3 with JP1 1-2 JP2 2-3", or "variant bare only U1 C1".
[[nodiscard]] Result<BoardVariant> parse_variant(std::string_view text);
[[nodiscard]] std::string level_text(const StackLevel& level);
[[nodiscard]] std::string variant_text(const BoardVariant& variant);

}  // namespace grayrelic
