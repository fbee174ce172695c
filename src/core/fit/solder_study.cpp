// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/solder_study.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <set>

#include "core/base/text.hpp"
#include "core/fit/reach.hpp"
#include "core/wire/circuit.hpp"

namespace grayrelic {
namespace {

using Cell = std::pair<Nm, Nm>;
constexpr Nm cell_nm = 50'000;

Cell cell_of(BoardXY p) {
    const auto down = [](Nm v) { return v >= 0 ? v / cell_nm : -((-v + cell_nm - 1) / cell_nm); };
    return {down(p.x), down(p.y)};
}

/// How long the copper of a flash is along its longer side, by where it stands.
std::map<Cell, double> flash_lengths(const BoardFiles& files, FileRole role) {
    std::map<Cell, double> out;
    const auto* file = files.find(role);
    if (file == nullptr || !file->layer) return out;
    for (const auto& o : file->layer->objects) {
        if (o.kind != GerberObject::Kind::flash || !o.dark || o.aperture >= file->layer->apertures.size())
            continue;
        const auto& a = file->layer->apertures[o.aperture];
        auto& most = out[cell_of(o.to)];
        most = std::max({most, a.width / 1e6, a.height / 1e6});
    }
    return out;
}

double near_value(const std::map<Cell, double>& by_cell, BoardXY p) {
    const auto [cx, cy] = cell_of(p);
    double best = 0;
    for (Nm dx = -1; dx <= 1; ++dx)
        for (Nm dy = -1; dy <= 1; ++dy)
            if (const auto it = by_cell.find({cx + dx, cy + dy}); it != by_cell.end())
                best = std::max(best, it->second);
    return best;
}

class SolderWork {
  public:
    SolderWork(const FabricationAnalysis* board, const PackageLibrary& packages, const Bench& bench)
        : board_(board), packages_(packages), bench_(bench) {
        if (board_ == nullptr) return;
        parts_ = standing_parts(board_->pads);
        if (!board_->read || !board_->read->copper) return;
        top_ = flash_lengths(board_->read->files, FileRole::copper_top);
        bottom_ = flash_lengths(board_->read->files, FileRole::copper_bottom);
        if (board_->process && !board_->process->plated) find_twice();
    }

    SolderStudy make(const std::vector<SolderAdvice>& advice) {
        for (const auto& a : advice)
            for (const auto& ref : a.refs) part(a, ref);
        for (const auto& p : out_.parts) {
            out_.joints += p.joints;
            if (!p.known) {
                out_.unknown.push_back(p.ref);
                continue;
            }
            out_.chance *= p.chance;
            if (!p.own_record) ++out_.without_record;
        }
        return std::move(out_);
    }

  private:
    void part(const SolderAdvice& a, const std::string& ref) {
        PartSolder p;
        p.ref = ref;
        p.part = a.part;
        p.package = a.package;
        p.known = a.known;
        p.own_record = a.own_record;
        p.chance = a.known ? a.chance : 1;
        p.verdict = a.known ? a.verdict : Verdict::unknown;
        p.why = a.why;
        const auto package = packages_.find(a.package);
        if (package) {
            p.joints = static_cast<int>(pads_of(*package).size());
            p.pitch_mm = package->shape->pitch;
            p.gap_mm = least_gap(*package);
            judge_mask(p);
            judge_belly(p, *package);
            judge_length(p, *package);
        }
        judge_twice(p);
        out_.parts.push_back(std::move(p));
    }

    void trouble(PartSolder& p, SolderTrouble kind, Verdict v, std::vector<std::string> pins,
                 std::string says, std::string todo) {
        p.verdict = worse(p.verdict == Verdict::unknown ? Verdict::holds : p.verdict, v);
        out_.troubles.push_back({kind, v, p.ref, std::move(pins), std::move(says), std::move(todo)});
    }

