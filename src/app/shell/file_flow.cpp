// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/file_flow.hpp"

#include <QDateTime>
#include <QFileInfo>
#include <QSettings>

#include "app/paint/marks.hpp"
#include "app/shell/busy_dialog.hpp"
#include "core/base/text.hpp"
#include "core/capture/signal_names.hpp"
#include "core/dossier/dossier_files.hpp"
#include "core/dossier/dossier_json.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "core/port/connector_library.hpp"
#include "core/report/html_report.hpp"
#include "render/report_pdf.hpp"

namespace grayrelic::app {
namespace {

/// What a dossier is called that nobody has named.
constexpr const char* untitled = "Untitled dossier";

constexpr int most_recent = 8;
std::filesystem::path to_path(const QString& s) {
    return std::filesystem::path(s.toStdString());
}

}  // namespace

/// Reading and writing a dossier's text takes a while where it holds thousands of readings: beside the
/// window.
Result<FileFlow::OnDisk> FileFlow::read_folder(const std::filesystem::path& folder) const {
    Result<OnDisk> out;
    const auto ran = run_with_progress(window_, tr("Opening the dossier"), [&](Progress&) {
        auto dossier = load_dossier(folder);
        if (!dossier) {
            out = fail(dossier.error());
            return;
        }
        auto text = dossier_to_json(*dossier);
        out = OnDisk{std::move(*dossier), std::move(text)};
    });
    if (!ran) return fail(ran.error());
    return out;
}

bool FileFlow::may_leave() {
    if (!document_.is_modified()) return true;
    switch (ask_save()) {
        case Answer::save: return save();
        case Answer::discard: return true;
        case Answer::cancel: return false;
    }
    return false;
}

void FileFlow::make_new() {
    if (!may_leave()) return;
    leave();
    About about;
    about.name = untitled;
    safekeeping_.adopt_unsaved();
    document_.open(put({}, about), {});
}

void FileFlow::leave() {
    if (document_.is_open() && document_.read_only().isEmpty()) safekeeping_.forget();
}

bool FileFlow::settle_left_edits(const std::filesystem::path& journal, const Dossier& on_disk,
                                 std::optional<Dossier>& recovered) {
    Result<std::optional<LeftEdits>> left;
    const auto ran = run_with_progress(window_, tr("Reading the edits that were left"),
                                       [&](Progress&) { left = read_journal(journal, on_disk); });
    if (!ran) left = fail(ran.error());
    if (!left) {
        // Unreadable, or of another state: out of the way, but kept.
        auto aside = journal;
        aside += ".aside";
        std::error_code code;
        std::filesystem::rename(journal, aside, code);
        tell(tr("%1\nThe dossier opens as it was saved; the edits are kept in %2.")
                 .arg(to_q(left.error().message()), to_q(aside.filename().string())));
        return !code;
    }
    if (!*left) return true;
    const auto when = QFileInfo(to_q(journal.string())).lastModified();
    auto question =
        tr("“%1” has %2 from %3 that were not saved before the program ended.")
            .arg(to_q((*left)->dossier.about->name), to_q(plural((*left)->edits, "edit", "edits")),
                 when.toString(QStringLiteral("yyyy-MM-dd HH:mm")));
    if (!(*left)->trouble.empty())
        question += tr("\nThe last of them was lost: %1.").arg(to_q((*left)->trouble));
    for (const auto& path : (*left)->outside) question += tr("\nThey add the capture %1.").arg(to_q(path));
    switch (ask_recover(question)) {
        case Recover::take_up: recovered = std::move((*left)->dossier); return true;
        case Recover::throw_away: disk().remove(journal); return true;
        case Recover::later: return false;
    }
    return false;
}

bool FileFlow::offer_left_behind() {
    for (const auto& left : Safekeeping::find_left_behind(recent())) {
        if (!left.folder.empty()) {
            Result<std::optional<LeftEdits>> edits;
            const auto ran =
                run_with_progress(window_, tr("Reading the edits that were left"), [&](Progress&) {
                    if (const auto dossier = load_dossier(left.folder))
                        edits = read_journal(left.journal, *dossier);
                });
            if (ran && edits && *edits && open(to_q(left.folder.string()))) return true;
            continue;
        }
        std::optional<Dossier> recovered;
        if (!settle_left_edits(left.journal, Dossier{}, recovered) || !recovered) continue;
        safekeeping_.adopt_unsaved(left.journal);
        document_.open(std::move(*recovered), {});
        return true;
    }
    return false;
}

void FileFlow::open_with_dialog() {
    const auto path = ask_open_folder();
    if (!path.isEmpty()) (void)open(path);
}

bool FileFlow::open(const QString& path) {
    const auto folder = dossier_folder(to_path(path));
    // Read first: an unreadable dossier must not close the one that is open.
    auto read = read_folder(folder);
    if (!read) {
        tell(to_q(read.error().message()));
        return false;
    }
    auto* dossier = &read->dossier;
    if (!may_leave()) return false;
    const auto lock = safekeeping_.reserve(folder);
    std::optional<Dossier> recovered;
    if (lock == FolderLock::State::held && !settle_left_edits(folder / journal_file, *dossier, recovered)) {
        safekeeping_.release();
        return false;
    }
    leave();
    on_disk_ = std::move(read->text);
    QString read_only;
    if (lock == FolderLock::State::held) {
        safekeeping_.adopt(folder, *dossier);
    } else {
        safekeeping_.adopt_nothing();
        read_only = lock == FolderLock::State::busy ? tr("Read-only: it is open in another window.")
                                                    : tr("Read-only: its folder can't be written.");
    }
    document_.open(std::move(*dossier), folder, read_only);
    if (recovered) document_.apply(tr("recover edits"), std::move(*recovered));
    remember(QFileInfo(to_q(folder.string())).absoluteFilePath());
    return true;
}

bool FileFlow::open_example(const QString& path) {
    const auto folder = dossier_folder(to_path(path));
    if (FolderLock(folder / lock_file).state() != FolderLock::State::not_writable) return open(path);
    // As installed it can't be written: a copy is opened that asks for a place when it is saved.
    auto read = read_folder(folder);
    if (!read) {
        tell(to_q(read.error().message()));
        return false;
    }
    auto* dossier = &read->dossier;
    if (!may_leave()) return false;
    leave();
    *dossier = visit_files(*dossier, [&](const DossierFile& f) {
        f.outside = std::filesystem::absolute(folder / std::exchange(f.file, {})).string();
    });
    safekeeping_.adopt_unsaved();
    document_.open(std::move(*dossier), {});
    return true;
}

bool FileFlow::save() {
    if (document_.folder().empty() || !document_.read_only().isEmpty()) return save_as();
    return save_to(to_q(document_.folder().string()));
}

bool FileFlow::save_as() {
    auto folder = ask_save_folder();
    if (folder.isEmpty()) return false;
    if (!folder.endsWith(QStringLiteral(".relic"))) folder += QStringLiteral(".relic");
    return save_to(folder);
}

bool FileFlow::save_to(const QString& folder) {
    const auto target = to_path(folder);
    std::error_code ignored;
    const bool own =
        !document_.folder().empty() && (target.lexically_normal() == document_.folder().lexically_normal() ||
                                        std::filesystem::equivalent(target, document_.folder(), ignored));
    if (!own && std::filesystem::exists(target / dossier_file, ignored)) {
        tell(tr("%1: found another dossier, expected a new or empty folder").arg(folder));
        return false;
    }
    if (own && changed_on_disk() &&
        !ask_overwrite(tr("%1 was changed by another program since it was opened. Replace it with what this "
                          "window shows? Save as keeps both.")
                           .arg(to_q((target / dossier_file).string()))))
        return false;
    if (!own) {
        if (auto made = disk().make_folder(target); !made) {
            tell(to_q(made.error().message()));
            return false;
        }
        if (safekeeping_.reserve(target) == FolderLock::State::busy) {
            safekeeping_.release();
            tell(tr("%1: found a folder that another window works in, expected a new or empty folder")
                     .arg(folder));
            return false;
        }
    }
    auto as_it_is = document_.dossier();
    // One that nobody has named takes the name it is saved under.
    if (as_it_is.about->name == untitled)
        as_it_is = edit(as_it_is, &Dossier::about, [&](About& a) { a.name = target.stem().string(); });
    Result<Dossier> saved = as_it_is;
    std::string text;
    const auto ran = run_with_progress(window_, tr("Saving"), [&](Progress& progress) {
        saved = bring_files_in(as_it_is, target, document_.folder(), disk(), progress);
        if (!saved) return;
        // The journal must know the state that is saved: a crash right behind the save must not take it for
        // another dossier's. That of another folder stays as it is: its files are not those of this one.
        if (own) safekeeping_.record_now(*saved);
        if (auto written = write_dossier(*saved, target); !written) {
            // The new file may stand all the same, when only the folder could not be flushed.
            const auto there = own ? load_dossier(target) : fail(written.error());
            if (there && dossier_to_json(*there) == dossier_to_json(*saved))
                on_disk_ = dossier_to_json(*there);
            saved = fail(written.error());
            return;
        }
        text = dossier_to_json(*saved);
    });
    if (!ran) saved = fail(ran.error());
    if (!saved) {
        safekeeping_.release();
        if (saved.error().kind != Error::Kind::cancelled) tell(to_q(saved.error().message()));
        return false;
    }
    safekeeping_.forget();
    on_disk_ = std::move(text);
    safekeeping_.adopt(target, *saved);
    document_.saved(std::move(*saved), target);
    remember(QFileInfo(folder).absoluteFilePath());
    return true;
}

bool FileFlow::changed_on_disk() const {
    const auto now = read_folder(document_.folder());
    // Missing or unreadable: the save itself says so, or mends it.
    return now && now->text != on_disk_;
}

void FileFlow::add_captures_with_dialog() {
    for (const auto& path : ask_captures()) (void)add_capture(path);
}

/// The next recording of the same port is usually wired and read like the last one: if its lines are called
/// so.
void FileFlow::take_after_others(const Dossier& d, CaptureRef& ref) {
    if (d.captures->empty()) {
        if (!d.ports->empty()) ref.port = d.ports->front().id;
        return;
    }
    std::vector<std::string> names;
    const auto ran = run_with_progress(window_, tr("Looking at the recording"),
                                       [&](Progress&) { names = signal_names(ref.outside); });
    if (!ran || names.empty()) return;
    for (const auto& like : *d.captures) {
        bool all = !like.decode.kind.empty();
        for (const auto& [role, signals] : like.decode.roles)
            for (const auto& s : signals) all = all && has_signal(names, s);
        if (!all) continue;
        ref.port = like.port;
        ref.names = like.names;
        for (const auto& tie : like.ties)
            if (has_signal(names, tie.signal)) ref.ties.push_back(tie);
        ref.decode = like.decode;
        return;
    }
}

bool FileFlow::add_capture(const QString& path) {
    const QFileInfo info(path);
    if (!info.isFile() || !info.isReadable()) {
        tell(tr("%1: found no readable file, expected a capture").arg(path));
        return false;
    }
    if (!document_.is_open()) make_new();
    const auto& d = document_.dossier();
    CaptureRef ref;
    ref.id = free_id<CaptureRef>(d, info.completeBaseName().toStdString());
    ref.title = info.completeBaseName().toStdString();
    ref.outside = info.absoluteFilePath().toStdString();
    take_after_others(d, ref);
    const auto id = to_q(ref.id);
    document_.apply(tr("add capture %1").arg(info.fileName()), put(d, std::move(ref)));
    Q_EMIT capture_added(id);
    return true;
}

void FileFlow::write_report() {
    auto path = ask_report();
    if (path.isEmpty()) return;
    if (!path.endsWith(QStringLiteral(".html")) && !path.endsWith(QStringLiteral(".pdf")))
        path += QStringLiteral(".html");
    (void)write_report_to(path);
}

bool FileFlow::write_report_to(const QString& path) {
    if (!wait_for_analysis(window_, tr("Computing what the report says"), document_)) return false;
    Status written;
    const auto ran = run_with_progress(window_, tr("Writing the report"), [&](Progress& progress) {
        auto text = html_report(document_.analysis(), progress);
        if (text && path.endsWith(QStringLiteral(".pdf")))
            text = render::report_pdf(*text, document_.dossier().about->name, progress);
        written = text ? write_atomically(disk(), to_path(path), *text) : Status(fail(text.error()));
    });
    if (!ran) written = ran;
    if (!written) {
        if (written.error().kind != Error::Kind::cancelled) tell(to_q(written.error().message()));
        return false;
    }
    return true;
}

void FileFlow::drop(const QStringList& paths) {
    for (const auto& path : paths) {
        const QFileInfo info(path);
        // A folder that is no dossier may be somebody's fabrication files.
        const bool dossier =
            info.fileName() == QLatin1String(dossier_file) || info.suffix() == QStringLiteral("relic") ||
            QFileInfo(info.filePath() + QLatin1Char('/') + QLatin1String(dossier_file)).exists();
        if (dossier)
            (void)open(path);
        else
            Q_EMIT file_given(info.absoluteFilePath());
    }
}

QStringList FileFlow::recent() const {
    QStringList out;
    for (const auto& folder : QSettings().value(QStringLiteral("recent")).toStringList())
        if (QFileInfo::exists(folder)) out << folder;
    return out;
}

void FileFlow::remember(const QString& folder) {
    auto list = QSettings().value(QStringLiteral("recent")).toStringList();
    list.removeAll(folder);
    list.prepend(folder);
    while (list.size() > most_recent) list.removeLast();
    QSettings().setValue(QStringLiteral("recent"), list);
    Q_EMIT recent_changed();
}

}  // namespace grayrelic::app
