// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/loopback_server.hpp"

#include <arpa/inet.h>
#include <netinet/in.h>
#include <sys/socket.h>
#include <unistd.h>
#include <atomic>
#include <cerrno>
#include <chrono>
#include <cstring>
#include <thread>

namespace grayrelic::standin {
namespace {

constexpr int most_clients = 16;  ///< at a time; one more is turned away

}  // namespace

Status serve_loopback(int port, const std::function<void(int)>& ready, const std::function<void(int)>& talk) {
    const int listener = ::socket(AF_INET, SOCK_STREAM | SOCK_CLOEXEC, 0);
    const auto failed = [&](const char* what) {
        return fail_system("port " + std::to_string(port), std::string(what) + ": " + std::strerror(errno),
                           "a free port on the loopback");
    };
    if (listener < 0) return failed("no socket");
    const int yes = 1;
    ::setsockopt(listener, SOL_SOCKET, SO_REUSEADDR, &yes, sizeof yes);
    sockaddr_in address{};
    address.sin_family = AF_INET;
    address.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    address.sin_port = htons(static_cast<std::uint16_t>(port));
    if (::bind(listener, reinterpret_cast<sockaddr*>(&address), sizeof address) != 0 ||
        ::listen(listener, most_clients) != 0) {
        auto error = failed("can't listen");
        ::close(listener);
        return error;
    }
    socklen_t size = sizeof address;
    ::getsockname(listener, reinterpret_cast<sockaddr*>(&address), &size);
    ready(ntohs(address.sin_port));
    std::atomic<int> talking{0};
    for (;;) {
        const int connection = ::accept(listener, nullptr, nullptr);
        if (connection < 0) {
            if (errno == EINTR) continue;
            break;
        }
        if (talking >= most_clients) {
            ::close(connection);
            continue;
        }
        ++talking;
        std::thread([&talk, &talking, connection] {
            talk(connection);
            ::close(connection);
            --talking;
        }).detach();
    }
    ::close(listener);
    while (talking > 0) std::this_thread::sleep_for(std::chrono::milliseconds(10));  // they use what is ours
    return {};
}

}  // namespace grayrelic::standin
