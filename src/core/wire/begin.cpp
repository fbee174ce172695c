// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wire/begin.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/pin_fields.hpp"
#include "core/wire/fixes.hpp"

namespace grayrelic {
namespace {

/// A name as a net: letters, digits and _ / . [ ].
std::string net_name(std::string_view text) {
    std::string out;
    for (const char c : text) {
        const bool fine = (c >= '0' && c <= '9') || (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') ||
                          c == '_' || c == '/' || c == '.';
        if (fine)
            out += c;
        else if (!out.empty() && out.back() != '_')
            out += '_';
    }
    while (!out.empty() && out.back() == '_') out.pop_back();
    if (out == "0" || out == "1") out = "N" + out;
    return out;
}

std::string rail_name(double volts) {
    const auto text = fmt::format("{:.3g}", volts < 0 ? -volts : volts);
    std::string out = volts < 0 ? "VN" : "V";
    for (const char c : text) out += c == '.' ? '_' : c;
    return out;
}

class Beginner {
  public:
    explicit Beginner(const Dossier& d) : d_(d) {}
    std::string text(const LogicLibrary& logic) {
        for (const auto& port : *d_.ports)
            if (!leads_to_relic(port) || port.side == Side::modern) add_port(port);
        if (lines_.empty()) return {};
        std::string out = "# the ports; every option's circuit stands on these nets\n";
        for (const auto& l : lines_) out += l + "\n";
        out += power(logic);
        return out;
    }

  private:
    /// A relic's port that a cable joins to a modern one stands on the bridge there.
    bool leads_to_relic(const Port& port) const {
        return std::any_of(d_.cables->begin(), d_.cables->end(), [&](const Cable& c) {
            if (c.a.port != port.id && c.b.port != port.id) return false;
            const auto* other = d_.find_port(c.a.port == port.id ? c.b.port : c.a.port);
            return other != nullptr && other->side != port.side;
        });
    }
    void add_port(const Port& port) {
        std::string line = "port " + port.id + ":";
        bool any = false;
        for (const auto& pin : port.pins) {
            const auto net = net_of(port, pin);
            if (net.empty()) continue;
            any = true;
            line += fmt::format(" {}={}", pin.number, net);
        }
        if (any) lines_.push_back(line);
    }
    std::string net_of(const Port& port, const Pin& pin) {
        switch (role_of(pin)) {
            case PinRole::ground: grounded_ = true; return "GND";
            case PinRole::unused: return {};
            case PinRole::rail: {
                const auto volts = rail_volts(pin);
                if (!volts)
                    return unique(
                        net_name(pin.name.value.empty() ? port.id + "_" + pin.number : pin.name.value));
                const double nominal = *volts > 4.4 && *volts < 5.6 ? 5.0 : *volts;
                rails_.emplace_back(rail_name(nominal), nominal);
                return rails_.back().first;
            }
            default: break;
        }
        return unique(net_name(pin.name.value.empty() ? port.id + "_" + pin.number : pin.name.value));
    }
    std::string unique(const std::string& name) {
        auto out = name.empty() ? std::string("N") : name;
        for (int i = 2; !taken_.insert(out).second; ++i) out = fmt::format("{}_{}", name, i);
        return out;
    }
    /// The chosen option's parts on the only supply that suits their families.
    std::string power(const LogicLibrary& logic) const {
        const auto bridge = bridge_text(*d_.wire, *d_.timing);
        if (!grounded_ || rails_.empty() || bridge.text.empty()) return {};
        std::string refs;
        for (const auto& p : read_circuit(bridge.text, logic).all)
            if (p.logic) refs += " " + p.ref;
        if (refs.empty()) return {};
        return fmt::format("power {} GND:{}\n", rails_.front().first, refs);
    }
    const Dossier& d_;
    std::vector<std::string> lines_;
    std::vector<std::pair<std::string, double>> rails_;
    std::set<std::string> taken_;
    bool grounded_ = false;
};

std::pair<std::string, std::string> place_words(std::string_view text) {
    const auto dot = text.find('.');
    if (dot == std::string_view::npos) return {std::string(text), {}};
    return {std::string(text.substr(0, dot)), std::string(text.substr(dot + 1))};
}

/// An edit of the first of the bridge's texts that takes it.
std::optional<Dossier> with_text(const Dossier& d, const BridgeText& bridge,
                                 const std::function<bool(std::string&)>& change) {
    for (const auto& id : {bridge.common_id, bridge.option_id}) {
        const auto* n = d.timing->find_network(id);
        if (id.empty() || n == nullptr) continue;
        auto changed = *n;
        if (change(changed.text)) return put(d, std::move(changed));
    }
    return std::nullopt;
}

}  // namespace

std::string_view ref_letter(const PartType& t) {
    static const std::map<std::string, std::string_view, std::less<>> letters{
        {"resistor", "R"}, {"capacitor", "C"},  {"diode", "D"},    {"led", "D"},        {"zener", "D"},
        {"clamp", "D"},    {"transistor", "Q"}, {"mosfet-n", "Q"}, {"mosfet-p", "Q"},   {"fuse", "F"},
        {"ferrite", "L"},  {"inductor", "L"},   {"crystal", "X"},  {"oscillator", "X"}, {"connector", "J"},
        {"module", "M"},   {"jumper", "W"}};
    const auto at = letters.find(t.function);
    return at == letters.end() ? "U" : at->second;
}

std::string begin_circuit(const Dossier& d, const LogicLibrary& logic) {
    return Beginner(d).text(logic);
}

Dossier with_circuit_begun(const Dossier& d, const LogicLibrary& logic) {
    if (d.timing->find_network(d.wire->network) != nullptr) return d;
    LogicNetwork common;
    common.text = begin_circuit(d, logic);
    if (common.text.empty()) return d;
    common.id = free_id<LogicNetwork>(d, "bridge");
    common.name = "Bridge";
    const auto id = common.id;
    return edit(put(d, std::move(common)), &Dossier::wire, [&](Wire& w) { w.network = id; });
}

namespace {

/// "swap U2.P7 U2.P6", "remove R7"
Result<Dossier> with_typed_change(const Dossier& d, const Circuit& c, const std::vector<std::string>& words,
                                  std::string_view typed) {
    const bool swap = words[0] == "swap";
    if (words.size() != (swap ? 3U : 2U))
        return fail_usage(in_quotes(typed), swap ? "swap and two pins, such as swap U2.P7 U2.P6"
                                                 : "remove and a part, such as remove R7");
    const auto a = place_words(words[1]);
    const auto next = with_text(d, c.text, [&](std::string& text) {
        if (!swap) return remove_part(text, words[1]);
        const auto b = place_words(words[2]);
        return swap_pins(text, {a.first, a.second}, {b.first, b.second});
    });
    if (!next)
        return fail_usage(in_quotes(typed),
                          swap ? "two joined pins that stand in one text" : "a part of the circuit");
    return *next;
}

}  // namespace

Result<Dossier> with_typed_part(const Dossier& d, const Circuit& c, const LogicLibrary& logic,
                                std::string_view typed) {
    std::vector<std::string> words;
    for (const auto w : split(trim(typed), ' '))
        if (!w.empty()) words.emplace_back(w);
    constexpr auto expected = "a part and its nets, such as resistor 4k7 REPLY V5 or 74x125 hct 1A=X 1Y=Y";
    if (words.empty()) return fail_usage("nothing", expected);
    if (words[0] == "swap" || words[0] == "remove") return with_typed_change(d, c, words, typed);
    const auto* type = logic.find_type(words[0]);
    if (type == nullptr) return fail_usage(in_quotes(words[0]), expected);
    std::string head = fmt::format("{} {}", free_ref(c, ref_letter(*type)), type->id);
    std::vector<std::string> joined, nets;
    for (std::size_t i = 1; i < words.size(); ++i) {
        const auto& w = words[i];
        if (w.find('=') != std::string::npos)
            joined.push_back(w);
        else if (type->pins.size() == 2 && words.size() - i <= 2)
            nets.push_back(w);
        else
            head += " " + w;
    }
    if (type->pins.size() == 2 && nets.size() == 2) {
        // A diode is said from anode to cathode.
        const bool anode = type->find_name("A") != nullptr && type->find_name("K") != nullptr;
        joined.push_back(fmt::format("{}={}", anode ? "A" : type->pins[0].name, nets[0]));
        joined.push_back(fmt::format("{}={}", anode ? "K" : type->pins[1].name, nets[1]));
    } else if (!nets.empty()) {
        return fail_usage(in_quotes(typed), expected);
    }
    WireFix fix;
    fix.lines.push_back(fmt::format("{}:{}{}", head, joined.empty() ? "" : " ", fmt::join(joined, " ")));
    const auto alone = read_circuit(fix.lines.front() + "\n", logic);
    for (const auto& p : alone.problems)
        if (p.fatal) return fail_usage(p.says, p.expected);
    if (!alone.all.empty())
        if (const auto v = part_value(alone.all.front()); !v) return fail(v.error());
    return apply_fix(d, fix);
}

Result<Dossier> with_typed_way(const Dossier& d, const Circuit& c, const LogicLibrary& logic,
                               const std::string& net, std::string_view typed) {
    constexpr auto expected = "a part and where it leads, such as resistor 10k to M1.P4, or to M1.P4";
    const auto text = std::string(trim(typed));
    const auto at = text.starts_with("to ") ? 0 : text.find(" to ");
    if (at == std::string::npos) return fail_usage(in_quotes(typed), expected);
    const std::string part(trim(text.substr(0, at))), far(trim(text.substr(at + (at == 0 ? 3 : 4))));
    if (far.empty() || far.find(' ') != std::string::npos) return fail_usage(in_quotes(typed), expected);
    const auto place = place_words(far);
    const auto &ref = place.first, &pin = place.second;
    const auto listed = std::find_if(c.network.all.begin(), c.network.all.end(),
                                     [&](const ListedPart& p) { return p.ref == ref; });
    if (pin.empty() || listed == c.network.all.end()) {
        if (part.empty())
            return fail_usage(in_quotes(typed),
                              "a pin of a part of the circuit, such as M1.P4, or a part between");
        return with_typed_part(d, c, logic, fmt::format("{} {} {}", part, net, far));
    }
    if (listed->type->find_name(pin) == nullptr && listed->type->find_pin(pin) == nullptr)
        return fail_usage(in_quotes(far), "a pin of " + listed->type->id);
    // A pin that is open gets a net: this one, or a new one behind the part between.
    auto target =
        listed->net_of(pin) ? c.nets[static_cast<std::size_t>(*listed->net_of(pin))].name : std::string();
    if (part.empty() || target.empty()) {
        if (part.empty())
            target = net;
        else
            for (int i = 2; target.empty() || c.network.find_net(target); ++i)
                target = fmt::format("{}.{}", net, i);
        auto joined = with_text(d, c.text, [&](std::string& t) { return join_pin(t, {ref, pin}, target); });
        if (!joined) return fail_usage(in_quotes(far), "a part that stands in one of the texts");
        if (part.empty()) return *joined;
        return with_typed_part(*joined, c, logic, fmt::format("{} {} {}", part, net, target));
    }
    return with_typed_part(d, c, logic, fmt::format("{} {} {}", part, net, target));
}

std::vector<Net> netlist_of(const Circuit& c) {
    std::vector<Net> out;
    for (const auto& n : c.nets) {
        Net net;
        net.name = n.name;
        for (const auto& [part, pin] : n.pins) {
            const auto& p = c.network.all[part];
            const auto* known =
                p.type->find_name(pin) != nullptr ? p.type->find_name(pin) : p.type->find_pin(pin);
            net.points.push_back(fmt::format("{}.{}", p.ref, known == nullptr ? pin : known->number));
        }
        for (const auto i : n.contacts)
            net.points.push_back(fmt::format("{}.{}", c.contacts[i].port, c.contacts[i].contact));
        if (!net.points.empty()) out.push_back(std::move(net));
    }
    return out;
}

namespace {

/// The net on which a part's supply pin lies; nothing where it is not plain.
std::optional<std::size_t> supply_net_of(const Circuit& c, std::size_t part) {
    const auto& type = *c.network.all[part].type;
    for (std::size_t n = 0; n < c.nets.size(); ++n)
        for (const auto& [p, pin] : c.nets[n].pins) {
            if (p != part) continue;
            const auto* known = type.find_name(pin) != nullptr ? type.find_name(pin) : type.find_pin(pin);
            if (known != nullptr && known->kind == PinKind::supply) return n;
        }
    return std::nullopt;
}

}  // namespace

std::vector<Net> board_netlist(const Circuit& c) {
    std::optional<std::size_t> ground;
    for (std::size_t n = 0; n < c.nets.size(); ++n)
        if (c.nets[n].supply && c.nets[n].supply->ground && c.nets[n].name != "0") {
            if (ground) return netlist_of(c);  // several grounds: nobody said which
            ground = n;
        }
    auto moved = c;
    for (auto& net : moved.nets) {
        if (net.name != "0" && net.name != "1") continue;
        std::vector<std::pair<std::size_t, std::string>> stay;
        for (const auto& pin : net.pins) {
            const auto to = net.name == "0" ? ground : supply_net_of(c, pin.first);
            if (to)
                moved.nets[*to].pins.push_back(pin);
            else
                stay.push_back(pin);
        }
        net.pins = std::move(stay);
    }
    return netlist_of(moved);
}

}  // namespace grayrelic
