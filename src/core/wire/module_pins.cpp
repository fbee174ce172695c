// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wire/module_pins.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <functional>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

bool is_usable(const PartPin& p) {
    return p.kind == PinKind::both;
}

/// True, false, or nothing where the part's data does not say.
std::optional<bool> can(const PartType& part, const std::string& pin, PinUse use) {
    if (use == PinUse::plain) return true;
    const auto at = part.uses.find(std::string(word(use)));
    if (at == part.uses.end()) return std::nullopt;
    return std::find(at->second.begin(), at->second.end(), pin) != at->second.end();
}

class PinWork {
  public:
    PinWork(const PinPlan& plan, const Circuit& circuit, const LinkStudy& links, const RailTree& rails,
            const PartLibrary& parts)
        : plan_(plan), c_(circuit), links_(links), rails_(rails), parts_(parts) {}
    PinStudy take();

  private:
    bool find_module();
    void place_wired();
    void place_bound(const PinNeed& need);
    void match(const std::vector<const PinNeed*>& open);
    void judge_uses();
    void add_remedies();
    void propose();
    [[nodiscard]] SignalPin* place_at(const std::string& pin);

    const PinPlan& plan_;
    const Circuit& c_;
    const LinkStudy& links_;
    const RailTree& rails_;
    const PartLibrary& parts_;
    const PartType* type_ = nullptr;
    const ListedPart* part_ = nullptr;
    PinStudy out_;
};

bool PinWork::find_module() {
    for (const auto& p : c_.network.all)
        if (p.type->function == "module" &&
            (plan_.part.empty() || plan_.part == p.type->id || plan_.part == p.ref)) {
            part_ = &p;
            type_ = p.type;
            out_.module = p.ref;
            out_.part = type_->id;
            return true;
        }
    if (plan_.part.empty()) {
        out_.problem = "No module is chosen: pick one, or place one in the circuit.";
        return false;
    }
    type_ = parts_.find(plan_.part);
    out_.module = out_.part = plan_.part;
    if (type_ == nullptr) out_.problem = fmt::format("No part is named {}.", in_quotes(plan_.part));
    return type_ != nullptr;
}

SignalPin* PinWork::place_at(const std::string& pin) {
    const auto it =
        std::find_if(out_.places.begin(), out_.places.end(), [&](const auto& p) { return p.pin == pin; });
    return it == out_.places.end() ? nullptr : &*it;
}

/// What the circuit joins to the module's pins.
void PinWork::place_wired() {
    if (part_ == nullptr) return;
    for (const auto& pin : type_->pins) {
        if (!is_usable(pin)) continue;
        auto net = part_->net_of(pin.name);
        if (!net) net = part_->net_of(pin.number);
        if (!net) continue;
        SignalPin p;
        const auto* line = links_.line_of(*net);
        p.name = line != nullptr ? line->name : c_.nets[static_cast<std::size_t>(*net)].name;
        // Two pins on one line are told apart by their nets.
        if (std::any_of(out_.places.begin(), out_.places.end(),
                        [&](const auto& q) { return q.name == p.name; }))
            p.name = c_.nets[static_cast<std::size_t>(*net)].name;
        p.pin = pin.name;
        p.bound = true;
        p.why = "wired in the circuit";
        out_.places.push_back(std::move(p));
    }
}

void PinWork::place_bound(const PinNeed& need) {
    SignalPin p;
    p.name = need.name;
    p.need = need.id;
    p.use = need.use;
    p.pin = need.pin;
    p.bound = true;
    const auto* pin = type_->find_name(need.pin);
    if (pin == nullptr || !is_usable(*pin)) {
        p.verdict = Verdict::stop;
        p.why = fmt::format("{} has no pin {} for signals.", out_.part, need.pin);
        p.pin.clear();
    } else if (const auto* other = place_at(need.pin)) {
        p.verdict = Verdict::stop;
        p.why = fmt::format("{} is taken by {}.", need.pin, other->name);
        p.pin.clear();
    }
    out_.places.push_back(std::move(p));
}

