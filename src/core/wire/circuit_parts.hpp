// SPDX-License-Identifier: GPL-3.0-or-later
// How a circuit is put together: used by circuit*.cpp only.
#pragma once

#include "core/wire/circuit.hpp"

namespace grayrelic {

struct CircuitWork {
    Circuit& c;
    const Dossier& dossier;
    const CircuitData& data;
    [[nodiscard]] const ListedPart& part(std::size_t i) const { return c.network.all[i]; }
    [[nodiscard]] std::optional<int> net_of(const ListedPart& part, const PartPin& pin) const;
    [[nodiscard]] const std::optional<NetSupply>& supply(int net) const {
        return c.nets[static_cast<std::size_t>(net)].supply;
    }
};

/// Contacts with the facts of the port or, through a cable, of the far port.
void add_contacts(CircuitWork& w);
/// Values, and what conducts between two nets.
void add_edges(CircuitWork& w);
/// Which nets are supplies, and what they come from.
void add_supplies(CircuitWork& w);
/// What drives and what reads each net.
void add_ends(CircuitWork& w);
/// What is wrong with it as a circuit.
void add_faults(CircuitWork& w);

}  // namespace grayrelic
