// SPDX-License-Identifier: GPL-3.0-or-later
// What a board has to fit into and what it costs, as they stand in dossier.json.
#pragma once

#include "core/dossier/codec_tools.hpp"
#include "core/dossier/fabrication.hpp"

namespace grayrelic::dossier_codec {

/// Members fits, zones and order of a board.
void read_fits(JsonNode& node, Fabrication& into);
void add_fits(Json& object, const Fabrication& board);
void read_variants(JsonNode& node, Fabrication& into);
void add_variants(Json& object, const Fabrication& board);

}  // namespace grayrelic::dossier_codec
