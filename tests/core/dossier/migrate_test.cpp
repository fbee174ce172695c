// SPDX-License-Identifier: GPL-3.0-or-later
// What a person typed is never lost to a version: old dossiers open, members of newer programs come through a
// save, and a journal that an older program left still finds its dossier. The old files are kept as that
// program wrote them (tests/data/dossiers/ORIGIN.md).
#include <gmock/gmock.h>

#include "core/dossier/dossier_json.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/journal.hpp"
#include "core/dossier/migrate.hpp"
#include "core/dossier/store.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::message;
using testing::AllOf;
using testing::HasSubstr;
using testing::StartsWith;

std::string old_text(const std::string& name) {
    return test::read_file(test::source_folder() / "tests/data/dossiers" / ("v1-" + name + ".json"));
}

/// Members whose keys are a person's own words: a mark in them would be one more word.
bool has_free_keys(const std::string& key) {
    return key == "roles" || key == "settings" || key == "read_as" || key == "words" || key == "signals";
}

/// Marks every object of the tree with a number of its own; says how many there are.
int mark(SortedJson& json, int next = 0) {
    if (json.is_object()) {
        for (auto& [key, value] : json.items())
            if (!value.is_object() || !has_free_keys(key)) next = mark(value, next);
        json["from_the_future"] = {{"number", next++}};
    } else if (json.is_array()) {
        for (auto& value : json) next = mark(value, next);
    }
    return next;
}

class EveryOldDossier : public testing::TestWithParam<const char*> {};

TEST_P(EveryOldDossier, OpensAndSaysTheSame) {
    const auto text = old_text(GetParam());
    EXPECT_EQ(dossier_version_in(text, "old").value(), 1);
    const auto d = dossier_from_json(text, "old");
    ASSERT_TRUE(d) << message(d);
    // By hand: what stood in the old text stands in the new one, the meter's readings one level up.
    auto expected = SortedJson::parse(text);
    expected["version"] = 2;
    if (expected.contains("trace")) {
        if (!expected["trace"]["readings"].empty()) expected["readings"] = expected["trace"]["readings"];
        expected["trace"].erase("readings");
    }
    EXPECT_EQ(SortedJson::parse(dossier_to_json(*d)), expected);
    EXPECT_EQ(dossier_version_in(dossier_to_json(*d), "new").value(), 2);
}

TEST_P(EveryOldDossier, MembersOfANewerProgramComeThroughASave) {
    auto json = SortedJson::parse(dossier_to_json(*dossier_from_json(old_text(GetParam()), "old")));
    const int marks = mark(json);
    EXPECT_GT(marks, 20);
    const auto d = dossier_from_json(json.dump(), "marked");
    ASSERT_TRUE(d) << message(d);
    EXPECT_EQ(SortedJson::parse(dossier_to_json(*d)), json) << "every mark, and nothing else";
}

TEST_P(EveryOldDossier, GoesBackToWhatTheOlderProgramWrote) {
    const auto old = SortedJson::parse(old_text(GetParam()));
    auto json = SortedJson::parse(dossier_to_json(*dossier_from_json(old.dump(), "old")));
    migrate_back(json, 1);
    EXPECT_EQ(json, old);
    migrate(json, 1);
    EXPECT_EQ(json, SortedJson::parse(dossier_to_json(*dossier_from_json(old.dump(), "old"))));
}

INSTANTIATE_TEST_SUITE_P(Version1, EveryOldDossier,
                         testing::Values("dial-pad", "chart-slate", "page-card", "everything"),
                         [](const auto& p) {
                             std::string name = p.param;
                             std::erase(name, '-');
                             return name;
                         });

