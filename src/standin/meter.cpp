// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/meter.hpp"

#include <fmt/format.h>

#include <sys/socket.h>
#include <unistd.h>

#include <utility>

#include "core/base/text.hpp"

namespace grayrelic::standin {
namespace {

constexpr std::size_t longest_line = 1024;

std::string upper(std::string_view text) {
    std::string out(text);
    for (auto& c : out)
        if (c >= 'a' && c <= 'z') c = static_cast<char>(c - 'a' + 'A');
    return out;
}

}  // namespace

Meter::Meter(const std::vector<Net>& nets, double slips, std::uint64_t seed) : slips_(slips), random_(seed) {
    for (std::size_t n = 0; n < nets.size(); ++n)
        for (const auto& p : nets[n].points) net_[p] = static_cast<int>(n);
}

Meter Meter::another() {
    Meter out = *this;
    out.a_.clear(), out.b_.clear(), out.error_.clear();
    out.random_ = Random(random_.next());
    return out;
}

std::string Meter::answer(std::string_view line) {
    const auto text = trim(line);
    const auto command = upper(text);
    if (command.empty()) return {};
    if (command == "*IDN?") return "GRAY RELIC,METER STAND-IN,0,1";
    if (command == "SYST:ERR?")
        return error_.empty() ? "0,\"No error\"" : fmt::format("-200,\"{}\"", std::exchange(error_, {}));
    if (command.starts_with("SIM:PROB")) {
        const auto first = text.find('"'), second = text.find('"', first + 1);
        const auto third = text.find('"', second + 1), fourth = text.find('"', third + 1);
        if (first == std::string_view::npos || second == std::string_view::npos ||
            third == std::string_view::npos || fourth == std::string_view::npos) {
            error_ = "expected two points in quotes";
            return {};
        }
        a_ = text.substr(first + 1, second - first - 1);
        b_ = text.substr(third + 1, fourth - third - 1);
        return {};
    }
    if (command == "MEAS:RES?" || command == "MEAS:CONT?") {
        const auto x = net_.find(a_), y = net_.find(b_);
        bool joined = x != net_.end() && y != net_.end() && x->second == y->second;
        if (slips_ > 0 && random_.uniform() < slips_) joined = !joined;
        return joined ? fmt::format("{:+.4E}", 0.08 + 0.3 * random_.uniform()) : "+9.9E+37";
    }
    error_ = "no such command";
    return {};
}

void speak_as_meter(int connection, Meter& meter) {
    std::string pending;
    char bytes[512];
    for (;;) {
        const auto n = ::read(connection, bytes, sizeof bytes);
        if (n <= 0) return;
        pending.append(bytes, static_cast<std::size_t>(n));
        for (auto end = pending.find('\n'); end != std::string::npos; end = pending.find('\n')) {
            auto line = pending.substr(0, end);
            pending.erase(0, end + 1);
            if (!line.empty() && line.back() == '\r') line.pop_back();
            auto answer = meter.answer(line);
            if (answer.empty()) continue;
            answer += '\n';
            if (::send(connection, answer.data(), answer.size(), MSG_NOSIGNAL) < 0) return;
        }
        if (pending.size() > longest_line) return;
    }
}

}  // namespace grayrelic::standin
