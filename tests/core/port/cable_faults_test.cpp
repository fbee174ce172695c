// SPDX-License-Identifier: GPL-3.0-or-later
// Faults planted in cables and ports that are right otherwise: each must be named, and what is right must be
// left alone. Ports, families, numbers of lines and their places are drawn at random.
#include <fmt/format.h>

#include <random>

#include "core/checks/analyse.hpp"
#include "core/dossier/edits.hpp"
#include "core/port/cable.hpp"
#include "core/port/pin_entry.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

struct Lead {
    Port a, b;
    Cable cable;
    std::vector<std::string> outs_a, ins_a, outs_b,
        ins_b;  ///< contacts; the n-th of outs_a goes to that of ins_b
    std::vector<std::string> grounds_a, grounds_b;
    std::string rail_a, rail_b;

    Pin& pin(Port& port, const std::string& number) {
        return *std::find_if(port.pins.begin(), port.pins.end(),
                             [&](const Pin& p) { return p.number == number; });
    }
    CableWire& wire_from(const std::string& a_end) {
        return *std::find_if(cable.wires.begin(), cable.wires.end(),
                             [&](const CableWire& w) { return w.a == a_end; });
    }
    void drop(const std::string& a_end) {
        std::erase_if(cable.wires, [&](const CableWire& w) { return w.a == a_end; });
    }
};

class Maker {
  public:
    explicit Maker(unsigned seed) : random_(seed) {}
    int pick(int n) { return std::uniform_int_distribution<int>(0, n - 1)(random_); }

    Lead right(int least_signals = 1) {
        Lead l;
        struct Shell {
            const char* id;
            int contacts;
        };
        constexpr std::array shells{Shell{"dsub-9", 9}, Shell{"dsub-15", 15}, Shell{"dsub-25", 25}};
        std::vector<Shell> fitting;
        for (const auto& s : shells)
            if (s.contacts >= 2 * least_signals + 4) fitting.push_back(s);
        const auto shell = fitting[static_cast<std::size_t>(pick(static_cast<int>(fitting.size())))];
        const int grounds = 2,
                  signals = std::max(least_signals, 1 + pick(std::min(7, (shell.contacts - 3) / 2)));
        std::vector<std::string> free_a, free_b;
        for (int i = 1; i <= shell.contacts; ++i)
            free_a.push_back(std::to_string(i)), free_b.push_back(std::to_string(i));
        std::shuffle(free_a.begin(), free_a.end(), random_);
        std::shuffle(free_b.begin(), free_b.end(), random_);
        const auto take = [](std::vector<std::string>& from) {
            auto n = from.back();
            from.pop_back();
            return n;
        };
        begin(l.a, "J1", shell.id, Side::relic);
        begin(l.b, "J2", shell.id, Side::modern);
        const auto join = [&](const std::string& x, const std::string& y) {
            l.cable.wires.push_back({x, y, "", ""});
        };
        l.rail_a = take(free_a);
        l.rail_b = take(free_b);
        add(l.a, l.rail_a, "+5 V supply 5V 500mA");
        add(l.b, l.rail_b, "+5 V supply 5V 100mA");
        join(l.rail_a, l.rail_b);
        for (int i = 0; i < grounds; ++i) {
            l.grounds_a.push_back(take(free_a));
            l.grounds_b.push_back(take(free_b));
            add(l.a, l.grounds_a.back(), "GND");
            add(l.b, l.grounds_b.back(), "GND");
            join(l.grounds_a.back(), l.grounds_b.back());
        }
        constexpr std::array old{"ttl", "ls", "hct"};
        constexpr std::array fresh{"hct", "ahct"};
        for (int i = 0; i < signals && free_a.size() > 1; ++i) {
            const bool out = i == 0 || (i != 1 && pick(2) == 0);
            const auto x = take(free_a), y = take(free_b);
            const std::string from = old[static_cast<std::size_t>(pick(3))],
                              to = fresh[static_cast<std::size_t>(pick(2))];
            const auto name = fmt::format("S{}", i);
            add(l.a, x, name + (out ? " relic " : " bridge ") + from);
            add(l.b, y, name + (out ? " relic " : " bridge ") + to);
            (out ? l.outs_a : l.ins_a).push_back(x);
            (out ? l.ins_b : l.outs_b).push_back(y);
            join(x, y);
        }
        std::shuffle(l.cable.wires.begin(), l.cable.wires.end(), random_);
        l.cable.id = "lead";
        l.cable.name = "Lead";
        l.cable.a = {"J1", "", Half::plug, ""};
        l.cable.b = {"J2", "", Half::plug, ""};
        return l;
    }

