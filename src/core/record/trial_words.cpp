// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/record/trial_words.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/decimal.hpp"
#include "core/base/text.hpp"
#include "core/record/trial_table.hpp"

namespace grayrelic {
namespace {

/// The first word, and what follows.
std::pair<std::string, std::string> first_word(std::string_view text) {
    text = trim(text);
    const auto end = text.find_first_of(" \t");
    if (end == std::string_view::npos) return {std::string(text), {}};
    return {std::string(text.substr(0, end)), std::string(trim(text.substr(end)))};
}

std::optional<double> number_of(std::string_view text) {
    return decimal_number(trim(text), '.');
}

Status take_factor(std::string_view part, const Dossier& d, TrialRun& t) {
    auto [name, value] = first_word(part);
    if (value.empty())
        return fail_usage("the factor " + in_quotes(name) + " without a value",
                          "such as \"host second machine\"");
    if (name == "unit") {
        for (const auto& u : *d.units)
            if (u.id == value || u.name == value) t.unit = u.id;
        return t.unit.empty() ? Status(fail_usage("the unit " + in_quotes(value), "a unit of Plan"))
                              : Status();
    }
    if (name == "image") {
        for (const auto& i : d.log->images)
            if (i.id == value || image_name(i) == value || i.version == value) t.image = i.id;
        return t.image.empty() ? Status(fail_usage("the image " + in_quotes(value), "an image of Log"))
                               : Status();
    }
    if (t.find_factor(name) != nullptr)
        return fail_usage("the factor " + in_quotes(name) + " twice", "each factor once");
    t.setup.push_back({std::move(name), std::move(value)});
    return {};
}

}  // namespace

Result<TrialRun> trial_from_text(std::string_view text, const Dossier& dossier) {
    const auto colon = text.find(':');
    auto [said, rest] = first_word(text.substr(0, colon));
    const auto outcome = named<TrialOutcome>(said);
    if (!outcome)
        return fail_usage(said.empty() ? "nothing" : in_quotes(said),
                          one_of<TrialOutcome>() +
                              ", a colon, and what was varied: \"fails: host second machine, R4 2.2k\"");
    TrialRun t;
    t.outcome = *outcome;
    if (!rest.empty()) {
        auto [number, of] = first_word(rest);
        t.degree = number_of(number);
        if (!t.degree) return fail_usage(in_quotes(number), "a number: how much, such as \"fails 12 %\"");
        t.degree_of = of;
    }
    if (colon == std::string_view::npos) return t;
    for (const auto part : split(text.substr(colon + 1), ',')) {
        if (trim(part).empty()) continue;
        if (auto taken = take_factor(part, dossier, t); !taken) return fail(taken.error());
    }
    return t;
}

std::string setup_text(const TrialRun& t) {
    std::string out;
    const auto add = [&](const std::string& piece) { out += (out.empty() ? "" : ", ") + piece; };
    for (const auto& f : t.setup) add(f.name + " " + f.value);
    if (!t.unit.empty()) add("unit " + t.unit);
    if (!t.image.empty()) add("image " + t.image);
    return out;
}

Result<CostLine> cost_from_text(std::string_view text) {
    const auto colon = text.find(':');
    auto [kind, rest] = first_word(text.substr(0, colon));
    const auto known = named<CostKind>(kind);
    if (!known)
        return fail_usage(
            in_quotes(kind),
            one_of<CostKind>() + ", money, and once, a batch or a piece: \"boards 24.50 a batch\"");
    CostLine c;
    c.kind = *known;
    auto [money, per] = first_word(rest);
    const auto amount = number_of(money);
    constexpr double most = 1e9;
    if (!amount || *amount < 0 || *amount > most)
        return fail_usage(in_quotes(money), "money, 0 or more: \"boards 24.50 a batch\"");
    c.money = *amount;
    const auto word_of_per = per.substr(per.rfind(' ') == std::string::npos ? 0 : per.rfind(' ') + 1);
    if (!per.empty()) {
        const auto way = named<CostPer>(word_of_per);
        if (!way) return fail_usage(in_quotes(per), "once, a batch or a piece");
        c.per = *way;
    }
    if (colon != std::string_view::npos) c.says = std::string(trim(text.substr(colon + 1)));
    return c;
}

Result<HoursSpent> hours_from_text(std::string_view text) {
    text = trim(text);
    if (text.ends_with(" h")) text.remove_suffix(2);
    const auto end = text.find_last_of(" \t");
    const auto hours = end == std::string_view::npos ? std::nullopt : number_of(text.substr(end));
    constexpr double most = 1e6;
    if (!hours || *hours <= 0 || *hours > most)
        return fail_usage(in_quotes(text), "a task and its hours: \"Solder a board 3.5\"");
    return HoursSpent{std::string(trim(text.substr(0, end))), *hours, {}, {}};
}

Result<UserCardLine> card_line_from_text(std::string_view text, CardKind kind) {
    const auto equals = text.find('=');
    UserCardLine l;
    l.kind = kind;
    l.when = std::string(trim(text.substr(0, equals)));
    if (equals != std::string_view::npos) l.means = std::string(trim(text.substr(equals + 1)));
    if (l.when.empty()) return fail_usage("nothing", "what is seen or done, = and what it means");
    return l;
}

}  // namespace grayrelic
