// SPDX-License-Identifier: GPL-3.0-or-later
#include "live/live_recording.hpp"

#include <fmt/format.h>

#include <arpa/inet.h>
#include <fcntl.h>
#include <netinet/in.h>
#include <poll.h>
#include <sys/socket.h>
#include <sys/stat.h>
#include <unistd.h>
#include <cerrno>
#include <charconv>
#include <chrono>
#include <cstring>
#include <new>

#include "core/base/machine.hpp"
#include "core/base/text.hpp"

namespace grayrelic::live {
namespace {

constexpr std::size_t most_at_once = 1U << 20U;  ///< bytes
constexpr int patience_ms = 30;                  ///< until one looks again whether there is more
constexpr auto between_looks = std::chrono::milliseconds(100);  ///< for the stop condition

std::optional<int> port_of(std::string_view source) {
    for (const std::string_view head : {"port ", "localhost:", "127.0.0.1:"})
        if (source.starts_with(head)) {
            const auto digits = source.substr(head.size());
            int port = 0;
            const auto [p, code] = std::from_chars(digits.data(), digits.data() + digits.size(), port);
            if (code == std::errc{} && p == digits.data() + digits.size() && port > 0 && port < 65536)
                return port;
        }
    return std::nullopt;
}

Result<int> connect_to(int port) {
    const int s = ::socket(AF_INET, SOCK_STREAM | SOCK_CLOEXEC, 0);
    sockaddr_in address{};
    address.sin_family = AF_INET;
    address.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    address.sin_port = htons(static_cast<std::uint16_t>(port));
    if (s < 0 || ::connect(s, reinterpret_cast<sockaddr*>(&address), sizeof address) != 0) {
        const std::string why = std::strerror(errno);
        if (s >= 0) ::close(s);
        return fail_system(fmt::format("port {}", port), why,
                           "a program on this machine that sends a value change dump there");
    }
    return s;
}

bool write_all(int file, std::string_view bytes) {
    while (!bytes.empty()) {
        const auto n = ::write(file, bytes.data(), bytes.size());
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) return false;
        bytes.remove_prefix(static_cast<std::size_t>(n));
    }
    return true;
}

}  // namespace

Result<std::unique_ptr<Recording>> Recording::start(const std::string& source, StopWhen when,
                                                    const std::filesystem::path& copy) {
    const auto text = std::string(trim(source));
    const auto port = port_of(text);
    int descriptor = -1;
    if (port) {
        const auto connected = connect_to(*port);
        if (!connected) return fail(connected.error());
        descriptor = *connected;
    } else {
        descriptor = ::open(text.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);  // a pipe must not hold us up
        struct stat about {};
        if (descriptor < 0)
            return fail_system(text, std::strerror(errno),
                               "a file that is being written, or \"port\" and its number");
        if (::fstat(descriptor, &about) != 0 || !S_ISREG(about.st_mode)) {
            ::close(descriptor);
            return fail_system(text, "no regular file", "a file that is being written");
        }
    }
    int kept = -1;
    if (!copy.empty()) {
        kept = ::open(copy.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0600);
        if (kept < 0) {
            const std::string why = std::strerror(errno);
            ::close(descriptor);
            return fail_system(copy.string(), why, "a file for what comes");
        }
    }
    return std::unique_ptr<Recording>(new Recording(text, descriptor, !port, std::move(when), copy, kept));
}

Recording::Recording(std::string name, int descriptor, bool is_file, StopWhen when,
                     std::filesystem::path copy, int copy_descriptor)
    : name_(std::move(name)),
      descriptor_(descriptor),
      is_file_(is_file),
      copy_path_(std::move(copy)),
      copy_descriptor_(copy_descriptor),
      capture_(name_),
      watch_(std::move(when)) {
    buffer_.resize(most_at_once);
    thread_ = std::thread([this] {
        try {
            run();
        } catch (const std::bad_alloc&) {
            end(State::Phase::failed, fail_memory(name_).value().message());
        }
    });
}

Recording::~Recording() {
    stop();
    ::close(descriptor_);
    if (copy_descriptor_ >= 0) ::close(copy_descriptor_);
}

long Recording::read_some() {
    if (is_file_) {
        const auto n = ::pread(descriptor_, buffer_.data(), buffer_.size(), static_cast<off_t>(offset_));
        if (n > 0) {
            offset_ += static_cast<std::uint64_t>(n);
            return n;
        }
        struct stat about {};
        if (n < 0 || ::fstat(descriptor_, &about) != 0 || static_cast<std::uint64_t>(about.st_size) < offset_)
            return -1;
        std::this_thread::sleep_for(std::chrono::milliseconds(patience_ms));
        return 0;
    }
    pollfd p{descriptor_, POLLIN, 0};
    if (::poll(&p, 1, patience_ms) <= 0) return 0;
    const auto n = ::recv(descriptor_, buffer_.data(), buffer_.size(), 0);
    if (n < 0 && (errno == EINTR || errno == EAGAIN)) return 0;
    return n > 0 ? n : -1;
}

void Recording::end(State::Phase phase, std::string why) {
    const std::lock_guard lock(mutex_);
    if (phase != State::Phase::failed)
        if (const auto done = capture_.finish(); !done)
            phase = State::Phase::failed, why = done.error().message();
    state_.phase = phase;
    state_.why = std::move(why);
    state_.edges = capture_.edge_count();
    state_.extent = capture_.extent();
    state_.has_signals = capture_.has_signals();
    if (!is_file_) ::shutdown(descriptor_, SHUT_RDWR);  // whoever sends need not wait for us
    struct stat about {};
    if (copy_descriptor_ >= 0 && ::fstat(copy_descriptor_, &about) == 0 && about.st_size == 0)
        ::unlink(copy_path_.c_str());  // nothing came, or nothing found room
}

void Recording::run() {
    auto looked = std::chrono::steady_clock::now();
    while (!stop_) {
        const auto n = read_some();
        if (n < 0)
            return end(is_file_ ? State::Phase::failed : State::Phase::ended,
                       is_file_ ? "The file became shorter." : "The source has ended.");
        const std::string_view bytes(buffer_.data(), static_cast<std::size_t>(n));
        if (copy_descriptor_ >= 0 && !write_all(copy_descriptor_, bytes))
            return end(State::Phase::failed,
                       fmt::format("{}: {}", copy_path_.string(), std::strerror(errno)));
        Status done;
        bool reached = false;
        {
            const std::lock_guard lock(mutex_);
            if (n > 0) done = capture_.feed(bytes);
            state_.bytes = capture_.bytes();
            state_.edges = capture_.edge_count();
            state_.extent = capture_.extent();
            state_.has_signals = capture_.has_signals();
            const auto now = std::chrono::steady_clock::now();
            if (done && now - looked >= between_looks) {
                looked = now;
                const auto at_end = watch_.reached(capture_);
                if (!at_end)
                    done = fail(at_end.error());
                else
                    reached = *at_end;
                state_.hit = watch_.hit();
            }
        }
        if (!done) return end(State::Phase::failed, done.error().message());
        if (reached) return end(State::Phase::reached, {});
    }
    end(State::Phase::ended, "Stopped.");
}

State Recording::state() const {
    const std::lock_guard lock(mutex_);
    return state_;
}
Capture Recording::last(Time length, std::size_t most_edges) const {
    const std::lock_guard lock(mutex_);
    return capture_.last(length, most_edges);
}
void Recording::stop() {
    stop_ = true;
    if (thread_.joinable()) thread_.join();
}
Capture Recording::take() {
    stop();
    const std::lock_guard lock(mutex_);
    return capture_.take();
}

}  // namespace grayrelic::live
