// SPDX-License-Identifier: GPL-3.0-or-later
// What does not fit, found in a dossier; parts below a lid; how it stands in dossier.json; its pictures.
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "core/checks/analyse.hpp"
#include "core/dossier/dossier_json.hpp"
#include "core/dossier/edits.hpp"
#include "core/fit/fit_analysis.hpp"
#include "core/library/data_library.hpp"
#include "core/report/fit_figure.hpp"
#include "core/report/paper_template.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::Contains;
using testing::HasSubstr;
using testing::Not;

std::shared_ptr<const DataLibrary> fit_data() {
    static const auto data = DataLibrary::load(disk(), {test::source_folder() / "data"});
    return data;
}

std::multiset<std::string> fit_findings(const Dossier& d) {
    CaptureStore store;
    Progress progress;
    const auto a = *analyse(d, {}, store, progress, nullptr, fit_data());
    std::multiset<std::string> out;
    for (const auto& f : a->findings)
        if (f.stage == Stage::board) out.insert(fmt::format("{} {}", word(f.severity), f.id));
    return out;
}

FitItem height(const char* what, FitRole role, std::optional<double> mm, double tolerance,
               EvidenceKind kind = EvidenceKind::measured) {
    FitItem i;
    i.what = what;
    i.role = role;
    i.mm.value = mm;
    i.mm.uncertainty = tolerance;
    i.mm.evidence.kind = kind;
    return i;
}

Fabrication board_with(std::vector<FitItem> items) {
    Fabrication f;
    f.id = "main";
    f.fits.push_back({"lid", "Below the lid", FitKind::room, std::move(items), {}});
    return f;
}

Dossier named_dossier() {
    const Dossier d;
    auto about = *d.about;
    about.name = "named";
    return put(d, about);
}

TEST(FitChecks, ABoardWithoutFilesIsJudgedByItsHeights) {
    const auto lid = height("lid", FitRole::gives, 12, 0.3);
    const auto finds = [&](const FitItem& module) {
        return fit_findings(put(Dossier{}, board_with({lid, module})));
    };
    EXPECT_TRUE(finds(height("module", FitRole::takes, 9, 0.5)).empty());
    EXPECT_THAT(finds(height("module", FitRole::takes, 11.5, 0.5)),
                testing::ElementsAre("doubt fits-barely"));
    EXPECT_THAT(finds(height("module", FitRole::takes, 12.5, 0.5)),
                testing::ElementsAre("stop does-not-fit"));
    // Where all adds up, what nobody measured is a doubt all the same.
    EXPECT_THAT(finds(height("module", FitRole::takes, 9, 0.5, EvidenceKind::assumed)),
                testing::ElementsAre("doubt fit-assumed"));
    // What does not fit even as assumed is one finding, not two.
    EXPECT_THAT(finds(height("module", FitRole::takes, 13, 0.5, EvidenceKind::assumed)),
                testing::ElementsAre("stop does-not-fit"));
    EXPECT_THAT(finds(height("module", FitRole::takes, std::nullopt, 0)),
                testing::ElementsAre("note fit-unknown"));
}

TEST(FitChecks, TiersThatNeverGiveEnoughAreSaid) {
    Fabrication f;
    f.id = "main";
    f.order.want = 5;
    f.order.yield = 0.5;
    f.order.tiers = {{5, 9, 4, {}}};  // five of five at one half: 1 in 32
    EXPECT_THAT(fit_findings(put(Dossier{}, f)), testing::ElementsAre("doubt order-too-few"));
    f.order.tiers.push_back({20, 20, 4, {}});
    EXPECT_TRUE(fit_findings(put(Dossier{}, f)).empty());
}

TEST(FitZones, WithoutNamedPadsNothingIsSaidToFit) {
    Fabrication f;
    f.id = "main";
    f.zones = {{"the slider", 0, 0, 20, 20, false, {}, 5.0, {}}};
    EXPECT_THAT(fit_findings(put(Dossier{}, f)), testing::ElementsAre("note fit-unknown"));
}

