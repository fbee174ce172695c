// SPDX-License-Identifier: GPL-3.0-or-later
// Port's analysis: what plugging each port wrong does, and what would help. Immutable.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/base/memory.hpp"
#include "core/dossier/dossier.hpp"
#include "core/port/bricks.hpp"
#include "core/port/connector_library.hpp"
#include "core/port/misinsert.hpp"

namespace grayrelic {

/// A port's own plug in its own socket; the port with what its cables tell of it. The cases point into `port`
/// and `connector`.
struct WrongWays {
    Port port;
    Connector connector;
    std::vector<WrongCase> cases;
    std::vector<Remedy> help;
    std::vector<BrickCase> bricks;  ///< of a supply jack: what the usual supplies with that plug do
    WrongWays(Port p, Connector c) : port(std::move(p)), connector(std::move(c)) {}
    WrongWays(const WrongWays&) = delete;
    WrongWays& operator=(const WrongWays&) = delete;
};

struct PortAnalysis {
    std::vector<std::shared_ptr<const WrongWays>> wrong_ways;  ///< of ports whose connector is known
    [[nodiscard]] const WrongWays* find_wrong_ways(std::string_view port) const;
};

/// What is shipped and Port rests on; both there or none.
struct PortData {
    std::shared_ptr<const ConnectorLibrary> connectors;
    std::shared_ptr<const FamilyLibrary> families;
    std::shared_ptr<const SupplyLibrary> supplies;
};

/// Null when interrupted. A port that did not change costs nothing.
[[nodiscard]] std::shared_ptr<const PortAnalysis> analyse_ports(const Dossier& dossier, const PortData& data,
                                                                Memory& memory, MemoryRun& run);

}  // namespace grayrelic
