// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/page_card.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/dossier/edits.hpp"
#include "standin/probe_run.hpp"

namespace grayrelic::standin {
namespace {

constexpr double width_mm = 106.68, height_mm = 81.28;
constexpr const char* evening = "2026-10-03";

/// Pins by their names: "U1.A0".
class Wiring {
  public:
    Wiring(HiddenBoard& board, const PartLibrary& library) : board_(board), library_(library) {}
    void net(const std::string& name, const std::vector<std::string>& pins) {
        Net n{name, {}};
        for (const auto& p : pins) {
            const auto [ref, pin] = split_point(p);
            const auto* part = [&, ref = ref]() -> const BoardPart* {
                for (const auto& x : board_.parts)
                    if (x.ref == ref) return &x;
                return nullptr;
            }();
            const auto* type = part == nullptr ? nullptr : library_.find(part->type);
            auto number = std::string(pin);
            if (type != nullptr)
                for (const auto& x : type->pins)
                    if (x.name == pin) number = x.number;
            n.points.push_back(fmt::format("{}.{}", ref, number));
        }
        board_.nets.push_back(std::move(n));
    }

  private:
    HiddenBoard& board_;
    const PartLibrary& library_;
};

BoardPart part(const char* ref, const char* type, double x, double y, const char* value = "",
               double turn = 0) {
    BoardPart p;
    p.ref = ref;
    p.type = type;
    p.value = value;
    p.x_mm = x;
    p.y_mm = y;
    p.turn_deg = turn;
    p.evidence = {EvidenceKind::documented, "marking on the part", evening, {}, {}};
    return p;
}

}  // namespace

HiddenBoard page_card(const Port& j1, const PartLibrary& library) {
    HiddenBoard b;
    b.connector = j1;
    b.width_mm = width_mm;
    b.height_mm = height_mm;
    BoardPart edge = part("J1", "", 34.29, height_mm - 4.445);
    edge.package = "edgel-30-2.54";
    edge.evidence.source = "measured on the board";
    edge.evidence.kind = EvidenceKind::measured;
    b.parts = {edge,
               part("U1", "sram-8kx8", 12.7, 15.24),
               part("U2", "74x273", 60.96, 15.24),
               part("U3", "74x138", 86.36, 15.24),
               part("U4", "sram-8kx8", 35.56, 15.24),
               part("C1", "capacitor", 17.78, 8.89, "100n"),
               part("C2", "capacitor", 62.23, 8.89, "100n"),
               part("C3", "capacitor", 87.63, 8.89, "100n"),
               part("C4", "capacitor", 40.64, 8.89, "100n"),
               part("C5", "electrolytic", 86.36, 55.88, "47u 16V"),
               part("R1", "resistor", 83.82, 43.18, "4k7"),
               part("R2", "resistor", 83.82, 48.26, "4k7")};
    Wiring w(b, library);
    w.net("+5V", {"J1.1", "J1.A", "U1.VCC", "U2.VCC", "U3.VCC", "U4.VCC", "U1.CE2", "U4.CE2", "C1.1", "C2.1",
                  "C3.1", "C4.1", "C5.1", "R1.1", "R2.1"});
    w.net("GND", {"J1.15", "J1.R", "J1.S", "U1.GND", "U2.GND", "U3.GND", "U4.GND", "U3./G2B", "C1.2", "C2.2",
                  "C3.2", "C4.2", "C5.2"});
    for (int i = 0; i < 8; ++i)
        w.net(fmt::format("D{}", i), {fmt::format("J1.{}", i + 2), fmt::format("U1.D{}", i),
                                      fmt::format("U4.D{}", i), fmt::format("U2.D{}", i)});
    const std::string letters = "BCDEFHJKLMN";
    for (int i = 0; i < 11; ++i)
        w.net(fmt::format("A{}", i), {fmt::format("J1.{}", letters[static_cast<std::size_t>(i)]),
                                      fmt::format("U1.A{}", i), fmt::format("U4.A{}", i)});
    w.net("PAGE", {"J1.10", "U2.CLK"});
    w.net("WRITE", {"J1.11", "U1./WE", "U4./WE"});
    w.net("SELECT", {"J1.12", "U3./G2A", "R2.2"});
    w.net("READ", {"J1.13", "U1./OE", "U4./OE"});
    w.net("RESET", {"J1.14", "U2./CLR"});
    w.net("P11", {"U2.Q0", "U1.A11", "U4.A11"});
    w.net("P12", {"U2.Q1", "U1.A12", "U4.A12"});
    w.net("P13", {"U2.Q2", "U3.A"});
    w.net("P14", {"U2.Q3", "U3.B"});
    w.net("P15", {"U2.Q4", "U3.C"});
    w.net("EN", {"R1.2", "U3.G1"});
    w.net("CE0", {"U3./Y0", "U1./CE"});
    w.net("CE1", {"U3./Y1", "U4./CE"});
    // What is left leads nowhere.
    std::vector<std::string> taken;
    for (const auto& n : b.nets) taken.insert(taken.end(), n.points.begin(), n.points.end());
    const auto leave = [&](const std::string& point) {
        if (std::find(taken.begin(), taken.end(), point) == taken.end()) b.nets.push_back({{}, {point}});
    };
    for (const auto& p : j1.pins) leave("J1." + p.number);
    for (const auto& p : b.parts)
        if (const auto* t = library.find(p.type))
            for (const auto& pin : t->pins) leave(p.ref + "." + pin.number);
    return b;
}

PageCard page_card_dossier(const Dossier& with_port, const PartLibrary& library) {
    PageCard out;
    const auto& j1 = *with_port.find_port("J1");
    const auto board = page_card(j1, library);
    const auto art = draw_board(board.width_mm, board.height_mm, board.parts, library, board.nets, 40);
    ScanStyle style;
    style.dpi = 300;
    style.noise = 4.5;
    style.uneven = 14;
    style.turn_deg = 1.1;
    style.blur_px = 0.6;
    style.charred = {89.5, 55.5, 6.5};  // under C5
    style.seed = 11;
    out.front = paint_scan(art, BoardSide::front, style);
    style.turn_deg = -0.7;
    style.charred = {};
    style.seed = 12;
    out.back = paint_scan(art, BoardSide::back, style);

    Trace t;
    t.parts = board.parts;
    for (const auto side : {BoardSide::front, BoardSide::back}) {
        Scan s;
        s.id = word(side);
        s.title = side == BoardSide::front ? "Front, component side" : "Back, solder side";
        s.file = fmt::format("scans/{}.png", word(side));
        s.side = side;
        s.references = (side == BoardSide::front ? out.front : out.back).references;
        for (auto& r : s.references) {  // as read off the picture
            r.x_px = std::round(r.x_px * 4.0) / 4.0;
            r.y_px = std::round(r.y_px * 4.0) / 4.0;
        }
        t.scans.push_back(std::move(s));
    }
    NetSource found;
    found.id = "newsletter";
    found.name = "Newsletter drawing";
    found.note = "Typed from a club newsletter's drawing; nobody knows from which revision.";
    for (const auto& n : board.nets)
        if (n.points.size() > 1) found.nets.push_back(n);
    // Its two errors: U3's first two selects are exchanged, and the latch is cleared by the supply.
    for (auto& n : found.nets)
        for (auto& p : n.points) {
            if (p == "U3.1")
                p = "U3.2";
            else if (p == "U3.2")
                p = "U3.1";
        }
    for (auto& n : found.nets) {
        if (n.name == "RESET") std::erase(n.points, "U2.1");
        if (n.name == "+5V") n.points.push_back("U2.1");
    }
    t.netlists = {found};
    t.against = found.id;
    t.deviations = {{"clear",
                     "U2.1",
                     "Pin 1 of U2 goes to contact 14, not to +5 V.",
                     "Probed twice; the drawing is wrong there.",
                     found.id,
                     "2026-10-04",
                     {}}};
    t.donors = {{"latch",
                 "74x273 from the specimen",
                 "the charred card",
                 "U2",
                 "legs tarnished, tests good in a socket",
                 "isopropyl alcohol, then glass-fibre pen",
                 1,
                 1,
                 3,
                 "good",
                 {},
                 {}},
                {"memory",
                 "8K × 8 static memory",
                 "the charred card",
                 "U1",
                 "warm to the touch when it failed",
                 "",
                 2,
                 2,
                 2,
                 "",
                 {},
                 {}}};

    auto d = put(with_port, t);
    const auto model = BoardModel::build(d, library);
    const auto run = probe_by_suggestion(model, truth_of(board, model));
    std::vector<MeterReading> readings;
    const auto add = [&](const std::string& a, const std::string& b, MeterReadingKind kind,
                         const char* note = "") {
        MeterReading r;
        r.a = a;
        r.b = b;
        r.kind = kind;
        r.tool = "meter, beep below 2 Ω";
        r.date = evening;
        r.note = note;
        readings.push_back(std::move(r));
    };
    // The first evening: as far as one gets.
    const auto evening_probes = std::min<std::size_t>(run.links.size(), 420);
    for (std::size_t i = 0; i < evening_probes; ++i) {
        const auto& l = run.links[i];
        add(model.table.name(l.a), model.table.name(l.b),
            l.says == Says::joined ? MeterReadingKind::beep : MeterReadingKind::open);
        if (i == 150) add("U1.15", "U4.16", MeterReadingKind::beep);  // the slip: it was U4.15
    }
    add("U4.15", "U4.16", MeterReadingKind::open, "neighbours, looked for a bridge");
    add("U2.6", "U3.1", MeterReadingKind::beep, "the selects, against the drawing");
    add("U2.9", "U3.2", MeterReadingKind::beep);
    MeterReading r1;
    r1.a = "R1.1";
    r1.b = "R1.2";
    r1.kind = MeterReadingKind::ohms;
    r1.ohm = 4680;
    r1.tool = "meter";
    r1.date = evening;
    readings.push_back(r1);
    MeterReading diode;
    diode.a = "U2.10";
    diode.b = "U2.20";
    diode.kind = MeterReadingKind::diode;
    diode.forward_v = 0.61;
    diode.backward_v = std::numeric_limits<double>::infinity();
    diode.tool = "meter";
    diode.date = evening;
    readings.push_back(diode);
    out.dossier = put(d, std::move(readings));
    return out;
}

}  // namespace grayrelic::standin