TEST(FitZones, PartsAreHeldAgainstTheRoomAboveThem) {
    Fabrication f;
    f.id = "main";
    f.zones = {{"the slider", 0, 0, 20, 20, false, {}, 5.0, {}},
               {"the battery", 50, 0, 20, 20, true, "gap", {}, {}}};
    FabricationAnalysis a;
    const auto pad = [&](const char* ref, double x, double y, PadSide side) {
        a.pads.push_back({ref, "1", {from_mm(x), from_mm(y)}, side});
        a.pads.push_back({ref, "2", {from_mm(x + 2), from_mm(y)}, side});
    };
    pad("U1", 5, 5, PadSide::both);     // below the slider
    pad("U2", 30, 5, PadSide::both);    // beside it
    pad("U3", 5, 10, PadSide::bottom);  // on the other side of the board
    pad("C1", 55, 5, PadSide::bottom);  // over the battery
    pad("X1", 12, 12, PadSide::top);    // nobody knows what it is
    Dimension gap;
    gap.id = "gap";
    gap.mm.value = 2.0;
    gap.mm.uncertainty = 0.3;
    const std::map<std::string, std::string> packages{
        {"U1", "dip-16"}, {"U2", "dip-16"}, {"U3", "dip-16"}, {"C1", "chip-0805"}};
    const auto found = zone_parts(f, &a, {gap}, packages, fit_data()->packages);
    const double dip = fit_data()->packages.find("dip-16")->shape->height;
    std::map<std::string, ZonePart> by_ref;
    for (const auto& p : found) by_ref[p.ref] = p;
    ASSERT_EQ(by_ref.size(), 3U);
    EXPECT_EQ(by_ref["U1"].verdict, dip > 5.0 ? Verdict::stop : dip > 4.5 ? Verdict::doubt : Verdict::holds);
    EXPECT_EQ(by_ref["X1"].verdict, Verdict::unknown);
    ASSERT_TRUE(by_ref["C1"].most_mm);
    EXPECT_DOUBLE_EQ(*by_ref["C1"].most_mm, 1.7);  // as little as there can be
    f.zones[0].most = dip - 0.1;
    EXPECT_EQ(zone_parts(f, &a, {gap}, packages, fit_data()->packages)[0].verdict, Verdict::stop);
    f.zones[0].most = dip + 0.1;
    EXPECT_EQ(zone_parts(f, &a, {gap}, packages, fit_data()->packages)[0].verdict, Verdict::doubt);
    f.zones[0].most = dip + 2;
    EXPECT_EQ(zone_parts(f, &a, {gap}, packages, fit_data()->packages)[0].verdict, Verdict::holds);
    EXPECT_TRUE(zone_parts(f, nullptr, {gap}, packages, fit_data()->packages).empty());
}

TEST(FitsInADossier, AreWrittenAndReadAgain) {
    auto f = board_with(
        {height("lid", FitRole::gives, 12, 0.3), height("module", FitRole::takes, std::nullopt, 0)});
    f.fits[0].items[1].dimension = "module";
    f.fits[0].items[1].plus = 0.2;
    f.fits.push_back({"key", "", FitKind::button, {height("t", FitRole::travel, 1.2, 0.1)}, {}});
    f.zones = {{"lid's rib", 1, 2, 3, 4, true, {}, 5.5, {}}};
    f.order = {3, 0.8, 0.25, {{5, 9, 4, {}}, {10, 14, 0, {}}}, {}};
    f.order.tiers[1].width_mm = 100;
    f.order.tiers[1].height_mm = 80.5;
    OrderExtra slots;
    slots.what = "slots";
    slots.price = 12;
    slots.each = 0.5;
    slots.rule = "hole";
    slots.below_mm = 0.3;
    f.order.extras = {slots};
    f.order.obsolete = {{"old boards", 5, 3.2, {}}};
    f.fits.push_back({"jack", "", FitKind::opening, {height("jack", FitRole::takes, 9, 0.1)}, {}});
    f.fits.back().items[0].place = "J1.x";
    f.outlines = {{"case", "Case", "outlines/case.svg", {}, 2.5, 3, 90, {}},
                  {"panel", "", {}, {}, {}, {}, {}, {}}};
    f.thick_mm = 0.8;
    BoardVariant mixer;
    mixer.name = "mixer";
    mixer.omit = {"R5", "C3"};
    mixer.only = {"U1"};
    mixer.jumpers = {{"JP1", "1-2"}};
    f.variants = {mixer};
    f.connectors.push_back({});
    f.connectors[0].ref = "J1";
    f.connectors[0].mates = "upper/J2";
    const auto d = put(named_dossier(), f);
    const auto again = dossier_from_json(dossier_to_json(d), "d.json");
    ASSERT_TRUE(again) << again.error().message();
    EXPECT_EQ(*again->boards, *d.boards);
}

