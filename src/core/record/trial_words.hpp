// SPDX-License-Identifier: GPL-3.0-or-later
// What a person types into Log in one line.
#pragma once

#include <string>
#include <string_view>

#include "core/base/result.hpp"
#include "core/dossier/dossier.hpp"

namespace grayrelic {

/// "fails 12 %: host second machine, R4 2.2 kΩ, unit adapter-1, image fw-2": the outcome, how much of it
/// where that is said, and factors, each its first word with what follows. `unit` and `image` name what the
/// dossier has. Refused: no outcome, a factor without a value or twice, an unknown unit or image.
[[nodiscard]] Result<TrialRun> trial_from_text(std::string_view text, const Dossier& dossier);
/// The setup as that function reads it: "host second machine, R4 2.2 kΩ".
[[nodiscard]] std::string setup_text(const TrialRun& trial);

/// "boards 24.50 a batch", "tools 80 once: plug crimper", "shipping 6": kind, money, per (once where nothing
/// is said), and behind a colon what it is.
[[nodiscard]] Result<CostLine> cost_from_text(std::string_view text);

/// "Solder a board 3.5": a task and the hours spent on it.
[[nodiscard]] Result<HoursSpent> hours_from_text(std::string_view text);

/// "green blinks slowly = waiting for the pad": what is seen or done, and what it means.
[[nodiscard]] Result<UserCardLine> card_line_from_text(std::string_view text, CardKind kind);

}  // namespace grayrelic
