// SPDX-License-Identifier: GPL-3.0-or-later
// Connections on the loopback, each on a thread of its own so that an idle one holds up nobody, for every
// stand-in that is spoken to over TCP.
#pragma once

#include <functional>

#include "core/base/result.hpp"

namespace grayrelic::standin {

/// Serves until the process ends; `ready` is told the port (port 0 takes a free one). `talk` has the
/// connection's descriptor, which is closed behind it; it is called from several threads.
[[nodiscard]] Status serve_loopback(int port, const std::function<void(int)>& ready,
                                    const std::function<void(int)>& talk);

}  // namespace grayrelic::standin
