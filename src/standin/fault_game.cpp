// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/fault_game.hpp"

#include <algorithm>

namespace grayrelic::standin {
namespace {

constexpr int most_measurements = 30;
constexpr std::uint64_t most_draws = 200, apart = 1'000'003;

}  // namespace

Result<FaultGame> play_fault(const FaultBook& book, std::uint64_t seed) {
    for (std::uint64_t draw = 0; draw < most_draws; ++draw) {
        FaultBench bench(*book.board, seed + draw * apart);
        if (!bench.unable().empty())
            return fail_usage("the board " + book.board->title + " with " + bench.unable(),
                              "parts that the simulated bench can play");
        std::vector<SaidReading> seen;
        bool shows = false;
        for (auto& s : bench.complaint()) {
            shows = shows || s.value != "ok";
            seen.push_back({std::nullopt, 0, std::move(s)});
        }
        if (!shows) continue;
        FaultGame game;
        game.hidden = bench.hidden();
        const auto hidden = std::find_if(book.faults.begin(), book.faults.end(),
                                         [&](const BenchFault& f) { return f.key() == game.hidden; });
        if (hidden != book.faults.end())
            game.best = least_readings(book, seen, static_cast<std::size_t>(hidden - book.faults.begin()));
        auto d = diagnose(book, seen);
        while (d.next && game.measurements < most_measurements) {
            const auto& r = book.readings[d.next->reading];
            const double value = bench.read(r);
            game.path.push_back(r.key() + "=" + print_reading(r.kind, value));
            seen.push_back({r, value, {}});
            ++game.measurements;
            d = diagnose(book, seen);
        }
        for (std::size_t i = 0; i < d.suspects.size(); ++i) {
            const auto key = book.faults[d.suspects[i].fault].key();
            if (i == 0) game.found = key;
            if (key == game.hidden && game.rank == 0) game.rank = d.suspects[i].place;
        }
        return game;
    }
    return fail_usage("the board " + book.board->title,
                      "one whose faults show themselves when its lines are pressed");
}

}  // namespace grayrelic::standin