TEST(FitsInADossier, BadOnesSayWhere) {
    const auto with = [](const std::string& members) {
        const auto text =
            dossier_to_json(put(named_dossier(), board_with({height("lid", FitRole::gives, 12, 0.3)})));
        const auto at = text.find("\"fits\"");
        return dossier_from_json(text.substr(0, at) + members + ",\n" + text.substr(at), "d.json");
    };
    const auto fine = with("\"note\": \"n\"");
    ASSERT_TRUE(fine) << fine.error().message();
    for (const auto& [members, want] : std::vector<std::pair<std::string, std::string>>{
             {"\"order\": {\"tiers\": [{\"quantity\": 10, \"price\": 1}, {\"quantity\": 5, \"price\": 1}]}",
              "rising quantities"},
             {"\"order\": {\"tiers\": [{\"quantity\": 0, \"price\": 1}]}", "d.json:"},
             {"\"order\": {\"yield\": 0}", "d.json:"},
             {"\"order\": {\"respin\": 2}", "d.json:"},
             {"\"zones\": [{\"name\": \"z\", \"x_mm\": 1, \"y_mm\": 1, \"width_mm\": -1, \"height_mm\": 1}]",
              "d.json:"},
             {"\"zones\": [{\"name\": \"z\"}]", "x_mm"}}) {
        const auto d = with(members);
        ASSERT_FALSE(d) << members;
        EXPECT_THAT(d.error().message(), HasSubstr(want)) << members;
    }
}

TEST(FitFigures, AreToOneScale) {
    FitCase c;
    c.items = {height("lid", FitRole::gives, 20, 0), height("post", FitRole::takes, 5, 0),
               height("module", FitRole::takes, 10, 0)};
    const auto d = draw_fit(fit_of(c, {}), 500, 400);
    std::map<std::string, double> high;
    for (const auto& p : d.places) high[p.id] = p.h;
    EXPECT_NEAR(high["0"], 2 * high["2"], 0.01);  // 20 and 10 mm
    EXPECT_NEAR(high["2"], 2 * high["1"], 0.01);
    const auto svg = drawing_svg(d, "t");
    EXPECT_THAT(svg, HasSubstr("5.00 mm"));  // left
    for (const auto& t : d.texts) {
        const double w = text_width(t.text, t.size, t.figure);
        const double x = t.anchor == Drawing::Anchor::end      ? t.x - w
                         : t.anchor == Drawing::Anchor::middle ? t.x - w / 2
                                                               : t.x;
        EXPECT_GE(x, -1) << t.text;
        EXPECT_LE(x + w, d.width + 1) << t.text;
    }
    EXPECT_TRUE(draw_fit({}, 300, 200).areas.empty());
}

TEST(FitFigures, LongNamesAreCutAndStayOnTheSheet) {
    FitCase c;
    const std::string longest(70, 'w');
    c.items = {height(longest.c_str(), FitRole::gives, 20, 0.5),
               height(longest.c_str(), FitRole::takes, 18, 0.5)};
    for (const double width : {240.0, 360.0, 500.0, 900.0})
        for (const auto& t : draw_fit(fit_of(c, {}), width, 300).texts) {
            const double w = text_width(t.text, t.size, t.figure);
            const double x = t.anchor == Drawing::Anchor::end      ? t.x - w
                             : t.anchor == Drawing::Anchor::middle ? t.x - w / 2
                                                                   : t.x;
            EXPECT_GE(x, -8) << width << t.text;
            EXPECT_LE(x + w, width + 8) << width << t.text;
        }
}

TEST(Templates, RefuseWhatGoesOnNoPaper) {
    ReadBoard none;
    EXPECT_FALSE(paper_template(none, {}));
    ReadBoard large;
    large.outline.outer = {{0, 0}, {from_mm(400), 0}, {from_mm(400), from_mm(400)}, {0, from_mm(400)}};
    const auto refused = paper_template(large, {});
    ASSERT_FALSE(refused);
    EXPECT_THAT(refused.error().message(), HasSubstr("400 × 400 mm"));
    ReadBoard wide;
    wide.outline.outer = {{0, 0}, {from_mm(250), 0}, {from_mm(250), from_mm(100)}, {0, from_mm(100)}};
    const auto card = paper_template(wide, {});
    ASSERT_TRUE(card);
    EXPECT_EQ(card->width_mm, 297);  // lies across
    EXPECT_EQ(card->height_mm, 210);
}

}  // namespace
}  // namespace grayrelic
