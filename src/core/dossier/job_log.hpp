// SPDX-License-Identifier: GPL-3.0-or-later
// What was learned: trials, what works with what, complaints and revisions, images, money and hours, and what
// is published. What follows from it is core/record.
//
// `extra` members hold fields of newer versions, as in dossier.hpp.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/words.hpp"
#include "core/dossier/fact.hpp"
#include "core/dossier/timing.hpp"

namespace grayrelic {

enum class TrialOutcome { not_said, works, partly, fails };
template <>
inline constexpr std::array words_of<TrialOutcome>{"not-said", "works", "partly", "fails"};

/// Whether the same setup gave the same outcome again.
enum class Repeats { not_said, yes, no };
template <>
inline constexpr std::array words_of<Repeats>{"not-said", "yes", "no"};

/// What was varied, or held: "host" "second machine", "R4" "2.2 kΩ".
struct TrialFactor {
    std::string name, value;
    std::string extra{};
    bool operator==(const TrialFactor&) const = default;
};
struct TrialReading {
    std::string what, value;
    std::string extra{};
    bool operator==(const TrialReading&) const = default;
};

/// One run at the bench.
struct TrialRun {
    std::string id;
    std::string day;
    std::string unit;                ///< JobUnit::id; a factor, and its revision another
    std::string image;               ///< ImageFile::id that ran; a factor too
    std::vector<TrialFactor> setup;  ///< each name once
    TrialOutcome outcome = TrialOutcome::not_said;
    std::string degree_of;             ///< what the degree counts, with its unit: "frames lost, %"
    std::optional<double> degree;      ///< how much of it
    std::optional<double> expected;    ///< how much of it was expected
    std::optional<double> plus_minus;  ///< of the two together
    Repeats repeats = Repeats::not_said;
    std::string beside;             ///< TrialRun::id that was started together with it; else empty
    std::optional<double> ran_s;    ///< how long both ran, in seconds
    std::optional<double> ahead_s;  ///< by how much this one was ahead of the other in the end
    std::vector<TrialReading> readings;
    std::string note;
    std::string extra;
    bool operator==(const TrialRun&) const = default;
    [[nodiscard]] const std::string* find_factor(std::string_view name) const {
        for (const auto& f : setup)
            if (f.name == name) return &f.value;
        return nullptr;
    }
};

enum class CoverKind { title, key, device, mode };
template <>
inline constexpr std::array words_of<CoverKind>{"title", "key", "device", "mode"};

/// What somebody saw an item do.
struct CoverSaid {
    TrialOutcome outcome = TrialOutcome::not_said;
    std::string source;  ///< who says so; empty: seen at one's own bench
    std::string day, unit, note;
    std::string extra{};
    bool operator==(const CoverSaid&) const = default;
};

/// A title, a key, a device or a mode that the bridge is tried with.
struct CoverItem {
    std::string id;
    CoverKind kind = CoverKind::title;
    std::string name;
    std::vector<std::string> uses;    ///< functions that it is known to use
    std::vector<std::string> spares;  ///< functions that it is known not to use; others: not known
    std::vector<CoverSaid> said;
    std::vector<NumberFact> figures;  ///< of a device: "current" in A, "poll" in s
    std::string extra;
    bool operator==(const CoverItem&) const = default;
};

enum class ComplaintKind { complaint, open_item, idea };
template <>
inline constexpr std::array words_of<ComplaintKind>{"complaint", "open-item", "idea"};

/// Something that is wrong, open, or parked; closed by evidence.
struct Complaint {
    std::string id;
    ComplaintKind kind = ComplaintKind::complaint;
    std::string says;
    std::string day, unit;
    std::optional<int> found_in;  ///< revision
    std::string cause, change;
    std::optional<int> changed_in;  ///< revision that has the change
    std::string check;              ///< what would show that it is gone
    Fact<std::string> closed;       ///< what showed it; empty or assumed: still open
    std::string extra;
    bool operator==(const Complaint&) const = default;
    [[nodiscard]] bool is_closed() const {
        return !closed.value.empty() && closed.evidence.kind != EvidenceKind::assumed;
    }
};

/// A wire, a cut, a part on top of another: a change by hand that the files do not have.
struct Bodge {
    std::string id;
    std::string unit, what, day;
    std::string carried;   ///< Complaint::id that takes it into the next files; empty: not yet
    std::string left_out;  ///< why it need not be carried; empty: it must
    std::string extra;
    bool operator==(const Bodge&) const = default;
};

struct RevisionNote {
    std::string id;     ///< the revision as it is printed on the board: "1", "2"
    std::string board;  ///< Fabrication::id; may be empty
    std::string day, says;
    std::string extra;
    bool operator==(const RevisionNote&) const = default;
};

struct WeighedWay {
    std::string name, for_it, against;
    std::string extra{};
    bool operator==(const WeighedWay&) const = default;
};
/// Where good people differ: what was chosen, and why.
struct LoggedDecision {
    std::string id;
    std::string says, day, chosen, why;
    std::vector<WeighedWay> ways;
    std::string extra;
    bool operator==(const LoggedDecision&) const = default;
};

/// Firmware, a memory's contents: a file that something runs.
struct ImageFile {
    std::string id;
    std::string name, version;
    std::string file;       ///< below the dossier's folder; empty: not kept here
    std::string outside{};  ///< absolute path while it is not copied in; never written to disk
    std::string sha256;     ///< 64 hexadecimal digits; empty: not known
    std::string built_with, source, day, note;
    std::string extra;
    bool operator==(const ImageFile&) const = default;
};
struct ImageRun {
    std::string image, unit, day;
    std::string extra{};
    bool operator==(const ImageRun&) const = default;
};
/// Where a unit went.
struct UnitPlace {
    std::string unit, where, day, note;
    std::string extra{};
    bool operator==(const UnitPlace&) const = default;
};

enum class CostKind { parts, boards, shipping, tools, other };
template <>
inline constexpr std::array words_of<CostKind>{"parts", "boards", "shipping", "tools", "other"};
enum class CostPer {
    once,   ///< whatever is built: a tool, a mould, what was learned
    batch,  ///< for each batch: shipping, the boards of one order
    piece,  ///< for each board begun
};
template <>
inline constexpr std::array words_of<CostPer>{"once", "batch", "piece"};
struct CostLine {
    std::string id;
    CostKind kind = CostKind::other;
    CostPer per = CostPer::once;
    std::string says;
    double money = 0;
    std::string day;
    std::string extra{};
    bool operator==(const CostLine&) const = default;
};
struct HoursSpent {
    std::string task;  ///< PlanTask::id, or in own words
    double hours = 0;
    std::string day, note;
    std::string extra{};
    bool operator==(const HoursSpent&) const = default;
};
struct Economics {
    std::vector<CostLine> costs;
    std::vector<HoursSpent> hours;
    int batch = 1;                           ///< boards begun together
    std::optional<double> hours_each;        ///< of work for each board; nothing: from Build's log
    std::optional<double> hour_worth;        ///< in money; nothing: hours are counted apart
    std::optional<double> price;             ///< that one is sold for; nothing: not sold
    Fact<std::optional<double>> original;    ///< what an original costs
    Fact<std::optional<double>> ready_made;  ///< what a ready-made one costs
    std::string extra;
    bool operator==(const Economics&) const = default;
};

/// Whose work something is, and what allows it to be passed on.
struct SourceRight {
    std::string what;     ///< "hardware", "firmware", or a file
    std::string who;      ///< may be empty: own work
    std::string licence;  ///< its short name, or the permission in words; empty: not known
    std::string extra{};
    bool operator==(const SourceRight&) const = default;
};
struct PublishedFile {
    std::string file;  ///< below the dossier's folder
    std::string says;
    std::string extra{};
    bool operator==(const PublishedFile&) const = default;
};
struct Release {
    std::string version, day;
    std::vector<SourceRight> rights;
    std::vector<PublishedFile> files;        ///< beside what the dossier's sections hold
    std::vector<std::string> private_words;  ///< that must not be in a pack: names, streets
    std::string extra;
    bool operator==(const Release&) const = default;
};

enum class CardKind { step, light, press, symptom, warning };
template <>
inline constexpr std::array words_of<CardKind>{"step", "light", "press", "symptom", "warning"};
struct UserCardLine {
    CardKind kind = CardKind::step;
    std::string when;   ///< what one sees, or does: "green blinks slowly"
    std::string means;  ///< what it says, or what to do then
    std::string extra{};
    bool operator==(const UserCardLine&) const = default;
};

struct JobLog {
    std::vector<TrialRun> trials;  ///< in the order they were run
    std::vector<CoverItem> items;
    std::vector<Complaint> complaints;
    std::vector<Bodge> bodges;
    std::vector<RevisionNote> revisions;
    std::vector<LoggedDecision> decisions;
    std::vector<ImageFile> images;
    std::vector<ImageRun> runs;
    std::vector<UnitPlace> places;
    Economics money;
    Release release;
    std::vector<UserCardLine> card;  ///< what the user's card says beside what follows from the dossier
    std::string extra;
    bool operator==(const JobLog&) const = default;
};

}  // namespace grayrelic
