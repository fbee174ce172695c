// SPDX-License-Identifier: GPL-3.0-or-later
// Who drives a line, by its family: right ports raise no alarm, whichever side is host; wrong ones do.
#include "core/checks/analyse.hpp"
#include "core/checks/registry.hpp"
#include "core/decode/line_owner.hpp"
#include "core/dossier/edits.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

/// Roles with who drives them: 'h' the host, 'd' the device, 'b' both in turn, 'e' either.
struct FamilyRoles {
    const char* kind;
    std::vector<std::pair<const char*, char>> roles;
};

const std::vector<FamilyRoles>& families_of_links() {
    static const std::vector<FamilyRoles> all{
        {"latch-shift", {{"latch", 'h'}, {"clock", 'h'}, {"data", 'd'}}},
        {"select-bank", {{"select", 'h'}, {"enable", 'h'}, {"data", 'd'}}},
        // A framed link's keyboard drives clock and data; the host only holds the clock low.
        {"framed-clock", {{"clock", 'd'}, {"data", 'd'}}},
        {"pulse-width", {{"data", 'b'}}},
        {"clocked", {{"clock", 'h'}, {"select", 'h'}, {"data", 'e'}}},
        // A ball drives both of its lines.
        {"quadrature", {{"a", 'd'}, {"b", 'd'}}},
        {"strobed-bus", {{"strobe", 'e'}, {"data", 'e'}}},
        // The sense lines come back from the matrix.
        {"matrix", {{"strobe", 'h'}, {"sense", 'd'}}},
        {"async-serial", {{"data", 'e'}}},
        {"usb", {{"plus", 'b'}, {"minus", 'b'}}},
    };
    return all;
}

Findings alarms(const FamilyRoles& f, Driver host, Driver device, HostSide said, std::size_t turned = 99) {
    Dossier d;
    Port p;
    p.id = "J1";
    p.connector = "dsub-9";
    CaptureRef c;
    c.id = c.title = "minute";
    c.port = "J1";
    c.decode.kind = f.kind;
    for (std::size_t i = 0; i < f.roles.size(); ++i) {
        const auto [role, who] = f.roles[i];
        Pin pin;
        pin.number = std::to_string(i + 1);
        pin.name.value = role;
        pin.function.value = "signal";
        pin.family.value = "hct";
        auto driver = who == 'h' ? host : who == 'd' ? device : who == 'b' ? Driver::both : host;
        if (i == turned) driver = driver == host ? device : host;
        pin.driver.value = driver;
        p.pins.push_back(pin);
        c.ties.push_back({role, pin.number});
        c.decode.roles[role] = {role};
    }
    d = put(d, p);
    d = put(d, c);
    JobPlan plan;
    plan.host = said;
    d.plan = Section<JobPlan>(plan);
    CaptureStore store;
    Progress progress;
    Findings out;
    const auto a = analyse(d, {}, store, progress);
    for (const auto& x : (*a)->findings)
        if (x.says.find("contradicts the capture") != std::string::npos) out.push_back(x);
    return out;
}

TEST(WhoDrives, RightPortsOfAllFamiliesAreQuiet) {
    for (const auto& f : families_of_links())
        for (const bool relic_is_host : {true, false})
            for (const bool said : {true, false}) {
                const auto host = relic_is_host ? Driver::relic : Driver::bridge;
                const auto device = relic_is_host ? Driver::bridge : Driver::relic;
                const auto side = !said           ? HostSide::not_said
                                  : relic_is_host ? HostSide::relic
                                                  : HostSide::modern;
                const auto list = alarms(f, host, device, side);
                EXPECT_TRUE(list.empty())
                    << f.kind << (relic_is_host ? ", the relic is host: " : ", the relic is device: ")
                    << (list.empty() ? "" : list[0].why);
            }
}

TEST(WhoDrives, ALineThatTheWrongSideDrivesIsFound) {
    for (const auto& f : families_of_links())
        for (std::size_t i = 0; i < f.roles.size(); ++i) {
            if (f.roles[i].second != 'h' && f.roles[i].second != 'd') continue;
            const auto list = alarms(f, Driver::relic, Driver::bridge, HostSide::relic, i);
            EXPECT_EQ(list.size(), 1U) << f.kind << " " << f.roles[i].first;
        }
}

TEST(WhoDrives, ASupplyAsASignalIsFoundInEveryFamily) {
    for (const auto& f : families_of_links()) {
        if (f.roles.front().second == 'b') continue;  // recorded as driven by both
        EXPECT_FALSE(alarms(f, Driver::supply, Driver::supply, HostSide::not_said).empty()) << f.kind;
    }
    EXPECT_EQ(owner_of("no-such", "data"), LineOwner::either);
}

}  // namespace
}  // namespace grayrelic
