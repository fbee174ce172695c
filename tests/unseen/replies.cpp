// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/unseen/talk.hpp"

#include <algorithm>
#include <cmath>

namespace grayrelic::unseen {
namespace {

/// Latch, clock, answer. The register shifts at either edge of the pulse, sooner or later behind it.
void latch_shift(Talk& t) {
    auto& dice = t.dice;
    const int bits = static_cast<int>(dice.whole(6, 24));
    const double period = dice.log(0.5e6, 50e6), share = dice.real(0.25, 0.75);
    const bool rests = dice.chance(0.5), shift_first = dice.chance(0.5), latch_high = dice.chance(0.5);
    // Most parts are quick; some answer behind the other edge of the same pulse.
    const double delay = period * (dice.chance(0.8) ? dice.real(0.01, 0.2) : dice.real(0.2, 0.75));
    const double spread = std::min(delay * dice.real(0, 0.5), period * 0.1);
    t.draft.jitter = period * dice.real(0, 0.02);
    auto& latch = t.wire("latch", !latch_high);
    auto& clock = t.wire("clk", rests);
    t.wire("q", dice.chance(0.5));
    const bool loads_at_release = dice.chance(0.3);
    const bool rises = shift_first != rests;  // the first edge of a pulse leaves the rest
    const std::string cause = edge("clk", rises), load = edge("latch", loads_at_release != latch_high);
    t.reply(cause, "q");
    double at = period * dice.real(4, 20);
    for (long n = dice.whole(40, 150); n > 0; --n) {
        std::vector<bool> word(static_cast<std::size_t>(bits) + 1);
        for (int k = 0; k < bits; ++k) word[static_cast<std::size_t>(k)] = dice.chance(0.5);
        word.back() = dice.chance(0.5);
        const double on = t.draft.shaken(at), off = t.draft.shaken(at + period);
        latch.set(on, latch_high);
        latch.set(off, !latch_high);
        t.answer(load,
                 loads_at_release ? static_cast<double>(latch.edges.back())
                                  : static_cast<double>(latch.edges[latch.edges.size() - 2]),
                 "q", std::min(delay, period * 0.3) + spread * 0.3 * dice.unit(), word[0]);
        at += period * dice.real(2.2, 2.6);
        for (int k = 0; k < bits; ++k) {
            clock.set(t.draft.shaken(at), !rests);
            const auto first = static_cast<double>(clock.edges.back());
            clock.set(t.draft.shaken(at + period * share), rests);
            const auto second = static_cast<double>(clock.edges.back());
            t.answer(cause, shift_first ? first : second, "q", delay + spread * dice.unit(),
                     word[static_cast<std::size_t>(k) + 1]);
            at += period;
        }
        at += period * (1 + dice.real(1, 3) * bits);
    }
    t.draft.now = at;
    t.c.kind = "latch-shift";
    t.c.roles = {{"latch", {"latch"}}, {"clock", {"clk"}}, {"data", {"q"}}};
    t.c.looks = {"clk:rise", "clk:fall"};
}

/// Four modes; the device shifts out behind one edge, the host reads at the other. A select brings the first.
void clocked(Talk& t) {
    auto& dice = t.dice;
    const int mode = static_cast<int>(dice.whole(0, 3));
    const bool rests = mode >= 2, reads_second = mode % 2 != 0;
    const int bits = static_cast<int>(dice.chance(0.6) ? 8 : dice.whole(5, 16));
    const double period = dice.log(0.2e6, 50e6), share = dice.real(0.4, 0.6);
    const double delay = period * dice.real(0.01, 0.3), spread = delay * dice.real(0, 0.4);
    t.draft.jitter = period * dice.real(0, 0.02);
    const bool active_low = dice.chance(0.8);
    auto& clock = t.wire("sck", rests);
    t.wire("so", dice.chance(0.5));
    auto& select = t.wire("cs", active_low);
    // Shifted at the edge that is not read.
    const bool shift_second = !reads_second;
    const std::string cause = edge("sck", shift_second == rests);
    t.reply(cause, "so");
    double at = period * dice.real(5, 20);
    for (long n = dice.whole(40, 120); n > 0; --n) {
        select.set(t.draft.shaken(at), !active_low);
        const auto selected = static_cast<double>(select.edges.back());
        if (!reads_second) t.answer(edge("cs", !active_low), selected, "so", delay, dice.chance(0.5));
        at += period * dice.real(1, 2);
        for (int k = 0; k < bits; ++k) {
            clock.set(t.draft.shaken(at), !rests);
            const auto first = static_cast<double>(clock.edges.back());
            clock.set(t.draft.shaken(at + period * share), rests);
            const auto second = static_cast<double>(clock.edges.back());
            t.answer(cause, shift_second ? second : first, "so", delay + spread * dice.unit(),
                     dice.chance(0.5));
            at += period;
        }
        at += period * dice.real(1, 2);
        select.set(t.draft.shaken(at), active_low);
        at += period * dice.real(1, 4) * bits;
    }
    t.draft.now = at;
    t.c.kind = "clocked";
    t.c.roles = {{"clock", {"sck"}}, {"data", {"so"}}, {"select", {"cs"}}};
    t.c.looks = {edge("sck", shift_second != rests)};
}

void select_bank(Talk& t) {
    auto& dice = t.dice;
    const int lines = static_cast<int>(dice.whole(2, 6));
    const bool enabled = dice.chance(0.6), passes = dice.chance(0.5), forced = dice.chance(0.5);
    const double half = dice.log(2e6, 2000e6), delay = half * dice.log(0.002, 0.4);
    t.draft.jitter = half * dice.real(0, 0.03);
    auto& select = t.wire("sel", dice.chance(0.5));
    Wire* enable = enabled ? &t.wire("en", !passes) : nullptr;
    std::vector<std::string> names;
    std::vector<bool> banks[2];
    for (int k = 0; k < lines; ++k) {
        names.push_back("d" + std::to_string(k));
        t.wire(names.back(), forced);
        t.reply("sel:any", names.back());
        banks[0].push_back(dice.chance(0.5));
        banks[1].push_back(dice.chance(0.6) ? !banks[0].back() : dice.chance(0.5));
    }
    bool bank = select.level();
    const auto show = [&](const char* cause, double at, bool on) {
        for (std::size_t k = 0; k < names.size(); ++k)
            t.answer(cause, at, names[k], delay * dice.real(0.7, 1.3), on ? banks[bank ? 1 : 0][k] : forced);
    };
    double at = half * dice.real(2, 6);
    for (long n = dice.whole(60, 200); n > 0; --n) {
        if (enable != nullptr) {
            for (auto& b : banks)
                for (std::size_t k = 0; k < b.size(); ++k)
                    if (dice.chance(0.05)) b[k] = !b[k];
            enable->set(t.draft.shaken(at), passes);
            show("en:any", static_cast<double>(enable->edges.back()), true);
            at += half;
        }
        for (long s = dice.whole(2, 6); s > 0; --s) {
            bank = !bank;
            select.set(t.draft.shaken(at), bank);
            show("sel:any", static_cast<double>(select.edges.back()), true);
            at += half;
        }
        if (enable != nullptr) {
            enable->set(t.draft.shaken(at), !passes);
            show("en:any", static_cast<double>(enable->edges.back()), false);
            at += half;
        }
        at += half * dice.real(1, 12);
    }
    t.draft.now = at;
    t.c.kind = "select-bank";
    t.c.roles = {{"select", {"sel"}}, {"data", names}};
    if (enabled) t.c.roles["enable"] = {"en"};
    t.c.looks = {"sel:any"};
}

/// The host strobes, the device puts a value on the lines; behind the strobe they go back or stay.
void bus_read(Talk& t) {
    auto& dice = t.dice;
    const int lines = static_cast<int>(dice.whole(4, 8));
    const bool low = dice.chance(0.7), releases = dice.chance(0.5), pulled = dice.chance(0.7);
    const double width = dice.log(0.5e6, 50e6), delay = width * dice.real(0.05, 0.7);
    t.draft.jitter = width * dice.real(0, 0.02);
    auto& strobe = t.wire("rd", low);
    std::vector<std::string> names;
    for (int k = 0; k < lines; ++k) {
        names.push_back("b" + std::to_string(k));
        t.wire(names.back(), pulled);
        t.reply(edge("rd", !low), names.back());
    }
    double at = width * 5;
    for (long n = dice.whole(80, 300); n > 0; --n) {
        strobe.set(t.draft.shaken(at), !low);
        const auto asked = static_cast<double>(strobe.edges.back());
        for (const auto& name : names)
            t.answer(edge("rd", !low), asked, name, delay * dice.real(0.9, 1.1), dice.chance(0.5));
        strobe.set(t.draft.shaken(at + width), low);
        const auto done = static_cast<double>(strobe.edges.back());
        if (releases)
            for (const auto& name : names)
                t.answer(edge("rd", low), done, name, width * dice.real(0.02, 0.1), pulled);
        at += width * dice.real(1.5, 8);
    }
    t.draft.now = at;
    t.c.kind = "strobed-bus";
    t.c.roles = {{"strobe", {"rd"}}, {"data", names}};
    t.c.settings = {{"edge", low ? "rise" : "fall"}};
    t.c.looks = {edge("rd", low)};
}

/// Who strobes drives the lines too.
void bus_write(Talk& t) {
    auto& dice = t.dice;
    const int lines = static_cast<int>(dice.whole(4, 8));
    const bool low = dice.chance(0.7);
    const double width = dice.log(0.5e6, 50e6), setup = width * dice.real(0.1, 1);
    t.draft.jitter = width * dice.real(0, 0.02);
    auto& strobe = t.wire("wr", low);
    std::vector<std::string> names;
    for (int k = 0; k < lines; ++k) {
        names.push_back("b" + std::to_string(k));
        t.wire(names.back(), true);
    }
    double at = width * 5;
    for (long n = dice.whole(80, 300); n > 0; --n) {
        for (const auto& name : names) t.find(name).set(t.draft.shaken(at - setup), dice.chance(0.5));
        strobe.set(t.draft.shaken(at), !low);
        strobe.set(t.draft.shaken(at + width), low);
        at += width * dice.real(3, 12);
    }
    t.draft.now = at;
    t.c.kind = "strobed-bus";
    t.c.roles = {{"strobe", {"wr"}}, {"data", names}};
}

void matrix(Talk& t) {
    auto& dice = t.dice;
    const int strobes = static_cast<int>(dice.whole(3, 6)), senses = static_cast<int>(dice.whole(2, 5));
    const bool high = dice.chance(0.3);
    const double slot = dice.log(5e6, 2000e6), settle = slot * dice.real(0.02, 0.4);
    const double between = dice.chance(0.5) ? 0.0 : slot * dice.real(0.1, 0.5);
    t.draft.jitter = slot * dice.real(0, 0.01);
    std::vector<std::string> s, n;
    for (int k = 0; k < strobes; ++k) t.wire(s.emplace_back("s" + std::to_string(k)), !high);
    for (int k = 0; k < senses; ++k) t.wire(n.emplace_back("n" + std::to_string(k)), !high);
    double at = slot * 3;
    std::set<std::pair<std::size_t, std::size_t>> held;
    const auto any = [&](std::size_t count) {
        return static_cast<std::size_t>(dice.whole(0, static_cast<long>(count) - 1));
    };
    std::vector<double> idle(n.size(), 0);  // when a line is back at rest
    for (long scan = dice.whole(80, 200); scan > 0; --scan) {
        if (dice.chance(0.4)) {
            held.clear();
            for (long keys = dice.whole(0, 2); keys > 0; --keys) held.insert({any(s.size()), any(n.size())});
        }
        for (std::size_t k = 0; k < s.size(); ++k) {
            auto& strobe = t.find(s[k]);
            strobe.set(t.draft.shaken(at), high);
            const auto on = static_cast<double>(strobe.edges.back());
            const double off = t.draft.shaken(at + slot);
            for (std::size_t j = 0; j < n.size(); ++j)
                if (held.count({k, j}) != 0)
                    t.answer(edge(s[k], high), on, n[j], settle * dice.real(0.9, 1.1), high);
            strobe.set(off, !high);
            for (std::size_t j = 0; j < n.size(); ++j)
                if (between > 0 || k + 1 == s.size() || held.count({k + 1, j}) == 0)
                    t.find(n[j]).set(off + settle * 0.2, !high);
            at += slot + between;
        }
        at += slot * dice.real(0.5, 6);
    }
    t.draft.now = at;
    t.c.kind = "matrix";
    t.c.roles = {{"strobe", s}, {"sense", n}};
    std::erase_if(t.c.replies, [](const Reply& r) { return r.delays.empty(); });
}

}  // namespace

const std::vector<std::string>& talk_kinds() {
    static const std::vector<std::string> all = {
        "latch-shift", "clocked",      "select-bank",      "bus-read",     "bus-write",
        "matrix",      "one-wire",     "serial-two-lines", "serial-turns", "serial-alone",
        "framed-held", "framed-alone", "quadrature"};
    return all;
}

Conversation talk(std::uint64_t seed, const std::string& kind) {
    Talk t(seed);
    if (kind == "latch-shift") latch_shift(t);
    if (kind == "clocked") clocked(t);
    if (kind == "select-bank") select_bank(t);
    if (kind == "bus-read") bus_read(t);
    if (kind == "bus-write") bus_write(t);
    if (kind == "matrix") matrix(t);
    if (kind == "one-wire") one_wire(t);
    if (kind == "serial-two-lines") serial(t, false);
    if (kind == "serial-turns") serial(t, true);
    if (kind == "serial-alone") serial_alone(t);
    if (kind == "framed-held") framed(t, true);
    if (kind == "framed-alone") framed(t, false);
    if (kind == "quadrature") quadrature(t);
    finish(t.draft);
    t.c.made = std::move(t.draft.made);
    return std::move(t.c);
}

}  // namespace grayrelic::unseen
