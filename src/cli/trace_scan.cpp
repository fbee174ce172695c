// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli trace scan
#include <filesystem>

#include "cli/command.hpp"
#include "cli/input.hpp"
#include "cli/output.hpp"
#include "core/base/text.hpp"
#include "core/checks/analyse.hpp"
#include "core/json/json.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic::cli {

namespace {

Json joins_of(const TraceAnalysis& t) {
    Json joins = Json::array();
    for (const auto& n : t.scan_nets.nets)
        for (std::size_t k = 1; k < n.points.size(); ++k) {
            const auto& path = n.paths[k];
            Json join{{"a", t.name(n.points.front())},
                      {"b", t.name(n.points[k])},
                      {"confidence", path.confidence},
                      {"weakest", Json()}};
            if (const auto& w = path.weakest)
                join["weakest"] = {
                    {"x_mm", w->x_mm}, {"y_mm", w->y_mm}, {"side", word(w->side)}, {"why", w->why}};
            joins.push_back(std::move(join));
        }
    return joins;
}

/// Where no picture decides; a side that can't be read at all without a place.
Json unknown_places(const TraceAnalysis& t, const ScannedBoard& r) {
    Json places = Json::array();
    for (const auto& q : t.scan_nets.questions) {
        if (q.is_guess) continue;  // stands with its join
        Json between = Json::array();
        for (const int p : {q.a, q.b})
            if (p >= 0) between.push_back(t.name(p));
        places.push_back({{"x_mm", q.place.x_mm},
                          {"y_mm", q.place.y_mm},
                          {"side", word(q.place.side)},
                          {"between", between},
                          {"why", q.place.why}});
    }
    for (std::size_t k = 0; k < r.layers.size(); ++k)
        if (!r.layers[k].doubt.empty())
            places.push_back({{"x_mm", Json()},
                              {"y_mm", Json()},
                              {"side", word(k == 0 ? BoardSide::front : BoardSide::back)},
                              {"between", Json::array()},
                              {"why", r.layers[k].doubt}});
    return places;
}

void say_in_words(const TraceAnalysis& t, const ScannedBoard& r, double unknown) {
    say("{:.2f} × {:.2f} mm, {} holes, {} nets with named points, {} points unseen, {:.0f} mm² can't be "
        "seen\n",
        r.width_mm, r.height_mm, r.holes.size(), t.scan_nets.nets.size(), t.scan_nets.unseen.size(), unknown);
    for (const auto& q : t.scan_nets.questions)
        if (q.a >= 0 && q.b >= 0)
            say("{}  {} and {} at {:.2f}, {:.2f} mm on the {}: {}\n", q.is_guess ? "guessed" : "unknown",
                t.name(q.a), t.name(q.b), q.place.x_mm, q.place.y_mm, word(q.place.side), q.place.why);
    for (std::size_t k = 0; k < r.layers.size(); ++k)
        if (!r.layers[k].doubt.empty()) say("the {}: {}\n", k == 0 ? "front" : "back", r.layers[k].doubt);
}

}  // namespace

int trace_scan(const std::string& path, const std::string& out, bool json) {
    const auto a = analyse_dossier(path);
    if (!a) return report_error(a.error());
    const auto& t = *(*a)->trace;
    if (!t.scan || !t.scan->scanned) {
        say(stderr, "{}: {}\n", path, t.scan ? t.scan->problem : "no scans in this dossier");
        return unreadable;
    }
    const auto& r = *t.scan->scanned;
    if (!out.empty()) {
        const auto ending = std::filesystem::path(out).extension();
        if (ending != ".svg" && ending != ".csv")
            return report_error(usage_error(in_quotes(out), "a file that ends in .svg or .csv"));
        if (const auto free = not_over(out, (*a)->dossier, path); !free) return report_error(free.error());
        if (auto done = write_atomically(disk(), out, ending == ".svg" ? scan_svg(r) : scan_csv(r)); !done)
            return report_error(done.error());
    }
    Json nets = Json::array();
    for (const auto& n : t.scan_nets.nets) {
        Json points = Json::array();
        for (const int p : n.points) points.push_back(t.name(p));
        nets.push_back(
            {{"points", points}, {"confidence", n.confidence}, {"touches_unknown", n.touches_unknown}});
    }
    const auto joins = joins_of(t);
    const auto places = unknown_places(t, r);
    Json unseen = Json::array();
    for (const int p : t.scan_nets.unseen) unseen.push_back(t.name(p));
    double unknown = 0;
    for (const auto& l : r.layers) unknown += l.unknown_mm2;
    const Json registration = r.registration_mm ? Json(*r.registration_mm) : Json();
    if (json)
        print_json({{"width_mm", r.width_mm},
                    {"height_mm", r.height_mm},
                    {"holes", r.holes.size()},
                    {"pads", r.pads.size()},
                    {"registration_mm", registration},
                    {"unknown_mm2", unknown},
                    {"nets", nets},
                    {"unseen", unseen},
                    {"joins", joins},
                    {"unknown", places}});
    else
        say_in_words(t, r, unknown);
    return fine;
}

}  // namespace grayrelic::cli
