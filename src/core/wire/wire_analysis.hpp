// SPDX-License-Identifier: GPL-3.0-or-later
// Wire's analysis: the circuit, its links judged, the ribbons it is shown as, its values, and what its parts
// ask of the person who solders them. Immutable.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/electrical/rails_study.hpp"
#include "core/parts/package.hpp"
#include "core/person/person.hpp"
#include "core/wire/bill.hpp"
#include "core/wire/cable_links.hpp"
#include "core/wire/links.hpp"
#include "core/wire/module_pins.hpp"
#include "core/wire/ribbons.hpp"
#include "core/wire/settings.hpp"
#include "core/wire/solder.hpp"
#include "core/wire/value_study.hpp"

namespace grayrelic {

struct OptionCost {
    std::string option;  ///< BuildOption::id
    NetworkBill bill;    ///< of its network and what all share
};

struct WireAnalysis {
    Circuit circuit;
    LinkStudy study;
    std::vector<RibbonRow> ribbons;
    std::vector<ValueStudy> values;  ///< those of the dossier, then those found in the circuit
    std::vector<SolderAdvice> solder;
    RailStudy rails;  ///< the circuit's, and what the dossier says of them
    std::vector<SettingStudy> settings;
    PinStudy pins;
    std::vector<CableLinks> cables;             ///< between ports that the circuit does not know
    std::vector<OptionCost> costs;              ///< of options that have a network
    std::shared_ptr<const LogicLibrary> logic;  ///< whose parts the circuit points at
    [[nodiscard]] const ValueStudy* find_value(std::string_view id) const;
    [[nodiscard]] const OptionCost* find_cost(std::string_view option) const;
    /// The index of a line by its name; nothing when there is none.
    [[nodiscard]] std::optional<std::size_t> find_line(std::string_view name) const;
};

struct WireData {
    std::shared_ptr<const LogicLibrary> logic;
    const FamilyLibrary* families = nullptr;
    const PackageLibrary* packages = nullptr;
    const PartLibrary* parts = nullptr;
};

[[nodiscard]] WireAnalysis analyse_wire(const Dossier& dossier, const WireData& data, const Person& person);

}  // namespace grayrelic
