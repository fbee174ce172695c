// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/meter_server.hpp"

#include <mutex>

#include "standin/loopback_server.hpp"

namespace grayrelic::standin {

Status serve_meter(Meter& meter, int port, const std::function<void(int)>& ready) {
    std::mutex turn;
    return serve_loopback(port, ready, [&](int connection) {
        auto own = [&] {
            const std::lock_guard lock(turn);
            return meter.another();
        }();
        speak_as_meter(connection, own);
    });
}

}  // namespace grayrelic::standin
