// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/input/coverage.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

#include "core/base/text.hpp"
#include "core/input/map_budgets.hpp"
#include "core/input/reports.hpp"

namespace grayrelic {
namespace {

/// A code and what becomes of it: of the key itself, or with a modifier of the old side.
struct Entry {
    const MapKey* key = nullptr;
    std::string code;
    std::string with;  ///< "shift"; empty: plain
    std::string text;  ///< the meaning as written
    std::optional<Meaning> meaning;
};

std::string name_of(const MapKey& key) {
    return key.legend.empty() ? key.id : key.legend;
}

std::string name_of(const Entry& e) {
    return e.with.empty() ? name_of(*e.key) : fmt::format("{} with {}", name_of(*e.key), e.with);
}

class Coverer {
  public:
    Coverer(const DeviceMap& map, const LayoutLibrary& layouts)
        : map_(map), layout_(layouts.find(map.modern.layout)) {
        for (const auto& text : map.modern.profiles) {
            const auto p = parse_profile(text);
            if (p)
                out_.profiles.push_back(*p);
            else
                out_.wrong_profiles.push_back(text);
        }
        if (!layouts.layouts.empty()) known_layouts_ = layouts.ids();
    }

    Coverage run() {
        collect();
        judge_codes();
        judge_same_code();
        judge_same_meaning();
        judge_profiles();
        judge_characters();
        judge_held();
        if (auto g = level_gap(map_)) out_.gaps.push_back(std::move(*g));
        if (auto g = repeat_gap(map_, layout_)) out_.gaps.push_back(std::move(*g));
        if (map_.way == MapWay::old_to_new) judge_wanted();
        for (auto& g : message_gaps(map_)) out_.gaps.push_back(std::move(g));
        std::stable_sort(out_.gaps.begin(), out_.gaps.end(),
                         [](const MapGap& a, const MapGap& b) { return rank(a.verdict) < rank(b.verdict); });
        view();
        return std::move(out_);
    }

  private:
    static int rank(Verdict v) { return v == Verdict::stop ? 0 : v == Verdict::doubt ? 1 : 2; }

    MapGap& gap(GapKind kind, Verdict verdict, std::vector<std::string> keys, std::string says,
                std::string todo) {
        out_.gaps.push_back({kind, verdict, std::move(keys), {}, std::move(says), std::move(todo), {}});
        return out_.gaps.back();
    }

    void collect() {
        for (const auto& k : map_.keys) {
            if (k.kind == ControlKind::lamp) continue;
            add({&k, k.code.value, {}, k.meaning, {}});
            for (const auto& s : k.shifted) add({&k, s.code, s.with, s.meaning, {}});
        }
    }

    void add(Entry e) {
        if (!e.text.empty()) {
            const auto parsed = parse_meaning(e.text);
            if (parsed)
                e.meaning = *parsed;
            else
                gap(GapKind::unreadable_meaning, Verdict::stop, {e.key->id},
                    fmt::format("{} becomes {}, which is no meaning.", name_of(e), in_quotes(e.text)),
                    "Write " + parsed.error().expected + ".")
                    .what = e.text;
        }
        entries_.push_back(std::move(e));
    }

    [[nodiscard]] static bool in_matrix(const MapKey& key) { return !key.row.empty() && !key.column.empty(); }

    void judge_codes() {
        for (const auto& e : entries_) {
            const bool coded = !e.code.empty() || (e.with.empty() && in_matrix(*e.key));
            if (coded) ++out_.codes;
            if (coded && e.meaning) ++out_.codes_with_meaning;
            if (!coded)
                gap(GapKind::no_code, Verdict::doubt, {e.key->id},
                    fmt::format("What {} sends is not known.", name_of(e)),
                    "Record one press of it and one moment at rest, and compare the two.");
            if (!e.text.empty()) continue;
            auto& g = gap(GapKind::no_meaning, Verdict::doubt, {e.key->id},
                          map_.way == MapWay::old_to_new ? fmt::format("{} becomes nothing.", name_of(e))
                                                         : fmt::format("Nothing operates {}.", name_of(e)),
                          "Give it a meaning, or say that it has none on purpose.");
            g.what = e.code;
            if (e.with.empty()) g.proposal = propose_meaning(*e.key, out_.profiles, layout_);
            if (g.proposal) g.todo = fmt::format("Its legend says: {}.", say_meaning(*g.proposal));
        }
    }

