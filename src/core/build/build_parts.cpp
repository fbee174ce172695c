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
        for (const auto& n : out_.nets)
            for (const auto& p : n.points) refs.emplace(ref_in(p));
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
                    ref, DrawnValue{**value, p->type->function == "capacitor", part_tolerance(*p)});
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
    std::string net_at(const std::string& point) const {
        for (const auto& n : out_.nets)
            if (std::find(n.points.begin(), n.points.end(), point) != n.points.end()) return "net " + n.name;
        return "pin " + point;
    }

    void pair(const std::string& a, const std::string& b, double mm) {
        if (net_at(a) != net_at(b)) out_.neighbours.push_back({a, b, mm});
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
        const auto& pads = read_->pads;
        for (std::size_t i = 0; i < pads.size(); ++i)
            for (std::size_t k = i + 1; k < pads.size(); ++k) {
                if (pads[i].ref == pads[k].ref || !fits(pads[i].ref) || !fits(pads[k].ref)) continue;
                const double mm =
                    std::hypot(to_mm(pads[i].at.x - pads[k].at.x), to_mm(pads[i].at.y - pads[k].at.y));
                const bool one_side = pads[i].side == PadSide::both || pads[k].side == PadSide::both ||
                                      pads[i].side == pads[k].side;
                if (mm <= parts_near_mm && one_side) pair(pads[i].point(), pads[k].point(), mm);
            }
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
    if (as == nullptr && !variant.empty()) out.problems.push_back("there is no variant " + variant);
    return out;
}

}  // namespace grayrelic
