// SPDX-License-Identifier: GPL-3.0-or-later
// Trace at the sizes it promises: an entry into a large ledger, boards without names matched by structure, a
// pair of large scans, each beside a reference of the same run; and what the suggestions are worth on a
// hundred hidden boards (counters; one run each, since they are shares and not times).
#include <benchmark/benchmark.h>

#include <algorithm>
#include <filesystem>
#include <map>
#include <numeric>

#include "core/trace/compare.hpp"
#include "core/trace/next_probe.hpp"
#include "core/trace/scan_look.hpp"
#include "core/trace/structure.hpp"
#include "core/trace/suspects.hpp"
#include "standin/board_artist.hpp"
#include "standin/probe_run.hpp"

namespace grayrelic::bench {
namespace {

constexpr int boards = 100;

const PartLibrary& library() {
    static const auto parts = PartLibrary::load(disk(), {std::filesystem::path(GRAY_RELIC_SOURCE) / "data"});
    return parts;
}

// --- shares over hidden boards -------------------------------------------------------------------------

/// Shares of the baseline's probes, summed over the boards: to prove all, and to prove 90 % of the pairs.
void SuggestedProbes(benchmark::State& state) {
    double all = 0, most = 0, worst_all = 0, worst_most = 0;
    for (auto _ : state)
        for (int seed = 1; seed <= boards; ++seed) {
            const auto board = standin::random_board(static_cast<std::uint64_t>(seed), library());
            const auto model = BoardModel::build(board.known(), library());
            const auto truth = standin::truth_of(board, model);
            const auto habit = static_cast<double>(standin::probe_by_habit(model, truth).to_all);
            const auto run = standin::probe_by_suggestion(model, truth);
            const double a = static_cast<double>(run.to_all) / habit,
                         m = static_cast<double>(run.to_most) / habit;
            all += a, most += m;
            worst_all = std::max(worst_all, a), worst_most = std::max(worst_most, m);
        }
    state.counters["all_share_mean"] = all / boards;
    state.counters["all_share_worst"] = worst_all;
    state.counters["most_share_mean"] = most / boards;
    state.counters["most_share_worst"] = worst_most;
}
BENCHMARK(SuggestedProbes)->Unit(benchmark::kSecond)->Iterations(1);

/// One reading of a finished ledger flipped, ten times a board. The ledger is the habit's (argument 0) or the
/// suggested one (1), with a tenth as many random pairs probed again on top.
void FlippedReadings(benchmark::State& state) {
    long contradict = 0, first = 0, three = 0, quiet = 0, quiet_named = 0;
    for (auto _ : state)
        for (int seed = 1; seed <= boards; ++seed) {
            const auto board = standin::random_board(static_cast<std::uint64_t>(seed), library());
            const auto model = BoardModel::build(board.known(), library());
            const auto truth = standin::truth_of(board, model);
            const Likelihood prior(model);
            auto links = (state.range(0) == 0 ? standin::probe_by_habit(model, truth)
                                              : standin::probe_by_suggestion(model, truth))
                             .links;
            Random random(static_cast<std::uint64_t>(seed) + 1000);
            const int n = static_cast<int>(model.points.size());
            const auto at_random = [&] {
                return static_cast<int>(random.below(static_cast<std::uint64_t>(n)));
            };
            for (std::size_t more = links.size() / 10; more > 0; --more) {
                const int a = at_random(), b = at_random();
                if (a == b) continue;
                const bool joined = truth[static_cast<std::size_t>(a)] == truth[static_cast<std::size_t>(b)];
                links.push_back({a, b, joined ? Says::joined : Says::apart, static_cast<int>(links.size())});
            }
            for (int flip = 0; flip < 10; ++flip) {
                auto slipped = links;
                auto& l = slipped[random.below(slipped.size())];
                l.says = l.says == Says::joined ? Says::apart : Says::joined;
                const int row = l.row;
                const auto nets = derive_nets(n, slipped);
                if (nets.contradictions.empty()) {
                    ++quiet;
                    const auto lonely = resting_on_one(nets);
                    quiet_named += std::any_of(lonely.begin(), lonely.end(),
                                               [&](const Lonely& x) { return x.row == row; })
                                       ? 1
                                       : 0;
                    continue;
                }
                ++contradict;
                const auto list = suspects(nets, prior);
                for (std::size_t k = 0; k < std::min<std::size_t>(3, list.size()); ++k)
                    if (list[k].row == row) first += k == 0 ? 1 : 0, ++three;
            }
        }
    const auto share = [](long part, long whole) {
        return whole == 0 ? 1.0 : static_cast<double>(part) / static_cast<double>(whole);
    };
    state.counters["flips_contradicting"] = static_cast<double>(contradict);
    state.counters["first_share"] = share(first, contradict);
    state.counters["first_three_share"] = share(three, contradict);
    state.counters["flips_quiet"] = static_cast<double>(quiet);
    state.counters["quiet_named_share"] = share(quiet_named, quiet);
}
BENCHMARK(FlippedReadings)->Arg(0)->Arg(1)->Unit(benchmark::kSecond)->Iterations(1);

// --- an entry into a large ledger ----------------------------------------------------------------------

/// Hidden boards side by side, until there are so many points: parts renamed, places moved.
struct LargeBoard {
    BoardModel model;
    std::vector<int> truth;
    std::vector<Net> nets;
};

std::string moved(const std::string& point, std::size_t board) {
    const auto s = split_point(point);
    return std::string(s.ref) + "B" + std::to_string(board) + "." + std::string(s.pin);
}

LargeBoard large_board(std::size_t points, std::size_t nets) {
    LargeBoard out;
    double x = 0;
    int net_number = 0;
    for (std::uint64_t seed = 1; out.model.points.size() < points || out.nets.size() < nets; ++seed) {
        const auto board = standin::random_board(seed, library());
        const auto model = BoardModel::build(board.known(), library());
        const auto truth = standin::truth_of(board, model);
        for (std::size_t p = 0; p < model.points.size(); ++p) {
            const auto name = moved(model.table.name(static_cast<int>(p)), seed);
            const auto q = static_cast<std::size_t>(out.model.add(name));
            out.model.points[q] = model.points[p];
            out.model.points[q].ref = std::string(split_point(name).ref);
            if (auto& place = out.model.points[q].place) place->x_mm += x;
            out.truth.push_back(net_number + truth[p]);
        }
        for (auto net : board.nets) {
            net.name += "_" + std::to_string(seed);
            for (auto& p : net.points) p = moved(p, seed);
            out.nets.push_back(std::move(net));
        }
        net_number += static_cast<int>(board.nets.size());
        x += board.width_mm + 10;
    }
    return out;
}

std::vector<Link> readings_of(const LargeBoard& board, std::size_t count, bool with_slip) {
    // All joins first, then opens between neighbours and at random, one reading wrong.
    std::vector<Link> links;
    std::map<int, int> first;
    Random random(7);
    const auto n = board.truth.size();
    for (std::size_t p = 0; p < n; ++p) {
        const auto [it, fresh] = first.emplace(board.truth[p], static_cast<int>(p));
        if (!fresh && random.uniform() < 0.9)
            links.push_back({it->second, static_cast<int>(p), Says::joined, static_cast<int>(links.size())});
    }
    while (links.size() < count) {
        const auto a = random.below(n),
                   b = random.below(2) == 0 ? random.below(n) : std::min(n - 1, a + 1 + random.below(40));
        if (a == b) continue;
        const bool joined = board.truth[a] == board.truth[b];
        links.push_back({static_cast<int>(a), static_cast<int>(b), joined ? Says::joined : Says::apart,
                         static_cast<int>(links.size())});
    }
    if (with_slip) links[count / 2].says = links[count / 2].says == Says::joined ? Says::apart : Says::joined;
    return links;
}

/// What happens after an entry: nets, contradictions, suspects, the next probe. Argument: with a slip in it.
void EntryOf20000(benchmark::State& state) {
    const auto board = large_board(5000, 0);
    const Likelihood prior(board.model);
    const auto links = readings_of(board, 20'000, state.range(0) != 0);
    const int n = static_cast<int>(board.model.points.size());
    std::size_t contradictions = 0;
    for (auto _ : state) {
        const auto nets = derive_nets(n, links);
        auto slips = suspects(nets, prior);
        auto plan = plan_probes(prior, nets);
        contradictions = nets.contradictions_in_all;
        benchmark::DoNotOptimize(slips);
        benchmark::DoNotOptimize(plan);
    }
    state.counters["points"] = n;
    state.counters["contradictions"] = static_cast<double>(contradictions);
}
BENCHMARK(EntryOf20000)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond);

/// The reference: the same readings sorted by their points once.
void SortOf20000(benchmark::State& state) {
    const auto board = large_board(5000, 0);
    const auto links = readings_of(board, 20'000, false);
    for (auto _ : state) {
        auto copy = links;
        std::sort(copy.begin(), copy.end(),
                  [](const Link& x, const Link& y) { return std::pair(x.a, x.b) < std::pair(y.a, y.b); });
        benchmark::DoNotOptimize(copy);
    }
}
BENCHMARK(SortOf20000)->Unit(benchmark::kMillisecond);

// --- structure -----------------------------------------------------------------------------------------

void StructureOf2000Nets(benchmark::State& state) {
    const auto board = large_board(0, 2000);
    auto other = board.nets;
    Random random(5);
    std::map<std::string, std::string, std::less<>> name;
    for (std::size_t i = other.size(); i > 1; --i) std::swap(other[i - 1], other[random.below(i)]);
    for (auto& net : other) {
        net.name = "x" + std::to_string(random.below(1'000'000'000));
        for (auto& p : net.points) {
            const auto s = split_point(p);
            auto& to = name[std::string(s.ref)];
            if (to.empty()) to = "Z" + std::to_string(random.below(1'000'000'000));
            p = to + "." + std::string(s.pin);
        }
    }
    long same = 0;
    for (auto _ : state) {
        Progress progress;
        auto m = match_structure(board.nets, other, progress);
        state.PauseTiming();
        same = compare_nets(board.nets, m->renamed).same;
        state.ResumeTiming();
    }
    state.counters["nets"] = static_cast<double>(board.nets.size());
    state.counters["same"] = static_cast<double>(same);
}
BENCHMARK(StructureOf2000Nets)->Unit(benchmark::kMillisecond);

// --- scans ---------------------------------------------------------------------------------------------

/// Pairs of named points that scan and truth agree on, of all pairs that lie in one net in either.
double agreement(const ScanNets& scan, const BoardModel& model, const std::vector<Net>& copper) {
    std::vector<int> truth(model.points.size(), -1), seen(model.points.size(), -2);
    int next = 0;
    for (const auto& net : copper) {
        for (const auto& p : net.points)
            if (const int i = model.table.find(p); i >= 0) truth[static_cast<std::size_t>(i)] = next;
        ++next;
    }
    for (std::size_t k = 0; k < scan.nets.size(); ++k)
        for (const int p : scan.nets[k].points) seen[static_cast<std::size_t>(p)] = static_cast<int>(k);
    long both = 0, either = 0;
    for (std::size_t i = 0; i < truth.size(); ++i)
        for (std::size_t j = i + 1; j < truth.size(); ++j) {
            const bool t = truth[i] >= 0 && truth[i] == truth[j], s = seen[i] >= 0 && seen[i] == seen[j];
            both += t && s ? 1 : 0;
            either += t || s ? 1 : 0;
        }
    return either == 0 ? 1.0 : static_cast<double>(both) / static_cast<double>(either);
}

struct Scanned {
    standin::HiddenBoard board;
    standin::BoardArt art;
    standin::PaintedScan front, back;
};

Scanned scanned(std::uint64_t seed, bool noisy, double dpi) {
    Scanned s{standin::random_board(seed, library()), {}, {}, {}};
    s.art = standin::draw_board(s.board.width_mm, s.board.height_mm, s.board.parts, library(), s.board.nets);
    standin::ScanStyle style;
    style.dpi = dpi;
    if (noisy) {
        style.noise = 12;
        style.uneven = 40;
        style.turn_deg = 1.6;
        style.blur_px = 1.2;
    }
    style.seed = seed;
    s.front = standin::paint_scan(s.art, BoardSide::front, style);
    style.turn_deg *= -0.7;
    style.seed = seed + 500;
    s.back = standin::paint_scan(s.art, BoardSide::back, style);
    return s;
}

ScanPicture picture(const standin::PaintedScan& s, BoardSide side) {
    return {s.pixels, place_scan(s.references, side).value(), {}};
}

/// Agreement of nets and error of the board's size, over ten boards at 600 dpi. Argument: noisy.
void ScanAgreement(benchmark::State& state) {
    double least = 1, sum = 0, worst_mm = 0;
    constexpr int count = 10;
    for (auto _ : state)
        for (std::uint64_t seed = 1; seed <= count; ++seed) {
            const auto s = scanned(seed, state.range(0) != 0, 600);
            const auto front = picture(s.front, BoardSide::front), back = picture(s.back, BoardSide::back);
            Progress progress;
            const auto read = read_scans(front, &back, progress);
            if (!read) return state.SkipWithError(read.error().message().c_str());
            const auto model = BoardModel::build(s.board.known(), library());
            const double a = agreement(nets_of_scan(*read, model), model, s.art.nets);
            least = std::min(least, a);
            sum += a;
            worst_mm = std::max(
                {worst_mm, std::abs(read->width_mm - s.art.width), std::abs(read->height_mm - s.art.height)});
        }
    state.counters["agreement_mean"] = sum / count;
    state.counters["agreement_least"] = least;
    state.counters["worst_dimension_mm"] = worst_mm;
}
BENCHMARK(ScanAgreement)->Arg(0)->Arg(1)->Unit(benchmark::kSecond)->Iterations(1);

/// A pair of 5,000 × 7,000 pixels.
const std::pair<ScanPicture, ScanPicture>& large_pair() {
    static const auto both = [] {
        auto s = scanned(3, true, 600);
        // The same board scanned finer, until the longer side has 7,000 pixels; cropped or filled to 5,000
        // across.
        const double finer = 600.0 * 7000.0 / std::max(s.front.pixels.width, s.front.pixels.height);
        s = scanned(3, true, finer);
        return std::pair(picture(s.front, BoardSide::front), picture(s.back, BoardSide::back));
    }();
    return both;
}

void ScansOf35Megapixels(benchmark::State& state) {
    const auto& [front, back] = large_pair();
    int nets = 0;
    for (auto _ : state) {
        Progress progress;
        const auto read = read_scans(front, &back, progress);
        nets = read ? read->nets : 0;
    }
    state.counters["width_px"] = front.pixels.width;
    state.counters["height_px"] = front.pixels.height;
    state.counters["nets"] = nets;
}
BENCHMARK(ScansOf35Megapixels)->Unit(benchmark::kSecond)->UseRealTime();

/// A click answered in the part in sight: all of the board, or a part of 20 by 15 mm. Argument: the part.
void ClickOn35Megapixels(benchmark::State& state) {
    const auto& [front, back] = large_pair();
    Progress progress;
    static const auto read = read_scans(front, &back, progress);
    if (!read) return state.SkipWithError(read.error().message().c_str());
    const bool part = state.range(0) != 0;
    const BoardWindow seen = part ? BoardWindow{20, 15, 40, 30} : BoardWindow{-50, -50, 1000, 1000};
    std::size_t pixels = 0;
    for (auto _ : state) {
        const auto sight = look_again(front.pixels, read->layers[0], {{ClickKind::copper, 25, 20}}, seen);
        pixels = sight ? sight->ground.size() : 0;
    }
    state.counters["pixels"] = static_cast<double>(pixels);
}
BENCHMARK(ClickOn35Megapixels)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond)->UseRealTime();

/// The reference: each byte of the two pictures added up once.
void SumOf35Megapixels(benchmark::State& state) {
    const auto& [front, back] = large_pair();
    for (auto _ : state) {
        std::uint64_t sum = 0;
        for (const auto* p : {&front, &back})
            sum = std::accumulate(p->pixels.rgb.begin(), p->pixels.rgb.end(), sum);
        benchmark::DoNotOptimize(sum);
    }
}
BENCHMARK(SumOf35Megapixels)->Unit(benchmark::kSecond)->UseRealTime();

}  // namespace
}  // namespace grayrelic::bench