    void judge_same_code() {
        std::map<std::string, std::vector<const Entry*>> by_code;
        for (const auto& e : entries_)
            if (!e.code.empty()) by_code[e.code].push_back(&e);
        for (const auto& [code, list] : by_code) {
            if (list.size() < 2) continue;
            std::vector<std::string> ids;
            std::set<std::string> meanings, names;
            for (const auto* e : list) {
                ids.push_back(e->key->id);
                meanings.insert(e->text);
                names.insert(name_of(*e));
            }
            const bool clash = meanings.size() > 1;
            gap(GapKind::code_twice, clash ? Verdict::stop : Verdict::holds, ids,
                fmt::format("{} send{} the code {}{}.", fmt::join(names, " and "),
                            names.size() == 1 ? "s, on two keys," : "", code,
                            clash ? ", and are to become different things" : ": they can't be told apart"),
                clash ? "Give them one meaning, or record again what each sends."
                      : "Nothing, where they do the same.")
                .what = code;
        }
    }

    void judge_same_meaning() {
        std::map<std::string, std::vector<const Entry*>> by_meaning;
        for (const auto& e : entries_)
            if (e.meaning && e.meaning->kind != MeaningKind::nothing && can_be_held(*e.meaning))
                by_meaning[print_meaning(*e.meaning)].push_back(&e);
        for (const auto& [meaning, list] : by_meaning) {
            std::set<std::string> ids, names, codes;
            for (const auto* e : list) {
                ids.insert(e->key->id);
                names.insert(name_of(*e));
                codes.insert(e->code + "|" + e->key->row + "|" + e->key->column);
            }
            if (ids.size() < 2 || codes.size() < 2) continue;
            const bool one_legend = names.size() == 1;
            gap(GapKind::same_meaning, one_legend ? Verdict::holds : Verdict::doubt, {ids.begin(), ids.end()},
                fmt::format("{} keys become {}: when one is let go, the other seems let go too.", ids.size(),
                            say_meaning(*list.front()->meaning)),
                "Count in the bridge how many of them are held, and release with the last.")
                .what = meaning;
        }
    }

    void judge_profiles() {
        for (const auto& p : out_.wrong_profiles)
            gap(GapKind::not_carried, Verdict::stop, {}, fmt::format("{} is no profile.", in_quotes(p)),
                "Write keyboard, media, pad:buttons=8,hat=1,axes=2 or pointer:buttons=3,wheel=1.");
        if (map_.way == MapWay::new_to_old) return;
        std::map<MeaningKind, std::vector<const Entry*>> missing;
        for (const auto& e : entries_) {
            if (!e.meaning || e.meaning->kind == MeaningKind::nothing ||
                e.meaning->kind == MeaningKind::bridge)
                continue;
            const bool carried = std::any_of(out_.profiles.begin(), out_.profiles.end(),
                                             [&](const Profile& p) { return carries(p, *e.meaning); });
            if (!carried) missing[e.meaning->kind].push_back(&e);
        }
        for (const auto& [kind, list] : missing) {
            std::vector<std::string> ids;
            std::vector<Meaning> wanted;
            for (const auto* e : list) {
                ids.push_back(e->key->id);
                wanted.push_back(*e->meaning);
            }
            gap(GapKind::not_carried, Verdict::stop, ids,
                fmt::format("No profile of the bridge has {}{}.", say_meaning(*list.front()->meaning),
                            list.size() == 1 ? std::string() : fmt::format(" and {} more", list.size() - 1)),
                carries(least_profile(wanted), wanted.front())
                    ? fmt::format("Add the profile {}, or choose another meaning.",
                                  print_profile(least_profile(wanted)))
                    : "The boot keyboard ends at usage 65: choose another meaning.");
        }
    }

    [[nodiscard]] std::vector<const Entry*> typing() const {
        std::vector<const Entry*> out;
        for (const auto& e : entries_)
            if (e.meaning && e.meaning->kind == MeaningKind::text) out.push_back(&e);
        return out;
    }

    static std::vector<std::string> ids_of(const std::vector<const Entry*>& list) {
        std::vector<std::string> out;
        for (const auto* e : list)
            if (std::find(out.begin(), out.end(), e->key->id) == out.end()) out.push_back(e->key->id);
        return out;
    }

