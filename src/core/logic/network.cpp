// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/logic/network_parts.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

/// May this driver let go of its net?
bool lets_go(const Network& n, std::pair<int, int> driver) {
    return !n.parts[static_cast<std::size_t>(driver.first)]
                .logic->outputs[static_cast<std::size_t>(driver.second)]
                .enable.steps()
                .empty();
}

/// Is its enable off whatever happens, by nets that are held at a level?
bool never_drives(const Network& n, std::pair<int, int> driver) {
    const auto& part = n.parts[static_cast<std::size_t>(driver.first)];
    const auto& enable = part.logic->outputs[static_cast<std::size_t>(driver.second)].enable;
    if (enable.steps().empty()) return false;
    std::vector<Levels> in;
    for (const auto& name : enable.names()) {
        const auto& inputs = part.logic->inputs;
        const auto at = std::find(inputs.begin(), inputs.end(), name);
        const auto net =
            at == inputs.end() ? PinNet{} : part.inputs[static_cast<std::size_t>(at - inputs.begin())];
        const auto* held = net ? &n.nets[static_cast<std::size_t>(*net)].held : nullptr;
        in.push_back(held != nullptr && *held ? known(**held ? ~0ULL : 0) : Levels{});
    }
    return enable.evaluate(in) == known(0);
}

void check_nets(Network& n) {
    for (auto& net : n.nets) {
        // What never drives is as if it was not joined.
        std::erase_if(net.drivers, [&](const auto& d) {
            if (!never_drives(n, d)) return false;
            n.parts[static_cast<std::size_t>(d.first)].outputs[static_cast<std::size_t>(d.second)].reset();
            return true;
        });
        const auto says = [&](std::string text, std::string expected, bool fatal = true) {
            n.problems.push_back({net.line, fatal, std::move(text), std::move(expected)});
        };
        std::size_t firm = 0;
        for (const auto& d : net.drivers) firm += lets_go(n, d) ? 0U : 1U;
        std::string names;
        for (const auto& [p, o] : net.drivers)
            names += (names.empty() ? "" : " and ") + n.parts[static_cast<std::size_t>(p)].ref + "." +
                     n.parts[static_cast<std::size_t>(p)].logic->outputs[static_cast<std::size_t>(o)].pin;
        if ((net.input || net.held) && !net.drivers.empty())
            says(fmt::format("net {} is driven from outside and by {}", net.name, names), "one driver");
        else if (firm > 1 || (firm == 1 && net.drivers.size() > 1))
            says(fmt::format("net {} has two drivers: {}", net.name, names),
                 "one driver, or outputs that can let go");
        else if (net.drivers.empty() && !net.input && !net.held && !net.pull && !net.excused)
            says(fmt::format("nobody drives net {}", net.name), "an output, an input line or a pull");
    }
    for (const auto& p : n.parts)
        for (std::size_t i = 0; i < p.inputs.size(); ++i)
            if (!p.inputs[i]) {
                // Inputs of gates that are not used at all matter to the part's current, not to the result.
                n.problems.push_back({p.line, false,
                                      fmt::format("input {} of {} is left open", p.logic->inputs[i], p.ref),
                                      "0, 1 or a net: an open input floats"});
            }
}

/// Feeds: for each output of each part, which nets it follows without storage between.
std::vector<int> gate_inputs(const NetworkPart& p, std::size_t output) {
    std::vector<int> nets;
    const auto& o = p.logic->outputs[output];
    for (const auto* e : {&o.value, &o.enable})
        for (const auto& name : e->names()) {
            const auto it = std::find(p.logic->inputs.begin(), p.logic->inputs.end(), name);
            if (it == p.logic->inputs.end()) continue;
            if (const auto net = p.inputs[static_cast<std::size_t>(it - p.logic->inputs.begin())])
                nets.push_back(*net);
        }
    return nets;
}

