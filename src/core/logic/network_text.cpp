// SPDX-License-Identifier: GPL-3.0-or-later
// The text of a network, line by line.
#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <unordered_map>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/logic/network_parts.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_parts = 1000, most_nets = 20'000, most_lines = 20'000;

/// "±5%", "5%", "+-5%"
std::optional<double> parse_share(std::string_view text) {
    for (const std::string_view sign : {"±", "+-"})
        if (text.starts_with(sign)) text.remove_prefix(sign.size());
    if (!text.ends_with('%')) return std::nullopt;
    const auto v = parse_number(text.substr(0, text.size() - 1), Unit::none);
    if (!v || !(*v >= 0 && *v < 100)) return std::nullopt;
    return *v / 100;
}

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
        for (const auto& p : powers_) join_power(p);
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
            if (port_) return read_contacts(line, words_of(text));
            if (!listed_) return problem(line, in_quotes(text), "a part's line above the one that goes on");
            return read_pins(line, words_of(text));
        }
        listed_.reset();
        port_.reset();
        const auto colon = text.find(':');
        auto words = words_of(text);
        if (colon != std::string_view::npos) {
            const auto head = text.substr(0, colon), tail = text.substr(colon + 1);
            const auto first = words_of(head);
            if (!first.empty() && first.front() == "port") return read_port(line, head, tail);
            if (!first.empty() && first.front() == "power") return read_power(line, head, tail);
            return read_part(line, head, tail);
        }
        if (!words.empty() && words.front() == "rail") return read_rail(line, text, words);
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
    void read_port(long line, std::string_view head, std::string_view contacts) {
        const auto words = words_of(head);
        if (words.size() != 2) return problem(line, in_quotes(head), "port and its id before the colon");
        out_.ports.push_back({std::string(words[1]), {}, line});
        port_ = out_.ports.size() - 1;
        read_contacts(line, words_of(contacts));
    }
    void read_contacts(long line, const std::vector<std::string_view>& words) {
        auto& port = out_.ports[*port_];
        for (const auto w : words) {
            // The net is behind the last sign: a contact may be called "A=B" by nobody, but a net never has
            // one.
            const auto equals = w.rfind('=');
            if (equals == std::string_view::npos || equals == 0 || equals + 1 == w.size()) {
                problem(line, in_quotes(w), "CONTACT=NET");
                continue;
            }
            const std::string contact(w.substr(0, equals));
            if (std::any_of(port.contacts.begin(), port.contacts.end(),
                            [&](const auto& c) { return c.first == contact; })) {
                problem(line, fmt::format("contact {} of {} a second time", in_quotes(contact), port.port),
                        "each contact once");
                continue;
            }
            if (const auto n = net(w.substr(equals + 1), line)) port.contacts.emplace_back(contact, *n);
        }
    }
    void read_rail(long line, std::string_view text, const std::vector<std::string_view>& words) {
        constexpr double most_rail_v = 1000;
        const auto expected = "rail NET VOLTS and perhaps a tolerance, such as rail V5 5V ±5%";
        if (words.size() < 3 || words.size() > 4) return problem(line, in_quotes(text), expected);
        const auto volts = parse_number(words[2], Unit::volt);
        if (!volts || std::abs(*volts) > most_rail_v) return problem(line, in_quotes(words[2]), expected);
        double tolerance = 0;
        if (words.size() == 4) {
            const auto share = parse_share(words[3]);
            if (!share) return problem(line, in_quotes(words[3]), expected);
            tolerance = *share;
        }
        const auto n = net(words[1], line);
        if (!n) return;
        for (const auto& r : out_.rails)
            if (r.net == *n)
                return problem(line, in_quotes(words[1]) + " as a rail a second time", "each rail once");
        out_.rails.push_back({*n, *volts, tolerance, line});
    }
    struct Power {
        int supply = 0, ground = 0;
        std::vector<std::string> refs;
        long line = 0;
    };
    void read_power(long line, std::string_view head, std::string_view tail) {
        const auto words = words_of(head), refs = words_of(tail);
        if (words.size() != 3 || refs.empty())
            return problem(line, in_quotes(head),
                           "power SUPPLY GROUND: and the parts, such as power V5 GND: U1 U2");
        const auto supply = net(words[1], line), ground = net(words[2], line);
        if (!supply || !ground) return;
        powers_.push_back({*supply, *ground, {refs.begin(), refs.end()}, line});
    }
    /// Supply and ground pins that their part's own lines have not joined.
    void join_power(const Power& p) {
        for (const auto& ref : p.refs) {
            const auto at = std::find_if(out_.all.begin(), out_.all.end(),
                                         [&](const ListedPart& part) { return part.ref == ref; });
            if (at == out_.all.end()) {
                problem(p.line, in_quotes(ref) + " in power", "the name of a part of this circuit");
                continue;
            }
            for (const auto& pin : at->type->pins)
                if ((pin.kind == PinKind::supply || pin.kind == PinKind::ground) && !at->net_of(pin.name) &&
                    !at->net_of(pin.number))
                    at->pins.emplace_back(pin.name, pin.kind == PinKind::supply ? p.supply : p.ground);
        }
    }
    void read_part(long line, std::string_view head, std::string_view pins) {
        auto words = words_of(head);
        ListedPart part;
        part.line = line;
        std::erase_if(words, [&](std::string_view w) {
            if (!w.starts_with("package=")) return false;
            part.package = std::string(w.substr(8));
            return true;
        });
        if (words.size() < 2) {
            return problem(line, in_quotes(head), "REF PART FAMILY, or REF PART VALUE, before the colon");
        }
        if (out_.all.size() >= most_parts)
            return problem(line, "too many parts", fmt::format("at most {}", most_parts));
        part.ref = std::string(words[0]);
        if (std::any_of(out_.all.begin(), out_.all.end(),
                        [&](const ListedPart& p) { return p.ref == part.ref; }))
            return problem(line, in_quotes(words[0]) + " a second time", "each part's name once");
        part.type = library_.find_type(words[1]);
        const auto* logic = library_.find(words[1]);
        if (part.type == nullptr) {
            for (const auto w : words_of(pins))
                if (const auto equals = w.rfind('='); equals != std::string_view::npos)
                    excuse(w.substr(equals + 1), line);
            return problem(line, in_quotes(words[1]) + ", a part that is not known",
                           "one of data/parts, such as 74x00 or resistor");
        }
        part.words.assign(words.begin() + 2, words.end());
        if (logic != nullptr) {
            if (part.words.empty() && logic->delays.size() == 1)
                part.words.push_back(logic->delays.front().family);
            if (part.words.size() != 1)
                return problem(line, in_quotes(head), "REF PART FAMILY before the colon");
            part.logic = static_cast<int>(out_.parts.size());
            out_.parts.push_back(logic_part(part, *logic));
        }
        out_.all.push_back(std::move(part));
        listed_ = out_.all.size() - 1;
        read_pins(line, words_of(pins));
    }
    NetworkPart logic_part(const ListedPart& listed, const PartLogic& logic) {
        NetworkPart part;
        part.ref = listed.ref;
        part.logic = &logic;
        part.family = listed.words.front();
        part.line = listed.line;
        part.delays = logic.find_delays(part.family);
        if (part.delays == nullptr) {
            std::string known;
            for (const auto& d : logic.delays) known += (known.empty() ? "" : ", ") + d.family;
            problem(listed.line, fmt::format("{} in family {}", logic.id, in_quotes(part.family)),
                    known.empty() ? "a part with delays in its data" : "one of " + known);
        }
        return part;
    }
    void read_pins(long line, const std::vector<std::string_view>& words) {
        for (const auto w : words) {
            const auto equals = w.rfind('=');
            if (equals == std::string_view::npos || equals == 0 || equals + 1 == w.size()) {
                problem(line, in_quotes(w), "PIN=NET");
                continue;
            }
            join(line, w.substr(0, equals), w.substr(equals + 1));
        }
    }
    void join(long line, std::string_view pin, std::string_view name) {
        auto& part = out_.all[*listed_];
        const auto* known = part.type->find_name(pin);
        if (known == nullptr) known = part.type->find_pin(pin);
        if (known == nullptr) {
            excuse(name, line);
            return problem(line, fmt::format("pin {} of {}", in_quotes(pin), part.type->id),
                           "one of " + all_pins(*part.type));
        }
        const auto n = net(name, line);
        if (!n) return;
        if (part.net_of(known->name) || part.net_of(known->number))
            return problem(line, fmt::format("pin {} of {} a second time", in_quotes(pin), part.ref),
                           "each pin once");
        part.pins.emplace_back(std::string(pin), *n);
    }
    static std::string all_pins(const PartType& type) {
        std::string s;
        for (const auto& p : type.pins) s += (s.empty() ? "" : ", ") + p.name;
        return s;
    }
    const LogicLibrary& library_;
    Network out_;
    std::unordered_map<std::string, int> index_;
    std::optional<std::size_t> listed_, port_;  ///< the one whose pins are read
    std::vector<Power> powers_;
};

}  // namespace

Network read_text(std::string_view text, const LogicLibrary& library) {
    return NetworkReader(library).read(text);
}

std::optional<int> ListedPart::net_of(std::string_view pin) const {
    for (const auto& [name, net] : pins)
        if (name == pin) return net;
    return std::nullopt;
}

std::string ListedPart::called() const {
    std::string out = type->id;
    if (!words.empty()) out += " " + words.front();
    return out;
}

}  // namespace grayrelic
