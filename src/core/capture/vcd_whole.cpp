// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/capture/vcd_whole.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <memory>

namespace grayrelic {
namespace {

/// Signals in the order of the file over the waveforms that they share.
void add_signals(Capture& capture, std::vector<VcdDeclared> declared,
                 const std::vector<std::shared_ptr<const DigitalWaveform>>& waveforms,
                 const std::vector<std::shared_ptr<const RealWaveform>>& reals) {
    capture.signals.reserve(declared.size());
    for (auto& d : declared) {
        Signal s{std::move(d.name), std::move(d.vector), d.kind, nullptr, nullptr};
        if (d.kind == SignalKind::digital)
            s.digital = waveforms[d.index];
        else
            s.real = reals[d.index];
        capture.signals.push_back(std::move(s));
    }
}

}  // namespace

std::optional<VcdFault> VcdWhole::join(const VcdPiece& piece) {
    if (piece.has_time) {
        if (started_ && piece.first_raw < last_raw_)
            return VcdFault{VcdFault::Kind::wrong, piece.first_at, piece.first_text,
                            fmt::format("a time not before #{}: time goes back", last_raw_)};
        if (!started_) start_ = piece.values_before_time || values_before_time_ ? Time{} : piece.first;
        started_ = true;
        now_ = piece.last;
        last_raw_ = piece.last_raw;
    }
    values_before_time_ |= piece.values_before_time;
    worst_rounding_ = std::max(worst_rounding_, piece.worst_rounding);
    if (piece.fault) return piece.fault;
    for (const auto bit : piece.touched) states_[bit].append(piece.bits[bit]);
    for (const auto& r : piece.reals) {
        auto& waveform = reals_[r.index];
        if (!waveform.times.empty() && waveform.times.back() == r.at) {
            waveform.values.back() = r.value;
            continue;
        }
        waveform.times.push_back(r.at);
        waveform.values.push_back(r.value);
    }
    return {};
}

Capture VcdWhole::framed(const VcdHeader& header, Span extent) const {
    Capture capture;
    capture.format = "vcd";
    capture.resolution = header.divide == 1
                             ? Time::ps(header.multiply)
                             : Time::ps(std::max<std::int64_t>(1, header.multiply / header.divide));
    capture.rounding = Time::ps((worst_rounding_ + header.divide - 1) / header.divide);
    capture.extent = extent;
    return capture;
}

Capture VcdWhole::assemble(VcdHeader header) {
    std::vector<std::shared_ptr<const DigitalWaveform>> waveforms;
    waveforms.reserve(states_.size());
    for (auto& bit : states_)
        waveforms.push_back(std::make_shared<const DigitalWaveform>(bit.finish(start_, now_)));
    std::vector<std::shared_ptr<const RealWaveform>> reals;
    reals.reserve(reals_.size());
    for (auto& r : reals_) reals.push_back(std::make_shared<const RealWaveform>(std::move(r)));
    auto capture = framed(header, {start_, now_});
    add_signals(capture, std::move(header.declared), waveforms, reals);
    return capture;
}

Capture VcdWhole::last(const VcdHeader& header, Time from, std::size_t most_edges) const {
    from = std::max(from, start_);
    for (const auto& bit : states_)
        if (bit.edges.size() > most_edges)
            from = std::max(from, bit.edges.view()[bit.edges.size() - most_edges]);
    std::vector<std::shared_ptr<const DigitalWaveform>> waveforms;
    waveforms.reserve(states_.size());
    for (const auto& bit : states_)
        waveforms.push_back(std::make_shared<const DigitalWaveform>(bit.last(from, now_)));
    std::vector<std::shared_ptr<const RealWaveform>> reals;
    for (const auto& r : reals_) {
        const auto first = std::upper_bound(r.times.begin(), r.times.end(), from) - r.times.begin();
        const auto kept = std::max<std::ptrdiff_t>(0, first - 1);  // its value at the beginning, too
        reals.push_back(std::make_shared<const RealWaveform>(RealWaveform{
            {r.times.begin() + kept, r.times.end()}, {r.values.begin() + kept, r.values.end()}}));
    }
    auto capture = framed(header, {from, now_});
    add_signals(capture, header.declared, waveforms, reals);
    return capture;
}

std::size_t VcdWhole::edge_count() const {
    std::size_t n = 0;
    for (const auto& bit : states_) n += bit.edges.size();
    return n;
}

}  // namespace grayrelic
