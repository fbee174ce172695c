// SPDX-License-Identifier: GPL-3.0-or-later
// Two pin tables of one connector held against each other: where they agree, where they contradict, and
// whether they would agree if one of them was read mirrored, turned, renumbered or shifted.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/dossier/port.hpp"
#include "core/port/connector.hpp"
#include "core/port/signal_names.hpp"

namespace grayrelic {

enum class Agreement { agree, contradict, only_first, only_second, neither };
[[nodiscard]] std::string_view word(Agreement a);

/// One fact that both give differently.
struct FieldDifference {
    std::string field;  ///< key of pin_fields()
    std::string first;
    std::string second;
};

struct PinComparison {
    std::string number;
    Agreement agreement = Agreement::neither;
    std::string first;  ///< names
    std::string second;
    std::vector<FieldDifference> differences;
};

/// A way to read the second table.
struct TableInterpretation {
    enum class Kind { straight, mirrored, rotated, renumbered, shifted };
    Kind kind = Kind::straight;
    std::string how;     ///< "mirrored left to right", "numbered row after row"
    double match = 0.0;  ///< share of the names that agree then, 0 to 1
    long matched = 0;
    long compared = 0;                         ///< pins that both name, at most
    std::map<std::string, std::string> moves;  ///< from the second table's number to the place it means
};

struct TableComparison {
    std::vector<PinComparison> pins;  ///< in the connector's order, else the tables'
    long agree = 0;
    long contradict = 0;
    long only_first = 0;
    long only_second = 0;
    TableInterpretation straight;
    TableInterpretation mirrored, rotated, renumbered, shifted;  ///< the best of each kind
    /// The interpretation that explains most; straight unless another one matches clearly more (by a fifth or
    /// more of the names).
    [[nodiscard]] const TableInterpretation& best() const;
};

/// Without a connector the pins are taken as one row in the order of the first table, and for renumbering as
/// two rows when their number is even.
[[nodiscard]] TableComparison compare_tables(const std::vector<Pin>& first, const std::vector<Pin>& second,
                                             const Connector* connector = nullptr,
                                             const std::string& numbering = {});

/// The second table as read in that way: each pin at the place it means.
[[nodiscard]] std::vector<Pin> read_as(const std::vector<Pin>& pins, const TableInterpretation& way);

/// Takes one pin of a source over into the port. What the port said before is kept as the source "earlier".
[[nodiscard]] Port accept_pin(const Port& port, const PinSource& source, const std::string& number);

}  // namespace grayrelic