    [[nodiscard]] bool modern_shift_held() const {
        return std::any_of(entries_.begin(), entries_.end(), [](const Entry& e) {
            return e.meaning && e.meaning->kind == MeaningKind::key && is_modifier(e.meaning->usage.id);
        });
    }

    void judge_characters() {
        if (map_.way == MapWay::new_to_old) return;
        const auto list = typing();
        if (list.empty()) return;
        if (layout_ == nullptr) {
            gap(GapKind::no_layout, Verdict::doubt, ids_of(list),
                map_.modern.layout.empty()
                    ? std::string("Characters are to be typed, and the host's layout is not said.")
                    : fmt::format("The host's layout {} is not known.", in_quotes(map_.modern.layout)),
                "Say the layout that the host is set to: " + known_layouts_ + ".");
            return;
        }
        std::vector<const Entry*> lifting, locked, held;
        for (const auto* e : list) {
            const auto strokes = layout_->strokes_for(e->meaning->text);
            if (strokes.empty()) {
                gap(GapKind::no_such_character, Verdict::stop, {e->key->id},
                    fmt::format("The layout {} has no way to type {}.", layout_->id, e->meaning->text),
                    "Choose another character, or set the host to a layout that has it.")
                    .what = e->meaning->text;
                continue;
            }
            const auto* key = layout_->find(strokes.front().key);
            if (key != nullptr && key->caps) locked.push_back(e);
            if (modern_shift_held()) lifting.push_back(e);
            if (e->key->sends != KeySends::press) held.push_back(e);
        }
        note_characters(lifting, locked, held);
    }

    void note_characters(const std::vector<const Entry*>& lifting, const std::vector<const Entry*>& locked,
                         const std::vector<const Entry*>& held) {
        if (!lifting.empty())
            gap(GapKind::lifts_modifier, Verdict::doubt, ids_of(lifting),
                fmt::format("{} typed as characters while a modifier may be held on the old side: the host "
                            "would add it.",
                            plural(std::ssize(lifting), "key is", "keys are")),
                "Let the bridge release the held modifiers before such a character and press them again "
                "behind it.")
                .what = lifting.front()->meaning->text;
        if (!locked.empty())
            gap(GapKind::caps_lock, Verdict::doubt, ids_of(locked),
                fmt::format(
                    "{} already shifted: with the host's caps lock on {} comes out the other way round.",
                    plural(std::ssize(locked), "letter is", "letters are"), locked.front()->meaning->text),
                "Read the lamp report and turn shift round for letters while caps lock is lit.")
                .what = locked.front()->meaning->text;
        if (!held.empty())
            gap(GapKind::no_repeat, Verdict::holds, ids_of(held),
                fmt::format(
                    "{} pressed and released at once: the host does not repeat {} while the old key is held.",
                    plural(std::ssize(held), "character is", "characters are"),
                    held.size() == 1 ? "it" : "them"),
                "Let the bridge repeat, from the old side's own repeat if it has one.")
                .what = held.front()->meaning->text;
    }

    void judge_held() {
        if (map_.way == MapWay::new_to_old) return;
        for (const auto& e : entries_) {
            if (!e.meaning || e.key->sends != KeySends::press) continue;
            const auto kind = e.meaning->kind;
            const bool modifier = kind == MeaningKind::key && is_modifier(e.meaning->usage.id);
            if (!modifier && kind != MeaningKind::button && kind != MeaningKind::hat &&
                kind != MeaningKind::axis && kind != MeaningKind::pointer)
                continue;
            gap(GapKind::never_held, modifier ? Verdict::stop : Verdict::doubt, {e.key->id},
                fmt::format("{} only says that it was pressed, never that it was let go: {} can't be held.",
                            name_of(e), say_meaning(*e.meaning)),
                modifier
                    ? "Let it stay down until the next character (a latching modifier), or take another key."
                    : "Hold it for a set time in the bridge, and try whether the host takes that.");
        }
    }

    [[nodiscard]] bool reaches(const Meaning& wish) const {
        for (const auto& e : entries_)
            if (e.meaning && *e.meaning == wish) return true;
        if (wish.kind != MeaningKind::text || layout_ == nullptr) return false;
        const auto strokes = layout_->strokes_for(wish.text);
        return !strokes.empty() &&
               std::all_of(strokes.begin(), strokes.end(), [&](const Stroke& s) { return strikes(s); });
    }