    static double least_gap(const Package& package) {
        const auto pads = pads_of(package);
        double least = 1e9;
        for (std::size_t i = 0; i < pads.size(); ++i)
            for (std::size_t k = i + 1; k < pads.size(); ++k) {
                if (pads[i].belly || pads[k].belly) continue;
                const double dx = std::abs(pads[i].x - pads[k].x) - (pads[i].length + pads[k].length) / 2,
                             dy = std::abs(pads[i].y - pads[k].y) - (pads[i].width + pads[k].width) / 2;
                least = std::min(least, std::hypot(std::max(dx, 0.0), std::max(dy, 0.0)));
            }
        return least < 1e9 ? least : 0;
    }

    void judge_mask(PartSolder& p) {
        const bool known = board_ != nullptr && board_->process;
        if (!known || board_->process->mask || p.gap_mm <= 0 || p.gap_mm >= bridging_gap_mm) return;
        // Taken as one class harder: 0.98, 0.9, 0.7, 0.5 of wire/solder.hpp lie about so far apart.
        p.chance *= 0.8;
        trouble(p, SolderTrouble::bridges, Verdict::doubt, {},
                fmt::format("{} has {:.2f} mm between its pads, and {} leaves no mask there", p.ref, p.gap_mm,
                            board_->process->name),
                "Tin sparingly, take flux and braid, and beep each pair of neighbours.");
    }

    void judge_belly(PartSolder& p, const Package& package) {
        if (!package.shape->belly) return;
        const auto it = parts_.find(p.ref);
        double most = 0;
        if (it != parts_.end() && board_->read && board_->read->copper) {
            const auto& box = it->second.box;
            const BoardXY middle{(box.left + box.right) / 2, (box.bottom + box.top) / 2};
            for (const auto& h : board_->read->copper->holes) {
                const auto at = h.hole.middle();
                if (std::abs(to_mm(at.x - middle.x)) <= *package.shape->belly / 2 &&
                    std::abs(to_mm(at.y - middle.y)) <= *package.shape->belly / 2)
                    most = std::max(most, to_mm(static_cast<Nm>(h.hole.diameter)));
            }
        }
        if (most >= belly_hole_mm) {
            p.chance = std::max(p.chance, 0.7);
            trouble(p, SolderTrouble::belly_hole, Verdict::holds, {},
                    fmt::format("{} has a pad below its body, and a hole of {:.1f} mm to solder it through",
                                p.ref, most),
                    "Solder it from behind, once the rows hold.");
            return;
        }
        if (bench_.has(InstrumentKind::hot_air) || bench_.has(InstrumentKind::oven)) return;
        trouble(p, SolderTrouble::belly_closed, Verdict::stop, {},
                most > 0 ? fmt::format("{} has a pad below its body, and the largest hole in it has {:.1f} "
                                       "mm: an iron needs {:.1f}",
                                       p.ref, most, belly_hole_mm)
                         : fmt::format("{} has a pad below its body, which an iron does not reach", p.ref),
                fmt::format("Put a plated hole of {:.1f} mm or more into the pad, or use hot air.",
                            belly_hole_mm));
    }

    void judge_length(PartSolder& p, const Package& package) {
        if (package.shape->mount != PackageMount::surface || package.shape->pitch <= 0 ||
            package.shape->pitch > 1.0 || !board_)
            return;
        const auto it = parts_.find(p.ref);
        if (it == parts_.end()) return;
        std::vector<std::string> small;
        std::size_t seen = 0;
        const double wanted = std::max(package.shape->pad_length, package.shape->pad_width);
        for (const auto& pad : board_->pads) {
            if (pad.ref != p.ref) continue;
            const double length = near_value(pad.side == PadSide::bottom ? bottom_ : top_, pad.at);
            if (length <= 0) continue;
            ++seen;
            if (length < wanted - iron_pad_mm) small.push_back(pad.pin);
        }
        if (seen == 0 || small.empty()) return;
        trouble(p, SolderTrouble::short_pads, Verdict::doubt, small,
                fmt::format(
                    "{} of {}'s pads are shorter than {:.1f} mm: an iron finds no copper beside the leads",
                    small.size(), p.ref, wanted - iron_pad_mm),
                "Make the pads longer, or use hot air.");
    }

