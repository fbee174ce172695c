// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/exercise.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace grayrelic {
namespace {

/// Shares nearer to one another than this can't be told apart by a meter on a real converter.
constexpr double same_share = 0.2, least_share_v = 0.01;

}  // namespace

std::string says(const Symptom& s) {
    const auto arrow = s.key.find('>');
    const auto line = s.key.substr(0, arrow);
    const auto place = arrow == std::string::npos ? std::string() : s.key.substr(arrow + 1);
    const auto at = place.empty() || place == line ? std::string() : " at " + place;
    if (s.value == "ok") return line + at + " follows";
    if (s.value == "low" || s.value == "high") return line + at + " stays " + s.value;
    if (s.value == "nothing") return line + at + ": nothing is told";
    if (s.value.starts_with("as ")) return s.value.substr(3) + " shows where " + line + " should" + at;
    return line + at + " is " + s.value;
}

std::string Exercise::Sight::key(const BenchBoard& b) const {
    return b.driven[line].name + ">" + b.watched[watched].name;
}

Exercise::Exercise(const BenchBoard& board) : b_(board) {
    while ((1U << static_cast<unsigned>(patterns_)) < b_.driven.size() + 1) ++patterns_;
    // Each letter and its opposite: what two lines make together (one high is enough, or both must be) is
    // then no word of a third.
    patterns_ *= 2;
    // All low and all high first: an inverted word is no word of another line either.
    patterns_ += 2;
    for (std::size_t i = 0; i < b_.driven.size(); ++i)
        if (b_.driven[i].control && !b_.driven[i].loads) clocks_.push_back(i);
    analogue_.assign(b_.watched.size(), false);
    if (b_.driven.empty() || b_.watched.empty() || !b_.problem.empty()) return;
    const auto healthy = circuit_with(b_, {});
    BenchState state(healthy);
    const auto first = watch(state, healthy);
    for (std::size_t w = 0; w < b_.watched.size(); ++w)
        for (const auto& column : first.columns[w])
            if (!b_.watched[w].lamp && column.find('x') != std::string::npos &&
                state.volts(healthy.watched_node[w]))
                analogue_[w] = true;
    BenchState again(healthy);
    const auto seen = watch(again, healthy);
    for (std::size_t w = 0; w < b_.watched.size(); ++w) {
        if (analogue_[w]) {
            for (std::size_t i = 0; i < b_.driven.size(); ++i)
                if (const double v = seen.volts[w][i + 1] - seen.volts[w][0]; std::abs(v) > least_share_v)
                    expected_.push_back({i, w, 0, false, v, -1});
            continue;
        }
        for (std::size_t p = 0; p < seen.columns[w].size(); ++p)
            if (const auto line = line_at(seen.columns[w][p])) {
                // Of what a register repeats the first place counts.
                const auto same = [&](const Sight& s) { return s.line == line->first && s.watched == w; };
                if (std::none_of(expected_.begin(), expected_.end(), same))
                    expected_.push_back({line->first, w, p, line->second, 0, -1});
            }
    }
    find_gates(seen);
    std::sort(expected_.begin(), expected_.end(), [](const Sight& a, const Sight& b) {
        return std::tuple(a.line, a.watched, a.place) < std::tuple(b.line, b.watched, b.place);
    });
}

/// Leads that no line's word reaches: what gates make of several.
void Exercise::find_gates(const Seen& seen) {
    gates_ = false;
    const auto none = b_.driven.size();
    for (std::size_t w = 0; w < b_.watched.size(); ++w) {
        const auto by_word = [&](const Sight& s) { return s.watched == w; };
        if (b_.watched[w].stored || analogue_[w] || std::any_of(expected_.begin(), expected_.end(), by_word))
            continue;
        for (std::size_t i = 0; i < none; ++i)
            for (const int context : {0, 1}) {
                const auto& changed = seen.changed[static_cast<std::size_t>(context)];
                const char rest = changed[none][w], now = changed[i][w];
                if (rest == now || rest == 'x' || now == 'x') continue;
                expected_.push_back({i, w, 0, false, 0, context});
                gates_ = true;
                break;
            }
    }
}

