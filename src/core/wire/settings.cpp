// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wire/settings.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr double agrees = 0.05;  ///< a setting that is within this of what is wanted

std::string setting_volts(double v) {
    return print_number(v, Unit::volt);
}

/// The tree with the setting's source at these volts. A setting changes the middle; the tolerance stays.
SettingTry try_at(const RailTree& rails, const std::string& source, std::string name, double at) {
    SettingTry out;
    out.name = std::move(name);
    out.volts = at;
    auto changed = rails;
    for (auto& s : changed.sources)
        if (s.name == source) s.volts = at;
    const auto figures = rail_figures(changed, {}, usual_ambient_c);
    for (std::size_t i = 0; i < changed.loads.size(); ++i) {
        const auto& l = changed.loads[i];
        const auto& f = figures.loads[i];
        if (l.dies_v && f.most > *l.dies_v + 1e-9)
            out.dies.push_back(fmt::format("{} gets {} and endures {}", l.name, setting_volts(f.most),
                                           setting_volts(*l.dies_v)));
        else if (l.works_v && f.least < *l.works_v - 1e-9)
            out.starves.push_back(fmt::format("{} gets {} and needs {}", l.name, setting_volts(f.least),
                                              setting_volts(*l.works_v)));
    }
    for (const auto& p : figures.parts)
        if (p.headroom_v && *p.headroom_v < -1e-9)
            out.starves.push_back(
                fmt::format("{} lacks {} to regulate", p.ref, setting_volts(-*p.headroom_v)));
        else if (p.junction_c && *p.junction_c > 125)
            out.dies.push_back(fmt::format("{} reaches {:.0f} °C", p.ref, *p.junction_c));
    out.verdict = !out.dies.empty() ? Verdict::stop : !out.starves.empty() ? Verdict::doubt : Verdict::holds;
    return out;
}

/// What the source reaches, up to regulators, and of which nobody has said what it endures: chips on its
/// rails, and regulators whose input rail no load with a limit stands on.
std::vector<std::string> without_limits(const RailTree& rails, const std::string& source) {
    std::set<std::string> reached{source};
    for (bool more = true; more;) {
        more = false;
        for (const auto& p : rails.parts)
            if ((p.kind == RailPartKind::drop || p.kind == RailPartKind::switched) &&
                reached.count(p.from) > 0)
                more |= reached.insert(p.to).second;
    }
    std::vector<std::string> out;
    for (const auto& l : rails.loads)
        if (reached.count(l.rail) > 0 && !l.dies_v && l.amount.kind != RailAmount::Kind::ohms)
            out.push_back(l.name);
    for (const auto& p : rails.parts) {
        if (p.kind != RailPartKind::linear && p.kind != RailPartKind::switcher) continue;
        const bool said = std::any_of(rails.loads.begin(), rails.loads.end(),
                                      [&](const auto& l) { return l.rail == p.from && l.dies_v; });
        if (reached.count(p.from) > 0 && !said) out.push_back("the input of " + p.ref);
    }
    return out;
}

void find_highest(SettingStudy& s, const RailTree& rails, double least, double most) {
    if (!try_at(rails, s.setting.source, {}, least).dies.empty()) return;
    double fine = least, dies = most;
    if (try_at(rails, s.setting.source, {}, most).dies.empty()) {
        s.highest_v = most;
        return;
    }
    for (int step = 0; step < 40; ++step) {
        const double middle = (fine + dies) / 2;
        (try_at(rails, s.setting.source, {}, middle).dies.empty() ? fine : dies) = middle;
    }
    s.highest_v = fine;
}

