// SPDX-License-Identifier: GPL-3.0-or-later
// What a hand sets, and what dies when it is set wrong: each setting's positions tried on the rails.
#pragma once

#include <string>
#include <vector>

#include "core/base/result.hpp"
#include "core/base/verdict.hpp"
#include "core/dossier/wire.hpp"
#include "core/electrical/rails_study.hpp"

namespace grayrelic {

/// One position, or one end of what can be turned to.
struct SettingTry {
    std::string name;  ///< "5 V", "turned up"
    double volts = 0;
    Verdict verdict = Verdict::holds;  ///< stop: something dies
    std::vector<std::string> dies;     ///< "KEYS gets 12.0 V and endures 5.50 V"
    std::vector<std::string> starves;  ///< what then no longer works
};

struct SettingStudy {
    WireSetting setting;
    std::string problem;  ///< why it can't be tried
    std::vector<SettingTry> tries;
    std::optional<double> highest_v;     ///< that nothing dies of, of a trimmer
    Verdict verdict = Verdict::unknown;  ///< of what it is at now
    std::string says, todo;
    std::string measure;  ///< how to see it, with the socket empty
};

[[nodiscard]] SettingStudy study_setting(const WireSetting& setting, const RailTree& rails);
[[nodiscard]] std::string_view label(SettingKind kind);
/// "left 12V": a name, and the volts that its source then has.
[[nodiscard]] Result<SettingPosition> position_from_text(std::string_view text);

}  // namespace grayrelic
