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

namespace grayrelic {
namespace {

constexpr int networks = 240;
constexpr std::uint64_t seed = 20261125;

struct Made {
    Network network;
    std::vector<std::unique_ptr<PartDelays>> delays;
    std::vector<Stimulus> stimuli;
    Time end;
};

std::string random_text(Random& r) {
    const auto& library = test::shipped_logic().parts;
    std::vector<const PartLogic*> kinds;
    for (const auto& [id, p] : library)
        if (!p.delays.empty() && p.id != "74x245")
            kinds.push_back(&p);  // its two directions are a loop on paper
    const auto inputs = 3 + r.below(5);
    std::vector<std::string> nets{"0", "1"};
    std::string text = "input";
    for (std::uint64_t i = 0; i < inputs; ++i) {
        nets.push_back(fmt::format("in{}", i));
        text += " " + nets.back();
    }
    text += "\n";
    std::string body;
    std::vector<std::string> made;
    const auto parts = 3 + r.below(10);
    for (std::uint64_t p = 0; p < parts; ++p) {
        const auto& kind = *kinds[r.below(kinds.size())];
        body += fmt::format("U{} {} {}:", p, kind.id, kind.delays[r.below(kind.delays.size())].family);
        // Recent nets more often, for depth; levels seldom, and never at pins that outputs
        // follow at once: that simulator knows an output that
        // follows from levels alone before its delay is over.
        std::set<std::string> direct;
        for (const auto& o : kind.outputs)
            for (const auto* e : {&o.value, &o.enable}) direct.insert(e->names().begin(), e->names().end());
        const auto pick = [&](const std::string& pin) {
            return direct.count(pin) == 0 && r.uniform() < 0.15
                       ? nets[r.below(2)]
                       : nets[nets.size() - 1 - r.below(std::min<std::uint64_t>(nets.size() - 2, 14))];
        };
        std::set<std::string> bus;
        for (const auto& i : kind.inputs) body += fmt::format(" {}={}", i, pick(i));
        std::vector<std::string> fresh;
        for (const auto& o : kind.outputs) {
            if (r.uniform() < 0.25) continue;
            // Outputs that let go may share a net, with or without a pull.
            if (!o.enable.steps().empty() && !fresh.empty() && r.uniform() < 0.4) {
                body += fmt::format(" {}={}", o.pin, fresh.back());
                continue;
            }
            if (!fresh.empty() && !o.enable.steps().empty() && r.uniform() < 0.3)
                text += fmt::format("pull {} {}\n", fresh.back(), r.below(2));
            fresh.push_back(fmt::format("n{}_{}", p, fresh.size()));
            body += fmt::format(" {}={}", o.pin, fresh.back());
        }
        body += "\n";
        nets.insert(nets.end(), fresh.begin(), fresh.end());
        made.insert(made.end(), fresh.begin(), fresh.end());
    }
    if (made.empty()) return random_text(r);
    text += "output " + made.back() + "\n";
    return text + body;
}

Made make(Random& r) {
    Made m;
    m.network = test::network(random_text(r));
    for (auto& part : m.network.parts) {
        auto d = std::make_unique<PartDelays>(*part.delays);
        const auto delay = [&] { return Time::ps(300 + static_cast<std::int64_t>(r.below(60'000))); };
        for (auto* list : {&d->gates, &d->storage})
            for (auto& x : *list) x = {delay(), delay(), delay()};
        part.delays = d.get();
        m.delays.push_back(std::move(d));
    }
    std::set<std::int64_t> taken;
    for (const auto& in : m.network.inputs) {
        Stimulus s{in.net, r.below(2) != 0 ? Level::one : Level::zero, {}};
        Level level = s.first;
        std::int64_t at = 100'000 + static_cast<std::int64_t>(r.below(90'000));
        const auto changes = 5 + r.below(40);
        for (std::uint64_t i = 0; i < changes; ++i) {
            while (!taken.insert(at).second) ++at;
            // Now and then nobody knows, or nobody drives.
            const double what = r.uniform();
            const Level next = what < 0.04           ? Level::unknown
                               : what < 0.06         ? Level::open
                               : level == Level::one ? Level::zero
                                                     : Level::one;
            if (next != level) s.changes.push_back({Time::ps(at), level = next});
            at += 1 + static_cast<std::int64_t>(r.uniform() < 0.3 ? r.below(3'000) : r.below(120'000));
        }
        m.end = std::max(m.end, Time::ps(at));
        m.stimuli.push_back(std::move(s));
    }
    m.end += Time::us(2);
    return m;
}

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
