// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/logic/network.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <unordered_map>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_parts = 1000, most_nets = 20'000, most_lines = 20'000;

std::vector<std::string_view> words_of(std::string_view line) {
    std::vector<std::string_view> out;
    std::size_t at = 0;
    while (at < line.size()) {
        while (at < line.size() && (line[at] == ' ' || line[at] == '\t' || line[at] == ',')) ++at;
        const auto from = at;
        while (at < line.size() && line[at] != ' ' && line[at] != '\t' && line[at] != ',') ++at;
        if (at > from) out.push_back(line.substr(from, at - from));
    }
    return out;
}

bool is_net_name(std::string_view t) {
    return !t.empty() && t.size() <= 64 && std::all_of(t.begin(), t.end(), [](char c) {
        return (c >= '0' && c <= '9') || (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_' ||
               c == '/' || c == '.' || c == '[' || c == ']';
    });
}

class NetworkReader {
  public:
    explicit NetworkReader(const LogicLibrary& library) : library_(library) {}

    Network read(std::string_view text) {
        const auto lines = split(text, '\n');
        if (lines.size() > most_lines) {
            problem(1, fmt::format("{} lines", lines.size()), fmt::format("at most {}", most_lines));
            return std::move(out_);
        }
        for (std::size_t i = 0; i < lines.size(); ++i) {
            auto line = lines[i];
            if (line.ends_with('\r')) line.remove_suffix(1);
            if (const auto hash = line.find('#'); hash != std::string_view::npos) line = line.substr(0, hash);
            if (trim(line).empty()) continue;
            const bool goes_on = line.front() == ' ' || line.front() == '\t';
            read_line(static_cast<long>(i + 1), trim(line), goes_on);
        }
        return std::move(out_);
    }

  private:
    void problem(long line, std::string says, std::string expected, bool fatal = true) {
        if (out_.problems.size() < 1000)
            out_.problems.push_back({line, fatal, std::move(says), std::move(expected)});
    }
    std::optional<int> net(std::string_view name, long line) {
        if (const auto found = index_.find(std::string(name)); found != index_.end()) return found->second;
        if (!is_net_name(name)) {
            problem(line, in_quotes(name) + " as a net", "a name of letters, digits and _ / . [ ]");
            return std::nullopt;
        }
        if (out_.nets.size() >= most_nets) {
            problem(line, "too many nets", fmt::format("at most {}", most_nets));
            return std::nullopt;
        }
        LogicNet n;
        n.name = std::string(name);
        n.line = line;
        if (name == "0" || name == "1") n.held = name == "1";
        out_.nets.push_back(std::move(n));
        return index_[std::string(name)] = static_cast<int>(out_.nets.size()) - 1;
    }
    void excuse(std::string_view name, long line) {
        if (!is_net_name(name)) return;
        if (const auto n = net(name, line)) out_.nets[static_cast<std::size_t>(*n)].excused = true;
    }
    void read_line(long line, std::string_view text, bool goes_on) {
        if (goes_on) {
            if (!part_) return problem(line, in_quotes(text), "a part's line above the one that goes on");
            return read_pins(line, words_of(text));
        }
        part_.reset();
        const auto colon = text.find(':');
        if (colon != std::string_view::npos)
            return read_part(line, text.substr(0, colon), text.substr(colon + 1));
        auto words = words_of(text);
        if (words.empty())
            return problem(line, in_quotes(text),
                           "input …, output …, pull NET 0|1, or REF PART FAMILY: PIN=NET …");
        if (words.front() == "input") return read_inputs(line, text);
        if (words.front() == "output" || words.front() == "pull") {
            const bool pull = words.front() == "pull";
            if (words.size() < 2 || (pull && (words.size() != 3 || (words[2] != "0" && words[2] != "1"))))
                return problem(line, in_quotes(text),
                               pull ? "pull NET 0 or pull NET 1" : "output and at least one net");
            for (std::size_t i = 1; i < (pull ? 2 : words.size()); ++i) {
                const auto n = net(words[i], line);
                if (!n) continue;
                auto& item = out_.nets[static_cast<std::size_t>(*n)];
                if (pull)
                    item.pull = words[2] == "1";
                else if (item.output)
                    problem(line, in_quotes(words[i]) + " a second time", "each output once");
                else {
                    item.output = true;
                    out_.outputs.push_back(*n);
                }
            }
            return;
        }
        problem(line, in_quotes(text), "input …, output …, pull NET 0|1, or REF PART FAMILY: PIN=NET …");
    }
    void read_inputs(long line, std::string_view text) {
        const auto equals = text.find('=');
        const auto words = words_of(text.substr(0, equals));  // the first one is "input"
        NetworkInput in;
        if (equals != std::string_view::npos) {
            const auto value = trim(text.substr(equals + 1));
            if (value == "0" || value == "1") {
                in.from = NetworkInput::From::level;
                in.level = value == "1";
            } else if (value.starts_with("bit")) {
                in.from = NetworkInput::From::bit;
                const auto digits = value.substr(3);
                const auto [end, code] =
                    std::from_chars(digits.data(), digits.data() + digits.size(), in.bit);
                if (code != std::errc() || end != digits.data() + digits.size() || in.bit < 1 ||
                    in.bit > 4096)
                    return problem(line, in_quotes(value), "bit1 to bit4096");
            } else {
                return problem(line, in_quotes(value), "0, 1 or bitN after =");
            }
        }
        if (words.size() < 2) return problem(line, in_quotes(text), "input and at least one net");
        for (std::size_t i = 1; i < words.size(); ++i) {
            const auto n = net(words[i], line);
            if (!n) continue;
            in.net = *n;
            auto& item = out_.nets[static_cast<std::size_t>(in.net)];
            if (item.held)
                problem(line, "the level " + item.name + " as an input", "a net's name");
            else if (item.input)
                problem(line, in_quotes(words[i]) + " a second time", "each input once");
            else {
                item.input = static_cast<int>(out_.inputs.size());
                out_.inputs.push_back(in);
            }
        }
    }
    void read_part(long line, std::string_view head, std::string_view pins) {
        const auto words = words_of(head);
        if (words.size() != 3)
            return problem(line, in_quotes(head), "REF PART FAMILY before the colon, such as U1 74x00 hct");
        if (out_.parts.size() >= most_parts)
            return problem(line, "too many parts", fmt::format("at most {}", most_parts));
        for (const auto& p : out_.parts)
            if (p.ref == words[0])
                return problem(line, in_quotes(words[0]) + " a second time", "each part's name once");
        NetworkPart part;
        part.ref = std::string(words[0]);
        part.line = line;
        part.family = std::string(words[2]);
        part.logic = library_.find(words[1]);
        if (part.logic == nullptr) {
            for (const auto w : words_of(pins))
                if (const auto equals = w.find('='); equals != std::string_view::npos)
                    excuse(w.substr(equals + 1), line);
            return problem(line, in_quotes(words[1]) + ", a part whose logic is not known",
                           "one of data/parts with a \"logic\" member, such as 74x00");
        }
        part.delays = part.logic->find_delays(part.family);
        if (part.delays == nullptr) {
            std::string known;
            for (const auto& d : part.logic->delays) known += (known.empty() ? "" : ", ") + d.family;
            problem(line, fmt::format("{} in family {}", part.logic->id, in_quotes(part.family)),
                    known.empty() ? "a part with delays in its data" : "one of " + known);
        }
        part.inputs.assign(part.logic->inputs.size(), std::nullopt);
        part.outputs.assign(part.logic->outputs.size(), std::nullopt);
        out_.parts.push_back(std::move(part));
        part_ = static_cast<int>(out_.parts.size()) - 1;
        read_pins(line, words_of(pins));
    }
    void read_pins(long line, const std::vector<std::string_view>& words) {
        for (const auto w : words) {
            const auto equals = w.find('=');
            if (equals == std::string_view::npos || equals == 0 || equals + 1 == w.size()) {
                problem(line, in_quotes(w), "PIN=NET");
                continue;
            }
            join(line, w.substr(0, equals), w.substr(equals + 1));
        }
    }
    void join(long line, std::string_view pin, std::string_view name) {
        auto& part = out_.parts[static_cast<std::size_t>(*part_)];
        const auto& inputs = part.logic->inputs;
        const auto in = std::find(inputs.begin(), inputs.end(), pin);
        const auto out = part.logic->output_index(pin);
        if (in == inputs.end() && !out) {
            excuse(name, line);
            return problem(line, fmt::format("pin {} of {}", in_quotes(pin), part.logic->id),
                           "one of " + all_pins(*part.logic));
        }
        const auto n = net(name, line);
        if (!n) return;
        // A pin may be both: that of a transceiver.
        PinNet* slots[] = {
            in == inputs.end() ? nullptr : &part.inputs[static_cast<std::size_t>(in - inputs.begin())],
            out ? &part.outputs[static_cast<std::size_t>(*out)] : nullptr};
        for (auto* slot : slots) {
            if (slot == nullptr) continue;
            if (slot->has_value())
                return problem(line, fmt::format("pin {} of {} a second time", in_quotes(pin), part.ref),
                               "each pin once");
            *slot = n;
        }
        if (out) out_.nets[static_cast<std::size_t>(*n)].drivers.emplace_back(*part_, *out);
    }
    static std::string all_pins(const PartLogic& logic) {
        std::string s;
        for (const auto& i : logic.inputs) s += (s.empty() ? "" : ", ") + i;
        for (const auto& o : logic.outputs) s += ", " + o.pin;
        return s;
    }
    const LogicLibrary& library_;
    Network out_;
    std::unordered_map<std::string, int> index_;
    std::optional<int> part_;  ///< the one whose pins are read
};

/// May this driver let go of its net?
bool lets_go(const Network& n, std::pair<int, int> driver) {
    return !n.parts[static_cast<std::size_t>(driver.first)]
                .logic->outputs[static_cast<std::size_t>(driver.second)]
                .enable.steps()
                .empty();
}

void check_nets(Network& n) {
    for (auto& net : n.nets) {
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

Network read_network(std::string_view text, const LogicLibrary& library) {
    auto n = NetworkReader(library).read(text);
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
