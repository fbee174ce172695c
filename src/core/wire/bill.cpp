// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wire/bill.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/base/text.hpp"
#include "core/person/drawer.hpp"

namespace grayrelic {
namespace {

/// The least price of so many: price steps begin at their count.
std::optional<double> price_of(const Supply& supply, const std::string& part, int count) {
    const auto key = part_key(part);
    std::optional<double> best;
    for (const auto& line : supply.parts) {
        if (part_key(line.part) != key) continue;
        for (const auto& step : line.prices) {
            const double cost = std::max(step.from, count) * step.each;
            if (!best || cost < *best) best = cost;
        }
    }
    return best;
}

/// What will need replacing one day: chips that can stand in sockets, and those that can't; what ages.
struct ServiceCount {
    int socketed = 0, soldered = 0;
    std::vector<std::string> ageing;
    void look_at(const ListedPart& p, const Package& package) {
        const auto& f = p.type->function;
        if (p.type->id == "electrolytic" || f == "fuse" || f == "battery" || f == "relay")
            ageing.push_back(p.ref);
        else if (p.logic || f == "module" || f == "memory" || f == "regulator")
            ++(package.shape->mount == PackageMount::hole && f != "regulator" ? socketed : soldered);
    }
    [[nodiscard]] std::string words() const {
        std::string out;
        if (socketed > 0) out = plural(socketed, "chip can stand in a socket", "chips can stand in sockets");
        if (soldered > 0)
            out += (out.empty() ? "" : "; ") + plural(soldered, "chip is soldered", "chips are soldered");
        if (!ageing.empty())
            out += fmt::format("{}{} ages: plug it, or leave room", out.empty() ? "" : "; ",
                               fmt::join(ageing, ", "));
        return out;
    }
};

bool draws(const ListedPart& p) {
    return std::any_of(p.type->pins.begin(), p.type->pins.end(),
                       [](const PartPin& pin) { return pin.kind == PinKind::supply; });
}

}  // namespace

double area_of_package(const Package& p) {
    constexpr double square_mm = 1e-6, around = 2;
    const double across = std::max(p.size.width, p.size.row + p.shape->pad_length);
    return (p.size.length + around) * (across + around) * square_mm;
}

std::optional<double> own_current(const ListedPart& p) {
    if (p.type->electrical.supply_a) return p.type->electrical.supply_a;
    if (!p.logic || p.words.empty()) return std::nullopt;
    static const std::map<std::string, double, std::less<>> by_family{
        {"hc", 80e-6},    {"hct", 80e-6}, {"ahct", 40e-6}, {"lvc", 40e-6},
        {"4000b", 30e-6}, {"ls", 20e-3},  {"ttl", 40e-3}};
    const auto at = by_family.find(p.words.front());
    return at == by_family.end() ? std::nullopt : std::optional(at->second);
}

OptionBill shown_bill(const BuildOption& option, const NetworkBill* bill) {
    if (bill == nullptr || bill->count == 0) return option.bill;
    auto out = option.bill;
    out.parts = bill->parts;
    out.soldering = bill->soldering;
    // Without a single price or current nothing is known better than what was typed.
    if (bill->cost) out.cost = bill->cost;
    if (bill->current_a) out.current = bill->current_a;
    if (bill->area_m2 > 0) out.area = bill->area_m2;
    if (out.service.empty()) out.service = bill->service;
    return out;
}

NetworkBill bill_of(const Network& network, const Supply& supply, const FamilyLibrary&,
                    const PackageLibrary& packages) {
    NetworkBill out;
    std::vector<std::pair<std::string, int>> counts;
    double pitch = 0;
    bool surface = false;
    ServiceCount service;
    for (const auto& p : network.all) {
        const auto called = p.called();
        const auto at =
            std::find_if(counts.begin(), counts.end(), [&](const auto& c) { return c.first == called; });
        if (at == counts.end())
            counts.emplace_back(called, 1);
        else
            ++at->second;
        ++out.count;
        if (draws(p)) {
            if (const auto a = own_current(p))
                out.current_a = out.current_a.value_or(0) + *a;
            else
                ++out.without_current;
        }
        const auto package = packages.find(p.package.empty() ? p.type->package : p.package);
        if (!package) {
            ++out.without_area;
            continue;
        }
        out.area_m2 += area_of_package(*package);
        service.look_at(p, *package);
        out.hardest = std::max(out.hardest, package->shape->solder);
        if (package->shape->mount != PackageMount::surface) continue;
        const double own = package->shape->pitch > 0 ? package->shape->pitch : package->size.row;
        pitch = surface ? std::min(pitch, own) : own;
        surface = true;
    }
    for (const auto& [part, n] : counts) {
        out.parts += (out.parts.empty() ? "" : ", ") + (n == 1 ? part : fmt::format("{} × {}", n, part));
        const int needed = n * std::max(supply.boards, 1);
        if (const auto cost = price_of(supply, part, needed))
            out.cost = out.cost.value_or(0) + *cost / std::max(supply.boards, 1);
        else
            ++out.without_price;
    }
    out.service = service.words();
    if (out.count > 0) out.soldering = surface ? fmt::format("surface, {:.3g} mm", pitch) : "through-hole";
    return out;
}

}  // namespace grayrelic
