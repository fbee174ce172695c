// SPDX-License-Identifier: GPL-3.0-or-later
// Findings of Map: each fires on its fault and rests on a map that is whole.
#include <fmt/format.h>

#include "core/checks/analyse.hpp"
#include "core/dossier/edits.hpp"
#include "standin/counter_keypad.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

std::vector<std::string> map_findings(const Dossier& d, std::optional<Severity> of = {}) {
    static const auto data = DataLibrary::load_installed();
    CaptureStore store;
    Progress progress;
    const auto a = analyse(d, test::source_folder() / "demos/calder-counter-keypad.relic", store, progress,
                           nullptr, data)
                       .value();
    std::vector<std::string> out;
    for (const auto& f : a->findings)
        if (f.stage == Stage::map && (!of || f.severity == *of)) out.push_back(f.id);
    return out;
}

/// The keypad with its mistakes mended.
Dossier whole() {
    auto d = standin::counter_keypad_dossier();
    return edit(d, &Dossier::map, [](DeviceMap& m) {
        for (auto& k : m.keys) {
            if (k.legend == "00") k.meaning = "text:0";
            if (k.meaning.empty()) k.meaning = "nothing";
        }
        m.matrix.chords = {{"note", "coin"}};
        m.matrix.drive = "open-drain";
        for (const auto* key : {"farad", "driver_ohm", "register_hz"})
            m.matrix.numbers.push_back({key,
                                        {key[0] == 'f'   ? 120e-12
                                         : key[0] == 'd' ? 30
                                                         : 1e6,
                                         {},
                                         {EvidenceKind::measured, {}, {}, {}}}});
    });
}

Dossier with(const std::function<void(DeviceMap&)>& change) {
    return edit(whole(), &Dossier::map, change);
}

TEST(MapChecks, AWholeMapHasNoStopAndNoDoubtButItsDoubledLegends) {
    EXPECT_THAT(map_findings(whole(), Severity::stop), testing::IsEmpty());
    EXPECT_THAT(map_findings(whole(), Severity::doubt), testing::IsEmpty());
    EXPECT_THAT(map_findings(whole(), Severity::note),
                testing::UnorderedElementsAre("meaning-twice", "meaning-twice", "not-repeated"));
}

TEST(MapChecks, EachFaultOfTheMatrixIsNamed) {
    const auto fault = [](const std::function<void(DeviceMap&)>& change) {
        return map_findings(with(change));
    };
    EXPECT_THAT(fault([](DeviceMap& m) {
                    m.matrix.chords = {{"note", "coin", "f2"}};
                }),
                testing::Contains("chord-ghosts"));
    EXPECT_THAT(fault([](DeviceMap& m) { m.matrix.chords.clear(); }), testing::Contains("ghosts-possible"));
    EXPECT_THAT(fault([](DeviceMap& m) {
                    m.matrix.chords.clear();
                    m.matrix.guard = GhostGuard::block;
                }),
                testing::Not(testing::Contains("ghosts-possible")));
    EXPECT_THAT(fault([](DeviceMap& m) { m.matrix.guard = GhostGuard::diodes; }),
                testing::Contains("diodes-missing"));
    EXPECT_THAT(fault([](DeviceMap& m) { m.keys[3].row = "R9"; }), testing::Contains("key-outside-matrix"));
    EXPECT_THAT(fault([](DeviceMap& m) {
                    m.keys[3].row = m.keys[4].row;
                    m.keys[3].column = m.keys[4].column;
                }),
                testing::Contains("position-twice"));
    EXPECT_THAT(fault([](DeviceMap& m) {
                    for (auto& n : m.matrix.numbers)
                        if (n.key == "foil_ohm") n.value.value = 6000;
                }),
                testing::Contains("foil-too-weak"))
        << "6030 of 16030 is 0.38";
    EXPECT_THAT(fault([](DeviceMap& m) { m.matrix.drive.clear(); }), testing::Contains("strobes-fight"));
    EXPECT_THAT(fault([](DeviceMap& m) { m.matrix.numbers.clear(); }), testing::Contains("scan-assumed"));
}

TEST(MapChecks, ABareMatrixNeedsNoGroundAndAnythingElseDoes) {
    const auto of_port = [](const Dossier& d) {
        static const auto data = DataLibrary::load_installed();
        CaptureStore store;
        Progress progress;
        const auto a = analyse(d, test::source_folder() / "demos/calder-counter-keypad.relic", store,
                               progress, nullptr, data)
                           .value();
        long n = 0;
        for (const auto& f : a->findings) n += f.id == "ground-missing" ? 1 : 0;
        return n;
    };
    EXPECT_EQ(of_port(whole()), 0);
    EXPECT_EQ(of_port(edit<Port>(whole(), "J1", [](Port& p) { p.pins[3].name.value = "LAMP"; })), 1);
}

TEST(MapChecks, EachFaultOfTheRestIsNamed) {
    const auto fault = [](const std::function<void(DeviceMap&)>& change) {
        return map_findings(with(change));
    };
    EXPECT_THAT(fault([](DeviceMap& m) {
                    m.keys[0].meaning.clear();
                    m.keys[1].meaning.clear();
                }),
                testing::Contains("code-without-meaning"));
    EXPECT_THAT(fault([](DeviceMap& m) { m.modern.layout.clear(); }), testing::Contains("layout-not-said"));
    const auto message = [](MessageAct act, Time every) {
        return [=](DeviceMap& m) {
            MapMessage msg;
            msg.id = msg.name = "alive";
            msg.kind = MessageKind::heartbeat;
            msg.act = act;
            msg.every.value = every;
            m.messages = {msg};
        };
    };
    EXPECT_THAT(fault(message(MessageAct::watch, {})), testing::Contains("watching-unsure"));
    EXPECT_THAT(fault(message(MessageAct::ignore, {})), testing::Not(testing::Contains("watching-unsure")));
    const auto curve = [](long dead, long limit, EvidenceKind kind) {
        return [=](DeviceMap& m) {
            MoveCurve c;
            c.id = c.title = "c";
            c.dead = dead;
            c.limit = limit;
            c.evidence.kind = kind;
            m.curves = {c};
        };
    };
    EXPECT_THAT(fault(curve(10, 5, EvidenceKind::measured)), testing::Contains("curve-wrong"));
    EXPECT_THAT(fault(curve(10, 50, EvidenceKind::assumed)), testing::Contains("curve-assumed"));
    EXPECT_THAT(map_findings(with(curve(10, 50, EvidenceKind::measured)), Severity::doubt),
                testing::IsEmpty());
}

}  // namespace
}  // namespace grayrelic
