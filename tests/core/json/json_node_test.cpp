// SPDX-License-Identifier: GPL-3.0-or-later
// JSON read with places: every fault is one message with its line, whatever the text holds.
#include <gmock/gmock.h>

#include "core/json/json_node.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::message;
using testing::AllOf;
using testing::EndsWith;
using testing::HasSubstr;
using testing::StartsWith;

Result<double> number_in(std::string_view text) {
    return read_json(text, "f.json", "numbers as JSON", [](JsonNode& n) { return n.required("n").number(); });
}

TEST(Json, WhatIsReadIsGiven) {
    EXPECT_EQ(number_in(R"({"n": 1.5})").value(), 1.5);
}

TEST(Json, AFaultInTheTextHasItsLine) {
    EXPECT_THAT(message(number_in("")), AllOf(StartsWith("f.json:1: "), HasSubstr("an empty file")));
    EXPECT_THAT(message(number_in("{\n\"n\": nothing}")),
                AllOf(StartsWith("f.json:2: "), HasSubstr("invalid literal"), EndsWith("numbers as JSON")));
    EXPECT_THAT(message(number_in("{\n\n\"n\": 1,,}")), StartsWith("f.json:3: "));
    EXPECT_THAT(message(number_in("{\"n\": \"\xFF\"}")), StartsWith("f.json:1: "));
}

TEST(Json, AFaultInAValueHasItsLine) {
    EXPECT_THAT(message(number_in("{\n\n\"n\": \"five\"\n}")),
                AllOf(StartsWith("f.json:3: "), HasSubstr("\"five\""), HasSubstr("a number for n")));
    EXPECT_THAT(message(number_in("{\"m\": 1}")), HasSubstr("no \"n\""));
}

TEST(Json, ANumberThatNoDoubleHoldsIsRefusedWithItsLine) {
    EXPECT_THAT(message(number_in("{\n\"n\": 1e999}")),
                AllOf(StartsWith("f.json:2: "), HasSubstr("too large"), HasSubstr("1e999")));
    EXPECT_THAT(message(number_in("{\n\n\"n\": " + std::string(400, '9') + "}")),
                AllOf(StartsWith("f.json:3: "), HasSubstr("too large")));
    // The largest double is 1.797…e308.
    EXPECT_EQ(number_in(R"({"n": 1e308})").value(), 1e308);
    EXPECT_THAT(message(number_in(R"({"n": 1.8e308})")), HasSubstr("too large"));
}

TEST(Json, DepthIsBoundedBeforeAnythingIsBuilt) {
    const auto nested = [](std::size_t depth) {
        return "{\"n\": 1, \"x\": " + std::string(depth, '[') + std::string(depth, ']') + "}";
    };
    EXPECT_TRUE(number_in(nested(63)));
    EXPECT_THAT(message(number_in(nested(64))), HasSubstr("more than 64 nested brackets"));
    EXPECT_FALSE(number_in(nested(5'000'000)));
}

// Found by the fuzzers: a name behind the last bracket.
TEST(Json, WhatStandsBehindTheEndIsNoMember) {
    for (const char* text : {"{}\"a\": 1", "{}, \"a\": 1", "[] \"a\":", "{\"a\": {}} \"a\": {}",
                             "\"a\":", ",\"a\":1", "}\"a\":1"}) {
        EXPECT_FALSE(json_trouble(text)) << text;
        EXPECT_FALSE(JsonDocument::parse(text, "x.json", "a text")) << text;
    }
}

TEST(Json, ANameGivenTwiceIsSaidWithItsLine) {
    const auto twice = [](const char* text) {
        const auto d = JsonDocument::parse(text, "x.json", "a text");
        return d ? std::string() : d.error().message();
    };
    EXPECT_EQ(twice("{\"a\": 1,\n \"b\": {\"a\": [\"a\", \"a\"]}}"), "");
    EXPECT_EQ(twice("[{\"a\": 1}, {\"a\": 2}]"), "");
    EXPECT_EQ(twice("{\"a\": \"a\", \"b\": \"a\"}"), "");
    EXPECT_EQ(twice("{\"a\": 1,\n \"a\": 2}"),
              "x.json:2: found the name \"a\" for a second time, expected each name once");
    EXPECT_EQ(twice("{\"x\": {\"a\": 1,\n\n \"\\u0061\": 2}}"),
              "x.json:3: found the name \"a\" for a second time, expected each name once");
}

TEST(Json, TheNumberOfValuesIsBounded) {
    // The list itself and what is in it.
    std::string text = "[[]";
    for (std::size_t i = 2; i < most_json_values; ++i) text += i % 2 == 0 ? ",0" : ",{ }";
    EXPECT_FALSE(json_trouble(text + "]"));
    const auto d = JsonDocument::parse(text + ",0]", "x.json", "a text");
    ASSERT_FALSE(d);
    EXPECT_EQ(d.error().message(), "x.json:1: found more than 4000000 values, expected a text");
}

TEST(Json, MembersNobodyAskedForAreKept) {
    const auto rest = read_json(R"({"a": 1, "b": [2], "c": null})", "f", "JSON", [](JsonNode& n) {
        (void)n.member("a");
        return std::pair(n.unknown_members(), n.unknown_member());
    });
    ASSERT_TRUE(rest);
    EXPECT_EQ(rest->first, R"({"b":[2],"c":null})");
    EXPECT_EQ(rest->second, "b");
    const auto none = read_json("{}", "f", "JSON", [](JsonNode& n) { return n.unknown_member(); });
    EXPECT_EQ(none.value(), std::nullopt);
}

TEST(Json, AFlagIsTrueOrFalseAndNothingElse) {
    const auto flag = [](std::string_view text) {
        return read_json(text, "f", "JSON", [](JsonNode& n) { return n.flag("on"); });
    };
    EXPECT_TRUE(flag(R"({"on": true})").value());
    EXPECT_FALSE(flag(R"({"on": false})").value());
    EXPECT_FALSE(flag("{}").value());
    EXPECT_THAT(message(flag(R"({"on": 1})")), HasSubstr("true or false for on"));
}

}  // namespace
}  // namespace grayrelic
