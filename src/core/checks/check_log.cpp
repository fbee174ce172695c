// SPDX-License-Identifier: GPL-3.0-or-later
// What was learned, as far as it is not yet used: trials that leave two explanations, complaints that nobody
// closed, changes by hand that the next files do not have, images that are not what they were.
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>

#include "core/base/text.hpp"
#include "core/checks/registry.hpp"
#include "core/record/cover_study.hpp"
#include "core/record/degree.hpp"
#include "core/record/log_analysis.hpp"
#include "core/record/release_pack.hpp"
#include "core/record/revisions.hpp"
#include "core/record/trial_study.hpp"
#include "core/record/unit_history.hpp"
#include "core/wire/device_values.hpp"

namespace grayrelic {
namespace {

Finding log_finding(const char* id, Severity severity, std::string subject, std::string says, std::string why,
                    std::string todo, std::string place) {
    return {id,
            severity,
            Stage::log,
            std::move(subject),
            std::move(says),
            std::move(why),
            std::move(todo),
            {"log", std::move(place)}};
}

std::string log_unit(const Dossier& d, const std::string& id) {
    const auto* unit = d.find_unit(id);
    return unit == nullptr || unit->name.empty() ? id : unit->name;
}

/// Trials that name what is not there, and days that go backwards.
void check_references(const Dossier& d, Findings& out) {
    std::string before;
    for (const auto& t : d.log->trials) {
        const auto place = "trials/" + t.id;
        std::vector<std::string> unknown;
        if (!t.unit.empty() && d.find_unit(t.unit) == nullptr)
            unknown.push_back("the unit " + in_quotes(t.unit));
        const auto& images = d.log->images;
        if (!t.image.empty() &&
            std::none_of(images.begin(), images.end(), [&](const ImageFile& i) { return i.id == t.image; }))
            unknown.push_back("the image " + in_quotes(t.image));
        const auto& trials = d.log->trials;
        if (!t.beside.empty() &&
            std::none_of(trials.begin(), trials.end(), [&](const TrialRun& o) { return o.id == t.beside; }))
            unknown.push_back("the trial " + in_quotes(t.beside));
        if (!unknown.empty())
            out.push_back(log_finding(
                "trial-broken", Severity::note, "trial " + t.id,
                fmt::format("Trial {} names {}, which is not there", t.id, fmt::join(unknown, " and ")),
                "It can't be counted for what it was.", "Say which was meant.", place));
        if (!t.day.empty() && t.day < before)
            out.push_back(log_finding(
                "trial-broken", Severity::note, "trial " + t.id,
                fmt::format("Trial {} is of {}, and the one before it of {}", t.id, t.day, before),
                "Trials stand in the order they were run.", "Correct the day, or the order.", place));
        if (!t.day.empty()) before = t.day;
    }
}

void check_trials(const Dossier& d, Findings& out) {
    for (const auto& t : d.log->trials) {
        const auto s = degree_state(t);
        if (s.verdict == Verdict::doubt)
            out.push_back(log_finding(
                "trial-degree", Severity::doubt, "trial " + t.id,
                fmt::format("Trial {}: not as much as was expected", t.id), s.says + ".",
                "Find out which of the two is wrong before the figure is used.", "trials/" + t.id));
    }
    const auto table = trials_of(d);
    if (table.rows.empty()) return;
    const auto study = study_trials(table);
    if (study.bad == 0) return;
    const auto left = study.explanations();
    if (!study.disagree.empty()) {
        const auto [a, b] = study.disagree.front();
        out.push_back(log_finding("trials-disagree", Severity::doubt, "trials",
                                  fmt::format("Trials {} and {} are the same setup, and one failed",
                                              table.rows[a].id, table.rows[b].id),
                                  study.why, "Find what else differed; repeat before anything is changed.",
                                  "trials/" + table.rows[b].id));
    } else if (left.size() > 1) {
        out.push_back(log_finding("trials-confounded", Severity::doubt, "trials",
                                  fmt::format("{} explain the same failures",
                                              plural(static_cast<long long>(left.size()), "thing", "things")),
                                  study.why, "Run the trial that tells them apart.", "next"));
    } else if (left.empty()) {
        out.push_back(log_finding("trials-unexplained", Severity::note, "trials",
                                  fmt::format("{} of {} failed, and nothing in the table explains it",
                                              study.bad, plural(study.runs, "trial", "trials")),
                                  study.why, "Write down what else could differ.", "next"));
    }
}

std::string next_to_try(const CoverStudy& study) {
    for (const auto& s : study.items)
        if (s.item->id == study.next)
            return fmt::format("Try {} next: {}.", s.item->name.empty() ? s.item->id : s.item->name,
                               study.common.size() > 1
                                   ? "it tells them apart"
                                   : "it uses this one; then look at what it needs of the bridge");
    return "Look at what this function needs of the bridge.";
}

void check_cover(const Analysis& a, Findings& out) {
    const auto& log = *a.dossier.log;
    const auto study = study_cover(log.items);
    if (!study.common.empty())
        out.push_back(
            log_finding("cover-common", Severity::doubt, "function " + study.common.front(),
                        study.common.size() == 1
                            ? fmt::format("{} may be missing: every glitch uses it, and nothing that works",
                                          study.common.front())
                            : fmt::format("One of these may be missing: {}", fmt::join(study.common, ", ")),
                        study.why + " What else they use is known only as far as it was written down.",
                        next_to_try(study), "cover/" + study.common.front()));
    for (const auto& s : study.items)
        if (!s.says_otherwise.empty())
            out.push_back(log_finding(
                "cover-disagrees", Severity::note, "item " + s.item->id,
                fmt::format("{}: others saw it otherwise", s.item->name.empty() ? s.item->id : s.item->name),
                fmt::format("{} here; {}.", word(s.outcome), fmt::join(s.says_otherwise, "; ")),
                "Ask which revision, image and host they had.", "cover/" + s.item->id));
    for (const auto& i : log.items)
        for (const auto& v : device_values(i, a.wire.get(), *a.dossier.map))
            if (v.verdict == Verdict::stop || v.verdict == Verdict::doubt)
                out.push_back(log_finding(
                    "device-overloads", v.verdict == Verdict::stop ? Severity::stop : Severity::doubt,
                    "item " + i.id, fmt::format("{}: {} {}", i.name.empty() ? i.id : i.name, v.what, v.value),
                    v.why + ".",
                    "Do not plug it in without another supply, or say in the list that it does not go.",
                    "cover/" + i.id));
}

void check_changes(const Dossier& d, Findings& out) {
    for (const auto& c : complaint_states(*d.log)) {
        if (c.verdict != Verdict::stop && c.verdict != Verdict::doubt) continue;
        const bool changed = c.verdict == Verdict::doubt;
        out.push_back(log_finding(
            changed ? "complaint-unchecked" : "complaint-open", Severity::doubt,
            "complaint " + c.complaint->id,
            changed ? fmt::format("Changed, and nobody checked: {}", c.complaint->says)
                    : "Open: " + c.complaint->says,
            changed ? fmt::format("Revision {}: {}.", *c.complaint->changed_in, c.complaint->change)
            : c.complaint->cause.empty() ? std::string("Its cause is not known.")
                                         : "Cause: " + c.complaint->cause + ".",
            c.step.empty() ? "Say what comes next." : c.step + ".", "complaints/" + c.complaint->id));
    }
    for (const auto& b : bodge_states(d)) {
        if (!b.is_open()) continue;
        out.push_back(
            log_finding("bodge-not-carried", Severity::doubt, "unit " + b.unit,
                        fmt::format("On {}, but not in the next files: {}", log_unit(d, b.unit), b.what),
                        "It was changed by hand. The next board comes without it.",
                        "Make it a complaint with its change, or say why it stays out.", "bodges/" + b.key));
    }
}

void check_images(const Analysis& a, Findings& out) {
    for (const auto& s : image_states(a.dossier, a.log->sums)) {
        const auto problem = a.log->problems.find(s.image->id);
        const auto name = image_name(*s.image);
        if (problem != a.log->problems.end())
            out.push_back(log_finding("image-changed", Severity::doubt, "image " + s.image->id,
                                      name + " can't be read", problem->second, "Bring the file back.",
                                      "images/" + s.image->id));
        else if (s.verdict == Verdict::stop)
            out.push_back(log_finding(
                "image-changed", Severity::stop, "image " + s.image->id,
                name + " is not the file that was tried",
                s.says + (s.trials.empty()
                              ? std::string(".")
                              : fmt::format("; trials {} were run with it.", fmt::join(s.trials, ", "))),
                "Bring the old file back, or enter the new one as an image of its own.",
                "images/" + s.image->id));
    }
}

void check_release(const Dossier& d, Findings& out) {
    if (d.log->release == Release{}) return;
    for (const auto& p : missing_in_release(d))
        if (p.verdict == Verdict::stop)
            out.push_back(log_finding("release-missing", Severity::doubt, "release", p.says,
                                      "A pack can't be written before.", p.todo, "release/" + p.place));
}

}  // namespace

void check_log(const Analysis& a, Findings& out) {
    if (*a.dossier.log == JobLog{} && a.dossier.builds->empty()) return;
    check_references(a.dossier, out);
    check_trials(a.dossier, out);
    check_cover(a, out);
    check_changes(a.dossier, out);
    check_images(a, out);
    check_release(a.dossier, out);
}

}  // namespace grayrelic
