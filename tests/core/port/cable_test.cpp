// SPDX-License-Identifier: GPL-3.0-or-later
// Cables between ports: how they are laid, what meets through them, and the card that is printed.
#include "core/port/cable.hpp"

#include "core/checks/analyse.hpp"
#include "core/checks/registry.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "core/port/pin_entry.hpp"
#include "core/report/wiring_card.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;

std::shared_ptr<const DataLibrary> data() {
    static const auto d = DataLibrary::load(disk(), {test::source_folder() / "data"});
    return d;
}

Port port(const std::string& id, const std::string& connector, const std::vector<std::string>& lines,
          Side side = Side::relic) {
    Port p;
    p.id = id;
    p.name = "Port " + id;
    p.connector = connector;
    p.side = side;
    for (std::size_t i = 0; i < lines.size(); ++i) {
        Pin pin;
        pin.number = std::to_string(i + 1);
        p.pins.push_back(*pin_with_entry(pin, lines[i], {EvidenceKind::measured, "me", "", ""}));
    }
    return p;
}

const std::vector<std::string> serial{"GND", "TXD relic ttl", "+5 V supply 5V 200mA", "RXD bridge ls", "GND"};

struct Job {
    Dossier dossier;
    Cable cable;
    explicit Job(const std::string& a = "din-5-180", const std::string& b = "din-5-180",
                 Side side_b = Side::modern) {
        dossier = put(dossier, port("J1", a, serial));
        dossier = put(
            dossier,
            port("J2", b, {"GND", "TXD bridge hct", "+5 V supply 5V 90mA", "RXD relic hct", "GND"}, side_b));
        cable.id = "lead";
        cable.name = "Lead";
        cable.a.port = "J1";
        cable.b.port = "J2";
    }
    [[nodiscard]] CableView view() const { return *view_cable(dossier, cable, data()->connectors); }
    Findings findings() {
        CaptureStore store;
        Progress progress;
        const auto a = analyse(put(dossier, cable), {}, store, progress, nullptr, data());
        Findings out;
        for (const auto& f : (*a)->findings)
            if (f.place.kind == "cable") out.push_back(f);
        return out;
    }
};

std::map<std::string, std::string> ends(const std::vector<CableWire>& wires) {
    std::map<std::string, std::string> out;
    for (const auto& w : wires) out[w.a] = w.b;
    return out;
}
using Ends = std::map<std::string, std::string>;

TEST(CableLays, StraightRolledMirroredAndCrossed) {
    const Job j;
    EXPECT_EQ(ends(wires_of(CableLay::straight, j.view())),
              (Ends{{"1", "1"}, {"2", "2"}, {"3", "3"}, {"4", "4"}, {"5", "5"}}));
    EXPECT_EQ(ends(wires_of(CableLay::rolled, j.view())),
              (Ends{{"1", "5"}, {"2", "4"}, {"3", "3"}, {"4", "2"}, {"5", "1"}}));
    // On the circle 1 4 2 5 3 from the left: mirrored, 1 meets 3 and 4 meets 5.
    EXPECT_EQ(ends(wires_of(CableLay::mirrored, j.view())),
              (Ends{{"1", "3"}, {"2", "2"}, {"3", "1"}, {"4", "5"}, {"5", "4"}}));
    EXPECT_EQ(ends(wires_of(CableLay::crossed, j.view())),
              (Ends{{"1", "1"}, {"2", "4"}, {"3", "3"}, {"4", "2"}, {"5", "5"}}));
}

TEST(CableLays, ALayIsRecognised) {
    const Job j;
    for (const auto lay : {CableLay::straight, CableLay::rolled, CableLay::mirrored, CableLay::crossed})
        EXPECT_EQ(lay_of(wires_of(lay, j.view()), j.view()), lay);
    EXPECT_EQ(lay_of({{"1", "2", "", ""}, {"2", "3", "", ""}}, j.view()), CableLay::other);
    EXPECT_EQ(lay_of({}, j.view()), CableLay::other);
    EXPECT_EQ(wires_of(CableLay::straight, j.view())[0].colour, "brown");
}

TEST(CableFindings, ACrossedCableIsQuiet) {
    Job j;
    j.cable.wires = wires_of(CableLay::crossed, j.view());
    EXPECT_TRUE(j.findings().empty());
}

// Straight: the computer's TTL output meets the slate's HCT output.
TEST(CableFindings, TransmitWiredToTransmitIsAStop) {
    Job j;
    j.cable.wires = wires_of(CableLay::straight, j.view());
    const auto f = j.findings();
    ASSERT_EQ(f.size(), 1U);
    EXPECT_EQ(f[0].id, "transmit-to-transmit");
    EXPECT_EQ(f[0].severity, Severity::stop);
    EXPECT_THAT(f[0].why, HasSubstr("Pin 2 of J1 goes to pin 2 of J2"));
}

