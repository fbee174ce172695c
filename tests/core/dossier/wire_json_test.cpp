// SPDX-License-Identifier: GPL-3.0-or-later
// Rails, settings, pins and bills in dossier.json: all of it comes back, what a newer version added too, and
// what is wrong is named.
#include <gmock/gmock.h>

#include "core/dossier/dossier_json.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic {
namespace {

const std::string whole = R"({
 "format": "gray-relic-dossier", "version": 2, "name": "Job", "ports": [], "captures": [],
 "timing": {"options": [{"id": "f", "kind": "fpga", "numbers": [{"key": "clock", "value": 5e7}],
   "bill": {"area_m2": 0.0012, "hours": 6, "reversible": "plugs in", "service": "socket", "sample": "ours", "later": 1}}]},
 "wire": {"rails": ["source A 5V", "", "load L A 3mA"],
  "settings": [{"id": "s", "name": "slider", "kind": "selector", "where": "below", "source": "A",
    "positions": [{"name": "left", "volts": 5, "later": 2}], "least": 3, "most": 9, "want": 5, "back": 6,
    "now": {"value": 5.1, "plus_minus": 0.1, "evidence": "measured", "source": "unit 2", "later": 3},
    "measure": "tip to sleeve", "note": "n", "later": 4}],
  "pins": {"part": "module-33", "form": "{name}", "later": 5,
    "needs": [{"id": "n", "name": "REPLY", "use": "interrupt", "pin": "P7", "note": "m", "later": 6}]}}
})";

TEST(WireJson, AllOfItComesBack) {
    const auto d = dossier_from_json(whole, "d.json");
    ASSERT_TRUE(d) << d.error().message();
    EXPECT_EQ(d->wire->rails, "source A 5V\n\nload L A 3mA\n");
    const auto& s = *d->wire->find_setting("s");
    EXPECT_EQ(s.kind, SettingKind::selector);
    EXPECT_EQ(*s.now.value, 5.1);
    EXPECT_EQ(*s.now.uncertainty, 0.1);
    EXPECT_EQ(s.positions.front().volts, 5);
    EXPECT_EQ(d->wire->find_need("n")->use, PinUse::interrupt);
    EXPECT_EQ(d->wire->find_need("x"), nullptr);
    const auto& bill = d->timing->options.front().bill;
    EXPECT_EQ(bill.area, 0.0012);
    EXPECT_EQ(bill.sample, "ours");
    const auto text = dossier_to_json(*d);
    for (int i = 1; i <= 6; ++i)
        EXPECT_THAT(text, testing::HasSubstr("\"later\": " + std::to_string(i)))
            << "kept for a newer version";
    EXPECT_EQ(*dossier_from_json(text, "again.json"), *d);
}

TEST(WireJson, WhatIsWrongIsNamed) {
    const auto with = [](const std::string& wire) {
        return dossier_from_json(
            R"({"format": "gray-relic-dossier", "version": 2, "name": "J", "wire": )" + wire + "}", "d.json");
    };
    const std::pair<const char*, const char*> cases[] = {
        {R"({"settings": [{"id": "s", "kind": "lever"}]})", "trimmer"},
        {R"({"settings": [{"id": "s", "kind": "jumper", "least": 5, "most": 3}]})", "least"},
        {R"({"settings": [{"id": "s", "kind": "jumper", "want": 1e300}]})", "up to 1e15"},
        {R"({"settings": [{"id": "s", "kind": "jumper"}, {"id": "s", "kind": "jumper"}]})", "once"},
        {R"({"settings": [{"id": "s", "kind": "jumper", "positions": [{"name": "a"}]}]})", "volts"},
        {R"({"pins": {"needs": [{"id": "n", "use": "loud"}]}})", "interrupt"},
        {R"({"rails": "source A 5V"})", "list"},
    };
    for (const auto& [wire, expected] : cases) {
        const auto d = with(wire);
        ASSERT_FALSE(d) << wire;
        EXPECT_THAT(d.error().message(), testing::HasSubstr(expected)) << wire;
    }
}

}  // namespace
}  // namespace grayrelic
