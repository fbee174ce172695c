// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/event_name.hpp"

#include <charconv>

#include "core/base/text.hpp"

namespace grayrelic {

Result<EventName> parse_event(std::string_view text) {
    constexpr std::string_view frame = "frame:";
    EventName e;
    if (!text.starts_with(frame)) {
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
        case EventName::Moment::edge: break;
    }
    return show_edge(e.edge);
}

}  // namespace grayrelic
