// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/logic/verilog.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <set>

namespace grayrelic {
namespace {

constexpr const char* reserved[] = {"input",  "output", "wire", "reg",     "module", "endmodule", "assign",
                                    "always", "begin",  "end",  "if",      "else",   "case",      "and",
                                    "or",     "not",    "buf",  "initial", "inout",  "pullup",    "pulldown"};

class Writer {
  public:
    Writer(const Network& n, Corner corner) : n_(n), corner_(static_cast<std::size_t>(corner)) {}

    std::string write(std::string_view module, std::string_view note) {
        out_ = "`timescale 1ps/1ps\n";
        if (!note.empty()) out_ += fmt::format("// {}\n", note);
        std::string ports;
        for (const auto& in : n_.inputs)
            ports += fmt::format("{}  input wire {}", ports.empty() ? "" : ",\n",
                                 verilog_name(n_.net_name(in.net)));
        for (const int o : n_.outputs)
            if (!n_.nets[static_cast<std::size_t>(o)].input)
                ports += fmt::format("{}  output wire {}", ports.empty() ? "" : ",\n",
                                     verilog_name(n_.net_name(o)));
        out_ += fmt::format("module {} (\n{}\n);\n", verilog_name(module), ports);
        for (const auto& net : n_.nets) {
            if (net.held || net.input) continue;
            if (!net.output) out_ += fmt::format("  wire {};\n", verilog_name(net.name));
            if (net.pull)
                out_ +=
                    fmt::format("  {} ({});\n", *net.pull ? "pullup" : "pulldown", verilog_name(net.name));
        }
        for (const auto& p : n_.parts) write_part(p);
        out_ += "endmodule\n";
        return std::move(out_);
    }

  private:
    std::string bit(const NetworkPart& p, const std::string& name) const {
        return verilog_name(p.ref + "_" + name);
    }
    std::string spell(const NetworkPart& p, const std::string& name) const {
        if (name == "0") return "1'b0";
        if (name == "1") return "1'b1";
        const auto in = std::find(p.logic->inputs.begin(), p.logic->inputs.end(), name);
        if (in == p.logic->inputs.end()) return bit(p, name);
        return net(p.inputs[static_cast<std::size_t>(in - p.logic->inputs.begin())]);
    }
    std::string net(PinNet index) const {
        if (!index) return "1'bx";
        const auto& n = n_.nets[static_cast<std::size_t>(*index)];
        return n.held ? (*n.held ? "1'b1" : "1'b0") : verilog_name(n.name);
    }
    std::string text(const NetworkPart& p, const Expression& e) const {
        return guarded(e, e.text([&](const std::string& name) { return spell(p, name); }, "~"));
    }
    /// A name or a choice would hand an open input on as open; a part reads it as unknown.
    static std::string guarded(const Expression& e, const std::string& text) {
        const auto last = e.steps().back().op;
        return last == Expression::Op::name || last == Expression::Op::choose ? "(" + text + " ^ 1'b0)"
                                                                              : text;
    }
    /// Bits change together, and with the pins that change them: the result is computed where they are
    /// stored.
    static bool beside_bits(const PartOutput& output) {
        std::set<std::string> names;
        for (const auto* e : {&output.value, &output.enable})
            names.insert(e->names().begin(), e->names().end());
        return output.stored && names.size() > 1;
    }
    template <class Text>
    static std::string whole(const PartOutput& output, Text text) {
        return output.enable.steps().empty()
                   ? text(output.value)
                   : fmt::format("{} ? {} : 1'bz", text(output.enable), text(output.value));
    }
    /// All names of an output's expressions, when a net is read more than once; else none.
    std::vector<std::string> read_twice(const NetworkPart& p, const PartOutput& output) const {
        std::vector<std::string> names;
        std::set<std::string> nets;
        bool twice = false;
        for (const auto* e : {&output.value, &output.enable})
            for (const auto& step : e->steps()) {
                if (step.op != Expression::Op::name) continue;
                const auto& name = e->names()[static_cast<std::size_t>(step.name)];
                twice = !nets.insert(spell(p, name)).second || twice;
                if (std::find(names.begin(), names.end(), name) == names.end()) names.push_back(name);
            }
        if (!twice) names.clear();
        return names;
    }

