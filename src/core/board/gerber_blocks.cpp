// SPDX-License-Identifier: GPL-3.0-or-later
// Step and repeat, block apertures and regions: objects are gathered apart and put back when they end.
#include "core/board/gerber_reader.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <numbers>

#include "core/base/decimal.hpp"
#include "core/base/text.hpp"
#include "core/board/edge_index.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t deepest_block = 8, most_gerber_notes = 200, most_crossings = 2'000;
constexpr Nm plot_reach = 2'000'000'000;

}  // namespace

Status GerberReader::take_repeat(std::string_view rest) {
    if (in_region_) return fault("SR within a region", "G37 before it");
    if (!frames_.empty() && !frames_.back().block) {
        if (auto ended = end_repeat(); !ended) return ended;
    }
    if (rest.empty() || rest == "X1Y1" || rest == "X1Y1I0J0") return {};
    if (!unit_) return fault("SR before the unit", "%MO before it");
    Frame f;
    double values[4] = {1, 1, 0, 0};
    for (std::size_t i = 0; i < rest.size();) {
        const auto letter = std::string_view("XYIJ").find(rest[i]);
        const auto end = rest.find_first_of("XYIJ", i + 1);
        const auto v = letter == std::string_view::npos
                           ? std::nullopt
                           : decimal_number(rest.substr(i + 1, end - i - 1), '.');
        if (!v) return fault("the repeat " + in_quotes(rest), "X…Y…I…J…");
        values[letter] = *v;
        i = end == std::string_view::npos ? rest.size() : end;
    }
    if (!(values[0] >= 1 && values[0] <= 10'000 && values[1] >= 1 && values[1] <= 10'000))
        return fault("the repeat " + in_quotes(rest), "1 to 10000 times");
    if (std::abs(values[2]) > 1e4 || std::abs(values[3]) > 1e4)
        return fault("the repeat " + in_quotes(rest), "steps on a board");
    f.across = static_cast<int>(values[0]);
    f.up = static_cast<int>(values[1]);
    f.step_x = values[2] * *unit_;
    f.step_y = values[3] * *unit_;
    return begin_frame(std::move(f));
}

Status GerberReader::begin_frame(Frame f) {
    if (frames_.size() >= deepest_block)
        return fault("blocks in blocks", fmt::format("at most {} deep", deepest_block));
    f.outside = std::move(out_.objects);
    f.outside_dark = dark_;
    out_.objects.clear();
    frames_.push_back(std::move(f));
    return {};
}

Status GerberReader::end_repeat() {
    auto f = std::move(frames_.back());
    frames_.pop_back();
    auto inside = std::move(out_.objects);
    out_.objects = std::move(f.outside);
    if (inside.size() * static_cast<std::size_t>(f.across) * static_cast<std::size_t>(f.up) + total() >
        most_gerber_objects)
        return fault("too many objects by repeating", fmt::format("at most {}", most_gerber_objects));
    for (int y = 0; y < f.up; ++y)
        for (int x = 0; x < f.across; ++x)
            for (const auto& o : inside)
                if (auto put = put_moved(o,
                                         {static_cast<Nm>(std::llround(f.step_x * x)),
                                          static_cast<Nm>(std::llround(f.step_y * y))},
                                         {}, true);
                    !put)
                    return put;
    return {};
}

Status GerberReader::take_block(std::string_view rest) {
    if (in_region_) return fault("AB within a region", "G37 before it");
    if (rest.empty()) {
        if (frames_.empty() || !frames_.back().block)
            return fault("AB without a block that is open", "%ABDnn*% before it");
        auto f = std::move(frames_.back());
        frames_.pop_back();
        blocks_[f.code] = std::move(out_.objects);
        out_.objects = std::move(f.outside);
        dark_ = f.outside_dark;
        Aperture a;
        a.form = Aperture::Form::block;
        a.line = line_;
        known_[f.code] = static_cast<std::uint32_t>(out_.apertures.size());
        block_of_[known_[f.code]] = f.code;
        out_.apertures.push_back(std::move(a));
        return {};
    }
    Frame f;
    f.block = true;
    if (rest[0] != 'D' ||
        std::from_chars(rest.data() + 1, rest.data() + rest.size(), f.code).ec != std::errc() || f.code < 10)
        return fault("the block " + in_quotes(rest), "%ABDnn*%");
    return begin_frame(std::move(f));
}

Status GerberReader::put_moved(GerberObject o, BoardXY by, const ApertureTurn& turn, bool dark) {
    const auto move = [&](BoardXY p) { return turned(p, turn) + by; };
    if (!(turn == ApertureTurn{})) {
        const bool flips = turn.mirror_x != turn.mirror_y;
        auto own = out_.turns[o.turn];
        if (flips) own.turn_deg = -own.turn_deg;
        own.mirror_x = own.mirror_x != turn.mirror_x;
        own.mirror_y = own.mirror_y != turn.mirror_y;
        own.turn_deg += turn.turn_deg;
        own.scale *= turn.scale;
        o.turn = index_of_turn(own);
        if (flips) o.clockwise = !o.clockwise;
    }
    if (!dark) o.dark = !o.dark;
    o.from = move(o.from);
    o.to = move(o.to);
    o.middle = move(o.middle);
    if (o.kind == GerberObject::Kind::region) {
        Rings moved = out_.regions[o.region];
        for (auto& ring : moved) {
            for (auto& p : ring) p = move(p);
            ring = turned_left(std::move(ring));
        }
        o.region = static_cast<std::uint32_t>(out_.regions.size());
        for (const auto& ring : moved) region_points_ += ring.size();
        if (region_points_ > most_region_points)
            return fault("regions of too many points", "at most 8 million");
        out_.regions.push_back(std::move(moved));
    }
    return push(o);
}

