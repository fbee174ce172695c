// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/json/json_node.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <new>

#include "core/base/machine.hpp"
#include "core/base/text.hpp"
#include "core/json/json.hpp"

namespace grayrelic {
namespace {

/// The library's message says what was wrong behind its place, which has a colon.
std::string reason(const std::string& what) {
    const auto colon = what.find(": ");
    auto text = colon == std::string::npos ? what : what.substr(colon + 2);
    if (text.size() > 120) text.resize(120);
    std::string clean;
    for (const char c : text) clean += static_cast<unsigned char>(c) < 0x20 ? '?' : c;
    return is_utf8(clean) ? clean : std::string("bytes that are no text");
}

}  // namespace

std::string JsonNode::shown() const {
    if (json_->is_string()) return in_quotes(json_->get_ref<const std::string&>());
    if (json_->is_object()) return "an object";
    if (json_->is_array()) return "a list";
    return dump();
}

std::string JsonNode::dump() const {
    return json_->dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
}

bool JsonNode::is_number() const {
    return json_->is_number();
}
bool JsonNode::is_text() const {
    return json_->is_string();
}
bool JsonNode::is_list() const {
    return json_->is_array();
}

void JsonNode::require_object() const {
    if (!json_->is_object())
        fault(shown(), "an object for " + (path_.empty() ? "the file" : print_path(path_)));
}

std::optional<JsonNode> JsonNode::member(const std::string& key) {
    require_object();
    asked_.insert(key);
    const auto it = json_->find(key);
    if (it == json_->end() || it->is_null()) return std::nullopt;
    auto path = path_;
    path.push_back({key, 0, false});
    return JsonNode(*it, std::move(path));
}

JsonNode JsonNode::required(const std::string& key) {
    auto child = member(key);
    if (!child)
        fault(fmt::format("no \"{}\"", key),
              fmt::format("\"{}\" in {}", key, path_.empty() ? "the file" : print_path(path_)));
    return *child;
}

std::vector<std::string> JsonNode::keys() const {
    require_object();
    std::vector<std::string> out;
    for (const auto& [key, value] : json_->items()) out.push_back(key);
    return out;
}

std::vector<JsonNode> JsonNode::elements(std::size_t most) const {
    if (!json_->is_array()) fault(shown(), "a list for " + print_path(path_));
    if (json_->size() > most)
        fault(fmt::format("{} elements", json_->size()),
              fmt::format("at most {} in {}", most, print_path(path_)));
    std::vector<JsonNode> out;
    out.reserve(json_->size());
    for (std::size_t i = 0; i < json_->size(); ++i) {
        auto path = path_;
        path.push_back({"", i, true});
        out.emplace_back((*json_)[i], std::move(path));
    }
    return out;
}

std::string JsonNode::text(std::size_t most) const {
    if (!json_->is_string()) fault(shown(), "text for " + print_path(path_));
    const auto& s = json_->get_ref<const std::string&>();
    if (s.size() > most)
        fault(fmt::format("{} bytes", s.size()), fmt::format("at most {} for {}", most, print_path(path_)));
    return s;
}

long long JsonNode::whole(long long low, long long high) const {
    const auto expected = [&] {
        return fmt::format("a whole number from {} to {} for {}", low, high, print_path(path_));
    };
    if (!json_->is_number_integer()) fault(shown(), expected());
    const auto n = json_->is_number_unsigned() && json_->get<unsigned long long>() > 0x7FFFFFFFFFFFFFFFULL
                       ? 0x7FFFFFFFFFFFFFFFLL
                       : json_->get<long long>();
    if (n < low || n > high) fault(shown(), expected());
    return n;
}

double JsonNode::number() const {
    if (!json_->is_number()) fault(shown(), "a number for " + print_path(path_));
    return json_->get<double>();
}

bool JsonNode::flag(const std::string& key) {
    const auto child = member(key);
    if (!child) return false;
    if (!child->json_->is_boolean())
        child->fault(child->shown(), "true or false for " + print_path(child->path()));
    return child->json_->get<bool>();
}

std::string JsonNode::text_or(const std::string& key, std::string otherwise) {
    const auto child = member(key);
    return child ? child->text() : std::move(otherwise);
}

std::string JsonNode::unknown_members() const {
    nlohmann::json rest = nlohmann::json::object();
    for (const auto& [key, value] : json_->items())
        if (!asked_.contains(key)) rest[key] = value;
    return rest.empty() ? std::string() : rest.dump();
}

std::optional<std::string> JsonNode::unknown_member() const {
    const auto all = keys();
    const auto it = std::find_if(all.begin(), all.end(), [&](const auto& k) { return !asked_.contains(k); });
    return it == all.end() ? std::nullopt : std::optional(*it);
}

Result<JsonDocument> JsonDocument::parse(std::string_view text, std::string file, std::string expected) {
    if (trim(text).empty()) return fail_at(std::move(file), 1, "an empty file", std::move(expected));
    const auto trouble = json_trouble(text);
    if (trouble && trouble->expected.empty())
        return fail_at(std::move(file), line_at(text, trouble->byte), trouble->found, std::move(expected));
    JsonDocument out;
    out.text_ = text;
    out.file_ = std::move(file);
    try {
        out.json_ = std::make_shared<nlohmann::json>(nlohmann::json::parse(text));
    } catch (const nlohmann::json::parse_error& e) {
        // The parser reports the byte after the last one it read.
        return fail_at(std::move(out.file_), line_at(text, e.byte == 0 ? 0 : e.byte - 1), reason(e.what()),
                       std::move(expected));
    } catch (const nlohmann::json::out_of_range& e) {  // names the number, not its place
        const std::string what = e.what();
        const auto open = what.find('\''), close = what.rfind('\'');
        const auto number = open < close ? what.substr(open + 1, close - open - 1) : std::string();
        const auto at = text.find(number);
        return fail_at(std::move(out.file_), line_at(text, at == std::string_view::npos ? 0 : at),
                       "a number that is too large, " + number.substr(0, 40), std::move(expected));
    } catch (const std::bad_alloc&) {
        return fail_memory(out.file_);
    }
    // Only now is it certain that it is JSON at all.
    if (trouble)
        return fail_at(std::move(out.file_), line_at(text, trouble->byte), trouble->found, trouble->expected);
    return out;
}

void JsonDocument::rearrange(const std::function<void(nlohmann::json&)>& change,
                             std::vector<JsonMove> moves) {
    change(*json_);
    moves_ = std::move(moves);
}

Error JsonDocument::error(const JsonFault& fault) const {
    return {Error::Kind::unreadable, file_, line_of(text_, moved_back(fault.path, moves_)), fault.found,
            fault.expected};
}

}  // namespace grayrelic
