// SPDX-License-Identifier: GPL-3.0-or-later
// Captures that stay in memory between one analysis and the next, and those that can't be read.
#pragma once

#include <filesystem>
#include <future>
#include <map>
#include <memory>
#include <mutex>
#include <string>
#include <vector>

#include "core/base/progress.hpp"
#include "core/capture/import_options.hpp"
#include "core/signal/capture.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic {

/// Captures read so far, by path and time of change, and how pictures are read. Safe from several threads.
class CaptureStore {
  public:
    /// A file that was understood or refused is not read again until it changes. A refusal by the system (no
    /// permission, vanished) is not remembered.
    [[nodiscard]] Result<std::shared_ptr<const Capture>> read(const std::filesystem::path& path,
                                                              Progress& progress, const ReadAs& read_as = {});
    /// Lets go of everything, when another dossier is opened. What an Analysis holds lives as long as that.
    void forget();
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
        Result<std::shared_ptr<const Capture>> capture;
    };
    std::mutex mutex_;
    std::map<std::string, Kept> kept_;
    std::vector<std::future<void>> keeping_;  // copies being written; waited for at the end
};

}  // namespace grayrelic
