// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/analysis/analysis.hpp"

#include <algorithm>
#include <chrono>
#include <future>
#include <mutex>

#include "core/board/board_analysis.hpp"
#include "core/input/map_analysis.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/plan/plan_analysis.hpp"
#include "core/port/port_analysis.hpp"
#include "core/record/log_analysis.hpp"
#include "core/timing/timing_analysis.hpp"
#include "core/trace/trace_analysis.hpp"
#include "core/wire/board_circuits.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {
namespace {

/// Between two versions that are shown; a capture that has just been read does not wait.
constexpr auto show_every = std::chrono::milliseconds(200);
constexpr double trace_weight = 2, board_weight = 4, log_weight = 1;

/// A part of the library that keeps the whole alive.
template <class T>
std::shared_ptr<const T> part_of(const std::shared_ptr<const DataLibrary>& data, T DataLibrary::*member) {
    return data ? std::shared_ptr<const T>(data, &(data.get()->*member)) : nullptr;
}

/// One run over a dossier. Three lanes: ports and traces; what captures hold and the contract; decoding and
/// the replies. The second and third begin when the captures are read.
class Work {
  public:
    Work(const Dossier& dossier, const std::filesystem::path& folder, CaptureStore& store, Progress& progress,
         const Analysis* before, std::shared_ptr<const DataLibrary> data,
         std::shared_ptr<const Person> person, const Judge& judge, const ShowPart& show)
        : judge_(judge),
          show_(show),
          now_(start(dossier, before, std::move(data), std::move(person))),
          run_(progress, ListenWork::weight(dossier) + TimingWork::weight(dossier) + trace_weight +
                             static_cast<double>(dossier.ports->size()) +
                             board_weight * static_cast<double>(dossier.boards->size()) +
                             (dossier.log->images.empty() ? 0.0 : log_weight)),
          listen_(
              dossier, folder,
              [&store](const CaptureRef& ref, const std::filesystem::path& file, Progress& p) {
                  return store.read(file, p, ref.read_as);
              },
              *now_.memory, run_, now_.listen, [this] { part_made(false); }),
          timing_(dossier,
                  {part_of(now_.data, &DataLibrary::logic), part_of(now_.data, &DataLibrary::clocks)},
                  *now_.memory, run_, now_.timing, [this] { part_made(false); }),
          folder_(folder),
          store_(store) {}

    Result<std::shared_ptr<const Analysis>> run() {
        part_made(now_.listen->captures.empty());  // a dossier that has just been opened says what it reads
        auto board = std::async(std::launch::async, [this] {
            return plan() && wire() && map() && ports() && traces() && boards() && log();
        });
        const bool read = listen_.read();
        bool whole = read;
        if (read) {
            part_made(true);
            auto decoded = std::async(std::launch::async, [this] { return listen_.decode(); });
            const bool sampled = listen_.sample();
            auto looked = std::async(std::launch::async, [this] { return listen_.look(); });
            whole = decoded.get() && sampled;
            if (whole) {
                const auto listen = listen_.now();
                auto contract = std::async(std::launch::async, [&] { return timing_.contract(*listen); });
                const bool replied = timing_.replies(*listen);
                whole = contract.get() && replied;
            }
            whole = looked.get() && whole;
        }
        whole = board.get() && whole;
        if (!whole) {
            if (const auto failure = run_.failure()) return fail(*failure);
            return fail_cancelled();
        }
        const std::lock_guard lock(mutex_);
        gather();
        auto last = std::make_shared<Analysis>(now_);
        judge_(*last, ~0U, run_);
        last->memory->forget_all_but(run_);
        return std::shared_ptr<const Analysis>(std::move(last));
    }

  private:
    static Analysis start(const Dossier& dossier, const Analysis* before,
                          std::shared_ptr<const DataLibrary> data, std::shared_ptr<const Person> person) {
        Analysis a;
        if (before != nullptr) a = *before;
        a.dossier = dossier;
        a.data = std::move(data);
        if (person) a.person = std::move(person);
        return a;
    }

