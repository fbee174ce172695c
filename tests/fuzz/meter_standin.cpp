// SPDX-License-Identifier: GPL-3.0-or-later
// The commands that the meter's stand-in takes, line by line; what it answers to a measurement is a reading.
#include "core/base/text.hpp"
#include "core/trace/meter.hpp"
#include "standin/meter_server.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    standin::Meter meter({{"A", {"U1.1", "U2.2"}}, {"B", {"U1.2", "U3.4"}}}, size % 2 == 0 ? 0.0 : 0.3, size);
    for (const auto line : split(fuzz::text_of(data, size), '\n')) {
        const auto answer = meter.answer(line);
        if (answer.find('\n') != std::string::npos) std::abort();
        if (!answer.empty() && (answer[0] == '+' || answer[0] == '-') && answer.find(',') == std::string::npos &&
            !parse_meter_answer(answer))
            std::abort();
    }
    return 0;
}