    /// Unplated holes whose copper leads on upon both sides.
    void find_twice() {
        const auto& copper = *board_->read->copper;
        if (copper.layers.size() < 2) return;
        // On which layers a piece has more than this hole: another hole or pad, or a track that leads away.
        std::map<std::pair<std::size_t, int>, int> holes_on;
        const auto piece_at = [&](std::size_t layer, const DrillHole& hole) {
            const auto near = copper.index[layer].pieces_near({hole.middle()}, hole.diameter / 2 + cell_nm);
            return near.empty() ? -1 : static_cast<int>(near.front());
        };
        const std::size_t last = copper.layers.size() - 1;
        std::map<Cell, std::array<int, 2>> at;
        for (const auto& h : copper.holes) {
            const auto p = h.hole.middle();
            const std::array<int, 2> pieces{piece_at(0, h.hole), piece_at(last, h.hole)};
            at[cell_of(p)] = pieces;
            if (pieces[0] >= 0) ++holes_on[{0, pieces[0]}];
            if (pieces[1] >= 0) ++holes_on[{last, pieces[1]}];
        }
        std::set<Cell> pads;
        for (const auto& pad : board_->pads) pads.insert(cell_of(pad.at));
        for (const auto& [cell, pieces] : at) {
            if (pieces[0] < 0 || pieces[1] < 0) continue;
            const bool both = holes_on[{0, pieces[0]}] > 1 && holes_on[{last, pieces[1]}] > 1;
            if (!both) continue;
            if (pads.count(cell) != 0)
                twice_.insert(cell);
            else
                ++out_.wires;
        }
    }

    void judge_twice(PartSolder& p) {
        if (twice_.empty()) return;
        const auto it = parts_.find(p.ref);
        if (it == parts_.end()) return;
        std::vector<std::string> pins, under;
        const auto bodies = bodies_of(board_->pads, {{p.ref, p.package}}, packages_);
        for (const auto& pad : board_->pads) {
            if (pad.ref != p.ref || twice_.count(cell_of(pad.at)) == 0) continue;
            pins.push_back(pad.pin);
            for (const auto& b : bodies)
                if (b.ref == p.ref && b.box.holds(pad.at)) under.push_back(pad.pin);
        }
        if (pins.empty()) return;
        p.joints += static_cast<int>(pins.size());
        out_.twice += static_cast<int>(pins.size());
        if (under.empty())
            trouble(p, SolderTrouble::both_sides, Verdict::doubt, pins,
                    fmt::format("{} of {} {} to be soldered on both sides: the holes are not plated",
                                plural(static_cast<long long>(pins.size()), "pin", "pins"), p.ref,
                                pins.size() == 1 ? "has" : "have"),
                    "Keep the part off the board a little, or lead the tracks to the other side elsewhere.");
        else
            trouble(
                p, SolderTrouble::body_over, Verdict::stop, under,
                fmt::format("{} of {} {} to be soldered on the side on which its body stands: the holes are "
                            "not plated",
                            plural(static_cast<long long>(under.size()), "pin", "pins"), p.ref,
                            under.size() == 1 ? "has" : "have"),
                "Lead these tracks to the other side by a wire beside the part.");
    }

    const FabricationAnalysis* board_;
    const PackageLibrary& packages_;
    const Bench& bench_;
    std::map<std::string, StandingPart> parts_;
    std::map<Cell, double> top_, bottom_;
    std::set<Cell> twice_;
    SolderStudy out_;
};

}  // namespace

SolderStudy solder_study(const std::vector<SolderAdvice>& advice, const FabricationAnalysis* board,
                         const PackageLibrary& packages, const Bench& bench) {
    return SolderWork(board, packages, bench).make(advice);
}

std::vector<SolderAdvice> solder_of(const FabricationAnalysis& board, const PackageLibrary& packages,
                                    const Bench& bench) {
    if (!board.circuit || !board.circuit->circuit) return {};
    return solder_advice(board.circuit->circuit->network, packages, bench);
}

}  // namespace grayrelic
