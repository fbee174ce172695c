// SPDX-License-Identifier: GPL-3.0-or-later
// Timing's analysis: the contract measured, options simulated, networks, clocks, budgets and replicas.
// Immutable; parts appear one after the other while they are made.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/listen/listen_analysis.hpp"
#include "core/timing/budget.hpp"
#include "core/timing/clock_explain.hpp"
#include "core/timing/clock_sources.hpp"
#include "core/timing/contract.hpp"
#include "core/timing/golden.hpp"
#include "core/timing/network_reply.hpp"
#include "core/timing/reply.hpp"
#include "core/timing/reply_study.hpp"
#include "core/timing/serial_clocking.hpp"

namespace grayrelic {

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
    std::shared_ptr<const LogicLibrary> data;  ///< whose parts it points at
    Network network;
};

struct ClockAnalysis {
    ClockStudy study;
    double within_ppm = 0;  ///< as used
    std::optional<ClockExplanation> explanation;
    std::optional<SerialClocking> serial;  ///< when a modern clock is chosen
    double bearable_ppm = 0;               ///< how far off its receiver may be, with it
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

struct TimingAnalysis {
    std::vector<std::shared_ptr<const ContractFigure>> contract;
    std::vector<std::shared_ptr<const CaptureBreaches>> breaches;  ///< of captures that have any
    std::shared_ptr<const std::vector<ReplyTask>> tasks;           ///< null when the question can't be asked
    std::string question_problem;
    std::optional<Time> least_allowed;  ///< the shortest time that any task leaves for its reply
    std::vector<std::shared_ptr<const OptionAnalysis>> options;
    std::vector<std::shared_ptr<const NetworkAnalysis>> networks;
    std::vector<std::shared_ptr<const ClockAnalysis>> clocks;
    std::vector<std::shared_ptr<const BudgetAnalysis>> budgets;
    std::vector<std::shared_ptr<const GoldenAnalysis>> golden;
    /// What is still being worked out, for a person: "replies of Shift register"; empty when all is there.
    /// Until then a figure of an earlier version may stand in its place.
    std::vector<std::string> under_way;

    [[nodiscard]] const ContractFigure* find_figure(std::string_view id) const;
    [[nodiscard]] const OptionAnalysis* find_option(std::string_view id) const;
    [[nodiscard]] const NetworkAnalysis* find_network(std::string_view id) const;
    [[nodiscard]] const ClockAnalysis* find_clock(std::string_view id) const;
    [[nodiscard]] const BudgetAnalysis* find_budget(std::string_view id) const;
    [[nodiscard]] const GoldenAnalysis* find_golden(std::string_view id) const;
    [[nodiscard]] const CaptureBreaches* find_breaches(std::string_view capture) const;
};

/// A margin below this share of the time allowed is too little: Doubt.
inline constexpr double thin_margin_share = 0.10;
[[nodiscard]] Verdict judge(const ReplySummary& summary);

/// A capture as the contract measures from it; without one of this id, one that can't be read.
[[nodiscard]] IntervalSource interval_source(const ListenAnalysis& listen, std::string_view capture);

/// The signal that answers: as the question says, else the data role of its capture; empty for none.
[[nodiscard]] std::string answer_of(const ReplyQuestion& question, const CaptureAnalysis* asked);

/// What is shipped and Timing rests on; either may be null.
struct TimingData {
    std::shared_ptr<const LogicLibrary> logic;
    std::shared_ptr<const ClockLibrary> clocks;
};

/// Works Timing out in two passes that may run side by side, once the captures are decoded and sampled.
class TimingWork {
  public:
    /// `before`: what stands in for parts that are not made yet; may be null.
    TimingWork(const Dossier& dossier, TimingData data, Memory& memory, MemoryRun& run,
               std::shared_ptr<const TimingAnalysis> before, std::function<void()> changed);
    static double weight(const Dossier& dossier);

    // Each is false when interrupted.
    [[nodiscard]] bool contract(const ListenAnalysis& listen);  ///< contract, clocks, budgets, replicas
    [[nodiscard]] bool replies(const ListenAnalysis& listen);   ///< question, networks, options

    /// As far as it is.
    [[nodiscard]] std::shared_ptr<const TimingAnalysis> now();

  private:
    struct Question;
    struct Replies;
    struct ReplyInputs;
    template <class T>
    using List = std::vector<std::shared_ptr<const T>>;
    bool intervals(const ListenAnalysis& listen);
    bool breaches(const ListenAnalysis& listen);
    bool clocks();
    bool budgets(const ListenAnalysis& listen);
    bool golden(const ListenAnalysis& listen);
    bool question(const ListenAnalysis& listen);
    bool networks();
    bool options(const ListenAnalysis& listen);
    static Result<Replies> replies_of_network(const ReplyInputs& in, Progress& progress);
    static Result<Replies> replies_of_model(const ReplyInputs& in, Progress& progress);
    std::shared_ptr<const Replies> replies_of(const BuildOption& option, const ListenAnalysis& listen);
    template <class T>
    void set(std::shared_ptr<const T>& place, std::shared_ptr<const T> value);
    template <class Thing, class Made, class Make>
    bool each(const std::vector<Thing>& things, List<Made>& places, Make make);

    const Section<Timing> timing_;
    const Section<std::vector<JobUnit>> units_;
    const TimingData data_;
    Memory& memory_;
    MemoryRun& run_;
    std::shared_ptr<const TimingAnalysis> before_;
    std::function<void()> changed_;

    std::mutex mutex_;  // of what follows
    List<ContractFigure>
        measured_;  ///< the contract without the captures' titles: what breaches and replicas rest on
    List<ContractFigure> contract_;
    List<CaptureBreaches> breaches_;
    std::shared_ptr<const Question> question_;
    List<OptionAnalysis> options_;
    List<NetworkAnalysis> networks_;
    List<ClockAnalysis> clocks_;
    List<BudgetAnalysis> budgets_;
    List<GoldenAnalysis> golden_;
    bool breaches_done_ = false;
};

}  // namespace grayrelic