bool Exercise::bit_of(std::size_t line, int pattern) const {
    if (pattern < 2) return pattern == 1;
    return ((((line + 1) >> static_cast<unsigned>(pattern / 2 - 1)) & 1U) != 0) != (pattern % 2 != 0);
}

std::optional<std::pair<std::size_t, bool>> Exercise::line_at(const std::string& column) const {
    for (const bool inverted : {false, true})
        for (std::size_t i = 0; i < b_.driven.size(); ++i) {
            bool same = true;
            for (int p = 0; same && p < patterns_; ++p)
                same = column[static_cast<std::size_t>(p)] == (bit_of(i, p) != inverted ? '1' : '0');
            if (same) return std::pair(i, inverted);
        }
    return std::nullopt;
}

void Exercise::set_pattern(BenchState& state, int pattern, bool controls) const {
    for (std::size_t i = 0; i < b_.driven.size(); ++i)
        state.drive(i, b_.driven[i].control && !controls ? b_.driven[i].idle : bit_of(i, pattern));
}

void Exercise::change_each(BenchState& state, Seen& out) const {
    for (const int context : {0, 1}) {
        const bool rest = context != 0;
        for (std::size_t i = 0; i < b_.driven.size(); ++i) state.drive(i, rest);
        auto& changed = out.changed[static_cast<std::size_t>(context)];
        for (std::size_t i = 0; i <= b_.driven.size(); ++i) {
            if (i < b_.driven.size()) state.drive(i, !rest);
            changed.emplace_back();
            for (std::size_t w = 0; w < b_.watched.size(); ++w) changed.back() += state.seen(w);
            if (i < b_.driven.size()) state.drive(i, rest);
        }
    }
}

void Exercise::pulse_loads(BenchState& state) const {
    for (std::size_t i = 0; i < b_.driven.size(); ++i) {
        if (!b_.driven[i].loads) continue;
        state.drive(i, !b_.driven[i].idle);
        state.drive(i, b_.driven[i].idle);
    }
}

Exercise::Seen Exercise::watch(BenchState& state, const BenchCircuit& circuit) const {
    Seen out;
    out.columns.resize(b_.watched.size());
    out.volts.resize(b_.watched.size());
    const auto note = [&](bool stored, std::size_t place) {
        for (std::size_t w = 0; w < b_.watched.size(); ++w) {
            if (b_.watched[w].stored != stored) continue;
            if (out.columns[w].size() <= place) out.columns[w].resize(place + 1);
            out.columns[w][place] += state.seen(w);
        }
    };
    const bool stores =
        std::any_of(b_.watched.begin(), b_.watched.end(), [](const BenchWatched& w) { return w.stored; });
    for (int p = 0; p < patterns_; ++p) {
        set_pattern(state, p, true);
        note(false, 0);
    }
    if (gates_) change_each(state, out);
    for (int p = 0; stores && p < patterns_; ++p) {
        set_pattern(state, p, false);
        pulse_loads(state);
        note(true, 0);
        std::size_t place = 1;
        for (const auto c : clocks_)
            for (int n = 0; n <= b_.storage_bits; ++n, ++place) {
                state.drive(c, !b_.driven[c].idle);
                state.drive(c, b_.driven[c].idle);
                note(true, place);
            }
    }
    if (std::find(analogue_.begin(), analogue_.end(), true) != analogue_.end())
        for (std::size_t alone = 0; alone <= b_.driven.size(); ++alone) {
            for (std::size_t i = 0; i < b_.driven.size(); ++i)
                state.drive(i, b_.driven[i].control ? b_.driven[i].idle : alone == i + 1);
            pulse_loads(state);
            for (const auto c : clocks_) {
                state.drive(c, !b_.driven[c].idle);
                state.drive(c, b_.driven[c].idle);
            }
            for (std::size_t w = 0; w < b_.watched.size(); ++w)
                if (analogue_[w]) out.volts[w].push_back(state.volts(circuit.watched_node[w]).value_or(0));
        }
    disturb(out.columns, circuit);
    return out;
}