    void write_part(const NetworkPart& p) {
        out_ += fmt::format("  // {}: {}, {} ({}), {} V\n", p.ref, p.logic->id, p.logic->name, p.family,
                            p.delays->supply_v);
        if (p.logic->stores()) write_storage(p);
        for (std::size_t o = 0; o < p.outputs.size(); ++o) {
            if (!p.outputs[o]) continue;
            const auto& output = p.logic->outputs[o];
            const auto& d = output.stored ? p.delays->storage[corner_] : p.delays->gates[corner_];
            const auto delays = fmt::format("#({},{},{})", d.rise.count(), d.fall.count(), d.off.count());
            if (beside_bits(output)) {
                out_ += fmt::format("  assign {} {} = {};\n", delays, net(p.outputs[o]),
                                    bit(p, output.pin + "_value"));
            } else if (const auto names = read_twice(p, output); names.empty()) {
                out_ += fmt::format("  assign {} {} = {};\n", delays, net(p.outputs[o]),
                                    whole(output, [&](const Expression& e) { return text(p, e); }));
            } else {
                // As a function, so that a level which is read twice does not let the result twitch on the
                // way.
                const auto function = verilog_name(fmt::format("{}_{}_of", p.ref, output.pin));
                std::string arguments, declared;
                for (const auto& name : names) {
                    arguments += (arguments.empty() ? "" : ", ") + spell(p, name);
                    declared += fmt::format("    input {};\n", verilog_name("at_" + name));
                }
                out_ += fmt::format("  function {};\n{}    {} = {};\n  endfunction\n", function, declared,
                                    function, whole(output, [&](const Expression& e) {
                                        return guarded(e, e.text(
                                                              [](const std::string& name) {
                                                                  return name == "0" ? "1'b0"
                                                                         : name == "1"
                                                                             ? "1'b1"
                                                                             : verilog_name("at_" + name);
                                                              },
                                                              "~"));
                                    }));
                out_ +=
                    fmt::format("  assign {} {} = {}({});\n", delays, net(p.outputs[o]), function, arguments);
            }
        }
    }

    void write_storage(const NetworkPart& p) {
        std::string sense;
        std::set<std::string> watched;
        const auto watch = [&](const std::string& name) {
            if (watched.insert(name).second) sense += (sense.empty() ? "" : " or ") + name;
        };
        for (std::size_t i = 0; i < p.inputs.size(); ++i)
            if (p.inputs[i] && !n_.nets[static_cast<std::size_t>(*p.inputs[i])].held) watch(net(p.inputs[i]));
        std::set<std::string> edges;
        for (const auto& r : p.logic->rules)
            if (r.kind != PartRule::Kind::when) edges.insert(r.pin);
        for (const auto& b : p.logic->bits)
            out_ += fmt::format("  reg {0}, {1};\n", bit(p, b), bit(p, b + "_next"));
        for (const auto& pin : edges) out_ += fmt::format("  reg {};\n", bit(p, pin + "_was"));
        std::string results;
        for (std::size_t o = 0; o < p.outputs.size(); ++o) {
            const auto& output = p.logic->outputs[o];
            if (!p.outputs[o] || !beside_bits(output)) continue;
            out_ += fmt::format("  reg {};\n", bit(p, output.pin + "_value"));
            results += fmt::format("    {} = {};\n", bit(p, output.pin + "_value"),
                                   whole(output, [&](const Expression& e) { return text(p, e); }));
        }
        std::string body;
        for (const auto& b : p.logic->bits)
            body += fmt::format("    {} = {};\n", bit(p, b + "_next"), bit(p, b));
        // Lowest precedence first, so that what stands above overwrites it.
        for (auto r = p.logic->rules.rbegin(); r != p.logic->rules.rend(); ++r) body += rule(p, *r);
        for (const auto& b : p.logic->bits)
            body += fmt::format("    {} = {};\n", bit(p, b), bit(p, b + "_next"));
        for (const auto& pin : edges)
            body += fmt::format("    {} = {};\n", bit(p, pin + "_was"), spell(p, pin));
        body += results;
        if (p.delays->setup > Time{})
            out_ += fmt::format("  // set-up {} ps, hold {} ps, least pulse {} ps\n", p.delays->setup.count(),
                                p.delays->hold.count(), p.delays->width.count());
        out_ += fmt::format("  always @({}) begin\n{}  end\n", sense.empty() ? "*" : sense, body);
        // What holds from the start, once the inputs stand.
        std::string first;
        for (auto r = p.logic->rules.rbegin(); r != p.logic->rules.rend(); ++r)
            if (r->kind == PartRule::Kind::when) first += rule(p, *r);
        std::string begin, finish;
        for (const auto& b : p.logic->bits) {
            begin += fmt::format("    {} = 1'bx;\n", bit(p, b + "_next"));
            finish += fmt::format("    {} = {};\n", bit(p, b), bit(p, b + "_next"));
        }
        for (const auto& pin : edges)
            finish += fmt::format("    {} = {};\n", bit(p, pin + "_was"), spell(p, pin));
        finish += results;
        out_ += fmt::format("  initial begin\n    #0;\n{}{}{}  end\n", begin, first, finish);
    }

