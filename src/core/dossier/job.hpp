// SPDX-License-Identifier: GPL-3.0-or-later
// What a job owns and orders: its boards and machines, dimensions, and the parts of the bridge.
//
// `extra` members hold fields of newer versions, as in dossier.hpp.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/part_kind.hpp"
#include "core/base/words.hpp"
#include "core/dossier/fact.hpp"

namespace grayrelic {

enum class UnitKind { board, machine };
template <>
inline constexpr std::array words_of<UnitKind>{"board", "machine"};

enum class UnitState {
    original,
    breadboard,
    blank,  ///< an empty board, kept for reference
    built,
    spoken_for,  ///< promised to somebody: not to be taken apart
    dead,
    given,  ///< no longer here
};
template <>
inline constexpr std::array words_of<UnitState>{
    "original", "breadboard", "blank-reference", "built", "spoken-for", "dead", "given"};
/// Nothing can be measured on it any more.
[[nodiscard]] constexpr bool is_retired(UnitState s) {
    return s == UnitState::dead || s == UnitState::given;
}

/// One physical board or machine.
struct JobUnit {
    std::string id;
    std::string name;
    UnitKind kind = UnitKind::board;
    std::optional<int> revision;
    std::string number;  ///< what is written on it
    UnitState state = UnitState::original;
    std::string note;
    std::string extra;
    std::optional<double> worth{};  ///< in money; nothing: not known, and can't be bought again
    bool operator==(const JobUnit&) const = default;
};

/// A length in millimetres.
struct Dimension {
    std::string id;
    std::string name;
    Fact<std::optional<double>> mm;  ///< its uncertainty is the tolerance, plus or minus, in mm
    std::string unit;                ///< JobUnit::id it was taken on; may be empty
    std::string decides;             ///< what fits or does not by it: "socket below the lid"; may be empty
    std::string extra;
    bool operator==(const Dimension&) const = default;
};

struct PriceStep {
    int from = 1;  ///< for so many and more
    double each = 0;
    std::string extra{};
    bool operator==(const PriceStep&) const = default;
};

/// A part of the bridge: what is not known from the chosen option's network, and what is said of a part that
/// is.
struct PartLine {
    std::string id;
    std::string part;  ///< as the drawer calls it: "74x165 hct", "resistor 4k7"
    PartKind kind = PartKind::other;
    std::vector<std::string> refs;      ///< on one board, beside those in the network
    std::optional<int> per_board;       ///< beside those in the network; nothing: as many as refs
    Fact<std::optional<double>> yield;  ///< share of bought ones that will be good, 0 to 1
    std::string question;               ///< what must be answered before it is ordered; empty: decided
    std::string not_to_be_had;          ///< who looked, when; empty while it can be bought
    std::vector<std::string> alternates;
    std::string supplier;
    std::vector<PriceStep> prices;
    std::optional<int> lead_days_from, lead_days_to;
    std::string seen;  ///< the day of price and lead time
    std::string note;
    std::string extra;
    bool operator==(const PartLine&) const = default;
};

struct OrderLine {
    std::string part;
    int count = 1;
    std::string extra{};
    bool operator==(const OrderLine&) const = default;
};

/// A file that was sent with an order.
struct SentFile {
    std::string name;
    std::string sha256;  ///< 64 hexadecimal digits, as sha256sum prints them
    std::string extra{};
    bool operator==(const SentFile&) const = default;
};

struct Order {
    std::string id;
    std::string from;  ///< whom it was ordered from
    std::vector<OrderLine> lines;
    std::vector<SentFile> files;
    std::string ordered;  ///< days; empty while it has not happened
    std::string expected_from, expected_to;
    std::string arrived;
    std::vector<std::string> frees;  ///< what can go on when it is here
    std::string note;
    std::string extra;
    bool operator==(const Order&) const = default;
};

struct Supply {
    int boards = 1;  ///< how many are to be built
    std::vector<PartLine> parts;
    std::vector<Order> orders;
    std::string extra;
    bool operator==(const Supply&) const = default;
};

}  // namespace grayrelic
