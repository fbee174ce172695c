// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/gerber_reader.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <numbers>

#include "core/base/decimal.hpp"
#include "core/base/text.hpp"

namespace grayrelic {

Result<GerberLayer> GerberReader::read(std::string_view text) {
    GerberWords words(text, name_);
    for (std::size_t count = 0;; ++count) {
        if (count % 4096 == 0) {
            if (progress_.cancelled()) return fail_cancelled();
            progress_.report(static_cast<double>(words.at()) / static_cast<double>(text.size() + 1));
        }
        auto word = words.next();
        if (!word) return fail(word.error());
        line_ = word->line;
        if (word->blocks.empty()) break;
        if (auto done = word->extended ? extended(*word) : data(word->blocks.front().first); !done)
            return fail(done.error());
        if (ended_) break;
    }
    if (in_region_) return fault("a region that never ends", "G37");
    if (!frames_.empty()) return fault("a block or repeat that never ends", "%AB*% or %SR*%");
    if (!ended_) return fault("the end of the file without M02", "M02 as the last command: the file is cut");
    if (!unit_ && !out_.objects.empty()) return fault("no %MO", "%MOMM*% or %MOIN*%");
    return std::move(out_);
}

/// Attributes in remarks, for readers of older files.
Status GerberReader::remark(std::string_view block) {
    const auto mark = block.find("#@!");
    if (mark == std::string_view::npos) return {};
    const auto text = trim(block.substr(mark + 3));
    const auto code = text.substr(0, 2);
    if ((code == "TF" || code == "TA" || code == "TO" || code == "TD") && text.size() > 2)
        return take_attribute(code, text.substr(2));
    return {};
}

Status GerberReader::take_word(Block& b, char letter, std::string_view digits) {
    if (letter == 'X' || letter == 'Y' || letter == 'I' || letter == 'J') {
        const auto v = coordinate(digits);
        if (!v) return fail(v.error());
        (letter == 'X' ? b.x : letter == 'Y' ? b.y : letter == 'I' ? b.i : b.j) = *v;
        return {};
    }
    int code = -1;
    const auto made = std::from_chars(digits.data(), digits.data() + digits.size(), code);
    if (made.ec != std::errc() || made.ptr != digits.data() + digits.size() || code < 0)
        return fault("the word " + in_quotes(std::string(1, letter) + std::string(digits)),
                     "G, D, M, X, Y, I or J with a number");
    switch (letter) {
        case 'G': return take_g(code);
        case 'D': b.d = code; return {};
        case 'N': return {};
        case 'M':
            if (code > 2) return fault(fmt::format("M{:02}", code), "M02");
            ended_ = ended_ || code != 1;
            return {};
        default: break;
    }
    return fault("the word " + in_quotes(std::string(1, letter)), "G, D, M, X, Y, I or J");
}

Status GerberReader::data(std::string_view block) {
    if (block.starts_with("G04") || block.starts_with("G4 ")) return remark(block);
    Block b;
    while (!block.empty()) {
        const char letter = block[0];
        if (letter == ' ' || letter == '\t') {
            block.remove_prefix(1);
            continue;
        }
        const auto end = std::min(block.size(), block.find_first_not_of("+-.0123456789", 1));
        const auto digits = block.substr(1, end - 1);
        block.remove_prefix(end);
        if (auto taken = take_word(b, letter, digits); !taken) return taken;
    }
    if (b.d && *b.d >= 10) {
        const auto it = known_.find(*b.d);
        if (it == known_.end())
            return fault(fmt::format("aperture D{}", *b.d), "one that was defined before");
        aperture_ = it->second;
        b.d.reset();
        if (!b.x && !b.y) return {};
    }
    if (!b.d && !b.x && !b.y && !b.i && !b.j) return {};
    if (!b.d) {
        if (!last_d_) return fault("a place without D01, D02 or D03", "one of them");
        b.d = *last_d_;
        if (*b.d != 2)
            note("coordinates without an operation: the last one is taken again, as old files mean it");
    }
    last_d_ = *b.d;
    return operate(*b.d, b.x, b.y, b.i, b.j);
}

Result<double> GerberReader::coordinate(std::string_view text) {
    if (text.find('.') != std::string_view::npos) {
        const auto v = decimal_number(text, '.');
        if (!v || !unit_ || std::abs(*v) > 1e5) return fault("the coordinate " + in_quotes(text), "a number");
        note("a coordinate with a decimal point is not of the format: taken as it stands");
        return *v * *unit_;
    }
    if (!format_known_ || !unit_) return fault("a coordinate before %FS and %MO", "both at the beginning");
    const bool negative = text.starts_with('-');
    auto digits = text;
    if (negative || digits.starts_with('+')) digits.remove_prefix(1);
    if (digits.empty() || digits.size() > 16 ||
        digits.find_first_not_of("0123456789") != std::string_view::npos)
        return fault("the coordinate " + in_quotes(text), "up to 16 digits");
    double v = 0;
    for (const char c : digits) v = v * 10 + (c - '0');
    if (trailing_omitted_)
        for (auto n = static_cast<int>(digits.size()); n < whole_digits_ + decimals_; ++n) v *= 10;
    v *= *unit_ / std::pow(10.0, decimals_);
    return negative ? -v : v;
}

Status GerberReader::take_g(int code) {
    switch (code) {
        case 1: motion_ = 1; return {};
        case 2: motion_ = 2; return {};
        case 3: motion_ = 3; return {};
        case 36: {
            if (in_region_) return fault("G36 within a region", "G37 before it");
            in_region_ = true;
            contours_.clear();
            contour_.clear();
            return {};
        }
        case 37: return end_region();
        case 54:
        case 55: return {};
        case 70: return take_unit(true, false, "G70");
        case 71: return take_unit(false, true, "G71");
        case 74: single_quadrant_ = true; return {};
        case 75: single_quadrant_ = false; return {};
        case 90: return {};
        case 91: return fault("G91, incremental coordinates", "absolute ones: export with FSLA");
        case 10:
        case 11:
        case 12: return fault(fmt::format("G{}", code), "G01: export as RS-274X or X2");
        case 0: motion_ = 1; return {};
        default: return fault(fmt::format("G{:02}", code), "G01, G02, G03, G36, G37, G74 or G75");
    }
}

Status GerberReader::operate(int d, std::optional<double> x, std::optional<double> y, std::optional<double> i,
                             std::optional<double> j) {
    const auto nm = [](double v) { return static_cast<Nm>(std::llround(std::clamp(v, -1e13, 1e13))); };
    const BoardXY from = here_;
    const BoardXY to{x ? nm(*x) : here_.x, y ? nm(*y) : here_.y};
    here_ = to;
    if (d == 2) {
        if (in_region_) close_contour();
        return {};
    }
    if (d != 1 && d != 3) return fault(fmt::format("D{:02}", d), "D01, D02 or D03");
    if (d == 3 && in_region_) return fault("a flash within a region", "D01 and D02 there");
    GerberObject o;
    o.line = line_;
    o.dark = dark_;
    o.from = from;
    o.to = to;
    o.marks = current_marks();
    const bool arc = d == 1 && motion_ != 1;
    if (arc) {
        o.clockwise = motion_ == 2;
        if (auto found = arc_middle(o, nm(i.value_or(0)), nm(j.value_or(0))); !found) return found;
        // Without quadrants nothing can be a whole circle; an arc from a place to itself is none.
        if (single_quadrant_ && from == to) return {};
    }
    if (in_region_) return extend_contour(o, arc);
    if (!aperture_) return fault("an operation before an aperture is chosen", "Dnn before it");
    o.aperture = *aperture_;
    o.turn = turn_ == ApertureTurn{} ? 0 : index_of_turn(turn_);
    const auto& a = out_.apertures[o.aperture];
    if (d == 3) {
        o.kind = GerberObject::Kind::flash;
        if (a.form == Aperture::Form::block) return flash_block(o);
        return push(o);
    }
    o.kind = arc ? GerberObject::Kind::arc : GerberObject::Kind::line;
    if (a.form == Aperture::Form::block || a.form == Aperture::Form::macro)
        return fault("a line drawn with a macro or block",
                     "a circle or rectangle: export lines with round apertures");
    return push(o);
}

Status GerberReader::arc_middle(GerberObject& o, Nm i, Nm j) {
    if (!single_quadrant_) {
        o.middle = o.from + BoardXY{i, j};
        const double r0 = distance(o.from, o.middle), r1 = distance(o.to, o.middle);
        if (r0 == 0 && !(o.from == o.to))
            return fault("an arc about its own beginning", "I and J that lead to its middle");
        if (std::abs(r0 - r1) > std::max(0.05e6, 0.02 * r0))
            return fault(fmt::format("an arc of radius {:.3f} mm at its beginning and {:.3f} mm at its end",
                                     r0 / 1e6, r1 / 1e6),
                         "one radius: is G75 missing?");
        if (std::abs(r0 - r1) > 0.005e6)
            note(fmt::format("an arc whose radius differs by {:.3f} mm between its ends",
                             std::abs(r0 - r1) / 1e6));
        return {};
    }
    // I and J have no sign: of four middles the one with at most a quarter turn and the best radius.
    double best = 1e300;
    for (const BoardXY s : {BoardXY{i, j}, BoardXY{-i, j}, BoardXY{i, -j}, BoardXY{-i, -j}}) {
        const auto middle = o.from + s;
        const double miss = std::abs(distance(o.from, middle) - distance(o.to, middle));
        const auto a = o.from - middle, b = o.to - middle;
        const double cross = static_cast<double>(a.x) * static_cast<double>(b.y) -
                             static_cast<double>(a.y) * static_cast<double>(b.x);
        const double dot = static_cast<double>(a.x) * static_cast<double>(b.x) +
                           static_cast<double>(a.y) * static_cast<double>(b.y);
        const double turn = std::atan2(o.clockwise ? -cross : cross, dot);
        if (turn < -1e-3 || turn > std::numbers::pi / 2 + 1e-3 || miss >= best) continue;
        best = miss;
        o.middle = middle;
    }
    if (best > 0.05e6 + 0.02 * distance(o.from, o.middle))
        return fault("an arc of more than a quarter, or of two radii",
                     "a quarter at most in G74: export with G75");
    return {};
}

Result<GerberLayer> read_gerber(std::string_view text, const std::string& name, Progress& progress) {
    if (text.size() > most_gerber_bytes)
        return fail_at(name, 1, fmt::format("{} bytes", text.size()), "a layer of at most 128 MiB");
    if (trim(text).empty()) return fail_at(name, 1, "an empty file", "a layer in the Gerber format");
    return GerberReader(name, progress).read(text);
}

}  // namespace grayrelic
