// SPDX-License-Identifier: GPL-3.0-or-later
// Two circuits that meet: the verdict and the kind of path, reasoned beside each by what closed loops there
// are. Figures: an output gives at most its short-circuit current; a diode of a chip bears 10 mA.
#include "core/port/plugged.hpp"

#include "core/port/pin_entry.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

const FamilyLibrary& plugged_families() {
    static const auto l = FamilyLibrary::load(disk(), {test::source_folder() / "data"});
    return l;
}

struct Meeting {
    std::string socket, plug;  ///< lines of pins, joined by " | "
    std::string touches;       ///< "1-2 3-3"
    Verdict verdict;
    const char* kind;  ///< of the worst path; "" for none
    const char* because;
    bool own_supply = true;  ///< of a plug without a supply at this port
};

std::vector<std::string> pieces(const std::string& text, const std::string& at) {
    std::vector<std::string> out;
    std::size_t from = 0;
    for (auto to = text.find(at); to != std::string::npos; from = to + at.size(), to = text.find(at, from))
        out.push_back(text.substr(from, to - from));
    out.push_back(text.substr(from));
    return out;
}

class Circuits {
  public:
    explicit Circuits(const Meeting& m) {
        fill(m.socket, true, c.socket);
        fill(m.plug, false, c.plug);
        c.plug.machine = false;
        c.plug.called = "plug";
        c.plug.powered = m.own_supply;
        for (const auto& t : pieces(m.touches, " ")) {
            const auto dash = t.find('-');
            c.touches.push_back(
                {std::stoul(t.substr(0, dash)) - 1, std::stoul(t.substr(dash + 1)) - 1, false});
        }
    }
    PluggedCase c;

  private:
    void fill(const std::string& text, bool machine, CircuitSide& side) {
        for (const auto& line : pieces(text, " | ")) {
            const auto number = std::to_string(side.terminals.size() + 1);
            if (line == "?") {
                side.terminals.push_back(terminal(nullptr, number, Side::relic, machine, plugged_families()));
                continue;
            }
            // "… [series 1k]" is what protects it.
            const auto bracket = line.find(" [");
            Pin p;
            p.number = number;
            const auto entered = pin_with_entry(p, line.substr(0, bracket), {});
            EXPECT_TRUE(entered) << line;
            pins_.push_back(std::make_unique<Pin>(*entered));
            auto t = terminal(pins_.back().get(), number, Side::relic, machine, plugged_families());
            if (bracket != std::string::npos) {
                const auto protection =
                    protection_from_text(line.substr(bracket + 2, line.size() - bracket - 3));
                EXPECT_TRUE(protection) << line;
                t.protection = *protection;
            }
            side.terminals.push_back(std::move(t));
        }
    }
    std::vector<std::unique_ptr<Pin>> pins_;
};