/// Augmenting paths (Kuhn 1955): as many signals as can have a pin at once get one.
void PinWork::match(const std::vector<const PinNeed*>& open) {
    std::vector<std::string> pins;
    for (const auto& pin : type_->pins)
        if (is_usable(pin) && place_at(pin.name) == nullptr) pins.push_back(pin.name);
    std::vector<int> taken(pins.size(), -1);
    // Pins that can do least go first, so that what is rare is left for those who need it.
    std::vector<std::size_t> order(pins.size());
    for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
    const auto abilities = [&](const std::string& pin) {
        long n = 0;
        for (const auto use : all_of<PinUse>())
            n += use != PinUse::plain && can(*type_, pin, use).value_or(false) ? 1 : 0;
        return n;
    };
    std::stable_sort(order.begin(), order.end(),
                     [&](std::size_t a, std::size_t b) { return abilities(pins[a]) < abilities(pins[b]); });
    std::vector<bool> seen;
    const std::function<bool(int)> seek = [&](int need) {
        for (const auto k : order) {
            if (seen[k] || !can(*type_, pins[k], open[static_cast<std::size_t>(need)]->use).value_or(true))
                continue;
            seen[k] = true;
            if (taken[k] >= 0 && !seek(taken[k])) continue;
            taken[k] = need;
            return true;
        }
        return false;
    };
    for (std::size_t i = 0; i < open.size(); ++i) {
        seen.assign(pins.size(), false);
        (void)seek(static_cast<int>(i));
    }
    for (std::size_t i = 0; i < open.size(); ++i) {
        SignalPin p;
        p.name = open[i]->name;
        p.need = open[i]->id;
        p.use = open[i]->use;
        for (std::size_t k = 0; k < pins.size(); ++k)
            if (taken[k] == static_cast<int>(i)) p.pin = pins[k];
        if (p.pin.empty()) {
            p.verdict = Verdict::stop;
            p.why = fmt::format("No pin is left that can do this ({}).", word(p.use));
        } else {
            p.why = "any that will do";
        }
        out_.places.push_back(std::move(p));
    }
}

void PinWork::judge_uses() {
    for (auto& p : out_.places) {
        if (p.pin.empty()) {
            ++out_.missing;
        } else if (const auto able = can(*type_, p.pin, p.use); able == false) {
            p.verdict = Verdict::stop;
            p.why = fmt::format("{} can't do this ({}).", p.pin, word(p.use));
        } else if (!able) {
            p.verdict = Verdict::doubt;
            p.why = fmt::format(
                "Whether {} can do this ({}) is not said in the part's data: see the module's sheet.", p.pin,
                word(p.use));
        }
        out_.verdict = out_.verdict == Verdict::unknown ? p.verdict : worse(out_.verdict, p.verdict);
    }
    for (const auto& pin : type_->pins) {
        if (!is_usable(pin)) continue;
        ++out_.pins;
        if (place_at(pin.name) == nullptr) out_.free.push_back(pin.name);
    }
}

void PinWork::add_remedies() {
    if (out_.missing == 0) return;
    int plain = 0, special = 0;
    for (const auto& p : out_.places) {
        if (p.use != PinUse::plain)
            special += p.pin.empty() ? 1 : 0;
        else
            ++plain;
    }
    // A register takes three pins for as many slow lines as one likes: what it frees must be more than it
    // takes.
    const int freed_by_register = plain - 3, freed_by_expander = std::min(plain, 16) - 2;
    if (freed_by_register >= out_.missing)
        out_.remedies.push_back(fmt::format(
            "Shift registers (74x165 for inputs, 74x595 for outputs): {} plain signals on 3 pins.", plain));
    if (freed_by_expander >= out_.missing)
        out_.remedies.push_back(
            "An expander on a two-wire bus: up to 16 plain signals on 2 pins, some 100 µs slower each.");
    int rows = 1;
    while (rows * rows < plain) ++rows;
    const int columns = rows > 0 ? (plain + rows - 1) / rows : 0;
    if (plain - rows - columns >= out_.missing)
        out_.remedies.push_back(
            fmt::format("If they are keys: a matrix of {} × {} takes {} pins, with a diode at each key.",
                        rows, columns, rows + columns));
    if (special > 0)
        out_.remedies.push_back(
            "Signals that need an interrupt can share one: join them by a gate, and read which it was.");
    out_.remedies.push_back("Or a module with more pins, or a second one.");
}

