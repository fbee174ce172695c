// SPDX-License-Identifier: GPL-3.0-or-later
// Every pixel held against the two tones and the shades.
#include "core/trace/scan_ground.hpp"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

namespace grayrelic::scan_ground {

namespace {
constexpr float most_astray =
    32.0F * 32.0F;  ///< of a tone, whatever the step: ink and metal are nearer than metal and board

/// A colour relative to the light where the lower tone is `low`.
cv::Vec3f in_mean_light(const Tones& tones, cv::Vec3f q, const cv::Vec3f& low) {
    for (int k = 0; k < 3; ++k) q[k] = std::min(400.0F, q[k] * (tones.low_mean[k] + 6.0F) / (low[k] + 6.0F));
    return q;
}

/// The shade that a colour is nearest to; `least`: none is nearer than this, squared; what it is then.
const Shade* nearest_shade(const Tones& tones, const cv::Vec3f& q, float& least) {
    const Shade* out = nullptr;
    for (const auto& shade : tones.shades) {
        const cv::Vec3f o = q - shade.colour;
        if (const float far = o.dot(o); far < least && far < shade.reach2) least = far, out = &shade;
    }
    return out;
}

/// Pixels held against the tones as they are at one place.
struct Judge {
    const Tones& tones;
    bool two_tones = tones.doubt.empty();
    std::uint8_t is_low = static_cast<std::uint8_t>(tones.high_is_copper ? Matter::board : Matter::copper);
    std::uint8_t is_high = static_cast<std::uint8_t>(tones.high_is_copper ? Matter::copper : Matter::board);
    float far_least = static_cast<float>(std::pow(5.0 + 4.5 * tones.noise, 2));