TEST(Migration, TheOldFileOfEverythingHoldsOneOfEachKind) {
    const auto d = dossier_from_json(old_text("everything"), "old");
    ASSERT_TRUE(d) << message(d);
    const auto& c = d->captures->front();
    EXPECT_EQ(c.also.size() + c.moments.size() + c.ties.size() + c.read_as.size(), 4U);
    const auto& o = d->timing->options.front();
    EXPECT_EQ(o.measured.capture, "k");
    EXPECT_EQ(o.bill.cost, 2.5);
    EXPECT_EQ(d->timing->networks.size() + d->timing->clocks.size() + d->timing->budgets.size() +
                  d->timing->golden.size() + d->timing->drawer.size(),
              5U);
    EXPECT_EQ(d->readings->size(), 2U);
    EXPECT_EQ(d->readings->back().set_aside, "slipped");
    const auto& t = *d->trace;
    EXPECT_EQ(t.parts.size() + t.spots.size() + t.aliases.size() + t.scans.size() + t.netlists.size() +
                  t.deviations.size() + t.donors.size(),
              7U);
    EXPECT_EQ(t.scans[0].strokes.size(), 1U);
}

TEST(Migration, AFaultInAnOldDossierHasItsLineThere) {
    const auto d = dossier_from_json(
        "{\n\"format\": \"gray-relic-dossier\", \"version\": 1, \"name\": \"n\",\n\"trace\": "
        "{\n\"readings\": [\n"
        "{\"a\": \"U1.1\", \"b\": \"U1.2\", \"reading\": \"beep\"},\n{\"a\": \"U1.1\", \"b\": \"U1.2\", "
        "\"reading\": "
        "\"loud\"}\n]}}",
        "d.json");
    EXPECT_THAT(message(d), AllOf(StartsWith("d.json:6: "), HasSubstr("loud")));
}

TEST(Migration, WhatIsNotAsItWasIsRefusedAndNotLost) {
    const auto read = [](const char* trace) {
        return dossier_from_json(
            std::string("{\"format\": \"gray-relic-dossier\", \"version\": 1, \"name\": \"n\",\n"
                        "\"trace\": ") +
                trace + "}",
            "d.json");
    };
    EXPECT_THAT(message(read("7")), HasSubstr("d.json:2: found 7"));
    EXPECT_THAT(message(read("{\"readings\": {}}")), HasSubstr("a list for"));
    EXPECT_TRUE(read("null"));
    EXPECT_TRUE(read("{}"));
}

TEST(Migration, ADossierOfTheFutureIsRefusedInPlainWords) {
    EXPECT_THAT(message(dossier_from_json(
                    "{\"format\": \"gray-relic-dossier\",\n\"version\": 3, \"name\": \"n\"}", "d.json")),
                AllOf(StartsWith("d.json:2: found 3"), HasSubstr("written by a newer Gray Relic")));
}

/// An older program's journal, by its own format (docs/formats/journal.md): the sum is FNV-1a over the state.
std::string sum(const SortedJson& state) {
    std::uint64_t h = 0xCBF29CE484222325ULL;
    for (const char c : state.dump()) h = (h ^ static_cast<unsigned char>(c)) * 0x100000001B3ULL;
    char text[17];
    std::snprintf(text, sizeof text, "%016llx", static_cast<unsigned long long>(h));
    return text;
}

TEST_P(EveryOldDossier, EditsThatAnOlderProgramLeftAreTakenUp) {
    const test::TempFolder folder;
    const SortedJson before = {{"dossier", SortedJson::parse(old_text(GetParam()))},
                               {"outside", SortedJson::object()}};
    auto after = before;
    after["dossier"]["purpose"] = "typed before the crash";
    const SortedJson header = {{"journal", 1}, {"state", sum(before)}, {"title", "t"}},
                     step = {{"patch", SortedJson::diff(before, after)}, {"sum", sum(after)}};
    test::write_file(folder / "dossier.journal", header.dump() + "\n" + step.dump() + "\n");
    const auto base = dossier_from_json(old_text(GetParam()), "old");
    ASSERT_TRUE(base);
    const auto left = read_journal(folder / "dossier.journal", *base, disk());
    ASSERT_TRUE(left) << message(left);
    ASSERT_TRUE(*left);
    EXPECT_EQ((*left)->edits, 1);
    EXPECT_EQ((*left)->dossier.about->purpose, "typed before the crash");
    EXPECT_EQ(*(*left)->dossier.readings, *base->readings);
    // Of another dossier it is still not applied.
    const auto other = put(*base, {"another", "", 1, ""});
    EXPECT_FALSE(read_journal(folder / "dossier.journal", other, disk()));
}

}  // namespace
}  // namespace grayrelic
