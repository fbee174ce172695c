// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/port/plugged_paths.hpp"

#include <algorithm>
#include <cmath>

namespace grayrelic::plugged {
namespace {

int tail(const Branch& b) {
    return b.amps >= 0 ? b.a : b.b;
}
int head(const Branch& b) {
    return b.amps >= 0 ? b.b : b.a;
}

/// The branch with the largest current out of (or into) a node; none: the number of branches.
std::size_t largest(const Network& n, int node, bool out, const std::vector<std::size_t>& used) {
    std::size_t best = n.branches.size();
    double most = 1e-9;
    for (std::size_t i = 0; i < n.branches.size(); ++i) {
        const auto& b = n.branches[i];
        if ((out ? tail(b) : head(b)) != node || std::abs(b.amps) <= most) continue;
        if (std::find(used.begin(), used.end(), i) != used.end()) continue;
        most = std::abs(b.amps);
        best = i;
    }
    return best;
}

/// Adds a station; "A (socket), low" takes the place of "A (socket)".
void add(std::vector<std::string>& stations, const std::string& next) {
    if (next.empty()) return;
    if (!stations.empty()) {
        auto& last = stations.back();
        if (last == next || last.starts_with(next + ",")) return;
        if (next.starts_with(last + ",")) {
            last = next;
            return;
        }
    }
    stations.push_back(next);
}

}  // namespace

bool Path::has(const Network& n, Branch::Kind kind) const {
    return find(n, kind) != nullptr;
}

const Branch* Path::find(const Network& n, Branch::Kind kind) const {
    for (const auto i : branches)
        if (n.branches[i].kind == kind) return &n.branches[i];
    return nullptr;
}

Path path_through(const Network& n, const PluggedCase& c, std::size_t branch) {
    Path out;
    out.branches = {branch};
    constexpr std::size_t longest = 40;
    for (int node = tail(n.branches[branch]); node != DcNetwork::ground && out.branches.size() < longest;) {
        const auto i = largest(n, node, false, out.branches);
        if (i == n.branches.size()) break;
        out.branches.insert(out.branches.begin(), i);
        node = tail(n.branches[i]);
    }
    for (int node = head(n.branches[branch]); node != DcNetwork::ground && out.branches.size() < longest;) {
        const auto i = largest(n, node, true, out.branches);
        if (i == n.branches.size()) break;
        out.branches.push_back(i);
        node = head(n.branches[i]);
    }
    std::vector<std::string> stations;
    for (const auto i : out.branches) {
        const auto& b = n.branches[i];
        if (b.kind != Branch::Kind::touch) {
            add(stations, b.says);
            continue;
        }
        out.touches.push_back(b.terminal);
        const auto& t = c.touches[b.terminal];
        const auto upper = called(c.socket, c.socket.terminals[t.socket]),
                   lower = called(c.plug, c.plug.terminals[t.plug]);
        add(stations, b.amps >= 0 ? upper : lower);
        add(stations, b.amps >= 0 ? lower : upper);
    }
    for (const auto& s : stations) out.text += (out.text.empty() ? "" : " → ") + s;
    return out;
}

}  // namespace grayrelic::plugged
