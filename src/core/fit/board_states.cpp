// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/board_states.hpp"

#include <fmt/format.h>

#include <algorithm>

namespace grayrelic {

int BoardState::ordered() const {
    int n = 0;
    for (const auto& b : batches) n += !b.ordered.empty() && b.arrived.empty() ? b.count : 0;
    return n;
}
int BoardState::here() const {
    int n = 0;
    for (const auto& b : batches) n += b.arrived.empty() ? 0 : b.count;
    return n;
}
int BoardState::older_here() const {
    int n = 0;
    for (const auto& b : batches) n += !b.arrived.empty() && b.older.value_or(false) ? b.count : 0;
    return n;
}

namespace {

std::string words_for(const BoardState& s) {
    std::string out = s.drawn ? "drawn" : "not drawn yet";
    if (s.ordered() > 0) {
        const auto last = std::find_if(s.batches.rbegin(), s.batches.rend(), [](const BoardBatch& b) {
            return !b.ordered.empty() && b.arrived.empty();
        });
        out = fmt::format("{} ordered {}", s.ordered(), last->ordered);
        if (!last->expected.empty()) out += ", expected " + last->expected;
    } else if (s.drawn && s.here() == 0) {
        out += ", not ordered";
    }
    if (s.here() > 0) out = fmt::format("{} here{}", s.here(), s.ordered() > 0 ? ", " + out : "");
    if (const int older = s.older_here(); older > 0) out += fmt::format(", {} of an older state", older);
    return out;
}

}  // namespace

std::vector<BoardState> board_states(const Dossier& d, const std::map<std::string, std::string>& sha_now) {
    std::vector<BoardState> out;
    for (const auto& b : *d.boards) {
        BoardState s;
        s.id = b.id;
        s.title = b.title.empty() ? b.id : b.title;
        s.drawn = !b.file.empty() || !b.outside.empty();
        const auto now = sha_now.find(b.id);
        for (const auto& o : d.supply->orders)
            for (const auto& line : o.lines) {
                if (line.part != "board " + s.title && line.part != "board " + b.id) continue;
                BoardBatch batch;
                batch.order = o.id;
                batch.count = line.count;
                batch.ordered = o.ordered;
                batch.expected = o.expected_to.empty() ? o.expected_from : o.expected_to;
                batch.arrived = o.arrived;
                if (!o.files.empty()) {
                    batch.file = o.files.front().name;
                    batch.sha256 = o.files.front().sha256;
                    // An order may have been sent with several archives: one of them is this board's.
                    if (now != sha_now.end())
                        batch.older = std::none_of(o.files.begin(), o.files.end(), [&](const SentFile& f) {
                            return f.sha256 == now->second;
                        });
                }
                s.batches.push_back(std::move(batch));
            }
        s.says = words_for(s);
        out.push_back(std::move(s));
    }
    return out;
}

}  // namespace grayrelic