    static void add(Port& port, const std::string& number, const std::string& line) {
        Pin p;
        p.number = number;
        const auto entered = pin_with_entry(p, line, {EvidenceKind::measured, "me", "", "2026-11-30"});
        ASSERT_TRUE(entered) << line;
        port.pins.push_back(*entered);
    }

  private:
    static void begin(Port& port, const char* id, const char* connector, Side side) {
        port.id = id;
        port.name = fmt::format("Port {}", id);
        port.connector = connector;
        port.side = side;
    }
    std::mt19937 random_;
};

Findings found(const Lead& l) {
    static const auto data = DataLibrary::load(disk(), {test::source_folder() / "data"});
    Dossier d;
    d = put(d, l.a);
    d = put(d, l.b);
    d = put(d, l.cable);
    CaptureStore store;
    Progress progress;
    const auto a = analyse(d, {}, store, progress, nullptr, data);
    Findings out;
    for (const auto& f : (*a)->findings)
        if (f.stage == Stage::port && f.severity != Severity::note) out.push_back(f);
    return out;
}

std::string told(const Findings& list) {
    std::string out;
    for (const auto& f : list) out += fmt::format("{}: {} | {}\n", f.id, f.says, f.why);
    return out;
}

TEST(PlantedFaults, RightCablesAreQuiet) {
    for (unsigned seed = 1; seed <= 60; ++seed) {
        Maker m(seed);
        const auto list = found(m.right());
        EXPECT_TRUE(list.empty()) << "seed " << seed << "\n" << told(list);
    }
}

struct Plant {
    const char* what;
    std::vector<std::string> ids;  ///< one of these must be among the findings
    void (*plant)(Maker&, Lead&);
    int least_signals = 2;
};

