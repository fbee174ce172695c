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
/// dossier has. Not factors but said the same way: `beside run-5` (started together with it), `ran 1 h` or
/// `ran 3600 s`, `ahead 0.31 s`, `expected 60 ± 5`, `read frames = 180000`. Refused: no outcome, a factor
/// without a value or twice, an unknown unit or image.
[[nodiscard]] Result<TrialRun> trial_from_text(std::string_view text, const Dossier& dossier);
/// The setup as that function reads it: "host second machine, R4 2.2 kΩ".
[[nodiscard]] std::string setup_text(const TrialRun& trial);

/// "partly: Night Ferry: dial fast, buttons": how it went, its name, the functions that it uses. `current 18
/// mA` and `poll 4 ms` make it a device with these figures, measured on that day.
[[nodiscard]] Result<CoverItem> cover_from_text(std::string_view text, const std::string& day);

/// "firmware or logic: logic: in time; firmware = no part more / late in 8 %; logic = in time / three parts":
/// what was decided, what was chosen, why, and behind semicolons the ways with what speaks for and against.
[[nodiscard]] Result<LoggedDecision> decision_from_text(std::string_view text);

/// "boards 24.50 a batch", "tools 80 once: plug crimper", "shipping 6": kind, money, per (once where nothing
/// is said), and behind a colon what it is.
[[nodiscard]] Result<CostLine> cost_from_text(std::string_view text);

/// "Solder a board 3.5": a task and the hours spent on it.
[[nodiscard]] Result<HoursSpent> hours_from_text(std::string_view text);

/// "green blinks slowly = waiting for the pad": what is seen or done, and what it means.
[[nodiscard]] Result<UserCardLine> card_line_from_text(std::string_view text, CardKind kind);

}  // namespace grayrelic
