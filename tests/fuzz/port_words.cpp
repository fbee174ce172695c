// SPDX-License-Identifier: GPL-3.0-or-later
// What a person types about a port: what protects a contact, what was measured of a connector, names of
// signals; and the files of supplies and analysers. Whatever is read is used.
#include "core/port/analysers.hpp"
#include "core/port/by_measure.hpp"
#include "core/port/connector_library.hpp"
#include "core/port/pin_entry.hpp"
#include "core/port/plugged.hpp"
#include "core/port/signal_names.hpp"
#include "core/port/supplies.hpp"
#include "core/port/tap_plan.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

namespace {

/// Two lines as pins that meet each other, turned.
void meet(std::string_view first, std::string_view second) {
    static const FamilyLibrary families = FamilyLibrary::load(disk(), {GRAY_RELIC_SOURCE "/data"});
    std::vector<Pin> pins(2);
    pins[0].number = "1";
    pins[1].number = "2";
    for (std::size_t i = 0; i < 2; ++i)
        if (auto entered = pin_with_entry(pins[i], i == 0 ? first : second, {}))
            pins[i] = std::move(*entered);
    PluggedCase c;
    for (const auto& p : pins) {
        c.socket.terminals.push_back(terminal(&p, p.number, Side::relic, true, families));
        c.plug.terminals.push_back(terminal(&p, p.number, Side::relic, false, families));
    }
    if (const auto p = protection_from_text(second)) c.plug.terminals[0].protection = *p;
    c.touches = {{0, 1, false}, {1, 0, false}};
    for (const auto& f : study_plugged(c).faults)
        if (f.amps != f.amps) std::abort();
    Port port;
    port.pins = pins;
    static const AnalyserLibrary analysers = AnalyserLibrary::load(disk(), {GRAY_RELIC_SOURCE "/data"});
    (void)plan_taps(port, nullptr, families, analysers);
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto text = fuzz::text_of(data, std::min<std::size_t>(size, 2000));
    const auto end = std::min(text.find('\n'), text.size());
    const auto first = text.substr(0, end), second = text.substr(std::min(end + 1, text.size()));
    if (const auto p = protection_from_text(first))
        if (protection_from_text(protection_text(*p)) != *p) std::abort();
    static const ConnectorLibrary connectors = ConnectorLibrary::load(disk(), {GRAY_RELIC_SOURCE "/data"});
    if (const auto face = measured_from_text(first)) (void)connectors_by_measure(connectors, *face);
    if (same_line(first, second) != same_line(second, first)) std::abort();
    (void)supply_from_json(text, "fuzz.json");
    (void)analyser_from_json(text, "fuzz.json");
    meet(first, second);
    return 0;
}
