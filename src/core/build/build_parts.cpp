// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/build/build_parts.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/board/board_analysis.hpp"
#include "core/fit/board_joins.hpp"
#include "core/library/data_library.hpp"
#include "core/wire/board_circuits.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {
namespace {

/// Pads of one row stand a pitch apart; of two parts so near that one blob of solder reaches both.
constexpr double beside = 1.6, parts_near_mm = 2.0, low_ohm = 0.1;

std::optional<double> ohms_of(const ListedPart& p) {
    const auto& f = p.type->function;
    if (f == "fuse" || f == "ferrite" || f == "inductor" || f == "jumper") return low_ohm;
    if (f != "resistor") return std::nullopt;
    const auto value = part_value(p);
    return value ? *value : std::nullopt;
}

/// An electrolytic without a word is ± 20 %.
double usual_tolerance(const ListedPart& p) {
    constexpr double electrolytic = 0.2;
    const bool polar = p.type->function == "capacitor" && p.type->find_name("+") != nullptr;
    return polar ? std::max(part_tolerance(p), electrolytic) : part_tolerance(p);
}

class BuildWork {
  public:
    BuildWork(const Analysis& a, const BoardCircuit& circuit, const FabricationAnalysis* read,
              const Fabrication* board, const BoardVariant* variant)
        : a_(a), circuit_(circuit), read_(read), board_(board), variant_(variant) {}

    BuildBoard make() {
        const auto nets = fitted_nets(circuit_, variant_, out_.problems);
        out_.nets = nets.nets;
        out_.volts = circuit_.volts;
        out_.pins = circuit_.pins;
        std::set<std::string> refs;
        for (std::size_t i = 0; i < out_.nets.size(); ++i)
            for (const auto& p : out_.nets[i].points) {
                refs.emplace(ref_in(p));
                net_of_.emplace(p, i);
            }
        if (circuit_.circuit)
            for (const auto& p : circuit_.circuit->network.all)
                if (fits(p.ref)) refs.insert(p.ref);
        for (const auto& ref : refs) add(ref);
        for (const auto& p : out_.parts) neighbours_of(p);
        near_parts();
        covered();
        return std::move(out_);
    }

  private:
    bool fits(const std::string& ref) const {
        return variant_ == nullptr || variant_->fits(ref) || variant_->jumpers.count(ref) != 0;
    }

    const ListedPart* listed(const std::string& ref) const {
        if (circuit_.circuit)
            for (const auto& p : circuit_.circuit->network.all)
                if (p.ref == ref && p.type != nullptr) return &p;
        return nullptr;
    }

    void add(const std::string& ref) {
        BuildPart b;
        b.ref = ref;
        if (const auto* p = listed(ref)) {
            b.part = p->called();
            if (const auto ohm = ohms_of(*p)) out_.ohms.emplace(ref, *ohm);
            if (const auto value = part_value(*p);
                value && *value && (p->type->function == "resistor" || p->type->function == "capacitor"))
                out_.values.emplace(
                    ref, DrawnValue{**value, p->type->function == "capacitor", usual_tolerance(*p)});
        }
        if (b.part.empty()) b.part = "connector";
        if (const auto it = circuit_.packages_of.find(ref); it != circuit_.packages_of.end())
            b.package = it->second;
        if (const auto package = a_.data->packages.find(b.package)) {
            const auto& s = *package->shape;
            b.height_mm = s.height;
            b.pitch_mm = s.pitch;
            b.surface = s.mount == PackageMount::surface;
            b.belly = s.belly.has_value();
            b.how = s.solder;
            for (const auto& pad : pads_of(*package))
                if (!pad.belly) b.pins.push_back(pad.number);
            // Ends that may be exchanged look alike: a resistor lies either way.
            const auto* p = listed(ref);
            if (p != nullptr && p->type->alike.empty()) b.way_round = s.first_pin;
        } else {
            for (const auto& n : out_.nets)
                for (const auto& p : n.points)
                    if (ref_in(p) == ref && p.size() > ref.size()) b.pins.push_back(p.substr(ref.size() + 1));
            std::sort(b.pins.begin(), b.pins.end(), [](const auto& x, const auto& y) {
                return std::pair(x.size(), x) < std::pair(y.size(), y);
            });
            out_.problems.push_back(
                b.package.empty() ? "nobody said the package of " + ref
                                  : fmt::format("the package {} of {} is not described", b.package, ref));
        }
        if (read_ != nullptr) {
            const auto standing = standing_parts(read_->pads);
            if (const auto it = standing.find(ref); it != standing.end()) b.back = it->second.behind();
        }
        if (const auto* said = board_ == nullptr ? nullptr : board_->find_connector(ref);
            said != nullptr && said->side != StandsOn::pads)
            b.back = said->side == StandsOn::bottom;
        out_.parts.push_back(std::move(b));
    }

