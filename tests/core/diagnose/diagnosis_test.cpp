// SPDX-License-Identifier: GPL-3.0-or-later
// Hidden faults on a bench that has a model of its own, found by the program's own advice.
#include "core/diagnose/diagnosis.hpp"

#include <fmt/format.h>

#include <map>
#include <set>

#include "standin/fault_game.hpp"
#include "tests/core/diagnose/bench_helpers.hpp"

namespace grayrelic {
namespace {

using standin::play_fault;

std::shared_ptr<const FaultBook> book_of(const test::DemoBoard& demo, bool looks = false) {
    Progress progress;
    return make_fault_book(demo.board, progress, looks).value();
}

struct Rates {
    int games = 0, first = 0, three = 0, exact = 0;
    double measurements = 0, best = 0;
    std::map<std::string, int> kinds;
    void play(const FaultBook& book, std::uint64_t from, int count) {
        for (int i = 0; i < count; ++i) {
            const auto game = play_fault(book, from + static_cast<std::uint64_t>(i));
            ASSERT_TRUE(game) << game.error().message();
            ++games;
            first += game->rank == 1 ? 1 : 0;
            three += game->rank >= 1 && game->rank <= 3 ? 1 : 0;
            measurements += game->measurements;
            best += game->best.readings;
            exact += game->best.exact ? 1 : 0;
            ++kinds[game->hidden.substr(0, game->hidden.find(':'))];
            for (const auto& step : game->path) EXPECT_FALSE(step.starts_with("look:")) << step;
        }
    }
};

/// The rates that the issue asks for, over 500 hidden faults: first in 80 %, among three in 95 %, after at
/// most 1.5 times what the best order takes. bench/ plays thousands.
TEST(HiddenFaults, AreFoundOnTheDemoBoards) {
    Rates r;
    const auto tile = test::demo_board("calder-sound-tile.relic", "tile");
    ASSERT_NE(tile.board, nullptr);
    r.play(*book_of(tile), 40'000, 400);
    const auto pad = test::demo_board("calder-dial-pad.relic", "");
    ASSERT_NE(pad.board, nullptr);
    r.play(*book_of(pad), 70'000, 100);
    EXPECT_EQ(r.games, 500);
    EXPECT_GE(r.first, 400);
    EXPECT_GE(r.three, 475);
    EXPECT_LE(r.measurements, 1.5 * r.best);
    EXPECT_GT(r.exact, 250) << "mostly the best order is known, not bounded";
    EXPECT_GE(r.kinds.size(), 8U) << fmt::format("{} kinds", r.kinds.size());
    fmt::print("first {} three {} of {}, {:.2f} measurements, best {:.2f}, exact {}\n", r.first, r.three,
               r.games, r.measurements / r.games, r.best / r.games, r.exact);
}

/// Of each kind of fault one on the dial pad, looked for with the eye too.
TEST(HiddenFaults, NeverLeaveTheTrueOneOutOfQuestion) {
    const auto pad = test::demo_board("calder-dial-pad.relic", "");
    const auto book = book_of(pad, true);
    std::set<std::string> kinds;
    for (const auto& key : standin::hidden_faults(*pad.board)) {
        if (!kinds.insert(key.substr(0, key.find(':'))).second) continue;
        standin::FaultBench bench(*pad.board, 99, key);
        EXPECT_EQ(bench.unable(), "");
        std::vector<SaidReading> seen;
        for (auto& s : bench.complaint()) seen.push_back({std::nullopt, 0, s});
        auto d = diagnose(*book, seen);
        for (int i = 0; d.next && i < 40; ++i) {
            const auto& reading = book->readings[d.next->reading];
            seen.push_back({reading, bench.read(reading), {}});
            d = diagnose(*book, seen);
        }
        double chance = 0;
        for (const auto& s : d.suspects)
            if (book->faults[s.fault].key() == key) chance = s.chance;
        EXPECT_GT(chance, 1e-3) << key;
    }
    EXPECT_GE(kinds.size(), 10U);
}

TEST(Diagnosis, NamesTwoFaultsWhereNoSingleOneExplainsAll) {
    const auto tile = test::demo_board("calder-sound-tile.relic", "tile");
    const auto book = book_of(tile);
    // D0 does not arrive, as with its joint open; and C3 and C4 are bridged.
    std::vector<SaidReading> seen;
    for (const auto& s : book->healthy.symptoms) {
        auto said = s;
        if (s.key == "D0>d0") said.value = "unclear";
        seen.push_back({std::nullopt, 0, said});
    }
    for (const auto* text : {"beep:R1.1+T1.1=open", "beep:R1.1+R1.1 pad=open", "beep:M1.14+M1.15=beep",
                             "beep:T1.1+T1.1 pad=beep"})
        seen.push_back(*read_said(text));
    const auto d = diagnose(*book, seen);
    EXPECT_FALSE(d.unexplained.empty());
    ASSERT_FALSE(d.pairs.empty());
    std::set<std::string> named;
    for (const auto& p : d.pairs) {
        named.insert(book->faults[p.one].key());
        named.insert(book->faults[p.two].key());
    }
    EXPECT_TRUE(named.count("open: R1.1") != 0) << "the joint";
    EXPECT_TRUE(named.count("short: C3+C4") != 0) << "and the bridge";
}

TEST(Diagnosis, SaysWhatItDoesNotKnow) {
    const auto tile = test::demo_board("calder-sound-tile.relic", "tile");
    const auto book = book_of(tile);
    auto d = diagnose(*book, {*read_said("beep:U9.1+U9.2=beep"), *read_said("X>Y=low")});
    EXPECT_EQ(d.unknown.size(), 2U);
    d = diagnose(*book, {*read_said("D0>d0=as NOBODY")});
    EXPECT_EQ(d.unknown, (std::vector<std::string>{"NOBODY"}));
    // All lines do what they should: a sound board is likelier than any fault that would show.
    std::vector<SaidReading> well;
    for (const auto& s : book->healthy.symptoms) well.push_back({std::nullopt, 0, s});
    d = diagnose(*book, well);
    EXPECT_FALSE(d.settled);
    EXPECT_GE(d.healthy, d.suspects.front().chance);
    for (const auto& symptom : book->predicted[d.suspects.front().fault].symptoms)
        EXPECT_EQ(symptom.value, "ok") << "what may be wrong then is what nobody sees";
    // Nothing said: nothing is likelier than what its kind is; nothing is settled.
    d = diagnose(*book, {});
    EXPECT_FALSE(d.settled);
    EXPECT_LT(d.suspects.front().chance, 0.2);
    ASSERT_TRUE(d.next.has_value());
    EXPECT_FALSE(d.next->why.empty());
    // A reading that is not among those it would ask for is weighed all the same.
    d = diagnose(*book, {*read_said("beep:C1.1+R8.2=open"), *read_said("beep:T1.9+R8.2=beep")});
    EXPECT_TRUE(d.unknown.empty());
    EXPECT_EQ(book->faults[d.suspects.front().fault].key(), "open: C1.1");
}

TEST(Diagnosis, LearnsFromCausesThatWereFound) {
    const BenchFault joint{FaultKind::open, "U1.1", {}}, turned{FaultKind::reversed, "D1", {}};
    FaultCounts none{}, found{};
    found[static_cast<std::size_t>(FaultKind::reversed)] = 9;
    EXPECT_GT(prior_of(turned, found) / prior_of(joint, found),
              prior_of(turned, none) / prior_of(joint, none));
    EXPECT_LT(prior_of(turned, found), 5 * prior_of(turned, none)) << "slowly";
}

TEST(Diagnosis, PutsWhatShowsAlikeIntoOneRowOfTheTable) {
    const auto tile = test::demo_board("calder-sound-tile.relic", "tile");
    const auto book = book_of(tile);
    const auto table = symptom_table(*book);
    std::size_t faults = 0;
    bool found = false;
    for (const auto& row : table) {
        faults += row.faults.size();
        // Nothing of D2 comes through: its joints, its resistor, the wire to its contact.
        if (row.seen.size() != 1 || row.seen[0].key != "D2>d2") continue;
        std::set<std::string> keys;
        for (const auto f : row.faults) keys.insert(book->faults[f].key());
        if (keys.count("missing: R3") != 0) {
            found = true;
            for (const auto* key : {"open: R3.1", "open: R3.2", "open: T1.3", "open: M1.3"})
                EXPECT_TRUE(keys.count(key) != 0) << key;
        }
    }
    EXPECT_TRUE(found);
    EXPECT_EQ(faults, book->faults.size()) << "each fault once";
    EXPECT_TRUE(table.back().seen.empty()) << "those that nobody sees come last";
}

TEST(Diagnosis, StopsWhenItIsToldTo) {
    const auto tile = test::demo_board("calder-sound-tile.relic", "tile");
    Progress progress;
    progress.cancel();
    EXPECT_FALSE(make_fault_book(tile.board, progress));
}

}  // namespace
}  // namespace grayrelic
