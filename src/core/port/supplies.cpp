// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/port/supplies.hpp"

#include <algorithm>
#include <cmath>

#include "core/base/data_files.hpp"
#include "core/json/json_node.hpp"

namespace grayrelic {
namespace {

double between(const JsonNode& n, double least, double most, const std::string& expected) {
    const double v = n.number();
    if (!(v >= least && v <= most)) n.fault(n.shown(), expected + " for " + print_path(n.path()));
    return v;
}

SupplyBrick read_brick(JsonNode& n) {
    SupplyBrick b;
    b.id = n.required("id").text(64);
    b.name = n.required("name").text(200);
    b.source = n.required("source").text(1000);
    constexpr std::size_t most_connectors = 100;
    for (const auto& c : n.required("connectors").elements(most_connectors))
        b.connectors.push_back(c.text(64));
    if (b.connectors.empty())
        n.required("connectors").fault("no connector", "at least one connector that its plug goes into");
    b.alternating = n.flag("alternating");
    b.volts = between(n.required("volts"), -60, 60, "volts from -60 to 60");
    if (b.volts == 0) n.required("volts").fault("0", "volts other than 0");
    const double peak = std::abs(b.volts) * (b.alternating ? std::sqrt(2.0) : 1.0);
    const auto none = n.member("no_load_v");
    b.no_load_v = std::copysign(
        none ? between(*none, peak * 0.99, 120, "what stands there with nothing drawn, volts or more") : peak,
        b.volts);
    b.regulated = !none;
    b.amperes = between(n.required("amperes"), 0.001, 100, "amperes from 0.001 to 100");
    return b;
}

}  // namespace

Result<SupplyBrick> supply_from_json(std::string_view text, const std::string& file) {
    return read_json(text, file, "a supply as JSON", read_brick);
}

SupplyLibrary SupplyLibrary::load(FileSystem& files, const std::vector<std::filesystem::path>& folders) {
    SupplyLibrary out;
    out.problems = read_data_files(
        files, folders, "supplies", [&](const std::string& text, const std::string& path) -> Status {
            return supply_from_json(text, path).map([&](SupplyBrick b) {
                std::erase_if(out.supplies, [&](const SupplyBrick& old) { return old.id == b.id; });
                out.supplies.push_back(std::move(b));
            });
        });
    return out;
}

}  // namespace grayrelic
