// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/safekeeping.hpp"

#include <QStringList>

#include <unistd.h>

#include <algorithm>
#include <new>

#include "app/paint/marks.hpp"
#include "core/base/machine.hpp"

namespace grayrelic::app {
namespace {

constexpr int soon_ms = 250;
constexpr int again_ms = 2000;  // after a failure

std::filesystem::path lock_of(std::filesystem::path journal) {
    return journal.replace_extension(".lock");
}

}  // namespace

Safekeeping::Safekeeping(Document& document) : document_(document) {
    thread_.setMaxThreadCount(1);
    soon_.setSingleShot(true);
    connect(&soon_, &QTimer::timeout, this, &Safekeeping::record);
    connect(&document_, &Document::changed, this, [this] {
        // Not restarted by further edits: the first one waits no longer than this.
        // Whether there is anything to record is the writer's to say: the undo stack counts an edit only
        // later.
        if (writer_ && !soon_.isActive()) soon_.start(soon_ms);
    });
}

Safekeeping::~Safekeeping() {
    thread_.waitForDone();
}

FolderLock::State Safekeeping::reserve(const std::filesystem::path& folder) {
    std::error_code ignored;
    reserved_.reset();
    if (lock_ && lock_->state() == FolderLock::State::held && !document_.folder().empty() &&
        std::filesystem::equivalent(folder, document_.folder(), ignored))
        return FolderLock::State::held;
    reserved_ = std::make_unique<FolderLock>(folder / lock_file);
    return reserved_->state();
}

void Safekeeping::adopt(const std::filesystem::path& folder, const Dossier& on_disk) {
    soon_.stop();
    if (reserved_) lock_ = std::move(reserved_);
    writer_ = std::make_shared<JournalWriter>(folder / journal_file, on_disk);
}

void Safekeeping::adopt_unsaved(std::filesystem::path journal) {
    soon_.stop();
    reserved_.reset();
    std::error_code ignored;
    std::filesystem::create_directories(unsaved_folder(), ignored);
    if (journal.empty()) {
        static int number = 0;
        const auto name =
            "dossier-" + std::to_string(::getpid()) + "-" + std::to_string(++number) + ".journal";
        journal = unsaved_folder() / name;
    }
    lock_ = std::make_unique<FolderLock>(lock_of(journal));
    writer_ = std::make_shared<JournalWriter>(journal, Dossier{});
}

void Safekeeping::adopt_nothing() {
    soon_.stop();
    reserved_.reset();
    lock_.reset();
    writer_.reset();
}

void Safekeeping::forget() {
    soon_.stop();
    if (writer_) post([writer = writer_] { writer->remove(); });
    thread_.waitForDone();
}

void Safekeeping::record_now(const Dossier& state) {
    if (!writer_) return;
    // A failure here is the save's to report, if it fails as well.
    post([writer = writer_, state] { (void)writer->record(state); });
    thread_.waitForDone();
}

void Safekeeping::settle() {
    if (soon_.isActive()) {
        soon_.stop();
        record();
    }
    thread_.waitForDone();
}

void Safekeeping::record() {
    if (!writer_) return;
    post([this, writer = writer_, dossier = document_.dossier()] {
        Status done;
        try {
            done = writer->record(dossier);
        } catch (const std::bad_alloc&) {
            done = fail_memory("the journal of edits");
        }
        const auto message = done ? QString() : to_q(done.error().message());
        QMetaObject::invokeMethod(this, [this, message] {
            // A full disk may have room again without a further edit.
            if (!message.isEmpty() && writer_) soon_.start(again_ms);
            if (message == last_trouble_) return;
            last_trouble_ = message;
            Q_EMIT trouble(message);
        });
    });
}

void Safekeeping::post(std::function<void()> task) {
    thread_.start(std::move(task));
}

std::vector<Safekeeping::LeftBehind> Safekeeping::find_left_behind(const QStringList& folders) {
    std::vector<LeftBehind> out;
    const auto ask = [&](const std::filesystem::path& journal, const std::filesystem::path& lock,
                         const std::filesystem::path& folder) {
        if (FolderLock(lock).state() == FolderLock::State::held) out.push_back({journal, folder});
    };
    std::error_code ignored;
    for (const auto& entry : std::filesystem::directory_iterator(unsaved_folder(), ignored))
        if (entry.path().extension() == ".journal") ask(entry.path(), lock_of(entry.path()), {});
    std::sort(out.begin(), out.end(), [](const auto& a, const auto& b) { return a.journal < b.journal; });
    for (const auto& f : folders) {
        const std::filesystem::path folder(f.toStdString());
        const auto journal = folder / journal_file;
        if (std::filesystem::exists(journal, ignored)) ask(journal, folder / lock_file, folder);
    }
    return out;
}

}  // namespace grayrelic::app