    /// A key of the host with its modifiers: all of them are keys of the old side that can be held.
    [[nodiscard]] bool strikes(const Stroke& s) const {
        const auto key = [&](std::uint16_t usage) {
            return std::any_of(entries_.begin(), entries_.end(), [&](const Entry& e) {
                return e.meaning && e.meaning->kind == MeaningKind::key && e.meaning->usage.id == usage &&
                       e.meaning->modifiers == 0 && (!is_modifier(usage) || e.key->sends != KeySends::press);
            });
        };
        // One key may bring its modifiers with it.
        const auto brings = [&](std::uint8_t modifiers) {
            return std::any_of(entries_.begin(), entries_.end(), [&](const Entry& e) {
                return e.meaning && e.meaning->kind == MeaningKind::key && e.meaning->usage.id == s.key &&
                       e.meaning->modifiers == modifiers;
            });
        };
        const auto left = static_cast<std::uint8_t>((s.shift ? 2U : 0U) | (s.alt ? 0x40U : 0U));
        if (left != 0 && (brings(left) || (!s.alt && brings(0x20)))) return true;
        return key(s.key) && (!s.shift || key(0xE1) || key(0xE5)) && (!s.alt || key(hid::right_alt));
    }

    void judge_wanted() {
        for (const auto& wish : map_.modern.wanted) {
            const auto meanings = wanted_meanings(wish, out_.profiles);
            if (meanings.empty()) {
                gap(GapKind::unknown_want, Verdict::doubt, {},
                    fmt::format("{} is no meaning and no group.", in_quotes(wish)),
                    "Wish for a meaning, or for text, letters, digits, media, arrows, pad, pointer.")
                    .what = wish;
                continue;
            }
            std::vector<const Meaning*> missing;
            for (const auto& m : meanings)
                if (!reaches(m)) missing.push_back(&m);
            out_.wanted += meanings.size();
            out_.reached += meanings.size() - missing.size();
            if (!missing.empty()) say_missing(wish, missing);
        }
    }

    void say_missing(const std::string& wish, const std::vector<const Meaning*>& missing) {
        std::string names;
        for (std::size_t i = 0; i < missing.size() && i < 12; ++i)
            names +=
                (i == 0 ? "" : " ") + (missing[i]->kind == MeaningKind::text
                                           ? missing[i]->text
                                           : say_meaning(*missing[i]) + (i + 1 < missing.size() ? "," : ""));
        if (missing.size() > 12) names += fmt::format(" and {} more", missing.size() - 12);
        const auto spare =
            std::find_if(entries_.begin(), entries_.end(), [](const Entry& e) { return e.text.empty(); });
        auto& g = gap(
            GapKind::not_reached, Verdict::doubt, {}, fmt::format("Of {}, nothing reaches {}.", wish, names),
            spare != entries_.end()
                ? fmt::format("{} has no meaning yet.", name_of(*spare))
                : "Give a key a second meaning behind a modifier, or let the bridge have a layer for it.");
        g.what = wish;
        if (spare != entries_.end()) {
            g.keys = {spare->key->id};
            g.proposal = *missing.front();
        }
    }

    void view() {
        for (const auto& k : map_.keys) {
            KeyView v{k.id, {}, Verdict::holds};
            for (const auto& e : entries_)
                if (e.key == &k && e.with.empty()) v.meaning = e.meaning;
            for (const auto& g : out_.gaps) {
                if (std::find(g.keys.begin(), g.keys.end(), k.id) == g.keys.end()) continue;
                if (g.kind == GapKind::message_open || g.kind == GapKind::not_reached) continue;
                if (g.verdict == Verdict::stop || (g.verdict == Verdict::doubt && v.state != Verdict::stop))
                    v.state = g.verdict;
                if (g.kind == GapKind::no_code && v.state != Verdict::stop) v.state = Verdict::unknown;
            }
            out_.keys.push_back(std::move(v));
        }
    }

    const DeviceMap& map_;
    const KeyboardLayout* layout_;
    std::string known_layouts_;
    std::vector<Entry> entries_;
    Coverage out_;
};

}  // namespace

const KeyView* Coverage::find(std::string_view id) const {
    const auto it = std::find_if(keys.begin(), keys.end(), [&](const auto& k) { return k.id == id; });
    return it == keys.end() ? nullptr : &*it;
}

Coverage cover(const DeviceMap& map, const LayoutLibrary& layouts) {
    return Coverer(map, layouts).run();
}

}  // namespace grayrelic
