// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <numbers>
#include <optional>
#include <set>

#include "core/base/decimal.hpp"
#include "core/base/text.hpp"
#include "core/board/aperture_macro.hpp"
#include "core/board/gerber.hpp"
#include "core/board/gerber_words.hpp"

namespace grayrelic {
namespace {

constexpr double nm_of_inch = 25.4e6, nm_of_mm = 1e6;
constexpr std::size_t most_apertures = 20'000, deepest_block = 8, most_notes = 200;
constexpr Nm farthest = 2'000'000'000;

class GerberReader {
  public:
    GerberReader(const std::string& name, Progress& progress) : name_(name), progress_(progress) {}

    Result<GerberLayer> read(std::string_view text) {
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
        if (!ended_)
            return fault("the end of the file without M02", "M02 as the last command: the file is cut");
        if (!unit_ && !out_.objects.empty()) return fault("no %MO", "%MOMM*% or %MOIN*%");
        return std::move(out_);
    }

  private:
    [[nodiscard]] Failure fault(std::string found, std::string expected) const {
        return fail_at(name_, line_, std::move(found), std::move(expected));
    }
    void note(std::string text) {
        if (out_.notes.size() < most_notes && said_.insert(text).second)
            out_.notes.push_back({line_, std::move(text)});
    }

    // ---- extended commands

    Status extended(const GerberWord& word) {
        const auto first = std::string_view(word.blocks.front().first);
        const auto code = first.substr(0, 2);
        if (code == "AM") return take_macro(word);
        for (const auto& [block, line] : word.blocks) {
            line_ = line;
            if (auto done = extended_block(block); !done) return done;
        }
        return {};
    }