/// Depth-first over nets: finds a loop of gates and the stage of each output.
class StageFinder {
  public:
    explicit StageFinder(const Network& n) : n_(n), state_(n.nets.size(), 0), stage_(n.nets.size(), 0) {}
    int stage(int net) {
        auto& s = state_[static_cast<std::size_t>(net)];
        if (s == 2) return stage_[static_cast<std::size_t>(net)];
        if (s == 1) {
            if (loop_.empty()) loop_ = n_.net_name(net);
            return 0;
        }
        s = 1;
        int depth = 0;
        for (const auto& [p, o] : n_.nets[static_cast<std::size_t>(net)].drivers)
            for (const int in :
                 gate_inputs(n_.parts[static_cast<std::size_t>(p)], static_cast<std::size_t>(o)))
                depth = std::max(depth, stage(in) + 1);
        state_[static_cast<std::size_t>(net)] = 2;
        stage_[static_cast<std::size_t>(net)] = depth;
        return depth;
    }
    const std::string& loop() const { return loop_; }

  private:
    const Network& n_;
    std::vector<int> state_, stage_;
    std::string loop_;
};

}  // namespace

bool Network::computable() const {
    return std::none_of(problems.begin(), problems.end(), [](const NetworkProblem& p) { return p.fatal; }) &&
           !parts.empty();
}
bool Network::stores() const {
    return std::any_of(parts.begin(), parts.end(), [](const NetworkPart& p) { return p.logic->stores(); });
}
std::optional<int> Network::find_net(std::string_view name) const {
    for (std::size_t i = 0; i < nets.size(); ++i)
        if (nets[i].name == name) return static_cast<int>(i);
    return std::nullopt;
}

Network read_circuit(std::string_view text, const LogicLibrary& library) {
    auto n = read_text(text, library);
    join_logic(n);
    return n;
}

Network read_network(std::string_view text, const LogicLibrary& library) {
    auto n = read_text(text, library);
    join_logic(n);
    check_nets(n);
    if (n.parts.empty() && n.problems.empty())
        n.problems.push_back({1, true, "no parts", "REF PART FAMILY: PIN=NET …"});
    if (n.outputs.empty()) n.problems.push_back({1, true, "no output", "output NET"});
    StageFinder finder(n);
    for (std::size_t i = 0; i < n.nets.size(); ++i) (void)finder.stage(static_cast<int>(i));
    if (!finder.loop().empty()) {
        const auto& net = n.nets[static_cast<std::size_t>(*n.find_net(finder.loop()))];
        n.loop = net.name;
        n.problems.push_back({net.line, false, fmt::format("a loop of gates through net {}", net.name),
                              "storage as a part of its own, such as 74x74 or 74x373: a loop can be "
                              "simulated, but not tabulated"});
    }
    std::stable_sort(n.problems.begin(), n.problems.end(),
                     [](const auto& a, const auto& b) { return a.line < b.line; });
    return n;
}

std::vector<int> stages_of(const Network& n) {
    StageFinder finder(n);
    std::vector<int> out;
    for (const auto& p : n.parts) {
        int s = 0;
        for (std::size_t o = 0; o < p.outputs.size(); ++o)
            for (const int in : gate_inputs(p, o)) s = std::max(s, finder.stage(in));
        // What is stored waits for its inputs all the same.
        if (p.logic->stores())
            for (const auto in : p.inputs) s = std::max(s, in ? finder.stage(*in) : 0);
        out.push_back(s);
    }
    return out;
}

std::vector<SpareGates> spare_gates(const Network& n) {
    std::vector<SpareGates> out;
    for (std::size_t i = 0; i < n.parts.size(); ++i) {
        SpareGates s;
        s.part = static_cast<int>(i);
        for (std::size_t o = 0; o < n.parts[i].outputs.size(); ++o)
            if (!n.parts[i].outputs[o]) s.unused.push_back(n.parts[i].logic->outputs[o].pin);
        if (!s.unused.empty()) out.push_back(std::move(s));
    }
    return out;
}

}  // namespace grayrelic
