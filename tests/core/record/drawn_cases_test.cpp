// SPDX-License-Identifier: GPL-3.0-or-later
// Log against plain reckoning on drawn cases: what works with what by sets, money by counting up, private
// things planted into clutter, differences by what was changed, tables out and in. Nothing of what is
// expected comes from the program.
#include <fmt/format.h>
#include <gmock/gmock.h>

#include <filesystem>
#include <random>
#include <set>

#include "core/dossier/dossier_json.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "core/record/cover_study.hpp"
#include "core/record/dossier_diff.hpp"
#include "core/record/economics.hpp"
#include "core/record/privacy.hpp"
#include "core/record/search.hpp"
#include "core/record/trial_table.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

class Die {
  public:
    explicit Die(unsigned seed) : engine_(seed) {}
    int upto(int most) { return std::uniform_int_distribution<int>(0, most)(engine_); }
    bool one_in(int n) { return upto(n - 1) == 0; }
    template <class T>
    const T& of(const std::vector<T>& list) {
        return list[static_cast<std::size_t>(upto(static_cast<int>(list.size()) - 1))];
    }
    std::string letters(int count) {
        std::string out;
        for (int i = 0; i < count; ++i) out += static_cast<char>('a' + upto(25));
        return out;
    }

  private:
    std::mt19937 engine_;
};

// ---- what works with what
// -------------------------------------------------------------------------------------

struct DrawnItems {
    std::vector<CoverItem> items;
    std::set<std::string> glitching;
};

DrawnItems draw_items(Die& die) {
    DrawnItems out;
    const int functions = 2 + die.upto(5);
    for (int i = 2 + die.upto(8); i > 0; --i) {
        CoverItem item;
        item.id = "i" + std::to_string(i);
        for (int f = 0; f < functions; ++f)
            if (die.one_in(3)) item.uses.push_back("f" + std::to_string(f));
        const auto outcome = static_cast<TrialOutcome>(die.upto(3));
        if (outcome != TrialOutcome::not_said) item.said.push_back({outcome, {}, {}, {}, {}, {}});
        if (outcome == TrialOutcome::fails || outcome == TrialOutcome::partly) out.glitching.insert(item.id);
        out.items.push_back(std::move(item));
    }
    return out;
}

bool works(const CoverItem& i) {
    return !i.said.empty() && i.said.back().outcome == TrialOutcome::works;
}

/// Items that glitch and use it; nothing for a function that works somewhere.
std::set<std::string> behind(const DrawnItems& drawn, const std::string& function) {
    std::set<std::string> out;
    for (const auto& i : drawn.items) {
        if (std::find(i.uses.begin(), i.uses.end(), function) == i.uses.end()) continue;
        if (works(i)) return {};
        if (drawn.glitching.count(i.id) != 0) out.insert(i.id);
    }
    return out;
}

std::set<std::string> all_functions(const DrawnItems& drawn) {
    std::set<std::string> out;
    for (const auto& i : drawn.items) out.insert(i.uses.begin(), i.uses.end());
    return out;
}