    Status extended_block(std::string_view block) {
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

    /// Image commands of old files: fine where they do nothing.
    Status take_neutral(std::string_view code, std::string_view rest, std::string_view block) {
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
        for (const std::string_view known :
             {"OF", "SF", "MI", "IR", "AS", "IJ", "IO", "IF", "KO", "RO", "PF"})
            if (code == known)
                return fault(in_quotes(block),
                             fmt::format("no {}: export as X2, or RS-274X without image commands", known));
        return fault("the command " + in_quotes(block.substr(0, 20)), "a command of the layer format");
    }

    Status take_format(std::string_view rest) {
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

    Status take_unit(bool inch, bool mm, std::string_view block) {
        if (!inch && !mm) return fault(in_quotes(block), "MOMM or MOIN");
        if (unit_ && *unit_ != (inch ? nm_of_inch : nm_of_mm) && !out_.objects.empty())
            return fault("another unit amid the file", "one unit for all of it");
        unit_ = inch ? nm_of_inch : nm_of_mm;
        out_.inch = inch;
        return {};
    }

    Status take_macro(const GerberWord& word) {
        const auto name = word.blocks.front().first.substr(2);
        if (name.empty()) return fault("a macro without a name", "%AMNAME*");
        auto macro = read_macro({word.blocks.begin() + 1, word.blocks.end()}, name_);
        if (!macro) return fail(macro.error());
        if (macros_.size() >= most_apertures) return fault("too many macros", "at most 20000");
        macros_[name] = std::move(*macro);
        return {};
    }

    Status take_aperture(std::string_view rest) {
        if (!unit_) return fault("an aperture before the unit", "%MO before it");
        if (rest.empty() || rest[0] != 'D') return fault("an aperture without D", "%ADDnn");
        int code = 0;
        const auto* end = rest.data() + rest.size();
        const auto [after, bad] = std::from_chars(rest.data() + 1, end, code);
        if (bad != std::errc() || code < 10)
            return fault("the aperture " + in_quotes(rest), "a number from 10");
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
        if (e.width() > farthest || e.height() > farthest || std::max(a.width, a.height) > widest_mm * 1e6)
            return fault(fmt::format("an aperture of {:.0f} mm", std::max(to_mm(e.width()), a.width / 1e6)),
                         fmt::format("at most {:.0f} mm", widest_mm));
        known_[code] = static_cast<std::uint32_t>(out_.apertures.size());
        out_.apertures.push_back(std::move(a));
        return {};
    }

    Result<Aperture> shape_aperture(std::string_view form, const std::vector<double>& values) {
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

    // ---- step and repeat, block apertures: objects are gathered apart and put back when they end

    struct Frame {
        bool block = false;
        int code = 0;  ///< of a block
        int across = 1, up = 1;
        double step_x = 0, step_y = 0;
        std::vector<GerberObject> outside;
        bool outside_dark = true;
    };

    Status take_repeat(std::string_view rest) {
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

    Status begin_frame(Frame f) {
        if (frames_.size() >= deepest_block)
            return fault("blocks in blocks", fmt::format("at most {} deep", deepest_block));
        f.outside = std::move(out_.objects);
        f.outside_dark = dark_;
        out_.objects.clear();
        frames_.push_back(std::move(f));
        return {};
    }

    Status end_repeat() {
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

    Status take_block(std::string_view rest) {
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
            std::from_chars(rest.data() + 1, rest.data() + rest.size(), f.code).ec != std::errc() ||
            f.code < 10)
            return fault("the block " + in_quotes(rest), "%ABDnn*%");
        return begin_frame(std::move(f));
    }

    /// The object moved, and turned as an aperture is: mirrored, then turned, then scaled.
    Status put_moved(GerberObject o, BoardPoint by, const ApertureTurn& turn, bool dark) {
        const auto move = [&](BoardPoint p) { return turned(p, turn) + by; };
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

    [[nodiscard]] std::size_t total() const {
        auto n = out_.objects.size();
        for (const auto& f : frames_) n += f.outside.size();
        return n;
    }

    Status push(const GerberObject& o) {
        for (const auto p : {o.from, o.to})
            if (std::abs(p.x) > farthest || std::abs(p.y) > farthest)
                return fault(fmt::format("a place {:.0f} mm from the origin",
                                         std::max(std::abs(to_mm(p.x)), std::abs(to_mm(p.y)))),
                             fmt::format("within {:.0f} mm; are format and unit right?", widest_mm));
        if (out_.objects.size() >= most_gerber_objects)
            return fault("too many objects", fmt::format("at most {}", most_gerber_objects));
        out_.objects.push_back(o);
        return {};
    }

    std::uint32_t index_of_turn(const ApertureTurn& t) {
        const auto it = std::find(out_.turns.begin(), out_.turns.end(), t);
        if (it != out_.turns.end()) return static_cast<std::uint32_t>(it - out_.turns.begin());
        out_.turns.push_back(t);
        return static_cast<std::uint32_t>(out_.turns.size() - 1);
    }

    // ---- attributes

    Status take_attribute(std::string_view code, std::string_view rest) {
        const auto comma = rest.find(',');
        const auto name = std::string(rest.substr(0, comma));
        const auto value =
            comma == std::string_view::npos ? std::string() : std::string(rest.substr(comma + 1));
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

    std::uint32_t current_marks() {
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

    // ---- data blocks

    Status data(std::string_view block) {
        if (block.empty()) return {};
        if (block.starts_with("G04") || block.starts_with("G4 ")) {
            // Attributes in remarks, for readers of older files.
            const auto mark = block.find("#@!");
            if (mark == std::string_view::npos) return {};
            const auto text = trim(block.substr(mark + 3));
            const auto code = text.substr(0, 2);
            if ((code == "TF" || code == "TA" || code == "TO" || code == "TD") && text.size() > 2)
                return take_attribute(code, text.substr(2));
            return {};
        }
        std::optional<double> x, y, i, j;
        std::optional<int> d;
        while (!block.empty()) {
            const char letter = block[0];
            if (letter == ' ' || letter == '\t') {
                block.remove_prefix(1);
                continue;
            }
            const auto end = std::min(block.size(), block.find_first_not_of("+-.0123456789", 1));
            const auto digits = block.substr(1, end - 1);
            block.remove_prefix(end);
            if (letter == 'X' || letter == 'Y' || letter == 'I' || letter == 'J') {
                const auto v = coordinate(digits);
                if (!v) return fail(v.error());
                (letter == 'X' ? x : letter == 'Y' ? y : letter == 'I' ? i : j) = *v;
                continue;
            }
            int code = -1;
            const auto made = std::from_chars(digits.data(), digits.data() + digits.size(), code);
            if (made.ec != std::errc() || made.ptr != digits.data() + digits.size() || code < 0)
                return fault("the word " + in_quotes(std::string(1, letter) + std::string(digits)),
                             "G, D, M, X, Y, I or J with a number");
            if (letter == 'G') {
                if (auto done = take_g(code); !done) return done;
            } else if (letter == 'D') {
                d = code;
            } else if (letter == 'M') {
                if (code == 0 || code == 2)
                    ended_ = true;
                else if (code != 1)
                    return fault(fmt::format("M{:02}", code), "M02");
            } else if (letter != 'N') {
                return fault("the word " + in_quotes(std::string(1, letter)), "G, D, M, X, Y, I or J");
            }
        }
        if (d && *d >= 10) {
            const auto it = known_.find(*d);
            if (it == known_.end())
                return fault(fmt::format("aperture D{}", *d), "one that was defined before");
            aperture_ = it->second;
            d.reset();
            if (!x && !y) return {};
        }
        if (!d && !x && !y && !i && !j) return {};
        if (!d) {
            if (!last_d_) return fault("a place without D01, D02 or D03", "one of them");
            d = *last_d_;
            if (*d != 2)
                note("coordinates without an operation: the last one is taken again, as old files mean it");
        }
        last_d_ = *d;
        return operate(*d, x, y, i, j);
    }

    Result<double> coordinate(std::string_view text) {
        if (text.find('.') != std::string_view::npos) {
            const auto v = decimal_number(text, '.');
            if (!v || !unit_ || std::abs(*v) > 1e5)
                return fault("the coordinate " + in_quotes(text), "a number");
            note("a coordinate with a decimal point is not of the format: taken as it stands");
            return *v * *unit_;
        }
        if (!format_known_ || !unit_)
            return fault("a coordinate before %FS and %MO", "both at the beginning");
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

    Status take_g(int code) {
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

    Status operate(int d, std::optional<double> x, std::optional<double> y, std::optional<double> i,
                   std::optional<double> j) {
        const auto nm = [](double v) { return static_cast<Nm>(std::llround(std::clamp(v, -1e13, 1e13))); };
        const BoardPoint from = here_;
        const BoardPoint to{x ? nm(*x) : here_.x, y ? nm(*y) : here_.y};
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

    Status flash_block(const GerberObject& at) {
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

    Status arc_middle(GerberObject& o, Nm i, Nm j) {
        if (!single_quadrant_) {
            o.middle = o.from + BoardPoint{i, j};
            const double r0 = distance(o.from, o.middle), r1 = distance(o.to, o.middle);
            if (r0 == 0 && !(o.from == o.to))
                return fault("an arc about its own beginning", "I and J that lead to its middle");
            if (std::abs(r0 - r1) > std::max(0.05e6, 0.02 * r0))
                return fault(
                    fmt::format("an arc of radius {:.3f} mm at its beginning and {:.3f} mm at its end",
                                r0 / 1e6, r1 / 1e6),
                    "one radius: is G75 missing?");
            if (std::abs(r0 - r1) > 0.005e6)
                note(fmt::format("an arc whose radius differs by {:.3f} mm between its ends",
                                 std::abs(r0 - r1) / 1e6));
            return {};
        }
        // I and J have no sign: of four middles the one with at most a quarter turn and the best radius.
        double best = 1e300;
        for (const BoardPoint s :
             {BoardPoint{i, j}, BoardPoint{-i, j}, BoardPoint{i, -j}, BoardPoint{-i, -j}}) {
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

    // ---- regions

    Status extend_contour(const GerberObject& o, bool arc) {
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

    void close_contour() {
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

    Status end_region() {
        if (!in_region_) return fault("G37 without G36", "G36 before it");
        close_contour();
        in_region_ = false;
        if (contours_.empty()) {
            note("a region without a contour");
            return {};
        }
        Rings rings;
        for (auto& c : contours_) {
            const double plain = std::abs(signed_area(c));
            auto ring = turned_left(std::move(c));
            // A contour that crosses itself has parts that turn the other way: filled all the same, and said.
            if (ring.size() <= 20'000) {
                const auto filled = joined({ring});
                const double area = signed_area(filled);
                if (std::abs(area - plain) > 1e-6 * std::max(area, plain) + 1e6) {
                    note(
                        "a region whose contour crosses itself: the format forbids it; all that it encloses "
                        "is taken as filled");
                    rings.insert(rings.end(), filled.begin(), filled.end());
                    continue;
                }
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

    const std::string& name_;
    Progress& progress_;
    GerberLayer out_;
    long line_ = 0;
    std::optional<double> unit_;  ///< nanometres
    int whole_digits_ = 0, decimals_ = 0;
    bool format_known_ = false, trailing_omitted_ = false;
    bool ended_ = false, dark_ = true, in_region_ = false, single_quadrant_ = false, marks_stale_ = false;
    int motion_ = 1;
    std::optional<int> last_d_;
    std::optional<std::uint32_t> aperture_;
    BoardPoint here_;
    ApertureTurn turn_;
    std::uint32_t marks_ = 0, region_marks_ = 0;
    std::size_t region_points_ = 0;
    Ring contour_;
    Rings contours_;
    std::map<int, std::uint32_t> known_;
    std::map<std::string, ApertureMacro> macros_;
    std::map<std::uint32_t, int> block_of_;
    std::map<int, std::vector<GerberObject>> blocks_;
    std::map<std::string, std::string> aperture_attributes_, object_attributes_;
    std::vector<Frame> frames_;
    std::set<std::string> said_;
};

}  // namespace

Result<GerberLayer> read_gerber(std::string_view text, const std::string& name, Progress& progress) {
    if (text.size() > most_gerber_bytes)
        return fail_at(name, 1, fmt::format("{} bytes", text.size()), "a layer of at most 128 MiB");
    if (trim(text).empty()) return fail_at(name, 1, "an empty file", "a layer in the Gerber format");
    return GerberReader(name, progress).read(text);
}

}  // namespace grayrelic
