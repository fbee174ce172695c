// SPDX-License-Identifier: GPL-3.0-or-later
// Ways to build side by side: what is computed and by which rule; FPGA as a kind of option.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "core/dossier/edits.hpp"
#include "core/job/schools.hpp"
#include "core/timing/reply.hpp"
#include "core/timing/reply_option.hpp"
#include "core/wire/bill.hpp"
#include "tests/core/wire/wire_helpers.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;

/// Two options with circuits and prices, one without.
Analysis two_options() {
    auto d = test::relic_port();
    const auto option = [&](const char* id, const char* text) {
        LogicNetwork n;
        n.id = std::string("net-") + id;
        n.text = text;
        BuildOption o;
        o.id = o.name = id;
        o.kind = OptionKind::network;
        o.network = n.id;
        d = put(put(d, std::move(n)), std::move(o));
    };
    option("chip", "U1 74x04 hct: 1A=OUT 1Y=IN\nF1 fuse: 1=A 2=B\n");
    option("surface", "U1 74x04 hct package=soic-14: 1A=OUT 1Y=IN\n");
    auto fpga = usual_option(OptionKind::fpga, "fpga");
    fpga.bill.hours = 20;
    fpga = with_usual(std::move(fpga), "banks");
    d = put(d, fpga);
    Analysis a;
    a.dossier = d;
    a.data = std::make_shared<const DataLibrary>(test::wire_data());
    a.person = std::make_shared<const Person>();
    a.wire = std::make_shared<const WireAnalysis>(
        analyse_wire(d,
                     {std::shared_ptr<const LogicLibrary>(&test::wire_data().logic, [](const auto*) {}),
                      &test::wire_data().families, &test::wire_data().packages, &test::wire_data().parts},
                     Person{}));
    return a;
}

const SchoolRow& row(const SchoolTable& t, const std::string& name) {
    static const SchoolRow none;
    for (const auto& r : t.rows)
        if (r.name == name) return r;
    ADD_FAILURE() << "no row " << name;
    return none;
}

TEST(Schools, OptionsByWhatMatters) {
    const auto t = compare_options(two_options());
    ASSERT_EQ(t.ids, (std::vector<std::string>{"chip", "surface", "fpga"}));
    for (const auto& r : t.rows) {
        EXPECT_EQ(r.cells.size(), 3U);
        EXPECT_FALSE(r.rule.empty() && r.name != "When it breaks") << r.name;
    }
    // dip-14: 19.3 × 6.4 mm body, rows 7.62 mm apart; the surface one is smaller, whatever the shapes' own
    // sizes.
    const auto& area = row(t, "Board area");
    ASSERT_TRUE(area.cells[0].figure && area.cells[1].figure);
    EXPECT_LT(*area.cells[1].figure, *area.cells[0].figure);
    EXPECT_TRUE(area.cells[1].best);
    EXPECT_FALSE(area.cells[0].best);
    EXPECT_THAT(row(t, "Will need replacing").cells[0].text, HasSubstr("socket"));
    EXPECT_THAT(row(t, "Will need replacing").cells[0].text, HasSubstr("F1 ages"));
    EXPECT_THAT(row(t, "Will need replacing").cells[1].text, HasSubstr("soldered"));
    EXPECT_EQ(row(t, "Hours").cells[2].text, "20 h");
    EXPECT_FALSE(row(t, "Hours").cells[2].best);  // nobody else says
    EXPECT_EQ(row(t, "FPGA banks").cells[2].text, "1");
    EXPECT_EQ(row(t, "FPGA banks").cells[0].text, "");
}

TEST(Schools, AreaByHand) {
    const auto p = test::wire_data().packages.find("soic-14");
    ASSERT_TRUE(p);
    const double across = std::max(p->size.width, p->size.row + p->shape->pad_length);
    EXPECT_NEAR(area_of_package(*p), (p->size.length + 2) * (across + 2) * 1e-6, 1e-12);
}

TEST(Schools, RegulatorsTheOtherWay) {
    auto a = two_options();
    auto w = *a.wire;
    w.rails = study_rails(*rails_from_text(
        "source A 12V\nlinear U A -> V 5V dropout 1.5V theta 60 max 1A\nload L V 400mA\n", "t"));
    a.wire = std::make_shared<const WireAnalysis>(std::move(w));
    const auto c = compare_regulators(a);
    ASSERT_EQ(c.size(), 1U);
    // (12 − 5) · 0.4 = 2.8 W: 25 + 168 °C. Switching: 5 · 0.4 · (1/0.85 − 1) = 0.3529 W, 0.1961 A in.
    EXPECT_NEAR(c[0].linear.loss_w, 2.8, 1e-6);
    EXPECT_EQ(c[0].linear.verdict, Verdict::stop);
    EXPECT_NEAR(c[0].switching.loss_w, 2 * (1 / 0.85 - 1), 1e-6);
    EXPECT_NEAR(c[0].switching.in_a, 2 / (0.85 * 12), 1e-6);
    EXPECT_THAT(c[0].says, HasSubstr("would not do"));
}

TEST(Fpga, ItsReplyIsASynchroniserAndCycles) {
    // 50 MHz: 20 ns. Two flip-flops and three cycles: 4 to 5 periods, and 10 ns of pads.
    const auto o = parse_option("fpga:clock=50MHz,stages=2,cycles=3,pads=10ns");
    ASSERT_TRUE(o) << o.error().message();
    const auto m = model_of(*o);
    ASSERT_TRUE(m);
    EXPECT_EQ(m->latency_min, Time::ns(80));
    EXPECT_EQ(m->latency_max, Time::ns(100));
    EXPECT_EQ(m->write, Time::ns(10));
    EXPECT_FALSE(parse_option("fpga:clock=0Hz,stages=2,cycles=3"));
    EXPECT_FALSE(parse_option("fpga:clock=50MHz,stages=0,cycles=3"));
    EXPECT_FALSE(parse_option("fpga:clock=50MHz,sync=2..3,cycles=3"));
    EXPECT_FALSE(parse_option("pio:clock=50MHz,stages=2,cycles=3"));
}

}  // namespace
}  // namespace grayrelic
