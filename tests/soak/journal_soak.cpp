// SPDX-License-Identifier: GPL-3.0-or-later
// Kills the real window at random moments while it is edited and saved, and looks at what is left each time.
// Not part of ./test; run it with tests/soak/run KILLS.
//
// The child opens a dossier, takes up edits that were left, and from then on edits every few milliseconds and
// saves now and then; it notes each edit, with the time, before it makes it (a) and when it has made it (b).
// The parent kills it and checks: dossier.json is whole; the journal is read without an error; every edit
// noted as made a second or more before the kill is there; none is there that was never begun.
#include <fcntl.h>
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <QApplication>
#include <QTimer>

#include <chrono>
#include <cstdio>
#include <fstream>
#include <map>
#include <thread>

#include "app/paint/theme.hpp"
#include "app/shell/main_window.hpp"
#include "core/base/random.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/journal.hpp"
#include "core/dossier/store.hpp"

namespace grayrelic {
namespace {

namespace fs = std::filesystem;

std::int64_t now_us() {
    return std::chrono::duration_cast<std::chrono::microseconds>(
               std::chrono::steady_clock::now().time_since_epoch())
        .count();
}

/// The number of the edit that a dossier shows.
long edit_of(const Dossier& d) {
    const auto& text = d.about->purpose;
    return text.starts_with("edit ") ? std::stol(text.substr(5)) : 0;
}

int child(const fs::path& folder, std::uint64_t seed) {
    int argc = 1;
    char name[] = "journal_soak";
    char* argv[] = {name, nullptr};
    QApplication application(argc, argv);
    QApplication::setOrganizationName(QStringLiteral("gray-relic-soak"));
    app::apply_theme(application, false);
    app::MainWindow window(QString::fromStdString(folder.string()));
    const int log = ::open((folder / "log").c_str(), O_WRONLY | O_CREAT | O_APPEND, 0644);
    window.files().ask_recover = [](const QString&) { return app::FileFlow::Recover::take_up; };
    window.files().tell = [&](const QString& message) {
        std::fprintf(stderr, "the program said: %s\n", qPrintable(message));
        ::_exit(7);
    };
    window.show();
    if (!window.files().open(QString::fromStdString((folder / "pad.relic").string()))) return 6;
    Random random(seed);
    long number = edit_of(window.document().dossier());
    QTimer timer;
    QObject::connect(&timer, &QTimer::timeout, &timer, [&] {
        const auto note = [&](char what) {
            char line[64];
            const int n = std::snprintf(line, sizeof line, "%c %ld %lld\n", what, number,
                                        static_cast<long long>(now_us()));
            (void)!::write(log, line, static_cast<std::size_t>(n));
        };
        ++number;
        note('a');
        About about = *window.document().dossier().about;
        about.purpose = "edit " + std::to_string(number) + std::string(random.next() % 2000, '.');
        window.document().apply(QStringLiteral("edit"), put(window.document().dossier(), about));
        note('b');
        if (random.next() % 40 == 0) (void)window.files().save();
        timer.start(static_cast<int>(random.next() % 30));
    });
    timer.start(0);
    return QApplication::exec();
}

struct Edit {
    std::int64_t begun = 0;
    std::int64_t made = 0;
};

std::map<long, Edit> read_log(const fs::path& path) {
    std::map<long, Edit> edits;
    std::ifstream in(path);
    char what = 0;
    long number = 0;
    std::int64_t at = 0;
    while (in >> what >> number >> at) (what == 'a' ? edits[number].begun : edits[number].made) = at;
    return edits;
}

int parent(const char* self, long kills, std::uint64_t seed) {
    const auto folder = fs::temp_directory_path() / ("gray-relic-soak-" + std::to_string(::getpid()));
    fs::create_directories(folder);
    fs::copy(fs::path(GRAY_RELIC_SOURCE) / "demos/calder-dial-pad.relic", folder / "pad.relic",
             fs::copy_options::recursive);
    Random random(seed);
    long faults = 0;
    long in_journal = 0;
    long cut = 0;
    long total = 0;
    double worst_loss_ms = 0;
    for (long kill = 0; kill < kills && faults == 0; ++kill) {
        fs::remove(folder / "log");
        const pid_t pid = ::fork();
        if (pid == 0) {
            const auto number = std::to_string(random.next() % 1'000'000);
            ::execl(self, self, "--child", folder.c_str(), number.c_str(), nullptr);
            ::_exit(9);
        }
        // From its first edit on, anything from 0 to 800 ms.
        for (int i = 0; i < 4000 && !fs::exists(folder / "log"); ++i)
            std::this_thread::sleep_for(std::chrono::milliseconds(5));
        std::this_thread::sleep_for(std::chrono::microseconds(random.next() % 800'000));
        const auto killed = now_us();
        ::kill(pid, SIGKILL);
        int status = 0;
        ::waitpid(pid, &status, 0);
        const auto wrong = [&](const std::string& what) {
            ++faults;
            std::printf("kill %ld: %s (kept in %s)\n", kill, what.c_str(), folder.c_str());
        };
        if (!WIFSIGNALED(status)) {
            wrong("the program ended by itself with " + std::to_string(WEXITSTATUS(status)));
            break;
        }
        const auto edits = read_log(folder / "log");
        total += static_cast<long>(edits.size());
        const auto dossier = load_dossier(folder / "pad.relic");
        if (!dossier) {
            wrong(dossier.error().message());
            break;
        }
        long there = edit_of(*dossier);
        const auto left = read_journal(folder / "pad.relic" / journal_file, *dossier);
        if (!left) {
            wrong(left.error().message());
            break;
        }
        if (*left) {
            ++in_journal;
            there = edit_of((*left)->dossier);
            cut += (*left)->trouble.empty() ? 0 : 1;
        }
        if (!edits.empty() && there > edits.rbegin()->first) wrong("an edit that was never begun");
        for (const auto& [number, edit] : edits) {
            if (number <= there || edit.made == 0) continue;
            const double lost = static_cast<double>(killed - edit.made) / 1e3;
            worst_loss_ms = std::max(worst_loss_ms, lost);
            if (lost > 1000.0) wrong("edit " + std::to_string(number) + " is lost");
            break;
        }
        if ((kill + 1) % 50 == 0) {
            std::printf("%ld kills, %ld edits, longest loss %.0f ms\n", kill + 1, total, worst_loss_ms);
            std::fflush(stdout);
        }
    }
    std::printf(
        "%ld kills, %ld edits; edits left in the journal %ld times, its last line cut %ld times; longest "
        "loss %.0f ms; "
        "faults %ld\n",
        kills, total, in_journal, cut, worst_loss_ms, faults);
    if (faults == 0) fs::remove_all(folder);
    return faults == 0 ? 0 : 1;
}

}  // namespace
}  // namespace grayrelic

int main(int argc, char** argv) {
    if (argc == 4 && std::string(argv[1]) == "--child")
        return grayrelic::child(argv[2], std::stoull(argv[3]));
    const long kills = argc > 1 ? std::stol(argv[1]) : 1000;
    return grayrelic::parent(argv[0], kills, argc > 2 ? std::stoull(argv[2]) : 1);
}
