// SPDX-License-Identifier: GPL-3.0-or-later
// A dossier as lines: differences, search and time line; on the shipped dossiers and by hand.
#include <gmock/gmock.h>

#include <filesystem>
#include <set>

#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "core/record/dossier_diff.hpp"
#include "core/record/dossier_lines.hpp"
#include "core/record/search.hpp"

namespace grayrelic {
namespace {

using testing::Contains;
using testing::Field;
using testing::HasSubstr;

std::vector<Dossier> demos() {
    std::vector<Dossier> out;
    for (const auto& entry : std::filesystem::directory_iterator(GRAY_RELIC_SOURCE "/demos")) {
        if (entry.path().extension() != ".relic") continue;
        auto d = load_dossier(entry.path());
        EXPECT_TRUE(d) << entry.path();
        if (d) out.push_back(std::move(*d));
    }
    return out;
}

TEST(Diff, IsEmptyOnItselfAndMirrorsWhenSwapped) {
    const auto all = demos();
    ASSERT_GE(all.size(), 5U);
    for (const auto& a : all) {
        EXPECT_TRUE(diff_dossiers(a, a).empty());
        for (const auto& b : all) {
            const auto there = diff_dossiers(a, b), back = diff_dossiers(b, a);
            ASSERT_EQ(there.size(), back.size());
            for (std::size_t i = 0; i < there.size(); ++i)
                EXPECT_EQ(there[i],
                          (DossierChange{back[i].section, back[i].what, back[i].after, back[i].before}));
            EXPECT_EQ(there.empty(), &a == &b);
        }
    }
}

Dossier small() {
    Dossier d;
    Port port;
    port.id = "J1";
    port.name = "control port";
    for (const auto* number : {"1", "2"}) {
        Pin pin;
        pin.number = number;
        pin.name.value = std::string("P") + number;
        port.pins.push_back(pin);
    }
    LogicNetwork net;
    net.id = "main";
    net.text = "R4 resistor 4k7: 1=A 2=V5\nU1 74x04 hct: A1=A Y1=B\n";
    Dimension size;
    size.id = "lid";
    size.name = "below the lid";
    size.mm.value = 12.5;
    size.mm.uncertainty = 0.1;
    size.mm.evidence = {EvidenceKind::measured, "caliper", "2026-11-02", {}};
    return put(put(put(d, port), net), size);
}

TEST(Diff, NamesPinsNetsAndValues) {
    const auto a = small();
    // One pin renamed, one added, a resistor of another value, a net that goes elsewhere, a dimension
    // measured anew.
    auto b = edit<Port>(a, "J1", [](Port& p) {
        p.pins[0].name.value = "HOLD";
        Pin third;
        third.number = "3";
        third.name.value = "GND";
        p.pins.push_back(third);
    });
    b = edit<LogicNetwork>(b, "main", [](LogicNetwork& n) {
        n.text = "R4 resistor 2k2: 1=A 2=V5\nU1 74x04 hct: A1=A Y1=C\nC1 capacitor 100n: 1=V5 2=GND\n";
    });
    b = edit<Dimension>(b, "lid", [](Dimension& m) { m.mm.value = 12.4; });
    const auto changes = diff_dossiers(a, b);
    const auto change = [](const char* section, const char* what, std::optional<std::string> before,
                           std::optional<std::string> after) {
        return DossierChange{section, what, std::move(before), std::move(after)};
    };
    EXPECT_THAT(changes, Contains(change("ports", "J1 / pins / 1 / name", "P1 (assumed)", "HOLD (assumed)")));
    EXPECT_THAT(changes, Contains(testing::AllOf(Field(&DossierChange::what, "J1 / pins / 3"),
                                                 Field(&DossierChange::before, std::nullopt))));
    EXPECT_THAT(changes, Contains(change("timing", "networks / main / lines / R4",
                                         "R4 resistor 4k7: 1=A 2=V5", "R4 resistor 2k2: 1=A 2=V5")));
    EXPECT_THAT(changes, Contains(change("timing", "networks / main / lines / C1", std::nullopt,
                                         "C1 capacitor 100n: 1=V5 2=GND")));
    EXPECT_THAT(changes,
                Contains(change("dimensions", "lid / mm", "12.5 ± 0.1 (measured: caliper, 2026-11-02)",
                                "12.4 ± 0.1 (measured: caliper, 2026-11-02)")));
    EXPECT_EQ(changes.size(), 6U);
}

TEST(Lines, KnowTheEvidenceOfEachFact) {
    for (const auto& line : dossier_lines(small()))
        if (print(line.path) == "lid / mm") {
            EXPECT_EQ(line.evidence, "measured");
            EXPECT_EQ(line.source, "caliper");
            EXPECT_EQ(line.day, "2026-11-02");
            EXPECT_FALSE(line.is_day);
            return;
        }
    FAIL() << "no line of the dimension";
}

TEST(Search, FindsAllWordsWhateverTheCase) {
    const auto d = small();
    EXPECT_EQ(search(d, "").size(), 0U);
    EXPECT_EQ(search(d, "nowhere to be found").size(), 0U);
    const auto hits = search(d, "CONTROL");
    ASSERT_EQ(hits.size(), 1U);
    EXPECT_EQ(hits[0].stage, Stage::port);
    EXPECT_EQ(hits[0].value, "control port");
    // Words of the way and of the value together.
    EXPECT_EQ(search(d, "j1 p2").size(), 1U);
    EXPECT_EQ(search(d, "r4 4k7").size(), 1U);
    // Every stage's things are found in the shipped dossiers.
    std::set<Stage> stages;
    for (const auto& demo : demos())
        for (const auto* word : {"a", "e", "1"})
            for (const auto& hit : search(demo, word))
                if (hit.stage) stages.insert(*hit.stage);
    EXPECT_GE(stages.size(), 8U);
}

TEST(TimeLine, IsInTheOrderOfDays) {
    for (const auto& d : demos()) {
        const auto events = time_line(d);
        for (std::size_t i = 1; i < events.size(); ++i) EXPECT_LE(events[i - 1].day, events[i].day);
    }
    Order order;
    order.id = "parts";
    order.from = "parts house";
    order.ordered = "2026-11-05";
    order.arrived = "2026-11-01";
    const auto events =
        time_line(edit(small(), &Dossier::supply, [&](Supply& s) { s.orders.push_back(order); }));
    ASSERT_EQ(events.size(), 3U);
    EXPECT_EQ(events[0].day, "2026-11-01");
    EXPECT_THAT(events[0].says, HasSubstr("arrived: parts house"));
    EXPECT_EQ(events[1].day, "2026-11-02");
    EXPECT_THAT(events[2].says, HasSubstr("ordered"));
}

}  // namespace
}  // namespace grayrelic
