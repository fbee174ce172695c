// SPDX-License-Identifier: GPL-3.0-or-later
// Who may write a folder: one process at a time. The lock is the system's own (flock), so it ends with the
// process however that ends, and nothing stale stays behind.
#pragma once

#include <filesystem>
#include <memory>

namespace grayrelic {

class FolderLock {
  public:
    enum class State {
        held,          ///< ours until it is released
        busy,          ///< another process, or another lock of ours, has it
        not_writable,  ///< no lock file can be made there
    };
    /// Locks `file`, which is made for it and removed again on release.
    explicit FolderLock(std::filesystem::path file);
    ~FolderLock();
    FolderLock(const FolderLock&) = delete;
    FolderLock& operator=(const FolderLock&) = delete;
    [[nodiscard]] State state() const { return state_; }

  private:
    std::filesystem::path file_;
    int fd_ = -1;
    State state_ = State::not_writable;
};

}  // namespace grayrelic
