// SPDX-License-Identifier: GPL-3.0-or-later
// A checked view into a parsed JSON document for readers of our own files. Asking for something of the wrong
// kind throws JsonFault, which read_json() turns into one Error with the line. Keys that were never asked for
// can be collected, so that fields of newer versions are kept.
#pragma once

#include <functional>
#include <memory>
#include <new>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/base/limits.hpp"
#include "core/base/machine.hpp"
#include "core/base/result.hpp"
#include "core/json/json_place.hpp"

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
    [[nodiscard]] const JsonPath& path() const { return path_; }
    /// What stands here, for messages.
    [[nodiscard]] std::string shown() const;
    /// What stands here as JSON text.
    [[nodiscard]] std::string dump() const;

    [[nodiscard]] bool is_number() const;
    [[nodiscard]] bool is_text() const;
    [[nodiscard]] bool is_list() const;

    void require_object() const;
    [[nodiscard]] std::optional<JsonNode> member(const std::string& key);  ///< nothing when missing or null
    [[nodiscard]] JsonNode required(const std::string& key);
    [[nodiscard]] std::vector<std::string> keys() const;                   ///< of an object, sorted
    [[nodiscard]] std::vector<JsonNode> elements(std::size_t most) const;  ///< of a list
    [[nodiscard]] std::string text(std::size_t most = most_text) const;
    [[nodiscard]] long long whole(long long low, long long high) const;
    [[nodiscard]] double number() const;

    [[nodiscard]] std::string text_or(const std::string& key, std::string otherwise = {});
    [[nodiscard]] bool flag(const std::string& key);  ///< false when missing
    /// The members that were never asked for, as JSON text; empty when there are none.
    [[nodiscard]] std::string unknown_members() const;
    /// The name of the first of them.
    [[nodiscard]] std::optional<std::string> unknown_member() const;

  private:
    const nlohmann::json* json_;
    JsonPath path_;
    std::set<std::string> asked_;
};

/// A parsed text, together with what its errors need: the text, the file's name and what was expected there
/// ("a part as JSON"). The text must outlive the document.
class JsonDocument {
  public:
    /// Fails with the line of the first fault: brackets deeper than 64, no JSON, a number out of range.
    [[nodiscard]] static Result<JsonDocument> parse(std::string_view text, std::string file,
                                                    std::string expected);
    [[nodiscard]] JsonNode root() const { return {*json_, {}}; }
    /// Rearranges the document before it is read; `moves` says what came from where, so that errors still
    /// name the lines of the text.
    void rearrange(const std::function<void(nlohmann::json&)>& change, std::vector<JsonMove> moves);
    /// A fault met in this document, with its line.
    [[nodiscard]] Error error(const JsonFault& fault) const;

  private:
    std::string_view text_;
    std::string file_;
    std::shared_ptr<nlohmann::json> json_;
    std::vector<JsonMove> moves_;
};

/// Parses the text and gives what `read` makes of its root; a JsonFault thrown there becomes the Error.
template <class Read>
[[nodiscard]] auto read_json(std::string_view text, const std::string& file, const char* expected, Read read)
    -> Result<decltype(read(std::declval<JsonNode&>()))> {
    const auto document = JsonDocument::parse(text, file, expected);
    if (!document) return fail(document.error());
    try {
        auto root = document->root();
        return read(root);
    } catch (const JsonFault& fault) {
        return fail(document->error(fault));
    } catch (const std::bad_alloc&) {
        return fail_memory(file);
    }
}

}  // namespace grayrelic