TEST(DrawnCover, CommonFunctionsAndPairsAreThoseOfPlainSets) {
    int common = 0, together = 0, nothing = 0;
    for (unsigned seed = 0; seed < 600; ++seed) {
        Die die(seed);
        const auto drawn = draw_items(die);
        const auto s = study_cover(drawn.items);
        SCOPED_TRACE(seed);
        std::set<std::string> expected, explained;
        const auto functions = all_functions(drawn);
        for (const auto& f : functions) {
            const auto b = behind(drawn, f);
            if (!b.empty() && b == drawn.glitching) expected.insert(f);
            explained.insert(b.begin(), b.end());
        }
        EXPECT_EQ(std::set<std::string>(s.common.begin(), s.common.end()), expected);
        std::set<std::string> unexplained;
        for (const auto& id : drawn.glitching)
            if (explained.count(id) == 0) unexplained.insert(id);
        EXPECT_EQ(std::set<std::string>(s.unexplained.begin(), s.unexplained.end()), unexplained);
        // Where no one is behind all that can be explained: the pairs that are, if any.
        std::set<std::set<std::string>> pairs;
        if (expected.empty() && !explained.empty())
            for (const auto& f : functions)
                for (const auto& g : functions) {
                    auto both = behind(drawn, f);
                    const auto more = behind(drawn, g);
                    if (f >= g || both.empty() || more.empty()) continue;
                    both.insert(more.begin(), more.end());
                    if (both == explained) pairs.insert({f, g});
                }
        std::set<std::set<std::string>> said;
        for (const auto& set : s.together)
            if (set.size() == 2) said.insert({set.begin(), set.end()});
        EXPECT_EQ(said, pairs);
        // What shows all functions does, and none of it can be left out.
        const auto shown_by = [&](const std::string& without) {
            std::set<std::string> out;
            for (const auto& i : drawn.items)
                if (i.id != without &&
                    std::find(s.shows_all.begin(), s.shows_all.end(), i.id) != s.shows_all.end())
                    out.insert(i.uses.begin(), i.uses.end());
            return out;
        };
        EXPECT_EQ(shown_by({}), functions);
        for (const auto& id : s.shows_all) EXPECT_NE(shown_by(id), functions) << id;
        (!expected.empty() ? common : !pairs.empty() ? together : nothing) += 1;
    }
    EXPECT_GT(common, 50);
    EXPECT_GT(together, 10);
    EXPECT_GT(nothing, 50);
}

// ---- money
// ---------------------------------------------------------------------------------------------------

