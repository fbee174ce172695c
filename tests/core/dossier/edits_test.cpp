// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/edits.hpp"

#include <nlohmann/json.hpp>
#include <set>

#include "core/dossier/dossier_json.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

std::string dial_pad_text() {
    return test::read_file(test::source_folder() / "demos/calder-dial-pad.relic/dossier.json");
}

TEST(Edits, AreNewVersionsThatShareTheRest) {
    const auto d = *dossier_from_json(dial_pad_text(), "d.json");
    auto pin = *d.ports->front().find_pin("6");
    pin.family.value = "ls";
    const auto edited = put_pin(d, "J1", pin);
    EXPECT_EQ(d.ports->front().find_pin("6")->family.value, "");
    EXPECT_EQ(edited.ports->front().find_pin("6")->family.value, "ls");
    EXPECT_TRUE(edited.timing.same_version(d.timing));
    EXPECT_TRUE(edited.captures.same_version(d.captures));
    EXPECT_FALSE(edited.ports.same_version(d.ports));
    EXPECT_EQ(put_pin(d, "J9", pin), d);
}

TEST(Edits, OptionsAreChosenAddedAndRemoved) {
    const auto d = *dossier_from_json(dial_pad_text(), "d.json");
    const auto chosen = choose_option(d, "polling-firmware");
    EXPECT_EQ(chosen.timing->chosen, "polling-firmware");
    EXPECT_EQ(choose_option(d, "nobody").timing->chosen, "shift-register");
    const auto removed = drop<BuildOption>(chosen, "polling-firmware");
    EXPECT_EQ(removed.timing->chosen, "");
    EXPECT_EQ(removed.timing->options.size(), 4U);
    EXPECT_EQ(drop<CaptureRef>(d, "idle").captures->size(), 9U);
}

TEST(Edits, FreeIdsAreReadableAndNew) {
    const auto d = *dossier_from_json(dial_pad_text(), "d.json");
    EXPECT_EQ(free_id<CaptureRef>(d, "minute"), "minute-2");
    EXPECT_EQ(free_id<CaptureRef>(d, "My Capture (3).vcd"), "my-capture-3-vcd");
    EXPECT_EQ(free_id<CaptureRef>(d, "µ"), "item");
    EXPECT_EQ(free_id<BuildOption>(d, "Shift register"), "shift-register-2");
}

/// Every kind of thing that has an id: put in, changed, taken out; all other sections stay the same versions.
template <class T>
class EveryThing : public testing::Test {};
using Things =
    testing::Types<Port, Cable, CaptureRef, BuildOption, ContractInterval, LogicNetwork, ClockStudy, Budget,
                   GoldenPair, Scan, NetSource, BoardPart, Deviation, Donor, JobUnit, Dimension, PartLine,
                   Order, Must, PlanQuestion, PlanTask, WayThere, Hedge, WireValue, WireSetting, PinNeed,
                   MapKey, MapMessage, MoveCurve, Fabrication, BoardStack, UnitBuild, TrialRun, CoverItem,
                   Complaint, Bodge, RevisionNote, LoggedDecision, ImageFile, CostLine>;
TYPED_TEST_SUITE(EveryThing, Things);

int sections_shared(const Dossier& a, const Dossier& b) {
    return a.about.same_version(b.about) + a.ports.same_version(b.ports) + a.cables.same_version(b.cables) +
           a.captures.same_version(b.captures) + a.timing.same_version(b.timing) +
           a.readings.same_version(b.readings) + a.trace.same_version(b.trace) +
           a.units.same_version(b.units) + a.dimensions.same_version(b.dimensions) +
           a.supply.same_version(b.supply) + a.plan.same_version(b.plan) + a.wire.same_version(b.wire) +
           a.map.same_version(b.map) + a.boards.same_version(b.boards) + a.stacks.same_version(b.stacks) +
           a.builds.same_version(b.builds) + a.log.same_version(b.log);
}

