// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/gerber_words.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <numbers>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t longest_block = 1U << 20U, most_blocks = 100'000;

void put_utf8(std::string& out, unsigned code) {
    if (code < 0x80) {
        out += static_cast<char>(code);
    } else if (code < 0x800) {
        out += static_cast<char>(0xC0U | (code >> 6U));
        out += static_cast<char>(0x80U | (code & 0x3FU));
    } else {
        out += static_cast<char>(0xE0U | (code >> 12U));
        out += static_cast<char>(0x80U | ((code >> 6U) & 0x3FU));
        out += static_cast<char>(0x80U | (code & 0x3FU));
    }
}

}  // namespace

void GerberWords::skip_space() {
    while (at_ < text_.size() && static_cast<unsigned char>(text_[at_]) <= ' ')
        line_ += text_[at_++] == '\n' ? 1 : 0;
}

/// Up to '*', without the line ends within.
Result<std::string> GerberWords::block() {
    std::string out;
    while (at_ < text_.size()) {
        const char c = text_[at_++];
        if (c == '*') return out;
        if (c == '\n') ++line_;
        if (c == '\n' || c == '\r') continue;
        if (c == '%') return fail_at(name_, line_, "'%' within " + in_quotes(out), "'*' before it");
        if (c == '\0') return fail_at(name_, line_, "a byte 0", "text");
        out += c;
        if (out.size() > longest_block)
            return fail_at(name_, line_, "a block of over a megabyte", "'*' at its end");
    }
    return fail_at(name_, line_, "the end of the file within " + in_quotes(out), "'*': the file is cut");
}

Result<GerberWord> GerberWords::next() {
    GerberWord word;
    skip_space();
    word.line = line_;
    if (at_ >= text_.size()) return word;
    if (text_[at_] != '%') {
        auto text = block();
        if (!text) return fail(text.error());
        word.blocks.emplace_back(std::move(*text), word.line);
        return word;
    }
    ++at_;
    word.extended = true;
    for (;;) {
        skip_space();
        if (at_ >= text_.size())
            return fail_at(name_, word.line, "an extended command that never ends", "'%' at its end");
        if (text_[at_] == '%') {
            ++at_;
            break;
        }
        const auto line = line_;
        auto text = block();
        if (!text) return fail(text.error());
        if (word.blocks.size() >= most_blocks)
            return fail_at(name_, line, "a command of many blocks", "at most 100000");
        word.blocks.emplace_back(std::move(*text), line);
    }
    if (word.blocks.empty()) return next();
    return word;
}

std::string gerber_text(std::string_view text) {
    std::string out;
    for (std::size_t i = 0; i < text.size(); ++i) {
        if (text[i] == '\\' && i + 5 < text.size() && text[i + 1] == 'u') {
            unsigned code = 0;
            const auto* begin = text.data() + i + 2;
            const auto made = std::from_chars(begin, begin + 4, code, 16);
            const bool surrogate = code >= 0xD800 && code < 0xE000;
            if (made.ec == std::errc() && made.ptr == begin + 4 && code != 0 && !surrogate) {
                put_utf8(out, code);
                i += 5;
                continue;
            }
        }
        out += text[i];
    }
    return out;
}

BoardXY turned(BoardXY p, const ApertureTurn& t) {
    if (t == ApertureTurn{}) return p;
    const double x = static_cast<double>(t.mirror_x ? -p.x : p.x) * t.scale;
    const double y = static_cast<double>(t.mirror_y ? -p.y : p.y) * t.scale;
    const double quarter = t.turn_deg / 90;
    double c = 0, s = 0;
    if (quarter == std::round(quarter)) {
        static constexpr double cosines[] = {1, 0, -1, 0};
        const auto k = static_cast<std::size_t>(((static_cast<long>(std::fmod(quarter, 4)) % 4) + 4) % 4);
        c = cosines[k];
        s = cosines[(k + 3) % 4];
    } else {
        c = std::cos(t.turn_deg * std::numbers::pi / 180);
        s = std::sin(t.turn_deg * std::numbers::pi / 180);
    }
    return {static_cast<Nm>(std::llround(x * c - y * s)), static_cast<Nm>(std::llround(x * s + y * c))};
}

Result<Aperture> standard_aperture(std::string_view form, const std::vector<double>& values, double unit,
                                   const std::string& file, long line) {
    const auto nm = [&](std::size_t i) { return i < values.size() ? values[i] * unit : 0.0; };
    const auto bad = [&](const char* expected) {
        return fail_at(file, line, "the aperture " + in_quotes(form), expected);
    };
    Aperture a;
    a.line = line;
    std::size_t hole_at = 0;
    if (form == "C") {
        if (values.empty() || values.size() > 3 || values[0] < 0) return bad("C,diameter or C,diameterXhole");
        a.form = Aperture::Form::circle;
        a.width = a.height = nm(0);
        hole_at = 1;
    } else if (form == "R" || form == "O") {
        if (values.size() < 2 || values.size() > 4 || values[0] < 0 || values[1] < 0)
            return bad("widthXheight or widthXheightXhole");
        a.form = form == "R" ? Aperture::Form::rectangle : Aperture::Form::obround;
        a.width = nm(0);
        a.height = nm(1);
        hole_at = 2;
    } else {
        if (values.size() < 2 || values.size() > 5 || values[0] <= 0 || values[1] < 3 || values[1] > 12 ||
            values[1] != std::floor(values[1]))
            return bad("P,diameterXcorners with 3 to 12 corners");
        a.form = Aperture::Form::polygon;
        a.width = a.height = nm(0);
        a.corners = static_cast<int>(values[1]);
        a.turn_deg = values.size() > 2 ? values[2] : 0;
        hole_at = 3;
    }
    a.hole = nm(hole_at);
    if (a.hole < 0) return bad("a hole of 0 or more");
    const double w = a.width / 2, h = a.height / 2;
    const auto spot = [](double x, double y) {
        return BoardXY{static_cast<Nm>(std::llround(x)), static_cast<Nm>(std::llround(y))};
    };
    if (w <= 0 || h <= 0) return a;
    if (a.form == Aperture::Form::circle) {
        a.rings.push_back(circle_ring({}, w));
    } else if (a.form == Aperture::Form::rectangle) {
        a.rings.push_back({spot(-w, -h), spot(w, -h), spot(w, h), spot(-w, h)});
    } else if (a.form == Aperture::Form::obround) {
        a.rings.push_back(w > h ? stroke_ring(spot(h - w, 0), spot(w - h, 0), h)
                                : stroke_ring(spot(0, w - h), spot(0, h - w), w));
    } else {
        Ring ring;
        for (int i = 0; i < a.corners; ++i) {
            const double t = (2 * std::numbers::pi * i) / a.corners + a.turn_deg * std::numbers::pi / 180;
            ring.push_back(spot(w * std::cos(t), w * std::sin(t)));
        }
        a.rings.push_back(std::move(ring));
    }
    // A second size of the hole is of old files, where it was a rectangle.
    if (a.hole > 0) {
        const auto hole =
            values.size() > hole_at + 1
                ? Ring{spot(-a.hole / 2, -nm(hole_at + 1) / 2), spot(a.hole / 2, -nm(hole_at + 1) / 2),
                       spot(a.hole / 2, nm(hole_at + 1) / 2), spot(-a.hole / 2, nm(hole_at + 1) / 2)}
                : circle_ring({}, a.hole / 2);
        a.rings = rings_of(without(a.rings, {hole}));
    }
    return a;
}

}  // namespace grayrelic
