// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/listen/hunt_captures.hpp"

#include <algorithm>

#include "core/base/long_work.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_of_a_title = 24;

/// Of plain letters; others stay.
std::string lower_case(std::string text) {
    for (auto& c : text)
        if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
    return text;
}

/// At rest, or with moments that say so.
bool says_rest(const CaptureAnalysis& c, const Pressed& pressed) {
    const auto it = pressed.find(c.ref.id);
    return (it != pressed.end() && it->second.empty()) || !c.ref.moments.empty();
}

}  // namespace

Pressed guess_pressed(const std::vector<std::shared_ptr<const CaptureAnalysis>>& captures, Pressed known,
                      const std::set<std::string>& said) {
    bool rest =
        std::any_of(known.begin(), known.end(), [](const auto& entry) { return entry.second.empty(); });
    for (const auto& c : captures) {
        const auto& id = c->ref.id;
        if (!c->ref.moments.empty()) {
            known.erase(id);
            continue;
        }
        if (known.contains(id) || said.contains(id) || !c->decoding) continue;
        const auto title = lower_case(c->ref.title);
        const auto holds = [&](const char* word) { return title.find(word) != std::string::npos; };
        if ((holds("idle") || holds("rest") || holds("nothing")) && !rest) {
            known[id] = {};
            rest = true;
        } else if (id.starts_with("button-")) {
            known[id] = id.substr(7);
        } else if (holds("press") || title.starts_with("button")) {
            known[id] = c->ref.title.substr(0, most_of_a_title);
        }
    }
    return known;
}

std::string hunted_family(const std::vector<std::shared_ptr<const CaptureAnalysis>>& captures,
                          const Pressed& pressed) {
    for (const auto& c : captures)
        if (c->decoding && says_rest(*c, pressed)) return c->ref.decode.kind;
    return {};
}

CaptureHunt hunt_captures(const std::vector<std::shared_ptr<const CaptureAnalysis>>& captures,
                          const Pressed& pressed) {
    long_work("hunt_captures");
    CaptureHunt out;
    std::vector<HuntTake> takes;
    takes.push_back({{}, {}});  // at rest
    const auto take = [&](const std::string& name) -> HuntTake& {
        for (auto& t : takes)
            if (t.name == name) return t;
        return takes.emplace_back(HuntTake{name, {}});
    };
    const auto family = hunted_family(captures, pressed);
    for (const auto& c : captures) {
        if (!c->decoding || c->ref.decode.kind != family) continue;
        const auto it = pressed.find(c->ref.id);
        if (it == pressed.end() && c->ref.moments.empty()) continue;
        if (out.names.empty()) out.names = c->ref.decode.bits;
        if (!c->ref.moments.empty()) {
            std::vector<HuntMoment> moments;
            for (const auto& m : c->ref.moments) moments.push_back({m.pressed, {m.from, m.to}});
            const auto found = takes_at(*c->decoding, moments);
            for (std::size_t i = 0; i < found.size(); ++i) {
                auto& into = i == 0 ? takes.front() : take(found[i].name);
                into.frames.insert(into.frames.end(), found[i].frames.begin(), found[i].frames.end());
            }
            continue;
        }
        auto& into = take(it->second);
        for (const auto& f : c->decoding->frames) into.frames.push_back(&f);
    }
    out.any = !takes.front().frames.empty();
    out.ready = out.any && takes.size() >= 2;
    if (out.ready) out.result = hunt(takes);
    return out;
}

long words_within(const Decoding& decoding, Span span) {
    const auto& f = decoding.frames;
    const auto first =
        std::partition_point(f.begin(), f.end(), [&](const Frame& x) { return x.start < span.from; });
    const auto last = std::partition_point(first, f.end(), [&](const Frame& x) { return x.end <= span.to; });
    return static_cast<long>(last - first);
}

}  // namespace grayrelic
