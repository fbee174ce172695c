// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli trace nets, compare, scan, sheets, netlist
#include <fmt/format.h>

#include <filesystem>
#include <memory>
#include <set>

#include "cli/command.hpp"
#include "cli/input.hpp"
#include "cli/output.hpp"
#include "core/base/table.hpp"
#include "core/base/text.hpp"
#include "core/checks/analyse.hpp"
#include "core/dossier/edits.hpp"
#include "core/json/json.hpp"
#include "core/report/circuit_sheets.hpp"
#include "core/trace/netlist.hpp"
#include "core/trace/structure.hpp"
#include "render/pdf.hpp"

namespace grayrelic::cli {
namespace {

constexpr std::size_t most_bytes = 64U << 20U;

bool is_dossier(const std::string& path) {
    std::error_code code;
    return std::filesystem::is_directory(path, code) ||
           std::filesystem::path(path).filename() == "dossier.json";
}

/// One cell of a list of parts, by its column.
Status take_cell(BoardPart& p, const std::string& column, const std::string& cell, const std::string& path,
                 std::size_t line) {
    if (cell.empty()) return {};
    if (column == "ref") p.ref = cell;
    if (column == "type" || column == "part") p.type = cell;
    if (column == "package") p.package = cell;
    if (column == "side") {
        if (cell != "front" && cell != "back")
            return fail_at(path, line, in_quotes(cell) + " in column side", "front or back");
        p.side = cell == "back" ? BoardSide::back : BoardSide::front;
    }
    if (column != "x_mm" && column != "y_mm" && column != "turn_deg") return {};
    const auto v = parse_number(cell, Unit::none);
    if (!v) return fail_at(path, line, in_quotes(cell) + " in column " + column, "a number");
    if (column == "x_mm") p.x_mm = *v;
    if (column == "y_mm") p.y_mm = *v;
    if (column == "turn_deg") p.turn_deg = *v;
    return {};
}

/// ref,type and where it stands: package, x_mm, y_mm, turn_deg, side.
Result<std::vector<BoardPart>> read_parts(const std::string& path) {
    const auto text = disk().read(path, most_bytes);
    if (!text) return fail(text.error());
    const auto table = read_table(*text, path, "a list of parts");
    if (!table) return fail(table.error());
    std::vector<std::string> keys;
    for (const auto& cell : table->rows.front().cells) keys.push_back(heading_key(cell));
    if (std::find(keys.begin(), keys.end(), "ref") == keys.end())
        return fail_at(path, table->rows.front().line, "a heading without ref",
                       "the columns ref,type,x_mm,y_mm,turn_deg,side");
    static const std::set<std::string> known{"ref",  "type", "part", "package",
                                             "side", "x_mm", "y_mm", "turn_deg"};
    for (const auto& key : keys)
        if (known.count(key) == 0)
            return fail_at(path, table->rows.front().line, "a column " + in_quotes(key),
                           "the columns ref,type,package,x_mm,y_mm,turn_deg,side");
    std::vector<BoardPart> out;
    for (std::size_t i = 1; i < table->rows.size(); ++i) {
        const auto& row = table->rows[i];
        BoardPart p;
        for (std::size_t c = 0; c < std::min(keys.size(), row.cells.size()); ++c) {
            if (const auto taken = take_cell(p, keys[c], row.cells[c], path, row.line); !taken)
                return fail(taken.error());
        }
        if (p.ref.empty()) return fail_at(path, row.line, "no ref", "a part's name such as U2");
        for (const auto& other : out)
            if (other.ref == p.ref)
                return fail_at(path, row.line, in_quotes(p.ref) + " a second time", "each part once");
        out.push_back(std::move(p));
    }
    return out;
}

Result<std::shared_ptr<const Analysis>> analyse_ledger(const std::string& path, const std::string& parts,
                                                       double beep_below) {
    if (is_dossier(path)) return analyse_dossier(path);
    const auto text = disk().read(path, most_bytes);
    if (!text) return fail(text.error());
    auto ledger = read_ledger(*text, path);
    if (!ledger) return fail(ledger.error());
    Trace t;
    t.beep_below_ohm = beep_below;
    t.aliases = std::move(ledger->aliases);
    if (!parts.empty()) {
        auto list = read_parts(parts);
        if (!list) return fail(list.error());
        t.parts = std::move(*list);
    }
    CaptureStore store;
    Progress progress;
    return analyse(put(put({}, std::move(t)), std::move(ledger->readings)), {}, store, progress, nullptr,
                   DataLibrary::load_installed());
}

int nets(const std::string& path, const std::string& parts, double beep_below, std::size_t how_many,
         bool json) {
    const auto made = analyse_ledger(path, parts, beep_below);
    if (!made) return report_error(made.error());
    const auto& t = *(*made)->trace;
    const auto& readings = *(*made)->dossier.readings;
    PlanOptions options;
    options.how_many = how_many;
    const auto plan = plan_probes(t.view->prior, t.state, options);
    Json list = Json::array(), contradictions = Json::array(), next = Json::array(), slips = Json::array(),
         lonely = Json::array();
    for (const auto& net : t.state.nets) {
        Json points = Json::array();
        for (const int p : net) points.push_back(t.name(p));
        list.push_back(std::move(points));
    }
    for (const auto& c : t.state.contradictions) {
        std::vector<int> rows{c.apart + 1};
        for (const int r : c.chain) rows.push_back(r + 1);
        std::sort(rows.begin(), rows.end());
        contradictions.push_back({{"between", {t.name(c.a), t.name(c.b)}}, {"because", rows}});
    }
    for (const auto& s : t.suspects)
        slips.push_back({{"row", s.row + 1}, {"explains", s.explains}, {"of", s.of}, {"why", s.why}});
    for (const auto& p : plan.next)
        next.push_back({{"a", t.name(p.a)},
                        {"b", t.name(p.b)},
                        {"why", p.why},
                        {"chance", p.chance},
                        {"settles", p.tells}});
    for (const auto& l : resting_on_one(t.state)) lonely.push_back(l.row + 1);
    if (json) {
        print_json({{"nets", list},
                    {"contradictions", contradictions},
                    {"points", t.state.net_of.size()},
                    {"proven", t.state.proven()},
                    {"next", next},
                    {"slips", slips},
                    {"resting_on_one", lonely},
                    {"remaining", plan.remaining},
                    {"every_pair", plan.every_pair}});
    } else {
        for (const auto& net : t.state.nets) {
            if (net.size() < 2) continue;
            std::string line;
            for (const int p : net) line += (line.empty() ? "" : "  ") + t.name(p);
            say("{}\n", line);
        }
        for (const auto& c : t.state.contradictions)
            say("contradiction  {} and {}: rows {}\n", t.name(c.a), t.name(c.b),
                fmt::join(
                    [&] {
                        std::vector<int> rows{c.apart + 1};
                        for (const int r : c.chain) rows.push_back(r + 1);
                        return rows;
                    }(),
                    ", "));
        for (const auto& s : t.suspects)
            say("slip?          row {}: {} to {}: {}; {}\n", s.row + 1,
                readings[static_cast<std::size_t>(s.row)].a, readings[static_cast<std::size_t>(s.row)].b,
                show_reading(readings[static_cast<std::size_t>(s.row)]), s.why);
        for (const auto& p : plan.next) say("next           {} to {}: {}\n", t.name(p.a), t.name(p.b), p.why);
        say("{} points, {} nets, {} proven; about {} probes left of {} pairs\n", t.state.net_of.size(),
            t.state.net_count(), print_share(t.state.proven()),
            print_count(static_cast<long long>(plan.remaining)),
            print_count(static_cast<long long>(plan.every_pair)));
    }
    return t.state.contradictions.empty() ? fine : bad_answer;
}

Result<std::vector<Net>> nets_from(const std::string& path) {
    if (is_dossier(path)) {
        const auto a = analyse_dossier(path);
        if (!a) return fail(a.error());
        return recovered_nets(*(*a)->trace);
    }
    const auto text = disk().read(path, most_bytes);
    if (!text) return fail(text.error());
    auto list = read_netlist(*text, path);
    if (!list) return fail(list.error());
    for (const auto& note : list->notes) say(stderr, "{}: {}\n", path, note);
    return std::move(list->nets);
}

Json merges(const std::vector<NetMerge>& list) {
    Json out = Json::array();
    for (const auto& m : list) out.push_back({{"net", m.net}, {"nets", m.nets}, {"points", m.points}});
    return out;
}

int compare(const std::string& a, const std::string& b, bool structure, bool json) {
    const auto first = nets_from(a);
    if (!first) return report_error(first.error());
    auto second = nets_from(b);
    if (!second) return report_error(second.error());
    Json parts = Json::object();
    if (structure) {
        Progress progress;
        auto match = match_structure(*first, *second, progress);
        if (!match) return report_error(match.error());
        for (const auto& [x, y] : match->parts) parts[x] = y;
        second = std::move(match->renamed);
    }
    const auto c = compare_nets(*first, *second);
    const auto points = [](const std::vector<PointOfNet>& list) {
        Json out = Json::array();
        for (const auto& p : list) out.push_back({{"point", p.point}, {"net", p.net}});
        return out;
    };
    Json swapped = Json::array(), turned = Json::array();
    for (const auto& s : c.swapped)
        swapped.push_back({{"a", s.a}, {"b", s.b}, {"net_a", s.net_a}, {"net_b", s.net_b}});
    for (const auto& t : c.turned) turned.push_back({{"part", t.ref}, {"how", t.how}, {"pins", t.pins}});
    if (json) {
        Json out = {{"same", c.same},           {"missing", points(c.missing)},
                    {"extra", points(c.extra)}, {"joined", merges(c.joined)},
                    {"split", merges(c.split)}, {"swapped", swapped},
                    {"turned", turned}};
        if (structure) out["parts"] = parts;
        print_json(out);
    } else {
        for (const auto& p : c.missing) say("missing  {} of {}\n", p.point, p.net);
        for (const auto& p : c.extra) say("extra    {} in {}\n", p.point, p.net);
        for (const auto& m : c.joined)
            say("joined   {} at {}\n", fmt::join(m.nets, " and "), fmt::join(m.points, ", "));
        for (const auto& m : c.split)
            say("split    {} into pieces at {}\n", m.net, fmt::join(m.points, ", "));
        for (const auto& s : c.swapped) say("swapped  {} and {}\n", s.a, s.b);
        for (const auto& t : c.turned) say("{}  {}\n", t.how, t.ref);
        say("{} nets the same\n", c.same);
    }
    return c.equal() ? fine : bad_answer;
}

int sheets(const std::string& path, const std::string& out, bool json) {
    const auto ending = std::filesystem::path(out).extension();
    if (ending != ".pdf" && ending != ".svg")
        return report_error(usage_error(in_quotes(out), "a file that ends in .pdf or .svg"));
    const auto a = analyse_dossier(path);
    if (!a) return report_error(a.error());
    const auto list = circuit_sheets(*(*a)->trace, (*a)->dossier, (*a)->data->parts);
    if (list.empty())
        return report_error(usage_error("a dossier without parts or readings", "one with something traced"));
    Card card;
    card.width_mm = 297;
    card.height_mm = 210;
    for (const auto& s : list) card.pages.push_back(s.picture.finish());
    const render::HeadlessGui gui;
    if (const auto free = not_over(out, (*a)->dossier, path); !free) return report_error(free.error());
    const auto written = render::write_card(card, out, (*a)->dossier.about->name);
    if (!written) return report_error(written.error());
    Json files = Json::array(), about = Json::array();
    for (const auto& f : *written) {
        files.push_back(f.string());
        if (!json) say("{}\n", f.string());
    }
    for (const auto& s : list)
        about.push_back({{"title", s.title}, {"wires", s.wires}, {"unproven", s.unproven}});
    if (json) print_json({{"files", files}, {"sheets", about}});
    return fine;
}

int netlist(const std::string& path, const std::string& out, bool json) {
    const auto ending = std::filesystem::path(out).extension();
    if (ending != ".csv" && ending != ".ipc")
        return report_error(usage_error(in_quotes(out), "a file that ends in .csv or .ipc (IPC-D-356A)"));
    const auto a = analyse_dossier(path);
    if (!a) return report_error(a.error());
    const auto& t = *(*a)->trace;
    const auto nets_found = recovered_nets(t);
    std::vector<NetlistPoint> places;
    for (std::size_t p = 0; p < t.view->board.points.size(); ++p)
        if (const auto& place = t.view->board.points[p].place)
            places.push_back({t.name(static_cast<int>(p)), place->x_mm, place->y_mm});
    const auto text = ending == ".csv" ? write_net_csv(nets_found)
                                       : write_ipc_d_356a(nets_found, places, (*a)->dossier.about->name);
    if (const auto free = not_over(out, (*a)->dossier, path); !free) return report_error(free.error());
    if (auto done = write_atomically(disk(), out, text); !done) return report_error(done.error());
    if (json)
        print_json({{"file", out}, {"nets", nets_found.size()}, {"proven", t.state.proven()}});
    else
        say("{}: {} nets, {} proven\n", out, nets_found.size(), print_share(t.state.proven()));
    return t.state.contradictions.empty() ? fine : bad_answer;
}

}  // namespace

void add_trace_commands(CLI::App& app, Session& session) {
    struct Arguments {
        std::string a, b, parts, out;
        double beep_below = 2.0;
        std::size_t how_many = 5;
        bool structure = false;
    };
    const auto x = std::make_shared<Arguments>();
    auto* noun = app.add_subcommand(
        "trace", "what is on the old board: readings to nets, netlists compared, scans read");
    noun->require_subcommand(1);
    noun->fallthrough();

    auto* v = noun->add_subcommand("nets", "nets, contradictions and the next probe of a continuity ledger");
    v->add_option("LEDGER.csv|DOSSIER", x->a)->required();
    v->add_option("--parts", x->parts, "parts with their types and places: ref,type,x_mm,y_mm,turn_deg,side");
    v->add_option("--beep-below", x->beep_below, "an ohm value below this joins")
        ->transform([](const std::string& text) {
            const auto ohm = parse_number(text, Unit::ohm);
            if (!ohm || !(*ohm >= 1e-6 && *ohm <= 1e6))
                throw CLI::ValidationError(
                    "--beep-below", "found " + in_quotes(text) + ", expected an ohm value such as 2 or 4k7");
            return fmt::format("{}", *ohm);
        });
    v->add_option("--next", x->how_many, "how many probes to suggest")->check(CLI::Range(1, 1000));
    v->callback([&session, x] {
        session.run = [&session, x] {
            return nets(x->a, x->parts, x->beep_below, x->how_many, session.json);
        };
    });

    v = noun->add_subcommand(
        "compare", "two netlists (CSV, IPC-D-356A, or a dossier's recovered nets): what should be, what is");
    v->add_option("A.csv", x->a)->required();
    v->add_option("B.csv", x->b)->required();
    v->add_flag("--structure", x->structure, "match parts by how they are wired, not by their names");
    v->callback([&session, x] {
        session.run = [&session, x] { return compare(x->a, x->b, x->structure, session.json); };
    });

    v = noun->add_subcommand("scan", "what a dossier's scans show: dimensions, holes, nets");
    v->add_option("DOSSIER", x->a)->required();
    v->add_option("--out", x->out, "outline, pads and holes as .svg or .csv, in millimetres");
    v->callback(
        [&session, x] { session.run = [&session, x] { return trace_scan(x->a, x->out, session.json); }; });

    v = noun->add_subcommand("sheets", "the recovered circuit as sheets to print");
    v->add_option("DOSSIER", x->a)->required();
    v->add_option("OUT.pdf|OUT.svg", x->out)->required();
    v->callback(
        [&session, x] { session.run = [&session, x] { return sheets(x->a, x->out, session.json); }; });

    v = noun->add_subcommand("netlist", "the recovered nets as a netlist");
    v->add_option("DOSSIER", x->a)->required();
    v->add_option("OUT.csv|OUT.ipc", x->out)->required();
    v->callback(
        [&session, x] { session.run = [&session, x] { return netlist(x->a, x->out, session.json); }; });
}

}  // namespace grayrelic::cli
