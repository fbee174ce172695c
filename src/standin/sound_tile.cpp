// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/sound_tile.hpp"

#include "core/dossier/edits.hpp"
#include "standin/fab_dossier.hpp"

namespace grayrelic::standin {
namespace {

Evidence seen(EvidenceKind kind, const char* source) {
    Evidence e;
    e.kind = kind;
    e.source = source;
    return e;
}

constexpr const char* sheet = "computer's service sheet, page 23";

Pin chip_pin(const char* number, const char* name, Driver driver, const char* function, double volts = 0) {
    Pin p;
    p.number = number;
    p.name = {name, {}, seen(EvidenceKind::documented, sheet)};
    p.driver = {driver, {}, p.name.evidence};
    p.function = {function, {}, p.name.evidence};
    if (volts > 0) {
        p.volts_max = {Volts(volts), {}, p.name.evidence};
        p.current_max = {Amperes(0.15), {}, p.name.evidence};
    }
    if (std::string_view(function) == "signal") p.family = {"nmos", {}, p.name.evidence};
    return p;
}

/// The tone chip's socket: what the tile is pushed into.
Port chip_socket() {
    Port port;
    port.id = "T1";
    port.name = "Tone chip's socket";
    port.connector = "dip-2x8";
    port.pins = {chip_pin("1", "D0", Driver::relic, "signal"),
                 chip_pin("2", "D1", Driver::relic, "signal"),
                 chip_pin("3", "D2", Driver::relic, "signal"),
                 chip_pin("4", "D3", Driver::relic, "signal"),
                 chip_pin("5", "D4", Driver::relic, "signal"),
                 chip_pin("6", "D5", Driver::relic, "signal"),
                 chip_pin("7", "/WE", Driver::relic, "signal"),
                 chip_pin("8", "ground", Driver::supply, "ground"),
                 chip_pin("9", "SOUND", Driver::bridge, "signal"),
                 chip_pin("16", "+5 V", Driver::supply, "supply", 5.25)};
    return port;
}

Port picture_jack() {
    Port port;
    port.id = "S1";
    port.name = "Picture, to a screen";
    port.connector = "phono";
    port.side = Side::modern;
    auto out = chip_pin("1", "PICTURE", Driver::relic, "signal");
    out.name.evidence = out.driver.evidence = out.function.evidence =
        seen(EvidenceKind::documented, "adapter drawing, rev 1");
    out.family = {};
    auto ground = chip_pin("2", "ground", Driver::supply, "ground");
    ground.name.evidence = ground.driver.evidence = ground.function.evidence = out.name.evidence;
    port.pins = {out, ground};
    return port;
}

constexpr const char* tile_text =
    R"(# the tile in the tone chip's socket: a module that listens to the writes and makes the sound
port T1: 1=D0 2=D1 3=D2 4=D3 5=D4 6=D5 7=/WE 8=GND 9=SOUND 16=V5
D1 diode-schottky: A=V5 K=VRAW
M1 module-33: VIN=VRAW GND=GND P0=d0 P1=d1 P2=d2 P3=d3 P4=d4 P5=d5 P6=we
   P10=C0 P11=C1 P12=C2 P13=C3 P14=C4 P15=C5 P16=LATCH P17=tone
# the module is not 5 V tolerant: its input diodes carry what 10 k let through
R1 resistor 10k 1%: 1=D0 2=d0
R2 resistor 10k 1%: 1=D1 2=d1
R3 resistor 10k 1%: 1=D2 2=d2
R4 resistor 10k 1%: 1=D3 2=d3
R5 resistor 10k 1%: 1=D4 2=d4
R6 resistor 10k 1%: 1=D5 2=d5
R7 resistor 10k 1%: 1=/WE 2=we
# pulses become a voltage
R8 resistor 2k2: 1=tone 2=SOUND
C1 capacitor 10n: 1=SOUND 2=GND
C2 electrolytic 47u: +=VRAW -=GND
# to the test board over it
J2 header-2x5: 1=V5 2=GND 3=C0 4=C1 5=C2 6=C3 7=C4 8=C5 9=LATCH 10=GND
)";

constexpr const char* ladder_text =
    R"(# the colour ladder; one layout in two roles: driven by the tile, or alone with its own clock and counter
rail V5 5V
J1 header-2x5: 1=V5 2=GND 3=C0 4=C1 5=C2 6=C3 7=C4 8=C5 9=LATCH 10=GND
U1 74x374 hct: D0=C0 D1=C1 D2=C2 D3=C3 D4=C4 D5=C5 D6=GND D7=GND CLK=CK /OE=GND
   Q0=q0 Q1=q1 Q2=q2 Q3=q3 Q4=q4 Q5=q5
JP1 jumper-3: 1=LATCH COM=CK 3=OSC
X1 oscillator: EN=V5 VCC=V5 GND=GND OUT=OSC
U2 74x4040 hct: CLK=OSC RST=GND Q7=C0 Q8=C1 Q9=C2 Q10=C3 Q11=C4 Q12=C5
power V5 GND: U1 U2
N1 ladder-8: B0=GND B1=GND B2=q0 B3=q1 B4=q2 B5=q3 B6=q4 B7=q5 OUT=level GND=GND
R1 resistor 75 1%: 1=level 2=PICTURE
port S1: 1=PICTURE 2=GND
C1 capacitor 100n: 1=V5 2=GND
C2 capacitor 100n: 1=V5 2=GND
)";

Fabrication board(const char* id, const char* title, const char* against) {
    Fabrication f;
    f.id = id;
    f.title = title;
    f.against = against;
    f.process = "house-basic";
    f.order.tiers = {{5, 8.0, 6.5}, {10, 11.0, 6.5}};
    return f;
}

