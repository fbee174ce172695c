// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/face_match.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

/// Contacts stand within this of where they should, or they do not fit: a pin's play in its hole.
constexpr double fits_mm = 0.2;
/// Another pitch is one that differs by more than this share, and fits far better than the data's own.
constexpr double same_pitch = 0.008;

struct XY {
    double x = 0, y = 0;
};

XY turned_by(XY p, int quarter) {
    switch (quarter & 3) {
        case 1: return {-p.y, p.x};
        case 2: return {-p.x, -p.y};
        case 3: return {p.y, -p.x};
        default: return p;
    }
}

struct Fit {
    int quarter = 0;
    bool mirrored = false;
    double rigid = 1e300;   ///< farthest off, unscaled
    double scaled = 1e300;  ///< farthest off, with the best scale
    double scale = 1;
};

XY middle_of(const std::vector<XY>& places) {
    XY m;
    for (const auto& p : places) m = {m.x + p.x, m.y + p.y};
    const auto n = static_cast<double>(places.size());
    return {m.x / n, m.y / n};
}

Fit fit(const std::vector<XY>& board, const std::vector<XY>& data, int quarter, bool mirrored) {
    Fit out;
    out.quarter = quarter;
    out.mirrored = mirrored;
    const auto mb = middle_of(board);
    std::vector<XY> turned;
    for (auto p : data) {
        if (mirrored) p.x = -p.x;
        turned.push_back(turned_by(p, quarter));
    }
    const auto md = middle_of(turned);
    double dot = 0, square = 0;
    for (std::size_t i = 0; i < board.size(); ++i) {
        const XY b{board[i].x - mb.x, board[i].y - mb.y}, d{turned[i].x - md.x, turned[i].y - md.y};
        dot += b.x * d.x + b.y * d.y;
        square += d.x * d.x + d.y * d.y;
    }
    out.scale = square > 0 ? dot / square : 1;
    out.rigid = out.scaled = 0;
    for (std::size_t i = 0; i < board.size(); ++i) {
        const XY b{board[i].x - mb.x, board[i].y - mb.y}, d{turned[i].x - md.x, turned[i].y - md.y};
        out.rigid = std::max(out.rigid, std::hypot(b.x - d.x, b.y - d.y));
        out.scaled = std::max(out.scaled, std::hypot(b.x - out.scale * d.x, b.y - out.scale * d.y));
    }
    return out;
}

/// The best of the four turns.
Fit best_of(const std::vector<XY>& board, const std::vector<XY>& data, bool mirrored, bool scaled) {
    Fit best;
    for (int q = 0; q < 4; ++q) {
        const auto f = fit(board, data, q, mirrored);
        const double now = scaled ? (f.scale > 0 ? f.scaled : 1e300) : f.rigid;
        const double was = scaled ? best.scaled : best.rigid;
        if (now < was - 1e-9) best = f;
    }
    return best;
}

std::string plain_number(std::string_view number) {
    // "01" and "1", "a1" and "A1" are one contact.
    std::string out;
    for (const char c : trim(number)) out += static_cast<char>(c >= 'a' && c <= 'z' ? c - 32 : c);
    const auto first = out.find_first_not_of('0');
    if (first != std::string::npos && first > 0 && out.find_first_not_of("0123456789") == std::string::npos)
        out = out.substr(first);
    return out;
}

/// Contacts by number that both have; what only one has goes into the match.
struct Common {
    std::vector<XY> have, want;
    bool any_pads = false;
};

Common common_contacts(const std::vector<NumberedPlace>& board, const std::vector<NumberedPlace>& data,
                       FaceMatch& out) {
    std::map<std::string, XY> at;
    std::map<std::string, std::string> spelled;
    for (const auto& p : data) {
        at.emplace(plain_number(p.number), XY{p.x_mm, p.y_mm});
        spelled.emplace(plain_number(p.number), p.number);
    }
    // A contact of several pads stands in their middle.
    std::map<std::string, std::vector<XY>> pads;
    for (const auto& p : board) pads[plain_number(p.number)].push_back({p.x_mm, p.y_mm});
    Common c;
    c.any_pads = !pads.empty();
    for (const auto& [number, places] : pads) {
        const auto it = at.find(number);
        if (it == at.end()) {
            out.extra.push_back(number);
            continue;
        }
        c.have.push_back(middle_of(places));
        c.want.push_back(it->second);
    }
    for (const auto& [number, name] : spelled)
        if (pads.count(number) == 0) out.missing.push_back(name);
    out.matched = c.have.size();
    return c;
}

/// How far the farthest lies from the middle.
double reach_of(const std::vector<XY>& places) {
    if (places.empty()) return 0;
    const auto m = middle_of(places);
    double reach = 0;
    for (const auto& p : places) reach = std::max(reach, std::hypot(p.x - m.x, p.y - m.y));
    return reach;
}

