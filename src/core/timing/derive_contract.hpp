// SPDX-License-Identifier: GPL-3.0-or-later
// The contract and the question that a capture gives by its family, as proposals: which edge asks, which line
// answers, when the host looks, and what there is to measure around them.
//
// What the lines do not settle is said in `unsure`, with the recording that would tell; a family in which
// nobody answers has no trigger and the reason there. Decision 26 says how causes and looks are found.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/progress.hpp"
#include "core/decode/decoder.hpp"
#include "core/dossier/timing.hpp"
#include "core/signal/capture.hpp"

namespace grayrelic {

/// A capture that was read.
struct DeriveFrom {
    std::string id;  ///< CaptureRef::id, as the intervals name it
    const Capture& capture;
    const RoleMap& roles;
    const Decoding& decoding;
    std::optional<Time> sample_period;  ///< as stated or found
};

struct DerivedContract {
    std::vector<ContractInterval> intervals;
    ReplyQuestion question;      ///< its trigger is empty where nobody answers
    std::vector<Unsure> unsure;  ///< of "trigger", "answer", "look", "reading", or an interval's name
    bool fits = true;            ///< false: the reading does not fit the lines, and nothing here is measured
    [[nodiscard]] const Unsure* find_unsure(std::string_view what) const;
};

/// Signals are named as in the roles. Fails only when cancelled, or when a role's signal is not there.
[[nodiscard]] Result<DerivedContract> derive_contract(const DeriveFrom& from, Progress& progress);

/// One question of a person's own: the time from `trigger` to `answer` in this capture, for the contract.
[[nodiscard]] ContractInterval reply_interval(const std::string& capture, const std::string& trigger,
                                              const std::string& answer);

}  // namespace grayrelic
