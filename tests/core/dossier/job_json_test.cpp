// SPDX-License-Identifier: GPL-3.0-or-later
// Units, dimensions, parts and orders in dossier.json: all of it comes back, and what is wrong is named.
#include <gmock/gmock.h>

#include "core/dossier/dimension_text.hpp"
#include "core/dossier/dossier_json.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic {
namespace {

const std::string whole = R"({
 "format": "gray-relic-dossier", "version": 2, "name": "Job", "relic": "control port", "modern": "pad",
 "ports": [], "captures": [],
 "units": [{"id": "a", "name": "First", "kind": "board", "revision": 3, "number": "1/4",
            "state": "spoken-for", "note": "for a friend", "later": 1}],
 "dimensions": [{"id": "lid", "name": "lid", "mm": {"value": 12.4, "plus_minus": 0.1, "evidence": "measured",
                 "tool": "caliper", "date": "2026-11-01"}, "unit": "a", "decides": "socket", "later": 2}],
 "supply": {"boards": 4, "later": 3,
  "parts": [{"id": "r", "part": "resistor 4k7", "kind": "passive", "refs": ["R1", "R2"], "per_board": 3,
             "yield": {"value": 0.9, "evidence": "measured"}, "question": "which value?",
             "not_to_be_had": "looked in May", "alternates": ["resistor 5k1"], "supplier": "shop",
             "prices": [{"from": 10, "each": 0.05, "later": 4}], "lead_days_from": 2, "lead_days_to": 5,
             "seen": "2026-10-01", "note": "n", "later": 5}],
  "orders": [{"id": "o", "from": "shop", "lines": [{"part": "resistor 4k7", "count": 20, "later": 6}],
              "files": [{"name": "b.zip",
              "sha256": "e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855", "later": 7}],
              "ordered": "2026-10-02", "expected_from": "2026-10-04", "expected_to": "2026-10-07",
              "arrived": "2026-10-06", "frees": ["the ribbon"], "note": "m", "later": 8}]}
})";

TEST(JobJson, AllOfItComesBack) {
    const auto d = dossier_from_json(whole, "d.json");
    ASSERT_TRUE(d) << d.error().message();
    EXPECT_EQ(d->about->relic, "control port");
    EXPECT_EQ(d->about->modern, "pad");
    const auto& unit = d->units->front();
    EXPECT_EQ(unit.state, UnitState::spoken_for);
    EXPECT_EQ(unit.revision, 3);
    EXPECT_EQ(d->find_unit("a")->name, "First");
    EXPECT_EQ(d->find_unit("b"), nullptr);
    const auto& lid = d->dimensions->front();
    EXPECT_EQ(lid.mm.value, 12.4);
    EXPECT_EQ(lid.mm.uncertainty, 0.1);
    EXPECT_EQ(lid.mm.evidence.tool, "caliper");
    const auto& part = d->supply->parts.front();
    EXPECT_EQ(part.per_board, 3);
    EXPECT_EQ(part.yield.value, 0.9);
    EXPECT_EQ(part.prices.front().each, 0.05);
    EXPECT_EQ(d->supply->orders.front().files.front().name, "b.zip");
    EXPECT_EQ(d->supply->orders.front().expected_to, "2026-10-07");
    const auto text = dossier_to_json(*d);
    for (int i = 1; i <= 8; ++i)
        EXPECT_THAT(text, testing::HasSubstr("\"later\": " + std::to_string(i)))
            << "kept for a newer version";
    EXPECT_EQ(*dossier_from_json(text, "again.json"), *d);
}

TEST(JobJson, WhatAnOlderDossierDoesNotHoldIsNotWritten) {
    const auto old =
        dossier_from_json(R"({"format": "gray-relic-dossier", "version": 2, "name": "Old"})", "o.json");
    ASSERT_TRUE(old);
    EXPECT_EQ(old->supply->boards, 1);
    for (const auto* key : {"units", "dimensions", "supply", "relic"})
        EXPECT_THAT(dossier_to_json(*old), testing::Not(testing::HasSubstr("\"" + std::string(key) + "\"")));
}

struct Wrong {
    const char *instead_of, *stands, *found, *expected;
};
class WrongJob : public testing::TestWithParam<Wrong> {};

TEST_P(WrongJob, IsNamedWithItsLine) {
    auto text = whole;
    const auto at = text.find(GetParam().instead_of);
    ASSERT_NE(at, std::string::npos);
    text.replace(at, std::string(GetParam().instead_of).size(), GetParam().stands);
    const auto d = dossier_from_json(text, "d.json");
    ASSERT_FALSE(d);
    EXPECT_GT(d.error().line, 1);
    EXPECT_THAT(d.error().found, testing::HasSubstr(GetParam().found));
    EXPECT_THAT(d.error().expected, testing::HasSubstr(GetParam().expected));
}

INSTANTIATE_TEST_SUITE_P(
    Values, WrongJob,
    testing::Values(Wrong{"\"spoken-for\"", "\"lost\"", "\"lost\"", "original, breadboard"},
                    Wrong{"\"kind\": \"board\"", "\"kind\": \"lamp\"", "\"lamp\"", "board or machine"},
                    Wrong{"\"kind\": \"passive\"", "\"kind\": \"glue\"", "\"glue\"", "logic, module"},
                    Wrong{"\"per_board\": 3", "\"per_board\": -1", "-1", "0 to 100000"},
                    Wrong{"\"boards\": 4", "\"boards\": -2", "-2", "0 to 100000"},
                    Wrong{"\"value\": 0.9", "\"value\": 0", "0", "above 0 and up to 1"},
                    Wrong{"\"count\": 20", "\"count\": 0", "0", "1 to 1000000"},
                    Wrong{"\"2026-10-02\"", "\"2026-10-32\"", "2026-10-32", "a day such as"},
                    Wrong{"\"value\": 12.4", "\"value\": -1", "-1", "millimetres"},
                    Wrong{"e3b0c442", "XYZ", "XYZ", "64 hexadecimal digits"},
                    Wrong{"\"part\": \"resistor 4k7\", \"kind\"", "\"part\": \"\", \"kind\"", "an empty text",
                          "part"},
                    Wrong{"\"each\": 0.05", "\"each\": -3", "-3", "zero or more"}));

TEST(DimensionText, IsReadAsACaliperSaysIt) {
    const auto d = parse_dimension("lid to board 12,4 ± 0.1 mm");
    ASSERT_TRUE(d);
    EXPECT_EQ(d->name, "lid to board");
    EXPECT_EQ(d->mm.value, 12.4);
    EXPECT_EQ(d->mm.uncertainty, 0.1);
    EXPECT_EQ(parse_dimension("plug 17 mm")->mm.value, 17);
    EXPECT_EQ(parse_dimension("plug 17 mm")->mm.uncertainty, std::nullopt);
    EXPECT_EQ(parse_dimension("pin 3 2.5 +- 0.05")->name, "pin 3");
    for (const auto* text : {"", "12.4", "lid", "lid high", "lid -3", "lid 12 ± x", "lid 12 ± -1", "lid 1e9"})
        EXPECT_FALSE(parse_dimension(text)) << text;
    EXPECT_EQ(parse_mm("12,4 mm").value(), 12.4);
    EXPECT_FALSE(parse_mm("nan"));
}

}  // namespace
}  // namespace grayrelic
