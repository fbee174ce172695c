// SPDX-License-Identifier: GPL-3.0-or-later
// Progress of long work, and the wish to stop it. Work calls report() now and then and leaves when
// cancelled() is true, with fail_cancelled() and nothing half-done. Both calls are cheap and safe from any
// thread.
#pragma once

#include <atomic>

namespace grayrelic {

class Progress {
  public:
    Progress() = default;
    Progress(const Progress&) = delete;
    Progress& operator=(const Progress&) = delete;

    /// Share of the work done, 0 to 1.
    void report(double fraction) { fraction_.store(fraction, std::memory_order_relaxed); }
    [[nodiscard]] double fraction() const { return fraction_.load(std::memory_order_relaxed); }
    void cancel() { cancelled_.store(true, std::memory_order_relaxed); }
    [[nodiscard]] bool cancelled() const { return cancelled_.load(std::memory_order_relaxed); }

  private:
    std::atomic<double> fraction_{0.0};
    std::atomic<bool> cancelled_{false};
};

}  // namespace grayrelic