TEST(CableFindings, AMirroringCableIsSaidAndItsHarmToo) {
    Job j;
    j.cable.wires = wires_of(CableLay::mirrored, j.view());
    std::set<std::string> ids;
    for (const auto& f : j.findings()) ids.insert(f.id);
    EXPECT_TRUE(ids.contains("cable-mirrors"));
    EXPECT_TRUE(ids.contains("cable-destroys")) << "+5 V of 3 goes to ground at 1";
}

TEST(CableFindings, EndsAndNumbersThatAreNotThere) {
    Job j;
    j.cable.wires = {{"1", "9", "", ""}};
    auto f = j.findings();
    ASSERT_EQ(f.size(), 1U);
    EXPECT_EQ(f[0].id, "pin-not-in-connector");
    j.cable.b = {"", "no-such-connector", Half::plug, ""};
    f = j.findings();
    ASSERT_EQ(f.size(), 1U);
    EXPECT_EQ(f[0].id, "connector-unknown");
}

std::shared_ptr<const Analysis> analysed(const Dossier& d) {
    CaptureStore store;
    Progress progress;
    return *analyse(d, {}, store, progress, nullptr, data());
}

TEST(WiringCard, HasBothFacesColoursBoxesAndCautions) {
    Job j;
    j.cable.wires = wires_of(CableLay::crossed, j.view());
    j.cable.stripe = "2";
    j.cable.b.half = Half::socket;
    const auto card = wiring_card(*analysed(put(j.dossier, j.cable)));
    ASSERT_TRUE(card) << test::message(card);
    ASSERT_EQ(card->pages.size(), 1U);
    const auto& page = card->pages[0];
    EXPECT_THAT(page, HasSubstr("width=\"210mm\" height=\"297mm\""));
    EXPECT_EQ(page.find("<svg", 1), std::string::npos) << "no nested pictures: many readers can't draw them";
    EXPECT_THAT(page, HasSubstr("plug, solder side"));
    EXPECT_THAT(page, HasSubstr("socket, solder side"));
    EXPECT_THAT(page, HasSubstr("Stripe: the wire of pin 2 at the first end, pin 4 at the second."));
    EXPECT_THAT(page, HasSubstr("Plug and unplug with the power off"));
    for (const char* colour : {"brown", "red", "orange", "yellow", "green"})
        EXPECT_THAT(page, HasSubstr(colour));
    // A box to tick for each of the five wires.
    std::size_t boxes = 0;
    for (auto at = page.find("width=\"11\" height=\"11\""); at != std::string::npos;
         at = page.find("width=\"11\" height=\"11\"", at + 1))
        ++boxes;
    EXPECT_EQ(boxes, 5U);
}

TEST(WiringCard, ALongCableGoesOnToANextSheetAndLetterIsLetter) {
    Job j("dsub-37", "dsub-37");
    j.cable.wires = wires_of(CableLay::straight, j.view());
    ASSERT_EQ(j.cable.wires.size(), 37U);
    const auto card = wiring_card(*analysed(put(j.dossier, j.cable)), "lead", Paper::letter);
    ASSERT_TRUE(card);
    EXPECT_GE(card->pages.size(), 2U);
    EXPECT_NEAR(card->width_mm, 215.9, 1e-9);
}

TEST(WiringCard, WithoutACableThePortsAreDrawn) {
    const Job j;
    const auto card = wiring_card(*analysed(j.dossier));
    ASSERT_TRUE(card);
    EXPECT_EQ(card->pages.size(), 2U);
    EXPECT_THAT(card->pages[0], HasSubstr("into the plug"));
    EXPECT_FALSE(wiring_card(*analysed({})));
    EXPECT_FALSE(wiring_card(*analysed(j.dossier), "no-such"));
}

TEST(WiringCard, HostileNamesAreEscaped) {
    Job j;
    j.cable.name = "<script>alert(1)</script>";
    j.cable.wires = {{"1", "1", "<b>", "&"}};
    const auto card = wiring_card(*analysed(put(j.dossier, j.cable)));
    ASSERT_TRUE(card);
    EXPECT_THAT(card->pages[0], testing::Not(HasSubstr("<script>")));
    EXPECT_THAT(card->pages[0], testing::Not(HasSubstr("<b>")));
}

}  // namespace
}  // namespace grayrelic
