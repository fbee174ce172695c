// SPDX-License-Identifier: GPL-3.0-or-later
// Keeps the open dossier's edits safe: holds the lock that makes this window the one that writes, and records
// every edit in the journal within a quarter of a second, on a thread of its own.
#pragma once

#include <QObject>
#include <QThreadPool>
#include <QTimer>

#include <functional>
#include <memory>
#include <vector>

#include "app/shell/document.hpp"
#include "core/base/folder_lock.hpp"
#include "core/dossier/journal.hpp"

namespace grayrelic::app {

class Safekeeping : public QObject {
    Q_OBJECT
  public:
    explicit Safekeeping(Document& document);
    ~Safekeeping() override;

    /// Asks for a folder that is to be opened or saved to. What is held now stays held until adopt() or
    /// release().
    [[nodiscard]] FolderLock::State reserve(const std::filesystem::path& folder);
    void release() { reserved_.reset(); }
    /// The document now has this state on disk, in the reserved folder. Call it before Document::open().
    void adopt(const std::filesystem::path& folder, const Dossier& on_disk);
    /// A new dossier without a folder; `journal` is one that was left behind and is carried on.
    void adopt_unsaved(std::filesystem::path journal = {});
    /// Opened without the right to write: nothing is recorded.
    void adopt_nothing();
    /// The edits are saved, or thrown away on purpose.
    void forget();
    /// Records this state, from any thread, and returns when it is done.
    void record_now(const Dossier& state);
    /// Returns when every edit so far is recorded.
    void settle();

    struct LeftBehind {
        std::filesystem::path journal;
        std::filesystem::path folder;  ///< empty for a dossier that was never saved
    };
    /// Journals whose program is gone: of dossiers never saved, and beside these folders.
    [[nodiscard]] static std::vector<LeftBehind> find_left_behind(const QStringList& folders);

  Q_SIGNALS:
    void trouble(const QString& message);  ///< recording fails; empty when it works again

  private:
    void record();
    void post(std::function<void()> task);
    Document& document_;
    QTimer soon_;
    QThreadPool thread_;
    std::unique_ptr<FolderLock> lock_;
    std::unique_ptr<FolderLock> reserved_;
    std::shared_ptr<JournalWriter> writer_;
    QString last_trouble_;
};

}  // namespace grayrelic::app