Status GerberReader::push(const GerberObject& o) {
    for (const auto p : {o.from, o.to})
        if (std::abs(p.x) > plot_reach || std::abs(p.y) > plot_reach)
            return fault(fmt::format("a place {:.0f} mm from the origin",
                                     std::max(std::abs(to_mm(p.x)), std::abs(to_mm(p.y)))),
                         fmt::format("within {:.0f} mm; are format and unit right?", widest_mm));
    if (out_.objects.size() >= most_gerber_objects)
        return fault("too many objects", fmt::format("at most {}", most_gerber_objects));
    out_.objects.push_back(o);
    return {};
}

std::uint32_t GerberReader::index_of_turn(const ApertureTurn& t) {
    const auto it = std::find(out_.turns.begin(), out_.turns.end(), t);
    if (it != out_.turns.end()) return static_cast<std::uint32_t>(it - out_.turns.begin());
    out_.turns.push_back(t);
    return static_cast<std::uint32_t>(out_.turns.size() - 1);
}

Status GerberReader::flash_block(const GerberObject& at) {
    const auto it = blocks_.find(block_of_[at.aperture]);
    if (it == blocks_.end()) return {};
    // The block may be long: its objects count, however often it is flashed.
    if (it->second.size() + total() > most_gerber_objects)
        return fault("too many objects by blocks", fmt::format("at most {}", most_gerber_objects));
    const auto turn = out_.turns[at.turn];
    const auto inside = it->second;
    for (auto o : inside) {
        o.line = at.line;
        if (auto put = put_moved(o, at.to, turn, at.dark); !put) return put;
    }
    return {};
}

Status GerberReader::extend_contour(const GerberObject& o, bool arc) {
    if (contour_.empty()) contour_.push_back(o.from);
    region_marks_ = o.marks;
    if (arc) {
        const auto points = arc_points(o.from, o.to, o.middle, o.clockwise);
        contour_.insert(contour_.end(), points.begin(), points.end());
    } else {
        contour_.push_back(o.to);
    }
    if (region_points_ + contour_.size() > most_region_points)
        return fault("regions of too many points", "at most 8 million");
    return {};
}

void GerberReader::close_contour() {
    if (contour_.size() > 1) {
        if (!(contour_.front() == contour_.back()))
            note(
                fmt::format("a region's contour that does not close: {:.3f} mm are missing, closed with "
                            "a straight line",
                            distance(contour_.front(), contour_.back()) / 1e6));
        else
            contour_.pop_back();
        region_points_ += contour_.size();
        if (contour_.size() >= 3) contours_.push_back(std::move(contour_));
    }
    contour_.clear();
}

Status GerberReader::end_region() {
    if (!in_region_) return fault("G37 without G36", "G36 before it");
    close_contour();
    in_region_ = false;
    if (contours_.empty()) {
        note("a region without a contour");
        return {};
    }
    Rings rings;
    for (auto& c : contours_) {
        auto ring = turned_left(std::move(c));
        // A contour that crosses itself has parts that turn the other way: filled all the same, and said.
        const auto crossings = crossings_of(ring, most_crossings);
        if (!crossings)
            return fault("a region whose contour crosses itself over and over",
                         "contours that do not cross themselves");
        if (*crossings > 0) {
            note(
                "a region whose contour crosses itself: the format forbids it; all that it encloses is taken "
                "as filled");
            const auto filled = joined({ring});
            rings.insert(rings.end(), filled.begin(), filled.end());
            continue;
        }
        rings.push_back(std::move(ring));
    }
    contours_.clear();
    GerberObject o;
    o.kind = GerberObject::Kind::region;
    o.line = line_;
    o.dark = dark_;
    o.marks = region_marks_;
    o.region = static_cast<std::uint32_t>(out_.regions.size());
    const auto e = extent_of(rings);
    o.from = {e.left, e.bottom};
    o.to = {e.right, e.top};
    out_.regions.push_back(std::move(rings));
    return push(o);
}

std::size_t GerberReader::total() const {
    auto n = out_.objects.size();
    for (const auto& f : frames_) n += f.outside.size();
    return n;
}

Failure GerberReader::fault(std::string found, std::string expected) const {
    return fail_at(name_, line_, std::move(found), std::move(expected));
}

void GerberReader::note(std::string text) {
    if (out_.notes.size() < most_gerber_notes && said_.insert(text).second)
        out_.notes.push_back({line_, std::move(text)});
}

}  // namespace grayrelic