    /// Right-hand sides read the bits as they were: only the _next ones change.
    std::string rule(const NetworkPart& p, const PartRule& r) {
        std::string sure, unsure, certain, possible;
        for (const auto& [b, value] : r.set) {
            const auto& name = p.logic->bits[static_cast<std::size_t>(b)];
            const auto v = text(p, value);
            certain += fmt::format("      {} = {};\n", bit(p, name + "_next"), v);
            possible += fmt::format("      {} = ({}) === {} ? {} : 1'bx;\n", bit(p, name + "_next"), v,
                                    bit(p, name), bit(p, name));
        }
        if (r.kind == PartRule::Kind::when) {
            const auto c = text(p, r.condition);
            sure = fmt::format("({}) === 1'b1", c);
            unsure = fmt::format("({}) !== 1'b0", c);
        } else {
            const auto was = bit(p, r.pin + "_was"), is = spell(p, r.pin);
            const char *off = r.kind == PartRule::Kind::rise ? "1'b0" : "1'b1",
                       *on = r.kind == PartRule::Kind::rise ? "1'b1" : "1'b0";
            sure = fmt::format("{} === {} && {} === {}", was, off, is, on);
            // x and z read alike; a change between them is none.
            unsure = fmt::format("{0} !== {2} && {1} !== {3} && !((^{0}) === 1'bx && (^{1}) === 1'bx)", was,
                                 is, on, off);
            // The same level twice is no edge either.
            unsure += fmt::format(" && {} !== {}", was, is);
        }
        return fmt::format("    if ({}) begin\n{}    end else if ({}) begin\n{}    end\n", sure, certain,
                           unsure, possible);
    }

    const Network& n_;
    std::size_t corner_;
    std::string out_;
};

}  // namespace

std::string verilog_name(std::string_view name) {
    const auto plain = [](char c, bool first) {
        return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_' ||
               (!first && c >= '0' && c <= '9');
    };
    bool ok = !name.empty();
    for (std::size_t i = 0; i < name.size(); ++i) ok = ok && plain(name[i], i == 0);
    for (const char* word : reserved) ok = ok && name != word;
    // An escaped identifier ends with a space (clause 3.7.1).
    return ok ? std::string(name) : "\\" + std::string(name) + " ";
}

std::string to_verilog(const Network& network, std::string_view module, Corner corner,
                       std::string_view note) {
    return Writer(network, corner).write(module, note);
}

}  // namespace grayrelic
