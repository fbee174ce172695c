// SPDX-License-Identifier: GPL-3.0-or-later
// What is searched for, from what was typed: see find.hpp.
#include <tuple>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/signal/find.hpp"

namespace grayrelic {

Result<FindQuery> find_query(const FindText& typed) {
    FindQuery q;
    if (!typed.pulse.empty()) q.pulse = typed.pulse;
    q.pulse_level = typed.pulse_level;
    for (const auto& [text, name, into] :
         {std::tuple{&typed.shorter, "shorter", &q.shorter}, std::tuple{&typed.longer, "longer", &q.longer},
          std::tuple{&typed.pause, "pause", &q.pause}}) {
        if (trim(*text).empty()) continue;
        const auto t = parse_time(trim(*text));
        if (!t) return fail(t.error());
        if (*t < Time{})
            return fail_usage(std::string(name) + " " + in_quotes(*text), "a time of zero or more");
        *into = *t;
    }
    for (const auto& text : typed.levels) {
        const auto levels = parse_levels(text);
        if (!levels) return fail(levels.error());
        q.levels.insert(q.levels.end(), levels->begin(), levels->end());
    }
    if (!trim(typed.order).empty()) {
        auto order = parse_order(typed.order);
        if (!order) return fail(order.error());
        q.order = std::move(*order);
    }
    return q;
}

Result<std::vector<LevelWanted>> parse_levels(std::string_view text) {
    std::vector<LevelWanted> out;
    for (const auto part : split(text, ',')) {
        const auto equals = part.rfind('=');
        const auto level =
            equals == std::string_view::npos ? std::string_view() : trim(part.substr(equals + 1));
        const auto name = trim(part.substr(0, equals));
        if (name.empty() || (level != "0" && level != "1"))
            return fail_usage("level " + in_quotes(part), "SIGNAL=0 or SIGNAL=1, parted by commas");
        out.push_back({std::string(name), level == "1"});
    }
    return out;
}

Result<std::vector<OrderStep>> parse_order(std::string_view text) {
    std::vector<OrderStep> out;
    const std::string expected = "steps such as B:fall while A=1 then C:rise within 3us";
    for (std::size_t from = 0; from <= text.size();) {
        const auto then = text.find(" then ", from);
        auto step =
            trim(text.substr(from, then == std::string_view::npos ? std::string_view::npos : then - from));
        from = then == std::string_view::npos ? text.size() + 1 : then + 6;
        OrderStep s;
        if (const auto at = step.find(" within "); at != std::string_view::npos) {
            auto rest = step.substr(at + 8);
            const auto more = rest.find(" while ");
            const auto t = parse_time(trim(rest.substr(0, more)));
            if (!t || *t <= Time{}) return fail_usage("within " + in_quotes(rest), "a time such as 3us");
            s.within = *t;
            const std::string joined =
                std::string(step.substr(0, at)) +
                (more == std::string_view::npos ? std::string() : std::string(rest.substr(more)));
            if (const auto w = joined.find(" while "); w != std::string::npos) {
                auto levels = parse_levels(std::string_view(joined).substr(w + 7));
                if (!levels) return fail(levels.error());
                s.while_levels = std::move(*levels);
            }
            step = step.substr(0, std::min(at, step.find(" while ")));
        } else if (const auto w = step.find(" while "); w != std::string_view::npos) {
            auto levels = parse_levels(step.substr(w + 7));
            if (!levels) return fail(levels.error());
            s.while_levels = std::move(*levels);
            step = step.substr(0, w);
        }
        auto edge = parse_edge(trim(step));
        if (!edge) return fail_usage("order " + in_quotes(text), expected);
        s.edge = std::move(*edge);
        out.push_back(std::move(s));
    }
    if (out.empty()) return fail_usage("an empty order", expected);
    return out;
}

}  // namespace grayrelic
