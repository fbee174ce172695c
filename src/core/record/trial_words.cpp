// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/record/trial_words.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/decimal.hpp"
#include "core/base/quantity.hpp"
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

std::optional<double> seconds_of(const std::string& text) {
    constexpr double an_hour = 3600, a_minute = 60;
    const auto [number, unit] = first_word(text);
    const auto plain = number_of(number);
    if (plain && (unit == "h" || unit == "min")) return *plain * (unit == "h" ? an_hour : a_minute);
    if (plain && unit.empty()) return plain;
    const auto time = parse_time(text);
    return time ? std::optional(time->seconds()) : std::nullopt;
}

/// What is no factor; nothing where it is one.
std::optional<Status> take_beside(const std::string& name, const std::string& value, TrialRun& t) {
    if (name == "beside") {
        t.beside = value;
        return Status();
    }
    if (name == "ran" || name == "ahead") {
        auto& into = name == "ran" ? t.ran_s : t.ahead_s;
        into = seconds_of(value);
        if (!into || (name == "ran" && *into <= 0))
            return Status(fail_usage(in_quotes(value), "a time, such as \"ran 3600 s\""));
        return Status();
    }
    if (name == "expected") {
        const std::string_view sign = "±";
        const auto at = value.find(sign);
        t.expected = number_of(std::string_view(value).substr(0, at));
        if (at != std::string::npos)
            t.plus_minus = number_of(std::string_view(value).substr(at + sign.size()));
        const bool unsure = at != std::string::npos && (!t.plus_minus || *t.plus_minus < 0);
        if (!t.expected || unsure)
            return Status(fail_usage(in_quotes(value), "a number, such as \"expected 60 ± 5\""));
        return Status();
    }
    if (name == "read") {
        const auto equals = value.find('=');
        if (equals == std::string::npos)
            return Status(fail_usage(in_quotes(value), "what was read, = and its value"));
        t.readings.push_back(
            {std::string(trim(value.substr(0, equals))), std::string(trim(value.substr(equals + 1)))});
        return Status();
    }
    return std::nullopt;
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
    if (const auto said = take_beside(name, value, t)) return *said;
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

Result<CoverItem> cover_from_text(std::string_view text, const std::string& day) {
    const auto first = text.find(':');
    const auto outcome = named<TrialOutcome>(trim(text.substr(0, first)));
    const auto rest = first == std::string_view::npos ? std::string_view{} : text.substr(first + 1);
    const auto second = rest.find(':');
    CoverItem item;
    item.name = std::string(trim(rest.substr(0, second)));
    if (!outcome || item.name.empty())
        return fail_usage(in_quotes(text),
                          one_of<TrialOutcome>() +
                              ", a colon and what it was tried with: \"partly: Night Ferry: dial fast\"");
    if (*outcome != TrialOutcome::not_said) item.said.push_back({*outcome, {}, day, {}, {}});
    if (second == std::string_view::npos) return item;
    for (const auto part : split(rest.substr(second + 1), ',')) {
        const auto [word, value] = first_word(part);
        if (word.empty()) continue;
        if ((word != "current" && word != "poll") || value.empty()) {
            item.uses.emplace_back(trim(part));
            continue;
        }
        std::optional<double> number;
        if (word == "poll") {
            number = seconds_of(value);
        } else if (const auto amps = parse_quantity<Unit::ampere>(value)) {
            number = amps->value();
        }
        if (!number || *number <= 0)
            return fail_usage(in_quotes(part), "such as \"current 18 mA\" or \"poll 4 ms\"");
        item.kind = CoverKind::device;
        NumberFact figure;
        figure.key = word;
        figure.value.value = *number;
        figure.value.evidence = {EvidenceKind::measured, "entered in Log", day, {}};
        item.figures.push_back(std::move(figure));
    }
    return item;
}

Result<LoggedDecision> decision_from_text(std::string_view text) {
    const auto pieces = split(text, ';');
    const auto head = split(pieces.front(), ':');
    constexpr std::size_t parts_of_head = 2;
    LoggedDecision d;
    d.says = std::string(trim(head.front()));
    if (head.size() >= parts_of_head) d.chosen = std::string(trim(head[1]));
    for (std::size_t i = parts_of_head; i < head.size(); ++i)
        d.why += (d.why.empty() ? "" : ": ") + std::string(trim(head[i]));
    if (d.says.empty() || d.chosen.empty())
        return fail_usage(
            in_quotes(text),
            "what was decided, a colon and what was chosen: \"firmware or logic: logic: in time\"");
    for (std::size_t i = 1; i < pieces.size(); ++i) {
        const auto equals = pieces[i].find('=');
        const auto name = trim(pieces[i].substr(0, equals));
        if (name.empty() || equals == std::string_view::npos)
            return fail_usage(in_quotes(pieces[i]), "a way, = and what speaks for it / against it");
        const auto reasons = pieces[i].substr(equals + 1);
        const auto slash = reasons.find('/');
        d.ways.push_back(
            {std::string(name), std::string(trim(reasons.substr(0, slash))),
             slash == std::string_view::npos ? std::string() : std::string(trim(reasons.substr(slash + 1)))});
    }
    return d;
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