bool is_other_pitch(const Fit& scaled, const Fit& rigid) {
    return std::abs(scaled.scale - 1) > same_pitch && scaled.scale > 0.2 && scaled.scale < 5 &&
           scaled.scaled <= std::min(fits_mm, rigid.rigid / 3) + 1e-9;
}

void take(FaceMatch& out, Verdict v, FaceIs is, const Fit& f, double residual) {
    out.verdict = v;
    out.is = is;
    out.rotation_deg = f.quarter * 90;
    out.residual_mm = residual;
}

/// Neither as drawn nor mirrored.
void judge_misfit(FaceMatch& out, const Fit& plain, const Fit& plain_scaled, const Fit& mirror,
                  const Fit& mirror_scaled) {
    const bool as_is = is_other_pitch(plain_scaled, plain);
    if (as_is || is_other_pitch(mirror_scaled, mirror)) {
        const auto& f = as_is ? plain_scaled : mirror_scaled;
        take(out, Verdict::stop, FaceIs::other_pitch, f, f.scaled);
        out.scale = f.scale;
        out.why = fmt::format("another pitch: {:.3f} times that of the data{}", f.scale,
                              as_is ? "" : ", and mirrored");
        return;
    }
    take(out, Verdict::stop, FaceIs::no_match, plain.rigid <= mirror.rigid ? plain : mirror,
         std::min(plain.rigid, mirror.rigid));
    out.why = fmt::format("no match: as drawn the farthest contact is {:.2f} mm off, mirrored {:.2f} mm",
                          plain.rigid, mirror.rigid);
}

/// Contacts that only one side has.
void judge_others(FaceMatch& out) {
    // A number that the data do not have is a doubt in what else holds; pads with other names hold the part's
    // body.
    const auto numbered = std::count_if(out.extra.begin(), out.extra.end(), [](const std::string& name) {
        return !name.empty() && name.find_first_not_of("0123456789") == std::string::npos && name != "0";
    });
    if (out.verdict == Verdict::holds && numbered > 0) {
        out.verdict = Verdict::doubt;
        out.why +=
            fmt::format("; the board has {} that the data do not", plural(numbered, "contact", "contacts"));
    } else if (!out.missing.empty() && out.verdict == Verdict::holds) {
        out.why += fmt::format("; {} of the data the board does not have",
                               plural(static_cast<long long>(out.missing.size()), "contact", "contacts"));
    }
}

}  // namespace

FaceMatch match_places(const std::vector<NumberedPlace>& board, const std::vector<NumberedPlace>& data) {
    FaceMatch out;
    out.seen = board;
    out.wanted = data;
    const auto c = common_contacts(board, data, out);
    if (c.have.size() < 2 || reach_of(c.want) < 0.1) {
        out.verdict = c.have.empty() && c.any_pads ? Verdict::stop : Verdict::unknown;
        out.is = FaceIs::no_match;
        out.why = c.have.empty() ? "no contact of the board has a number that the data know"
                                 : "one place alone tells neither turn nor side: compare more contacts";
        return out;
    }
    const auto plain = best_of(c.have, c.want, false, false), mirror = best_of(c.have, c.want, true, false);
    const auto plain_scaled = best_of(c.have, c.want, false, true),
               mirror_scaled = best_of(c.have, c.want, true, true);
    const bool plain_fits = plain.rigid <= fits_mm && !is_other_pitch(plain_scaled, plain);
    const bool mirror_fits = mirror.rigid <= fits_mm && !is_other_pitch(mirror_scaled, mirror);
    if (plain_fits && mirror_fits) {
        take(out, Verdict::unknown, FaceIs::as_drawn, plain, plain.rigid);
        out.why = fmt::format(
            "{} contacts in one line look the same mirrored: that it is not, a contact beside the line would "
            "tell",
            out.matched);
    } else if (plain_fits) {
        take(out, Verdict::holds, FaceIs::as_drawn, plain, plain.rigid);
        out.why = fmt::format(
            "{} contacts stand where they should, within {:.2f} mm{}", out.matched, plain.rigid,
            plain.quarter != 0 ? fmt::format(", turned by {}°", plain.quarter * 90) : std::string());
    } else if (mirror_fits) {
        take(out, Verdict::stop, FaceIs::mirrored, mirror, mirror.rigid);
        out.why = fmt::format(
            "mirrored: {} contacts fit within {:.2f} mm only as a mirror image; as drawn the farthest is "
            "{:.2f} mm off",
            out.matched, mirror.rigid, plain.rigid);
    } else {
        judge_misfit(out, plain, plain_scaled, mirror, mirror_scaled);
    }
    judge_others(out);
    return out;
}

