// SPDX-License-Identifier: GPL-3.0-or-later
// A cable's wires as links: the two ports that it joins are a circuit of their own, judged like the bridge's.
// A cable that ends at a port of the bridge's circuit is judged there, and not here.
#pragma once

#include <string>
#include <vector>

#include "core/wire/links.hpp"

namespace grayrelic {

struct CableLinks {
    std::string cable;  ///< Cable::id
    Circuit circuit;
    LinkStudy study;
    /// Of each line the wires it consists of, index into Cable::wires.
    std::vector<std::vector<std::size_t>> wires;
};

/// Of all cables between two recorded ports that no port of `bridge` is the modern end of.
[[nodiscard]] std::vector<CableLinks> study_cables(const Dossier& dossier, const Circuit& bridge,
                                                   const CircuitData& data);

}  // namespace grayrelic
