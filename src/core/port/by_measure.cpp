// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/port/by_measure.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

std::optional<int> whole(std::string_view text) {
    if (text.empty() || text.size() > 4) return std::nullopt;
    int out = 0;
    for (const char c : text) {
        if (c < '0' || c > '9') return std::nullopt;
        out = out * 10 + (c - '0');
    }
    return out > 0 ? std::optional(out) : std::nullopt;
}

std::optional<double> millimetres(std::string_view text) {
    if (!text.ends_with("mm")) return std::nullopt;
    std::string number(trim(text.substr(0, text.size() - 2)));
    std::replace(number.begin(), number.end(), ',', '.');
    const auto v = parse_number(number, Unit::none);
    return v && *v > 0.1 && *v < 200 ? std::optional(*v) : std::nullopt;
}

/// Heights of the rows, from the top.
std::vector<double> rows_of(const Connector& c) {
    std::vector<double> out;
    for (const auto& x : c.contacts)
        if (std::none_of(out.begin(), out.end(), [&](double y) { return std::abs(y - x.y_mm) < 0.2; }))
            out.push_back(x.y_mm);
    std::sort(out.rbegin(), out.rend());
    return out;
}

/// Contacts along rows, rather than around a circle: every row but the shortest has at least two.
bool stands_in_rows(const Connector& c, const std::vector<double>& rows) {
    return !c.coaxial() && rows.size() * 2 <= c.contacts.size() + 1 && c.column_pitch_mm() > 0;
}

struct Fit {
    double off = 0;
    bool fits = true;
    void length(std::optional<double> measured, double is, double uncertainty) {
        if (!measured) return;
        const double d = std::abs(*measured - is);
        off = std::max(off, d);
        fits = fits && d <= uncertainty + 0.01 * is;
    }
};

std::optional<MeasureMatch> match(const Connector& c, const MeasuredFace& f) {
    const auto rows = rows_of(c);
    const bool in_rows = stands_in_rows(c, rows);
    if (f.contacts && static_cast<std::size_t>(*f.contacts) != c.contacts.size()) return std::nullopt;
    if (f.rows && (in_rows ? rows.size() != static_cast<std::size_t>(*f.rows) : true)) return std::nullopt;
    const double pitch = in_rows ? c.column_pitch_mm() : c.pitch_mm();
    const double apart = in_rows && rows.size() > 1 ? rows[0] - rows[1] : 0.0;
    Fit fit;
    fit.length(f.pitch_mm, pitch, f.uncertainty_mm);
    if (f.row_pitch_mm) fit.length(f.row_pitch_mm, apart, f.uncertainty_mm);
    if (!fit.fits) return std::nullopt;
    MeasureMatch m;
    m.id = c.id;
    m.name = c.name;
    m.off_mm = fit.off;
    m.says = apart > 0 ? fmt::format("{:.2f} mm from contact to contact, rows {:.2f} mm apart", pitch, apart)
                       : fmt::format("{:.2f} mm from contact to contact", pitch);
    return m;
}

}  // namespace

std::optional<MeasuredFace> measured_from_text(std::string_view text) {
    MeasuredFace out;
    bool any_length = false, any_count = false;
    std::vector<std::string_view> words;
    for (const auto w : split(text, ' '))
        if (!trim(w).empty()) words.push_back(trim(w));
    for (std::size_t i = 0; i < words.size(); ++i) {
        auto word = words[i];
        if (word == "," || word == "with" || word == "and") continue;
        if (word.ends_with(',')) word.remove_suffix(1);
        const auto next = i + 1 < words.size() ? words[i + 1] : std::string_view();
        const bool spaced = next == "mm" || next == "mm,";
        if (const auto mm = millimetres(spaced ? std::string(word) + "mm" : std::string(word))) {
            (out.pitch_mm ? out.row_pitch_mm : out.pitch_mm) = *mm;
            any_length = true;
            if (spaced) ++i;
            continue;
        }
        if (const auto x = word.find('x'); x != std::string_view::npos) {
            const auto r = whole(word.substr(0, x)), n = whole(word.substr(x + 1));
            if (r && n) {
                out.rows = *r;
                out.contacts = *r * *n;
                any_count = true;
                continue;
            }
        }
        const auto n = whole(word);
        const bool rows = next.starts_with("row");
        const bool contacts =
            next.starts_with("contact") || next.starts_with("pin") || next.starts_with("way");
        if (!n || !(rows || contacts)) return std::nullopt;
        (rows ? out.rows : out.contacts) = *n;
        any_count = true;
        ++i;
    }
    // A count alone is a search for a name ("15").
    return any_length || (any_count && out.rows && out.contacts) ? std::optional(out) : std::nullopt;
}

