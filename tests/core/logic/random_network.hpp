// SPDX-License-Identifier: GPL-3.0-or-later
// Random networks of the shipped parts, with random delays to the picosecond, and random stimuli.
#pragma once

#include <fmt/format.h>

#include <memory>
#include <set>

#include "core/base/random.hpp"
#include "tests/core/logic/logic_helpers.hpp"

namespace grayrelic::test {

struct Made {
    Network network;
    std::vector<std::unique_ptr<PartDelays>> delays;
    std::vector<Stimulus> stimuli;
    Time end;
};

inline std::string random_text(Random& r) {
    const auto& library = shipped_logic().parts;
    std::vector<const PartLogic*> kinds;
    for (const auto& [id, p] : library)
        if (!p.delays.empty() && p.id != "74x245")
            kinds.push_back(&p);  // its two directions are a loop on paper
    const auto inputs = 3 + r.below(5);
    std::vector<std::string> nets{"0", "1"};
    std::string text = "input";
    for (std::uint64_t i = 0; i < inputs; ++i) {
        nets.push_back(fmt::format("in{}", i));
        text += " " + nets.back();
    }
    text += "\n";
    std::string body;
    std::vector<std::string> made;
    const auto parts = 3 + r.below(10);
    for (std::uint64_t p = 0; p < parts; ++p) {
        const auto& kind = *kinds[r.below(kinds.size())];
        body += fmt::format("U{} {} {}:", p, kind.id, kind.delays[r.below(kind.delays.size())].family);
        // Recent nets more often, for depth; levels seldom, and never at pins that outputs
        // follow at once: that simulator knows an output that
        // follows from levels alone before its delay is over.
        std::set<std::string> direct;
        for (const auto& o : kind.outputs)
            for (const auto* e : {&o.value, &o.enable}) direct.insert(e->names().begin(), e->names().end());
        const auto pick = [&](const std::string& pin) {
            return direct.count(pin) == 0 && r.uniform() < 0.15
                       ? nets[r.below(2)]
                       : nets[nets.size() - 1 - r.below(std::min<std::uint64_t>(nets.size() - 2, 14))];
        };
        std::set<std::string> bus;
        for (const auto& i : kind.inputs) body += fmt::format(" {}={}", i, pick(i));
        std::vector<std::string> fresh;
        for (const auto& o : kind.outputs) {
            if (r.uniform() < 0.25) continue;
            // Outputs that let go may share a net, with or without a pull.
            if (!o.enable.steps().empty() && !fresh.empty() && r.uniform() < 0.4) {
                body += fmt::format(" {}={}", o.pin, fresh.back());
                continue;
            }
            if (!fresh.empty() && !o.enable.steps().empty() && r.uniform() < 0.3)
                text += fmt::format("pull {} {}\n", fresh.back(), r.below(2));
            fresh.push_back(fmt::format("n{}_{}", p, fresh.size()));
            body += fmt::format(" {}={}", o.pin, fresh.back());
        }
        body += "\n";
        nets.insert(nets.end(), fresh.begin(), fresh.end());
        made.insert(made.end(), fresh.begin(), fresh.end());
    }
    if (made.empty()) return random_text(r);
    text += "output " + made.back() + "\n";
    return text + body;
}

inline Made make(Random& r) {
    Made m;
    m.network = network(random_text(r));
    for (auto& part : m.network.parts) {
        auto d = std::make_unique<PartDelays>(*part.delays);
        const auto delay = [&] { return Time::ps(300 + static_cast<std::int64_t>(r.below(60'000))); };
        for (auto* list : {&d->gates, &d->storage})
            for (auto& x : *list) x = {delay(), delay(), delay()};
        part.delays = d.get();
        m.delays.push_back(std::move(d));
    }
    std::set<std::int64_t> taken;
    for (const auto& in : m.network.inputs) {
        Stimulus s{in.net, r.below(2) != 0 ? Level::one : Level::zero, {}};
        Level level = s.first;
        std::int64_t at = 100'000 + static_cast<std::int64_t>(r.below(90'000));
        const auto changes = 5 + r.below(40);
        for (std::uint64_t i = 0; i < changes; ++i) {
            while (!taken.insert(at).second) ++at;
            // Now and then nobody knows, or nobody drives.
            const double what = r.uniform();
            const Level next = what < 0.04           ? Level::unknown
                               : what < 0.06         ? Level::open
                               : level == Level::one ? Level::zero
                                                     : Level::one;
            if (next != level) s.changes.push_back({Time::ps(at), level = next});
            at += 1 + static_cast<std::int64_t>(r.uniform() < 0.3 ? r.below(3'000) : r.below(120'000));
        }
        m.end = std::max(m.end, Time::ps(at));
        m.stimuli.push_back(std::move(s));
    }
    m.end += Time::us(2);
    return m;
}

}  // namespace grayrelic::test
