// SPDX-License-Identifier: GPL-3.0-or-later
// The copper of a layout, and what it joins.
#include "tests/unseen/boards_film.hpp"

#include <opencv2/imgproc.hpp>

namespace grayrelic::unseen {

bool on(const BoardPad& p, int side) {
    return p.side < 0 || p.side == side;
}

cv::Mat1f copper_of(const BoardLayout& b, int side, double scale, double margin) {
    Film copper(b, scale, margin);
    for (const auto& p : b.pads)
        if (on(p, side)) copper.pad(p, 0);
    for (const auto& v : b.vias) copper.disc(v.x, v.y, v.across);
    for (const auto& t : b.tracks)
        if (t.side == side) copper.line(t.x1, t.y1, t.x2, t.y2, t.width);
    for (const auto& pour : b.pours) {
        if (pour.side != side) continue;
        Film area(b, scale, margin), clear(b, scale, margin);
        area.box(pour.x1, pour.y1, pour.x2, pour.y2);
        const double c = pour.clearance;
        for (const auto& p : b.pads)
            if (on(p, side) && (p.net != pour.net || pour.spokes)) clear.pad(p, c);
        for (const auto& v : b.vias)
            if (v.net != pour.net) clear.disc(v.x, v.y, v.across + 2 * c);
        for (const auto& t : b.tracks)
            if (t.side == side && t.net != pour.net) clear.line(t.x1, t.y1, t.x2, t.y2, t.width + 2 * c);
        area.at = area.at.mul(1.0F - clear.at);
        if (pour.spokes)
            for (const auto& p : b.pads)
                if (on(p, side) && p.net == pour.net) {
                    const double l = std::max(p.w, p.h) / 2 + c + 0.15;
                    // Spokes only where nothing else is: they end in the pour or nowhere.
                    Film spoke(b, scale, margin);
                    spoke.line(p.x - l, p.y, p.x + l, p.y, 0.45);
                    spoke.line(p.x, p.y - l, p.x, p.y + l, 0.45);
                    Film others(b, scale, margin);
                    for (const auto& q : b.pads)
                        if (on(q, side) && q.net != pour.net && std::hypot(q.x - p.x, q.y - p.y) < 6)
                            others.pad(q, c);
                    for (const auto& t : b.tracks)
                        if (t.side == side && t.net != pour.net)
                            others.line(t.x1, t.y1, t.x2, t.y2, t.width + 2 * c);
                    for (const auto& v : b.vias)
                        if (v.net != pour.net) others.disc(v.x, v.y, v.across + 2 * c);
                    area.at = cv::max(area.at, spoke.at.mul(1.0F - others.at));
                }
        copper.at = cv::max(copper.at, area.at);
    }
    // Drilled edges of the board keep copper.
    return copper.at;
}

namespace {

std::vector<int> groups(const BoardLayout& b, const std::array<cv::Mat1b, 2>& copper, double scale,
                        double margin) {
    std::array<cv::Mat1i, 2> label;
    int n0 = cv::connectedComponents(copper[0], label[0], 4, CV_32S);
    const int n1 = cv::connectedComponents(copper[1], label[1], 4, CV_32S);
    std::vector<int> top(static_cast<std::size_t>(n0 + n1));
    for (std::size_t k = 0; k < top.size(); ++k) top[k] = static_cast<int>(k);
    const auto find = [&](int k) {
        while (top[static_cast<std::size_t>(k)] != k) k = top[static_cast<std::size_t>(k)];
        return k;
    };
    const auto piece = [&](int side, double x, double y, double reach) {
        // Copper at the place, or around its hole's rim.
        const int c = static_cast<int>((x + margin) * scale), r = static_cast<int>((y + margin) * scale),
                  n = static_cast<int>(reach * scale);
        for (int k = 0; k <= n; ++k)
            for (int dr = -k; dr <= k; ++dr)
                for (int dc = -k; dc <= k; ++dc)
                    if (std::max(std::abs(dr), std::abs(dc)) == k && r + dr >= 0 && c + dc >= 0 &&
                        r + dr < label[0].rows && c + dc < label[0].cols)
                        if (const int l = label[static_cast<std::size_t>(side)](r + dr, c + dc); l > 0)
                            return l + (side == 1 ? n0 : 0);
        return 0;
    };
    const auto both = [&](double x, double y, double reach) {
        if (const int f = piece(0, x, y, reach), q = piece(1, x, y, reach); f > 0 && q > 0)
            top[static_cast<std::size_t>(find(f))] = find(q);
    };
    for (const auto& v : b.vias) both(v.x, v.y, v.across / 2 - 0.05);
    for (const auto& p : b.pads)
        if (p.hole > 0) both(p.x, p.y, std::min(p.w, p.h) / 2 - 0.05);
    std::vector<int> out;
    int alone = n0 + n1;
    for (const auto& p : b.pads) {
        const int l = piece(p.side == 1 ? 1 : 0, p.x, p.y, std::min(p.w, p.h) / 2 - 0.05);
        out.push_back(l > 0 ? find(l) : alone++);
    }
    return out;
}

}  // namespace

BoardTruth truth_of(const BoardLayout& b, double dpi, double pixels) {
    BoardTruth out;
    constexpr double scale = 40, margin = 1;
    std::array<cv::Mat1b, 2> whole, wide;
    const double radius = pixels / 2 / (dpi / 25.4) * scale * 0.98;
    for (int side = 0; side < 2; ++side) {
        const auto k = static_cast<std::size_t>(side);
        const auto copper = copper_of(b, side, scale, margin);
        whole[k] = copper > 0.5F;
        cv::Mat1f depth;
        cv::distanceTransform(whole[k], depth, cv::DIST_L2, cv::DIST_MASK_PRECISE);
        wide[k] = depth >= static_cast<float>(radius);
    }
    out.joined = groups(b, whole, scale, margin);
    out.sure = groups(b, wide, scale, margin);
    return out;
}

}  // namespace grayrelic::unseen
