// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/hidden_board.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <tuple>

namespace grayrelic::standin {
namespace {

class Builder {
  public:
    Builder(std::uint64_t seed, const PartLibrary& library) : random_(seed), library_(library) {}

    HiddenBoard build() {
        make_connector();
        place_parts();
        wire_memories();
        wire_latches();
        wire_buffers();
        wire_logic();
        wire_passives();
        return finish();
    }

  private:
    int below(int n) { return static_cast<int>(random_.below(static_cast<std::uint64_t>(n))); }
    bool chance(double p) { return random_.uniform() < p; }

    void make_connector() {
        auto& j = board_.connector;
        j.id = "J1";
        j.name = "Card edge";
        j.connector = "edge-2x25";
        std::vector<std::string> names = {"GND",  "GND", "GND", "+5V",  "+5V",  "CLK",
                                          "/RES", "/RD", "/WR", "/SEL", "/IRQ", "RDY"};
        address_ = 11 + below(6);
        for (int i = 0; i < address_; ++i) names.push_back(fmt::format("A{}", i));
        for (int i = 0; i < 8; ++i) names.push_back(fmt::format("D{}", i));
        while (names.size() % 2 != 0 || chance(0.5)) names.push_back({});
        // Grounds and supplies stand at the ends, as they do; the rest in runs.
        for (std::size_t i = 0; i < names.size(); ++i) {
            Pin pin;
            pin.number = std::to_string(i + 1);
            pin.name.value = names[i];
            if (names[i].empty()) pin.function.value = "unused";
            j.pins.push_back(pin);
            const auto point = "J1." + pin.number;
            join(names[i].empty() ? "nc:" + point : names[i], point);
        }
        BoardPart part;
        part.ref = "J1";
        part.package = fmt::format("edge2-{}-2.54", names.size());
        board_.parts.push_back(part);
    }

    std::string add(const std::string& type) {
        const auto* t = library_.find(type);
        BoardPart part;
        const char letter = t->function == "resistor" ? 'R' : t->function == "capacitor" ? 'C' : 'U';
        part.ref = fmt::format("{}{}", letter, ++counts_[letter]);
        part.type = type;
        place(part, *t, letter);
        board_.parts.push_back(part);
        for (const auto& pin : t->pins) {
            const auto point = part.ref + "." + pin.number;
            if (pin.kind == PinKind::ground) join("GND", point);
            if (pin.kind == PinKind::supply) join("+5V", point);
            if (pin.kind == PinKind::unconnected) join("nc:" + point, point);
        }
        return part.ref;
    }

    /// All on a grid of 0.635 mm and clear of each other: integrated circuits in rows of five, each with its
    /// blocking capacitor above, small parts in rows below them.
    void place(BoardPart& part, const PartType& t, char letter) {
        const auto slot = [](int n) { return std::pair(11.43 + 25.4 * (n % 5), 15.24 + 45.72 * (n / 5)); };
        if (letter == 'U') {
            std::tie(part.x_mm, part.y_mm) = slot(counts_['U'] - 1);
            if (!chance(0.15)) return;
            part.turn_deg = 180.0;
            const auto pins = package_pins(t.package).value_or(std::vector<PackagePin>{});
            for (const auto& pin : pins)
                if (pin.number == std::to_string(t.pins.size() / 2 + 1)) {
                    *part.x_mm += pin.x_mm;
                    *part.y_mm += pin.y_mm;
                }
            return;
        }
        if (letter == 'C' && counts_['C'] <= counts_['U']) {
            std::tie(part.x_mm, part.y_mm) = slot(counts_['C'] - 1);
            *part.x_mm += 1.27;
            *part.y_mm -= 5.08;
            return;
        }
        const double below = 15.24 + 45.72 * ((counts_['U'] + 4) / 5) - 3.81;
        part.x_mm = 11.43 + 15.24 * (placed_small_ % 9);
        part.y_mm = below + 5.08 * (placed_small_ / 9);
        ++placed_small_;
    }

