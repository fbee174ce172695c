// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/trace_analysis.hpp"

#include "core/base/long_work.hpp"

#include <fmt/format.h>

#include "core/base/text.hpp"
#include "core/dossier/store.hpp"

namespace grayrelic {
namespace {

std::string why_no_front(const ScanAnalysis& a) {
    for (std::size_t i = 0; i < a.scans.size(); ++i)
        if (a.scans[i].side == BoardSide::front)
            return fmt::format("the scan {}: {}", in_quotes(a.scans[i].title), a.problems[i]);
    return "found no scan of the front, expected one";
}

/// The area that became something else; nothing where the grids differ.
std::optional<double> changed_between(const ScanAnalysis* last, const ScannedBoard& now) {
    if (last == nullptr || !last->scanned) return std::nullopt;
    const auto& before = *last->scanned;
    if (before.layers.size() != now.layers.size()) return std::nullopt;
    double out = 0;
    for (std::size_t k = 0; k < now.layers.size(); ++k) {
        const auto &a = before.layers[k], &b = now.layers[k];
        if (a.width != b.width || a.height != b.height || a.px_per_mm != b.px_per_mm || a.x0_mm != b.x0_mm ||
            a.y0_mm != b.y0_mm)
            return std::nullopt;
        long many = 0;
        for (std::size_t i = 0; i < b.ground.size(); ++i) many += a.ground[i] != b.ground[i] ? 1 : 0;
        out += static_cast<double>(many) / (b.px_per_mm * b.px_per_mm);
    }
    return out;
}

Result<Raster> pixels_of(const Scan& scan, const std::filesystem::path& folder, const PictureReader& read) {
    const auto path = scan_path(scan, folder);
    if (!path) return fail(path.error());
    if (!read) return fail_usage("no reader of pictures", "a program with one");
    auto pixels = read(*path);
    if (pixels)
        if (auto fine = check_raster(*pixels, path->string()); !fine) return fail(fine.error());
    return pixels;
}

/// Scans of before are kept where nothing about them changed but their title.
std::shared_ptr<const ScanAnalysis> analyse_scans(const Dossier& d, const std::filesystem::path& folder,
                                                  const PictureReader& read, Progress& progress,
                                                  const ScanAnalysis* before) {
    auto out = std::make_shared<ScanAnalysis>();
    out->scans = d.trace->scans;
    std::optional<std::size_t> front, back;
    for (std::size_t i = 0; i < out->scans.size(); ++i) {
        const auto& scan = out->scans[i];
        out->placements.emplace_back();
        out->problems.emplace_back();
        out->pixels.emplace_back();
        if (!counts_for(scan.unit, shown_unit(d))) {
            out->problems[i] = "shows another unit than the one that is looked at";
            continue;
        }
        if (before != nullptr && i < before->scans.size() && before->scans[i].file == scan.file &&
            before->scans[i].outside == scan.outside)
            out->pixels[i] = before->pixels[i];
        if (!out->pixels[i]) {
            auto pixels = pixels_of(scan, folder, read);
            if (!pixels) {
                out->problems[i] = pixels.error().message();
                continue;
            }
            out->pixels[i] = std::make_shared<const Raster>(std::move(*pixels));
        }
        auto placed = place_scan(scan.references, scan.side);
        if (!placed) {
            out->problems[i] =
                fmt::format("found {}, expected {}", placed.error().found, placed.error().expected);
            continue;
        }
        out->placements[i] = *placed;
        auto& slot = scan.side == BoardSide::front ? front : back;
        if (!slot) slot = i;
        if (progress.cancelled()) return out;
    }
    if (!front) {
        out->problem = why_no_front(*out);
        return out;
    }
    const auto same = [&](std::size_t i) {
        return before != nullptr && i < before->scans.size() && before->pixels[i] == out->pixels[i] &&
               before->scans[i].references == out->scans[i].references &&
               before->scans[i].strokes == out->scans[i].strokes &&
               before->scans[i].clicks == out->scans[i].clicks && before->scans[i].side == out->scans[i].side;
    };
    if (before != nullptr && before->scanned && before->scans.size() == out->scans.size() && same(*front) &&
        (!back || same(*back))) {
        out->scanned = before->scanned;
        return out;
    }
    const auto picture = [&](std::size_t i) {
        return ScanPicture{*out->pixels[i], *out->placements[i], out->scans[i].strokes, out->scans[i].clicks};
    };
    const auto f = picture(*front);
    std::optional<ScanPicture> b;
    if (back) b = picture(*back);
    auto scanned = read_scans(f, b ? &*b : nullptr, progress);
    if (!scanned) {
        out->problem = scanned.error().message();
        return out;
    }
    out->changed_mm2 = changed_between(before, *scanned);
    out->scanned = std::make_shared<const ScannedBoard>(std::move(*scanned));
    return out;
}

std::vector<Net> named(const ScanNets& nets, const BoardModel& board) {
    std::vector<Net> out;
    for (const auto& n : nets.nets) {
        Net net;
        for (const int p : n.points) net.points.push_back(board.table.name(p));
        net.name = net.points.front();
        out.push_back(std::move(net));
    }
    return out;
}

}  // namespace

Result<std::shared_ptr<const TraceAnalysis>> analyse_trace(const Dossier& d,
                                                           const std::filesystem::path& folder,
                                                           const PartLibrary& parts,
                                                           const PictureReader& read_picture,
                                                           Progress& progress, const TraceAnalysis* before,
                                                           const Dossier* dossier_before) {
    long_work("analyse_trace");
    auto a = std::make_shared<TraceAnalysis>();
    // A new reading between known points leaves the board as it is.
    const bool same_board =
        before != nullptr && before->view && dossier_before != nullptr &&
        dossier_before->ports.same_version(d.ports) && dossier_before->trace.same_version(d.trace) && [&] {
            for (const auto& r : *d.readings)
                if (before->view->board.table.find(r.a) < 0 || before->view->board.table.find(r.b) < 0)
                    return false;
            return true;
        }();
    a->view = same_board ? before->view : std::make_shared<const BoardView>(BoardModel::build(d, parts));
    const auto& board = a->view->board;
    auto table = board.table;
    a->unit = shown_unit(d);
    a->state = derive_nets(static_cast<int>(board.points.size()),
                           links_of(*d.readings, table, d.trace->beep_below_ohm, a->unit));
    a->unit_differences = compare_units(*d.readings, a->state, table, d.trace->beep_below_ohm, a->unit);
    a->suspects = suspects(a->state, a->view->prior);
    if (progress.cancelled()) return fail_cancelled();
    a->plan = plan_probes(a->view->prior, a->state);
    a->issues = check_parts(board, a->state);
    a->buses = find_bus_runs(board, a->state);
    if (progress.cancelled()) return fail_cancelled();
    if (const auto* reference = d.trace->reference()) {
        CompareOptions options;
        options.separated = [&](const std::string& x, const std::string& y) {
            const int p = board.table.find(x), q = board.table.find(y);
            if (p < 0 || q < 0) return false;
            const int m = a->state.net_of[static_cast<std::size_t>(p)],
                      n = a->state.net_of[static_cast<std::size_t>(q)];
            return m != n && a->state.separated(m, n);
        };
        options.alike = [&](const std::string& x, const std::string& y) {
            const auto px = split_point(x), py = split_point(y);
            const auto* part = px.ref == py.ref ? d.trace->find_part(px.ref) : nullptr;
            const auto* type = part == nullptr ? nullptr : parts.find(part->type);
            if (type == nullptr) return false;
            for (const auto& group : type->alike)
                if (std::find(group.begin(), group.end(), px.pin) != group.end() &&
                    std::find(group.begin(), group.end(), py.pin) != group.end())
                    return true;
            return false;
        };
        const auto found = named_nets(a->state, board.table);
        if (reference->by_wiring) {
            auto match = match_structure(found, reference->nets, progress);
            if (!match) return fail(match.error());
            a->comparison = compare_nets(match->renamed, found, options);
            a->part_names = std::move(match->parts);
        } else {
            a->comparison = compare_nets(reference->nets, found, options);
        }
    }
    if (!d.trace->scans.empty()) {
        a->scan = analyse_scans(d, folder, read_picture, progress,
                                before == nullptr ? nullptr : before->scan.get());
        if (progress.cancelled()) return fail_cancelled();
        if (a->scan->scanned) {
            a->scan_nets = nets_of_scan(*a->scan->scanned, board);
            CompareOptions options;
            options.separated = [&](const std::string& x, const std::string& y) {
                const int p = board.table.find(x), q = board.table.find(y);
                if (p < 0 || q < 0) return false;
                const int m = a->state.net_of[static_cast<std::size_t>(p)],
                          n = a->state.net_of[static_cast<std::size_t>(q)];
                return m != n && a->state.separated(m, n);
            };
            a->scan_against_ledger =
                compare_nets(named(a->scan_nets, board), named_nets(a->state, board.table), options);
        }
    }
    return std::shared_ptr<const TraceAnalysis>(std::move(a));
}

JoinEvidence join_evidence(const TraceAnalysis& a, const std::vector<int>& scan_net,
                           const std::vector<int>& claimed_net, int p, int q) {
    const auto x = static_cast<std::size_t>(p), y = static_cast<std::size_t>(q);
    if (a.state.net_of[x] == a.state.net_of[y]) return JoinEvidence::measured;
    if (x < scan_net.size() && y < scan_net.size() && scan_net[x] >= 0 && scan_net[x] == scan_net[y])
        return JoinEvidence::seen;
    if (x < claimed_net.size() && y < claimed_net.size() && claimed_net[x] >= 0 &&
        claimed_net[x] == claimed_net[y])
        return JoinEvidence::claimed;
    return JoinEvidence::none;
}

}  // namespace grayrelic
