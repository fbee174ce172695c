// SPDX-License-Identifier: GPL-3.0-or-later
// Pins that are used but not known, and signals whose part in the conversation contradicts what the port
// says.
#include <fmt/format.h>

#include <map>
#include <set>

#include "core/checks/registry.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic {
namespace {

/// Who must drive a decoder's role: the host's lines and the device's. In a capture of the original both are
/// real.
bool is_device_role(const std::string& role) {
    return role == "data";
}

struct Use {
    std::string signal;
    std::string capture;  // title of the first capture that uses the pin
    std::string role;
};

std::string role_of(const CaptureRef& c, const std::string& signal) {
    for (const auto& [role, signals] : c.decode.roles)
        for (const auto& s : signals)
            if (s == signal) return role;
    return {};
}

void judge_pin(const Port& port, const Pin& pin, const Use& use, Findings& out) {
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
    const bool device = is_device_role(use.role);
    const bool contradicts =
        !use.role.empty() && ((device && d == Driver::relic) || (!device && d == Driver::bridge) ||
                              d == Driver::supply || d == Driver::nobody);
    if (contradicts)
        out.push_back({"pin-unknown", Severity::doubt, Stage::port, subject + " driver",
                       fmt::format("{} {}: driver contradicts the capture", port.id, pin.name.value),
                       fmt::format("The port says {} drives it; in {} it is the {}, which the {} drives.",
                                   word(d), use.capture, use.role, device ? "device" : "host"),
                       "Correct the driver, or the decoder's roles.", place});
    else if (d == Driver::relic && pin.family.value.empty() && !pin.volts_max.value)
        out.push_back({"pin-unknown", Severity::note, Stage::port, subject + " level",
                       fmt::format("{} {}: level not known", port.id, pin.name.value),
                       "Neither a logic family nor a highest voltage is recorded.",
                       "Measure its high level before choosing what it meets.", place});
}

}  // namespace

void check_pins(const Analysis& a, Findings& out) {
    std::map<std::pair<std::string, std::string>, Use> uses;
    std::set<std::string> untied_in;
    for (const auto& c : a.listen->captures) {
        for (const auto& tie : c->ref.ties)
            uses.try_emplace({c->ref.port, tie.pin},
                             Use{short_name(tie.signal), c->ref.title, role_of(c->ref, tie.signal)});
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
            judge_pin(*port, *pin, use, out);
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
