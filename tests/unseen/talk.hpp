// SPDX-License-Identifier: GPL-3.0-or-later
// A conversation being put together. For the files of replies.hpp only.
#pragma once

#include <algorithm>

#include "tests/unseen/replies.hpp"

namespace grayrelic::unseen {

struct Talk {
    Draft draft;
    Conversation c;
    Dice& dice;
    explicit Talk(std::uint64_t seed) : draft(seed * 0xD1B54A32D192ED03ULL + 77), dice(draft.dice) {
        draft.made.wires.reserve(40);
    }
    Wire& wire(const std::string& name, bool rests) { return draft.wire(name, rests); }
    Wire& find(const std::string& name) {
        return *std::find_if(draft.made.wires.begin(), draft.made.wires.end(),
                             [&](const Wire& w) { return w.name == name; });
    }
    Reply& reply(const std::string& cause, const std::string& answer) {
        for (auto& r : c.replies)
            if (r.cause == cause && r.answer == answer) return r;
        c.replies.push_back({cause, answer, {}});
        return c.replies.back();
    }
    /// The line takes a level some time after its cause; written down when it shows.
    void answer(const std::string& cause, double at, const std::string& line, double delay, bool level) {
        auto& w = find(line);
        auto& r = reply(cause, line);
        if (w.level() == level) return;
        w.set(at + delay, level);
        r.delays.push_back(static_cast<double>(w.edges.back()) - at);
    }
};

inline std::string edge(const std::string& line, bool rises) {
    return line + (rises ? ":rise" : ":fall");
}

// Two sides on one wire or two, and what clocks by itself.
void one_wire(Talk& t);
void serial(Talk& t, bool same_line);
void serial_alone(Talk& t);
void framed(Talk& t, bool holds);
void quadrature(Talk& t);

}  // namespace grayrelic::unseen
