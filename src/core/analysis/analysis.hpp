// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that follows from a dossier: captures read and decoded, contract measured, options simulated;
// and the findings, which core/checks adds.
//
// An Analysis is immutable. Made from the one before, it keeps every result whose inputs are the same
// version, so that changing one number costs one simulation.
#pragma once

#include <filesystem>
#include <memory>
#include <string>

#include "core/analysis/capture_store.hpp"
#include "core/analysis/finding.hpp"
#include "core/base/progress.hpp"
#include "core/decode/decoder.hpp"
#include "core/dossier/dossier.hpp"
#include "core/library/data_library.hpp"
#include "core/signal/line_health.hpp"
#include "core/signal/sampling.hpp"
#include "core/timing/budget.hpp"
#include "core/timing/clock_explain.hpp"
#include "core/timing/contract.hpp"
#include "core/timing/golden.hpp"
#include "core/timing/network_reply.hpp"
#include "core/timing/reply.hpp"
#include "core/timing/reply_study.hpp"
#include "core/timing/serial_clocking.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic {

/// What one decoder of a capture made of it; one of the two is set.
struct DecodedLane {
    std::string title;  ///< "async-serial", "async-serial, packets"
    std::shared_ptr<const Decoding> decoding;
    std::string problem;
};

struct CaptureAnalysis {
    CaptureRef ref;
    std::shared_ptr<const Capture> capture;  ///< null when it could not be read
    std::string problem;                     ///< why not
    std::optional<Time> sample_period;       ///< as stated, else found in the edges
    bool sample_period_found = false;        ///< true when it was found in the edges
    std::optional<SamplingReport> sampling;
    RoleMap suggested;                         ///< a guess at the roles while nobody has given any
    std::shared_ptr<const Decoding> decoding;  ///< null when nothing was asked for or it failed
    std::string decode_problem;
    std::shared_ptr<const Decoding> characters;  ///< what packets were put together from; null otherwise
    std::vector<DecodedLane> also;               ///< of CaptureRef::also, in its order
    std::vector<LineHealth> health;              ///< chatter, ringing and the like, line by line
};

struct OptionAnalysis {
    BuildOption option;
    bool chosen = false;
    std::optional<ReplySummary> summary;
    std::optional<ReplyModel> model;  ///< nothing for a network of parts
    std::vector<Sensitivity> sensitivity;
    std::vector<ReplyCorner> corners;
    Confidence confidence;
    std::shared_ptr<const NetworkReply> network;  ///< for a network of parts
    std::string problem;
    Verdict verdict = Verdict::unknown;
};

/// A network of the dossier as it was understood; its problems stand in it.
struct NetworkAnalysis {
    LogicNetwork source;
    std::shared_ptr<const DataLibrary> data;  ///< whose parts it points at
    Network network;
};

struct ClockAnalysis {
    ClockStudy study;
    double within_ppm = 0;  ///< as used
    std::optional<ClockExplanation> explanation;
    std::optional<SerialClocking> serial;  ///< when a modern clock is chosen
    std::string problem, serial_problem;
};

struct BudgetAnalysis {
    Budget budget;
    std::optional<BudgetResult> result;
    std::string problem;
};

/// What in one capture the contract does not allow.
struct CaptureBreaches {
    std::string capture;  ///< CaptureRef::id
    std::vector<ContractBreach> breaches;
};

struct GoldenAnalysis {
    GoldenPair pair;
    std::optional<GoldenResult> result;
    std::string problem;
};

struct Analysis {
    Dossier dossier;
    std::shared_ptr<const DataLibrary> data;                       ///< null: what needs it is not judged
    std::vector<std::shared_ptr<const CaptureAnalysis>> captures;  ///< in the dossier's order
    std::vector<std::shared_ptr<const ContractFigure>> contract;
    std::shared_ptr<const std::vector<CaptureBreaches>> breaches;  ///< of captures that have any
    std::shared_ptr<const std::vector<ReplyTask>> tasks;           ///< null when the question can't be asked
    std::string question_problem;
    std::vector<std::shared_ptr<const OptionAnalysis>> options;
    std::vector<std::shared_ptr<const NetworkAnalysis>> networks;
    std::vector<std::shared_ptr<const ClockAnalysis>> clocks;
    std::vector<std::shared_ptr<const BudgetAnalysis>> budgets;
    std::vector<std::shared_ptr<const GoldenAnalysis>> golden;
    std::shared_ptr<const TraceAnalysis> trace;  ///< null without the shipped data
    Findings findings;

    [[nodiscard]] const CaptureAnalysis* find_capture(std::string_view id) const;
    [[nodiscard]] const ContractFigure* find_figure(std::string_view id) const;
    [[nodiscard]] const OptionAnalysis* find_option(std::string_view id) const;
    [[nodiscard]] const NetworkAnalysis* find_network(std::string_view id) const;
    [[nodiscard]] const ClockAnalysis* find_clock(std::string_view id) const;
    [[nodiscard]] const BudgetAnalysis* find_budget(std::string_view id) const;
    [[nodiscard]] const GoldenAnalysis* find_golden(std::string_view id) const;
    /// A capture as the contract measures from it; without one of this id, one that can't be read.
    [[nodiscard]] IntervalSource source_of(std::string_view capture) const;
};

/// All but the findings (checks/analyse.hpp adds them). Fails only when cancelled; what can't be read stands
/// as a problem in its place.
[[nodiscard]] Result<std::shared_ptr<Analysis>> work_out(const Dossier& dossier,
                                                         const std::filesystem::path& folder,
                                                         CaptureStore& store, Progress& progress,
                                                         const Analysis* before,
                                                         std::shared_ptr<const DataLibrary> data);

/// A margin below this share of the time allowed is too little: Doubt.
inline constexpr double thin_margin_share = 0.10;
[[nodiscard]] Verdict judge(const ReplySummary& summary);

}  // namespace grayrelic
