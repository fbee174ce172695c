// SPDX-License-Identifier: GPL-3.0-or-later
// A board of 160 × 100 mm with 20,000 objects: read, netted and drawn, against joining and filling the same
// outlines by the libraries alone; drawing at three zooms; what a moved fact costs.
#include <benchmark/benchmark.h>
#include <fmt/format.h>

#include <random>

#ifdef GRAY_RELIC_BENCH_APP
#include <QImage>
#include <QPainter>
#include <QPainterPath>

#include "app/stages/board/fab_picture.hpp"
#endif
#include <polyclipping/clipper.hpp>

#include "core/board/board_pads.hpp"

namespace {

using namespace grayrelic;

/// Pads on a grid of 1.27 mm, and as many tracks between neighbours; a pour with clearances on the back.
const PackedFolder& large_board() {
    static const auto made = [] {
        std::mt19937 chance(3);
        const auto xy = [](double x, double y) {
            return fmt::format("X{}Y{}", std::lround(x * 1e6), std::lround(y * 1e6));
        };
        const std::string head =
            "%FSLAX36Y36*%\n%MOMM*%\nG01*\n%ADD10C,0.8*%\n%ADD11C,0.25*%\n%ADD12C,1.2*%\n";
        std::string top = head, bottom = head, drill = "M48\nMETRIC\nT1C0.4\n%\nT1\n";
        bottom +=
            "G36*\nX1000000Y1000000D02*\nX159000000D01*\nY99000000D01*\nX1000000D01*\nY1000000D01*\nG37*\n%"
            "LPC*%\nD12*\n";
        std::vector<std::pair<double, double>> pads;
        for (int r = 0; r < 76; ++r)
            for (int c = 0; c < 124; ++c) pads.emplace_back(1.5 + 1.27 * c, 1.5 + 1.27 * r);
        for (const auto& [x, y] : pads)
            if (chance() % 10 == 0) bottom += xy(x, y) + "D03*\n";
        bottom += "%LPD*%\nM02*\n";
        top += "D10*\n";
        for (const auto& [x, y] : pads) top += xy(x, y) + "D03*\n";
        // Runs of six pads in a row, some of them with a second track beside the first.
        top += "D11*\n";
        for (std::size_t i = 0; i + 1 < pads.size(); ++i) {
            if (i % 6 == 5 || i % 124 == 123) continue;
            const auto& [x, y] = pads[i];
            for (int k = 0; k < (chance() % 3 == 0 ? 2 : 1); ++k)
                top += xy(x, y + 0.05 * k) + "D02*\n" + xy(x + 1.27, y + 0.05 * k) + "D01*\n";
        }
        for (std::size_t i = 0; i < pads.size(); i += 12)
            drill += fmt::format("X{:.3f}Y{:.3f}\n", pads[i].first, pads[i].second);
        PackedFolder out;
        out.files = {{"copper-bottom.gbr", bottom},
                     {"copper-top.gbr", top + "M02*\n"},
                     {"holes.drl", drill + "M30\n"}};
        return out;
    }();
    return made;
}

std::shared_ptr<const BoardCopper> joined_board() {
    Progress progress;
    static const auto copper = *copper_of(board_of(large_board(), "large", progress), progress);
    return copper;
}

#ifdef GRAY_RELIC_BENCH_APP
std::shared_ptr<const app::FabView> board_view(double scale) {
    static const auto made = [] {
        Progress progress;
        ReadBoard r;
        r.files = board_of(large_board(), "large", progress);
        r.copper = joined_board();
        FabricationAnalysis a;
        a.read = std::make_shared<const ReadBoard>(std::move(r));
        a.net_names.resize(static_cast<std::size_t>(a.read->copper->nets));
        return std::make_shared<const FabricationAnalysis>(std::move(a));
    }();
    app::FabView v;
    v.board = made;
    v.drivers = std::make_shared<const std::vector<Driver>>();
    v.scale = scale;
    v.origin = QPointF(-80 * scale + 400, 50 * scale + 300);
    v.size = QSize(800, 600);
    return std::make_shared<const app::FabView>(v);
}

/// With the ratio of the two as a counter.
void read_netted_drawn(benchmark::State& state) {
    double ours = 0, theirs = 0;
    const auto seconds = [](auto&& what) {
        const auto begin = std::chrono::steady_clock::now();
        what();
        return std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
    };
    for (auto _ : state) {
        Progress progress;
        BoardFiles files;
        ours += seconds([&] {
            files = board_of(large_board(), "large", progress);
            benchmark::DoNotOptimize(copper_of(files, progress));
            benchmark::DoNotOptimize(app::paint_fabrication(*board_view(4.5), app::theme(), progress));
        });
        theirs += seconds([&] {
            for (const auto* f : files.coppers()) {
                ClipperLib::Clipper dark;
                for (const auto& o : f->layer->objects)
                    for (const auto& ring : f->layer->shape(o)) {
                        ClipperLib::Path path;
                        for (const auto p : ring) path.emplace_back(p.x, p.y);
                        dark.AddPath(path, o.dark ? ClipperLib::ptSubject : ClipperLib::ptClip, true);
                    }
                ClipperLib::PolyTree tree;
                dark.Execute(ClipperLib::ctDifference, tree, ClipperLib::pftNonZero, ClipperLib::pftNonZero);
                QImage image(800, 600, QImage::Format_RGB32);
                QPainter painter(&image);
                painter.setRenderHint(QPainter::Antialiasing);
                for (const auto* node = tree.GetFirst(); node != nullptr; node = node->GetNext()) {
                    if (node->IsHole()) continue;
                    QPainterPath path;
                    path.setFillRule(Qt::OddEvenFill);
                    const auto add = [&](const ClipperLib::Path& ring) {
                        QPolygonF polygon;
                        for (const auto& p : ring)
                            polygon << QPointF(static_cast<double>(p.X) * 4.5e-6,
                                               static_cast<double>(p.Y) * 4.5e-6);
                        path.addPolygon(polygon);
                    };
                    add(node->Contour);
                    for (const auto* hole : node->Childs) add(hole->Contour);
                    painter.fillPath(path, Qt::black);
                }
            }
        });
    }
    state.counters["ratio"] = ours / theirs;
    state.counters["ours_s"] = ours / static_cast<double>(state.iterations());
}
BENCHMARK(read_netted_drawn)->Unit(benchmark::kMillisecond)->Iterations(3);

void draw_board_at(benchmark::State& state) {
    const auto view = board_view(static_cast<double>(state.range(0)));
    Progress progress;
    for (auto _ : state) benchmark::DoNotOptimize(app::paint_fabrication(*view, app::theme(), progress));
}
BENCHMARK(draw_board_at)->Arg(5)->Arg(20)->Arg(200)->Unit(benchmark::kMillisecond);
#endif

void compare_again(benchmark::State& state) {
    const auto copper = joined_board();
    BoardPads pads;
    for (int i = 0; i < 2000; ++i)
        pads.push_back({fmt::format("U{}", i / 40),
                        fmt::format("{}", i % 40),
                        {from_mm(1.5 + 1.27 * (i % 124)), from_mm(1.5 + 1.27 * (i / 124))},
                        PadSide::top});
    // Two nets a run, so that many are found joined.
    std::vector<Net> nets;
    for (std::size_t i = 0; i + 2 < 2000; i += 3)
        nets.push_back(
            {fmt::format("N{}", i / 3), {pads[i].point(), pads[i + 1].point(), pads[i + 2].point()}});
    for (auto _ : state) benchmark::DoNotOptimize(compare_nets(*copper, pads, nets));
}
BENCHMARK(compare_again)->Unit(benchmark::kMillisecond);

}  // namespace
