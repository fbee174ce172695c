// SPDX-License-Identifier: GPL-3.0-or-later
// What a device that is tried with the bridge takes, held against what the bridge has left.
#pragma once

#include <string>
#include <vector>

#include "core/base/verdict.hpp"
#include "core/dossier/dossier.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {

struct DeviceValue {
    std::string what;   ///< "current"
    std::string value;  ///< "90 mA of 62 mA left on VUSB"
    Verdict verdict = Verdict::unknown;
    std::string why;
};

/// Of a device's figures: `current` in A against the rail that has least left beside its load (which rail the
/// device hangs on is not said, so the worst counts); `poll` in s against how long a press is held, as the
/// map says. Nothing for what is not known of the device.
[[nodiscard]] std::vector<DeviceValue> device_values(const CoverItem& device, const WireAnalysis* wire,
                                                     const DeviceMap& map);

}  // namespace grayrelic
