// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/derive_contract.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/long_work.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/decode/identify.hpp"
#include "core/decode/settings.hpp"
#include "core/timing/contract.hpp"
#include "core/timing/derive_parts.hpp"

namespace grayrelic {
namespace derive_parts {

namespace {

constexpr double strays = 0.05;     ///< share of replies that may be changes of their own
constexpr double stray_step = 4;    ///< how far the first of them lies behind all others
constexpr std::size_t enough = 20;  ///< replies, to call one a stray

/// A border between replies and the few changes that come far behind all of them; nothing where there are
/// none.
std::optional<Time> stray_border(std::vector<Time> lengths, Time sample) {
    if (lengths.size() < enough) return std::nullopt;
    std::sort(lengths.begin(), lengths.end());
    const auto first =
        static_cast<std::size_t>(std::ceil((1 - strays) * static_cast<double>(lengths.size())));
    for (auto i = std::max<std::size_t>(first, 1); i < lengths.size(); ++i) {
        const auto below = static_cast<double>(std::max(lengths[i - 1], sample).count()),
                   above = static_cast<double>(lengths[i].count());
        if (above > stray_step * below)
            return Time::ps(static_cast<std::int64_t>(std::sqrt(std::max(1.0, below) * above)));
    }
    return std::nullopt;
}

}  // namespace

Draft::Draft(const DeriveFrom& from)
    : from_(from), sample_(std::max(Time::ps(1), from.sample_period.value_or(from.capture.resolution))) {
    out_.question.capture = from.id;
    out_.question.guard.evidence = {EvidenceKind::assumed, "no guard set", "", ""};
}

std::string Draft::role(std::string_view name) const {
    const auto it = from_.roles.find(std::string(name));
    return it == from_.roles.end() || it->second.empty() ? std::string() : it->second.front();
}

std::vector<std::string> Draft::roles(std::string_view name) const {
    const auto it = from_.roles.find(std::string(name));
    return it == from_.roles.end() ? std::vector<std::string>{} : it->second;
}

std::string Draft::setting(std::string_view name) const {
    const auto it = from_.decoding.settings.find(std::string(name));
    if (it == from_.decoding.settings.end()) return {};
    if (const auto* number = std::get_if<long long>(&it->second)) return std::to_string(*number);
    const auto* text = std::get_if<std::string>(&it->second);
    return text == nullptr ? std::string() : *text;
}

const Unsure* Draft::unsure_of_reading(std::string_view setting) const {
    for (const auto& u : from_.decoding.unsure)
        if (u.what == setting) return &u;
    return nullptr;
}

const DigitalWaveform& Draft::line(const std::string& signal) const {
    static const DigitalWaveform none;
    const auto found = from_.capture.find_digital(signal);
    return found ? **found : none;
}

Lines Draft::lines(const std::vector<std::string>& signals) const {
    Lines out;
    for (const auto& s : signals)
        if (!s.empty()) out.push_back(&line(s));
    return out;
}

ContractInterval& Draft::add(const char* id, std::string name, const std::string& from, const std::string& to,
                             IntervalKind kind, std::optional<Time> within) {
    auto& list = out_.intervals;
    ContractInterval i;
    i.id = id;
    for (int n = 2; std::any_of(list.begin(), list.end(), [&](const auto& o) { return o.id == i.id; }); ++n)
        i.id = id + std::string("-") + std::to_string(n);
    i.name = std::move(name);
    i.from = from;
    i.to = to;
    i.kind = kind;
    i.capture = from_.id;
    i.within = within;
    i.evidence = {EvidenceKind::measured, "", "", ""};
    return list.emplace_back(std::move(i));
}

void Draft::response(const char* id, const std::string& name, const std::string& from, const std::string& to,
                     const std::vector<std::string>& until, std::optional<Time> within) {
    auto& i = add(id, name, from, to, IntervalKind::response, within);
    i.until = until;
    i.at_once = true;
    const auto measured = measure_interval(i, from_.capture, &from_.decoding);
    if (!measured) return;
    std::vector<Time> lengths;
    for (const auto& x : measured->answered) lengths.push_back(x.length());
    const auto border = stray_border(lengths, sample_);
    if (!border) return;
    i.within = border;
    const auto late = std::count_if(lengths.begin(), lengths.end(), [&](Time t) { return t > *border; });
    not_sure(i.name, {print(*border)},
             fmt::format("{} of {} come later than all others and are not counted: changes of their own, or "
                         "replies that are rarely slow; a recording in which nothing is pressed would tell",
                         late, lengths.size()));
}

void Draft::pulses(const std::string& signal, std::optional<Time> within) {
    if (signal.empty()) return;
    const auto name = short_name(signal);
    add((name + "-high").c_str(), name + " high", signal + ":rise", signal + ":fall", IntervalKind::width,
        within);
    add((name + "-low").c_str(), name + " low", signal + ":fall", signal + ":rise", IntervalKind::width,
        within);
}

void Draft::frames() {
    add("frame", "Frame", "frame:start", "frame:end", IntervalKind::width);
    add("frame-gap", "Gap between frames", "frame:end", "frame:start", IntervalKind::gap);
}

void Draft::ask(const std::string& trigger, const std::string& answer) {
    out_.question.trigger = trigger;
    out_.question.answer = answer;
}

void Draft::look(const std::string& look, std::optional<Time> within, const std::string& why) {
    out_.question.look.value = look;
    out_.question.look.evidence = {EvidenceKind::assumed, why, "", ""};
    out_.question.within = within;
}

void Draft::nobody_answers(const std::string& why) {
    out_.question.trigger.clear();
    out_.question.answer.clear();
    out_.question.look.value.clear();
    for (const char* what : {"trigger", "answer", "look"}) not_sure(what, {}, why);
}

void Draft::not_sure(const std::string& what, std::vector<std::string> values,
                     const std::string& would_tell) {
    out_.unsure.push_back({what, std::move(values), would_tell});
}

void Draft::cause_is_open(const CauseStudy& study, const std::vector<std::string>& candidates) {
    if (study.settled) return;
    std::vector<std::string> values;
    for (const auto& fit : study.fits) values.push_back(candidates[fit.which]);
    if (values.size() < 2) values = candidates;
    not_sure(
        "trigger", std::move(values),
        "a recording at another clock rate, or in which the clock's pulses are not all of one width: the "
        "answer keeps its distance from the edge that causes it");
}

Time rounded_up(Time t) {
    std::int64_t step = 1;
    while (t.count() / step >= 10'000) step *= 10;
    return Time::ps((t.count() + step - 1) / step * step);
}

Time burst_limit(const DigitalWaveform& clock) {
    const auto edges = clock.edges();
    constexpr std::size_t enough_edges = 50'000;
    const std::vector<Time> some(
        edges.begin(), edges.begin() + static_cast<std::ptrdiff_t>(std::min(edges.size(), enough_edges)));
    return median_distance(some).value_or(Time::us(12)) * 8;
}

}  // namespace derive_parts

namespace {

using derive_parts::Draft;

/// Does the answer keep its distance from what asks for it? Lines that have nothing to do with each other are
/// anywhere between two triggers, or as often as they change themselves.
bool answers_evenly(const DeriveFrom& from, const ReplyQuestion& question) {
    constexpr std::size_t fewest = 12;
    if (question.trigger.empty()) return false;
    auto rules = reply_interval(from.id, question.trigger, question.answer);
    const auto event = parse_event(question.trigger);
    const auto times = event ? event_times(*event, from.capture, &from.decoding)
                             : Result<std::vector<Time>>(fail(event.error()));
    const auto apart = times ? median_distance(*times) : std::nullopt;
    const auto measured = measure_interval(rules, from.capture, &from.decoding);
    const auto answers = parse_edge(question.answer);
    const auto line = answers ? from.capture.find_digital(answers->signal)
                              : Result<const DigitalWaveform*>(fail(answers.error()));
    if (!apart || !line || !measured || measured->answered.size() < fewest) return false;
    const auto moves = (*line)->edges();
    const Time own = median_distance({moves.begin(), moves.end()}).value_or(*apart);
    std::vector<Time> delays;
    for (const auto& i : measured->answered) delays.push_back(i.length());
    std::sort(delays.begin(), delays.end());
    const Time spread = delays[delays.size() * 9 / 10] - delays[delays.size() / 20];
    return spread * 5 < std::min(*apart, own) * 3;
}

/// Do the lines do what the family says they do? More errors than mishaps explain, or an identification that
/// does not find the family on these lines, says no.
bool reading_fits(const DeriveFrom& from, const ReplyQuestion& question, Progress& progress) {
    constexpr double most_errors = 0.25;
    constexpr std::size_t trial = 12'000;
    const auto& d = from.decoding;
    if (d.frames.empty() && d.counts.empty()) return false;
    if (!d.frames.empty() &&
        static_cast<double>(d.frames_with_errors()) > most_errors * static_cast<double>(d.frames.size()))
        return false;
    if (answers_evenly(from, question)) return true;
    IdentifyOptions options;
    options.trial_edges = trial;
    options.sample_period = from.sample_period;
    for (const auto& [role, names] : from.roles)
        options.signals.insert(options.signals.end(), names.begin(), names.end());
    const auto found = identify(from.capture, options, progress);
    if (!found) return true;
    return std::any_of(found->begin(), found->end(),
                       [&](const Candidate& c) { return c.kind == d.kind && c.score >= least_fit; });
}

void say_that_it_does_not_fit(DerivedContract& out, const Decoding& d) {
    out.fits = false;
    for (auto& i : out.intervals) i.evidence.kind = EvidenceKind::assumed;
    out.unsure.insert(
        out.unsure.begin(),
        {"reading",
         {},
         fmt::format("These lines do not do what {} promises ({} of {} words with errors): other "
                     "roles or another family; nothing below is measured",
                     d.kind, d.frames_with_errors(), d.frames.size())});
}

}  // namespace

const Unsure* DerivedContract::find_unsure(std::string_view what) const {
    for (const auto& u : unsure)
        if (u.what == what) return &u;
    return nullptr;
}

ContractInterval reply_interval(const std::string& capture, const std::string& trigger,
                                const std::string& answer) {
    ContractInterval i;
    i.id = "reply";
    i.name = "Original's reply";
    i.from = trigger;
    i.to = answer;
    i.kind = IntervalKind::response;
    i.capture = capture;
    i.at_once = true;
    i.evidence = {EvidenceKind::measured, "", "", ""};
    return i;
}

Result<DerivedContract> derive_contract(const DeriveFrom& from, Progress& progress) {
    long_work("derive_contract");
    for (const auto& [role, names] : from.roles)
        for (const auto& name : names)
            if (auto found = from.capture.find_digital(name); !found) return fail(found.error());
    Draft draft(from);
    using Family = void (*)(Draft&);
    constexpr std::pair<std::string_view, Family> families[] = {
        {"latch-shift", derive_parts::latch_shift},   {"clocked", derive_parts::clocked},
        {"framed-clock", derive_parts::framed_clock}, {"select-bank", derive_parts::select_bank},
        {"strobed-bus", derive_parts::strobed_bus},   {"matrix", derive_parts::matrix},
        {"pulse-width", derive_parts::one_wire},      {"async-serial", derive_parts::async_serial},
        {"quadrature", derive_parts::quadrature},     {"usb-low-full", derive_parts::usb}};
    const auto* family = std::find_if(std::begin(families), std::end(families),
                                      [&](const auto& f) { return f.first == from.decoding.kind; });
    if (family == std::end(families))
        draft.nobody_answers(from.decoding.kind + " is put together from words: derive from the line itself");
    else
        family->second(draft);
    if (progress.cancelled()) return fail_cancelled();
    auto out = std::move(draft.out());
    if (!reading_fits(from, out.question, progress)) say_that_it_does_not_fit(out, from.decoding);
    if (progress.cancelled()) return fail_cancelled();
    return out;
}

}  // namespace grayrelic