    bool plan() {
        const auto& d = now_.dossier;
        auto plan = now_.memory->recall_here<PlanAnalysis>(
            run_, "plan",
            std::tuple(bridge_text(*d.wire, *d.timing), d.supply.version(), now_.data, now_.person), [&] {
                return PlanAnalysis{
                    parts_list(d, now_.data ? &now_.data->logic : nullptr, now_.person->drawer)};
            });
        {
            const std::lock_guard lock(mutex_);
            now_.plan = std::move(plan);
            ready_ = ready_ | Rests::plan_analysis;
        }
        part_made(false);
        return true;
    }

    /// All that Wire takes from Timing: the texts, by option.
    static std::vector<std::pair<std::string, BridgeText>> circuits_of(const Dossier& d) {
        std::vector<std::pair<std::string, BridgeText>> out{{{}, bridge_text(*d.wire, *d.timing)}};
        for (const auto& o : d.timing->options)
            if (!o.network.empty()) out.emplace_back(o.id, bridge_text(*d.wire, *d.timing, o.id));
        return out;
    }

    bool wire() {
        if (now_.data) {
            const auto& d = now_.dossier;
            auto wire = now_.memory->recall_here<WireAnalysis>(
                run_, "wire",
                std::tuple(d.wire.version(), circuits_of(d), d.ports.version(), d.cables.version(),
                           d.supply.version(), now_.data, now_.person),
                [&] {
                    return analyse_wire(d,
                                        {part_of(now_.data, &DataLibrary::logic), &now_.data->families,
                                         &now_.data->packages, &now_.data->parts},
                                        *now_.person);
                });
            const std::lock_guard lock(mutex_);
            now_.wire = std::move(wire);
        }
        {
            const std::lock_guard lock(mutex_);
            ready_ = ready_ | Rests::wire_analysis;
        }
        part_made(false);
        return true;
    }

    /// All that Map takes from the captures: the names of the bits that its codes name.
    static std::vector<std::string> bits_of_map(const Dossier& d) {
        const auto* capture = d.find_capture(d.map->capture);
        return capture == nullptr ? std::vector<std::string>{} : capture->decode.bits;
    }

    bool map() {
        if (now_.data) {
            const auto& d = now_.dossier;
            auto map = now_.memory->recall_here<MapAnalysis>(
                run_, "map", std::tuple(d.map.version(), bits_of_map(d), now_.data),
                [&] { return analyse_map(d, now_.data->layouts); });
            const std::lock_guard lock(mutex_);
            now_.map = std::move(map);
        }
        {
            const std::lock_guard lock(mutex_);
            ready_ = ready_ | Rests::map_analysis;
        }
        part_made(false);
        return true;
    }

    bool ports() {
        auto port = analyse_ports(
            now_.dossier,
            {part_of(now_.data, &DataLibrary::connectors), part_of(now_.data, &DataLibrary::families),
             part_of(now_.data, &DataLibrary::supplies)},
            *now_.memory, run_);
        if (!port) return false;
        {
            const std::lock_guard lock(mutex_);
            now_.port = std::move(port);
            ready_ = ready_ | Rests::port_analysis;
        }
        part_made(false);
        return true;
    }

    bool traces() {
        if (now_.data) {
            struct Traced {
                std::shared_ptr<const TraceAnalysis> analysis;
                Dossier dossier;
            };
            const auto& d = now_.dossier;
            auto traced = now_.memory->recall<Traced>(
                run_, "trace",
                std::tuple(d.trace.version(), d.readings.version(), d.ports.version(), d.units.version(),
                           now_.data, folder_),
                trace_weight,
                [d, folder = folder_, data = now_.data, reader = store_.read_picture,
                 before = now_.memory->last<Traced>("trace")](Progress& progress) -> Result<Traced> {
                    auto made = analyse_trace(d, folder, data->parts, reader, progress,
                                              before ? before->analysis.get() : nullptr,
                                              before ? &before->dossier : nullptr);
                    if (!made) return fail(made.error());
                    return Traced{std::move(*made), d};
                });
            if (!traced) return false;
            const std::lock_guard lock(mutex_);
            now_.trace = traced->analysis;
        }
        {
            const std::lock_guard lock(mutex_);
            ready_ = ready_ | Rests::trace_analysis;
        }
        part_made(false);
        return true;
    }

