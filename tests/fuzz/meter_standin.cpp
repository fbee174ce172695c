// SPDX-License-Identifier: GPL-3.0-or-later
// The meter's stand-in, spoken to over its connection: it answers in lines, and what it answers to a
// measurement is a reading.
#include <arpa/inet.h>
#include <netinet/in.h>
#include <sys/socket.h>
#include <unistd.h>

#include <future>
#include <thread>

#include "core/base/text.hpp"
#include "core/trace/meter.hpp"
#include "standin/meter_server.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

namespace {

/// A connection to one stand-in that serves the whole run.
int call() {
    static const int port = [] {
        std::promise<int> bound;
        auto when = bound.get_future();
        std::thread([&bound] {
            static standin::Meter meter({{"A", {"U1.1", "U2.2"}}, {"B", {"U1.2", "U3.4"}}}, 0.1, 1);
            (void)standin::serve_meter(meter, 0, [&](int p) { bound.set_value(p); });
        }).detach();
        return when.get();
    }();
    const int line = ::socket(AF_INET, SOCK_STREAM | SOCK_CLOEXEC, 0);
    sockaddr_in address{};
    address.sin_family = AF_INET;
    address.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    address.sin_port = htons(static_cast<std::uint16_t>(port));
    if (line < 0 || ::connect(line, reinterpret_cast<sockaddr*>(&address), sizeof address) != 0) std::abort();
    return line;
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    standin::Meter meter({{"A", {"U1.1", "U2.2"}}, {"B", {"U1.2", "U3.4"}}}, size % 2 == 0 ? 0.0 : 0.3, size);
    for (const auto line : split(fuzz::text_of(data, size), '\n')) {
        const auto answer = meter.answer(line);
        if (answer.find('\n') != std::string::npos) std::abort();
        if (!answer.empty() && (answer[0] == '+' || answer[0] == '-') &&
            answer.find(',') == std::string::npos && !parse_meter_answer(answer))
            std::abort();
    }
    const int line = call();
    for (std::size_t at = 0; at < size;) {
        const auto n = ::send(line, data + at, size - at, MSG_NOSIGNAL);
        if (n <= 0) break;  // it hangs up on lines that do not end
        at += static_cast<std::size_t>(n);
    }
    ::shutdown(line, SHUT_WR);
    char bytes[4096];
    while (::read(line, bytes, sizeof bytes) > 0) {
    }
    ::close(line);
    return 0;
}
