// SPDX-License-Identifier: GPL-3.0-or-later
// The open dossier: its current value, its history, and what follows from it. Views read it and ask it to
// apply a next value; they never keep a copy. Everything recomputes in the background after each change; a
// result that a newer change has overtaken is dropped.
#pragma once

#include <QFutureWatcher>
#include <QObject>
#include <QString>
#include <QThreadPool>
#include <QUndoStack>

#include <filesystem>
#include <memory>

#include "core/analysis/analysis.hpp"

namespace grayrelic::app {

class Document : public QObject {
    Q_OBJECT
  public:
    explicit Document(QObject* parent = nullptr);
    ~Document() override;

    [[nodiscard]] const Dossier& dossier() const { return dossier_; }
    /// What follows from the dossier; of an earlier version while a newer one is computed. Never null.
    [[nodiscard]] const Analysis& analysis() const { return *analysis_; }
    /// Connectors, families, parts and cautions, read at the start and when a part is added.
    [[nodiscard]] const DataLibrary& data() const { return *data_; }
    /// For work that may outlive the window.
    [[nodiscard]] std::shared_ptr<const DataLibrary> shared_data() const { return data_; }
    /// The drawer and the bench, as they were last read or written here.
    [[nodiscard]] const Person& person() const { return *person_; }
    /// Changes what stands in the person's file now, whoever wrote it last; a message when that fails.
    [[nodiscard]] QString change_drawer(const std::function<void(Drawer&)>& change);
    [[nodiscard]] QString change_bench(const std::function<void(Bench&)>& change);
    /// Parts, packages and all else that is data, the person's own among them, anew.
    void read_data_again();
    void read_person_again();  ///< where another program has written since
    [[nodiscard]] bool is_current() const { return !running_ && !again_; }
    [[nodiscard]] const std::filesystem::path& folder() const {
        return folder_;
    }  ///< empty while never saved
    /// Another one for each dossier that is opened.
    [[nodiscard]] std::shared_ptr<const void> identity() const { return identity_; }
    [[nodiscard]] bool is_open() const { return open_; }
    [[nodiscard]] bool is_modified() const { return open_ && (!undo_.isClean() || unsaved_); }
    [[nodiscard]] QUndoStack& undo_stack() { return undo_; }

    /// Why nothing can be changed; empty when all can.
    [[nodiscard]] const QString& read_only() const { return read_only_; }
    /// One undo step; refused while read-only. Steps in a row with the same key (not empty) become one.
    void apply(const QString& what, Dossier next, const QString& merge_key = {});
    /// Opens another dossier and forgets the history. An empty folder means it was never saved.
    void open(Dossier dossier, std::filesystem::path folder, const QString& read_only = {});
    /// After a save: the value as saved, and where.
    void saved(Dossier as_saved, std::filesystem::path folder);
    void cancel_analysis();
    void resume_analysis();  ///< takes up what the person cancelled
    /// For tests and for pictures: returns when nothing is left to compute.
    void wait_until_current();

  Q_SIGNALS:
    void refused();  ///< an edit of a dossier that can't be changed: fields show again what is
    void unstorable(
        const QString& why);  ///< an edit that could not be saved and opened again; it does not count
    void not_computed(const QString& why);  ///< the analysis ended early; what it had stays
    void changed();                         ///< the dossier has another value
    void person_changed();
    void analysed();  ///< analysis() has another value, which may be one on the way: see Analysis::under_way
    void progressed(double fraction);
    void busy_changed(bool busy);

  private:
    friend class DossierCommand;
    void set(const Dossier& dossier);
    void start_analysis();
    void finish_analysis();
    void take_person(std::shared_ptr<const Person> now);
    void retire(std::shared_ptr<const Analysis> old);

    Dossier dossier_;
    std::shared_ptr<const Analysis> analysis_;
    std::filesystem::path folder_;
    std::shared_ptr<const int> identity_ = std::make_shared<const int>(0);
    QString read_only_;
    bool open_ = false;
    bool unsaved_ = false;
    QUndoStack undo_;
    CaptureStore store_;
    std::shared_ptr<const DataLibrary> data_ = DataLibrary::load_installed();
    std::vector<std::shared_ptr<const DataLibrary>> old_data_;

    std::shared_ptr<const Person> person_;
    using WrittenAt = std::pair<std::filesystem::file_time_type, std::filesystem::file_time_type>;
    [[nodiscard]] static WrittenAt person_written_at();
    WrittenAt person_read_;

    using Outcome = Result<std::shared_ptr<const Analysis>>;
    QThreadPool pool_;
    QFutureWatcher<Outcome> watcher_;
    std::shared_ptr<Progress> progress_;
    bool running_ = false;
    bool again_ = false;
    double shown_fraction_ = 0;
    std::vector<QFuture<void>> retired_;
    bool stopped_ = false;  // the person cancelled; the next change starts anew
};

}  // namespace grayrelic::app