    /// What Board takes from elsewhere: the circuits of its boards.
    BoardData board_data() {
        BoardData out{part_of(now_.data, &DataLibrary::connectors),
                      part_of(now_.data, &DataLibrary::packages),
                      part_of(now_.data, &DataLibrary::processes),
                      {}};
        const auto& d = now_.dossier;
        const auto before = now_.memory->last<BoardCircuits>("board circuits");
        const auto made = now_.memory->recall_here<BoardCircuits>(
            run_, "board circuits",
            std::tuple(now_.wire, d.boards.version(), d.trace.version(), d.timing->networks,
                       d.ports.version(), d.cables.version(), now_.data),
            [&] {
                const auto wire =
                    now_.wire ? std::shared_ptr<const Circuit>(now_.wire, &now_.wire->circuit) : nullptr;
                auto all =
                    board_circuits(d, wire, now_.data->parts, {&now_.data->logic, &now_.data->families});
                return before ? kept_circuits(std::move(all), *before) : all;
            });
        out.circuits = *made;
        return out;
    }

    bool boards() {
        if (now_.data) {
            auto board = analyse_boards(now_.dossier, folder_, board_data(), *now_.memory, run_);
            if (!board) return false;
            const std::lock_guard lock(mutex_);
            now_.board = std::move(board);
        }
        {
            const std::lock_guard lock(mutex_);
            ready_ = ready_ | Rests::board_analysis;
        }
        part_made(false);
        return true;
    }

    /// The sums of the images' files.
    bool log() {
        const auto& images = now_.dossier.log->images;
        auto made = now_.memory->recall<LogAnalysis>(
            run_, "log", std::tuple(images, folder_), images.empty() ? 0.0 : log_weight,
            [log = now_.dossier.log, folder = folder_](Progress& progress) {
                return analyse_log(*log, folder, progress);
            });
        if (!made) return false;
        const std::lock_guard lock(mutex_);
        now_.log = std::move(made);
        ready_ = ready_ | Rests::log_analysis;
        return true;
    }

    /// With the lock held: what the lanes have made so far.
    void gather() {
        now_.listen = listen_.now();
        now_.timing = timing_.now();
        now_.under_way.clear();
        for (const auto& c : now_.listen->captures)
            if (!c->under_way.empty()) now_.under_way.push_back(c->under_way + ": " + c->ref.title);
        for (const auto& t : now_.timing->under_way) now_.under_way.push_back(t);
        if (!holds(ready_, Rests::trace_analysis)) now_.under_way.emplace_back("the board");
        if (!holds(ready_, Rests::board_analysis) && !now_.dossier.boards->empty())
            now_.under_way.emplace_back("the fabrication files");
        const auto done = [&](bool is, Rests what) {
            ready_ = is ? ready_ | what : ready_ & ~static_cast<unsigned>(what);
        };
        done(listen_.whole(), Rests::listen_analysis);
        done(now_.timing->under_way.empty(), Rests::timing_analysis);
    }

    void part_made(bool at_once) {
        const auto time = std::chrono::steady_clock::now();
        const std::lock_guard lock(mutex_);
        if (!show_ || run_.interrupted() || (!at_once && time - shown_ < show_every)) return;
        gather();
        auto version = std::make_shared<Analysis>(now_);
        judge_(*version, ready_, run_);
        now_.by_check = version->by_check;
        if (version->under_way.empty()) return;  // the last one is about to come
        shown_ = time;
        show_(std::move(version));
    }

