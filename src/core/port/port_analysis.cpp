// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/port/port_analysis.hpp"

#include <algorithm>

#include "core/port/cable.hpp"

namespace grayrelic {
namespace {

struct OwnWays {
    std::shared_ptr<const WrongWays> ways;  ///< null when the connector is not known
};

OwnWays own_ways(const Port& port, const PortData& data) {
    auto connector = data.connectors->find(port.connector);
    if (!connector) return {};
    auto ways = std::make_shared<WrongWays>(port, std::move(*connector));
    const Face face{&ways->connector, ways->port.numbering, &ways->port.pins, ways->port.side};
    ways->cases = wrong_cases(face, face, *data.families);
    ways->help = remedies(face, face, *data.families, ways->cases, ways->port.side == Side::modern);
    if (data.supplies) ways->bricks = try_bricks(ways->port, ways->connector, *data.supplies, *data.families);
    return {ways};
}

}  // namespace

const WrongWays* PortAnalysis::find_wrong_ways(std::string_view id) const {
    const auto it =
        std::find_if(wrong_ways.begin(), wrong_ways.end(), [&](const auto& w) { return w->port.id == id; });
    return it == wrong_ways.end() ? nullptr : it->get();
}

std::shared_ptr<const PortAnalysis> analyse_ports(const Dossier& dossier, const PortData& data,
                                                  Memory& memory, MemoryRun& run) {
    std::vector<std::shared_ptr<const WrongWays>> all;
    if (data.connectors && data.families)
        for (const auto& plain : *dossier.ports) {
            const auto port = known_through_cables(plain, dossier, *data.connectors);
            const auto own =
                memory.recall<OwnWays>(run, "wrong ways " + port.id, std::tuple(port, data.connectors), 1,
                                       [port, data](Progress& progress) -> Result<OwnWays> {
                                           auto made = own_ways(port, data);
                                           if (progress.cancelled()) return fail_cancelled();
                                           return made;
                                       });
            if (!own) return nullptr;
            if (own->ways) all.push_back(own->ways);
        }
    return memory.recall_here<PortAnalysis>(run, "port", all, [&] { return PortAnalysis{all}; });
}

}  // namespace grayrelic