TEST(DrawnMoney, IsWhatCountingBoardByBoardGives) {
    for (unsigned seed = 0; seed < 300; ++seed) {
        Die die(seed);
        SCOPED_TRACE(seed);
        // Whole hundredths and a yield of whole parts, so that all of it can be counted in integers.
        const long once = die.upto(20'000), batch_cost = die.upto(5'000), piece = 1 + die.upto(4'000),
                   price = 1 + die.upto(8'000);
        const int batch = 1 + die.upto(9), good = 1 + die.upto(9), of = good + die.upto(5);
        Economics e;
        const auto cost = [&](const char* id, CostKind kind, CostPer per, long cents) {
            CostLine c;
            c.id = id;
            c.kind = kind;
            c.per = per;
            c.money = static_cast<double>(cents) / 100;
            e.costs.push_back(c);
        };
        cost("a", CostKind::tools, CostPer::once, once);
        cost("b", CostKind::boards, CostPer::batch, batch_cost);
        cost("c", CostKind::parts, CostPer::piece, piece);
        e.batch = batch;
        e.price = static_cast<double>(price) / 100;
        CostInputs in;
        in.yield = static_cast<double>(good) / of;
        in.yield_known = true;
        const auto study = study_costs(e, in, 1);
        const auto cents_for = [&](long q) {
            long begun = 0;
            while (begun * good < q * of) ++begun;  // the least number of which the share is q
            long batches = 0;
            while (batches * batch < begun) ++batches;
            return once + batches * batch_cost + begun * piece;
        };
        long first = 0;
        for (long q = 1; q <= 400; ++q) {
            const auto row = cost_of(study, static_cast<int>(q), e.price);
            ASSERT_NEAR(row.cost, static_cast<double>(cents_for(q)) / 100, 1e-6) << q;
            if (first == 0 && q * price >= cents_for(q)) first = q;
        }
        if (first > 0)
            EXPECT_EQ(study.pays.first, static_cast<int>(first));
        else
            EXPECT_GT(study.pays.first.value_or(most_quantity + 1), 400);
    }
}

// ---- what is private
// ---------------------------------------------------------------------------------------------

/// Lines as they stand in dossiers and net lists, with signs that look a little like addresses and paths.
std::string clutter(Die& die) {
    static const std::vector<std::string> lines{"R1 resistor 4k7 1%: 1=REPLY 2=V5",
                                                "5 V @ 20 mA",
                                                "\"name\": \"HOLD\"",
                                                "see docs/home/index",
                                                "x@y",
                                                "@media print",
                                                "U1 74x165 hct: /LD=HOLD",
                                                "3.2 V at pin 4; 0.4 V low",
                                                "a.b@c",
                                                "/usr/share/fonts",
                                                "P0.3 @ 1 MHz",
                                                "C:\\boards\\a.zip",
                                                "version 1.0 of 2026-11-28"};
    std::string out;
    for (int i = 1 + die.upto(30); i > 0; --i) out += die.of(lines) + "\n";
    return out;
}

TEST(DrawnPrivate, EverythingPlantedIsFoundWhereItStandsAndNothingElse) {
    int planted = 0, found = 0, false_ones = 0;
    for (unsigned seed = 0; seed < 500; ++seed) {
        Die die(seed);
        auto text = clutter(die);
        const auto name = die.letters(4 + die.upto(5));
        Progress progress;
        false_ones += private_things(text, "f", {{name}}, progress).empty() ? 0 : 1;
        const std::vector<std::string> secrets{
            fmt::format("{}.{}@{}.example", die.letters(3), die.letters(4), die.letters(6)),
            fmt::format("{}+{}@mail.{}.org", die.letters(5), die.letters(2), die.letters(5)),
            fmt::format("/home/{}/{}.zip", die.letters(5), die.letters(4)),
            fmt::format("C:\\Users\\{}\\{}", die.letters(6), die.letters(4)),
            fmt::format("/Users/{}/boards", die.letters(5)),
            name};
        const auto& secret = die.of(secrets);
        const auto line =
            fmt::format("{} {}{} and {}\n", die.letters(4), die.one_in(2) ? "(" : "", secret, die.letters(3));
        const auto at = static_cast<long>(std::count(text.begin(), text.end(), '\n')) + 1;
        text += line + clutter(die);
        ++planted;
        for (const auto& hit : private_things(text, "f", {{name}}, progress))
            if (hit.line == at && secret.find(hit.found.substr(0, 5)) != std::string::npos) {
                ++found;
                break;
            }
    }
    EXPECT_EQ(found, planted);
    EXPECT_EQ(false_ones, 0);
}

// ---- differences, search, time line
// -------------------------------------------------------------------------------

std::vector<Dossier> shipped() {
    std::vector<Dossier> out;
    for (const auto& entry : std::filesystem::directory_iterator(GRAY_RELIC_SOURCE "/demos"))
        if (entry.path().extension() == ".relic") out.push_back(*load_dossier(entry.path()));
    return out;
}

TEST(DrawnDiff, OneEditIsOneDifferenceThatNamesIt) {
    int edits = 0;
    for (const auto& d : shipped())
        for (unsigned seed = 0; seed < 30; ++seed) {
            Die die(seed);
            auto changed = d;
            std::string says;
            const auto word = die.letters(9);
            switch (die.upto(3)) {
                case 0:
                    if (d.ports->empty() || d.ports->front().pins.empty()) continue;
                    changed = edit<Port>(d, d.ports->front().id, [&](Port& p) {
                        p.pins[static_cast<std::size_t>(die.upto(static_cast<int>(p.pins.size()) - 1))].note =
                            word;
                    });
                    says = "ports";
                    break;
                case 1:
                    if (d.units->empty()) continue;
                    changed = edit<JobUnit>(d, die.of(*d.units).id, [&](JobUnit& u) { u.note = word; });
                    says = "units";
                    break;
                case 2: {
                    Complaint c;
                    c.id = word;
                    c.says = "it is late";
                    changed = put(d, c);
                    says = "log";
                    break;
                }
                default: {
                    About about = *d.about;
                    about.purpose = word;
                    changed = put(d, about);
                    says = "about";
                }
            }
            const auto changes = diff_dossiers(d, changed);
            ASSERT_EQ(changes.size(), 1U) << says << " " << seed;
            EXPECT_EQ(changes[0].section, says);
            EXPECT_TRUE((changes[0].after && changes[0].after->find(word) != std::string::npos) ||
                        changes[0].what.find(word) != std::string::npos);
            // What was entered is found.
            EXPECT_FALSE(search(changed, word).empty());
            EXPECT_TRUE(search(d, word).empty());
            ++edits;
        }
    EXPECT_GT(edits, 80);
}

/// Days as they stand between quotes in the file.
std::multiset<std::string> days_in(const std::string& text) {
    std::multiset<std::string> out;
    for (auto at = text.find("\"20"); at != std::string::npos; at = text.find("\"20", at + 1)) {
        const auto day = text.substr(at + 1, 10);
        const bool shaped = day.size() == 10 && day[4] == '-' && day[7] == '-' && text[at + 11] == '"';
        if (shaped) out.insert(day);
    }
    return out;
}

TEST(DrawnTimeLine, EachDayOfTheFileStandsInIt) {
    for (const auto& d : shipped()) {
        const auto in_file = days_in(dossier_to_json(d));
        std::multiset<std::string> in_line;
        for (const auto& e : time_line(d)) in_line.insert(e.day);
        EXPECT_EQ(std::set<std::string>(in_line.begin(), in_line.end()),
                  std::set<std::string>(in_file.begin(), in_file.end()))
            << d.about->name;
    }
}

// ---- tables
// --------------------------------------------------------------------------------------------------

TEST(DrawnTrials, TablesComeBackAsTheyWere) {
    Dossier d;
    JobUnit unit;
    unit.id = "u";
    d = put(d, unit);
    static const std::vector<std::string> values{
        "a", "2.2 k", "with, comma", "with \"quotes\"", "=1+1", "-3", "Ω µ", "semi;colon", "0"};
    for (unsigned seed = 0; seed < 300; ++seed) {
        Die die(seed);
        auto with = d;
        for (int i = 1 + die.upto(6); i > 0; --i) {
            TrialRun t;
            t.id = "t" + std::to_string(10 - i);
            t.day = fmt::format("2026-11-{:02}", 20 - i);
            t.outcome = static_cast<TrialOutcome>(die.upto(3));
            t.repeats = static_cast<Repeats>(die.upto(2));
            if (die.one_in(2)) t.unit = "u";
            for (const auto* name : {"host", "cable", "R 4"})
                if (die.one_in(2)) t.setup.push_back({name, die.of(values), {}});
            if (die.one_in(2)) t.degree = die.upto(1000) / 16.0 - 20;
            if (die.one_in(3)) t.expected = die.upto(100);
            if (die.one_in(3)) t.ran_s = die.upto(10'000);
            if (die.one_in(3)) t.note = die.of(values);
            with = put(with, t);
        }
        const auto csv = trials_to_csv(with);
        const auto back = trials_from_csv(csv, "t.csv", with);
        ASSERT_TRUE(back) << back.error().message() << "\n" << csv;
        ASSERT_EQ(back->size(), with.log->trials.size());
        for (std::size_t i = 0; i < back->size(); ++i) {
            auto expected = with.log->trials[i];
            // Factors stand in the order of the columns.
            auto by_name = [](const TrialFactor& a, const TrialFactor& b) { return a.name < b.name; };
            auto got = (*back)[i];
            std::sort(expected.setup.begin(), expected.setup.end(), by_name);
            std::sort(got.setup.begin(), got.setup.end(), by_name);
            EXPECT_EQ(got, expected) << seed << "\n" << csv;
        }
    }
}

}  // namespace
}  // namespace grayrelic
