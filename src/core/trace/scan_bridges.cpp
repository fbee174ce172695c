// SPDX-License-Identifier: GPL-3.0-or-later
// Where two pieces of copper meet below ink or dirt, in a narrow place or a pale one.
#include <algorithm>
#include <cmath>
#include <map>
#include <unordered_map>

#include "core/trace/scan_ground.hpp"

namespace grayrelic::scan_ground {
namespace {

constexpr std::size_t most_contacts = 400'000;
constexpr int near_px = 3;  ///< contacts farther apart are two meetings

struct Contact {
    cv::Point at;
    int reached = 0;
    bool covered = false, copper = false;
};

std::uint64_t cell_key(cv::Point p) {
    return (static_cast<std::uint64_t>(static_cast<std::uint32_t>(p.y / near_px)) << 32) |
           static_cast<std::uint32_t>(p.x / near_px);
}

void measure(Meeting& m, const std::vector<Contact>& list) {
    cv::Point2d sum(0, 0);
    double reached = 0;
    int covered = 0, copper = 0;
    for (const auto& c : list) {
        sum += cv::Point2d(c.at);
        reached += c.reached;
        covered += c.covered ? 1 : 0;
        copper += c.copper ? 1 : 0;
        m.pixels.push_back(c.at);
    }
    const auto n = static_cast<double>(list.size());
    m.at = sum * (1.0 / n);
    m.half = reached / n + 1;
    double xx = 0, yy = 0, xy = 0;
    for (const auto& c : list) {
        const double dx = c.at.x - m.at.x, dy = c.at.y - m.at.y;
        xx += dx * dx, yy += dy * dy, xy += dx * dy;
    }
    const double angle = 0.5 * std::atan2(2 * xy, xx - yy);
    m.way = {std::cos(angle), std::sin(angle)};
    double least = 0, most = 0;
    for (const auto& c : list) {
        const double along = (c.at.x - m.at.x) * m.way.x + (c.at.y - m.at.y) * m.way.y;
        least = std::min(least, along), most = std::max(most, along);
    }
    m.length = most - least + 1;
    m.at += m.way * (0.5 * (least + most));
    m.cause = covered * 2 > static_cast<int>(list.size())  ? Meeting::Cause::covered
              : copper * 2 > static_cast<int>(list.size()) ? Meeting::Cause::narrow
                                                           : Meeting::Cause::pale;
}

/// Whether one of both pieces is metal here: from it to copper under a mask the tones pass through others.
bool at_metal(const Meeting& m, const cv::Mat1b& metal) {
    int near = 0;
    for (const auto at : m.pixels) {
        bool found = false;
        for (int dy = -3; dy <= 3 && !found; ++dy)
            for (int dx = -3; dx <= 3 && !found; ++dx) {
                const int x = at.x + dx, y = at.y + dy;
                found = x >= 0 && y >= 0 && x < metal.cols && y < metal.rows && metal(y, x) != 0;
            }
        near += found ? 1 : 0;
    }
    return near * 2 > static_cast<int>(m.pixels.size());
}

/// Contacts of neighbouring cells belong together.
std::vector<std::vector<Contact>> groups_of(const std::vector<Contact>& list) {
    std::vector<std::vector<Contact>> out;
    std::unordered_map<std::uint64_t, std::vector<std::size_t>> cells;
    for (std::size_t k = 0; k < list.size(); ++k) cells[cell_key(list[k].at)].push_back(k);
    std::vector<char> taken(list.size(), 0);
    const auto take_from = [&](cv::Point at, std::vector<std::size_t>& queue) {
        const auto found = cells.find(cell_key(at));
        if (found == cells.end()) return;
        for (const auto o : found->second)
            if (taken[o] == 0) taken[o] = 1, queue.push_back(o);
    };
    for (std::size_t first = 0; first < list.size(); ++first) {
        if (taken[first] != 0) continue;
        std::vector<std::size_t> queue{first};
        taken[first] = 1;
        out.emplace_back();
        while (!queue.empty()) {
            const auto k = queue.back();
            queue.pop_back();
            out.back().push_back(list[k]);
            for (int dy = -1; dy <= 1; ++dy)
                for (int dx = -1; dx <= 1; ++dx)
                    take_from(list[k].at + cv::Point(dx * near_px, dy * near_px), queue);
        }
    }
    return out;
}

}  // namespace

std::vector<Meeting> find_meetings(const Pieces& pieces, const cv::Mat1b& matter, const cv::Mat1b& cover) {
    std::map<std::pair<int, int>, std::vector<Contact>> by_pair;
    std::size_t many = 0;
    for (int y = 0; y + 1 < pieces.label.rows && many < most_contacts; ++y) {
        const auto* l = pieces.label.ptr<int>(y);
        const auto* below = pieces.label.ptr<int>(y + 1);
        for (int x = 0; x + 1 < pieces.label.cols; ++x) {
            const int p = l[x];
            if (p <= 0) continue;
            for (const int q : {l[x + 1], below[x]}) {
                if (q <= 0 || q == p) continue;
                const bool copper = matter(y, x) == static_cast<int>(Matter::copper) ||
                                    matter(y, x) == static_cast<int>(Matter::metal);
                by_pair[std::minmax(p, q)].push_back(
                    {{x, y}, pieces.reached(y, x), cover(y, x) != 0, copper});
                ++many;
            }
        }
    }
    std::vector<Meeting> out;
    for (auto& [pair, list] : by_pair) {
        for (const auto& group : groups_of(list)) {
            Meeting m;
            m.a = pair.first;
            m.b = pair.second;
            measure(m, group);
            out.push_back(std::move(m));
        }
    }
    return out;
}

double goes_on(const Meeting& m, const Pieces& pieces, const cv::Mat1b& metal, double px_per_mm) {
    constexpr double seen_arriving = 0.9, from_both = 0.85, from_one = 0.75;
    constexpr double most_cover_mm = 0.75, most_length_mm = 4.0, most_blur_px = 3.4, no_gap_px = 2.2;
    // From a pad's metal to copper under the mask within the blur: no gap has room there. With a little more
    // room a track must be seen to arrive.
    const bool into_pad = m.half <= most_blur_px && m.length >= 2.5 && at_metal(m, metal);
    if (into_pad && m.half <= no_gap_px) return 1;
    if ((m.cause != Meeting::Cause::covered && !into_pad) || m.length < 1.5) return 0;
    if (2 * m.half > most_cover_mm * px_per_mm + 5 || m.length > most_length_mm * px_per_mm) return 0;
    const cv::Point2d across(-m.way.y, m.way.x);
    const auto label = [&](cv::Point2d p) {
        const int x = static_cast<int>(std::lround(p.x)), y = static_cast<int>(std::lround(p.y));
        return x < 0 || y < 0 || x >= pieces.label.cols || y >= pieces.label.rows ? 0 : pieces.label(y, x);
    };
    // A track comes up to the cover on one side at least: as wide farther back as here, board on both its
    // flanks. No track ends in nothing, so it goes on to what lies across.
    int arrives = 0;
    int met[2] = {0, 0};
    const auto is_metal = [&](cv::Point2d p) {
        return metal(std::clamp(static_cast<int>(std::lround(p.y)), 0, metal.rows - 1),
                     std::clamp(static_cast<int>(std::lround(p.x)), 0, metal.cols - 1)) != 0;
    };
    const auto in_pour = [&](int side) {
        const double sign = side == 0 ? -1 : 1;
        for (const double deep : {1.2, 2.4})
            for (const double aside : {-1.6, 0.0, 1.6}) {
                const auto p =
                    m.at + across * (sign * (m.half + 3 + deep * m.length)) + m.way * (aside * m.length);
                if (label(p) != met[side] || is_metal(p)) return false;
            }
        return true;
    };
    for (const int side : {0, 1}) {
        const double sign = side == 0 ? -1 : 1;
        double width[2] = {0, 0};
        cv::Point2d middle[2];
        bool flanked[2] = {true, true}, pad = false;
        // Where what is sure begins.
        double begin = std::max(1.0, m.half - 2.0);
        const auto sure = [&](double out) {
            const auto p = m.at + across * (sign * out);
            const int l = label(p);
            return (l == m.a || l == m.b) && pieces.reached(static_cast<int>(std::lround(p.y)),
                                                            static_cast<int>(std::lround(p.x))) == 0;
        };
        while (begin < m.half + 6.0 && !sure(begin)) begin += 0.5;
        for (const int step : {0, 1}) {
            const auto start = m.at + across * (sign * (begin + 1.0 + 3.5 * step));
            const int piece = label(start);
            if (step == 0) met[side] = piece;
            if (piece != met[side] || (piece != m.a && piece != m.b)) break;
            pad |= is_metal(start);
            middle[step] = start;
            for (const double way : {-1.0, 1.0}) {
                double d = 0;
                while (d < 3 * m.length + 6 && label(start + m.way * (way * d)) == piece) d += 0.5;
                width[step] += d;
                middle[step] += m.way * (0.5 * way * d);
                // Not another piece's, and wide enough to be seen.
                for (const double more : {1.5, 2.5})
                    flanked[step] &= label(start + m.way * (way * (d + more))) == -1;
            }
        }
        const double most = 1.8 * m.length + 8;
        if (into_pad && !pad && width[0] > 0 && width[0] < most && flanked[0]) return seen_arriving;
        if (pad || !(width[0] > 0) || !(width[1] > 0) || width[0] > most ||
            std::abs(width[0] - width[1]) > 0.3 * width[0] + 1.5 || !flanked[0] || !flanked[1])
            continue;
        // Straight ahead the first copper must be the other piece: below a stroke that lies across two tracks
        // each goes on in itself.
        const auto way = middle[0] - middle[1];
        const double length = std::hypot(way.x, way.y);
        for (double on = 2.0; on < 2 * m.half + 8.0; on += 0.5) {
            const auto p = middle[0] + way * (on / std::max(1e-6, length));
            const int l = label(p);
            if (l == 0 ||
                pieces.reached(static_cast<int>(std::lround(p.y)), static_cast<int>(std::lround(p.x))) != 0)
                continue;
            if (on > 3.0 && l == met[side]) continue;
            arrives += l > 0 && l != met[side] && (l == m.a || l == m.b) ? 1 : 0;
            if (l != met[side]) break;
        }
    }
    if (arrives == 0 || met[0] <= 0 || met[1] <= 0 || met[0] == met[1]) return 0;
    if (arrives == 2) return from_both;
    // Tracks end in tracks and pads; a stroke along the rim of a pour hides its clearance, too.
    return in_pour(0) || in_pour(1) ? 0 : from_one;
}

}  // namespace grayrelic::scan_ground
