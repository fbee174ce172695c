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

namespace {

using Rows = std::vector<std::vector<Place>>;

double apart(const Place& a, const Place& b) {
    return std::hypot(a.x_mm - b.x_mm, a.y_mm - b.y_mm);
}

/// The places turned back by an angle, in rows that are more than `gap` apart.
Rows rows_along(const std::vector<Place>& places, double angle, double gap) {
    std::vector<Place> turned;
    turned.reserve(places.size());
    for (const auto& q : places)
        turned.push_back({q.x_mm * std::cos(angle) + q.y_mm * std::sin(angle),
                          -q.x_mm * std::sin(angle) + q.y_mm * std::cos(angle)});
    std::sort(turned.begin(), turned.end(), [](const Place& a, const Place& b) { return a.y_mm < b.y_mm; });
    Rows rows;
    for (const auto& q : turned)
        if (rows.empty() || q.y_mm - rows.back().back().y_mm > gap)
            rows.push_back({q});
        else
            rows.back().push_back(q);
    for (auto& row : rows)
        std::sort(row.begin(), row.end(), [](const Place& a, const Place& b) { return a.x_mm < b.x_mm; });
    return rows;
}

/// Turned so that as few rows as possible hold them all, by the ways between neighbours.
Rows fewest_rows(const std::vector<Place>& p, double least) {
    Rows best;
    for (std::size_t i = 0; i < p.size(); ++i)
        for (std::size_t j = 0; j < p.size(); ++j) {
            if (i == j || apart(p[i], p[j]) > least * 2.2) continue;
            auto rows = rows_along(p, std::atan2(p[j].y_mm - p[i].y_mm, p[j].x_mm - p[i].x_mm), least / 3);
            if (best.empty() || rows.size() < best.size()) best = std::move(rows);
        }
    return best;
}

double middle_height(const std::vector<Place>& row) {
    double sum = 0;
    for (const auto& q : row) sum += q.y_mm;
    return sum / static_cast<double>(row.size());
}

}  // namespace

std::optional<MeasuredFace> measure_face(std::vector<Place> p, double px_per_mm) {
    if (p.size() < 2 || !(px_per_mm > 0)) return std::nullopt;
    double least = std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i < p.size(); ++i)
        for (std::size_t j = i + 1; j < p.size(); ++j) least = std::min(least, apart(p[i], p[j]));
    if (!(least > 0)) return std::nullopt;
    const auto rows = fewest_rows(p, least);
    double sum = 0;
    std::size_t steps = 0;
    for (const auto& row : rows) {
        sum += row.back().x_mm - row.front().x_mm;
        steps += row.size() - 1;
    }
    MeasuredFace out;
    out.contacts = static_cast<int>(p.size());
    out.uncertainty_mm = std::max(0.1, 1.5 / px_per_mm);
    const bool in_rows = rows.size() * 2 <= p.size() + 1 && steps > 0;
    out.pitch_mm = (in_rows ? sum / static_cast<double>(steps) : least) / px_per_mm;
    if (!in_rows) return out;
    out.rows = static_cast<int>(rows.size());
    if (rows.size() > 1)
        out.row_pitch_mm = (middle_height(rows.back()) - middle_height(rows.front())) /
                           static_cast<double>(rows.size() - 1) / px_per_mm;
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
