// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/document.hpp"

#include "app/shell/latest.hpp"
#include "render/picture.hpp"

#include <QEventLoop>
#include <QStandardPaths>
#include <QTimer>
#include <QUndoCommand>
#include <QtConcurrentRun>

#include "app/paint/marks.hpp"
#include "core/checks/analyse.hpp"
#include "core/dossier/storable.hpp"
#include "core/port/connector_library.hpp"

namespace grayrelic::app {

/// Undo is the previous value: two dossiers that share what they have in common.
class DossierCommand : public QUndoCommand {
  public:
    DossierCommand(Document& document, const QString& what, Dossier before, Dossier after, QString key)
        : QUndoCommand(what),
          document_(document),
          before_(std::move(before)),
          after_(std::move(after)),
          key_(std::move(key)) {}
    void undo() override { document_.set(before_); }
    void redo() override { document_.set(after_); }
    int id() const override { return key_.isEmpty() ? -1 : 1; }
    bool mergeWith(const QUndoCommand* other) override {
        const auto* next = static_cast<const DossierCommand*>(other);
        if (next->key_ != key_) return false;
        after_ = next->after_;
        return true;
    }

  private:
    Document& document_;
    Dossier before_;
    Dossier after_;
    QString key_;
};

Document::Document(QObject* parent) : QObject(parent), analysis_(std::make_shared<const Analysis>()) {
    store_.read_picture = render::read_picture;
    store_.cache_folder =
        (QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + QStringLiteral("/captures"))
            .toStdString();
    person_read_ = person_written_at();
    person_ = read_person(disk(), user_data_folder());
    connect(&watcher_, &QFutureWatcher<Outcome>::finished, this, &Document::finish_analysis);
    auto* timer = new QTimer(this);
    timer->setInterval(100);
    connect(timer, &QTimer::timeout, this, [this] {
        if (!running_ || !progress_) return;
        // A run that an edit began anew goes on from where the one before it was: a bar never goes back.
        shown_fraction_ = std::max(shown_fraction_, progress_->fraction());
        Q_EMIT progressed(shown_fraction_);
    });
    timer->start();
}

Document::~Document() {
    if (progress_) progress_->cancel();
    watcher_.disconnect(this);
    watcher_.waitForFinished();
    analysis_.reset();  // it may still be computing with what this owns
    for (auto& r : retired_) r.waitForFinished();
}

void Document::apply(const QString& what, Dossier next, const QString& merge_key) {
    if (next == dossier_) return;
    if (!read_only_.isEmpty()) {
        Q_EMIT refused();
        return;
    }
    // What could not be saved and opened again does not count: a day's work must not end in a file that no
    // one can open.
    if (const auto kept = storable(next, &dossier_); !kept) {
        Q_EMIT unstorable(tr("This can't be kept: %1").arg(to_q(kept.error().message())));
        return;
    }
    undo_.push(new DossierCommand(*this, what, dossier_, std::move(next), merge_key));
}

void Document::set(const Dossier& dossier) {
    dossier_ = dossier;
    Q_EMIT changed();
    start_analysis();
}

void Document::open(Dossier dossier, std::filesystem::path folder, const QString& read_only) {
    undo_.clear();
    read_only_ = read_only;
    folder_ = std::move(folder);
    identity_ = std::make_shared<const int>(0);
    open_ = true;
    unsaved_ = folder_.empty();
    retire(std::move(analysis_));
    analysis_ = std::make_shared<const Analysis>();
    shown_fraction_ = 0;
    store_.forget();  // a program that opens many dossiers holds the captures of one
    set(dossier);
}

void Document::saved(Dossier as_saved, std::filesystem::path folder) {
    const bool same = as_saved == dossier_ && folder == folder_;
    read_only_.clear();
    folder_ = std::move(folder);
    unsaved_ = false;
    undo_.setClean();
    if (same)
        Q_EMIT changed();
    else
        set(as_saved);
}

void Document::start_analysis() {
    stopped_ = false;
    if (running_) {
        again_ = true;
        progress_->cancel();
        return;
    }
    running_ = true;
    again_ = false;
    progress_ = std::make_shared<Progress>();
    Q_EMIT busy_changed(true);
    const auto show = [this, run = progress_](std::shared_ptr<const Analysis> part) {
        QMetaObject::invokeMethod(
            this,
            [this, run, part = std::move(part)] {
                if (run != progress_ || again_ || stopped_) return;  // of a run that is over
                analysis_ = part;
                Q_EMIT analysed();
            },
            Qt::QueuedConnection);
    };
    // A pool of its own: figures that the views ask for must not keep it waiting.
    watcher_.setFuture(
        QtConcurrent::run(&pool_, [dossier = dossier_, folder = folder_, before = analysis_,
                                   progress = progress_, show, person = person_, data = data_, this] {
            return analyse(dossier, folder, store_, *progress, before.get(), data, show, person);
        }));
}

void Document::take_person(std::shared_ptr<const Person> now) {
    person_ = std::move(now);
    person_read_ = person_written_at();
    start_analysis();
    Q_EMIT person_changed();
}

void Document::read_data_again() {
    // Views hold on to what they show: the old data stays until the window closes.
    old_data_.push_back(data_);
    data_ = DataLibrary::load_installed();
    start_analysis();
}

Document::WrittenAt Document::person_written_at() {
    const auto folder = user_data_folder();
    std::error_code none;
    return {std::filesystem::last_write_time(drawer_file(folder), none),
            std::filesystem::last_write_time(bench_file(folder), none)};
}

void Document::read_person_again() {
    const auto written = person_written_at();
    if (written == person_read_) return;
    person_read_ = written;
    auto now = read_person(disk(), user_data_folder());
    const bool same = now->drawer == person_->drawer && now->bench == person_->bench &&
                      now->problems.empty() && person_->problems.empty();
    if (!same) take_person(std::move(now));
}

QString Document::change_drawer(const std::function<void(Drawer&)>& change) {
    const auto made = grayrelic::change_drawer(disk(), drawer_file(user_data_folder()), change);
    if (!made) return to_q(made.error().message());
    auto now = std::make_shared<Person>(*person_);
    now->drawer = *made;
    take_person(std::move(now));
    return {};
}

QString Document::change_bench(const std::function<void(Bench&)>& change) {
    const auto made = grayrelic::change_bench(disk(), bench_file(user_data_folder()), change);
    if (!made) return to_q(made.error().message());
    auto now = std::make_shared<Person>(*person_);
    now->bench = *made;
    take_person(std::move(now));
    return {};
}

void Document::finish_analysis() {
    running_ = false;
    const auto outcome = watcher_.result();
    if (again_) {
        start_analysis();
        return;
    }
    if (outcome && !stopped_) analysis_ = *outcome;
    if (!outcome && outcome.error().kind != Error::Kind::cancelled)
        Q_EMIT not_computed(tr("Not everything could be computed: %1").arg(to_q(outcome.error().message())));
    shown_fraction_ = 0;
    Q_EMIT busy_changed(false);
    Q_EMIT analysed();
}

void Document::cancel_analysis() {
    if (!running_) return;
    stopped_ = true;
    again_ = false;
    progress_->cancel();
    analysis_->memory->cancel();
}

void Document::resume_analysis() {
    if (stopped_ && !running_) start_analysis();
}

/// What a closed dossier's analysis still computes is stopped, and waited for beside the window.
void Document::retire(std::shared_ptr<const Analysis> old) {
    if (!old) return;
    std::erase_if(retired_, [](const QFuture<void>& f) { return f.isFinished(); });
    retired_.push_back(QtConcurrent::run([old = std::move(old)] { old->memory->cancel(); }));
}

void Document::wait_until_current() {
    QEventLoop loop;
    // A figure's answer may ask for another one.
    do {
        loop.processEvents(QEventLoop::AllEvents);
        if (!is_current() || figures_under_way > 0) loop.processEvents(QEventLoop::WaitForMoreEvents, 50);
    } while (!is_current() || figures_under_way > 0);
    loop.processEvents();
}

}  // namespace grayrelic::app
