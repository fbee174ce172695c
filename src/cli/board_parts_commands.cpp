// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli board find, place: where parts stand on a board whose files do not name them
#include <fmt/format.h>

#include <memory>

#include "cli/command.hpp"
#include "cli/output.hpp"
#include "core/base/decimal.hpp"
#include "core/base/file_system.hpp"
#include "core/base/table.hpp"
#include "core/base/text.hpp"
#include "core/board/pad_patterns.hpp"
#include "core/json/json.hpp"
#include "core/library/data_library.hpp"

namespace grayrelic::cli {
namespace {

constexpr std::size_t most_table_bytes = 8U << 20U;

struct Arguments {
    std::string path, connector, package, gender, numbering, side, ref, placements, out;
    std::vector<std::string> known, packages;
};

Result<PadPattern> pattern_wanted(const Arguments& a, const DataLibrary& data) {
    if (a.connector.empty() == a.package.empty())
        return fail_usage(a.connector.empty() ? "neither" : "both", "one of --connector and --package");
    if (!a.package.empty()) {
        const auto package = data.packages.find(a.package);
        if (!package)
            return fail_usage("the package " + in_quotes(a.package), "one of the data, such as dip-16");
        return pattern_of(*package);
    }
    if (!a.gender.empty() && a.gender != "plug" && a.gender != "socket")
        return fail_usage("the gender " + in_quotes(a.gender), "plug or socket");
    const auto connector = data.connectors.find(a.connector);
    if (!connector) {
        auto error = connector.error();
        error.kind = Error::Kind::usage;
        return fail(error);
    }
    return pattern_of(*connector, a.gender == "plug" ? FaceGender::plug : FaceGender::socket, a.numbering);
}

/// "1=12.7,3.81"
Result<std::pair<std::string, BoardXY>> known_contact(const std::string& text) {
    const auto equals = text.find('='), comma = text.find(',');
    if (equals != std::string::npos && comma != std::string::npos && equals > 0 && comma > equals) {
        const auto x = decimal_number(std::string_view(text).substr(equals + 1, comma - equals - 1), '.');
        const auto y = decimal_number(std::string_view(text).substr(comma + 1), '.');
        if (x && y && std::abs(*x) <= widest_mm && std::abs(*y) <= widest_mm)
            return std::pair{text.substr(0, equals), BoardXY{from_mm(*x), from_mm(*y)}};
    }
    return fail_usage(in_quotes(text), "a contact and its place in millimetres, such as 1=12.7,3.81");
}

Json pads_json(const BoardPads& pads) {
    Json out = Json::array();
    for (const auto& p : pads)
        out.push_back({{"ref", p.ref},
                       {"pin", p.pin},
                       {"x_mm", to_mm(p.at.x)},
                       {"y_mm", to_mm(p.at.y)},
                       {"side", word(p.side)}});
    return out;
}

int find(const Arguments& a, bool json) {
    const auto data = DataLibrary::load_installed();
    const auto pattern = pattern_wanted(a, *data);
    if (!pattern) return report_error(pattern.error());
    PatternQuestion q;
    q.ref = a.ref;
    if (!a.side.empty()) {
        q.side = named<PadSide>(a.side);
        if (!q.side || *q.side == PadSide::both)
            return report_error(usage_error("the side " + in_quotes(a.side), "top or bottom"));
    }
    for (const auto& k : a.known) {
        auto contact = known_contact(k);
        if (!contact) return report_error(contact.error());
        q.known.push_back(std::move(*contact));
    }
    Progress progress;
    const auto board = read_board(a.path, progress);
    if (!board) return report_error(board.error());
    const auto ways = find_pattern(lands_of(*board), *pattern, q);
    if (json) {
        Json list = Json::array();
        for (const auto& w : ways)
            list.push_back({{"side", word(w.side)},
                            {"turn_deg", w.turn_deg},
                            {"x_mm", to_mm(w.middle.x)},
                            {"y_mm", to_mm(w.middle.y)},
                            {"residual_mm", w.residual_mm},
                            {"pads", pads_json(w.pads)}});
        print_json({{"ways", list}});
    } else {
        for (const auto& w : ways)
            say("{:.2f}, {:.2f} mm on the {}, turned by {} deg, within {:.2f} mm; contact {} at {:.2f}, "
                "{:.2f}\n",
                to_mm(w.middle.x), to_mm(w.middle.y), word(w.side), w.turn_deg, w.residual_mm,
                w.pads.front().pin, to_mm(w.pads.front().at.x), to_mm(w.pads.front().at.y));
        say("{}\n", ways.empty() ? "found nowhere"
                    : ways.size() == 1
                        ? "found in one way"
                        : fmt::format("found in {} ways: --at CONTACT=X,Y tells which", ways.size()));
    }
    return ways.empty() ? bad_answer : fine;
}

int place(const Arguments& a, bool json) {
    const auto data = DataLibrary::load_installed();
    const auto text = disk().read(a.placements, most_table_bytes);
    if (!text) return report_error(text.error());
    const auto table = read_placements(*text, a.placements);
    if (!table) return report_error(table.error());
    std::map<std::string, PadPattern> patterns;
    for (const auto& p : *table)
        if (const auto package = data->packages.find(p.package))
            patterns.emplace(p.ref, pattern_of(*package));
    for (const auto& said : a.packages) {
        const auto equals = said.find('=');
        const auto package =
            equals == std::string::npos ? std::nullopt : data->packages.find(said.substr(equals + 1));
        if (!package)
            return report_error(usage_error(in_quotes(said), "a part and its package, such as U1=dip-16"));
        patterns[said.substr(0, equals)] = pattern_of(*package);
    }
    Progress progress;
    const auto board = read_board(a.path, progress);
    if (!board) return report_error(board.error());
    const auto parts = place_parts(lands_of(*board), *table, patterns);
    bool all = true;
    std::string pads = "ref,pin,x_mm,y_mm,side\n";
    Json list = Json::array();
    for (const auto& p : parts) {
        all = all && !p.pads.empty();
        for (const auto& pad : p.pads)
            pads += fmt::format("{},{},{:.4f},{:.4f},{}\n", table_cell(pad.ref), table_cell(pad.pin),
                                to_mm(pad.at.x), to_mm(pad.at.y), word(pad.side));
        if (json)
            list.push_back({{"ref", p.placement.ref}, {"pads", pads_json(p.pads)}, {"problem", p.problem}});
        else
            say("{}: {}{}\n", printable(p.placement.ref),
                p.pads.empty() ? "" : plural(static_cast<long long>(p.pads.size()), "contact", "contacts"),
                p.problem.empty() ? "" : (p.pads.empty() ? "" : "; ") + p.problem);
    }
    if (json) print_json({{"parts", list}});
    if (!a.out.empty())
        if (const auto done = write_atomically(disk(), a.out, pads); !done) return report_error(done.error());
    return all ? fine : bad_answer;
}

}  // namespace

void add_board_parts_commands(CLI::App& board, Session& session) {
    auto a = std::make_shared<Arguments>();
    auto* find_verb =
        board.add_subcommand("find", "where a connector or package can stand: its pattern of pads");
    find_verb->add_option("board", a->path, "a folder or a zip of fabrication files")->required();
    find_verb->add_option("--connector", a->connector, "its kind, such as dsub-9");
    find_verb->add_option("--package", a->package, "such as dip-16");
    find_verb->add_option("--gender", a->gender, "plug or socket");
    find_verb->add_option("--numbering", a->numbering, "of the connector's data");
    find_verb->add_option("--side", a->side, "top or bottom: where it stands; else either");
    find_verb->add_option("--ref", a->ref, "what it is called in the answer");
    find_verb->add_option("--at", a->known, "a contact that is known, such as 1=12.7,3.81; may be repeated");
    find_verb->callback([&session, a] { session.run = [&session, a] { return find(*a, session.json); }; });

    auto* place_verb = board.add_subcommand("place", "parts laid where a table of placements says");
    place_verb->add_option("board", a->path, "a folder or a zip of fabrication files")->required();
    place_verb->add_option("--placements", a->placements, "ref,x,y,turn,side and, where known, package")
        ->required();
    place_verb->add_option("--package", a->packages, "of a part, such as U1=dip-16; may be repeated");
    place_verb->add_option("--out", a->out, "writes the pads found, for board nets and board face");
    place_verb->callback([&session, a] { session.run = [&session, a] { return place(*a, session.json); }; });
}

}  // namespace grayrelic::cli