void judge(SettingStudy& s, const RailTree& rails) {
    const auto& x = s.setting;
    const bool one_kills =
        std::any_of(s.tries.begin(), s.tries.end(), [](const auto& t) { return !t.dies.empty(); });
    if (x.want && !try_at(rails, x.source, {}, *x.want).dies.empty()) {
        s.verdict = Verdict::stop;
        s.says = fmt::format("What is wanted, {}, kills: {}.", setting_volts(*x.want),
                             try_at(rails, x.source, {}, *x.want).dies.front());
        s.todo = "Correct what is wanted, or the limit of what would die.";
        return;
    }
    const auto unsaid = without_limits(rails, x.source);
    if (!x.now.value) {
        s.verdict = one_kills || !unsaid.empty() ? Verdict::doubt : Verdict::holds;
        s.says = one_kills ? "What it is at has not been measured, and a position of it kills."
                           : "What it is at has not been measured.";
        s.todo = s.measure;
        return;
    }
    const auto now = try_at(rails, x.source, {}, *x.now.value + x.now.uncertainty.value_or(0));
    if (!now.dies.empty()) {
        s.verdict = Verdict::stop;
        s.says = fmt::format("At {} it kills: {}.", setting_volts(*x.now.value), fmt::join(now.dies, "; "));
        s.todo =
            x.want ? fmt::format("Plug nothing in. Set it to {} first. {}", setting_volts(*x.want), s.measure)
                   : "Plug nothing in before it is set. " + s.measure;
        return;
    }
    if (x.want && std::abs(*x.now.value - *x.want) > agrees * std::abs(*x.want)) {
        s.verdict = now.starves.empty() ? Verdict::doubt : Verdict::stop;
        s.says = fmt::format("It is at {}, and {} is wanted.", setting_volts(*x.now.value),
                             setting_volts(*x.want));
        if (!now.starves.empty()) s.says += fmt::format(" {}.", now.starves.front());
        s.todo = fmt::format("Set it to {}. {}", setting_volts(*x.want), s.measure);
        return;
    }
    s.verdict = unsaid.empty() ? Verdict::holds : Verdict::doubt;
    s.says = fmt::format("It is at {}.", setting_volts(*x.now.value));
    if (s.verdict == Verdict::doubt) {
        s.says += fmt::format(" What {} endures is not said.", fmt::join(unsaid, ", "));
        s.todo = "Write dies behind a load under Rails; for a regulator's input a load of 0A on its rail.";
    } else if (x.now.evidence.kind == EvidenceKind::assumed) {
        s.verdict = Verdict::doubt;
        s.says += " That is assumed.";
        s.todo = s.measure;
    }
}

}  // namespace

std::string_view label(SettingKind kind) {
    switch (kind) {
        case SettingKind::trimmer: return "trimmer";
        case SettingKind::jumper: return "jumper";
        case SettingKind::selector: return "selector";
        case SettingKind::host: return "on the relic";
    }
    return "jumper";
}

Result<SettingPosition> position_from_text(std::string_view text) {
    text = trim(text);
    const auto space = text.rfind(' ');
    constexpr auto expected = "a name and volts, such as: left 12V";
    if (space == std::string_view::npos) return fail_usage(in_quotes(text), expected);
    const auto v = parse_number(trim(text.substr(space + 1)), Unit::volt);
    if (!v || !(*v > 0 && *v <= 1000)) return fail_usage(in_quotes(text.substr(space + 1)), expected);
    SettingPosition p;
    p.name = std::string(trim(text.substr(0, space)));
    p.volts = *v;
    return p;
}

SettingStudy study_setting(const WireSetting& setting, const RailTree& rails) {
    SettingStudy s;
    s.setting = setting;
    s.measure = !setting.measure.empty()
                    ? setting.measure
                    : fmt::format("With the socket empty, measure {} against ground{}.",
                                  setting.source.empty() ? "its supply" : setting.source,
                                  setting.want ? fmt::format(": {} is wanted", setting_volts(*setting.want))
                                               : std::string());
    if (rails.find_source(setting.source) == nullptr) {
        std::vector<std::string> names;
        for (const auto& source : rails.sources) names.push_back(source.name);
        s.problem = setting.source.empty() ? "Which source it sets is not said."
                                           : fmt::format("No source is named {}.", setting.source);
        if (!names.empty()) s.problem += fmt::format(" There are {}.", fmt::join(names, ", "));
        s.verdict = Verdict::doubt;
        return s;
    }
    for (const auto& p : setting.positions) s.tries.push_back(try_at(rails, setting.source, p.name, p.volts));
    if (setting.least) s.tries.push_back(try_at(rails, setting.source, "turned down", *setting.least));
    if (setting.most) s.tries.push_back(try_at(rails, setting.source, "turned up", *setting.most));
    if (setting.least && setting.most) find_highest(s, rails, *setting.least, *setting.most);
    judge(s, rails);
    return s;
}

}  // namespace grayrelic
