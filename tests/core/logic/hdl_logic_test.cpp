// SPDX-License-Identifier: GPL-3.0-or-later
// 240 random networks of the shipped parts, with random delays to the picosecond, run by our simulator and,
// through the Verilog export, by a general HDL simulator from Debian's packages: every net must have the same
// edges, the same unknown and the same open stretches.
#include <gmock/gmock.h>

#include <fmt/format.h>

#include <cstdlib>
#include <memory>
#include <set>

#include "core/base/random.hpp"
#include "core/capture/capture_file.hpp"
#include "core/logic/verilog.hpp"
#include "tests/core/helpers.hpp"
#include "tests/core/logic/logic_helpers.hpp"
#include "tests/core/logic/random_network.hpp"

namespace grayrelic {
namespace {

constexpr int networks = 240;
constexpr std::uint64_t seed = 20261125;

using test::Made;
using test::make;

std::string bench(const Made& m, int index) {
    std::string out = to_verilog(m.network, fmt::format("net{}", index), Corner::slow) +
                      fmt::format("module bench{};\n", index);
    std::string ports;
    for (const auto& s : m.stimuli) {
        const auto name = m.network.net_name(s.net);
        out += fmt::format("  reg {} = 1'b{};\n", name, letter(s.first));
        ports += fmt::format("{}.{}({})", ports.empty() ? "" : ", ", name, name);
        out += "  initial begin\n";
        Time at;
        for (const auto& c : s.changes) {
            out += fmt::format("    #{} {} = 1'b{};\n", (c.at - at).count(), name, letter(c.level));
            at = c.at;
        }
        out += "  end\n";
    }
    return out + fmt::format("  net{0} unit ({1});\nendmodule\n", index, ports);
}

TEST(HdlLogic, EveryNetHasTheSameEdgesAsInAGeneralSimulator) {
    Random random(seed);
    std::vector<Made> made;
    std::string source;
    Time end;
    for (int i = 0; i < networks; ++i) {
        made.push_back(make(random));
        ASSERT_TRUE(made.back().network.computable()) << made.back().network.problems.front().says;
        source += bench(made.back(), i);
        end = std::max(end, made.back().end);
    }
    const test::TempFolder folder;
    source += fmt::format(
        "module all;\n  initial begin\n    $dumpfile(\"{}\");\n    $dumpvars(0);\n    #{} $finish;\n  "
        "end\nendmodule\n",
        (folder / "out.vcd").string(), end.count());
    test::write_file(folder / "all.v", source);
    const auto run = [](const std::string& command) {
        return std::system((command + " >/dev/null 2>&1").c_str());
    };
    ASSERT_EQ(run(fmt::format("iverilog -g2005 -o {0}/all.vvp {0}/all.v", folder.path().string())), 0)
        << "the simulator named in packaging/apt-packages.txt is not there, or refuses the export";
    ASSERT_EQ(run(fmt::format("vvp {}/all.vvp", folder.path().string())), 0);
    Progress reading;
    const auto capture = read_capture_file(folder / "out.vcd", reading, {});
    ASSERT_TRUE(capture) << capture.error().message();

    long compared = 0, edges = 0, unknown = 0, open = 0;
    for (int i = 0; i < networks; ++i) {
        const auto& m = made[static_cast<std::size_t>(i)];
        SimulationOptions options;
        options.unknown_on_fault = false;
        Progress progress;
        const auto ours = simulate(m.network, m.stimuli, options, progress);
        ASSERT_TRUE(ours) << ours.error().message();
        ASSERT_EQ(ours->stopped, "");
        for (std::size_t n = 0; n < m.network.nets.size(); ++n) {
            const auto& net = m.network.nets[n];
            if (net.held) continue;
            const auto theirs = capture->find_digital(fmt::format("bench{}.unit.{}", i, net.name));
            ASSERT_TRUE(theirs) << theirs.error().message();
            const auto mine = waveform_of(ours->nets[n], end);
            const std::vector<Time> a(mine.edges().begin(), mine.edges().end()),
                b((*theirs)->edges().begin(), (*theirs)->edges().end());
            const auto why =
                fmt::format("network {}, net {}: {}\n{}", i, net.name, test::shown(ours->nets[n]),
                            to_verilog(m.network, "it", Corner::slow));
            ASSERT_EQ(a, b) << why;
            ASSERT_EQ(mine.first_level() || a.empty(), (*theirs)->first_level() || a.empty()) << why;
            const auto cut = [&](std::span<const Span> list) {
                std::vector<Span> out;
                for (auto s : list) {
                    s.to = std::min(s.to, end);
                    if (s.from < s.to) out.push_back(s);
                }
                return out;
            };
            const auto ua = cut(mine.unknown()), ub = cut((*theirs)->unknown());
            ASSERT_EQ(ua, ub) << why;
            const auto fa = cut(mine.floating()), fb = cut((*theirs)->floating());
            ASSERT_EQ(fa, fb) << why;
            ++compared;
            edges += static_cast<long>(a.size());
            unknown += static_cast<long>(ua.size());
            open += static_cast<long>(fa.size());
        }
    }
    // That the networks do something: measured once, far above these.
    EXPECT_GT(compared, networks * 10);
    EXPECT_GT(edges, 10'000);
    EXPECT_GT(unknown, 1'000);
    EXPECT_GT(open, 100);
}

}  // namespace
}  // namespace grayrelic