std::vector<Plant> plants() {
    return {
        {"no ground wire",
         {"cable-without-ground"},
         [](Maker&, Lead& l) {
             for (const auto& g : l.grounds_a) l.drop(g);
         }},
        {"two wires at one contact",
         {"cable-two-on-one", "transmit-to-transmit"},
         [](Maker&, Lead& l) {
             l.cable.wires.push_back({l.outs_a[0], l.outs_b.empty() ? l.grounds_b[0] : l.outs_b[0], "", ""});
         }},
        {"an open collector without a pull",
         {"floats"},
         [](Maker&, Lead& l) { l.pin(l.a, l.outs_a[0]).output.value = "open-collector"; }},
        {"5 V on a signal input",
         {"cable-destroys"},
         [](Maker&, Lead& l) { l.wire_from(l.rail_a).b = l.ins_b[0]; }},
        {"the supply on a ground",
         {"cable-destroys"},
         [](Maker&, Lead& l) { l.wire_from(l.rail_a).b = l.grounds_b[0]; }},
        {"supply and ground exchanged",
         {"cable-destroys"},
         [](Maker&, Lead& l) {
             for (const auto& g : l.grounds_a) l.drop(g);
             l.wire_from(l.rail_a).b = l.grounds_b[0];
             l.cable.wires.push_back({l.grounds_a[0], l.rail_b, "", ""});
         }},
        {"a supply that gives too little",
         {"cable-supply-weak"},
         [](Maker&, Lead& l) { l.pin(l.b, l.rail_b).current_max.value = Amperes(0.8); }},
        {"12 V where 5 V are wanted",
         {"cable-destroys"},
         [](Maker&, Lead& l) {
             l.pin(l.a, l.rail_a).volts_max.value = Volts(12);
             l.pin(l.a, l.rail_a).name.value = "+12 V";
         }},
        {"halves that can't meet",
         {"cable-cannot-mate"},
         [](Maker&, Lead& l) { l.cable.b.half = Half::socket; }},
        {"a contact without a name",
         {"cable-contact-unknown"},
         [](Maker&, Lead& l) { l.pin(l.b, l.ins_b[0]).name = {}; }},
        {"a contact whose driver nobody knows",
         {"cable-contact-unknown"},
         [](Maker&, Lead& l) {
             l.pin(l.a, l.outs_a[0]).driver = {};
             l.pin(l.a, l.outs_a[0]).function.value = "signal";
         }},
        {"an input that no wire reaches", {"cable-input-open"}, [](Maker&, Lead& l) { l.drop(l.outs_a[0]); }},
        {"transmit on transmit",
         {"transmit-to-transmit"},
         [](Maker&, Lead& l) { std::swap(l.wire_from(l.outs_a[0]).b, l.wire_from(l.ins_a[0]).b); },
         3},
        {"5 V into an input at 3.3 V",
         {"link-fails"},
         [](Maker&, Lead& l) {
             l.pin(l.a, l.outs_a[0]).family.value = "hct";
             auto& in = l.pin(l.b, l.ins_b[0]);
             in.family.value = "hc";
             in.volts_max.value = Volts(3.3);
         }},
        {"line levels into logic",
         {"link-fails"},
         [](Maker&, Lead& l) { l.pin(l.a, l.outs_a[0]).family.value = "rs232"; }},
        {"a contact that is not there",
         {"pin-not-in-connector"},
         [](Maker&, Lead& l) { l.wire_from(l.outs_a[0]).b = "99"; }},
        {"TTL into an HC input",
         {"link-fails"},
         [](Maker&, Lead& l) {
             l.pin(l.a, l.outs_a[0]).family.value = "ttl";
             l.pin(l.b, l.ins_b[0]).family.value = "hc";
         }},
        {"one ground for many signals",
         {"cable-few-grounds"},
         [](Maker& m, Lead& l) {
             l = m.right(9);
             l.drop(l.grounds_a[1]);
         },
         9},
    };
}

TEST(PlantedFaults, AreAllNamed) {
    const auto all = plants();
    long planted = 0;
    for (unsigned round = 0; round < 4; ++round)
        for (std::size_t i = 0; i < all.size(); ++i) {
            Maker m(1000 + 100 * round + static_cast<unsigned>(i));
            auto l = m.right(all[i].least_signals);
            if (l.ins_a.empty() || l.outs_a.empty()) l = m.right(3);
            all[i].plant(m, l);
            ++planted;
            const auto list = found(l);
            const bool named = std::any_of(list.begin(), list.end(), [&](const Finding& f) {
                return std::find(all[i].ids.begin(), all[i].ids.end(), f.id) != all[i].ids.end();
            });
            EXPECT_TRUE(named) << all[i].what << ", round " << round << "\n" << told(list);
            // Once each: no two findings say the same of the same thing.
            std::set<std::string> subjects;
            for (const auto& f : list) EXPECT_TRUE(subjects.insert(f.id + f.subject).second) << told(list);
        }
    EXPECT_GE(planted, 60);
}

TEST(ThroughCables, AContactIsKnownByItsFarEnd) {
    Maker m(7);
    auto l = m.right(2);
    Dossier d;
    l.b.pins.clear();
    d = put(d, l.a);
    d = put(d, l.b);
    d = put(d, l.cable);
    const auto library = ConnectorLibrary::load(disk(), {test::source_folder() / "data"});
    const auto known = known_through_cables(l.b, d, library);
    const auto* rail = known.find_pin(l.rail_b);
    ASSERT_NE(rail, nullptr);
    EXPECT_EQ(role_of(*rail), PinRole::rail);
    EXPECT_EQ(known.pins.size(), l.cable.wires.size());
}

}  // namespace
}  // namespace grayrelic
