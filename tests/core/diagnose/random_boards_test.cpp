// SPDX-License-Identifier: GPL-3.0-or-later
// Boards that nobody drew: chips, series resistors, pulls, lamps and a register in random order, each with
// hidden faults. Small enough that the best order of measurements is known, found by trying all.
#include <fmt/format.h>

#include <map>
#include <random>
#include <set>

#include "core/diagnose/diagnosis.hpp"
#include "standin/fault_game.hpp"
#include "tests/core/diagnose/bench_helpers.hpp"

namespace grayrelic {
namespace {

/// A circuit's text, drawn from the seed alone.
class Draftsman {
  public:
    explicit Draftsman(std::uint64_t seed) : random_(seed) {}

    std::string draw() {
        const int lines = 2 + below(3);
        std::vector<std::string> signals;
        for (int i = 0; i < lines; ++i) {
            const auto name = fmt::format("IN{}", i);
            add_contact(name);
            signals.push_back(name);
            // Some lines pass a resistor, some are pulled.
            if (below(2) == 0) {
                const auto behind = fmt::format("in{}", i);
                part(fmt::format("R{} resistor {}: 1={} 2={}", ++resistors_, choose({"220", "1k", "4k7"}),
                                 name, behind));
                signals.back() = behind;
            }
            if (below(3) == 0)
                part(fmt::format("R{} resistor {}: 1={} 2={}", ++resistors_, choose({"47k", "100k"}), name,
                                 choose({"V5", "GND"})));
        }
        if (below(3) == 0) {
            shift_register(signals);
        } else {
            gates(signals);
        }
        for (int i = 0; i < 1 + below(2); ++i) part(fmt::format("C{} capacitor 100n: 1=V5 2=GND", i + 1));
        std::string port = "port J1: 1=V5 2=GND";
        for (std::size_t i = 0; i < contacts_.size(); ++i) port += fmt::format(" {}={}", i + 3, contacts_[i]);
        std::string text = port + "\nrail V5 5V\n";
        for (const auto& p : parts_) text += p + "\n";
        return text + "power V5 GND: " + chips_ + "\n";
    }

  private:
    int below(int n) { return static_cast<int>(random_() % static_cast<unsigned>(n)); }
    std::string choose(std::vector<std::string> from) {
        return from[static_cast<std::size_t>(below(static_cast<int>(from.size())))];
    }
    void part(std::string line) { parts_.push_back(std::move(line)); }
    void add_contact(const std::string& name) { contacts_.push_back(name); }
    void out(const std::string& net, int number) {
        if (below(3) == 0) {
            part(fmt::format("R{} resistor 330: 1={} 2=lit{}", ++resistors_, net, number));
            part(fmt::format("D{} led: A=lit{} K=GND", ++lamps_, number));
        }
        add_contact(net);
    }

    void gates(const std::vector<std::string>& signals) {
        const bool inverters = below(2) == 0;
        const auto kind = inverters ? std::string("74x04") : choose({"74x00", "74x08", "74x86", "74x32"});
        chips_ = "U1";
        std::string pins;
        const int count = inverters ? 6 : 4;
        for (int i = 1; i <= count; ++i) {
            const auto used = static_cast<std::size_t>(i) <= signals.size() && i <= 3;
            const auto a = used ? signals[static_cast<std::size_t>(i - 1)] : std::string("GND");
            const auto b = signals[static_cast<std::size_t>(i) % signals.size()];
            pins += fmt::format(" {}A={}", i, a);
            if (!inverters) pins += fmt::format(" {}B={}", i, used ? b : "GND");
            if (used) {
                const auto net = fmt::format("OUT{}", i);
                pins += fmt::format(" {}Y={}", i, net);
                out(net, i);
            }
        }
        part(fmt::format("U1 {} hct:{}", kind, pins));
    }

