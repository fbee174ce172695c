// SPDX-License-Identifier: GPL-3.0-or-later
// Writes a value change dump (IEEE 1364-2005, clause 18). No date and no version, so equal input gives equal
// bytes.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/signal/trace.hpp"

namespace grayrelic {

struct VcdOutput {
    struct Wire {
        std::string name;  ///< without blanks
        std::shared_ptr<const DigitalTrace> trace;
    };
    std::string scope = "capture";
    std::string comment;  ///< one line, may be empty
    std::vector<Wire> wires;
    Time end;                       ///< the last time stamp
    Time resolution = Time::ns(1);  ///< 1, 10 or 100 times a unit; times are rounded to it
};

[[nodiscard]] std::string write_vcd(const VcdOutput& output);

}  // namespace grayrelic
