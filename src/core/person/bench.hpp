// SPDX-License-Identifier: GPL-3.0-or-later
// The bench: instruments with their limits, processes at hand, soldering so far, hours and currency. It
// belongs to the person, in bench.json of the XDG data folder (docs/formats/bench.md), changed as the drawer
// is (drawer.hpp).
#pragma once

#include <filesystem>
#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/file_system.hpp"
#include "core/base/quantity.hpp"
#include "core/base/words.hpp"

namespace grayrelic {

enum class InstrumentKind {
    meter,
    scope,
    analyser,
    supply,
    caliper,
    iron,
    hot_air,
    oven,
    drill,
    saw,
    printer,
    laminator,
    etch_tank,
    eraser_lamp,
    glue_gun,
};
template <>
inline constexpr std::array words_of<InstrumentKind>{
    "meter", "scope", "analyser", "supply",    "caliper",   "iron",        "hot-air", "oven",
    "drill", "saw",   "printer",  "laminator", "etch-tank", "eraser-lamp", "glue-gun"};

/// How boards are made: the profiles come with Board.
enum class Process { home_toner, home_photoresist, prototype_house, assembly_service, breadboard, milled };
template <>
inline constexpr std::array words_of<Process>{"home-toner",       "home-photoresist", "prototype-house",
                                              "assembly-service", "breadboard",       "milled"};

/// A limit that is not known is missing.
struct Instrument {
    std::string name;
    InstrumentKind kind = InstrumentKind::meter;
    std::optional<Volts> most_volts;  ///< that may stand at its inputs, above or below ground
    std::optional<Hertz> bandwidth;   ///< of a scope: −3 dB
    std::optional<Hertz> rate;        ///< samples a second, of an analyser or scope
    std::optional<int> inputs;
    std::optional<Volts> threshold;  ///< of an analyser: where high begins
    std::string note;
    std::string extra{};
    bool operator==(const Instrument&) const = default;
};

/// What was soldered of a package.
struct SolderRecord {
    std::string package;  ///< "soic", "dip", "qfn"
    int done = 0;         ///< parts
    int bad = 0;          ///< of them: had to be done again, or died
    std::string extra{};
    bool operator==(const SolderRecord&) const = default;
};

struct Bench {
    std::vector<Instrument> instruments;
    std::vector<Process> processes;
    std::vector<SolderRecord> solder;
    std::optional<double> hours_per_week;
    std::string currency;  ///< "€"
    std::string extra;
    std::optional<double> hour_worth{}, day_worth{};  ///< in money: an hour of work, a day sooner
    bool operator==(const Bench&) const = default;
    [[nodiscard]] bool has(InstrumentKind kind) const;
    /// The fastest rate of its analysers and scopes; nothing when none says.
    [[nodiscard]] std::optional<Hertz> best_rate() const;
};

/// Share of a package that came out well, with the rule of succession: (good + 1) ÷ (done + 2), so that few
/// parts promise little.
[[nodiscard]] double own_yield(const SolderRecord& record);

[[nodiscard]] Result<Bench> bench_from_json(std::string_view text, const std::string& file);
[[nodiscard]] std::string bench_to_json(const Bench& bench);
[[nodiscard]] Result<Bench> read_bench(FileSystem& files, const std::filesystem::path& file);
[[nodiscard]] Result<Bench> change_bench(FileSystem& files, const std::filesystem::path& file,
                                         const std::function<void(Bench&)>& change);

}  // namespace grayrelic
