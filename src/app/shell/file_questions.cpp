// SPDX-License-Identifier: GPL-3.0-or-later
// The questions that opening, saving and leaving ask; a test answers them instead.
#include <QDir>
#include <QFileDialog>
#include <QInputDialog>
#include <QMessageBox>
#include <QPushButton>

#include "app/paint/marks.hpp"
#include "app/shell/file_flow.hpp"
#include "core/capture/capture_file.hpp"

namespace grayrelic::app {

FileFlow::FileFlow(Document& document, QWidget* window)
    : QObject(window), document_(document), window_(window), safekeeping_(document) {
    ask_recover = [this](const QString& question) {
        QMessageBox box(QMessageBox::NoIcon, tr("Gray Relic"), question, QMessageBox::NoButton, window_);
        const QAbstractButton* take = box.addButton(tr("Recover the edits"), QMessageBox::AcceptRole);
        const QAbstractButton* drop = box.addButton(tr("Throw them away"), QMessageBox::DestructiveRole);
        box.addButton(tr("Decide later"), QMessageBox::RejectRole);
        box.exec();
        return box.clickedButton() == take   ? Recover::take_up
               : box.clickedButton() == drop ? Recover::throw_away
                                             : Recover::later;
    };
    ask_overwrite = [this](const QString& question) {
        QMessageBox box(QMessageBox::NoIcon, tr("Gray Relic"), question, QMessageBox::NoButton, window_);
        const QAbstractButton* replace = box.addButton(tr("Replace it"), QMessageBox::DestructiveRole);
        box.addButton(QMessageBox::Cancel);
        box.exec();
        return box.clickedButton() == replace;
    };
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
        QStringList patterns;
        for (const char* ending : capture_endings)
            patterns << QStringLiteral("*.%1").arg(QLatin1String(ending));
        return QFileDialog::getOpenFileNames(
            window_, tr("Add captures"), {},
            tr("Captures (%1);;All files (*)").arg(patterns.join(QLatin1Char(' '))));
    };
    ask_sheet_about = [this](const QStringList& titles) {
        bool fine = false;
        const auto chosen =
            QInputDialog::getItem(window_, tr("Question sheet"), tr("About"), titles, 0, false, &fine);
        return fine ? static_cast<int>(titles.indexOf(chosen)) : -1;
    };
    ask_sheet = [this] {
        return QFileDialog::getSaveFileName(window_, tr("Write the sheet"), QStringLiteral("question.pdf"),
                                            tr("Pages (*.pdf *.html)"));
    };
    ask_report = [this] {
        return QFileDialog::getSaveFileName(window_, tr("Write the report"),
                                            QDir::homePath() + QStringLiteral("/report.html"),
                                            tr("HTML (*.html);;PDF (*.pdf)"));
    };
    tell = [this](const QString& message) {
        QMessageBox box(QMessageBox::NoIcon, tr("Gray Relic"), message, QMessageBox::Ok, window_);
        box.exec();
    };
}

}  // namespace grayrelic::app
