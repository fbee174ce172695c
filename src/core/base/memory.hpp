// SPDX-License-Identifier: GPL-3.0-or-later
// What was computed, by name, with what it was computed from. Asked again with equal inputs it answers at
// once; with others it computes anew. Each part is made in a thread of its own and is stored when it is done,
// whoever asked for it: an edit that interrupts a run loses nothing that is finished, and a part whose inputs
// the edit did not touch goes on and is waited for by the next run.
#pragma once

#include <any>
#include <condition_variable>
#include <functional>
#include <future>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <set>
#include <string>
#include <typeindex>
#include <vector>

#include "core/base/progress.hpp"
#include "core/base/result.hpp"

namespace grayrelic {

/// One run over all parts: its end when interrupted, and how far it is. Safe from several threads.
class MemoryRun {
  public:
    /// `progress` never goes back within a run; `weight` is the sum of all parts'.
    MemoryRun(Progress& progress, double weight) : progress_(progress), weight_(weight) {}
    [[nodiscard]] bool interrupted() const { return progress_.cancelled(); }
    /// Why a part could not be made; nothing while all could or were interrupted.
    [[nodiscard]] std::optional<Error> failure() {
        const std::lock_guard lock(mutex_);
        return failure_;
    }

  private:
    friend class Memory;
    void add(const std::string& key, double weight, double fraction);

    Progress& progress_;
    double weight_;
    std::mutex mutex_;
    std::map<std::string, double> done_;  // by part: its weight × how far it is
    double shown_ = 0;
    std::set<std::string> asked_;
    std::optional<Error> failure_;
};

class Memory {
  public:
    Memory() = default;
    Memory(const Memory&) = delete;
    Memory& operator=(const Memory&) = delete;
    /// Stops what is under way and waits for it.
    ~Memory();

    /// The part `key` made from `inputs` (copied, compared by ==) through `make`, a Result<T>(Progress&). It
    /// may run on after this has returned, so it must own all it uses. Null when the run was interrupted or
    /// the part failed: a cancelled one, or one that found no memory, which MemoryRun::failure() says. A T
    /// with a true member `passing` is not stored: it is made anew the next time.
    template <class T, class Inputs, class Make>
    [[nodiscard]] std::shared_ptr<const T> recall(MemoryRun& run, const std::string& key, Inputs inputs,
                                                  double weight, Make make) {
        const auto same = [](const std::any& a, const std::any& b) {
            const auto *x = std::any_cast<Inputs>(&a), *y = std::any_cast<Inputs>(&b);
            return x != nullptr && y != nullptr && *x == *y;
        };
        const auto erased = [make = std::move(make)](Progress& progress) -> Made {
            Result<T> made = make(progress);
            if (!made) return {};
            bool passing = false;
            if constexpr (requires { made->passing; }) passing = made->passing;
            return {std::make_shared<const T>(std::move(*made)), passing};
        };
        return std::static_pointer_cast<const T>(
            find_or_make(run, key, std::move(inputs), typeid(T), same, weight, erased));
    }

    /// The same for what takes no time: made here and now, a T() without a Progress, and never interrupted.
    template <class T, class Inputs, class Make>
    [[nodiscard]] std::shared_ptr<const T> recall_here(MemoryRun& run, const std::string& key, Inputs inputs,
                                                       Make make) {
        run.add(key, 0, 1);
        {
            const std::lock_guard lock(mutex_);
            const auto& entry = entries_[key];
            const auto* before = std::any_cast<Inputs>(&entry.inputs);
            if (entry.value && before != nullptr && *before == inputs)
                return std::static_pointer_cast<const T>(entry.value);
        }
        auto made = std::make_shared<const T>(make());
        const std::lock_guard lock(mutex_);
        auto& entry = entries_[key];
        entry.inputs = std::move(inputs);
        entry.value = made;
        entry.type = typeid(T);
        ++entry.times;
        return made;
    }

    /// What was made last under this name; null for nothing, or another T.
    template <class T>
    [[nodiscard]] std::shared_ptr<const T> last(const std::string& key) const {
        const std::lock_guard lock(mutex_);
        const auto it = entries_.find(key);
        if (it == entries_.end() || it->second.type != std::type_index(typeid(T))) return nullptr;
        return std::static_pointer_cast<const T>(it->second.value);
    }

    /// After a whole run: forgets what it did not ask for.
    void forget_all_but(MemoryRun& run);
    /// Stops what is under way; finished parts stay.
    void cancel();
    /// How often each part was made so far.
    [[nodiscard]] std::map<std::string, long> times_made() const;

  private:
    struct Made {
        std::shared_ptr<const void> value;
        bool passing = false;
        bool no_memory = false;
    };
    struct Making {
        std::any inputs;
        Progress progress;
        std::future<void> thread;
        bool done = false;
        Made made;
    };
    struct Entry {
        std::any inputs;
        std::shared_ptr<const void> value;
        std::shared_ptr<Making> making;
        std::type_index type = typeid(void);
        long times = 0;
    };
    using Same = bool (*)(const std::any&, const std::any&);
    std::shared_ptr<const void> find_or_make(MemoryRun& run, const std::string& key, std::any inputs,
                                             std::type_index type, Same same, double weight,
                                             std::function<Made(Progress&)> make);
    void abandon(Entry& entry);
    void collect();

    mutable std::mutex mutex_;
    std::condition_variable changed_;
    std::map<std::string, Entry> entries_;
    std::vector<std::shared_ptr<Making>> abandoned_;  // stopping, not yet at their end
};

}  // namespace grayrelic