    void place_parts() {
        const int memories = 1 + below(4);
        for (int i = 0; i < memories; ++i) {
            const char* kinds[] = {"sram-8kx8", "sram-32kx8", "rom-8kx8", "rom-32kx8"};
            memories_.push_back(add(kinds[below(4)]));
        }
        for (int i = below(3); i > 0; --i) latches_.push_back(add(chance(0.5) ? "74x373" : "74x273"));
        for (int i = below(3); i > 0; --i) buffers_.push_back(add("74x245"));
        for (int i = 1 + below(4); i > 0; --i) {
            const char* kinds[] = {"74x138", "74x00", "74x32", "74x04", "74x74", "74x161", "74x139"};
            logic_.push_back(add(kinds[below(7)]));
        }
        for (int i = 0; i < counts_['U']; ++i) capacitors_.push_back(add("capacitor"));
        capacitors_.push_back(add("electrolytic"));
        for (int i = 2 + below(7); i > 0; --i) resistors_.push_back(add("resistor"));
    }

    [[nodiscard]] const PartType& type(const std::string& ref) const {
        for (const auto& p : board_.parts)
            if (p.ref == ref) return *library_.find(p.type);
        return library_.parts.front();
    }
    [[nodiscard]] std::string pin(const std::string& ref, std::string_view name) const {
        for (const auto& p : type(ref).pins)
            if (p.name == name) return ref + "." + p.number;
        return {};
    }
    void join(const std::string& net, const std::string& point) {
        if (point.empty() || taken_.count(point) > 0) return;
        taken_[point] = net;
        if (nets_.count(net) == 0) order_.push_back(net);
        nets_[net].push_back(point);
    }

    /// Bits of a bus as this designer runs them: straight, or crossed for an easier layout.
    std::vector<int> run(int bits, double crossed) {
        std::vector<int> out(static_cast<std::size_t>(bits));
        for (int i = 0; i < bits; ++i) out[static_cast<std::size_t>(i)] = i;
        if (chance(crossed))
            for (int i = 0; i < 2; ++i)
                std::swap(out[static_cast<std::size_t>(below(bits))],
                          out[static_cast<std::size_t>(below(bits))]);
        return out;
    }

    void wire_memories() {
        data_ = buffers_.empty() ? "D" : "BD";
        for (std::size_t m = 0; m < memories_.size(); ++m) {
            const auto& ref = memories_[m];
            const auto bits = run(8, 0.25);
            for (int i = 0; i < 8; ++i)
                join(fmt::format("{}{}", data_, bits[static_cast<std::size_t>(i)]),
                     pin(ref, fmt::format("D{}", i)));
            const bool paged = !latches_.empty();
            for (int i = 0; i < 15; ++i) {
                const auto point = pin(ref, fmt::format("A{}", i));
                if (point.empty()) continue;
                if (i < address_ && (i < 11 || !paged))
                    join(fmt::format("A{}", i), point);
                else if (paged)
                    join(fmt::format("PQ{}", i - 11), point);
                else
                    join("GND", point);
            }
            join("/RD", pin(ref, "/OE"));
            join("/WR", pin(ref, "/WE"));
            join(fmt::format("/CE{}", m), pin(ref, "/CE"));
            join("+5V", pin(ref, "CE2"));
            join("+5V", pin(ref, "VPP"));
            join("+5V", pin(ref, "/PGM"));
        }
    }

    void wire_latches() {
        for (std::size_t l = 0; l < latches_.size(); ++l) {
            const auto& ref = latches_[l];
            const auto bits = run(8, 0.3);
            for (int i = 0; i < 8; ++i) {
                join(fmt::format("{}{}", data_, bits[static_cast<std::size_t>(i)]),
                     pin(ref, fmt::format("D{}", i)));
                join(l == 0 && i < 4 ? fmt::format("PQ{}", i) : fmt::format("L{}Q{}", l, i),
                     pin(ref, fmt::format("Q{}", i)));
            }
            join("GND", pin(ref, "/OE"));
            join("/RES", pin(ref, "/CLR"));
            join(fmt::format("LE{}", l), pin(ref, "LE"));
            join(fmt::format("LE{}", l), pin(ref, "CLK"));
        }
    }

    void wire_buffers() {
        for (std::size_t b = 0; b < buffers_.size(); ++b) {
            const auto& ref = buffers_[b];
            for (int i = 0; i < 8; ++i) {
                join(fmt::format("{}{}", b == 0 ? "D" : "XA", i), pin(ref, fmt::format("A{}", i)));
                join(fmt::format("{}{}", b == 0 ? "BD" : "A", i), pin(ref, fmt::format("B{}", i)));
            }
            join(b == 0 ? "/RD" : "+5V", pin(ref, "DIR"));
            join(b == 0 ? "/BUF" : "GND", pin(ref, "/OE"));
        }
    }

