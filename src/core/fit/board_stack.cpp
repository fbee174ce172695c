// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/board_stack.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr double edge_guess_mm = 2.54, spare_mm = 0.5;

/// A level with everything in the stack's coordinates.
struct Laid {
    Rings outline;
    struct Joint {
        std::string ref, pin;
        BoardXY at;
        bool up = false;
    };
    std::vector<Joint> joints;
    struct Body {
        std::string ref;
        Extent box;
        bool up = false;
        double height_mm = 0;
    };
    std::vector<Body> bodies;
};

/// On which sides the joints of a part lie: in holes on the side that it does not stand on.
std::map<std::string, bool> behind_of(const StackBoard& b) {
    std::map<std::string, bool> out;
    for (const auto& [ref, s] : standing_parts(b.pads)) out[ref] = s.behind() || b.behind.count(ref) != 0;
    for (const auto& body : b.bodies) out[body.ref] = body.back;
    return out;
}

Laid laid(const StackBoard& b, bool& guessed) {
    Laid out;
    Rings edge = b.outline;
    guessed = edge.empty() && !b.pads.empty();
    if (guessed) {
        Extent box;
        for (const auto& p : b.pads) box.add(p.at);
        box = box.grown(from_mm(edge_guess_mm));
        edge = {{{box.left, box.bottom}, {box.right, box.bottom}, {box.right, box.top}, {box.left, box.top}}};
    }
    for (const auto& ring : edge) {
        Ring moved;
        for (const auto& p : ring) moved.push_back(in_stack(b, p));
        out.outline.push_back(std::move(moved));
    }
    const auto behind = behind_of(b);
    for (const auto& p : b.pads) {
        if (b.left_out.count(p.ref) != 0) continue;
        const bool back = p.side == PadSide::both ? !behind.at(p.ref) : p.side == PadSide::bottom;
        out.joints.push_back({p.ref, p.pin, in_stack(b, p.at), back == b.over});
    }
    for (const auto& body : b.bodies)
        out.bodies.push_back({body.ref, in_stack(b, body.box), body.back == b.over, body.height_mm});
    return out;
}

bool under(const Rings& outline, BoardXY p) {
    if (outline.empty() || !in_ring(outline.front(), p)) return false;
    return std::none_of(outline.begin() + 1, outline.end(), [&](const Ring& r) { return in_ring(r, p); });
}

double way_out(const Rings& outline, BoardXY p) {
    double least = 1e18;
    for (const auto& r : outline)
        for (std::size_t i = 0; i < r.size(); ++i)
            least = std::min(least, distance(p, r[i], r[(i + 1) % r.size()]));
    return least / 1e6;
}

bool meets(const Rings& outline, const Extent& box) {
    const Ring corners{
        {box.left, box.bottom}, {box.right, box.bottom}, {box.right, box.top}, {box.left, box.top}};
    return !outline.empty() && !overlap({corners}, outline).empty();
}

Rings solid(const Rings& outline) {
    if (outline.size() < 2) return outline;
    return rings_of(without({outline.front()}, Rings(outline.begin() + 1, outline.end())));
}

class Pair {
  public:
    Pair(const std::vector<StackBoard>& stack, const std::vector<Laid>& laid, std::size_t lower,
         std::size_t upper, StackGeometry& out)
        : low_(laid[lower]),
          up_(laid[upper]),
          below_(stack[lower]),
          above_(stack[upper]),
          lower_(lower),
          upper_(upper),
          room_(room_between(stack, lower, upper)),
          low_solid_(solid(low_.outline)),
          up_solid_(solid(up_.outline)),
          out_(out) {}

    void judge() {
        for (const auto& a : low_.bodies) {
            if (!a.up || below_.joins.count(a.ref) != 0) continue;
            for (const auto& b : up_.bodies)
                if (!b.up && above_.joins.count(b.ref) == 0 && a.box.meets(b.box))
                    add(a.ref, b.ref, a.height_mm + b.height_mm, false);
            const bool leads = std::any_of(up_.joints.begin(), up_.joints.end(), [&](const Laid::Joint& j) {
                return !j.up && above_.joins.count(j.ref) == 0 && a.box.holds(j.at);
            });
            if (meets(up_solid_, a.box)) add(a.ref, "", a.height_mm + (leads ? lead_mm : 0), leads);
        }
        for (const auto& b : up_.bodies)
            if (!b.up && above_.joins.count(b.ref) == 0 && meets(low_solid_, b.box)) {
                const bool leads =
                    std::any_of(low_.joints.begin(), low_.joints.end(), [&](const Laid::Joint& j) {
                        return j.up && below_.joins.count(j.ref) == 0 && b.box.holds(j.at);
                    });
                add("", b.ref, b.height_mm + (leads ? lead_mm : 0), leads);
            }
    }

  private:
    void add(const std::string& lower_part, const std::string& upper_part, double needs, bool leads) {
        StackClash c{lower_, upper_, lower_part, upper_part, needs, room_, Verdict::unknown, leads};
        if (room_)
            c.verdict = needs > *room_              ? Verdict::stop
                        : needs > *room_ - spare_mm ? Verdict::doubt
                                                    : Verdict::holds;
        if (c.verdict != Verdict::holds) out_.clashes.push_back(std::move(c));
    }

    const Laid &low_, &up_;
    const StackBoard &below_, &above_;
    std::size_t lower_, upper_;
    std::optional<double> room_;
    Rings low_solid_, up_solid_;
    StackGeometry& out_;
};