    const Judge& judge_;
    const ShowPart& show_;
    std::mutex mutex_;  // of now_, ready_ and what is shown
    Analysis now_;
    unsigned ready_ = ~0U & ~(Rests::log_analysis | Rests::port_analysis | Rests::listen_analysis |
                              Rests::timing_analysis | Rests::trace_analysis | Rests::plan_analysis |
                              Rests::wire_analysis | Rests::map_analysis | Rests::board_analysis);
    MemoryRun run_;
    ListenWork listen_;
    TimingWork timing_;
    const std::filesystem::path folder_;
    CaptureStore& store_;
    std::chrono::steady_clock::time_point shown_ = std::chrono::steady_clock::now();
};

}  // namespace

Analysis::Analysis()
    : person(std::make_shared<const Person>()),
      plan(std::make_shared<const PlanAnalysis>()),
      port(std::make_shared<const PortAnalysis>()),
      listen(std::make_shared<const ListenAnalysis>()),
      timing(std::make_shared<const TimingAnalysis>()),
      log(std::make_shared<const LogAnalysis>()),
      memory(std::make_shared<Memory>()) {}

const CaptureAnalysis* Analysis::find_capture(std::string_view id) const {
    return listen->find_capture(id);
}
const ContractFigure* Analysis::find_figure(std::string_view id) const {
    return timing->find_figure(id);
}
const OptionAnalysis* Analysis::find_option(std::string_view id) const {
    return timing->find_option(id);
}

Result<std::shared_ptr<const Analysis>> work_out(const Dossier& dossier, const std::filesystem::path& folder,
                                                 CaptureStore& store, Progress& progress,
                                                 const Analysis* before,
                                                 std::shared_ptr<const DataLibrary> data,
                                                 std::shared_ptr<const Person> person, const Judge& judge,
                                                 const ShowPart& show) {
    return Work(dossier, folder, store, progress, before, std::move(data), std::move(person), judge, show)
        .run();
}

bool more_to_come(const Analysis& a) {
    return !a.under_way.empty() || a.by_check.empty() ||
           std::any_of(a.by_check.begin(), a.by_check.end(), [](const auto& made) { return !made; });
}

Verdict stage_verdict(const Analysis& a, Stage stage) {
    const auto worst = verdict(count(a.findings, stage));
    return worst == Verdict::holds && more_to_come(a) ? Verdict::unknown : worst;
}

Versions versions_of(const Dossier& d, const Analysis& a, unsigned rests) {
    Versions g;
    const auto add = [&](Rests r, std::shared_ptr<const void> what) {
        g.push_back(holds(rests, r) ? std::move(what) : nullptr);
    };
    add(Rests::about, d.about.version());
    add(Rests::ports, d.ports.version());
    add(Rests::cables, d.cables.version());
    add(Rests::captures, d.captures.version());
    add(Rests::readings, d.readings.version());
    add(Rests::trace, d.trace.version());
    add(Rests::timing, d.timing.version());
    add(Rests::data, a.data);
    add(Rests::port_analysis, a.port);
    add(Rests::listen_analysis, a.listen);
    add(Rests::timing_analysis, a.timing);
    add(Rests::trace_analysis, a.trace);
    add(Rests::units, d.units.version());
    add(Rests::dimensions, d.dimensions.version());
    add(Rests::supply, d.supply.version());
    add(Rests::person, a.person);
    add(Rests::plan_analysis, a.plan);
    add(Rests::plan, d.plan.version());
    add(Rests::wire, d.wire.version());
    add(Rests::wire_analysis, a.wire);
    add(Rests::map, d.map.version());
    add(Rests::map_analysis, a.map);
    add(Rests::boards, d.boards.version());
    add(Rests::stacks, d.stacks.version());
    add(Rests::builds, d.builds.version());
    add(Rests::board_analysis, a.board);
    add(Rests::log, d.log.version());
    add(Rests::log_analysis, a.log);
    return g;
}

}  // namespace grayrelic
