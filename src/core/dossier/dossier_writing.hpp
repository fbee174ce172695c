// SPDX-License-Identifier: GPL-3.0-or-later
// What the writers of a dossier's sections share. For those writers only.
#pragma once

#include <nlohmann/json.hpp>

#include <string>

#include "core/dossier/dossier.hpp"

namespace grayrelic::dossier_writing {

using Json = nlohmann::ordered_json;

inline void add_extra(Json& object, const std::string& extra) {
    if (extra.empty()) return;
    const auto parsed = Json::parse(extra, nullptr, false);
    if (!parsed.is_object()) return;
    for (const auto& [key, value] : parsed.items())
        if (!object.contains(key)) object[key] = value;
}

inline void add_text(Json& object, const char* key, const std::string& text) {
    if (!text.empty()) object[key] = text;
}

inline void add_evidence(Json& object, const Evidence& e) {
    object["evidence"] = word(e.kind);
    add_text(object, "source", e.source);
    add_text(object, "tool", e.tool);
    add_text(object, "date", e.date);
    add_extra(object, e.extra);
}

template <class List, class Write>
Json list_of(const List& list, Write write) {
    Json out = Json::array();
    for (const auto& item : list)
        out.push_back(write(item));
    return out;
}

/// In dossier_write_trace.cpp; null when there is nothing.
[[nodiscard]] Json trace_json(const Dossier& d);

}  // namespace grayrelic::dossier_writing