/// Fitted parts that nobody has described, on a face over which another level lies.
void find_unknown(const std::vector<StackBoard>& stack, const std::vector<Laid>& all, std::size_t i,
                  StackGeometry& out) {
    const auto& b = stack[i];
    std::set<std::string> known;
    for (const auto& body : b.bodies) known.insert(body.ref);
    for (const auto& [ref, s] : standing_parts(b.pads)) {
        if (known.count(ref) != 0 || b.left_out.count(ref) != 0 || b.joins.count(ref) != 0) continue;
        const bool back = b.behind.count(ref) != 0 || s.behind();
        const auto box = in_stack(b, s.box.grown(from_mm(edge_guess_mm / 2)));
        for (std::size_t k = 0; k < all.size(); ++k)
            if (k != i && (k > i) == (back == b.over) && meets(all[k].outline, box)) {
                out.unknown.push_back(b.name + "/" + ref);
                break;
            }
    }
}

}  // namespace

BoardXY in_stack(const StackBoard& b, BoardXY p) {
    if (b.over) p.x = -p.x;
    switch (b.turn_deg) {
        case 90: p = {-p.y, p.x}; break;
        case 180: p = {-p.x, -p.y}; break;
        case 270: p = {p.y, -p.x}; break;
        default: break;
    }
    return {p.x + from_mm(b.x_mm), p.y + from_mm(b.y_mm)};
}

Extent in_stack(const StackBoard& b, const Extent& box) {
    Extent out;
    if (box.empty()) return out;
    out.add(in_stack(b, BoardXY{box.left, box.bottom}));
    out.add(in_stack(b, BoardXY{box.right, box.top}));
    return out;
}

std::optional<double> room_between(const std::vector<StackBoard>& stack, std::size_t lower,
                                   std::size_t upper) {
    double room = 0;
    for (auto i = lower + 1; i <= upper; ++i) {
        if (!stack[i].gap_mm) return std::nullopt;
        room += *stack[i].gap_mm;
        if (i < upper) room += stack[i].thick_mm;
    }
    return room;
}

StackGeometry judge_stack(const std::vector<StackBoard>& stack) {
    StackGeometry out;
    std::vector<Laid> all;
    for (const auto& b : stack) {
        bool guessed = false;
        all.push_back(laid(b, guessed));
        if (guessed) out.guessed.push_back(b.name);
    }
    const auto cover = [&](std::size_t level, std::size_t by, const Laid::Joint& j) {
        if (!under(all[by].outline, j.at)) return false;
        const auto room = room_between(stack, std::min(level, by), std::max(level, by));
        const double way = way_out(all[by].outline, j.at);
        if (room && way <= *room - iron_tip_mm) return false;
        out.covered.push_back({level, by, j.ref, j.pin, j.at, j.up, way, room});
        return true;
    };
    for (std::size_t i = 0; i < stack.size(); ++i)
        for (const auto& j : all[i].joints) {
            bool done = false;
            for (auto k = i + 1; j.up && k < stack.size() && !done; ++k) done = cover(i, k, j);
            for (auto k = i; !j.up && k > 0 && !done; --k) done = cover(i, k - 1, j);
        }
    for (std::size_t i = 0; i < stack.size(); ++i) find_unknown(stack, all, i, out);
    for (std::size_t low = 0; low < stack.size(); ++low)
        for (auto up = low + 1; up < stack.size(); ++up) Pair(stack, all, low, up, out).judge();
    return out;
}

StripJoints judge_strip(const std::vector<StackBoard>& stack, std::size_t lower, const std::string& lower_ref,
                        std::size_t upper, const std::string& upper_ref) {
    StripJoints out;
    // The last joint is made with all levels up to the upper one in place, from outside of the pair.
    const auto reached = [&](std::size_t level, const std::string& ref, bool from_above) {
        bool guessed = false;
        const auto own = laid(stack[level], guessed);
        bool any = false, all = true;
        for (const auto& p : stack[level].pads) {
            if (p.ref != ref) continue;
            any = true;
            const auto at = in_stack(stack[level], p.at);
            // A pad on one side only is reached only from there.
            const bool faces_up = (p.side == PadSide::top) != stack[level].over;
            if (p.side != PadSide::both && faces_up != from_above) all = false;
            for (const auto& body : own.bodies)
                if (body.up == from_above && body.ref != ref && body.box.holds(at)) all = false;
            for (std::size_t k = 0; k < level && !from_above; ++k) {
                const auto below = laid(stack[k], guessed);
                const auto room = room_between(stack, k, level);
                if (under(below.outline, at) && !(room && way_out(below.outline, at) <= *room - iron_tip_mm))
                    all = false;
            }
        }
        return std::pair(any, all);
    };
    const auto [upper_there, upper_reached] = reached(upper, upper_ref, true);
    const auto [lower_there, lower_reached] = reached(lower, lower_ref, false);
    if (!upper_there || !lower_there) {
        out.says = fmt::format("the pads of {} are not known", !upper_there ? upper_ref : lower_ref);
        return out;
    }
    if (upper_reached) {
        out.verdict = Verdict::holds;
        out.says = fmt::format("solder the strip into {} first, then into {} from above", stack[lower].name,
                               stack[upper].name);
    } else if (lower_reached) {
        out.verdict = Verdict::holds;
        out.lower_last = true;
        out.says = fmt::format("solder the strip into {} first, then into {} from below", stack[upper].name,
                               stack[lower].name);
    } else {
        out.verdict = Verdict::stop;
        out.says = fmt::format("neither end of the strip is reached once {} lies on {}", stack[upper].name,
                               stack[lower].name);
    }
    return out;
}

}  // namespace grayrelic
