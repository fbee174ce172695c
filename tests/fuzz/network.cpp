// SPDX-License-Identifier: GPL-3.0-or-later
// Net lists. One that can be computed is simulated for a while, tabulated, looked through for hazards and
// written as Verilog: all of it must end.
#include "core/base/file_system.hpp"
#include "core/logic/simulate.hpp"
#include "core/logic/truth.hpp"
#include "core/logic/verilog.hpp"
#include "tests/fuzz/fuzz.hpp"
#include "tests/fuzz/shipped_logic.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto n = read_network(fuzz::text_of(data, size), fuzz::shipped_logic());
    (void)stages_of(n);
    (void)spare_gates(n);
    (void)n.stores();
    if (!n.computable()) return 0;
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
    const auto run = simulate(n, stimuli, options, progress);
    if (!run) std::abort();
    for (const auto& net : run->nets) (void)waveform_of(net, Time::us(2));
    (void)to_verilog(n, "m", Corner::slow);
    if (n.inputs.size() > 6) return 0;
    if (const auto table = truth_table(n, progress)) (void)truth_csv(*table);
    (void)find_hazards(n, progress);
    return 0;
}
