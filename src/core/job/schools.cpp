// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/schools.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <functional>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/timing/reply_option.hpp"
#include "core/timing/timing_analysis.hpp"
#include "core/wire/bill.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {
namespace {

constexpr double mm2 = 1e-6;
constexpr double usual_efficiency = 0.85, usual_dropout = 1.5, usual_theta = 65;

std::string area_text(double m2) {
    return fmt::format("{:.3g} cm²", m2 * 1e4);
}

SchoolCell typed(const std::string& text) {
    return {text, false, Verdict::unknown, std::nullopt, false};
}

SchoolCell computed(std::string text, std::optional<double> figure) {
    return {std::move(text), true, Verdict::unknown, figure, false};
}

/// The column with the best figure stands out, where there are two that differ.
void find_best(SchoolRow& row, bool least) {
    const SchoolCell* best = nullptr;
    int known = 0;
    for (const auto& c : row.cells) {
        if (!c.figure) continue;
        ++known;
        if (best == nullptr || (least ? *c.figure < *best->figure : *c.figure > *best->figure)) best = &c;
    }
    if (known < 2) return;
    const double figure = *best->figure;
    const bool differ = std::any_of(row.cells.begin(), row.cells.end(),
                                    [&](const auto& c) { return c.figure && *c.figure != figure; });
    for (auto& c : row.cells) c.best = differ && c.figure == figure;
}

struct OptionColumn {
    const BuildOption& option;
    const OptionAnalysis* analysis;
    const NetworkBill* bill;
    OptionBill shown;
};

SchoolCell margin_of(const OptionColumn& c) {
    if (c.analysis == nullptr || !c.analysis->summary || !c.analysis->summary->worst_margin) {
        auto cell = typed(c.analysis != nullptr && !c.analysis->problem.empty() ? "can't be judged" : "");
        cell.computed = true;
        return cell;
    }
    auto cell =
        computed(print(*c.analysis->summary->worst_margin), c.analysis->summary->worst_margin->seconds());
    cell.verdict = c.analysis->verdict;
    return cell;
}

SchoolCell number_cell(const std::optional<double>& v, bool from_network,
                       const std::function<std::string(double)>& text) {
    if (!v) return typed({});
    auto cell = computed(text(*v), v);
    cell.computed = from_network;
    return cell;
}

SchoolCell number_of(const BuildOption& o, const char* key) {
    for (const auto& n : o.numbers)
        if (n.key == key) return typed(fmt::format("{:g}", n.value.value));
    return typed({});
}

SchoolRow row_of(const std::vector<OptionColumn>& columns, std::string name, std::string rule,
                 std::string key, const std::function<SchoolCell(const OptionColumn&)>& cell) {
    SchoolRow row{std::move(name), std::move(rule), std::move(key), {}};
    for (const auto& c : columns) row.cells.push_back(cell(c));
    return row;
}

}  // namespace

