// SPDX-License-Identifier: GPL-3.0-or-later
// Header first, then the body in pieces on as many threads as there are processors. Whoever finishes the next
// piece in order joins it to the whole, while the others read on; a few pieces are under way at any time, so
// that memory is the edges themselves and little more.
#include "core/capture/vcd_reader.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <condition_variable>
#include <map>
#include <memory>
#include <mutex>
#include <new>
#include <thread>

#include "core/base/byte_source.hpp"
#include "core/base/machine.hpp"
#include "core/base/text.hpp"
#include "core/capture/vcd_body.hpp"
#include "core/capture/vcd_header.hpp"
#include "core/capture/vcd_whole.hpp"

namespace grayrelic {
namespace {

constexpr std::uint64_t header_block = 1U << 20U;
constexpr std::size_t many_bits = 1U << 16U;  // above, a piece's state is too large to have several of them

/// The header's text is needed whole: read on until it holds $enddefinitions, and further if that one was in
/// a comment.
VcdResult<VcdHeader> read_header(const ByteSource& source, const Progress& progress,
                                 const VcdLimits& limits) {
    std::string text;
    std::uint64_t want = 0;
    for (;;) {
        for (;;) {
            const auto from = text.size();
            text.resize(std::min<std::uint64_t>(from + header_block, limits.header_bytes + 1));
            const auto n = source.read_at(from, {text.data() + from, text.size() - from});
            if (!n)
                return tl::unexpected(
                    VcdFault{VcdFault::Kind::unreadable, 0, n.error().found, n.error().expected});
            text.resize(from + *n);
            if (*n == 0 || text.size() > limits.header_bytes) break;
            if (text.size() >= want &&
                text.find("$enddefinitions", from < 16 ? 0 : from - 16) != std::string::npos)
                break;
            if (progress.cancelled()) return tl::unexpected(VcdFault{VcdFault::Kind::cancelled, 0, {}, {}});
        }
        const bool whole = text.size() >= source.size();
        std::string_view part = text;
        if (!whole) part = part.substr(0, part.find_last_of(" \t\r\n") + 1);
        auto header = parse_vcd_header(part, progress, limits);
        if (header || whole || header.error().kind != VcdFault::Kind::ended) return header;
        if (text.size() > limits.header_bytes)
            return tl::unexpected(VcdFault{VcdFault::Kind::wrong, 0, "no $enddefinitions",
                                           fmt::format("it within the first {} bytes", limits.header_bytes)});
        want = text.size() * 2;
    }
}

class BodyReader {
  public:
    BodyReader(const ByteSource& source, const VcdHeader& header, Progress& progress, const VcdLimits& limits)
        : source_(source),
          header_(header),
          progress_(progress),
          whole_(header),
          piece_bytes_(limits.piece_bytes),
          expected_(header.body) {}

    std::optional<VcdFault> run() {
        const auto rest = source_.size() - std::min(source_.size(), header_.body);
        pieces_ = std::max<std::uint64_t>(1, (rest + piece_bytes_ - 1) / piece_bytes_);
        std::size_t threads =
            std::min<std::uint64_t>(std::max(1U, std::thread::hardware_concurrency()), pieces_);
        if (header_.bits > many_bits) threads = 1;
        most_under_way_ = threads == 1 ? 1 : 2 * threads + 1;
        std::vector<std::thread> others;
        for (std::size_t i = 1; i < threads; ++i) others.emplace_back([this] { work_or_fail(); });
        work_or_fail();
        for (auto& t : others) t.join();
        if (!fault_ && !finished_) read_in_order();
        return std::move(fault_);
    }

    Capture assemble(VcdHeader header) { return whole_.assemble(std::move(header)); }

  private:
    using Lock = std::unique_lock<std::mutex>;

    [[nodiscard]] bool over() const { return fault_.has_value() || in_order_; }

    void work_or_fail() {
        try {
            work();
        } catch (const std::bad_alloc&) {
            const Lock lock(mutex_);
            if (!fault_) fault_ = VcdFault{VcdFault::Kind::memory, 0, {}, {}};
            joining_ = false;
            room_.notify_all();
        }
    }

    /// What each thread does: take the next piece, read it, join what is next in order.
    void work() {
        for (;;) {
            std::unique_ptr<VcdPiece> piece;
            std::uint64_t number = 0;
            {
                Lock lock(mutex_);
                room_.wait(
                    lock, [this] { return over() || next_ == pieces_ || next_ - joined_ < most_under_way_; });
                if (over() || next_ == pieces_) return;
                number = next_++;
                if (!idle_.empty()) {
                    piece = std::move(idle_.back());
                    idle_.pop_back();
                }
            }
            if (!piece) piece = std::make_unique<VcdPiece>();
            const auto begin = header_.body + number * piece_bytes_;
            const VcdPieceTask task{begin,
                                    std::min(begin + piece_bytes_, std::max(source_.size(), begin + 1)),
                                    number > 0, false};
            read_vcd_piece(source_, header_, task, progress_, *piece);
            hand_in(number, std::move(piece));
        }
    }

