// SPDX-License-Identifier: GPL-3.0-or-later
// A decoder and what stands behind it: frames, and packets made of them where the settings hold "packets".
// That word is a link in the chain and no setting of any family.
#pragma once

#include <optional>

#include "core/decode/decoder.hpp"

namespace grayrelic {

struct DecodeChain {
    Decoding decoding;                   ///< the last link
    std::optional<Decoding> characters;  ///< what packets were put together from
};

/// "packets" takes what parse_packet_rule() reads, or "auto". The other settings go to the family. Errors as
/// Decoder::decode() has them.
[[nodiscard]] Result<DecodeChain> decode_chain(const Capture& capture, std::string_view kind,
                                               const RoleMap& roles, SettingMap settings, Progress& progress);

}  // namespace grayrelic
