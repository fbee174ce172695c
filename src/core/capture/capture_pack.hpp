// SPDX-License-Identifier: GPL-3.0-or-later
// A capture as bytes and back, for the kept copy (capture_cache.hpp).
#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <string_view>

#include "core/signal/capture.hpp"

namespace grayrelic {

[[nodiscard]] std::string pack_capture(const Capture& capture);
/// The same in pieces, without holding all of them.
void pack_capture(const Capture& capture, const std::function<void(std::string_view)>& sink);
/// Nothing when the bytes are not whole. With an `owner`, which keeps the bytes in place, at a multiple of
/// eight, the edges are not copied.
[[nodiscard]] std::optional<Capture> unpack_capture(std::string_view bytes,
                                                    std::shared_ptr<const void> owner = nullptr);

}  // namespace grayrelic