std::vector<Meeting> meetings() {
    using V = Verdict;
    std::vector<Meeting> out;
    const auto add = [&](Meeting m) { out.push_back(std::move(m)); };
    // Supply and ground exchanged: the loop goes backwards through the plug's parts.
    for (const auto* supply :
         {"+5 V supply 5V 2A", "+5 V supply 5V", "+12 V supply 12V 1A", "+3.3 V supply 3.3V 300mA",
          "+9 V supply 9V 500mA", "-12 V supply -12V 200mA", "+5 V supply 5V 120mA"})
        add({std::string(supply) + " | GND", std::string(supply) + " | GND", "1-2 2-1", V::stop,
             "reversed-supply", "the plug's circuit stands the wrong way round on the supply"});
    for (const auto* stop : {"diode", "p-channel"})
        add({"+5 V supply 5V 2A | GND", std::string("+5 V supply 5V 2A [") + stop + "] | GND", "1-2 2-1",
             V::doubt, "short",
             "the diode in the plug's supply blocks the only loop; with a ground elsewhere the supply stands "
             "on it"});
    // As meant.
    for (const auto* supply :
         {"+5 V supply 5V 2A", "+12 V supply 12V", "-12 V supply -12V 100mA", "+3.3 V supply 3.3V"})
        add({std::string(supply) + " | GND", std::string(supply) + " | GND", "1-1 2-2", V::holds, "",
             "the supply meets its own load"});
    // A supply on a ground that has another way back: nothing in between.
    for (const auto* supply :
         {"+5 V supply 5V 2A", "+5 V supply 5V", "+12 V supply 12V 1A", "-12 V supply -12V 1A"})
        add({std::string(supply) + " | GND", "GND | GND", "1-1 2-2", V::stop, "short",
             "both contacts are one ground in the plug"});
    add({"+5 V supply 5V 2A [fuse 500mA] | GND", "GND | GND", "1-1 2-2", V::doubt, "short",
         "a fuse ends it"});
    // One contact alone closes nothing; with a ground elsewhere it does.
    add({"+5 V supply 5V 2A | GND", "GND | +5 V supply 5V", "1-1", V::doubt, "short",
         "only through another ground"});
    add({"+5 V supply 5V | GND", "+5 V supply 5V | GND", "2-1", V::holds, "",
         "a ground on a supply's contact alone"});
    // Other volts than wanted.
    add({"+12 V supply 12V | GND", "+5 V supply 5V | GND", "1-1 2-2", V::stop, "wrong-voltage",
         "12 V where 5 V are wanted"});
    add({"+9 V supply 9V | GND", "+5 V supply 5V | GND", "1-1 2-2", V::stop, "wrong-voltage",
         "9 V where 5 V are wanted"});
    add({"+5 V supply 5V | GND", "+3.3 V supply 3.3V | GND", "1-1 2-2", V::stop, "wrong-voltage",
         "5 V where 3.3 V are wanted"});
    add({"+5 V supply 5V | GND", "+12 V supply 12V | GND", "1-1 2-2", V::doubt, "wrong-voltage",
         "too little harms nothing"});
    add({"+3.3 V supply 3.3V | GND", "+5 V supply 5V | GND", "1-1 2-2", V::doubt, "wrong-voltage",
         "too little harms nothing"});
    add({"-12 V supply -12V | GND", "+12 V supply 12V | GND", "1-1 2-2", V::stop, "reversed-supply",
         "−12 V on a +12 V circuit"});
    add({"+12 V supply 12V | GND", "-12 V supply -12V | GND", "1-1 2-2", V::stop, "reversed-supply",
         "+12 V on a −12 V circuit"});
    // 5 V on an input whose own supply is missing, grounds joined: inputs that clamp endure 0.5 V then.
    for (const auto* f : {"hc", "hct", "4000b"})
        add({"+5 V supply 5V 2A | GND", std::string("+5 V supply 5V | GND | IN relic ") + f, "1-3 2-2",
             V::stop, "back-feed", "its diode leads to the missing supply: VCC + 0.5 V = 0.5 V"});
    for (const auto* f : {"ls", "lvc", "ahct", "nmos", "rs232", "rs423"})
        add({"+5 V supply 5V 2A | GND", std::string("+5 V supply 5V | GND | IN relic ") + f, "1-3 2-2",
             V::holds, "", "its limit does not hang on its supply, and 5 V are below it"});
    add({"+5 V supply 5V 2A | GND", "+5 V supply 5V | GND | IN relic ttl", "1-3 2-2", V::holds, "",
         "TTL endures 5.5 V"});
    // The same with its supply there.
    for (const auto* f : {"hc", "hct", "4000b", "ls", "ttl"})
        add({"+5 V supply 5V 2A | GND", std::string("+5 V supply 5V | GND | IN relic ") + f, "1-1 2-2 1-3",
             V::holds, "", "its own supply is as high"});
    // 12 V on an input.
    for (const auto* f : {"ttl", "ls", "lvc", "ahct", "nmos"})
        add({"+12 V supply 12V | GND", std::string("GND | IN relic ") + f, "1-2 2-1", V::stop, "over-limit",
             "beyond 5.5 to 7 V, whatever its supply"});
    for (const auto* f : {"hc", "hct", "4000b"})
        add({"+12 V supply 12V | GND", std::string("GND | IN relic ") + f, "1-2 2-1", V::stop, "over-limit",
             "its diode to its supply carries what the rail gives"});
    add({"+12 V supply 12V | GND", "GND | IN relic rs232", "1-2 2-1", V::holds, "",
         "line receivers endure 25 V"});
    // −12 V on an input: the diode to ground.
    for (const auto* f : {"ttl", "ls", "hc", "hct", "lvc", "nmos", "ahct"})
        add({"-12 V supply -12V | GND", std::string("GND | IN relic ") + f, "1-2 2-1", V::stop, "over-limit",
             "its diode to ground carries what the rail gives"});
    add({"-12 V supply -12V | GND", "GND | IN relic rs232", "1-2 2-1", V::holds, "",
         "line receivers endure −25 V"});
    // Nobody knows the input: as fragile as one that clamps.
    add({"+5 V supply 5V | GND", "+5 V supply 5V | GND | IN relic", "1-3 2-2", V::stop, "back-feed",
         "unless its limits are known"});
    add({"+12 V supply 12V | GND", "GND | IN relic", "1-2 2-1", V::stop, "over-limit",
         "unless its limits are known"});
    // Nobody knows the contact.
    add({"+5 V supply 5V | GND", "? | GND", "1-1 2-2", V::stop, "unknown", "it may be a ground"});
    add({"OUT relic ttl | GND", "? | GND", "1-1 2-2", V::doubt, "unknown", "a signal meets it"});
    add({"OUT relic rs232 | GND", "? | GND", "1-1 2-2", V::stop, "unknown", "±15 V meet it"});
    add({"? | GND", "IN relic ttl | GND", "1-1 2-2", V::doubt, "unknown", "anything may stand there"});
    add({"? | GND", "+5 V supply 5V | GND", "1-1 2-2", V::doubt, "unknown", "a load meets it"});
    // Outputs against each other, the plug on its own supply: 5 V / 80 mA twice, and the like.
    for (const auto& [a, b] : std::vector<std::pair<std::string, std::string>>{{"hct", "hct"},
                                                                               {"hc", "hct"},
                                                                               {"ttl", "hct"},
                                                                               {"ttl", "ls"},
                                                                               {"ls", "ls"},
                                                                               {"ahct", "hc"},
                                                                               {"nmos", "ls"},
                                                                               {"ttl", "ahct"}})
        add({"OUT relic " + a + " | GND", "ANSWER bridge " + b + " | GND", "1-1 2-2", V::stop, "contention",
             "more flows than the weaker output endures"});
    add({"OUT relic 4000b | GND", "ANSWER bridge 4000b | GND", "1-1 2-2", V::doubt, "contention",
         "6 mA at most"});
    add({"OUT relic rs232 | GND", "ANSWER bridge rs232 | GND", "1-1 2-2", V::doubt, "contention",
         "the standard demands that both endure it"});
    add({"OUT relic oc | GND", "ANSWER bridge oc | GND", "1-1 2-2", V::holds, "", "both only pull low"});
    add({"OUT relic hct oc | GND", "ANSWER bridge hct oc | GND", "1-1 2-2", V::holds, "",
         "both only pull low"});
    add({"OUT relic hct | GND", "ANSWER bridge oc | GND", "1-1 2-2", V::stop, "contention",
         "one drives high while the other pulls low"});
    // Outputs on a ground.
    for (const auto* f : {"ls", "ttl"})
        add({std::string("OUT relic ") + f + " | GND", "GND | GND", "1-1 2-2", V::doubt, "output-overload",
             "the sheets rate the short of one high, for a moment"});
    for (const auto* f : {"hct", "hc", "nmos", "ahct", "lvc"})
        add({std::string("OUT relic ") + f + " | GND", "GND | GND", "1-1 2-2", V::stop, "output-overload",
             "a high is held at ground: its short-circuit current"});
    add({"OUT relic 4000b | GND", "GND | GND", "1-1 2-2", V::doubt, "output-overload", "6 mA"});
    add({"OUT relic rs232 | GND", "GND | GND", "1-1 2-2", V::doubt, "output-overload",
         "may be shorted, by the standard"});
    add({"OUT relic oc | GND", "GND | GND", "1-1 2-2", V::holds, "", "it only pulls low"});
    // Outputs on a supply, and asked to feed a circuit.
    for (const auto* f : {"hct", "ttl", "ls", "oc", "nmos"})
        add({"+5 V supply 5V 2A | GND", std::string("GND | OUT bridge ") + f, "1-2 2-1", V::stop,
             "output-overload", "a low stands on the supply"});
    for (const auto* f : {"ttl", "ls"})
        add({std::string("OUT relic ") + f + " | GND", "+5 V supply 5V 500mA | GND", "1-1 2-2", V::doubt,
             "output-overload", "no more than its rated short"});
    for (const auto* f : {"hct", "lvc"})
        add({std::string("OUT relic ") + f + " | GND", "+5 V supply 5V 500mA | GND", "1-1 2-2", V::stop,
             "output-overload", "a whole circuit hangs on one output"});
    // Line levels into logic.
    for (const auto* f : {"ttl", "ls", "hct", "lvc", "4000b", "nmos"})
        add({"TXD relic rs232 | GND", std::string("IN relic ") + f + " | GND", "1-1 2-2", V::stop,
             "over-limit", "−15 V behind 150 Ω into the diode to ground: 92 mA"});
    add({"TXD relic rs232 | GND", "IN relic rs232 | GND", "1-1 2-2", V::holds, "", "made for each other"});
    add({"TXD relic rs232 | GND", "IN relic hct [series 4k7 + clamp] | GND", "1-1 2-2", V::holds, "",
         "the clamp of the protection carries 14.6 V / 4.85 kΩ = 3 mA, and is made for it"});
    // Logic into logic.
    for (const auto& [a, b] : std::vector<std::pair<std::string, std::string>>{{"ttl", "ttl"},
                                                                               {"ls", "hct"},
                                                                               {"hct", "ls"},
                                                                               {"hc", "hc"},
                                                                               {"lvc", "ttl"},
                                                                               {"ttl", "lvc"},
                                                                               {"oc", "ttl"}})
        add({"OUT relic " + a + " | GND", "IN relic " + b + " | GND", "1-1 2-2", V::holds, "",
             "within its limits, its own supply on"});
    add({"OUT relic hct | GND", "IN relic hct | GND", "1-1 2-2", V::stop, "back-feed",
         "its own supply is off: 4.3 V behind 62 Ω and its diode", false});
    add({"OUT relic 4000b | GND", "IN relic hct | GND", "1-1 2-2", V::doubt, "back-feed",
         "5 mA at most, its supply off", false});
    add({"OUT relic hct | GND", "IN relic ls | GND", "1-1 2-2", V::holds, "", "LS has no diode to its supply",
         false});
    add({"OUT relic hct | GND", "IN relic lvc | GND", "1-1 2-2", V::holds, "",
         "LVC endures it without supply", false});
    // A supply without ground comes back through a signal.
    for (const auto* f : {"hct", "ttl", "ls", "oc", "ahct"})
        add({std::string("+5 V supply 5V 1A | OUT relic ") + f, "+5 V supply 5V 500mA | IN relic hct | GND",
             "1-1 2-2", V::stop, "ground-through-signal",
             "through the input's ground diode into the output's low"});
    add({"+5 V supply 5V 1A | OUT relic ttl", "+5 V supply 5V 500mA | GND", "1-1 2-2", V::stop,
         "ground-through-signal", "the plug's ground stands on an output"});
    add({"+5 V supply 5V 1A | IN bridge ttl", "+5 V supply 5V 500mA | OUT bridge hct | GND", "1-1 2-2",
         V::holds, "", "an input carries nothing: no loop"});
    // A supply on a ground, and the way back through a signal: backwards.
    add({"+5 V supply 5V 1A | OUT relic hct", "+5 V supply 5V 500mA | IN relic hct | GND", "1-3 2-1", V::stop,
         "reversed-supply", "from the ground through the parts to an output's low"});
    return out;
}

