// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/port/pin_compare.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <functional>

#include "core/base/text.hpp"
#include "core/dossier/pin_fields.hpp"
#include "core/port/contact_map.hpp"

namespace grayrelic {
namespace {

/// Another interpretation is worth saying when it explains this much more of the names.
constexpr double clearly_better = 0.2;

using Names = std::map<std::string, const Pin*>;

Names by_number(const std::vector<Pin>& pins) {
    Names out;
    for (const auto& p : pins)
        if (!p.name.value.empty()) out[p.number] = &p;
    return out;
}

/// Order of places that the interpretations permute: the connector's contacts under its numbering, or one
/// row.
struct Places {
    std::vector<std::string> numbers;
    const Connector* connector;
};

struct Scorer {
    const Places& places;
    Names first, second;
    long most;  // names that could agree

    /// `to[i]` is the place that the second table's place i means.
    [[nodiscard]] TableInterpretation score(TableInterpretation::Kind kind, std::string how,
                                            const Landing& to) const {
        TableInterpretation r;
        r.kind = kind;
        r.how = std::move(how);
        for (std::size_t i = 0; i < to.size(); ++i) {
            if (!to[i]) continue;
            const auto& from = places.numbers[i];
            const auto& target = places.numbers[*to[i]];
            r.moves[from] = target;
            const auto a = first.find(target);
            const auto b = second.find(from);
            if (a != first.end() && b != second.end() &&
                same_line(a->second->name.value, b->second->name.value))
                ++r.matched;
        }
        r.compared = most;
        r.match = most == 0 ? 0.0 : static_cast<double>(r.matched) / static_cast<double>(most);
        return r;
    }
};

void keep_better(TableInterpretation& best, TableInterpretation other) {
    if (best.how.empty() || other.match > best.match) best = std::move(other);
}

/// Number n of numbering `to` stands where number n of `from` stands: by numbers, between two numberings.
Landing renumbering(const std::vector<std::string>& from, const std::vector<std::string>& own) {
    Landing out(own.size());
    // The source wrote number own[i] but counted as `from`: its place is where `from` has that number.
    for (std::size_t i = 0; i < own.size(); ++i) {
        const auto it = std::find(from.begin(), from.end(), own[i]);
        if (it != from.end()) out[i] = static_cast<std::size_t>(it - from.begin());
    }
    return out;
}

void geometric(const Connector& c, const Scorer& s, TableComparison& out) {
    const auto whole = c.contacts.size();
    const auto try_motion = [&](TableInterpretation& best, TableInterpretation::Kind kind, const char* how,
                                const Motion& m, bool all) {
        const auto landing = land(c, c, m);
        if (all ? landed(landing) < whole : landed(landing) * 2 < whole) return;
        keep_better(best, s.score(kind, how, landing));
    };
    using K = TableInterpretation::Kind;
    try_motion(out.mirrored, K::mirrored, "mirrored left to right", {true, false, 0, 0}, true);
    if (c.row_pitch_mm() > 0)
        try_motion(out.mirrored, K::mirrored, "with its rows swapped", {false, true, 0, 0}, true);
    try_motion(out.rotated, K::rotated, "turned by half", {true, true, 0, 0}, true);
    const double dx = c.column_pitch_mm();
    const double dy = c.row_pitch_mm();
    if (dx > 0) {
        try_motion(out.shifted, K::shifted, "shifted by one column to the right", {false, false, dx, 0},
                   false);
        try_motion(out.shifted, K::shifted, "shifted by one column to the left", {false, false, -dx, 0},
                   false);
    }
    if (dy > 0) {
        try_motion(out.shifted, K::shifted, "shifted by one row up", {false, false, 0, dy}, false);
        try_motion(out.shifted, K::shifted, "shifted by one row down", {false, false, 0, -dy}, false);
    }
}

void in_line(const Scorer& s, TableComparison& out) {
    using K = TableInterpretation::Kind;
    const auto n = s.places.numbers.size();
    Landing turned(n);
    for (std::size_t i = 0; i < n; ++i) turned[i] = n - 1 - i;
    keep_better(out.mirrored, s.score(K::mirrored, "counted from the other end", turned));
    keep_better(out.rotated, s.score(K::rotated, "counted from the other end", turned));
    if (n % 2 != 0) return;
    const std::size_t half = n / 2;
    std::vector<std::string> zigzag(n), around(n);
    for (std::size_t i = 0; i < n; ++i) {
        const auto row = i / half, column = i % half;
        zigzag[i] = s.places.numbers[2 * column + row];
        around[i] = s.places.numbers[row == 0 ? column : n - 1 - column];
    }
    const auto& own = s.places.numbers;
    keep_better(out.renumbered,
                s.score(K::renumbered, "numbered odd and even across two rows", renumbering(zigzag, own)));
    keep_better(out.renumbered, s.score(K::renumbered, "numbered row after row", renumbering(own, zigzag)));
    // The other way: own numbers are odd and even, the source counts row after row.
    Landing back(n);
    for (std::size_t i = 0; i < n; ++i) {
        const auto it = std::find(own.begin(), own.end(), zigzag[i]);
        back[i] = static_cast<std::size_t>(it - own.begin());
    }
    keep_better(out.renumbered, s.score(K::renumbered, "numbered row after row", back));
    keep_better(out.renumbered,
                s.score(K::renumbered, "numbered down one row and back the other", renumbering(around, own)));
}

void judge(const Pin* a, const Pin* b, PinComparison& out) {
    const bool named_a = a != nullptr && !a->name.value.empty();
    const bool named_b = b != nullptr && !b->name.value.empty();
    if (named_a) out.first = a->name.value;
    if (named_b) out.second = b->name.value;
    if (!named_a && !named_b) {
        out.agreement = Agreement::neither;
        return;
    }
    if (!named_a || !named_b) {
        out.agreement = named_a ? Agreement::only_first : Agreement::only_second;
        return;
    }
    for (const auto& f : pin_fields()) {
        if (!field_known(*a, f) || !field_known(*b, f)) continue;
        const auto x = field_text(*a, f), y = field_text(*b, f);
        if (f.key == "name" ? same_line(x, y) : x == y) continue;
        // What was measured twice differs always; only who drives and what it is called is a contradiction.
        out.differences.push_back({std::string(f.key), x, y});
    }
    const bool contradicts = std::any_of(out.differences.begin(), out.differences.end(), [](const auto& d) {
        return d.field == "name" || d.field == "driver";
    });
    out.agreement = contradicts ? Agreement::contradict : Agreement::agree;
}

}  // namespace

std::string_view word(Agreement a) {
    switch (a) {
        case Agreement::agree: return "agree";
        case Agreement::contradict: return "contradict";
        case Agreement::only_first: return "only-first";
        case Agreement::only_second: return "only-second";
        case Agreement::neither: break;
    }
    return "neither";
}

const TableInterpretation& TableComparison::best() const {
    const TableInterpretation* found = &straight;
    for (const auto* r : {&mirrored, &rotated, &renumbered, &shifted})
        if (r->match > found->match && r->match >= straight.match + clearly_better) found = r;
    return *found;
}

TableComparison compare_tables(const std::vector<Pin>& first, const std::vector<Pin>& second,
                               const Connector* connector, const std::string& numbering) {
    TableComparison out;
    Places places{{}, connector};
    if (connector != nullptr) places.numbers = connector->numbering(numbering).numbers;
    const auto add = [&](const std::string& n) {
        if (std::find(places.numbers.begin(), places.numbers.end(), n) == places.numbers.end())
            places.numbers.push_back(n);
    };
    const auto placed = places.numbers.size();
    for (const auto* table : {&first, &second})
        for (const auto& p : *table) add(p.number);
    const auto find = [](const std::vector<Pin>& pins, const std::string& n) -> const Pin* {
        const auto it = std::find_if(pins.begin(), pins.end(), [&](const Pin& p) { return p.number == n; });
        return it == pins.end() ? nullptr : &*it;
    };
    for (const auto& n : places.numbers) {
        PinComparison pin;
        pin.number = n;
        judge(find(first, n), find(second, n), pin);
        out.agree += pin.agreement == Agreement::agree ? 1 : 0;
        out.contradict += pin.agreement == Agreement::contradict ? 1 : 0;
        out.only_first += pin.agreement == Agreement::only_first ? 1 : 0;
        out.only_second += pin.agreement == Agreement::only_second ? 1 : 0;
        out.pins.push_back(std::move(pin));
    }
    if (connector != nullptr) places.numbers.resize(placed);
    Scorer scorer{places, by_number(first), by_number(second), 0};
    scorer.most = static_cast<long>(std::min(scorer.first.size(), scorer.second.size()));
    Landing same(places.numbers.size());
    for (std::size_t i = 0; i < same.size(); ++i) same[i] = i;
    using K = TableInterpretation::Kind;
    out.straight = scorer.score(K::straight, "as it stands", same);
    if (connector != nullptr) {
        geometric(*connector, scorer, out);
        const auto& own = connector->numbering(numbering);
        for (const auto& other : connector->numberings)
            if (other.id != own.id)
                keep_better(out.renumbered, scorer.score(K::renumbered, "numbered " + other.name,
                                                         renumbering(other.numbers, own.numbers)));
    } else {
        in_line(scorer, out);
    }
    for (const int step : {1, -1}) {
        Landing by(places.numbers.size());
        for (std::size_t i = 0; i < by.size(); ++i) {
            const auto to = static_cast<std::ptrdiff_t>(i) + step;
            if (to >= 0 && to < static_cast<std::ptrdiff_t>(by.size())) by[i] = static_cast<std::size_t>(to);
        }
        keep_better(
            out.shifted,
            scorer.score(K::shifted, step > 0 ? "counted from zero, or one too low" : "counted one too high",
                         by));
    }
    return out;
}

std::vector<Pin> read_as(const std::vector<Pin>& pins, const TableInterpretation& way) {
    std::vector<Pin> out;
    for (auto pin : pins) {
        const auto it = way.moves.find(pin.number);
        if (it == way.moves.end()) continue;
        pin.number = it->second;
        out.push_back(std::move(pin));
    }
    return out;
}

Port accept_pin(const Port& port, const PinSource& source, const std::string& number) {
    const auto theirs = std::find_if(source.pins.begin(), source.pins.end(),
                                     [&](const Pin& p) { return p.number == number; });
    if (theirs == source.pins.end()) return port;
    Port out = port;
    auto ours =
        std::find_if(out.pins.begin(), out.pins.end(), [&](const Pin& p) { return p.number == number; });
    if (ours == out.pins.end()) {
        out.pins.push_back(*theirs);
        return out;
    }
    const Pin before = *ours;
    bool lost = false;
    for (const auto& f : pin_fields()) {
        if (!field_known(*theirs, f)) continue;
        lost = lost || (field_known(*ours, f) && field_text(*ours, f) != field_text(*theirs, f));
        copy_field(*theirs, *ours, f);
    }
    if (!lost) return out;
    // Both stay: what the port said moves into a source of its own.
    constexpr const char* id = "earlier";
    auto kept =
        std::find_if(out.sources.begin(), out.sources.end(), [&](const PinSource& s) { return s.id == id; });
    if (kept == out.sources.end()) {
        out.sources.push_back({id, "What the port said before", "", {}, ""});
        kept = out.sources.end() - 1;
    }
    std::erase_if(kept->pins, [&](const Pin& p) { return p.number == number; });
    kept->pins.push_back(before);
    return out;
}

}  // namespace grayrelic
