// SPDX-License-Identifier: GPL-3.0-or-later
// Pins that are used but not known, and signals whose part in the conversation contradicts what the port
// says.
#include <fmt/format.h>

#include <map>
#include <set>

#include "core/checks/registry.hpp"
#include "core/decode/line_owner.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic {
namespace {

struct Use {
    std::string signal;
    std::string capture;  // title of the first capture that uses the pin
    std::string role;
    std::string kind;  // of its decoder
};

std::string role_of(const CaptureRef& c, const std::string& signal) {
    for (const auto& [role, signals] : c.decode.roles)
        for (const auto& s : signals)
            if (s == signal) return role;
    return {};
}

/// Which side asks: as the job says; nothing when it does not.
std::optional<Driver> host_of(const Analysis& a) {
    switch (a.dossier.plan->host) {
        case HostSide::relic: return Driver::relic;
        case HostSide::modern: return Driver::bridge;
        default: return std::nullopt;
    }
}

using PinUses = std::map<std::pair<std::string, std::string>, Use>;

/// As the job says; without its word the host is whom most lines of the port speak for.
std::optional<Driver> host_of_port(const Analysis& a, const std::string& id, const PinUses& uses) {
    if (const auto said = host_of(a)) return said;
    const auto* port = a.dossier.find_port(id);
    long relic = 0, bridge = 0;
    for (const auto& [key, use] : uses) {
        const auto* pin = port == nullptr || key.first != id ? nullptr : port->find_pin(key.second);
        const auto owner = owner_of(use.kind, use.role);
        if (pin == nullptr || owner == LineOwner::either) continue;
        const auto d = pin->driver.value;
        if (d == Driver::relic) ++(owner == LineOwner::host ? relic : bridge);
        if (d == Driver::bridge) ++(owner == LineOwner::host ? bridge : relic);
    }
    return relic == bridge ? std::optional<Driver>() : relic > bridge ? Driver::relic : Driver::bridge;
}

/// Does the recorded driver contradict the line's part in the conversation? Where the job does not say who is
/// host, either side may be, as long as the port's other lines of the same capture agree.
bool contradicts(Driver d, LineOwner owner, std::optional<Driver> host) {
    if (d == Driver::supply || d == Driver::nobody) return true;
    if (owner == LineOwner::either || d == Driver::both || !host) return false;
    const auto device = *host == Driver::relic ? Driver::bridge : Driver::relic;
    return d != (owner == LineOwner::host ? *host : device);
}

void judge_pin(const Port& port, const Pin& pin, const Use& use, std::optional<Driver> host, Findings& out) {
    const FindingPlace place{"pin", port.id + "/" + pin.number};
    const auto subject = fmt::format("pin {}/{}", port.id, pin.number);
    std::string missing;
    if (pin.name.value.empty()) missing = "name";
    if (pin.driver.value == Driver::unknown) missing += missing.empty() ? "driver" : " and driver";
    if (!missing.empty()) {
        out.push_back(
            {"pin-unknown", Severity::doubt, Stage::port, subject,
             fmt::format("{} {} is used but not known", port.id, pin.number),
             fmt::format("{} in {} is this pin; its {} is not recorded.", use.signal, use.capture, missing),
             "Find out who drives it before anything is connected.", place});
        return;
    }
    const auto d = pin.driver.value;
    const auto owner = owner_of(use.kind, use.role);
    if (!use.role.empty() && contradicts(d, owner, host))
        out.push_back(
            {"pin-unknown", Severity::doubt, Stage::port, subject + " driver",
             fmt::format("{} {}: driver contradicts the capture", port.id, pin.name.value),
             owner == LineOwner::either
                 ? fmt::format("The port says {} drives it; in {} it moves as the {}.", word(d), use.capture,
                               use.role)
                 : fmt::format("The port says {} drives it; in {} it is the {}, which the {} drives.",
                               word(d), use.capture, use.role,
                               owner == LineOwner::device ? "device" : "host"),
             "Correct the driver, the decoder's roles, or who is host in Plan.", place});
    else if (d == Driver::relic && pin.family.value.empty() && !pin.volts_max.value)
        out.push_back({"pin-unknown", Severity::note, Stage::port, subject + " level",
                       fmt::format("{} {}: level not known", port.id, pin.name.value),
                       "Neither a logic family nor a highest voltage is recorded.",
                       "Measure its high level before choosing what it meets.", place});
}

}  // namespace

void check_pins(const Analysis& a, Findings& out) {
    PinUses uses;
    std::set<std::string> untied_in;
    for (const auto& c : a.listen->captures) {
        for (const auto& tie : c->ref.ties)
            uses.try_emplace({c->ref.port, tie.pin}, Use{short_name(tie.signal), c->ref.title,
                                                         role_of(c->ref, tie.signal), c->ref.decode.kind});
        if (!c->capture) continue;
        std::string untied;
        for (const auto& s : c->capture->signals)
            if (s.digital && !s.digital->edges().empty() && c->ref.find_tie(s.name) == nullptr)
                untied += (untied.empty() ? "" : ", ") + short_name(s.name);
        if (!untied.empty())
            out.push_back({"pin-unknown",
                           Severity::note,
                           Stage::listen,
                           "capture " + c->ref.id + " untied",
                           fmt::format("Signals of {} are tied to no pin", c->ref.title),
                           untied + ".",
                           "Say which pin each one is, so that its driver is known.",
                           {"capture", c->ref.id}});
    }
    for (const auto& [key, use] : uses) {
        const auto* port = a.dossier.find_port(key.first);
        const auto* pin = port == nullptr ? nullptr : port->find_pin(key.second);
        if (pin != nullptr) {
            judge_pin(*port, *pin, use, host_of_port(a, port->id, uses), out);
            continue;
        }
        out.push_back({"pin-unknown",
                       Severity::doubt,
                       Stage::port,
                       fmt::format("pin {}/{}", key.first, key.second),
                       fmt::format("{} {} is used but not in the port", key.first.empty() ? "Pin" : key.first,
                                   key.second),
                       fmt::format("{} in {} is tied to it.", use.signal, use.capture),
                       "Add the pin, or correct the tie.",
                       {"pin", key.first + "/" + key.second}});
    }
}

}  // namespace grayrelic