namespace {

struct Seen {
    std::vector<NumberedPlace> places;
    PadSide side = PadSide::top;
};

/// The part's contacts as they are seen when looking at its side of the board.
Result<Seen> seen_pads(const BoardPads& pads, const FaceQuestion& q) {
    Seen out;
    bool top = false, bottom = false, any = false;
    for (const auto& p : pads)
        if (p.ref == q.ref) {
            any = true;
            top = top || p.side != PadSide::bottom;
            bottom = bottom || p.side != PadSide::top;
        }
    if (!any) return fail_usage("the part " + in_quotes(q.ref), "one that the pads name");
    out.side = q.side && *q.side != PadSide::both ? *q.side : top ? PadSide::top : PadSide::bottom;
    for (const auto& p : pads)
        if (p.ref == q.ref)
            out.places.push_back(
                {p.pin, out.side == PadSide::bottom ? -to_mm(p.at.x) : to_mm(p.at.x), to_mm(p.at.y)});
    return out;
}

/// Fingers of a card seen end on, the front up: along the edge, and above or below by `half_row`. Nothing
/// where the outline does not tell which way the edge points.
std::optional<std::vector<NumberedPlace>> seen_end_on(const BoardPads& pads, const FaceQuestion& q,
                                                      double half_row) {
    Extent e;
    for (const auto& p : pads)
        if (p.ref == q.ref) e.add(p.at);
    if (e.empty() || q.board.empty()) return std::nullopt;
    const BoardXY m{(e.left + e.right) / 2, (e.bottom + e.top) / 2};
    const bool across = e.width() >= e.height();
    // Towards the nearer of the two edges that it runs along.
    const Nm low = across ? m.y - q.board.bottom : m.x - q.board.left,
             high = across ? q.board.top - m.y : q.board.right - m.x;
    if (low == high) return std::nullopt;
    const bool towards_high = high < low;
    std::vector<NumberedPlace> out;
    for (const auto& p : pads) {
        if (p.ref != q.ref) continue;
        // Looking at the edge from outside with the front up, what is to the right?
        const double u = across ? (towards_high ? -to_mm(p.at.x) : to_mm(p.at.x))
                                : (towards_high ? to_mm(p.at.y) : -to_mm(p.at.y));
        out.push_back({p.pin, u,
                       p.side == PadSide::top      ? half_row
                       : p.side == PadSide::bottom ? -half_row
                                                   : 0});
    }
    return out;
}

}  // namespace

std::vector<NumberedPlace> face_places(const Connector& connector, FaceGender gender,
                                       std::string_view numbering) {
    const auto& numbers = connector.numbering(numbering).numbers;
    const auto view = gender == FaceGender::plug ? Viewpoint::into_plug : Viewpoint::into_socket;
    std::vector<NumberedPlace> out;
    for (std::size_t i = 0; i < connector.contacts.size(); ++i) {
        if (connector.contacts[i].ring) continue;
        const auto at = place_of(connector.contacts[i], view);
        out.push_back({i < numbers.size() ? numbers[i] : connector.contacts[i].number, at.x_mm, at.y_mm});
    }
    return out;
}

Result<FaceMatch> match_face(const BoardPads& pads, const Connector& connector, const FaceQuestion& q) {
    const auto seen = seen_pads(pads, q);
    if (!seen) return fail(seen.error());
    if (!q.numbering.empty() && connector.numbering(q.numbering).id != q.numbering)
        return fail_usage("the numbering " + in_quotes(q.numbering), "one of " + connector.id);
    const auto data = face_places(connector, q.gender, q.numbering);
    const bool fingers = connector.id.starts_with("edge-") && q.gender == FaceGender::plug &&
                         std::any_of(pads.begin(), pads.end(), [&](const BoardPad& p) {
                             return p.ref == q.ref && p.side != PadSide::both;
                         });
    if (!fingers) return match_places(seen->places, data);
    if (const auto places = seen_end_on(pads, q, connector.row_pitch_mm() / 2))
        return match_places(*places, data);
    FaceMatch untold;
    untold.why = "which way the card's edge points is not known: the outline would tell";
    return untold;
}

Result<FaceMatch> match_footprint(const BoardPads& pads, const Package& package, const FaceQuestion& q) {
    const auto seen = seen_pads(pads, q);
    if (!seen) return fail(seen.error());
    std::vector<NumberedPlace> data;
    for (const auto& p : pads_of(package)) data.push_back({p.number, p.x, -p.y});
    auto match = match_places(seen->places, data);
    // A part whose contacts stand in a line is turned where it would be mirrored.
    if (match.verdict == Verdict::unknown && match.is == FaceIs::as_drawn && match.missing.empty()) {
        match.verdict = Verdict::holds;
        match.why = fmt::format("{} contacts in a line stand where they should, within {:.2f} mm",
                                match.matched, match.residual_mm);
    }
    return match;
}

Result<FaceMatch> match_mates(const BoardPads& one, const FaceQuestion& of_one, const BoardPads& other,
                              const FaceQuestion& of_other) {
    const auto a = seen_pads(one, of_one);
    if (!a) return fail(a.error());
    const auto b = seen_pads(other, of_other);
    if (!b) return fail(b.error());
    auto facing = b->places;
    for (auto& p : facing) p.x_mm = -p.x_mm;
    return match_places(a->places, facing);
}

}  // namespace grayrelic
