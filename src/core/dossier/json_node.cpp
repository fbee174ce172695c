// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/json_node.hpp"

#include <fmt/format.h>

#include "core/base/text.hpp"

namespace grayrelic {

std::string JsonNode::shown() const {
    if (json_->is_string()) return in_quotes(json_->get_ref<const std::string&>());
    if (json_->is_object()) return "an object";
    if (json_->is_array()) return "a list";
    return json_->dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
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

std::vector<JsonNode> JsonNode::elements(std::size_t most) const {
    if (!json_->is_array()) fault(shown(), "a list for " + print_path(path_));
    if (json_->size() > most)
        fault(fmt::format("{} elements", json_->size()), fmt::format("at most {}", most));
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
    if (s.size() > most) fault(fmt::format("{} characters", s.size()), fmt::format("at most {}", most));
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
    if (!child->json().is_boolean())
        child->fault(child->shown(), "true or false for " + print_path(child->path()));
    return child->json() == true;
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

}  // namespace grayrelic
