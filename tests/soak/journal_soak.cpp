// SPDX-License-Identifier: GPL-3.0-or-later
// Kills the real window at random moments, from its very start to six seconds after its first edit, while it
// saves and while it takes up what the kill before had left; and lets its disk fail, call by call. Then looks
// at what is left.
//
//   journal_soak KILLS SEED       kills; fails when something was lost
//   journal_soak --faults EACH    every EACHth call of the disk fails in turn, in each way
//   journal_soak --sabotage       kills with a journal that does not do its work: fails unless each loss is
//   reported
//
// What must hold after a kill: dossier.json is whole; the journal can be read; no edit is cut; every edit
// that the window had a second before is there, each that was there before the program's start is, and what
// was acknowledged as saved stands in dossier.json. tests/soak/run does it at length.
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <fstream>
#include <map>
#include <thread>

#include "core/dossier/journal.hpp"
#include "core/dossier/store.hpp"
#include "tests/soak/soak.hpp"

namespace grayrelic::soak {
namespace {

namespace fs = std::filesystem;

struct Logged {
    std::map<long, std::int64_t> made_at;  ///< by the number of the edit
    long begun = 0;
    long kept = 0;
    long saved = 0;
    int saves = 0;  ///< begun
    bool opened = false;
};

Logged read_log(const fs::path& path) {
    Logged out;
    std::ifstream in(path);
    char what = 0;
    long number = 0;
    std::int64_t at = 0;
    while (in >> what >> number >> at) {
        if (what == Mark::made) out.made_at[number] = at;
        if (what == Mark::begun) out.begun = number;
        if (what == Mark::kept) out.kept = number;
        if (what == Mark::saved) out.saved = number;
        out.saves += what == Mark::saving ? 1 : 0;
        out.opened = out.opened || what == Mark::opened;
    }
    return out;
}

/// What a person would find after the program's end.
struct Left {
    long saved = 0;  ///< the edit that dossier.json shows
    long there = 0;  ///< with the journals
    bool in_journal = false;
    bool cut = false;     ///< the last line of a journal was
    std::string trouble;  ///< what must never be
};

Left look(const fs::path& folder) {
    Left out;
    const auto take = [&](const fs::path& journal, const Dossier& base) {
        const auto left = read_journal(journal, base);
        if (!left) {
            out.trouble = left.error().message();
            return;
        }
        if (!*left) return;
        const auto number = number_of((*left)->dossier.about->purpose);
        if (number < 0) out.trouble = "part of an edit in " + journal.string();
        out.there = std::max(out.there, number);
        out.in_journal = true;
        out.cut = out.cut || !(*left)->trouble.empty();
    };
    const auto place = folder / dossier_folder;
    if (fs::exists(place / dossier_file)) {
        const auto dossier = load_dossier(place);
        if (!dossier) {
            out.trouble = dossier.error().message();
            return out;
        }
        out.saved = out.there = number_of(dossier->about->purpose);
        if (out.saved < 0) out.trouble = "part of an edit in dossier.json";
        for (const auto& c : *dossier->captures)
            if (!c.file.empty() && !fs::exists(place / c.file))
                out.trouble = "a capture that is not there: " + c.file;
        take(place / journal_file, *dossier);
    }
    std::error_code ignored;
    for (const auto& entry : fs::directory_iterator(folder / "state/gray-relic/unsaved", ignored))
        if (entry.path().extension() == ".journal") take(entry.path(), Dossier{});
    return out;
}

/// This program again, as the window; with the disk at fault, when told.
pid_t start(const fs::path& folder, const char* how, std::uint64_t seed, const std::string& fault) {
    const pid_t pid = ::fork();
    if (pid != 0) return pid;
    for (const char* place : {"XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_RUNTIME_DIR"})
        ::setenv(place, (folder / "state").c_str(), 1);
    ::setenv("QT_QPA_PLATFORM", "offscreen", 0);
    ::setenv("QT_LOGGING_RULES", "*=false", 1);
    if (!fault.empty()) {
        ::setenv("LD_PRELOAD", GRAY_RELIC_FAULTY_FILES, 1);
        ::setenv("ASAN_OPTIONS", "detect_leaks=0:verify_asan_link_order=0", 1);  // where they are built in
        ::setenv("GRAY_RELIC_FAULT", fault.c_str(), 1);
        ::setenv("GRAY_RELIC_FAULT_IN", folder.c_str(), 1);
    }
    ::execl("/proc/self/exe", "journal_soak", how, folder.c_str(), std::to_string(seed).c_str(), nullptr);
    ::_exit(9);
}

void nap(std::int64_t us) {
    std::this_thread::sleep_for(std::chrono::microseconds(us));
}

/// Waits until the log shows it; false after a minute.
template <class Is>
bool wait_for(const fs::path& log, Is is) {
    for (int i = 0; i < 60'000; ++i) {
        if (is(read_log(log))) return true;
        nap(1'000);
    }
    return false;
}

enum class Moment { edits, save, start, first };
constexpr const char* moment_names[] = {"while editing", "while saving", "while starting",
                                        "while starting anew"};

class Soak {
  public:
    Soak(std::uint64_t seed, std::string fault) : random_(seed), fault_(std::move(fault)) {
        folder_ = fs::temp_directory_path() /
                  ("gray-relic-soak-" + std::to_string(::getpid()) + "-" + std::to_string(seed));
        anew();
    }
    ~Soak() {
        // What was lost is kept to be looked at; what was sabotaged was to be lost.
        if (faults_.empty() || !fault_.empty()) fs::remove_all(folder_);
    }
    Soak(const Soak&) = delete;
    Soak& operator=(const Soak&) = delete;

    [[nodiscard]] const std::vector<std::string>& faults() const { return faults_; }

    void kill_once() {
        const auto moment = choose();
        if (moment == Moment::first) anew();
        fs::remove(folder_ / log_file);
        const auto log = folder_ / log_file;
        const auto pid = start(folder_, "--window", random_.next() % 1'000'000, fault_);
        bool came = true;  // what the kill waits for: a window that does nothing loses nothing
        switch (moment) {
            case Moment::edits:
                came = wait_for(log, [](const Logged& l) { return l.begun > 0; });
                nap(static_cast<std::int64_t>(random_.next() % 6'000'000));
                break;
            case Moment::save: {
                const auto nth = 1 + static_cast<int>(random_.next() % 3);
                came = wait_for(log, [&](const Logged& l) { return l.saves >= nth; });
                nap(static_cast<std::int64_t>(random_.next() % 25'000));
                break;
            }
            case Moment::start:
                // Anywhere from its first instruction on, or just when it has taken up what was left.
                if (fault_.empty() && random_.next() % 2 == 0) {
                    nap(static_cast<std::int64_t>(random_.next() % 2'000'000));
                } else {
                    came = wait_for(log, [](const Logged& l) { return l.opened; });
                    nap(static_cast<std::int64_t>(random_.next() % (fault_.empty() ? 300'000 : 150'000)));
                }
                break;
            case Moment::first: nap(static_cast<std::int64_t>(random_.next() % 3'000'000)); break;
        }
        const auto killed = now_us();
        ::kill(pid, SIGKILL);
        int status = 0;
        ::waitpid(pid, &status, 0);
        ++kills_;
        ++at_[static_cast<int>(moment)];
        if (!WIFSIGNALED(status))
            wrong("the program ended by itself with " + std::to_string(WEXITSTATUS(status)), moment);
        if (!came) wrong("nothing that could be killed within a minute", moment);
        judge(killed, moment);
    }

    void report() const {
        std::printf("%ld kills", kills_);
        for (int i = 0; i < 4; ++i) std::printf(", %ld %s", at_[i], moment_names[i]);
        std::printf(
            "; %ld edits, %ld saves; edits left in a journal %ld times, its last line cut %ld times; longest "
            "loss %.0f ms; "
            "faults %zu\n",
            edits_, saves_, in_journal_, cut_, worst_loss_ms_, faults_.size());
        std::fflush(stdout);
    }

  private:
    /// By chance; where the journal is sabotaged, in turn, each behind one that leaves edits in it.
    Moment choose() {
        if (!fault_.empty()) return kills_ % 2 == 0 ? Moment::edits : Moment::start;
        const auto draw = random_.uniform();
        return draw < 0.6    ? Moment::edits
               : draw < 0.78 ? Moment::save
               : draw < 0.92 ? Moment::start
                             : Moment::first;
    }

    void wrong(const std::string& what, Moment moment) {
        faults_.push_back(what);
        std::printf("kill %ld, %s: %s (in %s)\n", kills_, moment_names[static_cast<int>(moment)],
                    what.c_str(), folder_.c_str());
        std::fflush(stdout);
    }

    /// A folder in which the program was never started; in every second one a dossier that was saved before.
    void anew() {
        fs::remove_all(folder_);
        fs::create_directories(folder_ / "state");
        if (random_.next() % 2 == 0)
            fs::copy(fs::path(GRAY_RELIC_SOURCE) / "demos/calder-dial-pad.relic", folder_ / dossier_folder,
                     fs::copy_options::recursive);
        known_ = 0;
    }

    void judge(std::int64_t killed, Moment moment) {
        const auto log = read_log(folder_ / log_file);
        const auto left = look(folder_);
        edits_ += static_cast<long>(log.made_at.size());
        saves_ += log.saves;
        in_journal_ += left.in_journal ? 1 : 0;
        cut_ += left.cut ? 1 : 0;
        if (!left.trouble.empty()) wrong(left.trouble, moment);
        if (left.there < known_)
            wrong("edit " + std::to_string(known_) + " was there before the start, and edit " +
                      std::to_string(left.there) + " is the last now",
                  moment);
        if (left.saved < log.saved)
            wrong("edit " + std::to_string(log.saved) + " was acknowledged as saved, dossier.json has " +
                      std::to_string(left.saved),
                  moment);
        if (left.there > std::max(log.begun, known_)) wrong("an edit that was never begun", moment);
        for (const auto& [number, at] : log.made_at) {
            if (number <= left.there) continue;
            const double lost = static_cast<double>(killed - at) / 1e3;
            worst_loss_ms_ = std::max(worst_loss_ms_, lost);
            if (lost > 1000.0) wrong("edit " + std::to_string(number) + " is lost", moment);
            break;
        }
        known_ = left.there;
    }

    Random random_;
    std::string fault_;
    fs::path folder_;
    std::vector<std::string> faults_;
    long known_ = 0;  ///< the last edit that was there before the program's start
    long kills_ = 0, edits_ = 0, saves_ = 0, in_journal_ = 0, cut_ = 0;
    long at_[4] = {};
    double worst_loss_ms_ = 0;
};

int kill_many(long kills, std::uint64_t seed) {
    Soak soak(seed, {});
    for (long kill = 0; kill < kills && soak.faults().empty(); ++kill) {
        soak.kill_once();
        if ((kill + 1) % 25 == 0 && kill + 1 < kills) soak.report();
    }
    soak.report();
    return soak.faults().empty() ? 0 : 1;
}

int sabotage() {
    int unseen = 0;
    for (const std::string fault : {"swallow:2", "late:3000", "forget:0", "unsaved:0"}) {
        Soak soak(7, fault);
        int kills = 0;
        while (soak.faults().empty() && kills < 80) {
            soak.kill_once();
            ++kills;
        }
        std::printf("== %s: %s after %d kills\n", fault.c_str(),
                    soak.faults().empty() ? "NOT FOUND" : "found", kills);
        std::fflush(stdout);
        unseen += soak.faults().empty() ? 1 : 0;
    }
    return unseen == 0 ? 0 : 1;
}

/// One session with one fault. Empty when nothing was lost; `met` says whether the fault came up at all.
std::string with_fault(const fs::path& folder, const std::string& fault, bool for_ever, bool& met) {
    fs::remove_all(folder);
    fs::create_directories(folder / "state");
    fs::copy(fs::path(GRAY_RELIC_SOURCE) / "demos/calder-dial-pad.relic", folder / dossier_folder,
             fs::copy_options::recursive);
    std::ofstream(folder / "outside.vcd")
        << "$timescale 1us $end $var wire 1 ! a $end $enddefinitions $end #0 0! #5 1!\n";
    const auto pid = start(folder, "--session", 0, fault);
    int status = 0;
    ::waitpid(pid, &status, 0);
    met = fs::exists(folder / "hit");
    const auto log = read_log(folder / log_file);
    const auto left = look(folder);
    if (!WIFEXITED(status)) return "ended by signal " + std::to_string(WTERMSIG(status));
    const int ended = WEXITSTATUS(status);
    if (ended == asked_about_others) return "asked whether another program had changed the dossier";
    if (ended != done && !(for_ever && ended == said_something)) return "ended with " + std::to_string(ended);
    if (!left.trouble.empty()) return left.trouble;
    const auto acknowledged = std::max(log.kept, log.saved);
    if (left.there < acknowledged)
        return "edit " + std::to_string(acknowledged) + " was acknowledged, edit " +
               std::to_string(left.there) + " is there";
    if (left.saved < log.saved) return "edit " + std::to_string(log.saved) + " was acknowledged as saved";
    return {};
}

int fail_call_by_call(long each) {
    const auto folder = fs::temp_directory_path() / ("gray-relic-faults-" + std::to_string(::getpid()));
    long sessions = 0;
    long wrong = 0;
    for (const char* kind : {"short", "nospace", "full", "badsync", "badrename"}) {
        long met_times = 0;
        // The first call not always 1, so that a sample meets others every time it is asked for another EACH.
        for (long n = each > 1 ? each / 2 : 1;; n += each) {
            const auto fault = std::string(kind) + ":" + std::to_string(n);
            bool met = false;
            const auto lost = with_fault(folder, fault, std::strcmp(kind, "full") == 0, met);
            ++sessions;
            met_times += met ? 1 : 0;
            if (!lost.empty()) {
                ++wrong;
                std::printf("%s: %s\n", fault.c_str(), lost.c_str());
            }
            if (!met || std::strcmp(kind, "short") == 0) break;
        }
        std::printf("%s: came up in %ld sessions\n", kind, met_times);
        std::fflush(stdout);
        wrong += met_times == 0 ? 1 : 0;  // a fault that never comes up shows nothing
    }
    fs::remove_all(folder);
    std::printf("%ld sessions, faults %ld\n", sessions, wrong);
    return wrong == 0 ? 0 : 1;
}

}  // namespace
}  // namespace grayrelic::soak

int main(int argc, char** argv) {
    using namespace grayrelic::soak;
    const auto number = [&](int i, long usual) { return argc > i ? std::stol(argv[i]) : usual; };
    const std::string what = argc > 1 ? argv[1] : "";
    if (what == "--window") return edit_until_killed(argv[2], static_cast<std::uint64_t>(number(3, 1)));
    if (what == "--session") return edit_for_a_while(argv[2]);
    if (what == "--sabotage") return sabotage();
    if (what == "--faults") return fail_call_by_call(number(2, 1));
    return kill_many(number(1, 400), static_cast<std::uint64_t>(number(2, 1)));
}
