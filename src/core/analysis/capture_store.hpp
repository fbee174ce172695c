// SPDX-License-Identifier: GPL-3.0-or-later
// Captures that stay in memory between one analysis and the next.
#pragma once

#include <filesystem>
#include <map>
#include <memory>
#include <mutex>
#include <string>

#include "core/base/progress.hpp"
#include "core/capture/import_options.hpp"
#include "core/signal/capture.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic {

/// Captures read so far, by path and time of change, and how pictures are read. Safe from several threads.
class CaptureStore {
  public:
    [[nodiscard]] Result<std::shared_ptr<const Capture>> read(const std::filesystem::path& path,
                                                              Progress& progress, const ReadAs& read_as = {});
    /// Where what was read is kept for the next start (capture/capture_cache.hpp); empty for nowhere. Set
    /// before the first reading.
    std::filesystem::path cache_folder;
    /// Pictures are decoded outside the core; without a reader no scan is read. Set before the first
    /// analysis.
    PictureReader read_picture;

  private:
    struct Kept {
        std::filesystem::file_time_type changed;
        ReadAs read_as;
        std::shared_ptr<const Capture> capture;
    };
    std::mutex mutex_;
    std::map<std::string, Kept> kept_;
};

}  // namespace grayrelic
