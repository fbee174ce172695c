// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/logic_stream.hpp"

#include <fmt/format.h>

#include <fcntl.h>
#include <sys/socket.h>
#include <unistd.h>
#include <algorithm>
#include <cerrno>
#include <chrono>
#include <cstring>
#include <thread>

#include "standin/loopback_server.hpp"

namespace grayrelic::standin {
namespace {

constexpr auto slice = std::chrono::milliseconds(20);

/// Slice after slice to `send`, which gives false when nobody listens any more.
template <class Send>
void run(LogicStream& stream, const StreamPace& pace, Send send) {
    using Clock = std::chrono::steady_clock;
    if (!send(stream.definitions())) return;
    const auto begun = Clock::now();
    std::string text;
    for (long n = 1;; ++n) {
        std::this_thread::sleep_until(begun + n * slice);
        // By the clock, not by the count: a slice that came late brings what it missed.
        double recorded = std::chrono::duration<double>(Clock::now() - begun).count() * pace.speed;
        const bool last = pace.seconds > 0 && recorded >= pace.seconds;
        if (last) recorded = pace.seconds;
        text.clear();
        stream.changes(Time::from_seconds(recorded), text);
        if (last) text += fmt::format("#{}\n", std::llround(recorded * 1e9));
        if (!send(text) || last) return;
    }
}

/// A dump's identifier: printable characters from "!" on.
std::string code_of(std::size_t n) {
    std::string out;
    do {
        out += static_cast<char>('!' + n % 94);
        n /= 94;
    } while (n > 0);
    return out;
}

bool send_all(int connection, std::string_view text) {
    while (!text.empty()) {
        const auto n = ::send(connection, text.data(), text.size(), MSG_NOSIGNAL);
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) return false;
        text.remove_prefix(static_cast<std::size_t>(n));
    }
    return true;
}

}  // namespace

LogicStream::LogicStream(const Capture& capture) {
    const auto ns = [&](Time t) { return (t - capture.extent.from).count() / 1000; };
    for (const auto& s : capture.signals) {
        if (!s.digital) continue;
        const auto number = static_cast<std::uint32_t>(names_.size());
        names_.push_back(short_name(s.name));
        codes_.push_back(code_of(number));
        events_.push_back({0, number, s.digital->first_level()});
        const auto edges = s.digital->edges();
        for (std::size_t i = 0; i < edges.size(); ++i)
            events_.push_back({ns(edges[i]), number, s.digital->is_rise(i)});
    }
    std::stable_sort(events_.begin(), events_.end(),
                     [](const Event& a, const Event& b) { return a.at_ns < b.at_ns; });
    round_ns_ = std::max<std::int64_t>(ns(capture.extent.to), events_.empty() ? 1 : events_.back().at_ns + 1);
    now_.assign(names_.size(), '?');
}

std::string LogicStream::definitions() const {
    std::string out = "$timescale 1 ns $end\n$scope module live $end\n";
    for (std::size_t i = 0; i < names_.size(); ++i)
        out += fmt::format("$var wire 1 {} {} $end\n", codes_[i], names_[i]);
    return out + "$upscope $end\n$enddefinitions $end\n";
}

void LogicStream::changes(Time until, std::string& out) {
    if (events_.empty()) return;
    for (const auto end = until.count() / 1000;;) {
        if (next_ == events_.size()) {
            next_ = 0;
            base_ns_ += round_ns_;
        }
        const auto& e = events_[next_];
        const auto at = base_ns_ + e.at_ns;
        if (at > end) return;
        ++next_;
        const char level = e.level ? '1' : '0';
        if (now_[e.signal] == level) continue;
        if (now_[e.signal] != '?') ++edges_;
        now_[e.signal] = level;
        if (at != stamped_ns_) {
            stamped_ns_ = at;
            const fmt::format_int digits(at);
            out += '#';
            out.append(digits.data(), digits.size());
            out += '\n';
        }
        out += level;
        out += codes_[e.signal];
        out += '\n';
    }
}

Status serve_logic(const std::function<LogicStream()>& make, int port, const StreamPace& pace,
                   const std::function<void(int)>& ready) {
    return serve_loopback(port, ready, [&](int connection) {
        auto stream = make();
        run(stream, pace, [&](std::string_view text) { return send_all(connection, text); });
    });
}

Status write_logic(LogicStream stream, const std::filesystem::path& path, const StreamPace& pace) {
    const int file = ::open(path.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0644);
    if (file < 0) return fail_system(path.string(), std::strerror(errno), "a file that can be written");
    Status done;
    run(stream, pace, [&](std::string_view text) {
        while (!text.empty()) {
            const auto n = ::write(file, text.data(), text.size());
            if (n < 0 && errno == EINTR) continue;
            if (n <= 0) {
                done = fail_system(path.string(), std::strerror(errno), "room for the recording");
                return false;
            }
            text.remove_prefix(static_cast<std::size_t>(n));
        }
        return true;
    });
    ::close(file);
    return done;
}

}  // namespace grayrelic::standin
