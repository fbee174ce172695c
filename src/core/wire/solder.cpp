// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wire/solder.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/quantity.hpp"

namespace grayrelic {
namespace {

/// Without a record: what beginners are taken to manage.
double usual_chance(SolderClass c) {
    switch (c) {
        case SolderClass::easy: return 0.98;
        case SolderClass::fair: return 0.9;
        case SolderClass::hard: return 0.7;
        case SolderClass::hot_air: return 0.5;
    }
    return 0.5;
}

constexpr double sure = 0.9, likely = 0.6;

bool has_tool(const Bench& bench, SolderClass c) {
    if (c != SolderClass::hot_air) return true;
    return bench.has(InstrumentKind::hot_air) || bench.has(InstrumentKind::oven);
}

void judge(SolderAdvice& out, const PackageShape& shape, const Bench& bench) {
    out.how = shape.solder;
    out.chance = usual_chance(shape.solder);
    for (const auto& r : bench.solder) {
        if (r.package != shape.bench || r.done == 0) continue;
        out.done = r.done;
        out.bad = r.bad;
        out.chance = own_yield(r);
        out.own_record = true;
    }
    const auto record = out.own_record
                            ? fmt::format("You have soldered {} of this kind, {} badly.", out.done, out.bad)
                            : fmt::format("You have soldered none of this kind yet.");
    if (!has_tool(bench, shape.solder)) {
        out.verdict = Verdict::stop;
        out.why = fmt::format(
            "{} lies below the body or between pads too fine for an iron, and your bench has neither hot air "
            "nor an oven. {}",
            shape.belly ? "A pad" : "A joint", record);
    } else if (out.chance >= sure) {
        out.verdict = Verdict::holds;
        out.why = record;
    } else {
        out.verdict = out.chance >= likely ? Verdict::doubt : Verdict::stop;
        out.why = fmt::format("{} About {} of them come out well.", record, print_share(out.chance));
    }
}

}  // namespace

SolderAdvice advice_for(const PartType& type, const std::string& package, const PackageLibrary& packages,
                        const Bench& bench) {
    SolderAdvice out;
    out.part = type.id;
    out.package = package;
    out.service = std::find(bench.processes.begin(), bench.processes.end(), Process::assembly_service) !=
                  bench.processes.end();
    const auto found = packages.find(package);
    if (!found) {
        out.known = false;
        out.why = package.empty() ? "Its package is not said."
                                  : fmt::format("The package {} is not described.", package);
        return out;
    }
    judge(out, *found->shape, bench);
    std::vector<std::pair<SolderClass, std::string>> easier;
    for (const auto& other : type.packages)
        if (const auto p = packages.find(other); p && p->shape->solder < found->shape->solder)
            easier.emplace_back(p->shape->solder, other);
    std::stable_sort(easier.begin(), easier.end(),
                     [](const auto& a, const auto& b) { return a.first < b.first; });
    for (auto& e : easier) out.easier.push_back(std::move(e.second));
    out.instead = type.instead;
    return out;
}

std::vector<SolderAdvice> solder_advice(const Network& network, const PackageLibrary& packages,
                                        const Bench& bench) {
    std::vector<SolderAdvice> out;
    for (const auto& p : network.all) {
        const auto called = p.called();
        const auto package = p.package.empty() ? p.type->package : p.package;
        const auto at = std::find_if(out.begin(), out.end(), [&](const SolderAdvice& a) {
            return a.part == called && a.package == package;
        });
        if (at != out.end()) {
            at->refs.push_back(p.ref);
            continue;
        }
        auto advice = advice_for(*p.type, package, packages, bench);
        advice.part = called;
        advice.refs = {p.ref};
        out.push_back(std::move(advice));
    }
    return out;
}

}  // namespace grayrelic
