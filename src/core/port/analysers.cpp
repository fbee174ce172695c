// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/port/analysers.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/data_files.hpp"
#include "core/json/json_node.hpp"

namespace grayrelic {
namespace {

double ranged(JsonNode& n, const std::string& key, double least, double most) {
    const auto child = n.required(key);
    const double v = child.number();
    if (!(v >= least && v <= most))
        child.fault(child.shown(),
                    fmt::format("a number from {:g} to {:g} for {}", least, most, print_path(child.path())));
    return v;
}

AnalyserModel read_analyser(JsonNode& n) {
    AnalyserModel a;
    a.id = n.required("id").text(64);
    a.name = n.required("name").text(200);
    a.source = n.required("source").text(1000);
    a.channels = static_cast<int>(ranged(n, "channels", 1, 1024));
    auto rates = n.required("rates_hz");
    for (const auto& r : rates.elements(100)) {
        const double hz = r.number();
        if (!(hz > 0 && hz <= 1e12) || (!a.rates_hz.empty() && hz <= a.rates_hz.back()))
            r.fault(r.shown(), "rates above 0 Hz in rising order");
        a.rates_hz.push_back(hz);
    }
    if (a.rates_hz.empty()) rates.fault("no rate", "at least one rate");
    if (n.member("samples")) a.samples = ranged(n, "samples", 1, 1e15);
    a.limit_low_v = ranged(n, "limit_low_v", -1000, 0);
    a.limit_high_v = ranged(n, "limit_high_v", 0, 1000);
    a.low_max_v = ranged(n, "low_max_v", a.limit_low_v, a.limit_high_v);
    a.high_min_v = ranged(n, "high_min_v", a.low_max_v, a.limit_high_v);
    a.input_ohm = ranged(n, "input_ohm", 1, 1e15);
    a.input_farad = ranged(n, "input_farad", 0, 1e-6);
    return a;
}

}  // namespace

Result<AnalyserModel> analyser_from_json(std::string_view text, const std::string& file) {
    return read_json(text, file, "an analyser as JSON", read_analyser);
}

AnalyserLibrary AnalyserLibrary::load(FileSystem& files, const std::vector<std::filesystem::path>& folders) {
    AnalyserLibrary out;
    out.problems = read_data_files(
        files, folders, "analysers", [&](const std::string& text, const std::string& path) -> Status {
            return analyser_from_json(text, path).map([&](AnalyserModel a) {
                std::erase_if(out.analysers, [&](const AnalyserModel& old) { return old.id == a.id; });
                out.analysers.push_back(std::move(a));
            });
        });
    return out;
}

const AnalyserModel* AnalyserLibrary::find(std::string_view id) const {
    for (const auto& a : analysers)
        if (a.id == id) return &a;
    return analysers.empty() ? nullptr : &analysers.front();
}

}  // namespace grayrelic
