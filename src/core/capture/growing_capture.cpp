// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/capture/growing_capture.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/quantity.hpp"
#include "core/capture/vcd_body.hpp"
#include "core/capture/vcd_whole.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_waiting = 64U << 20U;  ///< bytes without a time stamp at the beginning of a line

}  // namespace

struct GrowingCapture::Pass {
    VcdHeader header;
    VcdWhole whole;
    VcdPiece piece;
    explicit Pass(VcdHeader h) : header(std::move(h)), whole(header) {}
};

GrowingCapture::GrowingCapture(std::string name, std::size_t most_edges)
    : name_(std::move(name)), most_edges_(most_edges) {}
GrowingCapture::~GrowingCapture() = default;

Status GrowingCapture::feed(std::string_view bytes) {
    if (failed_) return tl::unexpected(*failed_);
    waiting_ += bytes;
    bytes_ += bytes.size();
    Status done;
    if (!pass_) done = read_definitions();
    if (done && pass_) {
        // Up to the last time stamp: what stands behind it may still grow.
        const auto stamp = waiting_.rfind("\n#");
        if (stamp != std::string::npos && stamp > 0)
            done = read_changes(stamp + 1);
        else if (waiting_.size() > most_waiting)
            done = fail_at(name_, lines_ + 1, fmt::format("{} MB without a time stamp", most_waiting >> 20U),
                           "lines such as #1250 between the changes");
    }
    if (!done) failed_ = done.error();
    return done;
}

Status GrowingCapture::finish() {
    if (failed_) return tl::unexpected(*failed_);
    Status done;
    if (!pass_) {
        // A last word without anything behind it is whole now. What is missing, the reader's message says.
        Progress progress;
        const auto read = read_vcd(waiting_, name_, progress);
        done = read ? read_definitions(true) : Status(fail(read.error()));
    }
    if (done && pass_ && !waiting_.empty()) {
        const auto end = waiting_.rfind('\n');
        done = read_changes(waiting_.size(), end == std::string::npos ? 0 : end + 1);
    }
    if (!done) failed_ = done.error();
    return done;
}

Status GrowingCapture::read_definitions(bool over) {
    // The word alone may stand in a comment: only a whole header parses.
    if (waiting_.find("$enddefinitions") == std::string::npos) {
        if (waiting_.size() > VcdLimits{}.header_bytes)
            return fail_at(name_, 1, "no $enddefinitions",
                           fmt::format("it within the first {} bytes", VcdLimits{}.header_bytes));
        return {};
    }
    const auto end = over ? waiting_.size() - 1 : waiting_.find_last_of(" \t\r\n");
    if (end == std::string::npos) return {};
    Progress progress;
    auto header = parse_vcd_header(std::string_view(waiting_).substr(0, end + 1), progress, {});
    if (!header) {
        const auto& fault = header.error();
        if (fault.kind == VcdFault::Kind::ended && waiting_.size() <= VcdLimits{}.header_bytes) return {};
        return fail_at(name_, line_at(MemorySource(waiting_), fault.offset), fault.found, fault.expected);
    }
    const auto body = header->body;
    lines_ = std::count(waiting_.begin(), waiting_.begin() + static_cast<std::ptrdiff_t>(body), '\n');
    waiting_.erase(0, body);
    pass_ = std::make_unique<Pass>(std::move(*header));
    return {};
}

/// A fault from `half_line` on is a line that was not written to its end: what stands before it is read.
Status GrowingCapture::read_changes(std::size_t until, std::size_t half_line) {
    const MemorySource source(std::string_view(waiting_).substr(0, until));
    const Progress progress;
    auto& r = *pass_;
    read_vcd_piece(source, r.header, {0, until, false, true}, progress, r.piece);
    // A comment that is still open: the line that looked like a time stamp was part of it.
    if (r.piece.fault && r.piece.fault->kind == VcdFault::Kind::ended && until < waiting_.size() &&
        waiting_.size() < most_waiting)
        return {};
    const auto of_half_line = [&](const VcdFault& f) {
        return half_line < until && f.offset >= half_line &&
               (f.kind == VcdFault::Kind::wrong || f.kind == VcdFault::Kind::ended);
    };
    auto fault = r.piece.fault;
    if (!fault || !of_half_line(*fault))
        fault = r.whole.join(r.piece);  // a time that goes back changes nothing
    if (fault && of_half_line(*fault)) {
        cut_line_ = lines_ + line_at(source, until - 1);
        waiting_.resize(half_line);
        return half_line == 0 ? Status() : read_changes(half_line, std::string::npos);
    }
    if (fault) return fail_at(name_, lines_ + line_at(source, fault->offset), fault->found, fault->expected);
    const auto read = r.piece.stop;
    lines_ += std::count(waiting_.begin(), waiting_.begin() + static_cast<std::ptrdiff_t>(read), '\n');
    waiting_.erase(0, read);
    if (edge_count() > most_edges_)
        return fail_at(name_, lines_ + 1,
                       fmt::format("more than {} edges", print_count(static_cast<long long>(most_edges_))),
                       "a shorter recording; what came so far is kept");
    return {};
}

bool GrowingCapture::has_signals() const {
    return pass_ != nullptr;
}
std::size_t GrowingCapture::edge_count() const {
    return pass_ ? pass_->whole.edge_count() : 0;
}
Span GrowingCapture::extent() const {
    return pass_ ? Span{pass_->whole.start(), pass_->whole.now()} : Span{};
}

Capture GrowingCapture::last(Time length, std::size_t most_edges) const {
    if (!pass_) return {};
    const auto now = pass_->whole.now();
    return pass_->whole.last(pass_->header, now < Time::min() + length ? Time::min() : now - length,
                             most_edges);
}

Capture GrowingCapture::take() {
    if (!pass_) return {};
    failed_ = Error{Error::Kind::usage, name_, 0, "more of a recording that was taken", "a new one"};
    auto capture = pass_->whole.assemble(pass_->header);
    if (cut_line_ > 0)
        capture.remarks.push_back(
            {fmt::format("the file ends in the middle of line {}: read up to there", cut_line_), true});
    return capture;
}

Result<bool> StopWatch::reached(const GrowingCapture& capture) {
    const auto extent = capture.extent();
    if (when_.length && extent.to - extent.from >= *when_.length) return true;
    if (when_.edges && capture.edge_count() >= *when_.edges) return true;
    if (!when_.found || !capture.has_signals()) return false;
    if (!hit_) {
        const Time before = searched_ == Time::min() ? extent.from : searched_;
        if (extent.to <= before) return false;
        // What ends in this stretch may have begun before it.
        const auto& q = *when_.found;
        Time back = std::max(
            {Time::ms(10), q.longer.value_or(Time{}), q.shorter.value_or(Time{}), q.pause.value_or(Time{})});
        for (const auto& step : q.order) back += step.within.value_or(Time::ms(10));
        const auto part = capture.last(extent.to - before + back, 20'000'000);
        Progress progress;
        const auto hits = find_in(part, q, progress);
        if (!hits) return fail(hits.error());
        for (const auto& h : *hits) {
            if (h.to <= before) continue;  // seen before
            // Cut off at an end it only looks short.
            if (q.shorter &&
                (h.to >= extent.to || (h.from <= part.extent.from && part.extent.from > extent.from)))
                continue;
            hit_ = h;
            break;
        }
        if (!hit_) searched_ = extent.to;
    }
    return hit_ && extent.to >= hit_->to + when_.after;
}

}  // namespace grayrelic
