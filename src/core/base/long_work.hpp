// SPDX-License-Identifier: GPL-3.0-or-later
// What must not run on a thread that paints. Functions that walk a capture, plan or search say so as their
// first step; a window marks its thread. Such a call is then noted and fails the tests, however fast it was
// with their small data. In use nothing happens.
#pragma once

#include <string>
#include <vector>

namespace grayrelic {

/// First step of a function whose time grows with its data.
void long_work(const char* what);

/// Marks the calling thread as one that paints, for its life; marks nest.
class PaintingThread {
  public:
    PaintingThread();
    ~PaintingThread();
    PaintingThread(const PaintingThread&) = delete;
    PaintingThread& operator=(const PaintingThread&) = delete;
};

/// Takes the mark away for its life, for a test that asks the core itself.
class OffTheRecord {
  public:
    OffTheRecord();
    ~OffTheRecord();
    OffTheRecord(const OffTheRecord&) = delete;
    OffTheRecord& operator=(const OffTheRecord&) = delete;

  private:
    int marks_;
};

/// The long work that was called on marked threads since the last time this was asked, each name once.
[[nodiscard]] std::vector<std::string> take_long_work();

}  // namespace grayrelic