TEST(Meetings, AreMany) {
    EXPECT_GE(meetings().size(), 120U);
}

TEST(Meetings, AreJudgedByTheirPaths) {
    for (const auto& m : meetings()) {
        SCOPED_TRACE(m.socket + "  ><  " + m.plug + "  at " + m.touches + ": " + m.because);
        const Circuits both(m);
        const auto s = study_plugged(both.c);
        EXPECT_EQ(s.verdict, m.verdict) << (s.faults.empty() ? "nothing found" : s.faults.front().says);
        if (*m.kind == '\0') continue;
        const bool named = std::any_of(s.faults.begin(), s.faults.end(), [&](const PathFault& f) {
            return word(f.kind) == m.kind && f.verdict == m.verdict && !f.path.empty();
        });
        EXPECT_TRUE(named) << (s.faults.empty() ? "nothing found" : s.faults.front().says);
    }
}

TEST(Meetings, ThePathIsNamedFromSupplyToGround) {
    const Circuits both(
        {"+5 V supply 5V 2A | GND", "+5 V supply 5V 2A | GND", "1-2 2-1", Verdict::stop, "", ""});
    const auto s = study_plugged(both.c);
    ASSERT_FALSE(s.faults.empty());
    EXPECT_EQ(s.faults[0].path,
              "+5 V (socket) → GND (plug) → the plug's circuit, backwards → +5 V (plug) → GND (socket)");
    EXPECT_THAT(s.faults[0].touches, testing::UnorderedElementsAre(0, 1));
    EXPECT_THAT(s.faults[0].says, testing::HasSubstr("only its 2.0 A limit is in between"));
}

TEST(Protection, IsReadAndWritten) {
    const auto p = protection_from_text("fuse 500mA + series 330R+clamp");
    ASSERT_TRUE(p);
    EXPECT_EQ(p->fuse_a, 0.5);
    EXPECT_EQ(p->series_ohm, 330.0);
    EXPECT_TRUE(p->clamp_to_supply);
    EXPECT_EQ(*protection_from_text(protection_text(*p)), *p);
    EXPECT_FALSE(protection_from_text("")->any());
    for (const char* bad : {"series", "fuse", "diode diode", "series 330R + series 1k", "wall",
                            "clamp 5 000V", "series -3", "fuse nan", "+", "series 330R +"})
        EXPECT_FALSE(protection_from_text(bad)) << bad;
}

}  // namespace
}  // namespace grayrelic
