// SPDX-License-Identifier: GPL-3.0-or-later
// What the writers of a dossier's sections share. For those writers only.
#pragma once

#include <string>

#include "core/base/quantity.hpp"
#include "core/dossier/dossier.hpp"
#include "core/json/json.hpp"

namespace grayrelic::dossier_writing {

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

/// Plain ASCII units in files: "1.9us", "120mA".
inline std::string ascii(std::string text) {
    const auto replace = [&](std::string_view from, std::string_view to) {
        for (auto at = text.find(from); at != std::string::npos; at = text.find(from, at + to.size()))
            text.replace(at, from.size(), to);
    };
    replace("µ", "u");
    replace("Ω", "ohm");
    replace("−", "-");
    return text;
}

inline Json time(Time t) {
    return ascii(print_exact(t));
}

template <class T>
void add_fact(Json& object, const char* key, const Fact<T>& fact, Json value) {
    if (fact == Fact<T>{}) return;
    Json f = Json::object();
    if (!value.is_null()) f["value"] = std::move(value);
    if (fact.uncertainty) f["plus_minus"] = *fact.uncertainty;
    add_evidence(f, fact.evidence);
    object[key] = std::move(f);
}

inline void add_fact(Json& object, const char* key, const Fact<std::string>& fact) {
    add_fact(object, key, fact, fact.value.empty() ? Json() : Json(fact.value));
}

template <Unit U>
void add_fact(Json& object, const char* key, const Fact<std::optional<Quantity<U>>>& fact) {
    add_fact(object, key, fact, fact.value ? Json(ascii(print_exact(fact.value->value(), U))) : Json());
}

/// A record as an object, with the members of newer versions that it carries.
template <class T, class Write>
Json record(const T& item, Write write) {
    Json out = write(item);
    if constexpr (requires { item.extra; })
        add_extra(out, item.extra);
    else
        add_extra(out, item.value.evidence.extra);
    return out;
}

template <class T, class Write>
Json list_of(const std::vector<T>& list, Write write) {
    Json out = Json::array();
    for (const auto& item : list) out.push_back(record(item, write));
    return out;
}

[[nodiscard]] Json timing_json(const Timing& t);         ///< in dossier_write_timing.cpp
[[nodiscard]] Json trace_json(const Trace& t);           ///< in dossier_write_trace.cpp
[[nodiscard]] Json reading_json(const MeterReading& r);  ///< there too

}  // namespace grayrelic::dossier_writing
