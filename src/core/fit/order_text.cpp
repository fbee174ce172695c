// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/order_text.hpp"

#include <fmt/format.h>

#include <cmath>
#include <optional>
#include <vector>

#include "core/base/decimal.hpp"
#include "core/base/text.hpp"
#include "core/base/words.hpp"

namespace grayrelic {
namespace {

constexpr double most_money = 1e9, most_size_mm = 100'000;
constexpr int most_count = 1'000'000;

std::optional<double> amount(std::string_view word) {
    const auto point = decimal_number(trim(word), '.');
    const auto v = point ? point : decimal_number(trim(word), ',');
    return v && *v >= 0 && *v <= most_money ? v : std::nullopt;
}

std::vector<std::string> order_words(std::string_view text) {
    std::string plain(text);
    for (auto& c : plain)
        if (c == ':' || c == '+' || c == '\t' || c == ';') c = ' ';
    std::vector<std::string> out;
    for (const auto part : split(plain, ' '))
        if (!trim(part).empty()) out.emplace_back(trim(part));
    return out;
}

std::string joined_words(const std::vector<std::string>& words, std::size_t from, std::size_t to) {
    std::string out;
    for (auto i = from; i < to; ++i) out += (out.empty() ? "" : " ") + words[i];
    return out;
}

}  // namespace

Result<OrderTier> parse_tier(std::string_view text) {
    const auto bad = [](std::string_view what) {
        return fail_usage(in_quotes(what),
                          "boards, price and shipping, such as 5 10.80 4.20, and a size such as 100x80");
    };
    auto words = order_words(text);
    OrderTier t;
    if (!words.empty())
        if (const auto by = words.back().find_first_of("x×"); by != std::string::npos) {
            const auto behind = words.back().substr(by + (words.back()[by] == 'x' ? 1 : 2));
            const auto w = amount(words.back().substr(0, by)), h = amount(behind);
            if (!w || !h || *w <= 0 || *h <= 0 || *w > most_size_mm || *h > most_size_mm)
                return bad(words.back());
            t.width_mm = *w;
            t.height_mm = *h;
            words.pop_back();
        }
    std::vector<double> numbers;
    for (const auto& w : words) {
        const auto v = amount(w);
        if (!v) return bad(w);
        numbers.push_back(*v);
    }
    if (numbers.size() < 2 || numbers.size() > 3 || numbers[0] < 1 || numbers[0] > most_count ||
        numbers[0] != std::floor(numbers[0]))
        return bad(text);
    t.quantity = static_cast<int>(numbers[0]);
    t.price = numbers[1];
    if (numbers.size() == 3) t.shipping = numbers[2];
    return t;
}

Result<OrderExtra> parse_extra(std::string_view text) {
    const auto bad = [&](std::string_view what) {
        return fail_usage(
            in_quotes(what),
            "such as: extra slots 12, extra gold 8 + 0.50 each, extra small holes 15 hole below 0.3");
    };
    auto w = order_words(text);
    if (w.size() < 3 || w[0] != "extra") return bad(text);
    OrderExtra x;
    if (w.size() > 4 && w[w.size() - 2] == "below") {
        const auto mm = amount(w.back());
        const auto& rule = w[w.size() - 3];
        if (!mm || *mm <= 0 || *mm > most_size_mm) return bad(w.back());
        if (rule != "track" && rule != "gap" && rule != "ring" && rule != "hole" && rule != "hole-gap")
            return fail_usage(in_quotes(rule), "track, gap, ring, hole or hole-gap");
        x.rule = rule;
        x.below_mm = *mm;
        w.resize(w.size() - 3);
    }
    if (w.size() > 3 && w.back() == "each") {
        const auto each = amount(w[w.size() - 2]);
        if (!each) return bad(w[w.size() - 2]);
        x.each = *each;
        w.resize(w.size() - 2);
    }
    if (w.size() > 2)
        if (const auto price = amount(w.back())) {
            x.price = *price;
            w.pop_back();
        }
    x.what = joined_words(w, 1, w.size());
    if (x.what.empty() || (x.price == 0 && x.each == 0)) return bad(text);
    return x;
}

Result<ObsoleteStock> parse_obsolete(std::string_view text) {
    const auto w = order_words(text);
    const auto bad = [&] { return fail_usage(in_quotes(text), "such as: useless 5 boards revision 1 3.20"); };
    if (w.size() < 4 || w[0] != "useless") return bad();
    const auto count = amount(w[1]), each = amount(w.back());
    if (!count || !each || *count < 1 || *count > most_count || *count != std::floor(*count)) return bad();
    ObsoleteStock s;
    s.count = static_cast<int>(*count);
    s.each = *each;
    s.what = joined_words(w, 2, w.size() - 1);
    return s;
}

std::string extra_text(const OrderExtra& x) {
    std::string out = "extra " + x.what;
    if (x.price > 0) out += fmt::format(" {:g}", x.price);
    if (x.each > 0) out += fmt::format(" + {:g} each", x.each);
    if (!x.rule.empty()) out += fmt::format(" {} below {:g}", x.rule, x.below_mm);
    return out;
}

}  // namespace grayrelic
