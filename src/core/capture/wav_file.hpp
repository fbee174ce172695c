// SPDX-License-Identifier: GPL-3.0-or-later
// Waveforms from and to WAV files (libsndfile): each channel an analogue signal "ch1", "ch2", … with its
// levels. Values are fractions of full scale, −1 to 1. One whole sample is one period of the stated rate.
#pragma once

#include "core/base/byte_source.hpp"
#include "core/base/file_system.hpp"
#include "core/base/progress.hpp"
#include "core/signal/capture.hpp"

namespace grayrelic {

struct WavLimits {
    std::uint64_t samples = 400'000'000;  ///< of all channels together
    int channels = 64;
};

/// `threshold` in fractions of full scale; nothing: guessed, with a remark.
[[nodiscard]] Result<Capture> read_wav(const ByteSource& source, const std::string& name, Progress& progress,
                                       std::optional<double> threshold, const WavLimits& limits = {});
/// Analogue signals as they are; levels as −0.8 and 0.8. The rate is the analogue signals' own, else the one
/// at which the shortest pulse has four samples. Gives the rate. Fails when that takes too many samples.
[[nodiscard]] Result<double> write_wav(const Capture& capture, const std::filesystem::path& path,
                                       Progress& progress, FileSystem& files, const WavLimits& limits = {});

}  // namespace grayrelic
