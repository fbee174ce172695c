// SPDX-License-Identifier: GPL-3.0-or-later
// A section of dossier.json: its key, how it is read, how it is written. What a section holds is read and
// written in one file, codec_*.cpp; a new section is a file of its own and a line in section_codecs().
#pragma once

#include <vector>

#include "core/dossier/dossier.hpp"
#include "core/json/json.hpp"
#include "core/json/json_node.hpp"

namespace grayrelic {

struct SectionCodec {
    const char* key;
    /// Throws JsonFault. Called only where the file has the key.
    void (*read)(JsonNode section, Dossier& into);
    /// Null when the section is left out of the file.
    Json (*write)(const Dossier&);
    bool (*same)(const Dossier&, const Dossier&);  ///< the same value
    bool (*same_version)(const Dossier&, const Dossier&);
};

template <auto Member>
SectionCodec codec_of(const char* key, void (*read)(JsonNode, Dossier&), Json (*write)(const Dossier&)) {
    return {key, read, write, [](const Dossier& a, const Dossier& b) { return *(a.*Member) == *(b.*Member); },
            [](const Dossier& a, const Dossier& b) { return (a.*Member).same_version(b.*Member); }};
}

namespace dossier_codec {
/// Name, purpose and revision stand in the root itself. Throws JsonFault.
[[nodiscard]] About read_about(JsonNode& root);
void write_about(const About& about, Json& root);

extern const SectionCodec ports, cables, units, captures, timing, trace, readings, dimensions, supply, plan,
    wire, map, boards, stacks, builds, log;
}  // namespace dossier_codec

/// All of them, in the order of the file.
[[nodiscard]] const std::vector<SectionCodec>& section_codecs();

}  // namespace grayrelic