void PinWork::propose() {
    // Two pins that can send and receive, for words from the firmware.
    std::vector<std::string> serial;
    for (const auto& pin : out_.free)
        if (can(*type_, pin, PinUse::serial).value_or(false)) serial.push_back(pin);
    if (serial.size() >= 2)
        out_.proposals.push_back({"Header, 3 pins", fmt::format("{}, {}, ground", serial[0], serial[1]),
                                  "What the firmware says while it runs: without it one debugs blind."});
    std::string rails;
    for (const auto& r : rails_.rails()) rails += (rails.empty() ? "" : ", ") + r;
    if (!rails.empty())
        out_.proposals.push_back(
            {"Test points", rails + ", ground", "The first readings of every power-up are these."});
    for (const auto& line : links_.lines) {
        const bool from_outside = std::any_of(line.nets.begin(), line.nets.end(), [&](int n) {
            return !c_.nets[static_cast<std::size_t>(n)].contacts.empty();
        });
        if (!from_outside || line.links.empty()) continue;
        if (line.verdict != Verdict::holds)
            out_.proposals.push_back({"Test point", line.name, "It is in doubt: a place for the probe."});
        const bool plain = std::none_of(line.links.begin(), line.links.end(),
                                        [&](std::size_t i) { return links_.links[i].through_parts; });
        if (plain)
            out_.proposals.push_back({"Footprint", "in series with " + line.name,
                                      "0 Ω now; a resistor later needs no new board."});
    }
    if (!out_.free.empty())
        out_.proposals.push_back({"Pads", fmt::format("{}", fmt::join(out_.free, " ")),
                                  "Free pins on pads can be used after the board has come."});
}

PinStudy PinWork::take() {
    if (!find_module()) return std::move(out_);
    place_wired();
    std::vector<const PinNeed*> open;
    for (const auto& need : plan_.needs) {
        const auto wired = std::find_if(out_.places.begin(), out_.places.end(),
                                        [&](const auto& p) { return p.need.empty() && p.name == need.name; });
        if (wired != out_.places.end() && (need.pin.empty() || need.pin == wired->pin)) {
            wired->need = need.id;
            wired->use = need.use;
        } else if (!need.pin.empty()) {
            place_bound(need);
        } else {
            open.push_back(&need);
        }
    }
    match(open);
    judge_uses();
    add_remedies();
    propose();
    return std::move(out_);
}

}  // namespace

PinStudy study_pins(const PinPlan& plan, const Circuit& circuit, const LinkStudy& links,
                    const RailTree& rails, const PartLibrary& parts) {
    return PinWork(plan, circuit, links, rails, parts).take();
}

Result<PinNeed> need_from_text(std::string_view text) {
    std::vector<std::string> words;
    for (const auto word : split(trim(text), ' '))
        if (!trim(word).empty()) words.emplace_back(trim(word));
    constexpr auto expected = "a signal, perhaps what it asks and a pin: REPLY interrupt P7";
    if (words.empty() || words.size() > 3 || words.front().size() > 64)
        return fail_usage(in_quotes(text), expected);
    PinNeed n;
    n.name = words[0];
    if (words.size() >= 2) {
        if (const auto use = named<PinUse>(words[1])) {
            n.use = *use;
        } else if (words.size() == 2) {
            n.pin = words[1];
        } else {
            return fail_usage(in_quotes(words[1]), one_of<PinUse>());
        }
    }
    if (words.size() == 3) n.pin = words[2];
    return n;
}

}  // namespace grayrelic
