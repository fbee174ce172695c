// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/file_flow.hpp"

#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QMessageBox>
#include <QSettings>

#include "app/paint/marks.hpp"
#include "core/dossier/connector.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "core/report/html_report.hpp"

namespace grayrelic::app {
namespace {

constexpr int most_recent = 8;
std::filesystem::path to_path(const QString& s) {
    return std::filesystem::path(s.toStdString());
}

}  // namespace

FileFlow::FileFlow(Document& document, QWidget* window)
    : QObject(window), document_(document), window_(window) {
    ask_save = [this] {
        QMessageBox box(QMessageBox::NoIcon, tr("Gray Relic"),
                        tr("“%1” has changes that are not saved.").arg(to_q(document_.dossier().about->name)),
                        QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, window_);
        const int answer = box.exec();
        return answer == QMessageBox::Save      ? Answer::save
               : answer == QMessageBox::Discard ? Answer::discard
                                                : Answer::cancel;
    };
    ask_open_folder = [this] {
        return QFileDialog::getOpenFileName(window_, tr("Open a dossier: its dossier.json"), {},
                                            tr("Dossier (dossier.json)"));
    };
    ask_save_folder = [this] {
        const auto name = QString::fromStdString(document_.dossier().about->name)
                              .toLower()
                              .replace(QLatin1Char(' '), QLatin1Char('-'));
        return QFileDialog::getSaveFileName(
            window_, tr("Save the dossier as a folder"),
            QDir::homePath() + QLatin1Char('/') + name + QStringLiteral(".relic"),
            tr("Dossier folder (*.relic)"));
    };
    ask_captures = [this] {
        return QFileDialog::getOpenFileNames(window_, tr("Add captures"), {},
                                             tr("Captures (*.vcd);;All files (*)"));
    };
    ask_report = [this] {
        return QFileDialog::getSaveFileName(window_, tr("Write the report"),
                                            QDir::homePath() + QStringLiteral("/report.html"),
                                            tr("HTML (*.html)"));
    };
    tell = [this](const QString& message) {
        QMessageBox box(QMessageBox::NoIcon, tr("Gray Relic"), message, QMessageBox::Ok, window_);
        box.exec();
    };
}

bool FileFlow::may_leave() {
    if (!document_.is_modified()) return true;
    switch (ask_save()) {
        case Answer::save:
            return save();
        case Answer::discard:
            return true;
        case Answer::cancel:
            return false;
    }
    return false;
}

void FileFlow::make_new() {
    if (!may_leave()) return;
    About about;
    about.name = tr("Untitled dossier").toStdString();
    document_.open(with_about({}, about), {});
}

void FileFlow::open_with_dialog() {
    const auto path = ask_open_folder();
    if (!path.isEmpty()) (void)open(path);
}

bool FileFlow::open(const QString& path) {
    const auto folder = dossier_folder(to_path(path));
    // Read first: an unreadable dossier must not close the one that is open.
    auto dossier = load_dossier(folder);
    if (!dossier) {
        tell(to_q(dossier.error().message()));
        return false;
    }
    if (!may_leave()) return false;
    document_.open(std::move(*dossier), folder);
    remember(QFileInfo(to_q(folder.string())).absoluteFilePath());
    return true;
}

bool FileFlow::save() {
    if (document_.folder().empty()) return save_as();
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
        !document_.folder().empty() && std::filesystem::equivalent(target, document_.folder(), ignored);
    if (!own && std::filesystem::exists(target / dossier_file, ignored)) {
        tell(tr("%1: found another dossier, expected a new or empty folder").arg(folder));
        return false;
    }
    auto saved = save_dossier(document_.dossier(), target, document_.folder());
    if (!saved) {
        tell(to_q(saved.error().message()));
        return false;
    }
    document_.saved(std::move(*saved), target);
    remember(QFileInfo(folder).absoluteFilePath());
    return true;
}

void FileFlow::add_captures_with_dialog() {
    for (const auto& path : ask_captures())
        (void)add_capture(path);
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
    ref.id = free_capture_id(d, info.completeBaseName().toStdString());
    ref.title = info.completeBaseName().toStdString();
    ref.outside = info.absoluteFilePath().toStdString();
    // The next recording of the same port is usually wired and read like the last one.
    if (!d.captures->empty()) {
        const auto& like = d.captures->front();
        ref.port = like.port;
        ref.ties = like.ties;
        ref.decode = like.decode;
    } else if (!d.ports->empty()) {
        ref.port = d.ports->front().id;
    }
    const auto id = to_q(ref.id);
    document_.apply(tr("add capture %1").arg(info.fileName()), with_capture(d, std::move(ref)));
    Q_EMIT capture_added(id);
    return true;
}

void FileFlow::write_report() {
    auto path = ask_report();
    if (path.isEmpty()) return;
    if (!path.endsWith(QStringLiteral(".html"))) path += QStringLiteral(".html");
    (void)write_report_to(path);
}

bool FileFlow::write_report_to(const QString& path) {
    document_.wait_until_current();
    const auto html = html_report(document_.analysis(), data_folder());
    if (auto written = write_atomically(disk(), to_path(path), html); !written) {
        tell(to_q(written.error().message()));
        return false;
    }
    Q_EMIT report_written(path);
    return true;
}

void FileFlow::drop(const QStringList& paths) {
    for (const auto& path : paths) {
        const QFileInfo info(path);
        if (info.isDir() || info.fileName() == QLatin1String(dossier_file))
            (void)open(path);
        else
            (void)add_capture(path);
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
    while (list.size() > most_recent)
        list.removeLast();
    QSettings().setValue(QStringLiteral("recent"), list);
    Q_EMIT recent_changed();
}

}  // namespace grayrelic::app
