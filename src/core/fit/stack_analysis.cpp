// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/stack_analysis.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.hpp"
#include "core/library/data_library.hpp"

namespace grayrelic {
namespace {

class StackWork {
  public:
    StackWork(const Analysis& a, const BoardStack& stack) : a_(a), stack_(stack) {
        out_.id = stack.id;
        out_.name = stack.name.empty() ? stack.id : stack.name;
    }

    StackResult make() {
        for (std::size_t i = 0; i < stack_.levels.size(); ++i) add(stack_.levels[i], i == 0);
        out_.geometry = judge_stack(out_.boards);
        out_.nets = join_levels(stack_, levels_, out_.boards);
        if (out_.gaps.empty()) out_.height_mm = height();
        conclude();
        return std::move(out_);
    }

  private:
    const Fabrication* board_of(const StackLevel& level) {
        for (const auto& b : *a_.dossier.boards)
            if (b.id == level.board) return &b;
        out_.problems.push_back(fmt::format("{} is the board {}, which the dossier does not have", level.name,
                                            in_quotes(level.board)));
        return nullptr;
    }

    void add(const StackLevel& level, bool lowest) {
        StackBoard b;
        b.name = level.name;
        b.x_mm = level.x_mm;
        b.y_mm = level.y_mm;
        b.turn_deg = level.turn_deg;
        b.over = level.over;
        if (!lowest) b.gap_mm = gap_of(level);
        LevelNets nets;
        if (const auto* fab = board_of(level)) {
            b.thick_mm = fab->thick_mm;
            const BoardVariant* variant = nullptr;
            for (const auto& v : fab->variants)
                if (v.name == level.variant) variant = &v;
            if (variant == nullptr && !level.variant.empty())
                out_.problems.push_back(fmt::format("{} is fitted as {}, which {} does not have", level.name,
                                                    in_quotes(level.variant), level.board));
            if (const auto* read = a_.board ? a_.board->find(fab->id) : nullptr) {
                fill(b, *fab, *read, variant);
                nets = fitted_nets(*read->circuit, variant, out_.problems);
            }
        }
        for (const auto& j : stack_.joins)
            for (const auto* end : {&j.lower, &j.upper})
                if (j.kind != JoinKind::cable && end->starts_with(level.name + "/"))
                    b.joins.insert(end->substr(level.name.size() + 1));
        nets.name = level.name;
        out_.boards.push_back(std::move(b));
        levels_.push_back(std::move(nets));
    }

    void fill(StackBoard& b, const Fabrication& fab, const FabricationAnalysis& read,
              const BoardVariant* variant) {
        if (read.read->outline.known()) b.outline = read.read->outline.rings();
        b.pads = read.pads;
        std::vector<std::string> behind;
        for (const auto& c : fab.connectors)
            if (c.side == StandsOn::bottom) behind.push_back(c.ref);
        b.behind.insert(behind.begin(), behind.end());
        if (variant != nullptr)
            for (const auto& [ref, s] : standing_parts(b.pads))
                if (!variant->fits(ref) && variant->jumpers.count(ref) == 0) b.left_out.insert(ref);
        if (!a_.data) return;
        for (auto& body : bodies_of(b.pads, read.circuit->packages_of, a_.data->packages, behind))
            if (b.left_out.count(body.ref) == 0) b.bodies.push_back(std::move(body));
    }

    std::optional<double> gap_of(const StackLevel& level) {
        auto fact = level.gap;
        if (!level.dimension.empty())
            for (const auto& d : *a_.dossier.dimensions)
                if (d.id == level.dimension) fact = d.mm;
        if (!fact.value) {
            out_.gaps.push_back(level.name);
            return std::nullopt;
        }
        if (fact.evidence.kind == EvidenceKind::assumed) out_.assumed.push_back(level.name);
        return *fact.value - fact.uncertainty.value_or(0);
    }

    double height() const {
        double z = 0, least = 0, most = 0;
        for (std::size_t i = 0; i < out_.boards.size(); ++i) {
            const auto& b = out_.boards[i];
            if (i > 0) z += b.gap_mm.value_or(0);
            least = std::min(least, z);
            most = std::max(most, z + b.thick_mm);
            for (const auto& body : b.bodies) {
                const bool up = body.back == b.over;
                if (up)
                    most = std::max(most, z + b.thick_mm + body.height_mm);
                else
                    least = std::min(least, z - body.height_mm);
            }
            z += b.thick_mm;
        }
        return most - least;
    }

    void conclude() {
        auto v = Verdict::holds;
        std::size_t stops = 0, doubts = 0;
        const auto count = [&](Verdict each) {
            v = worse(v, each);
            stops += each == Verdict::stop ? 1 : 0;
            doubts += each == Verdict::doubt ? 1 : 0;
        };
        for (const auto& c : out_.geometry.clashes) count(c.verdict);
        for (const auto& f : out_.nets.faults) count(f.verdict);
        for (const auto& j : out_.nets.joins) {
            if (!j.problem.empty())
                count(Verdict::stop);
            else if (stack_.joins[j.join].kind == JoinKind::soldered)
                count(j.strip.verdict);
        }
        if (!out_.problems.empty() || !out_.gaps.empty() || !out_.geometry.unknown.empty())
            v = worse(v, Verdict::unknown);
        if (stack_.levels.size() < 2) v = Verdict::unknown;
        out_.verdict = v;
        const auto number = [](std::size_t n, const char* one, const char* more) {
            return plural(static_cast<long long>(n), one, more);
        };
        if (stack_.levels.size() < 2)
            out_.says = "a stack has two levels at the least";
        else if (stops + doubts > 0)
            out_.says = stops == 0 ? number(doubts, "doubt", "doubts")
                        : doubts == 0
                            ? number(stops, "thing that fails", "things that fail")
                            : fmt::format("{}, {}", number(stops, "thing that fails", "things that fail"),
                                          number(doubts, "doubt", "doubts"));
        else if (v == Verdict::unknown)
            out_.says = !out_.problems.empty() ? out_.problems.front()
                        : !out_.gaps.empty()
                            ? "can't be told: nobody knows the gap below " + out_.gaps.front()
                            : fmt::format("nobody knows how high {} is{}", out_.geometry.unknown.front(),
                                          out_.geometry.unknown.size() > 1
                                              ? fmt::format(", and {} more", out_.geometry.unknown.size() - 1)
                                              : "");
        else
            out_.says = "nothing meets, nothing drives against anything";
        if (out_.height_mm) out_.says += fmt::format("; {:.1f} mm high", *out_.height_mm);
        if (!out_.geometry.covered.empty())
            out_.says +=
                "; " + number(out_.geometry.covered.size(), "joint", "joints") + " to be made before";
    }

    const Analysis& a_;
    const BoardStack& stack_;
    StackResult out_;
    std::vector<LevelNets> levels_;
};

}  // namespace

StackResult stack_of(const Analysis& a, const BoardStack& stack) {
    return StackWork(a, stack).make();
}

std::string level_title(const StackLevel& level) {
    return level.variant.empty() ? level.name : level.name + ", as " + level.variant;
}

std::string pin_budget(const JoinedConnectors& j) {
    if (!j.problem.empty()) return j.problem;
    return fmt::format("{} of {} contacts used, {}, {}, {} free", j.used, j.contacts.size(),
                       plural(j.grounds, "ground", "grounds"), plural(j.supplies, "supply", "supplies"),
                       j.free);
}

}  // namespace grayrelic
