// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/record/dossier_diff.hpp"

#include <fmt/format.h>

#include <map>
#include <set>

#include "core/base/text.hpp"
#include "core/record/dossier_lines.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t longest_summary = 400;

struct Side {
    std::vector<DossierLine> lines;
    std::map<std::string, std::size_t> by_way;  ///< "ports|J1 / pins / 3 / name"
    std::set<std::string> entries;              ///< "ports|J1 / pins / 3"
};

std::string way_of(const DossierLine& line) {
    return line.section + "|" + print(line.path);
}

Side side_of(const Dossier& d) {
    Side out;
    out.lines = dossier_lines(d);
    for (std::size_t i = 0; i < out.lines.size(); ++i) {
        out.by_way.emplace(way_of(out.lines[i]), i);
        // All entries above it too: "J1" holds "J1 / pins / 3".
        std::string way;
        for (const auto& step : out.lines[i].path) {
            way += (way.empty() ? "" : " / ") + step;
            out.entries.insert(out.lines[i].section + "|" + way);
        }
    }
    return out;
}

/// The outermost thing that holds the line and that the other side does not have; empty for none.
std::string missing_thing(const DossierLine& line, const Side& other) {
    if (line.entry.empty()) return {};
    std::string way;
    for (const auto& step : line.path) {
        way += (way.empty() ? "" : " / ") + step;
        if (other.entries.count(line.section + "|" + way) == 0) return way;
        if (way == line.entry) break;
    }
    return {};
}

class Diff {
  public:
    Diff(const Side& a, const Side& b) : a_(a), b_(b) {}
    std::vector<DossierChange> run();

  private:
    void only_in(const Side& one, const Side& other, bool before);
    DossierChange& at(const std::string& section, const std::string& what) {
        return found_.try_emplace({section, what}, DossierChange{section, what, {}, {}}).first->second;
    }
    const Side &a_, &b_;
    std::map<std::pair<std::string, std::string>, DossierChange> found_;
};

void Diff::only_in(const Side& one, const Side& other, bool before) {
    for (const auto& line : one.lines) {
        if (other.by_way.count(way_of(line)) != 0) continue;
        const auto thing = missing_thing(line, other);
        const auto what = thing.empty() ? print(line.path) : thing;
        auto& change = at(line.section, what);
        auto& text = before ? change.before : change.after;
        if (thing.empty()) {
            text = line.value;
            continue;
        }
        const auto inside = print(line.path).substr(std::min(print(line.path).size(), thing.size()));
        const auto name = inside.size() > 3 ? inside.substr(3) + ": " : std::string();
        const auto piece = name + line.value;
        if (!text)
            text = shortened(piece, longest_summary);
        else if (!text->ends_with("…"))
            text = shortened(*text + "; " + piece, longest_summary);
    }
}

std::vector<DossierChange> Diff::run() {
    for (const auto& line : a_.lines) {
        const auto other = b_.by_way.find(way_of(line));
        if (other == b_.by_way.end() || b_.lines[other->second].value == line.value) continue;
        auto& change = at(line.section, print(line.path));
        change.before = line.value;
        change.after = b_.lines[other->second].value;
    }
    only_in(a_, b_, true);
    only_in(b_, a_, false);
    std::vector<DossierChange> out;
    out.reserve(found_.size());
    for (auto& [way, change] : found_) out.push_back(std::move(change));
    return out;
}

}  // namespace

std::vector<DossierChange> diff_dossiers(const Dossier& before, const Dossier& after) {
    const auto a = side_of(before), b = side_of(after);
    return Diff(a, b).run();
}

}  // namespace grayrelic
