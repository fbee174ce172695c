// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <Eigen/Dense>
#include <cmath>
#include <numbers>

#include "core/trace/scan.hpp"

namespace grayrelic {

Status check_raster(const Raster& p, const std::string& name) {
    const auto area = static_cast<long long>(p.width) * p.height;
    if (p.width < least_side_px || p.height < least_side_px)
        return fail_at(name, 0, fmt::format("a picture of {} × {} pixels", p.width, p.height),
                       "at least 16 × 16");
    if (area > most_pixels)
        return fail_at(name, 0, fmt::format("a picture of {} × {} pixels", p.width, p.height),
                       fmt::format("at most {} million pixels", most_pixels / 1'000'000));
    if (p.rgb.size() != static_cast<std::size_t>(area) * 3)
        return fail_at(name, 0, fmt::format("{} bytes for {} × {} pixels", p.rgb.size(), p.width, p.height),
                       "three bytes a pixel");
    return {};
}

std::pair<double, double> ScanPlacement::to_px(double x, double y) const {
    return {m[0] * x + m[1] * y + m[2], m[3] * x + m[4] * y + m[5]};
}

std::pair<double, double> ScanPlacement::to_mm(double x, double y) const {
    const double det = m[0] * m[4] - m[1] * m[3];
    const double u = x - m[2], v = y - m[5];
    return {(m[4] * u - m[1] * v) / det, (m[0] * v - m[3] * u) / det};
}

Result<ScanPlacement> place_scan(const std::vector<ScanReference>& refs, BoardSide side) {
    if (refs.size() < 2)
        return fail_at({}, 0, fmt::format("{} reference points", refs.size()),
                       "two or more places whose distance is known");
    const auto n = static_cast<Eigen::Index>(refs.size());
    ScanPlacement out;
    // With two points the back is taken as seen from behind: x runs the other way.
    const double flip = side == BoardSide::back ? -1.0 : 1.0;
    const bool affine = refs.size() >= 3;
    Eigen::MatrixXd a = Eigen::MatrixXd::Zero(2 * n, affine ? 6 : 4);
    Eigen::VectorXd b(2 * n);
    for (Eigen::Index i = 0; i < n; ++i) {
        const auto& r = refs[static_cast<std::size_t>(i)];
        if (affine) {
            a.row(2 * i) << r.x_mm, r.y_mm, 1, 0, 0, 0;
            a.row(2 * i + 1) << 0, 0, 0, r.x_mm, r.y_mm, 1;
        } else {
            const double x = flip * r.x_mm;
            a.row(2 * i) << x, -r.y_mm, 1, 0;
            a.row(2 * i + 1) << r.y_mm, x, 0, 1;
        }
        b(2 * i) = r.x_px;
        b(2 * i + 1) = r.y_px;
    }
    const auto solver = a.colPivHouseholderQr();
    if (solver.rank() < a.cols())
        return fail_at({}, 0, affine ? "reference points on one line" : "two reference points at one place",
                       affine ? "three points that span the board" : "two points apart from each other");
    const Eigen::VectorXd s = solver.solve(b);
    if (affine)
        out.m = {s(0), s(1), s(2), s(3), s(4), s(5)};
    else
        out.m = {flip * s(0), -s(1), s(2), flip * s(1), s(0), s(3)};
    const double det = out.m[0] * out.m[4] - out.m[1] * out.m[3];
    if (!(std::abs(det) > 1e-6) || !std::isfinite(det))
        return fail_at({}, 0, "reference points on one line", "three points that span the board");
    out.px_per_mm = std::sqrt(std::abs(det));
    out.mirrored = det < 0;
    const double x_axis = std::atan2(out.m[3], out.m[0]), y_axis = std::atan2(out.m[4], out.m[1]);
    constexpr double deg = 180.0 / std::numbers::pi;
    out.turn_deg = (out.mirrored ? std::atan2(-out.m[3], -out.m[0]) : x_axis) * deg;
    double between = (y_axis - x_axis) * deg;
    while (between < 0) between += 360.0;
    out.skew_deg = (between > 180.0 ? 270.0 : 90.0) - between;
    // More equations than unknowns: what is left over tells how well the references agree.
    if (2 * n > a.cols()) {
        double sum = 0;
        out.worst_mm = 0.0;
        for (std::size_t i = 0; i < refs.size(); ++i) {
            const auto [x, y] = out.to_px(refs[i].x_mm, refs[i].y_mm);
            const double off = std::hypot(x - refs[i].x_px, y - refs[i].y_px) / out.px_per_mm;
            sum += off * off;
            if (off >= *out.worst_mm) out.worst_mm = off, out.worst_reference = i;
        }
        // Per point, with the degrees of freedom that the fit used up taken off.
        out.residual_mm = std::sqrt(sum / (static_cast<double>(2 * n - a.cols()) / 2.0));
    }
    return out;
}

}  // namespace grayrelic
