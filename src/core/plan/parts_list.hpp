// SPDX-License-Identifier: GPL-3.0-or-later
// The one parts list of the way to build that was chosen: what its network asks for and what was typed
// beside it, held against the drawer and the orders.
//
//     need  = per board × boards
//     spare = least number with a chance of 90 % of enough good ones, at the part's yield (plan/spares.hpp)
//     order = max(0, need + spare − drawer)
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/base/date.hpp"
#include "core/dossier/dossier.hpp"
#include "core/logic/part_logic.hpp"
#include "core/person/drawer.hpp"

namespace grayrelic {

enum class PartState {
    drawer,     ///< nothing has to be bought
    order,      ///< to be ordered
    undecided,  ///< not to be ordered yet
    ordered,    ///< what is missing is on its way, or here in part
    arrived,    ///< what was missing is here
};
template <>
inline constexpr std::array words_of<PartState>{"drawer", "order", "undecided", "ordered", "arrived"};

struct PartsRow {
    std::string part;
    std::string line;  ///< PartLine::id; empty when only the network asks for it
    PartKind kind = PartKind::other;
    std::vector<std::string> refs;
    bool in_network = false;
    int per_board = 0, need = 0, spare = 0, drawer = 0, order = 0;
    int on_order = 0, arrived = 0;  ///< by the dossier's orders
    PartState state = PartState::drawer;
    std::string question;                                 ///< that decides, while it is undecided
    std::vector<std::pair<std::string, int>> alternates;  ///< and how many of each are in the drawer
    std::optional<int> buy;      ///< the cheapest number that covers `order`; nothing without a price
    std::optional<double> cost;  ///< of these
    std::string supplier;
    std::optional<int> lead_days_from, lead_days_to;
    std::string not_to_be_had;
};

struct PartsList {
    int boards = 0;
    std::vector<PartsRow> rows;     ///< those of the network first, then as they were typed
    std::vector<std::string> gaps;  ///< why parts may be missing from it, for a person
    std::optional<double> cost;     ///< of what is to be ordered, where a price is known
    int without_price = 0;          ///< rows to be ordered that have none
};

/// `logic`: null without the shipped data; networks are not read then.
[[nodiscard]] PartsList parts_list(const Dossier& dossier, const LogicLibrary* logic, const Drawer& drawer);

/// The cheapest way to get at least `count`: so many, and the price. Nothing without a price step.
[[nodiscard]] std::optional<std::pair<int, double>> cheapest(const std::vector<PriceStep>& steps, int count);

/// "1 × 74x165 hct, socket" as parts: number and name, with commas between. Entries without a number are one.
[[nodiscard]] std::vector<PartLine> parts_in_words(std::string_view text);

/// With these lines, each under an id of its own; with `replace`, in place of a line of the same part.
[[nodiscard]] Supply with_parts(Supply supply, std::vector<PartLine> lines, bool replace);
/// What is to be ordered, as orders of that day: one a supplier, expected when its slowest part is. Nothing
/// that is undecided.
[[nodiscard]] std::vector<Order> orders_for(const PartsList& list, const Supply& supply, Day today);

/// "1:0.42 10:0.31": from so many, so much each.
[[nodiscard]] Result<std::vector<PriceStep>> parse_prices(std::string_view text);
[[nodiscard]] std::string print_prices(const std::vector<PriceStep>& steps);
/// "9" or "9-14" days; empty for nothing known.
using LeadDays = std::pair<std::optional<int>, std::optional<int>>;
[[nodiscard]] Result<LeadDays> parse_lead_days(std::string_view text);
[[nodiscard]] std::string print_lead_days(std::optional<int> from, std::optional<int> to);

/// The typed lines as CSV: part, kind, refs, per_board, yield, question, alternates, supplier, prices
/// ("1:0.42 10:0.31"), lead_days ("9-14"), seen, not_to_be_had, note. Refs and alternates with spaces, in the
/// latter with | between. Reading refuses the whole file at the first fault, with its line; columns that are
/// only computed are passed over.
[[nodiscard]] Result<std::vector<PartLine>> parts_from_csv(std::string_view text, const std::string& name);
[[nodiscard]] std::string parts_to_csv(const PartsList& list, const std::vector<PartLine>& lines);

}  // namespace grayrelic
