// SPDX-License-Identifier: GPL-3.0-or-later
// Kinds of job, named by need: which stages one needs, what it always asks, what it must do, its gates, its
// cautions and its usual tasks. Data, not code: data/jobs/*.json, extended by the person's own folder; the
// format is docs/formats/jobs.md.
#pragma once

#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/file_system.hpp"
#include "core/dossier/plan.hpp"

namespace grayrelic {

/// Asked in every job of the kind, until it is answered.
struct AskedQuestion {
    std::string id;
    std::string ask;
    Stage stage = Stage::port;
    AtStake at_stake = AtStake::little;
    double minutes = 10;
    std::string how;
    std::string finding;  ///< "rests-on-assumed host look": asks for the same, and stands in its place
};

struct AskedMust {
    std::string id;
    std::string says;
};

struct KindTask {
    PlanTask task;
    bool parcel = false;  ///< its wait is that of the parts to order
    bool boards = false;  ///< its hours count once for each board that is built
};

struct JobKind {
    std::string id;
    std::string name;
    std::string about;    ///< what it is for, one sentence
    std::string example;  ///< from the invented world
    std::vector<Stage> stages;
    std::vector<AskedQuestion> questions;
    std::vector<AskedMust> musts;
    std::vector<JobGate> gates;  ///< empty: all
    std::vector<std::string> cautions;
    std::vector<KindTask> tasks;
    [[nodiscard]] bool needs(Stage stage) const;
    [[nodiscard]] bool has(JobGate gate) const;
};

struct JobKindLibrary {
    std::vector<JobKind> kinds;  ///< in the order of their names
    std::vector<Error> problems;
    [[nodiscard]] const JobKind* find(std::string_view id) const;
    [[nodiscard]] static JobKindLibrary load(FileSystem& files,
                                             const std::vector<std::filesystem::path>& folders);
};

[[nodiscard]] Result<JobKind> job_kind_from_json(std::string_view text, const std::string& file);

}  // namespace grayrelic
