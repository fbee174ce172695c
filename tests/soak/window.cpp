// SPDX-License-Identifier: GPL-3.0-or-later
// The real window, editing and saving by itself, and noting what it was told.
#include <fcntl.h>
#include <unistd.h>

#include <QApplication>
#include <QTimer>

#include <cstdio>
#include <cstdlib>
#include <optional>

#include "app/paint/theme.hpp"
#include "app/shell/main_window.hpp"
#include "app/stages/all_stages.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "tests/soak/soak.hpp"

namespace grayrelic::soak {
namespace {

namespace fs = std::filesystem;

QString to_q(const fs::path& path) {
    return QString::fromStdString(path.string());
}

class Session {
  public:
    explicit Session(const fs::path& folder)
        : folder_(folder),
          application_(argc_, argv_),
          log_(::open((folder / log_file).c_str(), O_WRONLY | O_CREAT | O_APPEND | O_CLOEXEC, 0644)) {
        QApplication::setOrganizationName(QStringLiteral("gray-relic-soak"));
        app::apply_theme(application_, false);
        window_.emplace(to_q(folder), app::all_stages());
        auto& files = window_->files();
        files.ask_recover = [](const QString&) { return app::FileFlow::Recover::take_up; };
        files.ask_save_folder = [] { return QString(); };
        files.ask_overwrite = [](const QString&) -> bool { ::_exit(asked_about_others); };
        QObject::connect(&files.safekeeping(), &app::Safekeeping::trouble,
                         [this](const QString& message) { trouble_ = message; });
        window_->show();
    }
    [[nodiscard]] bool ready() const { return log_ >= 0; }
    [[nodiscard]] app::MainWindow& window() { return *window_; }
    [[nodiscard]] app::FileFlow& files() { return window_->files(); }

    /// The dossier in its folder; else what was left of one that was never saved; else a new one.
    bool open() {
        const auto place = folder_ / dossier_folder;
        if (fs::exists(place / dossier_file) ? !files().open(to_q(place)) : !files().offer_left_behind()) {
            if (fs::exists(place / dossier_file)) return false;
            files().make_new();
        }
        number_ = std::max(0L, number_of(window_->document().dossier().about->purpose));
        note(opened);
        return true;
    }

    void note(char what) const {
        char line[64];
        const int n = std::snprintf(line, sizeof line, "%c %ld %lld\n", what, number_,
                                    static_cast<long long>(now_us()));
        (void)!::write(log_, line, static_cast<std::size_t>(n));
    }

    void edit() {
        ++number_;
        note(begun);
        About about = *window_->document().dossier().about;
        about.purpose = text_of(number_);
        window_->document().apply(QStringLiteral("edit"), put(window_->document().dossier(), about));
        note(made);
    }

    /// Whether the window says nothing against everything being in the journal.
    bool settle() {
        files().safekeeping().settle();
        QCoreApplication::sendPostedEvents();
        const bool good = trouble_.isEmpty() && window_->document().read_only().isEmpty();
        if (good) note(kept);
        return good;
    }

    bool save() {
        note(saving);
        const bool good = window_->document().folder().empty()
                              ? files().save_to(to_q(folder_ / dossier_folder))
                              : files().save();
        note(good ? saved : refused);
        return good;
    }

  private:
    int argc_ = 1;
    char name_[8] = "soak";
    char* argv_[2] = {name_, nullptr};
    fs::path folder_;
    QApplication application_;
    int log_;
    std::optional<app::MainWindow> window_;
    QString trouble_;
    long number_ = 0;
};

}  // namespace

int edit_until_killed(const fs::path& folder, std::uint64_t seed) {
    Session session(folder);
    if (!session.ready()) return no_log;
    session.files().tell = [](const QString& message) {
        std::fprintf(stderr, "the program said: %s\n", qPrintable(message));
        ::_exit(said_something);
    };
    if (!session.open()) return not_opened;
    Random random(seed);
    QTimer timer;
    QObject::connect(&timer, &QTimer::timeout, &timer, [&] {
        session.edit();
        if (random.next() % 40 == 0) (void)session.save();
        timer.start(static_cast<int>(random.next() % 30));
    });
    timer.start(0);
    return QApplication::exec();
}

int edit_for_a_while(const fs::path& folder) {
    Session session(folder);
    if (!session.ready()) return no_log;
    session.files().tell = [](const QString&) {};
    if (!session.open()) ::_exit(not_opened);
    // No room for the lock: the window says that nothing can be changed, and nothing is acknowledged.
    if (!session.window().document().read_only().isEmpty()) ::_exit(done);
    const auto edits = [&](int n) {
        for (int i = 0; i < n; ++i) {
            session.edit();
            (void)session.settle();
        }
    };
    const auto save = [&] { return session.save() || session.save(); };  // a person tries once more
    edits(3);
    (void)save();
    edits(2);
    (void)session.files().add_capture(to_q(folder / "outside.vcd"));
    edits(1);
    (void)save();
    edits(1);
    const bool good = save();
    edits(2);
    ::_exit(good ? done : said_something);  // as it stands: no question on the way out
}

}  // namespace grayrelic::soak
