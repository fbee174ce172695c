// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/long_work.hpp"

#include <mutex>
#include <set>
#include <utility>

namespace grayrelic {
namespace {

thread_local int marks = 0;

struct Noted {
    std::mutex mutex;
    std::set<std::string> names;
};
Noted& noted() {
    static Noted all;
    return all;
}

}  // namespace

void long_work(const char* what) {
    if (marks == 0) return;
    auto& all = noted();
    const std::lock_guard lock(all.mutex);
    all.names.insert(what);
}

PaintingThread::PaintingThread() {
    ++marks;
}
PaintingThread::~PaintingThread() {
    --marks;
}
OffTheRecord::OffTheRecord() : marks_(std::exchange(marks, 0)) {}
OffTheRecord::~OffTheRecord() {
    marks = marks_;
}

std::vector<std::string> take_long_work() {
    auto& all = noted();
    const std::lock_guard lock(all.mutex);
    const auto names = std::exchange(all.names, {});
    return {names.begin(), names.end()};
}

}  // namespace grayrelic