SchoolTable compare_options(const Analysis& a) {
    SchoolTable t;
    std::vector<OptionColumn> columns;
    for (const auto& o : a.dossier.timing->options) {
        const auto* cost = a.wire ? a.wire->find_cost(o.id) : nullptr;
        const auto* bill = cost == nullptr || cost->bill.count == 0 ? nullptr : &cost->bill;
        columns.push_back({o, a.find_option(o.id), bill, shown_bill(o, bill)});
        t.ids.push_back(o.id);
        t.names.push_back(o.name);
    }
    if (columns.empty()) return t;
    const auto add = [&](std::string name, std::string rule, std::string key,
                         const std::function<SchoolCell(const OptionColumn&)>& cell,
                         std::optional<bool> least = {}) {
        auto row = row_of(columns, std::move(name), std::move(rule), std::move(key), cell);
        if (least) find_best(row, *least);
        t.rows.push_back(std::move(row));
    };
    const auto text = [](auto member) {
        return [member](const OptionColumn& c) {
            auto cell = typed(c.shown.*member);
            cell.computed = c.bill != nullptr && c.option.bill.*member != c.shown.*member;
            return cell;
        };
    };
    add("Way", "what answers", {},
        [](const OptionColumn& c) { return computed(kind_label(c.option.kind), std::nullopt); });
    add("Margin", "the host's look minus the slowest reply, of all that were recorded", {}, margin_of, false);
    add(
        "Current", "own currents of the parts, most; without what they drive", "current",
        [](const OptionColumn& c) {
            return number_cell(c.shown.current, c.bill != nullptr,
                               [](double v) { return print_number(v, Unit::ampere); });
        },
        true);
    add(
        "Parts", "of the option and what all share", {},
        [](const OptionColumn& c) {
            return c.bill == nullptr ? typed(c.shown.parts)
                                     : computed(plural(c.bill->count, "part", "parts"), c.bill->count);
        },
        true);
    add(
        "Cost", "of one board, of parts whose price is known", "cost",
        [](const OptionColumn& c) {
            auto cell = number_cell(c.shown.cost, c.bill != nullptr,
                                    [](double v) { return fmt::format("{:.2f}", v); });
            if (c.bill != nullptr && c.shown.cost && c.bill->without_price > 0) {
                cell.text += fmt::format(" + {} unpriced", c.bill->without_price);
                cell.figure.reset();  // what is not whole is not compared
            }
            return cell;
        },
        true);
    add(
        "Board area", "bodies and pads with 1 mm around; tracks come on top, about as much again", "area",
        [](const OptionColumn& c) { return number_cell(c.shown.area, c.bill != nullptr, area_text); }, true);
    add("Soldering", "the hardest package of it", "soldering", text(&OptionBill::soldering));
    add("Undone by", "what it leaves behind in the relic", "reversible", text(&OptionBill::reversible));
    add("Will need replacing", "sockets for what is through-hole; what ages", "service",
        text(&OptionBill::service));
    add(
        "Hours", "of work until it runs, estimated by you", "hours",
        [](const OptionColumn& c) {
            return number_cell(c.shown.hours, false, [](double v) { return fmt::format("{:g} h", v); });
        },
        true);
    add("Sample at hand", "code or a circuit that has run before", "sample", text(&OptionBill::sample));
    const bool any_fpga = std::any_of(columns.begin(), columns.end(),
                                      [](const auto& c) { return c.option.kind == OptionKind::fpga; });
    if (any_fpga)
        for (const auto& [key, name, rule] :
             {std::tuple("pins", "FPGA pins", "that the job needs"),
              std::tuple("banks", "FPGA banks", "pins at one supply together"),
              std::tuple("cells", "FPGA cells", "rough: a flip-flop and its table each")})
            add(name, rule, {}, [key = key](const OptionColumn& c) { return number_of(c.option, key); });
    return t;
}

std::vector<RegulatorChoice> compare_regulators(const Analysis& a) {
    std::vector<RegulatorChoice> out;
    if (!a.wire || a.wire->rails.modes.empty()) return out;
    const auto& tree = a.wire->rails.tree;
    for (std::size_t i = 0; i < tree.parts.size(); ++i) {
        const auto& p = tree.parts[i];
        if (p.kind != RailPartKind::linear && p.kind != RailPartKind::switcher) continue;
        RegulatorChoice c;
        c.ref = p.ref;
        c.linear_now = p.kind == RailPartKind::linear;
        const auto side = [&](RailPartKind kind) {
            auto other = tree;
            auto& part = other.parts[i];
            part.kind = kind;
            part.efficiency =
                kind == RailPartKind::switcher ? (p.efficiency > 0 ? p.efficiency : usual_efficiency) : 0;
            if (kind == RailPartKind::linear && !part.dropout_v) part.dropout_v = usual_dropout;
            if (kind == RailPartKind::linear && !part.theta) part.theta = usual_theta;
            if (kind == RailPartKind::switcher && c.linear_now) part.theta.reset();
            const auto figures = rail_figures(other, {}, usual_ambient_c);
            const auto& f = figures.parts[i];
            return RegulatorChoice::Side{f.loss_w, f.in_a, f.junction_c, f.verdict};
        };
        c.linear = side(RailPartKind::linear);
        c.switching = side(RailPartKind::switcher);
        if (c.linear.verdict == Verdict::stop)
            c.says = "Linear would not do here: too hot, or too little above its output.";
        else if (c.linear.loss_w < 2 * c.switching.loss_w || c.linear.loss_w < 0.1)
            c.says = "Linear costs little here, and makes no ripple.";
        else
            c.says = "Switching saves the heat; it brings ripple and a coil.";
        if (c.linear_now)
            c.says += " Taken for it: 85 %.";
        else if (!p.dropout_v || !p.theta)
            c.says += " Taken for linear, where not said: 1.5 V dropout, 65 K/W.";
        out.push_back(std::move(c));
    }
    return out;
}

