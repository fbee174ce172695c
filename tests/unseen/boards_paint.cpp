// SPDX-License-Identifier: GPL-3.0-or-later
// Coverage of each material by signed distances, the materials' colours over each other, and then what light,
// optics and files do to them.
#include <algorithm>
#include <cmath>
#include <numbers>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>
#include <random>

#include "tests/unseen/boards_film.hpp"

namespace grayrelic::unseen {
namespace {

Tone mix(const Tone& a, const Tone& b, double t) {
    return {a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t};
}

/// Blocks of eight by eight through a cosine transform and the usual tables of quantisation (annex K of the
/// standard for continuous-tone still images), colour at half the resolution.
void press(cv::Mat3f& picture, double quality) {
    static const int luma[64] = {16, 11, 10, 16, 24,  40,  51,  61,  12, 12, 14, 19, 26,  58,  60,  55,
                                 14, 13, 16, 24, 40,  57,  69,  56,  14, 17, 22, 29, 51,  87,  80,  62,
                                 18, 22, 37, 56, 68,  109, 103, 77,  24, 35, 55, 64, 81,  104, 113, 92,
                                 49, 64, 78, 87, 103, 121, 120, 101, 72, 92, 95, 98, 112, 100, 103, 99};
    const double s = (quality < 50 ? 5000 / quality : 200 - 2 * quality) / 100;
    std::vector<cv::Mat1f> planes(3);
    for (auto& p : planes) p.create(picture.size());
    for (int r = 0; r < picture.rows; ++r)
        for (int c = 0; c < picture.cols; ++c) {
            const auto& v = picture(r, c);
            const float y = 0.299F * v[0] + 0.587F * v[1] + 0.114F * v[2];
            planes[0](r, c) = y;
            planes[1](r, c) = 0.564F * (v[2] - y);
            planes[2](r, c) = 0.713F * (v[0] - y);
        }
    for (std::size_t k = 0; k < 3; ++k) {
        cv::Mat1f p = planes[k];
        if (k > 0)
            cv::resize(planes[k], p, cv::Size((p.cols + 1) / 2, (p.rows + 1) / 2), 0, 0, cv::INTER_AREA);
        cv::Mat1f even;
        cv::copyMakeBorder(p, even, 0, (8 - p.rows % 8) % 8, 0, (8 - p.cols % 8) % 8, cv::BORDER_REPLICATE);
        for (int r = 0; r < even.rows; r += 8)
            for (int c = 0; c < even.cols; c += 8) {
                cv::Mat1f block = even(cv::Rect(c, r, 8, 8)), f;
                cv::dct(block, f);
                for (int i = 0; i < 64; ++i) {
                    const double table =
                        k == 0 ? luma[i] : std::min(99, 17 + 2 * (i / 8 + i % 8) * (i / 8 + i % 8));
                    const auto q = static_cast<float>(std::max(1.0, std::floor(table * s + 0.5)));
                    f(i / 8, i % 8) = std::round(f(i / 8, i % 8) / q) * q;
                }
                cv::idct(f, block);
            }
        even(cv::Rect(0, 0, p.cols, p.rows)).copyTo(p);
        if (k > 0)
            cv::resize(p, planes[k], planes[k].size(), 0, 0, cv::INTER_LINEAR);
        else
            planes[k] = p;
    }
    for (int r = 0; r < picture.rows; ++r)
        for (int c = 0; c < picture.cols; ++c) {
            const float y = planes[0](r, c), b = planes[1](r, c) / 0.564F + y,
                        red = planes[2](r, c) / 0.713F + y;
            picture(r, c) = {red, (y - 0.299F * red - 0.114F * b) / 0.587F, b};
        }
}

cv::Mat1f soft_noise(cv::Size size, double grain, cv::RNG& dice) {
    cv::Mat1f small(std::max(2, static_cast<int>(size.height / grain)),
                    std::max(2, static_cast<int>(size.width / grain))),
        out;
    dice.fill(small, cv::RNG::NORMAL, 0, 1);
    cv::resize(small, out, size, 0, 0, cv::INTER_CUBIC);
    return out;
}

}  // namespace

BoardPicture paint(const BoardLayout& b, int side, const BoardLook& look, const BoardTrouble& t, double dpi,
                   std::uint64_t seed) {
    std::mt19937_64 dice(seed * 31 + static_cast<std::uint64_t>(side) * 77 + 5);
    std::uniform_real_distribution<double> any(0, 1);
    cv::RNG grain(seed * 13 + static_cast<std::uint64_t>(side) + 1);
    const double scale = dpi / 25.4, margin = 3.0;
    const auto copper = copper_of(b, side, scale, margin);
    Film open(b, scale, margin), metal(b, scale, margin), hole(b, scale, margin), ink(b, scale, margin),
        plug(b, scale, margin), dent(b, scale, margin), board(b, scale, margin);
    board.box(0, 0, b.width, b.height);
    const double more = 0.05 + 0.05 * any(dice);
    for (const auto& p : b.pads) {
        if (on(p, side)) open.pad(p, more), metal.pad(p, 0);
        if (p.hole > 0) hole.disc(p.x, p.y, p.hole);
    }
    for (const auto& v : b.vias) {
        if (v.look == ViaLook::open || !look.masked) {
            open.disc(v.x, v.y, v.across + 2 * more);
            metal.disc(v.x, v.y, v.across);
            hole.disc(v.x, v.y, v.hole);
        } else if (v.look == ViaLook::tented) {
            dent.disc(v.x, v.y, v.hole);
        } else {
            plug.disc(v.x, v.y, v.hole);
        }
    }
    for (const auto& i : b.ink)
        if (i.side == side) ink.line(i.x1, i.y1, i.x2, i.y2, i.width);
    // A mask thins out over the edges of copper: a darker or lighter line.
    cv::Mat1f rim, wide;
    cv::GaussianBlur(copper, wide, cv::Size(0, 0), std::max(0.6, 0.04 * scale));
    rim = 4.0F * wide.mul(1.0F - wide);
    cv::Mat1f weave = soft_noise(copper.size(), std::max(2.0, 0.15 * scale), grain);
    cv::Mat3f picture(copper.size());
    const bool light_rim = any(dice) < 0.5;
    for (int r = 0; r < picture.rows; ++r)
        for (int c = 0; c < picture.cols; ++c) {
            Tone v = mix(look.laminate, look.copper, copper(r, c));
            if (look.masked) {
                for (auto& x : v) x *= 1 + (light_rim ? 0.1 : -0.12) * t.rims * rim(r, c);
                v = mix(v, mix(look.laminate, look.hole, 0.45), 0.8 * dent.at(r, c));
                v = mix(v, mix(look.copper, look.laminate, 0.3), 0.7 * plug.at(r, c));
                const Tone bare = mix(look.bare, look.metal, copper(r, c));
                v = mix(v, bare, open.at(r, c));
            } else if (look.name == "tinned") {
                v = mix(look.laminate, look.metal, copper(r, c));
            }
            for (auto& x : v) x *= 1 + 0.06 * t.weave * (1 - copper(r, c)) * weave(r, c);
            v = mix(v, look.ink, ink.at(r, c) * 0.97 * (1 - open.at(r, c)));
            v = mix(v, look.hole, hole.at(r, c));
            v = mix(look.outside, v, board.at(r, c));
            picture(r, c) = {static_cast<float>(v[0]), static_cast<float>(v[1]), static_cast<float>(v[2])};
        }
    // Things that lie on it or are scratched into it.
    const auto spot = [&](auto&& shape, const Tone& tone, double strength) {
        Film f(b, scale, margin);
        shape(f);
        const cv::Mat1f& m = f.at;
        for (int r = 0; r < m.rows; ++r)
            for (int c = 0; c < m.cols; ++c)
                if (m(r, c) > 0)
                    for (int k = 0; k < 3; ++k)
                        picture(r, c)[k] += static_cast<float>(
                            (tone[static_cast<std::size_t>(k)] - picture(r, c)[k]) * m(r, c) * strength);
    };
    for (const bool dark : {false, true}) {
        const int many = static_cast<int>(t.dust * b.width * b.height / 30.0);
        if (many == 0) break;
        std::vector<std::array<double, 5>> specks;
        for (int k = 0; k < many; ++k) {
            const double a = any(dice) * 7, l = any(dice) < 0.3 ? 1.5 * any(dice) : 0;
            const double x = any(dice) * b.width, y = any(dice) * b.height;
            specks.push_back(
                {x, y, x + l * std::cos(a), y + l * std::sin(a), l > 0 ? 0.05 : 0.06 + 0.16 * any(dice)});
        }
        spot(
            [&](Film& f) {
                for (const auto& s : specks) f.line(s[0], s[1], s[2], s[3], s[4]);
            },
            dark ? Tone{40, 38, 36} : Tone{215, 215, 210}, 0.85);
    }
    for (int k = 0; k < static_cast<int>(std::lround(6 * t.scratches)); ++k) {
        const double x = any(dice) * b.width, y = any(dice) * b.height, a = any(dice) * 7,
                     l = 4 + 12 * any(dice);
        spot(
            [&](Film& f) { f.line(x, y, x + l * std::cos(a), y + l * std::sin(a), 0.06 + 0.08 * any(dice)); },
            mix(look.laminate, {225, 220, 205}, 0.6), 0.8);
    }
    // Light.
    const double slope_way = any(dice) * 7, gx = any(dice), gy = any(dice);
    cv::Mat1f shade(picture.size(), 1.0F);
    for (int k = 0; k < static_cast<int>(std::lround(3 * t.shadows)); ++k) {
        cv::Mat1f one(picture.size(), 1.0F), soft;
        const int w = static_cast<int>((4 + 8 * any(dice)) * scale),
                  h = static_cast<int>((3 + 5 * any(dice)) * scale);
        const int x = static_cast<int>(any(dice) * picture.cols) - w / 2,
                  y = static_cast<int>(any(dice) * picture.rows) - h / 2;
        cv::rectangle(one, cv::Rect(x, y, w, h), cv::Scalar(0.55 + 0.25 * any(dice)), cv::FILLED);
        cv::GaussianBlur(one, soft, cv::Size(0, 0), (0.5 + 0.7 * any(dice)) * scale);
        shade = shade.mul(soft);
    }
    for (int r = 0; r < picture.rows; ++r)
        for (int c = 0; c < picture.cols; ++c) {
            const double u = 2.0 * c / picture.cols - 1, v = 2.0 * r / picture.rows - 1;
            double light = shade(r, c) *
                           (1 + 0.3 * t.slope * (u * std::cos(slope_way) + v * std::sin(slope_way)) / 1.41);
            light *= 1 - 0.35 * t.corners * (u * u + v * v) / 2;
            const double d2 = (std::pow(u - (2 * gx - 1), 2) + std::pow(v - (2 * gy - 1), 2));
            const double shine = 150 * t.glare * std::exp(-d2 / 0.08);
            picture(r, c) =
                picture(r, c) * static_cast<float>(light) + cv::Vec3f::all(static_cast<float>(shine));
        }
    cv::GaussianBlur(picture, picture, cv::Size(0, 0), 0.6 + 0.9 * t.blur);
    if (t.cast > 0) {
        const double gamma = 1 + 0.35 * t.cast * (any(dice) - 0.5);
        const Tone c{1 + 0.25 * t.cast * (any(dice) - 0.5), 1 + 0.15 * t.cast * (any(dice) - 0.5),
                     1 + 0.3 * t.cast * (any(dice) - 0.5)};
        for (auto& v : picture)
            for (int k = 0; k < 3; ++k) {
                const double x = std::clamp(v[k] * c[static_cast<std::size_t>(k)] / 255.0, 0.0, 1.0);
                v[k] = static_cast<float>(255 * std::pow(x, gamma));
            }
    }
    cv::Mat3f noise(picture.size());
    grain.fill(noise, cv::RNG::NORMAL, 0, 1.2 + 5 * t.noise);
    picture += noise;
    // As it lay on the glass: turned a little, and seen from behind where it is the back.
    const double turn = (any(dice) - 0.5) * 0.07,
                 out_margin = 1.0 + 0.1 * std::max(b.width, b.height) * std::abs(turn);
    const int w = static_cast<int>((b.width + 2 * (margin + out_margin)) * scale),
              h = static_cast<int>((b.height + 2 * (margin + out_margin)) * scale);
    const double flip = side == 1 ? -1.0 : 1.0, cs = std::cos(turn) * scale, sn = std::sin(turn) * scale;
    const auto to_px = [&](double x, double y) {
        const double u = flip * (x - b.width / 2), v = y - b.height / 2;
        return cv::Point2d(w / 2.0 + cs * u - sn * v, h / 2.0 + sn * u + cs * v);
    };
    const auto film = [&](double x, double y) {
        return cv::Point2f(static_cast<float>((x + margin) * scale - 0.5),
                           static_cast<float>((y + margin) * scale - 0.5));
    };
    const cv::Point2f from[3] = {film(0, 0), film(b.width, 0), film(0, b.height)};
    const cv::Point2f to[3] = {to_px(0, 0), to_px(b.width, 0), to_px(0, b.height)};
    cv::Mat3f turned;
    cv::warpAffine(picture, turned, cv::getAffineTransform(from, to), cv::Size(w, h), cv::INTER_CUBIC,
                   cv::BORDER_REPLICATE);
    if (t.jpeg > 0) press(turned, 92 - 45 * t.jpeg);
    cv::Mat3b bytes;
    turned.convertTo(bytes, CV_8U);
    BoardPicture out;
    out.width = w;
    out.height = h;
    out.rgb.assign(bytes.datastart, bytes.dataend);
    for (const double x : {0.0, b.width})
        for (const double y : {0.0, b.height}) {
            const auto p = to_px(x, y);
            out.references.push_back({p.x + (any(dice) - 0.5), p.y + (any(dice) - 0.5), x, y});
        }
    return out;
}

const std::vector<std::string>& board_troubles() {
    static const std::vector<std::string> list{"slope", "corners", "glare", "shadows", "dust",  "scratches",
                                               "jpeg",  "blur",    "noise", "cast",    "weave", "rims"};
    return list;
}

double& trouble_of(BoardTrouble& t, const std::string& name) {
    double* const all[] = {&t.slope, &t.corners, &t.glare, &t.shadows, &t.dust,  &t.scratches,
                           &t.jpeg,  &t.blur,    &t.noise, &t.cast,    &t.weave, &t.rims};
    const auto& list = board_troubles();
    return *all[std::find(list.begin(), list.end(), name) - list.begin()];
}

const std::vector<std::string>& board_looks() {
    static const std::vector<std::string> list{"green", "blue",   "red",  "black",
                                               "white", "yellow", "bare", "tinned"};
    return list;
}

BoardLook board_look(std::uint64_t seed, const std::string& name, double step) {
    std::mt19937_64 dice(seed * 101 + 3);
    std::uniform_real_distribution<double> any(0, 1);
    const auto about = [&](Tone t, double by) {
        for (auto& v : t) v = std::clamp(v + (any(dice) - 0.5) * 2 * by, 2.0, 253.0);
        return t;
    };
    BoardLook look;
    look.name = name;
    const Tone masks[] = {{28, 88, 48}, {22, 52, 120},   {140, 26, 32},
                          {30, 31, 33}, {214, 214, 208}, {190, 160, 42}};
    const auto k = std::find(board_looks().begin(), board_looks().end(), name) - board_looks().begin();
    look.masked = k < 6;
    look.step = step > 0 ? step : 12 + 28 * any(dice);
    look.bare = about({150, 140, 96}, 20);
    const Tone metals[] = {{188, 190, 187}, {208, 172, 96}, {196, 124, 84}};
    look.metal = about(metals[static_cast<std::size_t>(any(dice) * 3) % 3], 12);
    look.ink = k == 4 || (k == 5 && any(dice) < 0.5) ? about({40, 40, 42}, 15) : about({236, 236, 230}, 12);
    const double lit = any(dice);
    look.hole = lit < 0.5   ? about({18, 18, 18}, 10)
                : lit < 0.8 ? about({246, 246, 244}, 6)
                            : about({120, 118, 110}, 10);
    look.outside = any(dice) < 0.6 ? about({242, 242, 240}, 8) : about({22, 22, 24}, 10);
    if (look.masked) {
        look.laminate = about(masks[k], 12);
        // Copper under a mask is mostly lighter; under white and yellow a little darker as often.
        const double sign = k >= 4 && any(dice) < 0.6 ? -1 : 1;
        // The step is spread over the colours as the mask passes them, its mean weighted as the eye does.
        Tone way = k == 4 || k == 3 ? Tone{1.05, 1, 0.9} : Tone{};
        if (k < 3 || k == 5)
            for (std::size_t c = 0; c < 3; ++c) way[c] = 0.35 + look.laminate[c] / 130.0;
        const double grey = 0.299 * way[0] + 0.587 * way[1] + 0.114 * way[2];
        for (std::size_t c = 0; c < 3; ++c)
            look.copper[c] = std::clamp(look.laminate[c] + sign * look.step * way[c] / grey, 1.0, 254.0);
    } else {
        look.laminate = any(dice) < 0.5 ? about({142, 124, 72}, 18) : about({92, 110, 72}, 15);
        look.copper = about({200, 128, 86}, 14);
        look.ink = about({238, 238, 232}, 8);
        if (name == "tinned") look.metal = about({196, 198, 196}, 12);
        if (name == "bare") look.metal = look.copper;
        look.step = 40;
    }
    return look;
}

}  // namespace grayrelic::unseen
