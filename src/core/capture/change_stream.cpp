// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/capture/change_stream.hpp"

#include <algorithm>

namespace grayrelic {

ValueCursor::ValueCursor(const Signal& signal, Span extent)
    : digital_(signal.digital.get()),
      reals_(signal.real.get()),
      at_(extent.from),
      start_(extent.from),
      end_(extent.to) {
    if (digital_ != nullptr) {
        const auto unknown = digital_->unknown();
        const auto floating = digital_->floating();
        // Just before the start: an edge or a known level at the start itself is a change.
        if (unknown.empty() || unknown.front().from > at_) value_ = digital_->first_level() ? '1' : '0';
        if (value_ == 'x' && !floating.empty() && floating.front().from <= at_) value_ = 'z';
    }
    find_next();
}

char ValueCursor::value_now(Time at) const {
    const auto unknown = digital_->unknown();
    if (unknown_ == unknown.size() || unknown[unknown_].from > at)
        return digital_->level_after(edge_) ? '1' : '0';
    const auto floating = digital_->floating();
    return floating_ < floating.size() && floating[floating_].from <= at ? 'z' : 'x';
}

void ValueCursor::find_next() {
    next_ = Time::max();
    if (reals_ != nullptr) {
        if (edge_ < reals_->times.size()) next_ = reals_->times[edge_];
        return;
    }
    if (digital_ == nullptr) return;
    if (edge_ < digital_->edges().size()) next_ = digital_->edges()[edge_];
    const auto look = [&](std::span<const Span> spans, std::size_t i) {
        if (i == spans.size()) return;
        const Time t = spans[i].from > at_ ? spans[i].from : spans[i].to;
        // A span that lasts to the end ends with the recording, not with a level; unless the level at the
        // very end is the first one there is.
        if (t >= end_ && t == spans[i].to &&
            !(edge_ == 0 && digital_->first_level() && spans[0].from <= start_))
            return;
        next_ = std::min(next_, t);
    };
    look(digital_->unknown(), unknown_);
    look(digital_->floating(), floating_);
}

void ValueCursor::step() {
    at_ = next_;
    if (reals_ != nullptr) {
        real_ = reals_->values[edge_++];
        value_ = 'r';
        find_next();
        return;
    }
    if (edge_ < digital_->edges().size() && digital_->edges()[edge_] == at_) ++edge_;
    while (unknown_ < digital_->unknown().size() && digital_->unknown()[unknown_].to <= at_) ++unknown_;
    while (floating_ < digital_->floating().size() && digital_->floating()[floating_].to <= at_) ++floating_;
    value_ = value_now(at_);
    find_next();
}

ChangeStream::ChangeStream(const Capture& capture) : now_(capture.extent.from) {
    cursors_.reserve(capture.signals.size());
    for (const auto& s : capture.signals) {
        cursors_.emplace_back(s, capture.extent);
        if (cursors_.back().next() < Time::max())
            waiting_.emplace(cursors_.back().next(), cursors_.size() - 1);
    }
}

bool ChangeStream::step() {
    changed_.clear();
    if (waiting_.empty()) return false;
    now_ = waiting_.top().first;
    while (!waiting_.empty() && waiting_.top().first == now_) {
        const auto i = waiting_.top().second;
        waiting_.pop();
        const char before = cursors_[i].value();
        cursors_[i].step();
        if (cursors_[i].value() != before || cursors_[i].value() == 'r') changed_.push_back(i);
        if (cursors_[i].next() < Time::max()) waiting_.emplace(cursors_[i].next(), i);
    }
    return true;
}

}  // namespace grayrelic