/// Two tiles are being put together; on the second one a resistor is ten times too large.
Dossier with_units(Dossier d) {
    for (const int n : {1, 2}) {
        JobUnit unit;
        unit.id = "tile-" + std::to_string(n);
        unit.name = n == 1 ? "First tile" : "Second tile";
        unit.revision = 1;
        unit.number = std::to_string(n) + "/2";
        unit.state = UnitState::built;
        d = put(d, unit);
        UnitBuild b;
        b.id = unit.id;
        b.board = "tile";
        for (const char* ref : {"R1", "R2", "R3", "R4", "R5", "R6", "R7"}) {
            FittedPart f;
            f.ref = ref;
            f.marking = "brown black black red brown";
            f.measured = n == 1 ? 9980 : 10030;
            f.day = "2026-11-28";
            b.fitted.push_back(f);
        }
        FittedPart slip;
        slip.ref = "R8";
        slip.marking = n == 1 ? "red red red gold" : "red red orange gold";
        slip.day = "2026-11-28";
        b.fitted.push_back(slip);
        if (n == 1) {
            FittedPart diode;
            diode.ref = "D1";
            diode.day = "2026-11-28";
            b.fitted.push_back(diode);
        }
        d = put(d, b);
    }
    return d;
}

Dossier sound_tile_dossier() {
    About about;
    about.name = "Calder sound tile";
    about.purpose =
        "Replace the computer's tone chip by a tile in its socket; a test board over it shows what was "
        "written as "
        "steps of colour.";
    about.relic = "Calder 2, tone chip's socket";
    about.modern = "screen, by a phono jack";
    Dossier d;
    d.about = Section<About>(about);
    JobUnit computer;
    computer.id = "computer";
    computer.name = "Calder 2 with the silent tone chip";
    computer.kind = UnitKind::machine;
    d = put(d, computer);
    d = put(d, chip_socket());
    d = put(d, picture_jack());
    d = put(d, LogicNetwork{"tile", "Tile", tile_text, {}, {}});
    d = put(d, LogicNetwork{"ladder", "Colour ladder", ladder_text, {}, {}});
    d = edit(d, &Dossier::wire, [](Wire& w) { w.network = "tile"; });
    Dimension gap;
    gap.id = "header-gap";
    gap.name = "Tile to test board, headers pushed together";
    gap.mm.value = 8.5;
    gap.mm.uncertainty = 0.2;
    gap.mm.evidence = seen(EvidenceKind::assumed, "headers' catalogue, without the sockets");
    gap.decides = "parts of the tile below the test board";
    d = put(d, gap);
    auto tile = board("tile", "Tile, revision 1", "wire");
    // Its pins go down into the chip's socket.
    FabConnector pins;
    pins.ref = pins.port = "T1";
    pins.side = StandsOn::bottom;
    pins.half = Half::plug;
    tile.connectors = {pins};
    d = put(d, tile);
    auto ladder = board("ladder", "Colour ladder, revision 1", "ladder");
    BoardVariant driven, alone;
    driven.name = "driven";
    // The counter was forgotten: it drives what the tile drives.
    driven.omit = {"X1"};
    driven.jumpers = {{"JP1", "1-2"}};
    driven.note = "Over the tile, which latches each colour.";
    alone.name = "alone";
    alone.omit = {"J1"};
    alone.jumpers = {{"JP1", "2-3"}};
    alone.note = "On the bench, counting through all steps.";
    ladder.variants = {driven, alone};
    // What a house charges beside the tier, and what is left over from the first try.
    OrderExtra drills;
    drills.what = "holes below the usual drill";
    drills.price = 12;
    drills.rule = "hole";
    drills.below_mm = 0.3;
    ladder.order.extras = {drills};
    ladder.order.obsolete = {{"ladder boards of the first try", 3, 2.9}};
    d = put(d, ladder);
    BoardStack s;
    s.id = "test";
    s.name = "Tile with the test board over it";
    StackLevel low, up;
    low.name = "tile";
    low.board = "tile";
    up.name = "test";
    up.board = "ladder";
    up.variant = "driven";
    up.dimension = "header-gap";
    s.levels = {low, up};
    s.joins = {{"tile/J2", "test/J1", JoinKind::plugged}};
    d = put(d, s);
    d = with_units(d);
    return edit(d, &Dossier::plan, [](JobPlan& p) { p.kind = "chip-socket-board"; });
}

}  // namespace

Result<SoundTile> make_sound_tile(const DataLibrary& data) {
    SoundTile out;
    auto d = sound_tile_dossier();
    double x = 0, y = 0;
    for (const std::string id : {"tile", "ladder"}) {
        const auto plan = fab_plan_of(d, data, false, id);
        if (!plan) return fail(plan.error());
        for (const auto& part : plan->parts)
            if (part.ref == (id == "tile" ? "J2" : "J1")) {
                x = part.pads.front().x - x;
                y = part.pads.front().y - y;
            }
        out.boards[id] = make_fabrication(*plan);
        if (out.boards[id].empty()) return fail_usage("no way to route " + id, "a simpler board");
        d = edit<Fabrication>(d, id, [&](Fabrication& f) { f.file = "boards/" + id + ".zip"; });
    }
    out.dossier = edit<BoardStack>(d, "test", [&](BoardStack& s) {
        s.levels.back().x_mm = -x;
        s.levels.back().y_mm = -y;
    });
    return out;
}

}  // namespace grayrelic::standin
