// SPDX-License-Identifier: GPL-3.0-or-later
// Extended commands: format, unit, apertures, polarity, attributes.
#include "core/board/gerber_reader.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <numbers>

#include "core/base/decimal.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr double nm_of_inch = 25.4e6, nm_of_mm = 1e6;
constexpr std::size_t most_apertures = 20'000, most_aperture_corners = 2'000'000;
constexpr Nm widest_aperture = 2'000'000'000;

}  // namespace

Status GerberReader::extended(const GerberWord& word) {
    const auto first = std::string_view(word.blocks.front().first);
    const auto code = first.substr(0, 2);
    if (code == "AM") return take_macro(word);
    for (const auto& [block, line] : word.blocks) {
        line_ = line;
        if (auto done = extended_block(block); !done) return done;
    }
    return {};
}

Status GerberReader::extended_block(std::string_view block) {
    const auto code = block.substr(0, 2), rest = block.size() > 2 ? block.substr(2) : std::string_view();
    if (code == "FS") return take_format(rest);
    if (code == "MO") return take_unit(rest == "IN", rest == "MM", block);
    if (code == "AD") return take_aperture(rest);
    if (code == "LP") {
        if (rest != "D" && rest != "C") return fault(in_quotes(block), "LPD or LPC");
        dark_ = rest == "D";
        return {};
    }
    if (code == "LM") {
        if (rest != "N" && rest != "X" && rest != "Y" && rest != "XY")
            return fault(in_quotes(block), "LMN, LMX, LMY or LMXY");
        turn_.mirror_x = rest.find('X') != std::string_view::npos;
        turn_.mirror_y = rest.find('Y') != std::string_view::npos;
        return {};
    }
    if (code == "LR" || code == "LS") {
        const auto v = decimal_number(rest, '.');
        if (!v || std::abs(*v) > 1e6 || (code == "LS" && (*v <= 0 || *v > 1000)))
            return fault(in_quotes(block), code == "LR" ? "a rotation in degrees" : "a scale above 0");
        (code == "LR" ? turn_.turn_deg : turn_.scale) = *v;
        return {};
    }
    if (code == "SR") return take_repeat(rest);
    if (code == "AB") return take_block(rest);
    if (code == "TF" || code == "TA" || code == "TO" || code == "TD") return take_attribute(code, rest);
    if (code == "IN" || code == "LN") return {};
    if (code == "IP") {
        if (rest == "POS") return {};
        return fault(in_quotes(block), "a positive image: export it without IPNEG");
    }
    return take_neutral(code, rest, block);
}

Status GerberReader::take_neutral(std::string_view code, std::string_view rest, std::string_view block) {
    const auto all = [&](std::string_view allowed) {
        return rest.find_first_not_of(allowed) == std::string_view::npos;
    };
    if (code == "OF" && all("AB0.+-")) return {};
    if (code == "MI" && all("AB0")) return {};
    if (code == "IR" && all("0")) return {};
    if (code == "AS" && rest == "AXBY") return {};
    if (code == "SF" && (rest == "A1B1" || rest == "A1.0B1.0" || rest == "A1" || all("AB01."))) {
        if (rest.find("A1") != std::string_view::npos || rest.empty()) return {};
    }
    for (const std::string_view known : {"OF", "SF", "MI", "IR", "AS", "IJ", "IO", "IF", "KO", "RO", "PF"})
        if (code == known)
            return fault(in_quotes(block),
                         fmt::format("no {}: export as X2, or RS-274X without image commands", known));
    return fault("the command " + in_quotes(block.substr(0, 20)), "a command of the layer format");
}

Status GerberReader::take_format(std::string_view rest) {
    std::size_t at = 0;
    if (at < rest.size() && (rest[at] == 'L' || rest[at] == 'T' || rest[at] == 'D'))
        trailing_omitted_ = rest[at++] == 'T';
    if (at < rest.size() && (rest[at] == 'A' || rest[at] == 'I')) {
        if (rest[at++] == 'I') return fault("incremental coordinates", "absolute ones: export with FSLA");
    }
    // Old files say lengths of N, G, D and M codes here: nothing follows from them.
    while (at + 1 < rest.size() && rest[at] != 'X') at += 2;
    if (rest.size() < at + 6 || rest[at] != 'X' || rest[at + 3] != 'Y')
        return fault("the format " + in_quotes(rest), "such as LAX26Y26");
    const auto digit = [&](std::size_t i) {
        return rest[at + i] >= '0' && rest[at + i] <= '7' ? rest[at + i] - '0' : -1;
    };
    const int digits[] = {digit(1), digit(2), digit(4), digit(5)};
    if (std::any_of(std::begin(digits), std::end(digits), [](int d) { return d < 0; }))
        return fault("the format " + in_quotes(rest), "digits from 0 to 7");
    if (digits[0] != digits[2] || digits[1] != digits[3])
        return fault("the format " + in_quotes(rest), "the same digits for X and Y");
    whole_digits_ = digits[0];
    decimals_ = digits[1];
    format_known_ = true;
    return {};
}

Status GerberReader::take_unit(bool inch, bool mm, std::string_view block) {
    if (!inch && !mm) return fault(in_quotes(block), "MOMM or MOIN");
    if (unit_ && *unit_ != (inch ? nm_of_inch : nm_of_mm) && !out_.objects.empty())
        return fault("another unit amid the file", "one unit for all of it");
    unit_ = inch ? nm_of_inch : nm_of_mm;
    out_.inch = inch;
    return {};
}

