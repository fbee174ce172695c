// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/plan/take_relic.hpp"

#include <algorithm>
#include <map>

#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/event_name.hpp"

namespace grayrelic {
namespace {

/// A name of the old dossier to the one it has here; empty for what was not taken.
using Renamed = std::map<std::string, std::string>;

std::string renamed(const Renamed& names, const std::string& old) {
    const auto at = names.find(old);
    return at == names.end() ? std::string() : at->second;
}

template <class File>
void move_outside(File& f, const std::filesystem::path& folder) {
    if (f.outside.empty() && !f.file.empty()) f.outside = (folder / f.file).string();
    f.file.clear();
}

/// An interval typed by hand is of the port when both its ends are lines of it.
bool is_of(const ContractInterval& interval, const Port& port) {
    const auto line = [&](const std::string& text) {
        const auto event = parse_event(text);
        return event && event->moment == EventName::Moment::edge &&
               std::any_of(port.pins.begin(), port.pins.end(),
                           [&](const Pin& p) { return p.name.value == event->edge.signal; });
    };
    return line(interval.from) && line(interval.to);
}

}  // namespace

Result<TakenSide> take_side(const Dossier& from, const std::filesystem::path& folder, const std::string& id,
                            const Dossier& into) {
    const auto* found = from.find_port(id);
    if (found == nullptr)
        return fail_usage("no port " + in_quotes(id) + " in that dossier", "the id of one of its ports");
    TakenSide out{into, {}};
    Port port = *found;
    if (into.find_port(port.id) != nullptr) port.id = free_port_id(into);
    out.port = port.id;
    for (auto& photo : port.photos) move_outside(photo, folder);
    out.dossier = put(out.dossier, port);

    Renamed units, captures;
    for (const auto& c : *from.captures) {
        if (c.port != id) continue;
        auto taken = c;
        taken.port = port.id;
        move_outside(taken, folder);
        if (const auto* unit = from.find_unit(c.unit); unit != nullptr && !units.contains(c.unit)) {
            const auto* same = out.dossier.find_unit(c.unit);
            auto here = *unit;
            if (same == nullptr || !(*same == *unit)) {
                here.id = free_id<JobUnit>(out.dossier, unit->id);
                out.dossier = put(out.dossier, here);
                ++out.units;
            }
            units[c.unit] = here.id;
        }
        if (!c.unit.empty()) taken.unit = renamed(units, c.unit);
        taken.id = free_id<CaptureRef>(out.dossier, c.id);
        captures[c.id] = taken.id;
        out.dossier = put(out.dossier, taken);
        ++out.captures;
    }
    for (const auto& i : from.timing->intervals) {
        auto taken = i;
        taken.also.clear();
        for (const auto& also : i.also)
            if (auto here = renamed(captures, also); !here.empty()) taken.also.push_back(here);
        taken.capture = renamed(captures, i.capture);
        if (taken.capture.empty() && !taken.also.empty()) {
            taken.capture = taken.also.front();
            taken.also.erase(taken.also.begin());
        }
        const bool by_hand = i.capture.empty() && i.also.empty();
        if (taken.capture.empty() && !(by_hand && is_of(i, *found))) continue;
        taken.id = free_id<ContractInterval>(out.dossier, i.id);
        out.dossier = put(out.dossier, taken);
        ++out.intervals;
    }
    return out;
}

}  // namespace grayrelic
