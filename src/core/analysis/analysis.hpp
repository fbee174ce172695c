// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that follows from a dossier: one analysis a stage, each made in its stage's folder, and the
// findings, which core/checks adds.
//
// An Analysis is immutable. While it is worked out, versions of it appear in which parts are still missing or
// stand from an earlier one; `under_way` says which. What was computed is remembered by what it rests on
// (base/memory.hpp), so that an edit costs what it touches.
#pragma once

#include <filesystem>
#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "core/analysis/capture_store.hpp"
#include "core/analysis/finding.hpp"
#include "core/base/memory.hpp"
#include "core/dossier/dossier.hpp"
#include "core/library/data_library.hpp"
#include "core/person/person.hpp"

namespace grayrelic {

struct BoardAnalysis;
struct CaptureAnalysis;
struct ContractFigure;
struct ListenAnalysis;
struct LogAnalysis;
struct MapAnalysis;
struct OptionAnalysis;
struct PlanAnalysis;
struct PortAnalysis;
struct TimingAnalysis;
struct TraceAnalysis;
struct WireAnalysis;

/// What a check may rest on; bits of a set.
enum class Rests : unsigned {
    about = 1,
    ports = 2,
    cables = 4,
    captures = 8,
    readings = 16,
    trace = 32,
    timing = 64,  ///< so far: sections of the dossier
    data = 128,
    port_analysis = 256,
    listen_analysis = 512,
    timing_analysis = 1024,
    trace_analysis = 2048,
    units = 4096,
    dimensions = 8192,
    supply = 16384,
    person = 32768,  ///< the drawer and the bench
    plan_analysis = 65536,
    plan = 131072,  ///< a section too
    wire = 262144,  ///< likewise
    wire_analysis = 524288,
    map = 1048576,  ///< a section
    map_analysis = 2097152,
    boards = 4194304,  ///< a section
    board_analysis = 8388608,
    stacks = 16777216,  ///< a section
    builds = 33554432,  ///< likewise
    log = 67108864,     ///< likewise
    log_analysis = 134217728,
};
constexpr unsigned operator|(Rests a, Rests b) {
    return static_cast<unsigned>(a) | static_cast<unsigned>(b);
}
constexpr unsigned operator|(unsigned a, Rests b) {
    return a | static_cast<unsigned>(b);
}
constexpr bool holds(unsigned set, Rests r) {
    return (set & static_cast<unsigned>(r)) != 0;
}

struct Analysis {
    Analysis();

    Dossier dossier;
    std::shared_ptr<const DataLibrary> data;   ///< null: what needs it is not judged
    std::shared_ptr<const Person> person;      ///< the drawer and the bench; never null
    std::shared_ptr<const PlanAnalysis> plan;  ///< never null
    std::shared_ptr<const PortAnalysis> port;  ///< never null, nor the next two
    std::shared_ptr<const ListenAnalysis> listen;
    std::shared_ptr<const TimingAnalysis> timing;
    std::shared_ptr<const WireAnalysis> wire;               ///< null without the shipped data
    std::shared_ptr<const MapAnalysis> map;                 ///< null without the shipped data
    std::shared_ptr<const TraceAnalysis> trace;             ///< null without the shipped data
    std::shared_ptr<const BoardAnalysis> board;             ///< likewise
    std::shared_ptr<const LogAnalysis> log;                 ///< never null
    Findings findings;                                      ///< the worst first
    std::vector<std::shared_ptr<const Findings>> by_check;  ///< of each check, null while it was not made
    std::vector<std::string> under_way;                     ///< what is still missing, for a person
    std::shared_ptr<Memory> memory;                         ///< never null; shared by all versions

    // Shorthands; null where there is none.
    [[nodiscard]] const CaptureAnalysis* find_capture(std::string_view id) const;
    [[nodiscard]] const ContractFigure* find_figure(std::string_view id) const;
    [[nodiscard]] const OptionAnalysis* find_option(std::string_view id) const;
};

/// What a result stands on: the versions of the sections and analyses that `rests` (a set of Rests) names,
/// the others null. Equal versions give equal results; it keeps them alive, so that an address can't be taken
/// anew.
using Versions = std::vector<std::shared_ptr<const void>>;
[[nodiscard]] Versions versions_of(const Dossier& dossier, const Analysis& analysis, unsigned rests);

/// True while a check is still to be made, or was not made because the work was stopped.
[[nodiscard]] bool more_to_come(const Analysis& a);
/// The worst that is found in a stage. Where nothing is found and more is to come, nobody knows yet.
[[nodiscard]] Verdict stage_verdict(const Analysis& a, Stage stage);

/// Adds findings to an analysis, as far as what they rest on is `ready` (a set of Rests).
using Judge = std::function<void(Analysis& now, unsigned ready, MemoryRun& run)>;
/// Takes a version that is not the last; called from any thread, one at a time.
using ShowPart = std::function<void(std::shared_ptr<const Analysis>)>;

/// Fails only when interrupted; what can't be read stands as a problem in its place. `before` (null for none)
/// gives the memory and what stands in for missing parts.
[[nodiscard]] Result<std::shared_ptr<const Analysis>> work_out(
    const Dossier& dossier, const std::filesystem::path& folder, CaptureStore& store, Progress& progress,
    const Analysis* before, std::shared_ptr<const DataLibrary> data, std::shared_ptr<const Person> person,
    const Judge& judge, const ShowPart& show);

}  // namespace grayrelic
