// SPDX-License-Identifier: GPL-3.0-or-later
// The pieces of Log's section that codec_log_money.cpp reads and writes. For the codecs only.
#pragma once

#include "core/dossier/dossier.hpp"
#include "core/json/json.hpp"
#include "core/json/json_node.hpp"

namespace grayrelic::dossier_codec {

/// 64 hexadecimal digits, or nothing. Throws JsonFault.
[[nodiscard]] std::string read_sha256(JsonNode& n, const char* key);
[[nodiscard]] Economics read_money(const JsonNode& n);
[[nodiscard]] Json money_json(const Economics& money);
[[nodiscard]] Release read_release(const JsonNode& n);
[[nodiscard]] Json release_json(const Release& release);
[[nodiscard]] std::vector<UserCardLine> read_user_card(JsonNode& parent, const char* key);
[[nodiscard]] Json user_card_json(const std::vector<UserCardLine>& card);

}  // namespace grayrelic::dossier_codec
