// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli check, report, new, migrate
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <memory>
#include <string_view>

#include "cli/command.hpp"
#include "cli/input.hpp"
#include "cli/output.hpp"
#include "cli/plan_commands.hpp"
#include "core/analysis/analysis.hpp"
#include "core/base/folder_lock.hpp"
#include "core/base/text.hpp"
#include "core/checks/registry.hpp"
#include "core/dossier/dossier_json.hpp"
#include "core/dossier/journal.hpp"
#include "core/dossier/migrate.hpp"
#include "core/dossier/store.hpp"
#include "core/port/connector_library.hpp"
#include "core/report/html_report.hpp"
#include "render/pdf.hpp"
#include "render/report_pdf.hpp"

namespace grayrelic::cli {
namespace {

int check(const std::string& path, const std::string& stage, bool json) {
    const auto only = named<Stage>(stage);
    const auto judged = judged_stages();
    if (!stage.empty() && (!only || std::find(judged.begin(), judged.end(), *only) == judged.end())) {
        std::vector<std::string_view> words;
        words.reserve(judged.size());
        for (const auto s : judged) words.push_back(word(s));
        return report_error(
            usage_error("stage " + in_quotes(stage), fmt::format("one of {}", fmt::join(words, ", "))));
    }
    const auto a = analyse_dossier(path);
    if (!a) return report_error(a.error());
    const auto o = outlook(**a, std::nullopt);
    if (json) return print_findings((*a)->findings, only, json, gates_json(o));
    const int status = print_findings((*a)->findings, only, json);
    if (only) return status;
    say("gates:");
    for (const auto& g : o.ready)
        say("{} {} {}", g.gate == JobGate::breadboard ? "" : ",", word(g.gate),
            !g.needed                       ? "not needed"
            : g.verdict == Verdict::unknown ? "not reached"
            : g.verdict == Verdict::holds   ? "open"
                                            : word(g.verdict));
    say("\n");
    return status;
}

int report(const std::string& path, const std::string& out, bool json) {
    const std::filesystem::path target(out);
    const bool paper = target.extension() == ".pdf";
    if (!paper && target.extension() != ".html")
        return report_error(usage_error(in_quotes(out), "a file that ends in .html or .pdf"));
    const auto a = analyse_dossier(path);
    if (!a) return report_error(a.error());
    if (const auto free = not_over(out, (*a)->dossier, path); !free) return report_error(free.error());
    auto text = html_report(**a);
    if (paper) {
        const render::HeadlessGui gui;
        Progress progress;
        auto pages = render::report_pdf(text, (*a)->dossier.about->name, progress);
        if (!pages) return report_error(pages.error());
        text = std::move(*pages);
    }
    if (auto written = write_atomically(disk(), target, text); !written) return report_error(written.error());
    if (json)
        print_json({{"file", out}, {"bytes", text.size()}});
    else
        say("{}\n", out);
    return fine;
}

/// Reads, migrates and writes again in place, also when the version is current.
int migrate_dossier(const std::string& named, bool json) {
    const auto folder = dossier_folder(named);
    const auto file = folder / dossier_file;
    const auto text = disk().read(file, most_dossier_bytes);
    if (!text) return report_error(text.error());
    const auto from = dossier_version_in(*text, file.string());
    if (!from) return report_error(from.error());
    const FolderLock lock(folder / lock_file);
    if (lock.state() == FolderLock::State::busy)
        return report_error({Error::Kind::system, folder.string(), 0, "a dossier that is open in a window",
                             "one that nobody else writes"});
    const auto dossier = load_dossier(folder);
    if (!dossier) return report_error(dossier.error());
    Progress progress;
    if (const auto saved = save_dossier(*dossier, folder, folder, disk(), progress); !saved)
        return report_error(saved.error());
    if (json)
        print_json({{"from", *from}, {"to", dossier_version}});
    else
        say("{}: version {}, now {}\n", folder.string(), *from, dossier_version);
    return fine;
}

int make_new(const std::string& folder, const std::string& name, bool json) {
    if (auto made = new_dossier(folder, name); !made) return report_error(made.error());
    if (json)
        print_json({{"dossier", folder}, {"name", name}});
    else
        say("{}\n", folder);
    return fine;
}

}  // namespace

void add_dossier_commands(CLI::App& app, Session& session) {
    struct Arguments {
        std::string dossier, stage, out, name;
    };
    const auto a = std::make_shared<Arguments>();
    auto* v = app.add_subcommand("check", "all findings of a dossier");
    v->add_option("DOSSIER", a->dossier)->required();
    v->add_option("--stage", a->stage, "only this stage");
    v->callback(
        [&session, a] { session.run = [&session, a] { return check(a->dossier, a->stage, session.json); }; });

    v = app.add_subcommand("report", "the dossier as one HTML file, or as PDF");
    v->add_option("DOSSIER", a->dossier)->required();
    v->add_option("OUT", a->out)->required();
    v->callback(
        [&session, a] { session.run = [&session, a] { return report(a->dossier, a->out, session.json); }; });

    v = app.add_subcommand("new", "an empty dossier");
    v->add_option("DIR", a->dossier)->required();
    v->add_option("--name", a->name)->required();
    v->callback([&session, a] {
        session.run = [&session, a] { return make_new(a->dossier, a->name, session.json); };
    });

    v = app.add_subcommand("migrate", "a dossier written again in the present version of its format");
    v->add_option("DOSSIER", a->dossier)->required();
    v->callback(
        [&session, a] { session.run = [&session, a] { return migrate_dossier(a->dossier, session.json); }; });
}

}  // namespace grayrelic::cli