    void hand_in(std::uint64_t number, std::unique_ptr<VcdPiece> piece) {
        Lock lock(mutex_);
        ready_.emplace(number, std::move(piece));
        if (joining_) return;
        joining_ = true;
        while (!over() && !ready_.empty() && ready_.begin()->first == joined_) {
            auto next = std::move(ready_.begin()->second);
            ready_.erase(ready_.begin());
            lock.unlock();
            auto wrong = join_if_it_meets(*next);
            lock.lock();
            idle_.push_back(std::move(next));
            if (wrong) fault_ = std::move(wrong);
            ++joined_;
            if (joined_ == pieces_ && !over()) finished_ = expected_ >= source_.size();
            room_.notify_all();
        }
        joining_ = false;
    }

    std::optional<VcdFault> join_if_it_meets(VcdPiece& piece) {
        if (piece.fault && piece.fault->kind == VcdFault::Kind::cancelled) return piece.fault;
        if (piece.empty) return {};
        if (piece.begin != expected_) {
            const Lock lock(mutex_);
            in_order_ = true;  // it does not begin where the one before it ended
            return {};
        }
        return join(piece);
    }

    /// Reads what is left piece after piece, each from where the one before it ended.
    void read_in_order() {
        VcdPiece piece;
        while (!fault_ && expected_ < source_.size()) {
            read_vcd_piece(source_, header_, {expected_, expected_ + piece_bytes_, false, true}, progress_,
                           piece);
            const auto before = expected_;
            fault_ = join(piece);
            if (expected_ == before) return;  // the file became shorter
        }
    }

    std::optional<VcdFault> join(const VcdPiece& piece) {
        if (auto fault = whole_.join(piece)) return fault;
        expected_ = piece.stop;
        progress_.report(static_cast<double>(expected_) / static_cast<double>(source_.size()));
        return {};
    }

    const ByteSource& source_;
    const VcdHeader& header_;
    Progress& progress_;
    VcdWhole whole_;
    std::uint64_t piece_bytes_;
    std::uint64_t pieces_ = 0;
    std::uint64_t most_under_way_ = 1;

    std::mutex mutex_;  // guards the lines below
    std::condition_variable room_;
    std::uint64_t next_ = 0;
    std::uint64_t joined_ = 0;
    bool joining_ = false;
    bool in_order_ = false;
    bool finished_ = false;
    std::optional<VcdFault> fault_;
    std::map<std::uint64_t, std::unique_ptr<VcdPiece>> ready_;
    std::vector<std::unique_ptr<VcdPiece>> idle_;

    // Touched by whoever joins, one at a time.
    std::uint64_t expected_;  // where the next piece must begin
};

Failure message_of(const VcdFault& fault, const ByteSource& source, const std::string& name) {
    switch (fault.kind) {
        case VcdFault::Kind::cancelled: return fail_cancelled();
        case VcdFault::Kind::memory: return fail_memory(name);
        case VcdFault::Kind::unreadable: return fail_system(name, fault.found, fault.expected);
        default: return fail_at(name, line_at(source, fault.offset), fault.found, fault.expected);
    }
}

}  // namespace

Result<Capture> read_vcd(const ByteSource& source, const std::string& name, Progress& progress,
                         const VcdLimits& limits) {
    auto header = read_header(source, progress, limits);
    if (!header) return message_of(header.error(), source, name);
    BodyReader body(source, *header, progress, limits);
    if (const auto fault = body.run()) {
        // A program that was stopped leaves half a line: what stands before it is whole.
        const auto whole = end_of_whole_lines(source);
        const bool half = (fault->kind == VcdFault::Kind::wrong || fault->kind == VcdFault::Kind::ended) &&
                          whole < source.size() && fault->offset >= whole;
        if (!half) return message_of(*fault, source, name);
        const HeadOfSource head(source, whole);
        auto again = read_header(head, progress, limits);
        if (!again) return message_of(*fault, source, name);
        BodyReader shorter(head, *again, progress, limits);
        if (shorter.run()) return message_of(*fault, source, name);
        auto capture = shorter.assemble(std::move(*again));
        capture.remarks.push_back({fmt::format("the file ends in the middle of line {}: read up to there",
                                               line_at(source, source.size() - 1)),
                                   true});
        progress.report(1.0);
        return capture;
    }
    if (progress.cancelled()) return fail_cancelled();
    auto capture = body.assemble(std::move(*header));
    progress.report(1.0);
    return capture;
}

Result<Capture> read_vcd(std::string_view text, const std::string& name, Progress& progress,
                         const VcdLimits& limits) {
    return read_vcd(MemorySource(text), name, progress, limits);
}

}  // namespace grayrelic
