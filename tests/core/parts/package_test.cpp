// SPDX-License-Identifier: GPL-3.0-or-later
// Packages: those that ship are whole, their pads where the outlines put them, broken files refused.
#include "core/parts/package.hpp"

#include <gmock/gmock.h>

#include <cmath>

#include "core/parts/part.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

const PackageLibrary& packages() {
    static const auto library = PackageLibrary::load(disk(), {test::source_folder() / "data"});
    return library;
}

TEST(Packages, EveryShippedOneHasItsPadsApart) {
    EXPECT_TRUE(packages().problems.empty()) << packages().problems.front().message();
    EXPECT_GE(packages().shapes.size(), 30U);
    for (const auto& shape : packages().shapes)
        for (const auto& size : shape.sizes) {
            SCOPED_TRACE(size.id);
            const auto pads = pads_of({&shape, size});
            ASSERT_EQ(static_cast<int>(pads.size()), size.pins + (shape.belly ? 1 : 0));
            for (std::size_t i = 0; i < pads.size(); ++i)
                for (std::size_t k = i + 1; k < pads.size(); ++k) {
                    const auto &a = pads[i], &b = pads[k];
                    const double gap_x = std::abs(a.x - b.x) - (a.length + b.length) / 2;
                    const double gap_y = std::abs(a.y - b.y) - (a.width + b.width) / 2;
                    EXPECT_GT(std::max(gap_x, gap_y), 0.05) << a.number << " and " << b.number;
                }
            EXPECT_EQ(packages().find(size.id)->size, size);
            if (shape.hole > 0) {
                EXPECT_GT(std::min(shape.pad_length, shape.pad_width), shape.hole);
            }
        }
}

TEST(Packages, PadsLieAsThePublishedOutlinesSay) {
    // A 16-pin dual in-line: 2.54 mm apart, rows 7.62 mm; 1 upper left, 8 lower left, 9 lower right, 16 upper
    // right.
    const auto dip = pads_of(*packages().find("dip-16"));
    EXPECT_DOUBLE_EQ(dip[0].x, -3.81);
    EXPECT_DOUBLE_EQ(dip[0].y, -3.5 * 2.54);
    EXPECT_DOUBLE_EQ(dip[7].y, 3.5 * 2.54);
    EXPECT_DOUBLE_EQ(dip[8].x, 3.81);
    EXPECT_DOUBLE_EQ(dip[8].y, 3.5 * 2.54);
    EXPECT_DOUBLE_EQ(dip[15].y, -3.5 * 2.54);
    EXPECT_DOUBLE_EQ(packages().find("dip-28-15.24")->size.row, 15.24);
    EXPECT_DOUBLE_EQ(packages().find("dip-20-10.16")->size.row, 10.16);
    EXPECT_DOUBLE_EQ(packages().find("axial-15.24")->size.row, 15.24);
    // Four sides, counter-clockwise from the upper left: 1 left, 9 below, 17 right, 25 above.
    const auto qfn = pads_of(*packages().find("qfn-32"));
    EXPECT_LT(qfn[0].x, 0);
    EXPECT_LT(qfn[0].y, 0);
    EXPECT_GT(qfn[8].y, std::abs(qfn[8].x) - 1e-9);
    EXPECT_GT(qfn[16].x, 0);
    EXPECT_LT(qfn[24].y, 0);
    EXPECT_TRUE(qfn.back().belly);
    // Odd numbers in one row, even ones in the other.
    const auto header = pads_of(*packages().find("header-2x5"));
    EXPECT_DOUBLE_EQ(header[1].x - header[0].x, 2.54);
    EXPECT_DOUBLE_EQ(header[2].y - header[0].y, 2.54);
    for (const char* bad :
         {"", "dip", "dip-7", "dip-16-", "dip-16-x", "axial--3", "axial-9999", "qfn-9", "dip-16-0.1"})
        EXPECT_FALSE(packages().find(bad)) << bad;
}

/// Where both the parts' reader and the data place a package's pins, they agree but for the middle.
TEST(Packages, DataAndPlacedShapesAgree) {
    for (const char* name : {"dip-14", "dip-16", "dip-20", "dip-28-15.24", "soic-14", "soic-16", "sip-9"}) {
        const auto placed = package_pins(name).value();
        const auto pads = pads_of(*packages().find(name));
        ASSERT_EQ(placed.size(), pads.size()) << name;
        const bool row = std::string(name).starts_with("sip");
        for (std::size_t i = 1; i < pads.size(); ++i) {
            const double x = pads[i].x - pads[0].x, y = pads[i].y - pads[0].y;
            EXPECT_NEAR(placed[i].x_mm - placed[0].x_mm, row ? y : x, 1e-9) << name << " " << i;
            EXPECT_NEAR(placed[i].y_mm - placed[0].y_mm, row ? x : y, 1e-9) << name << " " << i;
        }
    }
}

TEST(Packages, BrokenFilesAreRefused) {
    const auto broken = [](const std::string& change) {
        const auto p = package_from_json(
            R"({"id":"x","name":"x","source":"s","mount":"hole","form":"two-rows","pitch_mm":2.54,"height_mm":5,"pad_mm":{"length":1.6,"width":1.6},"hole_mm":0.8,"pin_1":"notch","solder":"easy","bench":"dip")" +
                change + "}",
            "x.json");
        return p ? std::string() : p.error().message();
    };
    EXPECT_EQ(broken(R"(,"sizes":[{"id":"x-8","pins":8,"length_mm":9,"width_mm":6,"row_mm":7.62}])"), "");
    EXPECT_THAT(broken(""), testing::HasSubstr("sizes"));
    EXPECT_THAT(broken(R"(,"sizes":[])"), testing::HasSubstr("at least one size"));
    EXPECT_THAT(broken(R"(,"sizes":[{"id":"x-8","pins":0,"length_mm":9,"width_mm":6,"row_mm":7.62}])"),
                testing::HasSubstr("1 to 400"));
    EXPECT_THAT(broken(R"(,"sizes":[{"id":"x-8","pins":8,"length_mm":1e9,"width_mm":6,"row_mm":7.62}])"),
                testing::HasSubstr("500 mm"));
    EXPECT_FALSE(package_from_json("", "x.json"));
    EXPECT_FALSE(package_from_json(R"({"id":"x","mount":"glue"})", "x.json"));
}

}  // namespace
}  // namespace grayrelic
