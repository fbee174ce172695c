// SPDX-License-Identifier: GPL-3.0-or-later
// What the files of TimingWork share. For them only.
#pragma once

#include "core/timing/timing_analysis.hpp"

namespace grayrelic {

/// The replies that were asked for.
struct TimingWork::Question {
    std::shared_ptr<const std::vector<ReplyTask>> tasks;
    std::string problem;
    std::optional<Time> least_allowed;
};

/// A simulation, without what only names it.
struct TimingWork::Replies {
    std::optional<ReplySummary> summary;
    std::optional<ReplyModel> model;
    std::vector<Sensitivity> sensitivity;
    std::vector<ReplyCorner> corners;
    std::shared_ptr<const NetworkReply> network;
    std::string problem;
};

template <class T>
void TimingWork::set(std::shared_ptr<const T>& place, std::shared_ptr<const T> value) {
    {
        const std::lock_guard lock(mutex_);
        place = std::move(value);
    }
    changed_();
}

/// One part for each thing of a list, published as soon as it is made; false when interrupted. `make` gives
/// null then.
template <class Thing, class Made, class Make>
bool TimingWork::each(const std::vector<Thing>& things, List<Made>& places, Make make) {
    for (std::size_t i = 0; i < places.size(); ++i) {
        std::shared_ptr<const Made> made = make(things[i]);
        if (!made) return false;
        set(places[i], std::move(made));
    }
    return true;
}

namespace timing_parts {

inline constexpr double option_weight = 4;

/// What is measured of a capture: it keeps the capture alive while a part is made from it.
struct Source {
    std::string id, title;
    std::shared_ptr<const Capture> capture;
    std::shared_ptr<const Decoding> decoding;
    std::optional<Time> period;
    bool operator==(const Source&) const = default;
    [[nodiscard]] IntervalSource view() const { return {id, title, capture.get(), decoding.get(), period}; }
};

inline Source source_of(const ListenAnalysis& listen, std::string_view id) {
    const auto* c = listen.find_capture(id);
    if (c == nullptr) return {std::string(id), std::string(id), nullptr, nullptr, std::nullopt};
    return {c->ref.id, c->ref.title, c->named, c->decoding, c->sample_period};
}

}  // namespace timing_parts

/// Everything that the replies of an option rest on.
struct TimingWork::ReplyInputs {
    BuildOption option;  ///< without what only names it
    std::shared_ptr<const std::vector<ReplyTask>> tasks;
    std::string question_problem;
    unsigned long seed = 1;
    timing_parts::Source measured, asked;
    std::string answer;
    std::shared_ptr<const NetworkAnalysis> network;
    bool operator==(const ReplyInputs&) const = default;
};

}  // namespace grayrelic
