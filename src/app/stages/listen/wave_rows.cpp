// SPDX-License-Identifier: GPL-3.0-or-later
// Which rows and lanes the waves have.
#include <algorithm>

#include "app/stages/listen/wave_view.hpp"
#include "core/decode/decoder.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic::app {
namespace {

/// The lines of what is read in the order of their roles, those of further links behind, then all others.
std::vector<const Signal*> in_order(const Capture& shown, const CaptureRef& ref) {
    std::vector<const Signal*> out;
    const auto take = [&](const Signal& s) {
        if (s.digital && std::find(out.begin(), out.end(), &s) == out.end()) out.push_back(&s);
    };
    const auto of = [&](const DecodeSetup& setup) {
        const auto decoder = find_decoder(setup.kind);
        if (!decoder) return;
        for (const auto& spec : (*decoder)->roles())
            if (const auto role = setup.roles.find(spec.name); role != setup.roles.end())
                for (const auto& name : role->second)
                    if (const auto found = shown.find(name)) take(**found);
    };
    of(ref.decode);
    for (const auto& also : ref.also) of(also);
    for (const auto& s : shown.signals) take(s);
    return out;
}

}  // namespace

void WaveView::fill_rows(const Dossier& dossier) {
    constexpr std::size_t most_rows = 64;
    const auto chosen =
        row_ >= 0 && row_ < row_count() ? rows_[static_cast<std::size_t>(row_)].path : QString();
    rows_.clear();
    if (!shown_) return;
    for (const auto* s : in_order(*shown_, capture_->ref)) {
        if (rows_.size() >= most_rows) break;
        Row row;
        row.path = QString::fromStdString(s->name);
        row.waveform = s->digital;
        row.analogue = s->analogue;
        if (const auto* pin = dossier.pin_of(capture_->ref, s->name)) {
            row.driver = pin->driver.value;
            row.pin = QString::fromStdString(capture_->ref.port + " " + pin->number);
            row.name = QString::fromStdString(dossier.name_of(capture_->ref, s->name));
        } else {
            row.pin = tr("no pin yet");
            row.name = QString::fromStdString(unique_ending(*shown_, s->name));
        }
        if (row.path == chosen) row_ = row_count();
        rows_.push_back(std::move(row));
    }
}

/// The words of the capture's decoder first; what they were put together from and further decoders below.
void WaveView::fill_lanes() {
    lanes_.clear();
    if (!capture_) return;
    const auto about = capture_->decoding                  ? QString::fromStdString(capture_->decoding->kind)
                       : !capture_->decode_problem.empty() ? tr("can't be read")
                       : !capture_->under_way.empty() && !capture_->ref.decode.kind.empty()
                           ? tr("being read …")
                           : tr("not read yet");
    lanes_.push_back({tr("Words"), about, capture_->decoding, capture_->ref.decode.bits});
    if (capture_->characters) lanes_.push_back({tr("Characters"), {}, capture_->characters, {}});
    for (std::size_t i = 0; i < capture_->also.size(); ++i)
        lanes_.push_back({QString::fromStdString(capture_->also[i].title),
                          {},
                          capture_->also[i].decoding,
                          capture_->ref.also[i].bits});
}

}  // namespace grayrelic::app
