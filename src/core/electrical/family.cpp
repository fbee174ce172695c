// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/electrical/family.hpp"

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
    return f;
}

}  // namespace

double Family::input_limit_v(double supply_v) const {
    return limit_high_v ? *limit_high_v : supply_v + *limit_above_supply_v;
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