std::vector<MountChoice> compare_mounts(const Analysis& a) {
    std::vector<MountChoice> out;
    if (!a.wire || !a.data || !a.person) return out;
    for (const auto& p : a.wire->circuit.network.all) {
        const auto called = p.called();
        const auto known =
            std::find_if(out.begin(), out.end(), [&](const auto& m) { return m.part == called; });
        if (known != out.end()) {
            known->refs.push_back(p.ref);
            continue;
        }
        MountChoice m;
        m.part = called;
        m.refs.push_back(p.ref);
        for (const auto& name : p.type->packages) {
            const auto package = a.data->packages.find(name);
            if (!package) continue;
            const bool hole = package->shape->mount == PackageMount::hole;
            auto& side = hole ? m.hole : m.surface;
            if (!side.package.empty()) continue;
            const auto advice = advice_for(*p.type, name, a.data->packages, a.person->bench);
            side = {name, area_of_package(*package), package->shape->height, advice.chance, advice.verdict};
        }
        const auto now = a.data->packages.find(p.package.empty() ? p.type->package : p.package);
        m.hole_now = now && now->shape->mount == PackageMount::hole;
        if (!m.hole.package.empty() && !m.surface.package.empty()) out.push_back(std::move(m));
    }
    return out;
}

SchoolTable compare_module(const Analysis& a) {
    SchoolTable t;
    if (!a.wire || !a.data || !a.person || a.wire->pins.part.empty()) return t;
    const auto* module = a.data->parts.find(a.wire->pins.part);
    if (module == nullptr) return t;
    const auto package = a.data->packages.find(module->package);
    const auto bare = a.data->packages.find("qfn-56");
    const auto chip = bare ? bare : a.data->packages.find("qfp-64");
    t.ids = {"module", "bare"};
    t.names = {module->name, "Its chip by itself"};
    const auto row = [&](std::string name, std::string rule, SchoolCell first, SchoolCell second,
                         std::optional<bool> least = {}) {
        SchoolRow r{std::move(name), std::move(rule), {}, {std::move(first), std::move(second)}};
        if (least) find_best(r, *least);
        t.rows.push_back(std::move(r));
    };
    // Chip, memory, crystal and its two capacitors, regulator and its two, six at supply pins, USB socket and
    // its two resistors.
    constexpr int bare_parts = 1 + 1 + 3 + 3 + 6 + 3;
    row("Parts",
        "bare: chip, memory, crystal and its two capacitors, regulator and its two, six at supply pins, USB "
        "socket and its two resistors",
        computed("1 part", 1), computed(fmt::format("{} parts", bare_parts), bare_parts), true);
    if (package && chip) {
        const auto easy = advice_for(*module, module->package, a.data->packages, a.person->bench);
        const auto hard = advice_for(*module, chip->size.id, a.data->packages, a.person->bench);
        row("Soldering", "chance that it comes out well at the first try, by your bench's record",
            computed(fmt::format("{:.0f} %", 100 * easy.chance), easy.chance),
            computed(fmt::format("{:.0f} %", 100 * hard.chance), hard.chance), false);
        row("Board area", "bodies and pads with 1 mm around; the bare one's small parts 12 mm² each",
            computed(area_text(area_of_package(*package)), area_of_package(*package)),
            computed(area_text(area_of_package(*chip) + (bare_parts - 1) * 12 * mm2),
                     area_of_package(*chip) + (bare_parts - 1) * 12 * mm2),
            true);
        row("Height", "over the board, with a socket below the module 8.5 mm more",
            computed(fmt::format("{:.1f} mm", package->shape->height), package->shape->height),
            computed(fmt::format("{:.1f} mm", std::max(chip->shape->height, 3.2)),
                     std::max(chip->shape->height, 3.2)),
            true);
    }
    row("When it breaks", "", computed("pull it out of its socket", std::nullopt),
        computed("hot air, or a new board", std::nullopt));
    row("Before it runs", "what must be right at once", computed("nothing: it has run before", std::nullopt),
        computed("crystal, memory, USB, supplies: one new board more, as a rule", std::nullopt));
    return t;
}

}  // namespace grayrelic
