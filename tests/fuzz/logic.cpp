// SPDX-License-Identifier: GPL-3.0-or-later
// Net lists, expressions, truth tables, drawers, parts' logic, clock files, budgets and events. The first
// byte chooses. A network that can be computed is simulated for a while, tabulated, drawn and exported: all
// of it must end.
#include <cstdlib>
#include <filesystem>

#include "core/base/file_system.hpp"
#include "core/dossier/event_name.hpp"
#include "core/logic/minimise.hpp"
#include "core/logic/simulate.hpp"
#include "core/logic/verilog.hpp"
#include "core/timing/budget.hpp"
#include "core/timing/clock_sources.hpp"

using namespace grayrelic;

namespace {

const LogicLibrary& library() {
    static const PartLibrary parts = PartLibrary::load(disk(), {GRAY_RELIC_SOURCE "/data"});
    static const LogicLibrary logic = LogicLibrary::from(parts);
    return logic;
}

void network(std::string_view text) {
    const auto n = read_network(text, library());
    (void)stages_of(n);
    if (!n.computable()) return;
    Progress progress;
    std::vector<Stimulus> stimuli;
    for (const auto& in : n.inputs) {
        Stimulus s{in.net, Level::zero, {}};
        for (int i = 1; i < 6; ++i)
            s.changes.push_back({Time::ns(100 * i + in.net), i % 2 != 0 ? Level::one : Level::zero});
        stimuli.push_back(std::move(s));
    }
    SimulationOptions options;
    options.most_events = 5'000;
    if (!simulate(n, stimuli, options, progress)) std::abort();
    (void)to_verilog(n, "m", Corner::slow);
    if (n.inputs.size() <= 6) (void)truth_table(n, progress);
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size == 0) return 0;
    const std::string_view text(reinterpret_cast<const char*>(data) + 1, size - 1);
    switch (data[0] % 6) {
        case 0: network(text); break;
        case 1: (void)Expression::parse(text); break;
        case 2: (void)wanted_from_text(text, "t"); break;
        case 3:
            (void)parse_drawer_item(text);
            (void)parse_event(text);
            if (const auto b = parse_budget(text)) {
                Progress progress;
                (void)evaluate_budget(*b, {}, progress);
            }
            break;
        case 4: {
            PartType part;
            part.id = "p";
            part.pins = {{"1", "A", PinKind::input}, {"2", "B", PinKind::input}, {"3", "Y", PinKind::output}};
            part.logic = std::string(text);
            (void)part_logic(part);
            break;
        }
        default: (void)clocks_from_json(text, "c.json"); break;
    }
    return 0;
}