TYPED_TEST(EveryThing, IsPutChangedAndDropped) {
    using T = TypeParam;
    constexpr auto key = key_of<T>();
    const auto d = *dossier_from_json(dial_pad_text(), "d.json");
    const auto before = things<T>(d).size();
    T one;
    one.*key = "new-1";
    const auto added = put(d, one);
    ASSERT_EQ(things<T>(added).size(), before + 1);
    EXPECT_EQ(things<T>(added).back(), one);
    EXPECT_EQ(sections_shared(added, d), 16);
    EXPECT_EQ(put(added, one), added) << "the same thing again takes the same place";
    EXPECT_EQ(free_id<T>(added, "new"), "new");
    EXPECT_EQ(free_id<T>(added, "new-1"), "new-1-2");

    const auto changed = edit<T>(added, "new-1", [](T& t) { t.extra = R"({"x":1})"; });
    EXPECT_EQ(things<T>(changed).back().extra, R"({"x":1})");
    EXPECT_TRUE(things<T>(added).back().extra.empty()) << "the earlier version stays as it was";
    EXPECT_EQ(sections_shared(changed, d), 16);

    EXPECT_EQ(drop<T>(changed, "new-1"), d);
    EXPECT_EQ(sections_shared(drop<T>(d, "not there"), d), 17);
    EXPECT_EQ(sections_shared(edit<T>(d, "not there", [](T& t) { t.extra = "x"; }), d), 17);
}

TEST(Edits, ANetlistThatIsDroppedIsNotHeldAgainstAnyMore) {
    NetSource s;
    s.id = "published";
    const auto d = edit(put(Dossier{}, s), &Dossier::trace, [](Trace& t) { t.against = "published"; });
    ASSERT_NE(d.trace->reference(), nullptr);
    EXPECT_EQ(drop<NetSource>(d, "published"), Dossier{});
}

TEST(Edits, ReadingsComeAtTheEnd) {
    MeterReading one, two;
    one.a = "U1.1";
    two.a = "U1.2";
    const auto d = add_readings(add_reading(Dossier{}, one), {two, one});
    ASSERT_EQ(d.readings->size(), 3U);
    EXPECT_EQ((*d.readings)[1], two);
    EXPECT_EQ((*d.readings)[2], one);
}

/// All lists of words that the schema allows anywhere.
void collect(const nlohmann::json& j, std::set<std::vector<std::string>>& out) {
    if (j.is_object() && j.contains("enum")) out.insert(j["enum"].get<std::vector<std::string>>());
    if (j.is_structured())
        for (const auto& child : j) collect(child, out);
}

template <class... E>
void expect_in(const std::set<std::vector<std::string>>& lists) {
    const auto one = [&](auto all) {
        std::vector<std::string> words;
        for (const auto value : all) words.emplace_back(word(value));
        EXPECT_EQ(lists.count(words), 1U) << words.front() << ", " << words.back();
    };
    (one(all_of<E>()), ...);
}

TEST(Words, TheSchemaKnowsTheSameOnes) {
    std::set<std::vector<std::string>> lists;
    collect(
        nlohmann::json::parse(test::read_file(test::source_folder() / "docs/formats/dossier.schema.json")),
        lists);
    expect_in<EvidenceKind, Driver, Side, Half, BoardSide, StrokeKind, ClickKind, IntervalKind, OptionKind,
              WhenBusy, DividerKind, BudgetKind, UnitKind, UnitState, PartKind, HostSide, Reversible, AtStake,
              MustTie, JobGate, WayKind, Stage, FitRole, FitKind, JoinKind>(lists);
}

TEST(Words, AreFoundAgainAndListed) {
    for (const auto kind : all_of<IntervalKind>()) EXPECT_EQ(named<IntervalKind>(word(kind)), kind);
    EXPECT_EQ(named<IntervalKind>("Response"), std::nullopt);
    EXPECT_EQ(named<IntervalKind>(""), std::nullopt);
    EXPECT_EQ(one_of<WhenBusy>(), "late, lost or queue");
    EXPECT_EQ(one_of<Half>(), "socket or plug");
}

}  // namespace
}  // namespace grayrelic
