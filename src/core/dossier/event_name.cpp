// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/event_name.hpp"

#include <charconv>
#include <utility>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr std::pair<std::string_view, EventName::Moment> turns[] = {
    {"poll:start", EventName::Moment::poll_start},
    {"poll:end", EventName::Moment::poll_end},
    {"answer:start", EventName::Moment::answer_start},
    {"answer:end", EventName::Moment::answer_end}};

}  // namespace

Result<EventName> parse_event(std::string_view text) {
    constexpr std::string_view frame = "frame:", after = " after ";
    EventName e;
    for (const auto& [name, moment] : turns)
        if (text == name) {
            e.moment = moment;
            return e;
        }
    if (!text.starts_with(frame)) {
        if (const auto at = text.rfind(after); at != std::string_view::npos) {
            const auto stayed = parse_time(text.substr(at + after.size()));
            if (!stayed || *stayed <= Time{})
                return fail_usage(in_quotes(text),
                                  "a time above 0 behind “after”, as in STEP:rise after 150us");
            e.after = *stayed;
            text = text.substr(0, at);
        }
        auto edge = parse_edge(text);
        if (!edge) return fail(edge.error());
        e.edge = std::move(*edge);
        return e;
    }
    const auto moment = text.substr(frame.size());
    if (moment == "start")
        e.moment = EventName::Moment::start;
    else if (moment == "end")
        e.moment = EventName::Moment::end;
    else if (moment == "error")
        e.moment = EventName::Moment::error;
    else if (moment.starts_with("bit")) {
        const auto digits = moment.substr(3);
        const auto [end, code] = std::from_chars(digits.data(), digits.data() + digits.size(), e.bit);
        e.moment = EventName::Moment::bit;
        if (code != std::errc() || end != digits.data() + digits.size() || e.bit < 1 || e.bit > 64)
            return fail_usage(in_quotes(text), "a bit from frame:bit1 to frame:bit64");
    } else {
        return fail_usage(in_quotes(text), "frame:start, frame:end, frame:bitN or frame:error");
    }
    return e;
}

std::string show_event(const EventName& e) {
    switch (e.moment) {
        case EventName::Moment::start: return "frame's start";
        case EventName::Moment::end: return "frame's end";
        case EventName::Moment::error: return "faulty frame";
        case EventName::Moment::bit: return "frame's bit " + std::to_string(e.bit);
        case EventName::Moment::poll_start: return "poll's start";
        case EventName::Moment::poll_end: return "poll's end";
        case EventName::Moment::answer_start: return "answer's start";
        case EventName::Moment::answer_end: return "answer's end";
        case EventName::Moment::edge: break;
    }
    return show_edge(e.edge) + (e.after > Time{} ? " after " + print(e.after) : std::string());
}

}  // namespace grayrelic
