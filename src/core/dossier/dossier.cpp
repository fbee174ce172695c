// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/dossier.hpp"

#include <algorithm>

namespace grayrelic {
namespace {

template <class T>
const T* find_by(const std::vector<T>& list, std::string_view key, std::string T::*member) {
    const auto it = std::find_if(list.begin(), list.end(), [&](const T& t) { return t.*member == key; });
    return it == list.end() ? nullptr : &*it;
}

}  // namespace

const Pin* Port::find_pin(std::string_view number) const {
    return find_by(pins, number, &Pin::number);
}
const PinSource* Port::find_source(std::string_view wanted) const {
    return find_by(sources, wanted, &PinSource::id);
}
const SignalTie* CaptureRef::find_tie(std::string_view signal) const {
    if (const auto* exact = find_by(ties, signal, &SignalTie::signal)) return exact;
    for (const auto& tie : ties)
        if (signal.size() > tie.signal.size() && signal.ends_with(tie.signal) &&
            signal[signal.size() - tie.signal.size() - 1] == '.')
            return &tie;
    return nullptr;
}

const BuildOption* Timing::find_option(std::string_view id) const {
    return find_by(options, id, &BuildOption::id);
}
const LogicNetwork* Timing::find_network(std::string_view id) const {
    return find_by(networks, id, &LogicNetwork::id);
}
const ContractInterval* Timing::find_interval(std::string_view id) const {
    return find_by(intervals, id, &ContractInterval::id);
}
const Budget* Timing::find_budget(std::string_view id) const {
    return find_by(budgets, id, &Budget::id);
}
const ClockStudy* Timing::find_clock(std::string_view id) const {
    return find_by(clocks, id, &ClockStudy::id);
}
const Port* Dossier::find_port(std::string_view id) const {
    return find_by(*ports, id, &Port::id);
}
const Cable* Dossier::find_cable(std::string_view id) const {
    return find_by(*cables, id, &Cable::id);
}
const JobUnit* Dossier::find_unit(std::string_view id) const {
    return find_by(*units, id, &JobUnit::id);
}
const CaptureRef* Dossier::find_capture(std::string_view id) const {
    return find_by(*captures, id, &CaptureRef::id);
}

const Pin* Dossier::pin_of(const CaptureRef& capture, std::string_view signal) const {
    const auto* port = find_port(capture.port);
    const auto* tie = capture.find_tie(signal);
    return port == nullptr || tie == nullptr ? nullptr : port->find_pin(tie->pin);
}

std::vector<std::pair<std::string, std::string>> Dossier::names_in(const CaptureRef& capture) const {
    std::vector<std::pair<std::string, std::string>> out(capture.names.begin(), capture.names.end());
    const auto* port = find_port(capture.port);
    if (port == nullptr) return out;
    for (const auto& tie : capture.ties) {
        const auto* pin = port->find_pin(tie.pin);
        if (pin == nullptr || pin->name.value.empty()) continue;
        const bool twice = std::count_if(capture.ties.begin(), capture.ties.end(), [&](const SignalTie& t) {
                               const auto* other = port->find_pin(t.pin);
                               return other != nullptr && other->name.value == pin->name.value;
                           }) > 1;
        if (!twice) out.emplace_back(pin->name.value, tie.signal);
    }
    return out;
}

std::string Dossier::name_of(const CaptureRef& capture, std::string_view signal) const {
    const auto* pin = pin_of(capture, signal);
    if (pin != nullptr && !pin->name.value.empty())
        for (const auto& [name, own] : names_in(capture))
            if (name == pin->name.value) return name;
    const auto dot = signal.rfind('.');
    return std::string(dot == std::string_view::npos ? signal : signal.substr(dot + 1));
}

const BoardPart* Trace::find_part(std::string_view ref) const {
    return find_by(parts, ref, &BoardPart::ref);
}
const Scan* Trace::find_scan(std::string_view id) const {
    return find_by(scans, id, &Scan::id);
}
const NetSource* Trace::find_netlist(std::string_view id) const {
    return find_by(netlists, id, &NetSource::id);
}
const NetSource* Trace::reference() const {
    const auto* chosen = find_netlist(against);
    return chosen != nullptr ? chosen : netlists.empty() ? nullptr : &netlists.front();
}

}  // namespace grayrelic
