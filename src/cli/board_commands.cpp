// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli board read, nets, face, rules
#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <memory>

#include "cli/command.hpp"
#include "cli/output.hpp"
#include "core/base/file_system.hpp"
#include "core/base/text.hpp"
#include "core/board/board_rules.hpp"
#include "core/board/face_match.hpp"
#include "core/json/json.hpp"
#include "core/library/data_library.hpp"

namespace grayrelic::cli {
namespace {

constexpr std::size_t most_bytes = 64U << 20U;

Result<BoardFiles> board_at(const std::string& path) {
    Progress progress;
    return read_board(path, progress);
}

/// A board to be judged: nothing is said of one that was not read whole.
Result<BoardFiles> whole_board(const std::string& path) {
    auto board = board_at(path);
    if (board && !board->refused.empty()) return fail(board->refused.front());
    if (!board) return board;
    // What was guessed or is remarkable stands beside the answer.
    for (const auto& p : board->problems) say(stderr, "{}\n", p.message());
    return board;
}

Result<BoardPads> pads_at(const std::string& path, const BoardFiles& board) {
    if (path.empty()) {
        auto pads = pads_of_attributes(board);
        if (pads.empty()) pads = pads_of_netlist(board);
        if (pads.empty())
            return fail_usage("no pads: the layers have no attributes .P and no test netlist is there",
                              "--pads PADS.csv with ref,pin,x_mm,y_mm,side");
        return pads;
    }
    const auto text = disk().read(path, most_bytes);
    if (!text) return fail(text.error());
    return read_pads(*text, path);
}

struct HoleCount {
    std::size_t holes = 0, slots = 0;
};
using HoleCounts =
    std::map<std::pair<long, bool>, HoleCount>;  ///< by diameter in units of 0.1 µm, and plating

HoleCounts count_holes(const BoardFiles& board) {
    HoleCounts out;
    for (const auto* f : board.drills())
        for (const auto& h : f->drill->holes) {
            auto& c = out[{std::lround(h.diameter / 100), h.plated}];
            ++(h.slot() ? c.slots : c.holes);
        }
    return out;
}

Json file_json(const BoardFile& f) {
    auto role = std::string(word(f.role));
    // What is no layer has none of the roles; `kind` says what it is.
    const auto* kind = f.role == FileRole::netlist ? "netlist"
                       : f.role == FileRole::text  ? "other"
                       : f.drill                   ? "drill"
                                                   : "layer";
    if (f.role == FileRole::netlist || f.role == FileRole::text) role = word(FileRole::unknown);
    if (f.role == FileRole::copper_inner && f.inner > 0) role += fmt::format("-{}", f.inner);
    return {
        {"file", f.name}, {"role", role}, {"objects", f.objects()}, {"from", word(f.from)}, {"kind", kind}};
}

void print_board(const BoardFiles& board, const BoardSize& size, const HoleCounts& holes) {
    say("{:.2f} x {:.2f} mm{}\n", size.width_mm, size.height_mm,
        size.from_outline ? "" : ", from the copper: there is no outline");
    std::vector<std::vector<std::string>> rows{{"file", "role", "known by", "objects"}};
    for (const auto& f : board.files)
        rows.push_back({printable(f.name), std::string(word(f.role)), std::string(word(f.from)),
                        fmt::format("{}", f.objects())});
    print_table(rows);
    for (const auto& [key, count] : holes)
        say("{:.2f} mm {}: {}{}\n", static_cast<double>(key.first) / 1e4,
            key.second ? "plated" : "not plated",
            plural(static_cast<long long>(count.holes), "hole", "holes"),
            count.slots > 0 ? ", " + plural(static_cast<long long>(count.slots), "slot", "slots") : "");
    for (const auto& p : board.problems) say("{}\n", p.message());
}

int read(const std::string& path, bool json) {
    const auto board = board_at(path);
    if (!board) return report_error(board.error());
    const auto outline = outline_of(*board);
    const auto size = board_size(*board, outline);
    const auto holes = count_holes(*board);
    if (!json) {
        print_board(*board, size, holes);
        return board->refused.empty() ? fine : unreadable;
    }
    Json files = Json::array(), list = Json::array(), problems = Json::array();
    for (const auto& f : board->files) files.push_back(file_json(f));
    for (const auto& [key, count] : holes)
        list.push_back({{"mm", static_cast<double>(key.first) / 1e4},
                        {"count", count.holes + count.slots},
                        {"plated", key.second},
                        {"slots", count.slots}});
    for (const auto& p : board->problems) problems.push_back(p.message());
    print_json({{"size_mm", Json::array({size.width_mm, size.height_mm})},
                {"files", files},
                {"holes", list},
                {"problems", problems},
                {"outline", outline.known()                             ? "closed"
                            : board->find(FileRole::outline) != nullptr ? "open"
                                                                        : "none"}});
    for (const auto& p : board->refused) say(stderr, "{}\n", p.message());
    return board->refused.empty() ? fine : unreadable;
}

Json points_json(const std::vector<std::vector<std::string>>& lists) {
    Json out = Json::array();
    for (const auto& l : lists) out.push_back(l);
    return out;
}

int nets(const std::string& path, const std::string& pads_path, const std::string& against, bool json) {
    const auto board = whole_board(path);
    if (!board) return report_error(board.error());
    const auto pads = pads_at(pads_path, *board);
    if (!pads) return report_error(pads.error());
    std::vector<Net> wanted;
    if (!against.empty()) {
        const auto text = disk().read(against, most_bytes);
        if (!text) return report_error(text.error());
        auto list = read_netlist(*text, against);
        if (!list) return report_error(list.error());
        wanted = std::move(list->nets);
    }
    Progress progress;
    const auto copper = copper_of(*board, progress);
    if (!copper) return report_error(copper.error());
    if ((*copper)->layers.empty())
        return report_error(fail_at(path, 0, "no copper layer",
                                    "layers whose attribute or name says copper-top or copper-bottom")
                                .value());
    const auto found = compare_nets(**copper, *pads, wanted);
    if (json) {
        Json joined = Json::array(), split_nets = Json::array(), exchanged = Json::array();
        for (const auto& j : found.joined) joined.push_back(Json::array({j.a, j.b}));
        for (const auto& s : found.split)
            split_nets.push_back({{"net", s.net}, {"pieces", points_json(s.pieces)}});
        for (const auto& e : found.exchanged)
            exchanged.push_back({{"points", {e.point_a, e.point_b}}, {"nets", {e.net_a, e.net_b}}});
        print_json({{"nets", points_json(found.nets)},
                    {"joined", joined},
                    {"split", split_nets},
                    {"same", found.compared ? Json(found.same) : Json(nullptr)},
                    {"exchanged", exchanged},
                    {"off_copper", found.off_copper},
                    {"missing", found.missing},
                    {"extra", found.extra}});
    } else {
        if (!found.compared)
            for (const auto& n : found.nets) say("{}\n", fmt::join(n, " "));
        for (const auto& j : found.joined)
            say("joined: {} and {} ({})\n", j.a, j.b, fmt::join(j.points, " "));
        for (const auto& s : found.split) {
            say("open: {} in {} pieces\n", s.net, s.pieces.size());
            for (const auto& p : s.pieces) say("  {}\n", fmt::join(p, " "));
        }
        for (const auto& e : found.exchanged)
            say("exchanged: {} of {} with {} of {}\n", e.point_a, e.net_a, e.point_b, e.net_b);
        for (const auto& p : found.off_copper) say("no copper at {}\n", p);
        for (const auto& p : found.missing) say("no pad for {}\n", p);
        if (found.compared) say("{} of {} nets as wanted\n", found.same, found.named);
    }
    return found.compared && !found.fine() ? bad_answer : fine;
}

struct FaceArguments {
    std::string path, pads, ref, connector, side, gender, numbering;
};

int face(const FaceArguments& a, bool json) {
    FaceQuestion q;
    q.ref = a.ref;
    q.numbering = a.numbering;
    if (!a.side.empty()) {
        if (a.side != "top" && a.side != "bottom")
            return report_error(usage_error("the side " + in_quotes(a.side), "top or bottom"));
        q.side = a.side == "top" ? PadSide::top : PadSide::bottom;
    }
    if (!a.gender.empty()) {
        if (a.gender != "plug" && a.gender != "socket")
            return report_error(usage_error("the gender " + in_quotes(a.gender), "plug or socket"));
        q.gender = a.gender == "plug" ? FaceGender::plug : FaceGender::socket;
    }
    const auto data = DataLibrary::load_installed();
    auto connector = data->connectors.find(a.connector);
    if (!connector) {
        auto error = connector.error();
        error.kind = Error::Kind::usage;
        return report_error(error);
    }
    const auto board = whole_board(a.path);
    if (!board) return report_error(board.error());
    const auto pads = pads_at(a.pads, *board);
    if (!pads) return report_error(pads.error());
    q.board = extent_of(outline_of(*board).outer);
    const auto match = match_face(*pads, *connector, q);
    if (!match) return report_error(match.error());
    if (json)
        print_json({{"verdict", word(match->verdict)},
                    {"is", word(match->is)},
                    {"rotation_deg", match->rotation_deg},
                    {"residual_mm", match->residual_mm},
                    {"scale", match->scale},
                    {"matched", match->matched},
                    {"missing", match->missing},
                    {"extra", match->extra},
                    {"why", match->why}});
    else
        say("{}: {} {}\n", word(match->verdict), a.ref, match->why);
    return match->verdict == Verdict::stop ? bad_answer : fine;
}

int rules(const std::string& path, const std::string& process_id, bool json) {
    const auto data = DataLibrary::load_installed();
    const auto* process = data->processes.find(process_id);
    if (process == nullptr) {
        std::vector<std::string> known;
        for (const auto& p : data->processes.processes) known.push_back(p.id);
        return report_error(usage_error("the process " + in_quotes(process_id),
                                        fmt::format("one of {}", fmt::join(known, ", "))));
    }
    const auto board = whole_board(path);
    if (!board) return report_error(board.error());
    Progress progress;
    const auto copper = copper_of(*board, progress);
    if (!copper) return report_error(copper.error());
    const auto outline = outline_of(*board);
    const auto report = judge_board(*board, **copper, outline, *process, progress);
    if (!report) return report_error(report.error());
    if (json) {
        Json list = Json::array();
        for (const auto& v : report->violations)
            list.push_back({{"rule", word(v.rule)},
                            {"mm", v.mm},
                            {"limit_mm", v.limit_mm},
                            {"x_mm", to_mm(v.at.x)},
                            {"y_mm", to_mm(v.at.y)},
                            {"file", v.file},
                            {"what", v.what}});
        print_json({{"makeable", report->makeable},
                    {"violations", list},
                    {"to_do", report->to_do},
                    {"not_looked_at", report->not_looked_at}});
    } else {
        say("{}: {}\n", process->name, report->makeable ? "can be made" : "can't be made like this");
        for (const auto& v : report->violations)
            say("{} {} at {:.2f}, {:.2f}: {} (limit {:.2f} mm)\n", word(v.rule), printable(v.file),
                to_mm(v.at.x), to_mm(v.at.y), v.what, v.limit_mm);
        for (const auto& t : report->to_do) say("to do: {}\n", t);
        for (const auto& n : report->not_looked_at) say("{}\n", n);
    }
    return report->makeable ? fine : bad_answer;
}

}  // namespace

void add_board_parts_commands(CLI::App& board, Session& session);

void add_board_commands(CLI::App& app, Session& session) {
    auto* board = app.add_subcommand(
        "board", "fabrication files: what they are, what they join, whether they fit and can be made");
    board->require_subcommand(1);
    struct Arguments {
        std::string path, pads, against, process;
        FaceArguments face;
    };
    auto a = std::make_shared<Arguments>();
    const auto with_path = [&](CLI::App* verb) {
        verb->add_option("board", a->path, "a folder or a zip of fabrication files")->required();
    };

    auto* read_verb = board->add_subcommand("read", "files, their roles, size and holes");
    with_path(read_verb);
    read_verb->callback(
        [&session, a] { session.run = [&session, a] { return read(a->path, session.json); }; });

    auto* nets_verb = board->add_subcommand("nets", "what the copper joins, held against a netlist");
    with_path(nets_verb);
    nets_verb->add_option(
        "--pads", a->pads,
        "ref,pin,x_mm,y_mm,side; without it from the layers' attributes or the test netlist");
    nets_verb->add_option("--against", a->against, "net,point, or a test netlist in IPC-D-356A");
    nets_verb->callback([&session, a] {
        session.run = [&session, a] { return nets(a->path, a->pads, a->against, session.json); };
    });

    auto* face_verb =
        board->add_subcommand("face", "a connector's pads against its data: as drawn, mirrored, other pitch");
    with_path(face_verb);
    face_verb->add_option("--pads", a->face.pads, "ref,pin,x_mm,y_mm,side");
    face_verb->add_option("--ref", a->face.ref, "the connector on the board, such as J1")->required();
    face_verb->add_option("--connector", a->face.connector, "its kind, such as dsub-9 or header-2x10")
        ->required();
    face_verb->add_option("--side", a->face.side, "top or bottom: where it stands");
    face_verb->add_option("--gender", a->face.gender, "plug or socket");
    face_verb->add_option("--numbering", a->face.numbering, "of the connector's data");
    face_verb->callback([&session, a] {
        session.run = [&session, a] {
            a->face.path = a->path;
            return face(a->face, session.json);
        };
    });

    add_board_parts_commands(*board, session);
    add_board_fit_commands(*board, session);
    add_board_stack_commands(*board, session);

    auto* rules_verb = board->add_subcommand("rules", "against what a process can make");
    with_path(rules_verb);
    rules_verb
        ->add_option("--process", a->process, "home-toner, home-photo, house-basic, house-fine, assembly")
        ->required();
    rules_verb->callback(
        [&session, a] { session.run = [&session, a] { return rules(a->path, a->process, session.json); }; });
}

}  // namespace grayrelic::cli
