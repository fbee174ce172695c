// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/trace/nets.hpp"
#include "core/trace/scan.hpp"

namespace grayrelic {

ScanNets nets_of_scan(const ScannedBoard& scan, const BoardModel& board) {
    ScanNets out;
    std::map<int, std::vector<int>> by_net;
    for (std::size_t p = 0; p < board.points.size(); ++p) {
        if (!board.points[p].place) continue;
        const int net = scan.net_at(*board.points[p].place);
        if (net < 0)
            out.unseen.push_back(static_cast<int>(p));
        else
            by_net[net].push_back(static_cast<int>(p));
    }
    std::vector<double> least(static_cast<std::size_t>(scan.nets), 1.0);
    std::vector<char> unknown(static_cast<std::size_t>(scan.nets), 0);
    for (std::size_t side = 0; side < scan.layers.size(); ++side) {
        const auto& nets = side == 0 ? scan.net_of_front : scan.net_of_back;
        for (std::size_t i = 1; i < nets.size(); ++i) {
            if (nets[i] < 0) continue;
            auto& c = least[static_cast<std::size_t>(nets[i])];
            c = std::min(c, static_cast<double>(scan.layers[side].confidence[i]));
            if (scan.layers[side].touches_unknown[i] != 0) unknown[static_cast<std::size_t>(nets[i])] = 1;
        }
    }
    for (std::size_t side = 0; side < scan.layers.size(); ++side) {
        const auto& nets = side == 0 ? scan.net_of_front : scan.net_of_back;
        for (const auto& u : scan.layers[side].unknown) {
            const auto net = [&](int piece) {
                return piece > 0 ? nets[static_cast<std::size_t>(piece)] : -1;
            };
            const auto point = [&](int n) {
                const auto found = by_net.find(n);
                return found == by_net.end() ? -1 : found->second.front();
            };
            const int a = net(u.piece_a), b = net(u.piece_b);
            if (a != b) out.questions.push_back({u, point(a), point(b)});
        }
    }
    // What would join two named nets first.
    std::stable_sort(out.questions.begin(), out.questions.end(),
                     [](const ScanQuestion& x, const ScanQuestion& y) {
                         return (x.a >= 0) + (x.b >= 0) > (y.a >= 0) + (y.b >= 0);
                     });
    for (auto& [net, points] : by_net)
        out.nets.push_back({std::move(points), least[static_cast<std::size_t>(net)],
                            unknown[static_cast<std::size_t>(net)] != 0});
    return out;
}

std::vector<MeterReading> merge_scan(const ScanNets& scan, const BoardModel& board, const NetState& ledger,
                                     double least) {
    std::vector<MeterReading> out;
    const auto net_of = [&](int p) {
        return p < static_cast<int>(ledger.net_of.size()) ? ledger.net_of[static_cast<std::size_t>(p)]
                                                          : -1 - p;
    };
    for (const auto& net : scan.nets) {
        if (net.confidence < least || net.points.empty()) continue;
        // One reading to each net of the ledger that it does not join yet; none to one it must not join.
        std::set<int> met{net_of(net.points.front())};
        for (const int p : net.points) {
            const int n = net_of(p);
            if (met.count(n) > 0) continue;
            const bool contradicted = std::any_of(
                met.begin(), met.end(), [&](int m) { return m >= 0 && n >= 0 && ledger.separated(m, n); });
            if (contradicted) continue;
            met.insert(n);
            MeterReading r;
            r.a = board.table.name(net.points.front());
            r.b = board.table.name(p);
            r.tool = "scan";
            r.note = fmt::format("copper seen in the scans, confidence {:.2f}", net.confidence);
            out.push_back(std::move(r));
        }
    }
    return out;
}

std::vector<CopperRun> copper_along(const ScanLayer& layer, double x1, double y1, double x2, double y2) {
    std::vector<CopperRun> out;
    const double length = std::hypot(x2 - x1, y2 - y1);
    if (!(length > 0) || length > 2000.0 || layer.px_per_mm <= 0) return out;
    // A quarter of a pixel: fine against the rim of a track, which is blurred over about two.
    const auto steps = static_cast<long>(std::ceil(length * layer.px_per_mm * 4.0));
    bool on = false;
    for (long i = 0; i <= steps; ++i) {
        const double t = static_cast<double>(i) / static_cast<double>(steps);
        const bool copper = layer.at(x1 + t * (x2 - x1), y1 + t * (y2 - y1)) == Ground::copper;
        if (copper && !on) out.push_back({t * length, t * length});
        if (copper) out.back().to_mm = t * length;
        on = copper;
    }
    return out;
}

std::string scan_csv(const ScannedBoard& scan) {
    std::string out = "kind,side,x_mm,y_mm,width_mm,height_mm,hole_mm\n";
    for (const auto& [x, y] : scan.outline) out += fmt::format("outline,both,{:.3f},{:.3f},,,\n", x, y);
    for (const auto& p : scan.pads)
        out += fmt::format("pad,{},{:.3f},{:.3f},{:.3f},{:.3f},\n", word(p.side), p.x_mm, p.y_mm, p.width_mm,
                           p.height_mm);
    for (const auto& h : scan.holes)
        out += fmt::format("hole,{},{:.3f},{:.3f},,,{:.3f}\n", h.both_sides ? "both" : "one", h.x_mm, h.y_mm,
                           h.diameter_mm);
    return out;
}

std::string scan_svg(const ScannedBoard& scan) {
    double x0 = 1e300, y0 = 1e300, x1 = -1e300, y1 = -1e300;
    const auto note = [&](double x, double y) {
        x0 = std::min(x0, x), x1 = std::max(x1, x);
        y0 = std::min(y0, y), y1 = std::max(y1, y);
    };
    for (const auto& [x, y] : scan.outline) note(x, y);
    for (const auto& h : scan.holes) note(h.x_mm, h.y_mm);
    if (x1 < x0) x0 = y0 = 0, x1 = y1 = 10;
    std::string out = fmt::format(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" "
        "width=\"{0:.3f}mm\" height=\"{1:.3f}mm\" "
        "viewBox=\"{2:.3f} {3:.3f} {0:.3f} {1:.3f}\">\n<title>Outline, pads and holes in "
        "millimetres</title>\n",
        x1 - x0 + 4, y1 - y0 + 4, x0 - 2, y0 - 2);
    if (!scan.outline.empty()) {
        out += "<polygon id=\"outline\" fill=\"none\" stroke=\"#22262A\" stroke-width=\"0.1\" points=\"";
        for (const auto& [x, y] : scan.outline) out += fmt::format("{:.3f},{:.3f} ", x, y);
        out += "\"/>\n";
    }
    for (const auto side : {BoardSide::front, BoardSide::back}) {
        out += fmt::format("<g id=\"pads-{}\" fill=\"none\" stroke=\"{}\" stroke-width=\"0.08\">\n",
                           word(side), side == BoardSide::front ? "#7A4B2A" : "#5B6066");
        for (const auto& p : scan.pads)
            if (p.side == side)
                out += fmt::format("<ellipse cx=\"{:.3f}\" cy=\"{:.3f}\" rx=\"{:.3f}\" ry=\"{:.3f}\"/>\n",
                                   p.x_mm, p.y_mm, p.width_mm / 2, p.height_mm / 2);
        out += "</g>\n";
    }
    out += "<g id=\"holes\" fill=\"#22262A\">\n";
    for (const auto& h : scan.holes)
        out += fmt::format("<circle cx=\"{:.3f}\" cy=\"{:.3f}\" r=\"{:.3f}\"/>\n", h.x_mm, h.y_mm,
                           h.diameter_mm / 2);
    return out + "</g>\n</svg>\n";
}

}  // namespace grayrelic
