// SPDX-License-Identifier: GPL-3.0-or-later
// The display list as SVG, and the figures that are made of it.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <random>

#include "core/base/palette.hpp"
#include "core/base/text.hpp"
#include "core/library/data_library.hpp"
#include "core/report/connector_figure.hpp"
#include "core/report/histogram_figure.hpp"
#include "core/report/wave_figure.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;
using testing::Not;

TEST(DrawingList, EachKindOfShapeComesOut) {
    Drawing d;
    d.width = 100;
    d.height = 50;
    d.areas.push_back({{{{0, 0}, {10, 0}, {10, 10}}}, Ink::relic, 0.5, Ink::stop, 2, true});
    d.fills.push_back({{{1, 2, 3, 4}, {5, 6, 7, 8}}, Ink::bridge, 1.0});
    d.strokes.push_back({{{0, 0}, {5, 5}}, Ink::doubt, 1.5, true});
    d.circles.push_back({20, 20, 5, Ink::holds, true});
    d.images.push_back({{0, 0, 8, 8}, "Man"});
    d.texts.push_back(
        {50, 40, "over <a wave>", Ink::ink, Drawing::Anchor::middle, 12, false, false, false, true});
    const auto svg = drawing_svg(d, "t & u");
    EXPECT_THAT(svg, HasSubstr("M1 2h3v4h-3zM5 6h7v8h-7z"));
    EXPECT_THAT(svg, HasSubstr("fill-opacity=\"0.5\""));
    EXPECT_THAT(svg, HasSubstr("stroke-dasharray=\"3 3\""));
    EXPECT_THAT(svg, HasSubstr("base64,TWFu\""));  // RFC 4648: "Man" is TWFu
    EXPECT_THAT(svg, HasSubstr("over &lt;a wave&gt;"));
    EXPECT_THAT(svg, HasSubstr("t &amp; u"));
    EXPECT_THAT(drawing_figure(d, "t", false).finish(), Not(HasSubstr("width=\"100\" height=\"50\" fill")));
}

TEST(DrawingList, Base64IsThatOfTheStandard) {
    // RFC 4648, section 10
    EXPECT_EQ(to_base64(""), "");
    EXPECT_EQ(to_base64("f"), "Zg==");
    EXPECT_EQ(to_base64("fo"), "Zm8=");
    EXPECT_EQ(to_base64("foo"), "Zm9v");
    EXPECT_EQ(to_base64("foob"), "Zm9vYg==");
    EXPECT_EQ(to_base64("fooba"), "Zm9vYmE=");
    EXPECT_EQ(to_base64("foobar"), "Zm9vYmFy");
    EXPECT_EQ(to_base64("\xff\xfe\xfd"), "//79");
}

TEST(ThePalette, TokensBecomeTheDaysColoursAndThoseTheNights) {
    EXPECT_EQ(in_colours("a{color:@ink2;background:@sheet;border:@ink}"),
              "a{color:#50555B;background:#FAF9F5;border:#22262A}");
    EXPECT_EQ(in_colours("@media print, me@home"), "@media print, me@home");
    EXPECT_EQ(at_night("fill=\"#7A4B2A\" id=\"#7A4B2\""), "fill=\"#D39B6C\" id=\"#7A4B2\"");
}

/// By asking the line at the middle of every dot.
TEST(WaveShapes, ShowTheLevelThatTheLineHas) {
    for (unsigned seed = 1; seed <= 60; ++seed) {
        std::mt19937 chance(seed);
        std::vector<Time> edges;
        Time t{};
        const int n = static_cast<int>(chance() % 30);
        for (int i = 0; i < n; ++i) edges.push_back(t += Time::ns(20 + static_cast<int>(chance() % 400)));
        const DigitalWaveform wave(chance() % 2 == 0, edges);
        const Span window{Time::ns(static_cast<int>(chance() % 200)), Time::ns(3000)};
        const int width = 400, height = 20;
        const auto shape = wave_shape(wave, window, width, height);
        const auto covered = [&](int x, int y) {
            return std::any_of(shape.lines.begin(), shape.lines.end(), [&](const WaveRect& r) {
                return x >= r.x && x < r.x + r.w && y >= r.y && y < r.y + r.h;
            });
        };
        const double dot = static_cast<double>(window.length().count()) / width;
        for (int x = 2; x < width - 2; ++x) {
            const auto from = window.from + Time::ps(static_cast<std::int64_t>(dot * (x - 1)));
            const auto to = window.from + Time::ps(static_cast<std::int64_t>(dot * (x + 2)));
            if (wave.edges_before(from) != wave.edges_before(to)) continue;  // an edge about here
            const bool high = wave.level_before(to);
            EXPECT_TRUE(covered(x, high ? 0 : height)) << seed << " " << x;
            EXPECT_FALSE(covered(x, high ? height : 0)) << seed << " " << x;
        }
    }
}

