// SPDX-License-Identifier: GPL-3.0-or-later
// Prices, lead times and parts as a person types them.
#include <fmt/format.h>

#include <charconv>

#include "core/base/text.hpp"
#include "core/plan/parts_list.hpp"

namespace grayrelic {
namespace {

template <class T>
std::optional<T> number(std::string_view text, T least, T most) {
    T value{};
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (code != std::errc() || end != text.data() + text.size() || !(value >= least && value <= most))
        return std::nullopt;
    return value;
}

}  // namespace

Result<std::vector<PriceStep>> parse_prices(std::string_view text) {
    std::vector<PriceStep> out;
    for (const auto word : split(trim(text), ' ')) {
        if (word.empty()) continue;
        const auto colon = word.find(':');
        // A price alone is that of one.
        const auto from =
            colon == std::string_view::npos ? std::optional(1) : number(word.substr(0, colon), 1, 1'000'000);
        const auto each = number(colon == std::string_view::npos ? word : word.substr(colon + 1), 0.0, 1e9);
        if (!from || !each) return fail_usage(in_quotes(word), "steps such as 1:0.42 10:0.31");
        out.push_back({*from, *each});
    }
    return out;
}

std::string print_prices(const std::vector<PriceStep>& steps) {
    std::string out;
    for (const auto& s : steps) out += fmt::format("{}{}:{}", out.empty() ? "" : " ", s.from, s.each);
    return out;
}

Result<LeadDays> parse_lead_days(std::string_view text) {
    text = trim(text);
    if (text.empty()) return LeadDays{};
    const auto dash = text.find('-');
    const auto from = number(text.substr(0, dash), 0, 10'000);
    const auto to = dash == std::string_view::npos ? from : number(text.substr(dash + 1), 0, 10'000);
    if (!from || !to || *to < *from) return fail_usage(in_quotes(text), "days such as 9 or 9-14");
    return LeadDays{from, to};
}

std::string print_lead_days(std::optional<int> from, std::optional<int> to) {
    if (!from) return to ? fmt::format("0-{}", *to) : std::string();
    return to && *to != *from ? fmt::format("{}-{}", *from, *to) : std::to_string(*from);
}

std::vector<PartLine> parts_in_words(std::string_view text) {
    std::vector<PartLine> out;
    for (auto entry : split(text, ',')) {
        entry = trim(entry);
        int count = 1;
        const auto [end, code] = std::from_chars(entry.data(), entry.data() + entry.size(), count);
        const auto rest = entry.substr(static_cast<std::size_t>(end - entry.data()));
        // "74x165" is a name, "2 × 74x165" a count and a name, "2 sockets" too.
        if (code != std::errc() || count < 1 || count > 100'000 || !rest.starts_with(' ')) {
            count = 1;
        } else {
            entry = trim(rest);
            for (const std::string_view times : {"× ", "x "})
                if (entry.starts_with(times)) entry = trim(entry.substr(times.size()));
        }
        if (entry.empty()) continue;
        PartLine line;
        line.part = std::string(entry);
        line.per_board = count;
        out.push_back(std::move(line));
    }
    return out;
}

}  // namespace grayrelic
