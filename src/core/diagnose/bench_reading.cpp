// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/bench_reading.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/base/unions.hpp"

namespace grayrelic {
namespace {

constexpr double beeps_below = 30, least_ohm = 0.05;

class ReadingList {
  public:
    explicit ReadingList(const BenchBoard& b) : b_(b) {}
    std::vector<BenchReading> make() {
        for (const auto& t : b_.things)
            if (t.kind != ThingKind::contacts) out_.push_back({ReadingKind::look, t.ref, "", 1.0});
        beeps();
        for (const auto& t : b_.things) across(t);
        if (b_.problem.empty()) powered();
        return std::move(out_);
    }

  private:
    /// A short net each lead to each; a long one each to two of its leads, which answers the same.
    void beeps() {
        for (const auto& n : b_.nets) {
            if (n.leads.size() < 2) continue;
            const auto most = n.leads.size() <= 5 ? n.leads.size() : 2;
            for (std::size_t i = 0; i < most; ++i)
                for (std::size_t k = i + 1; k < n.leads.size(); ++k)
                    out_.push_back({ReadingKind::beep, n.leads[i], n.leads[k], 1.0});
        }
        // A joint by itself: from the lead to its pad.
        for (const auto& n : b_.nets)
            for (const auto& lead : n.leads)
                if (n.leads.size() > 1) out_.push_back({ReadingKind::beep, lead, lead + " pad", 1.3});
        // A connector's wires, far end to lead.
        for (const auto& t : b_.things)
            if (t.kind == ThingKind::contacts)
                for (const auto& p : t.pins)
                    if (b_.nets[static_cast<std::size_t>(p.net)].leads.size() > 1)
                        out_.push_back(
                            {ReadingKind::beep, t.ref + "." + p.number + "~", t.ref + "." + p.number, 1.2});
        std::vector<std::pair<int, int>> seen;
        for (const auto& n : b_.neighbours) {
            const int x = *b_.net_of(n.a), y = *b_.net_of(n.b);
            if (x == y) continue;
            const std::pair<int, int> both(std::min(x, y), std::max(x, y));
            if (std::find(seen.begin(), seen.end(), both) != seen.end()) continue;
            seen.push_back(both);
            out_.push_back({ReadingKind::beep, n.a, n.b, 1.0});
        }
    }

    void across(const BenchThing& t) {
        if (t.pins.size() < 2) return;
        const auto lead = [&](const BenchPin& p) { return t.ref + "." + p.number; };
        const auto one = lead(t.pins[0]), two = lead(t.pins[1]);
        switch (t.kind) {
            case ThingKind::resistor: out_.push_back({ReadingKind::ohms, one, two, 1.2}); break;
            case ThingKind::link: out_.push_back({ReadingKind::beep, one, two, 1.0}); break;
            case ThingKind::capacitor: out_.push_back({ReadingKind::farads, one, two, 1.6}); break;
            case ThingKind::diode:
                // At its pads: its own leads turn with it.
                out_.push_back({ReadingKind::diode, lead(*t.find_name("A")) + " pad",
                                lead(*t.find_name("K")) + " pad", 1.3});
                break;
            default: break;
        }
    }

    /// Each lead of a supply, an output, a contact; of other nets the first.
    void powered() {
        for (const auto& t : b_.things)
            for (const auto& p : t.pins) {
                const auto& n = b_.nets[static_cast<std::size_t>(p.net)];
                if (n.leads.size() > 1) out_.push_back({ReadingKind::volts, t.ref + "." + p.number, "", 1.2});
            }
    }

