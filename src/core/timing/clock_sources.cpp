// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/clock_sources.hpp"

#include "core/base/data_files.hpp"
#include "core/base/text.hpp"
#include "core/json/json_node.hpp"

namespace grayrelic {
namespace {

double bounded(const JsonNode& n, double low, double high, const char* expected) {
    const double v = n.number();
    if (!(v >= low && v <= high)) n.fault(n.shown(), expected);
    return v;
}

}  // namespace

Result<ClockFile> clocks_from_json(std::string_view text, const std::string& file) {
    return read_json(text, file, "clock sources as JSON", [](JsonNode& root) {
        root.require_object();
        ClockFile out;
        out.id = root.required("id").text(64);
        (void)root.required("name").text(200);
        (void)root.required("source").text(1000);
        for (auto& n : root.required("sources").elements(1000)) {
            n.require_object();
            ClockSource s;
            s.name = n.required("name").text(100);
            s.hz = bounded(n.required("hz"), 1.0, 1e10, "a frequency from 1 Hz to 10 GHz");
            if (const auto t = n.member("tolerance_ppm"))
                s.tolerance_ppm = bounded(*t, 0.1, 1e5, "a tolerance from 0.1 to 100000 ppm");
            if (const auto w = n.member("weight"))
                s.weight = bounded(*w, 1e-6, 1.0, "a weight above 0, at most 1");
            out.sources.push_back(std::move(s));
        }
        return out;
    });
}

ClockLibrary ClockLibrary::load(FileSystem& files, const std::vector<std::filesystem::path>& folders) {
    ClockLibrary out;
    std::vector<ClockFile> read;
    out.problems = read_data_files(
        files, folders, "clocks", [&](const std::string& text, const std::string& path) -> Status {
            return clocks_from_json(text, path).map([&](ClockFile f) {
                std::erase_if(read, [&](const ClockFile& old) { return old.id == f.id; });
                read.push_back(std::move(f));
            });
        });
    for (const auto& f : read) out.sources.insert(out.sources.end(), f.sources.begin(), f.sources.end());
    return out;
}

}  // namespace grayrelic