std::optional<MeasuredFace> measure_face(std::vector<Place> p, double px_per_mm) {
    if (p.size() < 2 || !(px_per_mm > 0)) return std::nullopt;
    double least = std::numeric_limits<double>::infinity();
    std::pair<std::size_t, std::size_t> nearest;
    for (std::size_t i = 0; i < p.size(); ++i)
        for (std::size_t j = i + 1; j < p.size(); ++j)
            if (const double d = std::hypot(p[i].x_mm - p[j].x_mm, p[i].y_mm - p[j].y_mm); d < least) {
                least = d;
                nearest = {i, j};
            }
    if (least <= 0) return std::nullopt;
    // Turned so that the way from a contact to its nearest neighbour that most others share lies level.
    std::size_t best_rows = p.size() + 1;
    std::vector<std::vector<Place>> best;
    for (std::size_t i = 0; i < p.size(); ++i)
        for (std::size_t j = 0; j < p.size(); ++j) {
            const double d = std::hypot(p[i].x_mm - p[j].x_mm, p[i].y_mm - p[j].y_mm);
            if (i == j || d > least * 2.2) continue;
            const double angle = std::atan2(p[j].y_mm - p[i].y_mm, p[j].x_mm - p[i].x_mm);
            std::vector<Place> turned;
            for (const auto& q : p)
                turned.push_back({q.x_mm * std::cos(angle) + q.y_mm * std::sin(angle),
                                  -q.x_mm * std::sin(angle) + q.y_mm * std::cos(angle)});
            std::sort(turned.begin(), turned.end(),
                      [](const Place& a, const Place& b) { return a.y_mm < b.y_mm; });
            std::vector<std::vector<Place>> rows;
            for (const auto& q : turned)
                if (rows.empty() || q.y_mm - rows.back().back().y_mm > least / 3)
                    rows.push_back({q});
                else
                    rows.back().push_back(q);
            if (rows.size() >= best_rows) continue;
            best_rows = rows.size();
            best = std::move(rows);
        }
    MeasuredFace out;
    out.contacts = static_cast<int>(p.size());
    out.uncertainty_mm = std::max(0.1, 1.5 / px_per_mm);
    double sum = 0;
    std::size_t steps = 0;
    std::vector<double> heights;
    for (auto& row : best) {
        std::sort(row.begin(), row.end(), [](const Place& a, const Place& b) { return a.x_mm < b.x_mm; });
        double y = 0;
        for (const auto& q : row) y += q.y_mm;
        heights.push_back(y / static_cast<double>(row.size()));
        for (std::size_t i = 1; i < row.size(); ++i) {
            sum += row[i].x_mm - row[i - 1].x_mm;
            ++steps;
        }
    }
    const bool in_rows = best.size() * 2 <= p.size() + 1 && steps > 0;
    out.pitch_mm = (in_rows ? sum / static_cast<double>(steps) : least) / px_per_mm;
    if (in_rows) {
        out.rows = static_cast<int>(best.size());
        if (best.size() > 1)
            out.row_pitch_mm =
                (heights.back() - heights.front()) / static_cast<double>(best.size() - 1) / px_per_mm;
    }
    return out;
}

std::vector<MeasureMatch> connectors_by_measure(const ConnectorLibrary& library, const MeasuredFace& face) {
    std::vector<MeasureMatch> out;
    const auto look_at = [&](const std::string& id) {
        const auto c = library.find(id);
        if (!c) return;
        if (auto m = match(*c, face)) out.push_back(std::move(*m));
    };
    for (const auto& file : library.files()) {
        if (!file.family) {
            look_at(file.id);
            continue;
        }
        if (!face.contacts) continue;  // of any length: nothing would be found by it
        const int rows = file.rows > 0 ? file.rows : face.rows.value_or(0);
        if (rows <= 0 || *face.contacts % rows != 0) continue;
        ConnectorSize size;
        size.rows = rows;
        size.columns = *face.contacts / rows;
        if (size.columns > file.most) continue;
        auto pitches = file.pitches_mm;
        if (pitches.empty()) pitches.push_back(0);
        for (std::size_t i = 0; i < pitches.size(); ++i) {
            size.pitch_mm = i == 0 ? 0.0 : pitches[i];
            look_at(ConnectorLibrary::id_of(file, size));
        }
    }
    std::stable_sort(out.begin(), out.end(),
                     [](const auto& a, const auto& b) { return a.off_mm < b.off_mm; });
    return out;
}

}  // namespace grayrelic