TEST(WaveShapes, DoNotGrowWithTheEdgesAndShowWhatIsUnknown) {
    std::vector<Time> edges;
    for (int i = 1; i <= 100'000; ++i) edges.push_back(Time::ns(i * 10));
    const DigitalWaveform busy(false, edges, {{Time::ns(250'000), Time::ns(500'000)}});
    const auto shape = wave_shape(busy, {Time{}, Time::ns(1'000'000)}, 400, 20);
    EXPECT_LT(shape.lines.size() + shape.bands.size(), 20U);
    ASSERT_EQ(shape.unknown.size(), 1U);
    EXPECT_EQ(shape.unknown[0].x, 100);  // a quarter of 400
    EXPECT_EQ(shape.unknown[0].w, 100);
    EXPECT_TRUE(wave_shape(busy, {Time::ns(5), Time::ns(5)}, 400, 20).lines.empty());
}

TEST(HistogramCharts, BarsStandOnTheAxisWhereTheirValuesLie) {
    const auto chart =
        histogram_chart(spread_of(std::vector{1e-6, 1e-6, 4e-6}), HistogramMark{5e-6, "look"}, 0, 400, 200);
    const auto one = chart.bar(chart.histogram.bar_of(1e-6)), four = chart.bar(chart.histogram.bar_of(4e-6));
    EXPECT_LE(one.x, chart.x_of(1e-6) + 0.01);
    EXPECT_GE(one.x + one.w + 1.01, chart.x_of(1e-6));
    EXPECT_NEAR(one.h, 2 * four.h, 0.01);  // two values and one
    EXPECT_EQ(chart.bar_at(one.x + one.w / 2), chart.histogram.bar_of(1e-6));
    EXPECT_FALSE(chart.bar_at(chart.x_of(5.05e-6)));
    EXPECT_GT(chart.x_of(5e-6), four.x);
}

TEST(Faces, EachContactCanBeClickedAndStandsWhereItIsSeen) {
    const auto data = DataLibrary::load(disk(), {test::source_folder() / "data"});
    const auto nine = data->connectors.find("dsub-9");
    ASSERT_TRUE(nine);
    Port port;
    port.id = "J1";
    port.connector = "dsub-9";
    FaceStyle style;
    style.chosen = "3";
    const auto seen = face_drawing(port, *nine, Viewpoint::into_socket, style);
    const auto back = face_drawing(port, *nine, Viewpoint::into_plug, style);
    ASSERT_EQ(seen.places.size(), 9U);
    const auto middle = [](const Drawing& d, const char* id) {
        for (const auto& p : d.places)
            if (p.id == id) return std::pair(p.x + p.w / 2, p.y + p.h / 2);
        return std::pair(0.0, 0.0);
    };
    // Looking into the socket contact 1 is upper right (IEC 60807), into the plug upper left.
    EXPECT_GT(middle(seen, "1").first, middle(seen, "5").first);
    EXPECT_LT(middle(seen, "1").second, middle(seen, "6").second);
    EXPECT_LT(middle(back, "1").first, middle(back, "5").first);
    EXPECT_NEAR(middle(seen, "1").first + middle(back, "1").first, style.width, 0.01);
    const auto face = fit_face(*nine, Viewpoint::into_socket, face_area(style));
    const auto [x, y] = middle(seen, "4");
    EXPECT_EQ(face.contact_at(x + 1, y - 1), nine->contact_numbered("4"));
    EXPECT_FALSE(face.contact_at(-500, -500));
}

}  // namespace
}  // namespace grayrelic