    void shift_register(const std::vector<std::string>& signals) {
        chips_ = "U1";
        add_contact("/LOAD");
        add_contact("CLOCK");
        std::string pins = " /LD=/LOAD CLK=CLOCK INH=GND SER=GND QH=OUT1";
        for (int i = 0; i < 8; ++i)
            pins += fmt::format(" P{}={}", 7 - i,
                                static_cast<std::size_t>(i) < signals.size()
                                    ? signals[static_cast<std::size_t>(i)]
                                    : std::string("GND"));
        part("U1 74x165 hct:" + pins);
        out("OUT1", 1);
    }

    std::mt19937_64 random_;
    std::vector<std::string> contacts_, parts_;
    std::string chips_;
    int resistors_ = 0, lamps_ = 0;
};

TEST(RandomBoards, HiddenFaultsAreFoundAndNotMuchLaterThanAtBest) {
    int games = 0, first = 0, three = 0, exact = 0;
    double measured = 0, best = 0;
    std::map<std::string, int> kinds;
    for (std::uint64_t seed = 0; seed < 40; ++seed) {
        const auto text = Draftsman(seed).draw();
        const auto board = test::board_of(text);
        ASSERT_NE(board, nullptr) << text;
        ASSERT_EQ(board->problem, "") << text;
        ASSERT_FALSE(board->driven.empty()) << text;
        ASSERT_FALSE(board->watched.empty()) << text;
        Progress progress;
        const auto book = make_fault_book(board, progress, false).value();
        for (const auto& s : book->healthy.symptoms) EXPECT_EQ(s.value, "ok") << s.key << "\n" << text;
        for (std::uint64_t n = 0; n < 8; ++n) {
            const auto game = standin::play_fault(*book, seed * 1000 + n);
            ASSERT_TRUE(game) << game.error().message() << "\n" << text;
            ++games;
            ++kinds[game->hidden.substr(0, game->hidden.find(':'))];
            first += game->rank == 1 ? 1 : 0;
            three += game->rank >= 1 && game->rank <= 3 ? 1 : 0;
            if (!game->best.exact) continue;
            ++exact;
            measured += game->measurements;
            best += game->best.readings;
        }
    }
    fmt::print("{} games, first {}, three {}, exact {}: {:.2f} measured, {:.2f} at best\n", games, first,
               three, exact, measured / exact, best / exact);
    EXPECT_EQ(games, 320);
    EXPECT_GE(first, games * 80 / 100);
    EXPECT_GE(three, games * 95 / 100);
    EXPECT_GE(exact, games / 5) << "of small boards the best order is known often enough to hold against";
    EXPECT_LE(measured, 1.5 * best);
    EXPECT_GE(kinds.size(), 8U);
}

/// What is predicted of a sound board is what the bench measures on it, within tolerances and the meter's
/// error.
TEST(RandomBoards, SoundOnesMeasureAsPredicted) {
    int readings = 0, off = 0;
    for (std::uint64_t seed = 100; seed < 130; ++seed) {
        const auto text = Draftsman(seed).draw();
        const auto board = test::board_of(text);
        ASSERT_NE(board, nullptr) << text;
        Progress progress;
        const auto book = make_fault_book(board, progress).value();
        standin::FaultBench bench(*board, seed, "nothing");
        for (std::size_t r = 0; r < book->readings.size(); ++r) {
            const auto& reading = book->readings[r];
            const double predicted = book->healthy.values[r];
            // What floats, or was never loaded, may show anything.
            if (predicted <= reads_floating / 10) continue;
            ++readings;
            if (fit_of(reading.kind, predicted, bench.read(reading)) < 0.2) ++off;
        }
        for (const auto& s : bench.complaint()) EXPECT_EQ(s.value, "ok") << s.key << "\n" << text;
    }
    EXPECT_GT(readings, 1500);
    EXPECT_LE(off * 200, readings) << off << " of " << readings << " are off";
}

}  // namespace
}  // namespace grayrelic
