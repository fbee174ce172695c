// SPDX-License-Identifier: GPL-3.0-or-later
// The bench meter on TCP, on the loopback only.
#pragma once

#include <functional>

#include "core/base/result.hpp"
#include "standin/meter.hpp"

namespace grayrelic::standin {

/// Serves whoever connects, each with probes of its own, until the process ends; `ready` is told the port.
[[nodiscard]] Status serve_meter(Meter& meter, int port, const std::function<void(int)>& ready);

}  // namespace grayrelic::standin