    [[nodiscard]] Matter nearest(const cv::Vec3f& p, const cv::Vec3f& low, float least = 1e18F) const {
        const auto* shade = nearest_shade(tones, two_tones ? in_mean_light(tones, p, low) : p, least);
        return shade == nullptr ? Matter::other : shade->matter;
    }
    void tell(const cv::Vec3f& p, const cv::Vec3f& low, const cv::Vec3f& step, std::uint8_t& matter,
              std::uint8_t& along) const {
        if (two_tones) {
            const cv::Vec3f d = p - low;
            const float s2 = std::max(1.0F, step.dot(step)), t = d.dot(step) / s2;
            const cv::Vec3f rest = d - step * std::clamp(t, 0.0F, 1.0F);
            const float off2 = rest.dot(rest);
            // Ink that shines a little brighter than tin is ink.
            if (off2 > far_least && t > 1 && !tones.shades.empty() && nearest(p, low, off2) == Matter::ink) {
                matter = static_cast<std::uint8_t>(Matter::ink);
                return;
            }
            if (off2 <= std::max(std::min(0.2F * s2, most_astray), far_least)) {
                matter = t < 0.5F ? is_low : is_high;
                const float way = tones.high_is_copper ? t : 1 - t;
                along = static_cast<std::uint8_t>(std::clamp(64.0F + 128.0F * way, 1.0F, 255.0F));
                return;
            }
        }
        matter = static_cast<std::uint8_t>(nearest(p, low));
    }
};

}  // namespace

Matter matter_of(ClickKind kind) {
    switch (kind) {
        case ClickKind::hole: return Matter::hole;
        case ClickKind::silk: return Matter::ink;
        case ClickKind::board: return Matter::board;
        case ClickKind::copper:
        case ClickKind::pad: break;
    }
    return Matter::metal;
}

void take_click(const cv::Vec3f& colour, const cv::Vec3f& low, const cv::Vec3f& step, ClickKind kind,
                Tones& tones) {
    const bool only_which = tones.doubt == copper_not_told;
    if (only_which) tones.doubt.clear();
    std::uint8_t matter = 0, along = 0;
    Judge{tones}.tell(colour, low, step, matter, along);
    const bool copper = kind == ClickKind::copper || kind == ClickKind::pad;
    if (along != 0) {  // one of the two tones
        if (copper || kind == ClickKind::board) {
            const bool is_copper = matter == static_cast<std::uint8_t>(Matter::copper);
            if (is_copper != copper) tones.high_is_copper = !tones.high_is_copper;
            tones.settled = true;
            tones.vote = vote_of_person;
        }
    } else {
        const auto q = tones.doubt.empty() ? in_mean_light(tones, colour, low) : colour;
        auto least = static_cast<float>(0.49 * one_shade * one_shade);
        if (const auto* shade = nearest_shade(tones, q, least))
            tones.shades[static_cast<std::size_t>(shade - tones.shades.data())].matter = matter_of(kind);
        else
            tones.shades.push_back({q, matter_of(kind), static_cast<float>(one_shade * one_shade)});
    }
    if (only_which && !tones.settled) tones.doubt = copper_not_told;
}

Told tell(const cv::Mat3b& smooth, const cv::Mat1b& inside, const Tones& tones) {
    Told out{plane(cv::Mat1b::zeros(smooth.size())), plane(cv::Mat1b::zeros(smooth.size()))};
    const Judge judge{tones};
    const int cells = tones.low.cols, cell_rows = tones.low.rows;
    const auto cell = static_cast<float>(tones.cell);
    const int block = std::clamp(static_cast<int>(tones.cell / 8), 1, 8);
    const float half_block = 0.5F * static_cast<float>(block);
    cv::parallel_for_(cv::Range(0, smooth.rows), [&](const cv::Range& rows) {
        std::vector<cv::Vec3f> low(static_cast<std::size_t>(cells)), step(static_cast<std::size_t>(cells));
        for (int y = rows.start; y < rows.end; ++y) {
            // The fields between the middles of their cells.
            const float fy = std::clamp((static_cast<float>(y) + 0.5F) / cell - 0.5F, 0.0F,
                                        static_cast<float>(cell_rows - 1));
            const int y0 = static_cast<int>(fy), y1 = std::min(cell_rows - 1, y0 + 1);
            const float v = fy - static_cast<float>(y0);
            for (int c = 0; c < cells; ++c) {
                low[static_cast<std::size_t>(c)] = tones.low(y0, c) * (1 - v) + tones.low(y1, c) * v;
                step[static_cast<std::size_t>(c)] = tones.step(y0, c) * (1 - v) + tones.step(y1, c) * v;
            }
            const auto* p = smooth.ptr<cv::Vec3b>(y);
            const auto* in = inside.ptr<std::uint8_t>(y);
            auto* m = out.matter.ptr<std::uint8_t>(y);
            auto* a = out.along.ptr<std::uint8_t>(y);
            // Within an eighth of a cell the light does not change.
            for (int first = 0; first < smooth.cols; first += block) {
                const float fx = std::clamp((static_cast<float>(first) + half_block) / cell - 0.5F, 0.0F,
                                            static_cast<float>(cells - 1));
                const int x0 = static_cast<int>(fx);
                const auto i0 = static_cast<std::size_t>(x0),
                           i1 = static_cast<std::size_t>(std::min(cells - 1, x0 + 1));
                const float u = fx - static_cast<float>(x0);
                const cv::Vec3f l = low[i0] * (1 - u) + low[i1] * u, s = step[i0] * (1 - u) + step[i1] * u;
                for (int x = first; x < std::min(smooth.cols, first + block); ++x)
                    if (in[x] != 0) judge.tell(cv::Vec3f(p[x]), l, s, m[x], a[x]);
            }
        }
    });
    return out;
}

namespace {

/// A wide frame of one of both tones, all around: the world outside, taken for board.
cv::Mat1b frame_of(const cv::Mat3b& smooth, const Rim& rim, const Tones& tones, double px_per_mm) {
    constexpr double least_wide_mm = 1.2, mostly = 0.85, most_share = 0.5;
    constexpr int less = 4;
    cv::Mat3b small;
    cv::Mat1b inside, border;
    cv::resize(smooth, small, {}, 1.0 / less, 1.0 / less, cv::INTER_AREA);
    cv::resize(rim.inside, inside, small.size(), 0, 0, cv::INTER_NEAREST);
    cv::erode(inside, border, {}, {-1, -1}, 2, cv::BORDER_CONSTANT, cv::Scalar(0));
    border = plane(inside & ~border);
    Tones plain = tones;
    plain.shades.clear();
    plain.cell = tones.cell / less;
    const auto told = tell(small, inside, plain);
    for (const auto m : {Matter::board, Matter::copper}) {
        const cv::Mat1b tone = plane(told.matter == static_cast<int>(m));
        cv::Mat1i labels;
        cv::Mat stats, middles;
        const int n = cv::connectedComponentsWithStats(tone, labels, stats, middles, 4, CV_32S);
        int largest = 0;
        for (int k = 1; k < n; ++k)
            if (largest == 0 || stats.at<int>(k, cv::CC_STAT_AREA) > stats.at<int>(largest, cv::CC_STAT_AREA))
                largest = k;
        if (largest == 0) continue;
        const cv::Mat1b frame = plane(labels == largest);
        const double area = cv::countNonZero(frame), length = 0.5 * cv::countNonZero(border);
        if (area < mostly * cv::countNonZero(tone) || area > most_share * cv::countNonZero(inside) ||
            cv::countNonZero(frame & border) < mostly * cv::countNonZero(border) ||
            area < least_wide_mm * px_per_mm / less * length)
            continue;
        cv::Mat1b out;
        cv::resize(frame, out, smooth.size(), 0, 0, cv::INTER_NEAREST);
        return out;
    }
    return {};
}

/// What is left of the board when the frame is none of it.
void take_off(const cv::Mat1b& frame, Rim& rim) {
    cv::Mat1b rest = plane(rim.inside & ~frame);
    cv::erode(rest, rest, {}, {-1, -1}, 4);
    std::vector<std::vector<cv::Point>> rims;
    cv::findContours(rest, rims, cv::RETR_EXTERNAL, cv::CHAIN_APPROX_NONE);
    if (rims.empty()) return;
    const auto largest = std::max_element(rims.begin(), rims.end(), [](const auto& a, const auto& b) {
        return cv::contourArea(a) < cv::contourArea(b);
    });
    rim.inside = plane(cv::Mat1b::zeros(frame.size()));
    cv::drawContours(rim.inside, rims, static_cast<int>(largest - rims.begin()), cv::Scalar(255), cv::FILLED);
    cv::dilate(rim.inside, rim.inside, {}, {-1, -1}, 4);
    std::vector<std::vector<cv::Point>> outer;
    cv::findContours(rim.inside, outer, cv::RETR_EXTERNAL, cv::CHAIN_APPROX_NONE);
    if (!outer.empty()) rim.outline = outer.front();
    rim.seen = true;
}

}  // namespace

Side tell_apart(const cv::Mat3b& rgb, double px_per_mm, const std::vector<Touch>& touches,
                const Progress& progress) {
    Side side;
    cv::Mat3b smooth;
    cv::GaussianBlur(rgb, smooth, {0, 0}, 0.9);
    side.rim = find_rim(smooth, px_per_mm);
    if (progress.cancelled()) return side;
    side.tones = find_tones(smooth, side.rim.inside, px_per_mm);
    if (side.tones.doubt.empty() && !progress.cancelled())
        if (const auto frame = frame_of(smooth, side.rim, side.tones, px_per_mm); !frame.empty()) {
            take_off(frame, side.rim);
            side.tones = find_tones(smooth, side.rim.inside, px_per_mm);
        }
    if (progress.cancelled()) return side;
    name_shades(smooth, side.rim.inside, side.rim.seen, px_per_mm, touches, side.tones);
    if (progress.cancelled()) return side;
    side.told = tell(smooth, side.rim.inside, side.tones);
    open_metal(side.told.matter, px_per_mm);
    return side;
}

int agree(Side& front, Side& back) {
    constexpr double clear = 1.0;
    auto &f = front.tones, &b = back.tones;
    if (f.low.empty() || b.low.empty() || f.high_is_copper == b.high_is_copper) {
        // The same answer, or none: what one side knows, the other knows too.
        if (f.low.empty() || b.low.empty() || f.settled == b.settled) return -1;
    }
    if (!same_mask(f.low_mean, f.step_mean, b)) return -1;
    const bool front_knows = std::abs(f.vote) > std::abs(b.vote);
    auto& knows = front_knows ? f : b;
    auto& other = front_knows ? b : f;
    if (!knows.settled || !knows.doubt.empty() || std::abs(knows.vote) < clear) return -1;
    if (!other.doubt.empty() && other.doubt != copper_not_told) return -1;
    if (other.settled && std::abs(other.vote) > 0.6 * std::abs(knows.vote)) return -1;
    other.high_is_copper = knows.high_is_copper;
    other.settled = true;
    other.doubt.clear();
    return front_knows ? 1 : 0;
}

int odd_one(const Side& front, const Side& back) {
    constexpr double most_apart = 26.0, much_wider = 1.8;
    const auto &f = front.tones, &b = back.tones;
    if (!f.doubt.empty() || !b.doubt.empty() || cv::norm(f.low_mean - b.low_mean) > most_apart) return -1;
    const bool back_is_wider = b.grey_step > f.grey_step;
    const auto &wide = back_is_wider ? b : f, &narrow = back_is_wider ? f : b;
    if (wide.grey_step < much_wider * narrow.grey_step || !narrow.leads || !narrow.settled) return -1;
    if (wide.vote == vote_of_person) return -1;  // who looked at it knows better
    return back_is_wider ? 1 : 0;
}

bool tell_like(const cv::Mat3b& rgb, double px_per_mm, const std::vector<Touch>& touches, const Tones& like,
               Side& side) {
    cv::Mat3b smooth;
    cv::GaussianBlur(rgb, smooth, {0, 0}, 0.9);
    auto tones = find_tones(smooth, side.rim.inside, px_per_mm, &like);
    if (!tones.doubt.empty()) return false;
    side.tones = std::move(tones);
    name_shades(smooth, side.rim.inside, side.rim.seen, px_per_mm, touches, side.tones);
    side.told = tell(smooth, side.rim.inside, side.tones);
    open_metal(side.told.matter, px_per_mm);
    return true;
}

void tell_again(const cv::Mat3b& rgb, double px_per_mm, Side& side) {
    cv::Mat3b smooth;
    cv::GaussianBlur(rgb, smooth, {0, 0}, 0.9);
    side.told = tell(smooth, side.rim.inside, side.tones);
    open_metal(side.told.matter, px_per_mm);
}

}  // namespace grayrelic::scan_ground
