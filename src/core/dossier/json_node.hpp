// SPDX-License-Identifier: GPL-3.0-or-later
// A checked view into a parsed JSON document for readers of our own files. Asking for something of the wrong
// kind throws JsonFault, which the reader turns into one Error with the line. Keys that were never asked for
// can be collected, so that fields of newer versions are kept.
#pragma once

#include <nlohmann/json.hpp>

#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/base/quantity.hpp"
#include "core/dossier/json_place.hpp"

namespace grayrelic {

struct JsonFault {
    JsonPath path;
    std::string found;
    std::string expected;
};

class JsonNode {
  public:
    JsonNode(const nlohmann::json& json, JsonPath path) : json_(&json), path_(std::move(path)) {}

    [[noreturn]] void fault(std::string found, std::string expected) const {
        throw JsonFault{path_, std::move(found), std::move(expected)};
    }
    [[nodiscard]] const nlohmann::json& json() const { return *json_; }
    [[nodiscard]] const JsonPath& path() const { return path_; }
    /// What stands here, for messages.
    [[nodiscard]] std::string shown() const;

    void require_object() const;
    [[nodiscard]] std::optional<JsonNode> member(const std::string& key);  ///< nothing when missing or null
    [[nodiscard]] JsonNode required(const std::string& key);
    [[nodiscard]] std::vector<JsonNode> elements(std::size_t most) const;  ///< of a list
    [[nodiscard]] std::string text(std::size_t most = 4096) const;
    [[nodiscard]] long long whole(long long low, long long high) const;
    [[nodiscard]] double number() const;

    [[nodiscard]] std::string text_or(const std::string& key, std::string otherwise = {});
    [[nodiscard]] bool flag(const std::string& key);  ///< false when missing
    /// The members that were never asked for, as JSON text; empty when there are none.
    [[nodiscard]] std::string unknown_members() const;

  private:
    const nlohmann::json* json_;
    JsonPath path_;
    std::set<std::string> asked_;
};

}  // namespace grayrelic
