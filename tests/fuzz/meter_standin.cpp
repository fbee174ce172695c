// SPDX-License-Identifier: GPL-3.0-or-later
// The meter's stand-in, spoken to over a socket: it answers in lines, and what it answers to a measurement is
// a reading.
#include <sys/socket.h>
#include <unistd.h>

#include "core/base/text.hpp"
#include "core/trace/meter.hpp"
#include "standin/meter.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    standin::Meter meter({{"A", {"U1.1", "U2.2"}}, {"B", {"U1.2", "U3.4"}}}, size % 2 == 0 ? 0.0 : 0.3, size);
    for (const auto line : split(fuzz::text_of(data, size), '\n')) {
        const auto answer = meter.answer(line);
        if (answer.find('\n') != std::string::npos) std::abort();
        if (!answer.empty() && (answer[0] == '+' || answer[0] == '-') &&
            answer.find(',') == std::string::npos && !parse_meter_answer(answer))
            std::abort();
    }
    // All that is said and answered must fit into the socket: nobody reads meanwhile.
    if (size > 4000) return 0;
    int ends[2];
    if (::socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0, ends) != 0) std::abort();
    if (::write(ends[0], data, size) != static_cast<ssize_t>(size)) std::abort();
    ::shutdown(ends[0], SHUT_WR);
    auto other = meter.another();
    standin::speak_as_meter(ends[1], other);
    ::close(ends[1]);
    ::close(ends[0]);
    return 0;
}
