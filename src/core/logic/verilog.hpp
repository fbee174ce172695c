// SPDX-License-Identifier: GPL-3.0-or-later
// A network as a module in Verilog (IEEE 1364-2005), with its delays, for any simulator of that language.
#pragma once

#include <string>
#include <string_view>

#include "core/logic/network.hpp"

namespace grayrelic {

/// The network must be computable. Time unit 1 ps. Storage keeps its bits in registers that start unknown;
/// set-up and hold are written as comments. Names that the language can't hold are escaped.
[[nodiscard]] std::string to_verilog(const Network& network, std::string_view module, Corner corner,
                                     std::string_view note = {});
/// A net's name as the language spells it.
[[nodiscard]] std::string verilog_name(std::string_view name);

}  // namespace grayrelic
