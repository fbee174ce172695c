// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/edits.hpp"

#include <fmt/format.h>

namespace grayrelic {

Dossier put(const Dossier& d, About about) {
    return edit(d, &Dossier::about, [&](About& a) { a = std::move(about); });
}
Dossier put(const Dossier& d, Timing timing) {
    return edit(d, &Dossier::timing, [&](Timing& t) { t = std::move(timing); });
}
Dossier put(const Dossier& d, Trace trace) {
    return edit(d, &Dossier::trace, [&](Trace& t) { t = std::move(trace); });
}
Dossier put(const Dossier& d, std::vector<MeterReading> readings) {
    return edit(d, &Dossier::readings, [&](std::vector<MeterReading>& r) { r = std::move(readings); });
}
Dossier put(const Dossier& d, Supply supply) {
    return edit(d, &Dossier::supply, [&](Supply& s) { s = std::move(supply); });
}
Dossier put(const Dossier& d, JobPlan plan) {
    return edit(d, &Dossier::plan, [&](JobPlan& p) { p = std::move(plan); });
}
Dossier put(const Dossier& d, Wire wire) {
    return edit(d, &Dossier::wire, [&](Wire& w) { w = std::move(wire); });
}
Dossier put(const Dossier& d, DeviceMap map) {
    return edit(d, &Dossier::map, [&](DeviceMap& m) { m = std::move(map); });
}
Dossier put(const Dossier& d, JobLog log) {
    return edit(d, &Dossier::log, [&](JobLog& l) { l = std::move(log); });
}
Dossier put(const Dossier& d, ReplyQuestion reply) {
    return edit(d, &Dossier::timing, [&](Timing& t) { t.reply = std::move(reply); });
}

Dossier add_reading(const Dossier& d, MeterReading reading) {
    return edit(d, &Dossier::readings,
                [&](std::vector<MeterReading>& readings) { readings.push_back(std::move(reading)); });
}

Dossier add_readings(const Dossier& d, std::vector<MeterReading> more) {
    return edit(d, &Dossier::readings, [&](std::vector<MeterReading>& readings) {
        readings.insert(readings.end(), std::make_move_iterator(more.begin()),
                        std::make_move_iterator(more.end()));
    });
}

Dossier put_pin(const Dossier& d, std::string_view port, Pin pin) {
    return edit<Port>(d, port, [&](Port& p) {
        const auto at = std::find_if(p.pins.begin(), p.pins.end(),
                                     [&](const Pin& other) { return other.number == pin.number; });
        if (at == p.pins.end())
            p.pins.push_back(std::move(pin));
        else
            *at = std::move(pin);
    });
}

Dossier choose_option(const Dossier& d, std::string_view option) {
    if (d.timing->find_option(option) == nullptr) return d;
    return edit(d, &Dossier::timing, [&](Timing& t) { t.chosen = std::string(option); });
}

std::string free_id_among(const std::vector<std::string>& taken, std::string_view wish) {
    std::string base;
    for (const char c : wish) {
        const bool word_char = (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9');
        if (word_char)
            base += c;
        else if (c >= 'A' && c <= 'Z')
            base += static_cast<char>(c - 'A' + 'a');
        else if (!base.empty() && base.back() != '-')
            base += '-';
    }
    while (!base.empty() && base.back() == '-') base.pop_back();
    if (base.empty()) base = "item";
    if (base.size() > 40) base.resize(40);
    auto id = base;
    const auto is_taken = [&] { return std::find(taken.begin(), taken.end(), id) != taken.end(); };
    for (int n = 2; is_taken(); ++n) id = fmt::format("{}-{}", base, n);
    return id;
}

std::string free_port_id(const Dossier& d) {
    int n = 1;
    while (d.find_port(fmt::format("J{}", n)) != nullptr) ++n;
    return fmt::format("J{}", n);
}

std::string free_source_id(const Port& port, std::string_view wish) {
    std::vector<std::string> taken;
    for (const auto& s : port.sources) taken.push_back(s.id);
    return free_id_among(taken, wish);
}

}  // namespace grayrelic
