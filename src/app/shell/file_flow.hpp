// SPDX-License-Identifier: GPL-3.0-or-later
// New, open, save, save as, recent, dropping files, adding captures, writing the report. Questions to the
// person go through members that a test can replace.
#pragma once

#include <QObject>
#include <QStringList>

#include <filesystem>
#include <functional>
#include <optional>

#include "app/shell/document.hpp"
#include "app/shell/safekeeping.hpp"

class QWidget;

namespace grayrelic::app {

class FileFlow : public QObject {
    Q_OBJECT
  public:
    FileFlow(Document& document, QWidget* window);
    [[nodiscard]] Safekeeping& safekeeping() { return safekeeping_; }
    /// At the start: edits that a program which ended without saving has left. True when one was taken up.
    bool offer_left_behind();
    /// Before the window goes, when may_leave() allowed it.
    void leave();

    void make_new();
    void open_with_dialog();
    bool open(const QString& path);  ///< a dossier's folder or its dossier.json; asks about unsaved changes
    /// The shipped one: as a copy where it can't be written.
    bool open_example(const QString& path);
    bool save();
    bool save_as();
    bool save_to(const QString& folder);
    void add_captures_with_dialog();
    bool add_capture(const QString& path);
    void write_report();
    bool write_report_to(const QString& path);
    /// A question, a finding, a budget or a net that the person picks, as a page.
    void write_sheet();
    /// The same for one by its id (core/report/question_sheet.hpp); what to tell, empty when they changed
    /// their mind.
    [[nodiscard]] QString write_sheet_about(const QString& about);
    /// Files or folders dropped on the window.
    void drop(const QStringList& paths);
    /// True when nothing would be lost: saved, discarded on purpose, or nothing to save.
    [[nodiscard]] bool may_leave();
    [[nodiscard]] QStringList recent() const;

    enum class Answer { save, discard, cancel };
    enum class Recover { take_up, throw_away, later };
    std::function<Recover(const QString& question)> ask_recover;
    std::function<bool(const QString& question)> ask_overwrite;
    std::function<Answer()> ask_save;
    std::function<QString()> ask_open_folder;
    std::function<QString()> ask_save_folder;
    std::function<QStringList()> ask_captures;
    std::function<QString()> ask_report;
    std::function<int(const QStringList& titles)> ask_sheet_about;  ///< −1: none
    std::function<QString()> ask_sheet;
    std::function<void(const QString& message)> tell;

  Q_SIGNALS:
    void capture_added(const QString& id);
    void file_given(const QString& path);  ///< one that is no dossier: a stage takes it
    void recent_changed();

  private:
    void take_after_others(const Dossier& d, CaptureRef& ref);
    void remember(const QString& folder);
    /// What to do with edits left beside a dossier; `recovered` is set when they are taken up. False: don't
    /// open.
    bool settle_left_edits(const std::filesystem::path& journal, const Dossier& on_disk,
                           std::optional<Dossier>& recovered);
    [[nodiscard]] bool changed_on_disk() const;
    struct OnDisk {
        Dossier dossier;
        std::string text;  ///< of dossier.json, as we would write it
    };
    [[nodiscard]] Result<OnDisk> read_folder(const std::filesystem::path& folder) const;
    Document& document_;
    QWidget* window_;
    Safekeeping safekeeping_;
    std::string on_disk_;  ///< dossier.json as it was when opened or last saved
};

}  // namespace grayrelic::app
