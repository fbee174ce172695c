// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/memory.hpp"

#include <new>

#include "core/base/machine.hpp"

#include <algorithm>
#include <chrono>

namespace grayrelic {

void MemoryRun::add(const std::string& key, double weight, double fraction) {
    const std::lock_guard lock(mutex_);
    asked_.insert(key);
    auto& part = done_[key];
    part = std::max(part, weight * std::clamp(fraction, 0.0, 1.0));
    double sum = 0;
    for (const auto& [name, done] : done_) sum += done;
    shown_ = std::max(shown_, std::min(1.0, weight_ > 0 ? sum / weight_ : 0.0));
    progress_.report(shown_);
}

Memory::~Memory() {
    cancel();
    std::vector<std::shared_ptr<Making>> left;
    {
        const std::lock_guard lock(mutex_);
        left = std::move(abandoned_);
        for (auto& [key, entry] : entries_)
            if (entry.making) left.push_back(std::move(entry.making));
    }
    for (const auto& m : left) m->thread.wait();
}

void Memory::abandon(Entry& entry) {
    if (!entry.making) return;
    entry.making->progress.cancel();
    abandoned_.push_back(std::move(entry.making));
    entry.making = nullptr;
}

/// Threads that have ended.
void Memory::collect() {
    std::erase_if(abandoned_, [](const auto& m) {
        return m->thread.wait_for(std::chrono::seconds(0)) == std::future_status::ready;
    });
}

std::shared_ptr<const void> Memory::find_or_make(MemoryRun& run, const std::string& key, std::any inputs,
                                                 std::type_index type, Same same, double weight,
                                                 std::function<Made(Progress&)> make) {
    run.add(key, weight, 0);
    std::unique_lock lock(mutex_);
    collect();
    auto& entry = entries_[key];
    if (entry.value && same(entry.inputs, inputs)) {
        auto value = entry.value;
        lock.unlock();
        run.add(key, weight, 1);
        return value;
    }
    if (run.interrupted()) return nullptr;
    if (entry.making && !same(entry.making->inputs, inputs)) abandon(entry);
    if (!entry.making) {
        auto making = std::make_shared<Making>();
        making->inputs = std::move(inputs);
        entry.making = making;
        ++entry.times;
        making->thread =
            std::async(std::launch::async, [this, key, type, making = making.get(), make = std::move(make)] {
                Made made;
                try {
                    made = make(making->progress);
                } catch (const std::bad_alloc&) {
                    made.no_memory = true;  // one part is lost, the program and the dossier are not
                }
                const std::lock_guard inner(mutex_);
                making->made = std::move(made);
                making->done = true;
                // Whoever asked may be gone; the part is kept all the same, unless another took its place.
                const auto it = entries_.find(key);
                if (it != entries_.end() && it->second.making.get() == making && making->made.value &&
                    !making->made.passing) {
                    it->second.inputs = making->inputs;
                    it->second.value = making->made.value;
                    it->second.type = type;
                }
                changed_.notify_all();
            });
    }
    const auto making = entry.making;
    while (!making->done) {
        changed_.wait_for(lock, std::chrono::milliseconds(20));
        if (run.interrupted()) return nullptr;
        lock.unlock();
        run.add(key, weight, making->progress.fraction());
        lock.lock();
    }
    auto value = making->made.value;
    if (making->made.no_memory) {
        const std::lock_guard inner(run.mutex_);
        run.failure_ = fail_memory(key).value();
    }
    const auto it = entries_.find(key);
    if (it != entries_.end() && it->second.making == making) {
        it->second.making = nullptr;
        abandoned_.push_back(making);  // its thread is about to end
    }
    lock.unlock();
    run.add(key, weight, 1);
    return value;
}

void Memory::forget_all_but(MemoryRun& run) {
    const std::lock_guard lock(mutex_);
    for (auto it = entries_.begin(); it != entries_.end();) {
        if (run.asked_.count(it->first) > 0) {
            ++it;
            continue;
        }
        abandon(it->second);
        it = entries_.erase(it);
    }
    collect();
}

void Memory::cancel() {
    const std::lock_guard lock(mutex_);
    for (auto& [key, entry] : entries_) abandon(entry);
}

std::map<std::string, long> Memory::times_made() const {
    const std::lock_guard lock(mutex_);
    std::map<std::string, long> out;
    for (const auto& [key, entry] : entries_) out[key] = entry.times;
    return out;
}

}  // namespace grayrelic
