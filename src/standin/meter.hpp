// SPDX-License-Identifier: GPL-3.0-or-later
// A bench meter on a board whose nets only it knows, spoken to in SCPI.
//
// *IDN? names it. SIM:PROB "U1.3","J1.4" says where the probes stand; MEAS:RES? answers in ohms, 9.9E37 when
// open; MEAS:CONT? the same. Anything else is an error for SYST:ERR?.
#pragma once

#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

#include "core/base/random.hpp"
#include "core/dossier/trace.hpp"

namespace grayrelic::standin {

class Meter {
  public:
    Meter(const std::vector<Net>& nets, double slips, std::uint64_t seed);
    /// The same board at another pair of probes, with slips of its own.
    [[nodiscard]] Meter another();
    /// The answer to one line without its end; empty when there is none.
    [[nodiscard]] std::string answer(std::string_view line);

  private:
    std::unordered_map<std::string, int> net_;
    double slips_;
    Random random_;
    std::string a_, b_, error_;
};

/// Takes commands from a connected socket and answers them, until the other side is gone or sends a line
/// without end.
void speak_as_meter(int connection, Meter& meter);

}  // namespace grayrelic::standin
