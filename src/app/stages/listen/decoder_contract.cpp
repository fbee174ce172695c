// SPDX-License-Identifier: GPL-3.0-or-later
// The contract that the reading bar derives, and the usual options beside it.
#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/shell/busy_dialog.hpp"
#include "app/stages/listen/decoder_bar.hpp"
#include "core/dossier/edits.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/timing/derive_contract.hpp"
#include "core/timing/reply_option.hpp"

namespace grayrelic::app {
namespace {

/// The roles under the names that their lines have everywhere: those of the pins.
RoleMap named_roles(const Dossier& dossier, const CaptureAnalysis& a, const RoleMap& roles) {
    RoleMap out = roles;
    for (auto& [role, names] : out)
        for (auto& name : names) {
            const auto called = dossier.name_of(a.ref, name);
            const auto own = a.named->find(name), there = a.named->find(called);
            if (own && there && *own == *there) name = called;
        }
    return out;
}

/// Did a person make it, or say more of it than a derivation does?
bool is_kept(const ContractInterval& i, const std::string& capture) {
    return i.capture != capture || i.guard || !i.also.empty() || i.id.starts_with("interval");
}

/// What was derived in place of what this capture gave before. Entered intervals stay, guards and specimens
/// are carried over to the same interval, and usual options stand beside it where there is none yet.
Timing with_contract(const Timing& before, const DerivedContract& made, const std::string& capture) {
    auto timing = before;
    timing.intervals = made.intervals;
    for (const auto& old : before.intervals) {
        const auto same = std::find_if(timing.intervals.begin(), timing.intervals.end(), [&](const auto& n) {
            return n.id == old.id || (n.from == old.from && n.to == old.to && n.kind == old.kind);
        });
        if (same == timing.intervals.end()) {
            if (is_kept(old, capture)) timing.intervals.push_back(old);
        } else if (same->from == old.from && same->to == old.to) {
            same->guard = old.guard;
            same->also = old.also;
            std::erase(same->also, same->capture);
        }
    }
    const auto seed = timing.reply.seed;
    timing.reply = made.question.trigger.empty() ? ReplyQuestion{} : made.question;
    timing.reply.seed = seed;
    if (!timing.options.empty() || made.question.trigger.empty()) return timing;
    for (const auto kind : {OptionKind::poll, OptionKind::irq, OptionKind::core, OptionKind::pio,
                            OptionKind::mixed, OptionKind::logic}) {
        std::string id(word(kind));
        timing.options.push_back(usual_option(kind, "usual-" + id));
    }
    return timing;
}

}  // namespace

/// Of several links the one that asks: the capture with it as its first words.
struct DecoderBar::Proposal {
    DerivedContract contract;
    std::optional<std::size_t> swapped;  ///< place among the further links
};

void DecoderBar::propose() {
    const auto* a = document_.analysis().find_capture(capture_);
    if (a == nullptr || !a->decoding) return;
    auto made = std::make_shared<Proposal>();
    const auto ran = run_with_progress(
        this, tr("Deriving the contract"), [made, dossier = document_.dossier(), c = *a](Progress& progress) {
            const auto derive = [&](const RoleMap& roles, const Decoding& decoding) {
                auto derived = derive_contract(
                    {c.ref.id, *c.named, named_roles(dossier, c, roles), decoding, c.sample_period},
                    progress);
                return derived ? std::move(*derived) : DerivedContract{};
            };
            made->contract = derive(c.ref.decode.roles, *c.decoding);
            for (std::size_t i = 0; i < c.also.size() && made->contract.question.trigger.empty(); ++i) {
                if (!c.also[i].decoding || c.also[i].decoding->kind != c.decoding->kind) continue;
                auto other = derive(c.ref.also[i].roles, *c.also[i].decoding);
                if (!other.question.trigger.empty()) made->contract = std::move(other), made->swapped = i;
            }
        });
    if (!ran) return;
    const auto* ref = document_.dossier().find_capture(capture_);
    if (ref == nullptr || made->contract.intervals.empty()) return;
    const auto& contract = made->contract;
    const auto* nobody = contract.question.trigger.empty() ? contract.find_unsure("trigger") : nullptr;
    const auto why = nobody == nullptr ? QString() : to_q(nobody->would_tell);
    auto next = put(document_.dossier(), with_contract(*document_.dossier().timing, contract, capture_));
    if (made->swapped && *made->swapped < ref->also.size()) {
        auto changed = *ref;
        std::swap(changed.decode, changed.also[*made->swapped]);
        next = put(next, std::move(changed));
    }
    document_.apply(tr("contract from %1").arg(to_q(ref->title)), std::move(next));
    Q_EMIT contract_made(why);
}

}  // namespace grayrelic::app
