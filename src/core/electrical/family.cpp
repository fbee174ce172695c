// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/electrical/family.hpp"

#include <algorithm>
#include <cmath>

#include "core/base/data_files.hpp"
#include "core/base/text.hpp"
#include "core/json/json_node.hpp"

namespace grayrelic {
namespace {

double amount(const JsonNode& n) {
    const double v = n.number();
    if (!std::isfinite(v) || std::abs(v) > 1000.0)
        n.fault(n.shown(), "a number from -1000 to 1000 for " + print_path(n.path()));
    return v;
}

double amount(JsonNode& n, const std::string& key) {
    return amount(n.required(key));
}

double amount_or(JsonNode& n, const std::string& key, double otherwise) {
    const auto child = n.member(key);
    return child ? amount(*child) : otherwise;
}

std::optional<double> optional_amount(JsonNode& n, const std::string& key) {
    const auto child = n.member(key);
    return child ? std::optional(amount(*child)) : std::nullopt;
}

double current_or(JsonNode& n, const std::string& key, double otherwise) {
    const auto child = n.member(key);
    if (!child) return otherwise;
    const double v = amount(*child);
    if (v <= 0) child->fault(child->shown(), "amperes above 0 for " + print_path(child->path()));
    return v;
}

constexpr std::size_t most_steps = 20;

std::vector<OutputLoad> read_loads(JsonNode& output, const char* key, bool high) {
    std::vector<OutputLoad> out;
    const auto list = output.member(key);
    if (!list) return out;
    for (auto& n : list->elements(most_steps)) {
        n.require_object();
        OutputLoad load;
        load.a = amount(n, "a");
        const auto below = high ? optional_amount(n, "below_supply_v") : std::nullopt;
        load.below_supply = below.has_value();
        load.v = below ? *below : amount(n, "v");
        load.from_v = amount_or(n, "from_v", 0.0);
        if (load.a < 0 || (!out.empty() && load.a <= out.back().a))
            n.fault(n.shown(), "currents from 0 A in rising order");
        out.push_back(load);
    }
    return out;
}

std::vector<InputLevels> read_levels(JsonNode& input) {
    std::vector<InputLevels> out;
    const auto list = input.member("at");
    if (!list) return out;
    for (auto& n : list->elements(most_steps)) {
        n.require_object();
        const InputLevels at{amount(n, "supply_v"), amount(n, "high_min_v"), amount(n, "low_max_v")};
        if (at.low_max_v > at.high_min_v || (!out.empty() && at.supply_v <= out.back().supply_v))
            n.fault(n.shown(), "supplies in rising order, each with low_max_v up to high_min_v");
        out.push_back(at);
    }
    return out;
}

/// Loads, levels by supply and currents; what the file leaves out follows from its single figures.
void read_details(JsonNode& root, JsonNode& output, JsonNode& input, Family& f) {
    f.works_min_v = f.supply_min_v;
    f.works_max_v = f.supply_max_v;
    if (auto works = root.member("works_v")) {
        works->require_object();
        f.works_min_v = amount(*works, "min");
        f.works_max_v = amount(*works, "max");
        if (f.works_min_v > f.works_max_v) works->fault("supplies out of order", "min up to max");
    }
    f.high_loads = read_loads(output, "high", true);
    f.low_loads = read_loads(output, "low", false);
    if (f.high_loads.empty() && f.output_high_min_v)
        f.high_loads.push_back({f.output_high_a, *f.output_high_min_v, false, 0});
    if (f.low_loads.empty()) f.low_loads.push_back({f.output_low_a, f.output_low_max_v, false, 0});
    f.levels = read_levels(input);
    f.input_high_a = amount_or(input, "high_a", 0.0);
    f.input_low_a = amount_or(input, "low_a", 0.0);
    f.input_farad = amount_or(input, "farad", 0.0);
    f.differential_out_v = optional_amount(output, "differential_v");
    f.differential_in_v = optional_amount(input, "differential_v");
}

Family read_family(JsonNode& root) {
    Family f;
    f.id = root.required("id").text(64);
    f.name = root.required("name").text(200);
    f.source = root.required("source").text(1000);
    auto supply = root.required("supply_v");
    f.supply_min_v = amount(supply, "min");
    f.supply_typ_v = amount(supply, "typ");
    f.supply_max_v = amount(supply, "max");
    if (!(f.supply_min_v <= f.supply_typ_v && f.supply_typ_v <= f.supply_max_v))
        supply.fault("supplies out of order", "min, typ and max in rising order");
    auto output = root.required("output");
    f.output_high_min_v = optional_amount(output, "high_min_v");
    f.output_low_max_v = amount(output, "low_max_v");
    f.output_high_max_v = amount(output, "high_max_v");
    f.output_low_min_v = amount_or(output, "low_min_v", 0.0);
    f.output_high_a = amount_or(output, "high_a", 0.0);
    f.output_low_a = amount_or(output, "low_a", 0.0);
    f.open_collector = output.flag("open_collector");
    f.short_high_a = current_or(output, "short_high_a", f.short_high_a);
    f.short_low_a = current_or(output, "short_low_a", f.short_low_a);
    f.endures_a = current_or(output, "endures_a", f.endures_a);
    f.endures_high_a = std::max(f.endures_a, current_or(output, "endures_high_a", f.endures_a));
    auto input = root.required("input");
    f.input_high_min_v = amount(input, "high_min_v");
    f.input_low_max_v = amount(input, "low_max_v");
    if (f.input_low_max_v > f.input_high_min_v)
        input.fault("a low threshold above the high one", "low_max_v up to high_min_v");
    auto limits = root.required("limits");
    f.limit_high_v = optional_amount(limits, "high_v");
    f.limit_above_supply_v = optional_amount(limits, "above_supply_v");
    if (f.limit_high_v.has_value() == f.limit_above_supply_v.has_value())
        limits.fault("neither or both", "either \"high_v\" or \"above_supply_v\"");
    f.limit_low_v = amount(limits, "low_v");
    f.clamps = root.flag("clamps");
    f.static_sensitive = root.flag("static");
    read_details(root, output, input, f);
    return f;
}

}  // namespace

double Family::input_limit_v(double supply_v) const {
    return limit_high_v ? *limit_high_v : supply_v + *limit_above_supply_v;
}

namespace {

/// The smallest load that is specified at this supply and covers what flows.
const OutputLoad* covering(const std::vector<OutputLoad>& loads, double supply_v, double load_a) {
    constexpr double rounding = 1e-9;
    for (const auto& l : loads)
        if (l.a * (1 + rounding) >= load_a && supply_v + rounding >= l.from_v) return &l;
    return nullptr;
}

double most_of(const std::vector<OutputLoad>& loads, double supply_v) {
    double most = 0;
    for (const auto& l : loads)
        if (supply_v >= l.from_v) most = std::max(most, l.a);
    return most;
}

}  // namespace

std::optional<double> Family::high_at(double supply_v, double load_a) const {
    const auto* l = covering(high_loads, supply_v, load_a);
    if (l == nullptr) return std::nullopt;
    return l->below_supply ? supply_v - l->v : l->v;
}

std::optional<double> Family::low_at(double supply_v, double load_a) const {
    const auto* l = covering(low_loads, supply_v, load_a);
    return l == nullptr ? std::nullopt : std::optional(l->v);
}

double Family::most_high_a(double supply_v) const {
    return most_of(high_loads, supply_v);
}
double Family::most_low_a(double supply_v) const {
    return most_of(low_loads, supply_v);
}

InputLevels Family::needs_at(double supply_v) const {
    if (levels.empty()) return {supply_v, input_high_min_v, input_low_max_v};
    if (levels.size() == 1) return {supply_v, levels[0].high_min_v, levels[0].low_max_v};
    std::size_t i = 1;
    while (i + 1 < levels.size() && levels[i].supply_v < supply_v) ++i;
    const auto &a = levels[i - 1], &b = levels[i];
    const double share = (supply_v - a.supply_v) / (b.supply_v - a.supply_v);
    return {supply_v, a.high_min_v + share * (b.high_min_v - a.high_min_v),
            a.low_max_v + share * (b.low_max_v - a.low_max_v)};
}

Result<Family> family_from_json(std::string_view text, const std::string& file) {
    return read_json(text, file, "a logic family as JSON", read_family);
}

FamilyLibrary FamilyLibrary::load(FileSystem& files, const std::vector<std::filesystem::path>& folders) {
    FamilyLibrary out;
    out.problems = read_data_files(
        files, folders, "families", [&](const std::string& text, const std::string& path) -> Status {
            return family_from_json(text, path).map([&](Family f) {
                std::erase_if(out.families, [&](const Family& old) { return old.id == f.id; });
                out.families.push_back(std::move(f));
            });
        });
    return out;
}

const Family* FamilyLibrary::find(std::string_view id) const {
    for (const auto& f : families)
        if (f.id == id) return &f;
    return nullptr;
}

}  // namespace grayrelic
