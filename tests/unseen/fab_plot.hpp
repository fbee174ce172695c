// SPDX-License-Identifier: GPL-3.0-or-later
// Writes one layer in one of the many ways of the published Gerber layer format.
#pragma once

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <random>
#include <string>

namespace unseen::fab {

using std::string;

struct P {
    double x, y;
};

/// Writes one layer in one of the format's many ways.
class Plotter {
  public:
    Plotter(std::mt19937_64& chance, bool inch, const string& function) : chance_(chance), inch_(inch) {
        trailing_ = pick(4) == 0;
        decimals_ = inch ? 6 : 4 + static_cast<int>(pick(3));
        whole_ = inch ? 2 + static_cast<int>(pick(2)) : 3 + static_cast<int>(pick(2));
        crlf_ = pick(3) == 0 ? "\r\n" : "\n";
        if (pick(2) == 0) line("G04 made for a test*");
        line(fmt::format("%FS{}AX{}{}Y{}{}*%", trailing_ ? 'T' : 'L', whole_, decimals_, whole_, decimals_));
        line(inch ? "%MOIN*%" : "%MOMM*%");
        if (!function.empty())
            line(pick(3) == 0 ? fmt::format("G04 #@! TF.FileFunction,{}*", function)
                              : fmt::format("%TF.FileFunction,{}*%", function));
        if (pick(2) == 0) line("%LPD*%");
        if (pick(2) == 0)
            line("G75*");
        else
            quadrants_ = false;
        line("G01*");
    }
    std::size_t pick(std::size_t n) { return chance_() % n; }

    void flash(P at, const string& aperture) {
        choose(aperture);
        line(xy(at) + "D03*");
    }
    void track(P a, P b, double width) {
        choose(fmt::format("C,{:.6f}", unit(width)));
        line(xy(a) + "D02*");
        if (pick(3) == 0) {
            const P middle{(a.x + b.x) / 2, (a.y + b.y) / 2};
            line(xy(middle) + "D01*");
        }
        line(xy(b) + "D01*");
    }
    /// A rectangle as a region.
    void box(P low, P high) {
        line("G36*");
        line(xy(low) + "D02*");
        if (pick(2) == 0) line("G01*");
        for (const P p : {P{high.x, low.y}, high, P{low.x, high.y}, low}) line(xy(p) + "D01*");
        line("G37*");
    }
    void frame(P low, P high, double corner, double width) {
        choose(fmt::format("C,{:.6f}", unit(width)));
        if (!quadrants_) line("G75*");
        quadrants_ = true;
        const double r = corner;
        line(xy({low.x + r, low.y}) + "D02*");
        const auto arc = [&](P to, double i, double j) {
            line("G03*");
            line(xy(to) + fmt::format("I{}J{}D01*", number(i), number(j)));
            line("G01*");
        };
        line(xy({high.x - r, low.y}) + "D01*");
        if (r > 0) arc({high.x, low.y + r}, 0, r);
        line(xy({high.x, high.y - r}) + "D01*");
        if (r > 0) arc({high.x - r, high.y}, -r, 0);
        line(xy({low.x + r, high.y}) + "D01*");
        if (r > 0) arc({low.x, high.y - r}, 0, -r);
        line(xy({low.x, low.y + r}) + "D01*");
        if (r > 0) arc({low.x + r, low.y}, r, 0);
    }
    void polarity(bool dark) { line(dark ? "%LPD*%" : "%LPC*%"); }
    void line(const string& text) { out_ += text + crlf_; }
    [[nodiscard]] double unit(double mm) const { return inch_ ? mm / 25.4 : mm; }
    string done() {
        line("M02*");
        return out_;
    }
    /// A pad of about this size, in any form.
    string pad(double size) {
        switch (pick(6)) {
            case 0: return fmt::format("R,{0:.6f}X{0:.6f}", unit(size));
            case 1: return fmt::format("O,{:.6f}X{:.6f}", unit(size), unit(size * 1.3));
            case 2: return fmt::format("P,{:.6f}X8X22.5", unit(size * 1.1));
            case 3: return fmt::format("C,{:.6f}X{:.6f}", unit(size), unit(size / 3));
            case 4: {
                // A rectangle with round corners, as a macro with parameters.
                if (!macro_)
                    line(
                        "%AMROUNDED*\n0 width, height, "
                        "radius*\n$4=$1-2x$3*$5=$2-2x$3*\n21,1,$1,$5,0,0,0*21,1,$4,$2,0,0,0*\n"
                        "1,1,2x$3,$4/2,$5/2*1,1,2x$3,-$4/2,$5/2*1,1,2x$3,-$4/2,-$5/2*1,1,2x$3,$4/2,-$5/2*%");
                macro_ = true;
                return fmt::format("ROUNDED,{0:.6f}X{0:.6f}X{1:.6f}", unit(size), unit(size / 5));
            }
            default: return fmt::format("C,{:.6f}", unit(size));
        }
    }

  private:
    void choose(const string& aperture) {
        const auto [it, fresh] = codes_.emplace(aperture, static_cast<int>(10 + codes_.size()));
        if (fresh) line(fmt::format("%ADD{}{}*%", it->second, aperture));
        if (fresh || now_ != it->second) line(fmt::format("{}D{}*", pick(5) == 0 ? "G54" : "", it->second));
        now_ = it->second;
    }
    string number(double mm) const {
        const auto n = std::llround(unit(mm) * std::pow(10.0, decimals_));
        auto digits = std::to_string(std::llabs(n));
        if (trailing_) {
            digits =
                string(std::max<std::size_t>(static_cast<std::size_t>(whole_ + decimals_), digits.size()) -
                           digits.size(),
                       '0') +
                digits;
            while (digits.size() > 1 && digits.back() == '0') digits.pop_back();
        }
        return (n < 0 ? "-" : "") + digits;
    }
    string xy(P p) {
        // A coordinate that stays may be left out.
        string out;
        const auto x = number(p.x), y = number(p.y);
        if (x != x_ || pick(2) == 0) out += "X" + x;
        if (y != y_ || pick(2) == 0 || out.empty()) out += "Y" + y;
        x_ = x;
        y_ = y;
        return out;
    }
    std::mt19937_64& chance_;
    bool inch_, trailing_ = false, macro_ = false, quadrants_ = true;
    int decimals_ = 6, whole_ = 3, now_ = -1;
    string crlf_, out_, x_ = "?", y_ = "?";
    std::map<string, int> codes_;
};

}  // namespace unseen::fab
