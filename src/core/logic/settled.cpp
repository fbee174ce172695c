// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/logic/settled.hpp"

namespace grayrelic::simulating {
namespace {

// Bounds of what is noted: about 20 MB in all. What comes after is computed, as without this.
constexpr std::size_t most_states = 1U << 15U;
constexpr std::size_t most_follows = 1U << 18U;
constexpr std::size_t most_emitted = 1U << 19U;
constexpr long trial = 1 << 16;  ///< changes after which it must have been of use
constexpr unsigned letter_bits = 10;
constexpr std::size_t most_at_once = 4;

/// A place in a table of a power of two: every bit of the key counts, those at the top most of all.
std::size_t hash(std::uint64_t key) {
    key ^= key >> 31U;
    key *= 0x9E3779B97F4A7C15ULL;
    return static_cast<std::size_t>(key ^ key >> 32U);
}

/// State and changes in 64 bits; 0 when there are too many changes at once.
std::uint64_t key_of(std::uint32_t state, const std::vector<Driven>& driven) {
    if (driven.size() > most_at_once) return 0;
    std::uint64_t key = state + 1;
    for (const auto& d : driven) {
        const auto letter = std::uint64_t{d.stimulus} * 4 + static_cast<unsigned>(d.level) + 1;
        if (letter >= 1U << letter_bits) return 0;
        key = key << letter_bits | letter;
    }
    return key << (letter_bits * (most_at_once - driven.size()));
}

}  // namespace

Settled::Settled(Engine& engine, const SimulationOptions& options)
    : engine_(engine), o_(options), works_(options.watched && !options.transport) {
    if (works_) slots_.resize(1U << 12U);
}

std::uint32_t Settled::find(std::uint64_t key) const {
    for (auto at = hash(key);; ++at) {
        const auto& slot = slots_[at & (slots_.size() - 1)];
        if (slot.key == key) return slot.follows;
        if (slot.key == 0) return unknown;
    }
}

void Settled::insert(std::uint64_t key, std::uint32_t follows) {
    if (follows_.size() * 2 >= slots_.size()) {
        std::vector<Slot> old(slots_.size() * 2);
        std::swap(old, slots_);
        for (const auto& s : old)
            if (s.key != 0) place(s.key) = s;
    }
    place(key) = {key, follows};
}

Settled::Slot& Settled::place(std::uint64_t key) {
    for (auto at = hash(key);; ++at) {
        auto& slot = slots_[at & (slots_.size() - 1)];
        if (slot.key == 0 || slot.key == key) return slot;
    }
}

void Settled::give_back() {
    engine_.load(*states_[state_]);
    holds_ = false;
}

bool Settled::step(const std::vector<Driven>& driven, Time now, Time next) {
    if (!works_) return false;
    if (!holds_) {  // it had not come to rest
        noting_ = false;
        return false;
    }
    ++asked_;
    const auto key = key_of(state_, driven);
    const auto known = key == 0 ? unknown : find(key);
    if (known != unknown) {
        const auto& f = follows_[known];
        if (next >= now + f.lasts + engine_.memory() + Time::ps(1)) {
            ++known_;
            repeat(f, now);
            return true;
        }
    }
    give_back();
    if (asked_ >= trial) {
        works_ = known_ * 2 > asked_;
        asked_ = known_ = 0;
    }
    noting_ = works_ && key != 0 && known == unknown && follows_.size() < most_follows &&
              emitted_.size() < most_emitted;
    if (noting_) {
        key_ = key;
        since_ = now;
        const auto& out = engine_.out_;
        noted_ = {};
        noted_.emitted = static_cast<std::uint32_t>(emitted_.size());
        noted_.events = out.events;
        noted_.faults = static_cast<std::uint32_t>(out.faults.size());
        noted_.clashes = static_cast<std::uint32_t>(out.clashes.size());
    }
    return false;
}

void Settled::look(Time now, Time next) {
    if (!works_ || holds_ || !engine_.is_settled() || next < now + engine_.memory() + Time::ps(1)) return;
    scratch_.clear();
    engine_.save(scratch_);
    auto known = state_numbers_.find(scratch_);
    if (known == state_numbers_.end()) {
        if (states_.size() >= most_states) {  // it has too many
            works_ = noting_ = false;
            return;
        }
        known = state_numbers_.emplace(scratch_, static_cast<std::uint32_t>(states_.size())).first;
        states_.push_back(&known->first);
    }
    state_ = known->second;
    if (noting_) note(now);
    noting_ = false;
    holds_ = true;
}

void Settled::note(Time last) {
    const auto& out = engine_.out_;
    auto f = noted_;
    f.next = state_;
    f.lasts = last - since_;
    f.count = static_cast<std::uint32_t>(emitted_.size()) - f.emitted;
    f.events = out.events - noted_.events;
    f.fault_count = static_cast<std::uint32_t>(out.faults.size()) - noted_.faults;
    f.clash_count = static_cast<std::uint32_t>(out.clashes.size()) - noted_.clashes;
    f.faults = static_cast<std::uint32_t>(faults_.size());
    f.clashes = static_cast<std::uint32_t>(clashes_.size());
    for (std::size_t i = noted_.faults; i < out.faults.size(); ++i) {
        faults_.push_back(out.faults[i]);
        faults_.back().at = faults_.back().at - since_;
    }
    for (std::size_t i = noted_.clashes; i < out.clashes.size(); ++i)
        clashes_.push_back({out.clashes[i].net, out.clashes[i].at - since_});
    follows_.push_back(f);
    insert(key_, static_cast<std::uint32_t>(follows_.size()) - 1);
}

void Settled::repeat(const Follows& f, Time now) {
    for (std::uint32_t i = 0; i < f.count; ++i) {
        const auto& e = emitted_[f.emitted + i];
        o_.on_change({now + e.after, e.level});
    }
    auto& out = engine_.out_;
    out.events += f.events;
    for (std::uint32_t i = 0; i < f.fault_count && out.faults.size() < most_noted; ++i) {
        out.faults.push_back(faults_[f.faults + i]);
        out.faults.back().at += now;
    }
    for (std::uint32_t i = 0; i < f.clash_count && out.clashes.size() < most_noted; ++i)
        out.clashes.push_back({clashes_[f.clashes + i].net, clashes_[f.clashes + i].at + now});
    state_ = f.next;
}

}  // namespace grayrelic::simulating