void Exercise::disturb(Columns& columns, const BenchCircuit& circuit) const {
    // A host that looks a clock too early sees what stood before; reversed bits stand the other way round.
    for (std::size_t w = 0; w < b_.watched.size(); ++w) {
        auto& places = columns[w];
        if (!circuit.late.empty() && b_.watched[w].name == circuit.late && places.size() > 1) {
            std::rotate(places.begin(), places.end() - 1, places.end());
            places.front() = std::string(static_cast<std::size_t>(patterns_), '1');
        }
        if (!circuit.order.empty() && b_.watched[w].name == circuit.order && places.size() > 2)
            std::reverse(places.begin(),
                         places.begin() + std::min<std::ptrdiff_t>(
                                              b_.storage_bits, static_cast<std::ptrdiff_t>(places.size())));
    }
    std::vector<std::size_t> bus;
    for (std::size_t w = 0; w < b_.watched.size(); ++w)
        if (const auto bit = bus_bit(b_.watched[w].name); bit && bit->bus == circuit.order) bus.push_back(w);
    for (std::size_t i = 0; i < bus.size() / 2; ++i)
        std::swap(columns[bus[i]], columns[bus[bus.size() - 1 - i]]);
}

std::string Exercise::gate_told(const Sight& s, const Seen& seen) const {
    const auto& changed = seen.changed[static_cast<std::size_t>(s.context)];
    const auto none = b_.driven.size();
    const char rest = changed[none][s.watched], now = changed[s.line][s.watched];
    if (rest == '-') return "nothing";
    if (rest == 'x' || now == 'x') return "unclear";
    // Which other lines move it, and which of them should.
    std::vector<std::size_t> others;
    bool more = false;
    for (std::size_t i = 0; i < none; ++i) {
        if (i == s.line || changed[i][s.watched] == rest) continue;
        others.push_back(i);
        more = more || std::none_of(expected_.begin(), expected_.end(),
                                    [&](const Sight& e) { return e.line == i && e.watched == s.watched; });
    }
    if (now != rest) return more ? "unclear" : "ok";
    if (others.size() == 1 && more) return "as " + b_.driven[others.front()].name;
    return rest == '0' ? "low" : "high";
}

std::string Exercise::told(const Sight& s, const Seen& seen) const {
    if (s.context >= 0) return gate_told(s, seen);
    if (s.share_v != 0) {
        const double v = seen.volts[s.watched][s.line + 1] - seen.volts[s.watched][0];
        if (std::abs(v - s.share_v) <= same_share * std::abs(s.share_v)) return "ok";
        for (const auto& other : expected_)
            if (other.watched == s.watched && other.line != s.line && other.share_v != 0 &&
                std::abs(v - other.share_v) <= same_share * std::abs(other.share_v))
                return "as " + b_.driven[other.line].name;
        if (std::abs(v) < 0.15 * std::abs(s.share_v)) return "low";
        return std::abs(v) < std::abs(s.share_v) ? "weak" : "strong";
    }
    const auto& column = seen.columns[s.watched][s.place];
    const auto all = [&](char c) { return column.find_first_not_of(c) == std::string::npos; };
    if (all('-')) return "nothing";
    if (all('0')) return "low";
    if (all('1')) return "high";
    if (const auto line = line_at(column); line && line->second == s.inverted)
        return line->first == s.line ? "ok" : "as " + b_.driven[line->first].name;
    return "unclear";
}

std::vector<Symptom> Exercise::run(BenchState& state, const BenchCircuit& circuit) const {
    std::vector<Symptom> out;
    if (expected_.empty()) return out;
    const auto seen = watch(state, circuit);
    out.reserve(expected_.size());
    for (const auto& s : expected_) out.push_back({s.key(b_), told(s, seen)});
    return out;
}

}  // namespace grayrelic