    /// Inputs take what is wanted or what is at hand; outputs feed what still waits for a driver.
    void wire_logic() {
        std::vector<std::string> wanted = {"/BUF"};
        for (std::size_t m = 0; m < memories_.size(); ++m) wanted.push_back(fmt::format("/CE{}", m));
        for (std::size_t l = 0; l < latches_.size(); ++l) wanted.push_back(fmt::format("LE{}", l));
        std::erase_if(wanted, [&](const auto& n) { return nets_.count(n) == 0; });
        std::vector<std::string> sources = {"/SEL", "/RD", "/WR", "CLK", "/RES"};
        for (int i = 11; i < address_; ++i) sources.push_back(fmt::format("A{}", i));
        for (const auto& ref : logic_)
            for (const auto& p : type(ref).pins) {
                const auto point = ref + "." + p.number;
                if (p.kind == PinKind::output) {
                    if (!wanted.empty()) {
                        join(wanted.back(), point);
                        wanted.pop_back();
                    } else if (chance(0.6)) {
                        const auto net = fmt::format("n{}", ++made_);
                        join(net, point);
                        sources.push_back(net);
                    } else {
                        join("nc:" + point, point);
                    }
                } else if (p.kind == PinKind::input) {
                    if (chance(0.2))
                        join(chance(0.5) ? "GND" : "+5V", point);
                    else
                        join(sources[static_cast<std::size_t>(below(static_cast<int>(sources.size())))],
                             point);
                }
            }
        // What nobody drives comes from the edge, as /SEL.
        for (const auto& net : wanted)
            for (const auto& point : std::exchange(nets_[net], {})) {
                taken_[point] = "/SEL";
                nets_["/SEL"].push_back(point);
            }
    }

    void wire_passives() {
        for (const auto& ref : capacitors_) {
            const bool turned = chance(0.5) && type(ref).id != "electrolytic";
            join("+5V", ref + (turned ? ".2" : ".1"));
            join("GND", ref + (turned ? ".1" : ".2"));
        }
        std::vector<std::string> pulled = {"/IRQ", "/RES", "RDY", "/SEL"};
        for (const auto& net : order_)
            if (net.starts_with("n") && !net.starts_with("nc:")) pulled.push_back(net);
        for (const auto& ref : resistors_) {
            join(chance(0.8) ? "+5V" : "GND", ref + ".1");
            join(pulled[static_cast<std::size_t>(below(static_cast<int>(pulled.size())))], ref + ".2");
        }
    }

    HiddenBoard finish() {
        board_.width_mm = 154.94;
        board_.height_mm = 15.24 + 45.72 * ((counts_['U'] + 4) / 5) + 5.08 * (placed_small_ / 9) + 12.7;
        board_.parts.front().x_mm = 12.7;
        board_.parts.front().y_mm = board_.height_mm - 4.445;
        for (const auto& part : board_.parts)
            if (const auto* t = library_.find(part.type))
                for (const auto& p : t->pins)
                    join("nc:" + part.ref + "." + p.number, part.ref + "." + p.number);
        for (const auto& name : order_)
            if (!nets_[name].empty()) board_.nets.push_back({name, nets_[name]});
        return std::move(board_);
    }

    Random random_;
    const PartLibrary& library_;
    HiddenBoard board_;
    std::map<char, int> counts_;
    int placed_small_ = 0, address_ = 0, made_ = 0;
    std::string data_;
    std::vector<std::string> memories_, latches_, buffers_, logic_, capacitors_, resistors_;
    std::map<std::string, std::vector<std::string>> nets_;
    std::vector<std::string> order_;
    std::map<std::string, std::string> taken_;
};

}  // namespace

Dossier HiddenBoard::known() const {
    Dossier d;
    d.ports = Section(std::vector<Port>{connector});
    Trace t;
    t.parts = parts;
    d.trace = Section(std::move(t));
    return d;
}

HiddenBoard random_board(std::uint64_t seed, const PartLibrary& parts) {
    return Builder(seed, parts).build();
}

}  // namespace grayrelic::standin
