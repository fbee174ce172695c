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

class QWidget;

namespace grayrelic::app {

class FileFlow : public QObject {
    Q_OBJECT
  public:
    FileFlow(Document& document, QWidget* window);

    void make_new();
    void open_with_dialog();
    bool open(const QString& path);  ///< a dossier's folder or its dossier.json; asks about unsaved changes
    bool save();
    bool save_as();
    bool save_to(const QString& folder);
    void add_captures_with_dialog();
    bool add_capture(const QString& path);
    void write_report();
    bool write_report_to(const QString& path);
    /// Files or folders dropped on the window.
    void drop(const QStringList& paths);
    /// True when nothing would be lost: saved, discarded on purpose, or nothing to save.
    [[nodiscard]] bool may_leave();
    [[nodiscard]] QStringList recent() const;

    enum class Answer { save, discard, cancel };
    std::function<Answer()> ask_save;
    std::function<QString()> ask_open_folder;
    std::function<QString()> ask_save_folder;
    std::function<QStringList()> ask_captures;
    std::function<QString()> ask_report;
    std::function<void(const QString& message)> tell;

  Q_SIGNALS:
    void capture_added(const QString& id);
    void recent_changed();
    void report_written(const QString& path);

  private:
    void remember(const QString& folder);
    Document& document_;
    QWidget* window_;
};

}  // namespace grayrelic::app