    const BenchBoard& b_;
    std::vector<BenchReading> out_;
};

double bell(double off, double width) {
    return std::exp(-0.5 * (off / width) * (off / width));
}

}  // namespace

std::string BenchReading::key() const {
    return b.empty() ? fmt::format("{}:{}", word(kind), a) : fmt::format("{}:{}+{}", word(kind), a, b);
}

std::string print_reading(ReadingKind kind, double v) {
    switch (kind) {
        case ReadingKind::look: return std::string(word(static_cast<Looks>(static_cast<int>(v))));
        case ReadingKind::beep: return v < beeps_below ? "beep" : "open";
        case ReadingKind::ohms: return v >= reads_open / 10 ? "open" : print_number(v, Unit::ohm);
        case ReadingKind::diode: return v >= reads_open / 10 ? "open" : print_number(v, Unit::volt);
        case ReadingKind::farads: return v >= reads_open / 10 ? "none" : print_number(v, Unit::farad);
        case ReadingKind::volts:
            return v <= reads_unknown / 2     ? "unknown"
                   : v <= reads_floating / 10 ? "floating"
                                              : print_number(v, Unit::volt);
    }
    return {};
}

Result<SaidReading> read_said(std::string_view text) {
    const auto wrong = [&] {
        return fail_usage(
            in_quotes(text),
            "a reading such as \"beep:U1.3+J2.4=open\", \"volts:U2.16=4.9\", \"ohms:R1.1+R1.2=4k7\", "
            "\"look:D1=turned\", or a symptom such as \"HOLD>REPLY=low\"");
    };
    const auto equals = text.rfind('=');
    if (equals == std::string_view::npos || equals == 0 || text.size() > 400) return wrong();
    const auto key = trim(text.substr(0, equals)), value = trim(text.substr(equals + 1));
    SaidReading out;
    const auto colon = key.find(':');
    const auto kind =
        colon == std::string_view::npos ? std::nullopt : named<ReadingKind>(key.substr(0, colon));
    if (!kind) {
        if (key.find('>') == std::string_view::npos) return wrong();
        constexpr std::array words{"ok", "low", "high", "nothing", "unclear", "weak", "strong"};
        if (std::find(words.begin(), words.end(), value) == words.end() &&
            !(value.starts_with("as ") && value.size() > 3))
            return fail_usage(in_quotes(value),
                              "what the line does: ok, low, high, nothing, unclear, weak, strong, or as and "
                              "another line");
        out.symptom = {std::string(key), std::string(value)};
        return out;
    }
    const auto where = key.substr(colon + 1);
    const auto plus = where.find('+');
    BenchReading r{*kind, std::string(where.substr(0, plus)),
                   plus == std::string_view::npos ? std::string() : std::string(where.substr(plus + 1))};
    const bool two = *kind != ReadingKind::look && *kind != ReadingKind::volts;
    if (r.a.empty() || r.b.empty() == two) return wrong();
    if (*kind == ReadingKind::look) {
        const auto looks = named<Looks>(value);
        if (!looks)
            return fail_usage(in_quotes(value), "as-drawn, missing, turned, other-marking or other-place");
        out.value = static_cast<double>(*looks);
    } else if ((value == "open" && *kind != ReadingKind::volts) ||
               (value == "none" && *kind == ReadingKind::farads)) {
        out.value = reads_open;
    } else if (value == "beep" && *kind == ReadingKind::beep) {
        out.value = least_ohm;
    } else if (value == "floating" && *kind == ReadingKind::volts) {
        out.value = reads_floating;
    } else {
        const auto unit = *kind == ReadingKind::farads                               ? Unit::farad
                          : *kind == ReadingKind::beep || *kind == ReadingKind::ohms ? Unit::ohm
                                                                                     : Unit::volt;
        const auto number = parse_number(value, unit);
        if (!number) return fail_usage(in_quotes(value), number.error().expected);
        out.value = *number;
    }
    out.reading = std::move(r);
    return out;
}

std::vector<BenchReading> readings_of(const BenchBoard& board) {
    return ReadingList(board).make();
}

double fit_of(ReadingKind kind, double p, double r) {
    constexpr double slips = 0.003;
    switch (kind) {
        case ReadingKind::look: return p == r ? 1 : slips;
        case ReadingKind::beep: return (p < beeps_below) == (r < beeps_below) ? 1 : slips;
        case ReadingKind::ohms: {
            const bool none = p > 5e6, open = r > 5e6;
            if (none || open) return none == open ? 1 : slips;
            return std::max(slips, bell(std::log((r + 0.5) / (p + 0.5)), 0.06));
        }
        case ReadingKind::diode: {
            const bool none = p > 2.5, open = r > 2.5;
            if (none || open) return none == open ? 1 : slips;
            return std::max(slips, bell(r - p, 0.15));
        }
        case ReadingKind::farads: {
            const bool none = p > 1, open = r > 1;
            if (none || open) return none == open ? 1 : slips;
            return std::max(slips, bell(std::log((r + 5e-11) / (p + 5e-11)), 0.12));
        }
        case ReadingKind::volts: {
            const bool floats = p <= reads_floating / 10, floating = r <= reads_floating / 10;
            // Nobody knows what a floating node shows on a meter; near 0 is likeliest.
            if (p <= reads_unknown / 2) return 0.4;
            if (floats) return floating ? 1 : std::abs(r) < 0.5 ? 0.6 : 0.25;
            if (floating) return slips;
            // How far a supply comes down under a fault is hard to say.
            return std::max(slips, bell(r - p, (p < 2.5 ? 0.3 : 0.12) + 0.05 * std::abs(p)));
        }
    }
    return slips;
}

double fit_of(const std::string& predicted, const std::string& seen) {
    if (predicted == seen) return 1;
    if (predicted == "ok" || seen == "ok") return predicted == "unclear" ? 0.1 : 0.02;
    // What can't be told is no proof.
    if (predicted == "unclear") return 0.5;
    if (seen == "unclear") return 0.2;
    const auto dull = [](const std::string& s) { return s == "low" || s == "high" || s == "nothing"; };
    if (dull(predicted) && dull(seen)) return 0.12;
    // Which of several lines a gate still follows is told either way.
    if ((dull(predicted) && seen.starts_with("as ")) || (dull(seen) && predicted.starts_with("as ")))
        return 0.06;
    return 0.02;
}

}  // namespace grayrelic
