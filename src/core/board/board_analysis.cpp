// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/board_analysis.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/base/long_work.hpp"
#include "core/base/text.hpp"
#include "core/board/board_cases.hpp"
#include "core/board/board_parts.hpp"
#include "core/dossier/store.hpp"

namespace grayrelic {
namespace {

/// Judging by a process: its share of the whole work.
constexpr double rules_weight = 1;

RoleCorrections roles_of(const Fabrication& f) {
    RoleCorrections out;
    for (const auto& [file, role] : f.roles)
        if (const auto known = named<FileRole>(role)) out.emplace(file, *known);
    return out;
}

/// What each copper net is called: by most of its points in the netlist, else by what its pads say.
void name_nets(FabricationAnalysis& a, const std::vector<Net>& wanted) {
    const auto& copper = *a.read->copper;
    std::map<std::string, std::string> by_point;
    for (const auto& n : wanted)
        for (const auto& p : n.points)
            if (!n.name.empty()) by_point.emplace(p, n.name);
    std::vector<std::map<std::string, int>> votes(static_cast<std::size_t>(copper.nets));
    for (const auto& pad : a.pads) {
        const auto it = by_point.find(pad.point());
        const auto& name = it != by_point.end() ? it->second : pad.net;
        if (name.empty()) continue;
        for (std::size_t l = 0; l < copper.layers.size(); ++l) {
            const bool own = (pad.side != PadSide::bottom && copper.layers[l].role == FileRole::copper_top) ||
                             (pad.side != PadSide::top && copper.layers[l].role == FileRole::copper_bottom);
            if (!own) continue;
            if (const int net = copper.net_at(pad.at, l); net >= 0)
                ++votes[static_cast<std::size_t>(net)][name];
        }
    }
    a.net_names.resize(votes.size());
    for (std::size_t i = 0; i < votes.size(); ++i) {
        int most = 0;
        for (const auto& [name, count] : votes[i])
            if (count > most) {
                most = count;
                a.net_names[i] = name;
            }
    }
}

BoardFace judge_face(const Dossier& d, const FabConnector& c, const BoardPads& pads,
                     const BoardOutline& outline, const BoardData& data) {
    BoardFace f;
    f.ref = c.ref;
    f.port = c.port;
    f.half = c.half;
    const auto* port = d.find_port(c.port);
    f.connector = !c.connector.empty() ? c.connector : port != nullptr ? port->connector : std::string();
    if (port != nullptr)
        f.supply = std::any_of(port->pins.begin(), port->pins.end(),
                               [](const Pin& p) { return p.driver.value == Driver::supply; });
    if (!c.port.empty() && port == nullptr) {
        f.problem = "the port " + c.port + " is not in the dossier";
        return f;
    }
    if (f.connector.empty()) {
        f.problem = "its kind of connector is not known";
        return f;
    }
    const auto connector = data.connectors->find(f.connector);
    if (!connector) {
        f.problem = "the connector " + f.connector + " is not among the data";
        return f;
    }
    FaceQuestion q;
    q.ref = c.ref;
    q.board = extent_of(outline.outer);
    q.gender = c.half == Half::plug ? FaceGender::plug : FaceGender::socket;
    q.numbering = !c.numbering.empty() ? c.numbering : port != nullptr ? port->numbering : std::string();
    if (connector->numbering(q.numbering).id != q.numbering) q.numbering.clear();
    if (c.side != StandsOn::pads) q.side = c.side == StandsOn::top ? PadSide::top : PadSide::bottom;
    const auto match = match_face(pads, *connector, q);
    if (!match) {
        f.problem = "no pad of the board is called " + c.ref;
        return f;
    }
    f.match = *match;
    return f;
}

void judge_faces(FabricationAnalysis& a, const Dossier& d, const Fabrication& board, const BoardData& data) {
    std::set<std::string> refs;
    for (const auto& p : a.pads) refs.insert(p.ref);
    for (const auto& c : board.connectors) a.faces.push_back(judge_face(d, c, a.pads, a.read->outline, data));
    for (const auto& port : *d.ports) {
        if (port.connector.empty() || refs.count(port.id) == 0 || board.find_connector(port.id) != nullptr)
            continue;
        FabConnector c;
        c.ref = c.port = port.id;
        c.half = half_on_board(port);
        auto face = judge_face(d, c, a.pads, a.read->outline, data);
        face.presumed = true;
        a.faces.push_back(std::move(face));
    }
    for (const auto& [ref, name] : a.circuit->packages_of) {
        if (refs.count(ref) == 0) continue;
        const auto package = data.packages->find(name);
        if (!package) continue;
        FaceQuestion q;
        q.ref = ref;
        if (const auto match = match_footprint(a.pads, *package, q))
            a.footprints.push_back({ref, name, *match});
    }
}

void judge_apart(FabricationAnalysis& a, const Fabrication& board) {
    const auto& copper = *a.read->copper;
    const auto kind_of = [&](int net) {
        const auto& name = a.net_names[static_cast<std::size_t>(net)];
        const auto it = a.kinds.find(name);
        return it == a.kinds.end() ? NetKind::plain : it->second;
    };
    for (const auto& name : a.net_names) {
        if (name.empty()) continue;
        const auto said = board.kinds.find(name);
        a.kinds[name] = said != board.kinds.end() ? said->second : kind_told(name);
    }
    Progress progress;
    for (std::size_t l = 0; l < copper.layers.size(); ++l) {
        const auto& layer = copper.layers[l];
        const auto apart = [&](std::uint32_t x, std::uint32_t y) {
            const auto kx = kind_of(layer.net[x]), ky = kind_of(layer.net[y]);
            return (is_noisy(kx) && is_delicate(ky)) || (is_noisy(ky) && is_delicate(kx));
        };
        for (const auto& c :
             close_places(layer.pieces, copper.index[l], board.apart_mm * 1e6, apart, progress)) {
            const bool first = is_noisy(kind_of(layer.net[c.a]));
            const int noisy = layer.net[first ? c.a : c.b], delicate = layer.net[first ? c.b : c.a];
            a.apart.push_back({a.net_names[static_cast<std::size_t>(noisy)],
                               a.net_names[static_cast<std::size_t>(delicate)], kind_of(noisy),
                               kind_of(delicate), c.distance / 1e6, c.at, layer.file});
        }
    }
}

}  // namespace

namespace {

void judge_mates(const std::vector<Fabrication>& boards, BoardAnalysis& out) {
    for (const auto& board : boards)
        for (const auto& c : board.connectors) {
            if (c.mates.empty()) continue;
            BoardMate m{board.id, {}};
            m.face.ref = c.ref;
            m.face.connector = c.mates;
            m.face.half = c.half;
            const auto slash = c.mates.rfind('/');
            const auto other_id = c.mates.substr(0, slash);
            const auto other_ref = slash == std::string::npos ? std::string() : c.mates.substr(slash + 1);
            const auto* own = out.find(board.id);
            const auto* other = out.find(other_id);
            const auto named = std::find_if(boards.begin(), boards.end(),
                                            [&](const Fabrication& f) { return f.id == other_id; });
            if (other == nullptr || named == boards.end()) {
                m.face.problem = "the board " + other_id + " is not in the dossier";
            } else {
                FaceQuestion one{c.ref}, two{other_ref};
                const auto side = [](StandsOn s) {
                    return s == StandsOn::pads
                               ? std::nullopt
                               : std::optional(s == StandsOn::top ? PadSide::top : PadSide::bottom);
                };
                one.side = side(c.side);
                if (const auto* far = named->find_connector(other_ref)) two.side = side(far->side);
                const auto match = match_mates(own->pads, one, other->pads, two);
                if (match)
                    m.face.match = *match;
                else
                    m.face.problem = match.error().message();
            }
            out.mates.push_back(std::move(m));
        }
}

}  // namespace

NetKind kind_told(std::string_view name) {
    std::string text;
    for (const char c : name) text += static_cast<char>(c >= 'a' && c <= 'z' ? c - 32 : c);
    const auto has = [&](std::initializer_list<std::string_view> words) {
        return std::any_of(words.begin(), words.end(),
                           [&](auto w) { return text.find(w) != std::string::npos; });
    };
    if (has({"VIDEO", "PICTURE", "LUMA", "CHROMA", "COMPOSITE", "HSYNC", "VSYNC", "CSYNC"}))
        return NetKind::picture;
    if (has({"AUDIO", "SOUND", "SPEAKER"})) return NetKind::sound;
    if (has({"CLK", "CLOCK"})) return NetKind::clock;
    return NetKind::plain;
}

std::string FabricationAnalysis::net_at(BoardXY at, std::size_t layer) const {
    if (!read->copper || layer >= read->copper->layers.size()) return {};
    const int net = read->copper->net_at(at, layer);
    if (net < 0) return {};
    const auto& name = net_names[static_cast<std::size_t>(net)];
    return name.empty() ? fmt::format("net {}", net + 1) : name;
}

const FabricationAnalysis* BoardAnalysis::find(std::string_view id) const {
    for (const auto& b : boards)
        if (b->id == id) return b.get();
    return nullptr;
}

Result<ReadBoard> read_whole_board(const std::filesystem::path& path, const RoleCorrections& roles,
                                   Progress& progress) {
    long_work("read_whole_board");
    ReadBoard out;
    auto files = read_board(path, progress, roles);
    if (!files) {
        if (files.error().kind == Error::Kind::cancelled) return fail(files.error());
        out.problem = files.error();
        return out;
    }
    out.files = std::move(*files);
    out.outline = outline_of(out.files);
    out.size = board_size(out.files, out.outline);
    const auto copper = copper_of(out.files, progress);
    if (!copper) return fail(copper.error());
    out.copper = *copper;
    out.lands = lands_of(out.files);
    out.pads = pads_of_attributes(out.files);
    if (!out.pads.empty()) {
        out.pads_from = "the layers' attributes";
    } else {
        out.pads = pads_of_netlist(out.files);
        if (!out.pads.empty()) out.pads_from = "the test netlist";
    }
    return out;
}

std::shared_ptr<const BoardCircuit> BoardData::circuit_of(const Fabrication& board) const {
    static const auto none = std::make_shared<const BoardCircuit>();
    const auto it = circuits.find(board.against == "wire" ? std::string() : board.against);
    return it == circuits.end() ? none : it->second;
}

std::shared_ptr<const BoardAnalysis> analyse_boards(const Dossier& d, const std::filesystem::path& folder,
                                                    const BoardData& data, Memory& memory, MemoryRun& run) {
    BoardAnalysis out;
    for (const auto& board : *d.boards) {
        const auto path = board_path(board, folder);
        std::shared_ptr<const ReadBoard> read;
        if (board.file.empty() && board.outside.empty()) {
            read = memory.recall_here<ReadBoard>(run, "board " + board.id, std::tuple(0), [] {
                ReadBoard none;
                none.no_files = true;
                return none;
            });
        } else if (path) {
            const auto roles = roles_of(board);
            read = memory.recall<ReadBoard>(run, "board " + board.id,
                                            std::tuple(path->string(), stamp_of(*path), roles), read_weight,
                                            [path = *path, roles](Progress& progress) {
                                                return read_whole_board(path, roles, progress);
                                            });
            if (!read) return nullptr;
        } else {
            ReadBoard broken;
            broken.problem = path.error();
            read = std::make_shared<const ReadBoard>(std::move(broken));
        }
        const auto* known = board.process.empty() ? nullptr : data.processes->find(board.process);
        const auto process =
            known == nullptr ? nullptr : std::shared_ptr<const BoardProcess>(data.processes, known);
        std::shared_ptr<const RuleReport> rules;
        if (read->copper && process != nullptr) {
            rules = memory.recall<RuleReport>(
                run, "rules " + board.id, std::tuple(read, board.process, data.processes), rules_weight,
                [read, process](Progress& progress) {
                    return judge_board(read->files, *read->copper, read->outline, *process, progress);
                });
            if (!rules) return nullptr;
        }
        std::shared_ptr<const RuleReport> charged;
        if (const auto limits = extra_limits(board.order); read->copper && limits != BoardProcess{}) {
            charged = memory.recall<RuleReport>(run, "extras " + board.id, std::tuple(read, limits),
                                                rules_weight, [read, limits](Progress& progress) {
                                                    return judge_board(read->files, *read->copper,
                                                                       read->outline, limits, progress);
                                                });
            if (!charged) return nullptr;
        }
        std::vector<BoardCase> cases;
        if (!judge_cases(board, *read, folder, memory, run, cases)) return nullptr;
        const auto made = memory.recall_here<FabricationAnalysis>(
            run, "fabrication " + board.id,
            std::tuple(read, rules, board, d.ports.version(), d.trace.version(), data.connectors,
                       data.packages, data.circuit_of(board), charged, cases_known(cases)),
            [&] {
                FabricationAnalysis a;
                a.id = board.id;
                a.read = read;
                a.process = process;
                a.rules = rules;
                a.charged = charged;
                a.cases = cases;
                a.circuit = data.circuit_of(board);
                gather_pads(a, board);
                a.patterns = patterns_of(d, board, data);
                if (!read->copper) return a;
                const auto& wanted = a.circuit->nets;
                if (!wanted.empty()) a.against = a.circuit->name;
                a.nets = compare_nets(*read->copper, a.pads, a.pads.empty() ? std::vector<Net>{} : wanted);
                name_nets(a, wanted);
                judge_faces(a, d, board, data);
                judge_apart(a, board);
                return a;
            });
        out.boards.push_back(made);
    }
    judge_mates(*d.boards, out);
    // The same boards are the same analysis, so that nothing is judged anew.
    return memory.recall_here<BoardAnalysis>(run, "boards", out.boards, [&] { return out; });
}

}  // namespace grayrelic
