// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/capture.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "core/base/text.hpp"

namespace grayrelic {

std::size_t Capture::edge_count() const {
    std::size_t n = 0;
    for (const auto& s : signals) n += s.digital ? s.digital->edges().size() : 0;
    return n;
}

std::string unique_ending(const Capture& capture, std::string_view name) {
    for (auto dot = name.rfind('.'); dot != std::string_view::npos && dot > 0;
         dot = name.rfind('.', dot - 1)) {
        const auto ending = name.substr(dot);  // with its dot
        const auto ends = [&](const Signal& s) {
            return s.name.ends_with(ending) || s.name == ending.substr(1);
        };
        if (std::count_if(capture.signals.begin(), capture.signals.end(), ends) <= 1)
            return std::string(ending.substr(1));
    }
    return std::string(name);
}

Result<const Signal*> Capture::find(std::string_view name) const {
    const Signal* found = nullptr;
    std::size_t matches = 0;
    for (const auto& s : signals) {
        if (s.name == name) return &s;
        const std::string_view path = s.name;
        if (path.size() > name.size() && path.ends_with(name) && path[path.size() - name.size() - 1] == '.') {
            found = &s;
            ++matches;
        }
    }
    if (matches == 1) return found;
    for (const auto& [called, own] : also_called)
        if (called == name && own != name) return find(own);
    std::string known;
    for (std::size_t i = 0; i < signals.size() && i < 12; ++i)
        known += (i == 0 ? "" : ", ") + signals[i].name;
    if (signals.size() > 12) known += fmt::format(" and {} more", signals.size() - 12);
    if (matches > 1)
        return fail_usage(fmt::format("signal {}, which {} names end with", in_quotes(name), matches),
                          "a longer ending of one of: " + known);
    return fail_usage("signal " + in_quotes(name),
                      known.empty() ? "a capture with signals" : "one of: " + known);
}

Result<const DigitalWaveform*> Capture::find_digital(std::string_view name) const {
    const auto signal = find(name);
    if (!signal) return fail(signal.error());
    if (!(*signal)->digital) return fail_usage("signal " + in_quotes(name), "a digital signal");
    return (*signal)->digital.get();
}

std::string short_name(std::string_view name) {
    const auto dot = name.rfind('.');
    return std::string(dot == std::string_view::npos ? name : name.substr(dot + 1));
}

Result<EdgeName> parse_edge(std::string_view text) {
    const auto colon = text.rfind(':');
    const auto wrong = [&] {
        return fail_usage(in_quotes(text), "an edge like STEP:rise, STEP:fall or STEP:any");
    };
    if (colon == std::string_view::npos || colon == 0) return wrong();
    EdgeName edge{std::string(trim(text.substr(0, colon))), Direction::any};
    const auto d = trim(text.substr(colon + 1));
    if (edge.signal.empty()) return wrong();
    if (d == "rise")
        edge.direction = Direction::rise;
    else if (d == "fall")
        edge.direction = Direction::fall;
    else if (d != "any")
        return wrong();
    return edge;
}

std::string print_edge(const EdgeName& edge) {
    return edge.signal + ":" + std::string(word(edge.direction));
}

std::string show_edge(const EdgeName& edge) {
    if (edge.direction == Direction::any) return edge.signal;
    return edge.signal + (edge.direction == Direction::rise ? " ↑" : " ↓");
}

Direction opposite(Direction d) {
    if (d == Direction::any) return d;
    return d == Direction::rise ? Direction::fall : Direction::rise;
}

std::string_view word(Direction d) {
    if (d == Direction::any) return "any";
    return d == Direction::rise ? "rise" : "fall";
}

}  // namespace grayrelic