Status GerberReader::take_macro(const GerberWord& word) {
    const auto name = word.blocks.front().first.substr(2);
    if (name.empty()) return fault("a macro without a name", "%AMNAME*");
    auto macro = read_macro({word.blocks.begin() + 1, word.blocks.end()}, name_);
    if (!macro) return fail(macro.error());
    if (macros_.size() >= most_apertures) return fault("too many macros", "at most 20000");
    macros_[name] = std::move(*macro);
    return {};
}

Status GerberReader::take_aperture(std::string_view rest) {
    if (!unit_) return fault("an aperture before the unit", "%MO before it");
    if (rest.empty() || rest[0] != 'D') return fault("an aperture without D", "%ADDnn");
    int code = 0;
    const auto* end = rest.data() + rest.size();
    const auto [after, bad] = std::from_chars(rest.data() + 1, end, code);
    if (bad != std::errc() || code < 10) return fault("the aperture " + in_quotes(rest), "a number from 10");
    auto form = std::string_view(after, static_cast<std::size_t>(end - after));
    std::vector<double> values;
    if (const auto comma = form.find(','); comma != std::string_view::npos) {
        auto list = form.substr(comma + 1);
        form = form.substr(0, comma);
        while (!list.empty()) {
            const auto x = list.find_first_of("Xx");
            const auto v = decimal_number(trim(list.substr(0, x)), '.');
            if (!v || std::abs(*v) > 1e5)
                return fault("the size " + in_quotes(list.substr(0, x)), "a number such as 0.6");
            values.push_back(*v);
            list = x == std::string_view::npos ? std::string_view() : list.substr(x + 1);
        }
    }
    if (out_.apertures.size() >= most_apertures) return fault("too many apertures", "at most 20000");
    auto shaped = shape_aperture(form, values);
    if (!shaped) return fail(shaped.error());
    auto& a = *shaped;
    if (const auto it = aperture_attributes_.find(".AperFunction"); it != aperture_attributes_.end())
        a.function = it->second;
    const auto e = extent_of(a.rings);
    if (e.width() > widest_aperture || e.height() > widest_aperture ||
        std::max(a.width, a.height) > widest_mm * 1e6)
        return fault(fmt::format("an aperture of {:.0f} mm", std::max(to_mm(e.width()), a.width / 1e6)),
                     fmt::format("at most {:.0f} mm", widest_mm));
    for (const auto& ring : a.rings) aperture_corners_ += ring.size();
    if (aperture_corners_ > most_aperture_corners)
        return fault("apertures of too many corners",
                     fmt::format("at most {} in all", most_aperture_corners));
    known_[code] = static_cast<std::uint32_t>(out_.apertures.size());
    out_.apertures.push_back(std::move(a));
    return {};
}

Result<Aperture> GerberReader::shape_aperture(std::string_view form, const std::vector<double>& values) {
    if (form == "C" || form == "R" || form == "O" || form == "P")
        return standard_aperture(form, values, *unit_, name_, line_);
    const auto it = macros_.find(std::string(form));
    if (it == macros_.end())
        return fault("the aperture " + in_quotes(form), "C, R, O, P or a macro defined before");
    auto painted = paint_macro(it->second, values, *unit_, name_, line_);
    if (!painted) return fail(painted.error());
    Aperture a;
    a.line = line_;
    a.form = Aperture::Form::macro;
    a.rings = std::move(*painted);
    const auto e = extent_of(a.rings);
    a.width = static_cast<double>(e.width());
    a.height = static_cast<double>(e.height());
    return a;
}

Status GerberReader::take_attribute(std::string_view code, std::string_view rest) {
    const auto comma = rest.find(',');
    const auto name = std::string(rest.substr(0, comma));
    const auto value = comma == std::string_view::npos ? std::string() : std::string(rest.substr(comma + 1));
    if (name.size() > 4096 || value.size() > 65536)
        return fault("an attribute of many bytes", "at most 64 KiB");
    if (code == "TD") {
        if (name.empty()) {
            aperture_attributes_.clear();
            object_attributes_.clear();
        }
        aperture_attributes_.erase(name);
        object_attributes_.erase(name);
        marks_stale_ = true;
        return {};
    }
    if (name.empty()) return fault("an attribute without a name", "%TF, %TA or %TO with a name");
    if (code == "TF") out_.attributes[name] = value;
    if (code == "TA") aperture_attributes_[name] = value;
    if (code == "TO") {
        object_attributes_[name] = value;
        marks_stale_ = true;
    }
    return {};
}

std::uint32_t GerberReader::current_marks() {
    if (!marks_stale_) return marks_;
    marks_stale_ = false;
    ObjectMarks m;
    const auto value = [&](const char* name) {
        const auto it = object_attributes_.find(name);
        return it == object_attributes_.end() ? std::string() : it->second;
    };
    // A pad of several nets has them separated by commas; the first stands for it.
    m.net = gerber_text(value(".N").substr(0, value(".N").find(',')));
    const auto pin = value(".P");
    if (!pin.empty()) {
        const auto parts = split(pin, ',');
        m.ref = gerber_text(parts[0]);
        if (parts.size() > 1) m.pin = gerber_text(parts[1]);
    } else {
        m.ref = gerber_text(value(".C"));
    }
    if (m == out_.marks[marks_]) return marks_;
    marks_ = m == ObjectMarks{} ? 0 : static_cast<std::uint32_t>(out_.marks.size());
    if (marks_ != 0) out_.marks.push_back(std::move(m));
    return marks_;
}

}  // namespace grayrelic