    /// The net of a point; a pin that is on none is one of its own.
    bool one_net(const std::string& a, const std::string& b) const {
        const auto x = net_of_.find(a), y = net_of_.find(b);
        return x != net_of_.end() && y != net_of_.end() && x->second == y->second;
    }

    void pair(const std::string& a, const std::string& b, double mm) {
        if (!one_net(a, b)) out_.neighbours.push_back({a, b, mm});
    }

    void neighbours_of(const BuildPart& p) {
        const auto package = a_.data->packages.find(p.package);
        if (!package || package->shape->pitch <= 0) return;
        const auto pads = pads_of(*package);
        for (std::size_t i = 0; i < pads.size(); ++i)
            for (std::size_t k = i + 1; k < pads.size(); ++k) {
                if (pads[i].belly || pads[k].belly) continue;
                const double mm = std::hypot(pads[i].x - pads[k].x, pads[i].y - pads[k].y);
                if (mm <= beside * package->shape->pitch && mm < package->shape->pitch * 1.2)
                    pair(p.ref + "." + pads[i].number, p.ref + "." + pads[k].number, mm);
            }
    }

    void near_parts() {
        if (read_ == nullptr) return;
        // By cells as wide as what counts as near: each pad looks at its own and those around.
        const auto& pads = read_->pads;
        const auto cell = [](Nm v) { return static_cast<long>(std::floor(to_mm(v) / parts_near_mm)); };
        std::map<std::pair<long, long>, std::vector<std::size_t>> cells;
        for (std::size_t i = 0; i < pads.size(); ++i)
            if (fits(pads[i].ref)) cells[{cell(pads[i].at.x), cell(pads[i].at.y)}].push_back(i);
        for (std::size_t i = 0; i < pads.size(); ++i)
            for (long dx = -1; dx <= 1; ++dx)
                for (long dy = -1; dy <= 1; ++dy) {
                    const auto it = cells.find({cell(pads[i].at.x) + dx, cell(pads[i].at.y) + dy});
                    if (it == cells.end() || !fits(pads[i].ref)) continue;
                    for (const auto k : it->second)
                        if (k > i) near_pads(pads[i], pads[k]);
                }
    }

    void near_pads(const BoardPad& a, const BoardPad& b) {
        const double mm = std::hypot(to_mm(a.at.x - b.at.x), to_mm(a.at.y - b.at.y));
        const bool one_side = a.side == PadSide::both || b.side == PadSide::both || a.side == b.side;
        if (a.ref != b.ref && mm <= parts_near_mm && one_side) pair(a.point(), b.point(), mm);
    }

    void covered() {
        if (read_ == nullptr) return;
        std::vector<std::string> behind;
        for (const auto& p : out_.parts)
            if (p.back) behind.push_back(p.ref);
        std::vector<PartBody> bodies;
        for (auto& b : bodies_of(read_->pads, circuit_.packages_of, a_.data->packages, behind))
            if (fits(b.ref)) bodies.push_back(std::move(b));
        for (auto& c : covered_joints(read_->pads, bodies))
            if (fits(c.ref)) out_.covered.push_back(std::move(c));
    }

    const Analysis& a_;
    const BoardCircuit& circuit_;
    const FabricationAnalysis* read_;
    const Fabrication* board_;
    const BoardVariant* variant_;
    std::map<std::string, std::size_t> net_of_;
    BuildBoard out_;
};

}  // namespace

std::optional<BuildBoard> build_board(const Analysis& a, const std::string& board,
                                      const std::string& variant) {
    if (!a.data) return std::nullopt;
    const Fabrication* fab = nullptr;
    for (const auto& b : *a.dossier.boards)
        if (b.id == board) fab = &b;
    const auto* read = fab != nullptr && a.board ? a.board->find(board) : nullptr;
    std::shared_ptr<const BoardCircuit> circuit;
    if (read != nullptr)
        circuit = read->circuit;
    else if (board.empty() && a.wire && !a.wire->circuit.empty())
        circuit = board_circuit_of(std::shared_ptr<const Circuit>(a.wire, &a.wire->circuit), "Wire");
    if (!circuit || circuit->nets.empty()) return std::nullopt;
    const BoardVariant* as = nullptr;
    if (fab != nullptr)
        for (const auto& v : fab->variants)
            if (v.name == variant) as = &v;
    auto out = BuildWork(a, *circuit, read, fab, as).make();
    out.id = board;
    out.title = fab == nullptr ? "the circuit" : fab->title.empty() ? fab->id : fab->title;
    out.variant = variant;
    out.of_wire = fab == nullptr || fab->against.empty() || fab->against == "wire";
    for (const auto& b : *a.dossier.builds)
        if (b.board == board && b.variant == variant)
            for (const auto& step : b.steps)
                if (std::find(out.hand.begin(), out.hand.end(), step) == out.hand.end())
                    out.hand.push_back(step);
    if (as == nullptr && !variant.empty()) out.problems.push_back("there is no variant " + variant);
    return out;
}

}  // namespace grayrelic
