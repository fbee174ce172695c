// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/record/revisions.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <map>
#include <set>

namespace grayrelic {
namespace {

ComplaintState state_of(const Complaint& c) {
    ComplaintState out;
    out.complaint = &c;
    const auto check =
        c.check.empty() ? std::string("say what would show that it is gone") : "check it: " + c.check;
    if (c.is_closed()) {
        out.verdict = Verdict::holds;
        return out;
    }
    if (c.kind != ComplaintKind::complaint) {
        out.step = c.kind == ComplaintKind::idea ? "parked" : c.check.empty() ? "open" : "open: " + c.check;
        return out;
    }
    if (!c.change.empty() && c.changed_in) {
        out.verdict = Verdict::doubt;
        out.step = check;
        return out;
    }
    out.verdict = Verdict::stop;
    out.step = c.cause.empty()    ? "find the cause"
               : c.change.empty() ? "decide on a change"
                                  : "say which revision has it";
    return out;
}

std::optional<int> as_revision(const std::string& text) {
    int value = 0;
    const auto* end = text.data() + text.size();
    const auto [at, fault] = std::from_chars(text.data(), end, value);
    return fault == std::errc() && at == end ? std::optional(value) : std::nullopt;
}

}  // namespace

std::vector<ComplaintState> complaint_states(const JobLog& log) {
    std::vector<ComplaintState> out;
    out.reserve(log.complaints.size());
    for (const auto& c : log.complaints) out.push_back(state_of(c));
    return out;
}

bool is_of_design(std::string_view key) {
    for (const auto* kind : {"swapped:", "mirrored:", "missing:", "supply:"})
        if (key.starts_with(kind)) return true;
    return false;
}

std::vector<BodgeState> bodge_states(const Dossier& d) {
    std::vector<BodgeState> out;
    for (const auto& b : d.log->bodges)
        out.push_back({"bodge:" + b.id, b.unit, b.what, b.day, b.carried, b.left_out});
    for (const auto& unit : *d.builds)
        for (const auto& f : unit.found) {
            if (!is_of_design(f.fault)) continue;
            BodgeState state{"found:" + unit.id + "/" + f.fault, unit.id, f.fault, f.day, {}, {}};
            for (const auto& c : d.log->complaints)
                if (c.unit == unit.id && c.cause.find(f.fault) != std::string::npos) state.carried = c.id;
            // One of the log about the same unit that names it says the same.
            const bool said = std::any_of(d.log->bodges.begin(), d.log->bodges.end(), [&](const Bodge& b) {
                return b.unit == unit.id && b.what.find(f.fault) != std::string::npos;
            });
            if (!said) out.push_back(std::move(state));
        }
    return out;
}

std::optional<int> last_revision(const Dossier& d) {
    std::optional<int> last;
    const auto take = [&](std::optional<int> r) {
        if (r && (!last || *r > *last)) last = r;
    };
    for (const auto& r : d.log->revisions) take(as_revision(r.id));
    for (const auto& u : *d.units)
        if (u.kind == UnitKind::board) take(u.revision);
    return last;
}

std::vector<UselessStock> useless_stock(const Dossier& d, const PartsList& parts) {
    struct Bought {
        int count = 0;
        std::string name;
    };
    std::map<std::string, Bought> bought;
    for (const auto& o : d.supply->orders)
        for (const auto& line : o.lines) {
            if (o.ordered.empty()) continue;
            auto& b = bought[part_key(line.part)];
            b.count += line.count;
            b.name = line.part;
        }
    std::set<std::string> needed;
    for (const auto& row : parts.rows)
        if (row.need > 0) needed.insert(part_key(row.part));
    std::vector<UselessStock> out;
    for (const auto& [key, b] : bought) {
        if (needed.count(key) != 0) continue;  // more than is needed is a spare, not a loss
        UselessStock stock{b.name, b.count, {}, "the parts list does not have it any more"};
        for (const auto& line : d.supply->parts)
            if (part_key(line.part) == key)
                for (const auto& step : line.prices)
                    if (step.from <= b.count) stock.money = step.each * b.count;
        out.push_back(std::move(stock));
    }
    const auto last = last_revision(d);
    std::map<int, int> blanks;
    for (const auto& u : *d.units)
        if (u.kind == UnitKind::board && u.state == UnitState::blank && u.revision && last &&
            *u.revision < *last)
            ++blanks[*u.revision];
    for (const auto& [revision, count] : blanks)
        if (count > 1)  // one stays for reference
            out.push_back({fmt::format("empty board, revision {}", revision),
                           count - 1,
                           {},
                           fmt::format("revision {} took its place, and one stays for reference", *last)});
    return out;
}

}  // namespace grayrelic
