// SPDX-License-Identifier: GPL-3.0-or-later
// What flows backwards: every combination of plugs, each source in turn at its lowest while the others are at
// their highest, solved as a network in which a source that is out takes what comes.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/quantity.hpp"
#include "core/electrical/rail_network.hpp"
#include "core/electrical/rails_study.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_in_all_combinations = 6, large_tree = 100;

/// Which sources are in, of each combination.
std::vector<std::set<std::size_t>> combinations(const RailTree& tree) {
    const auto n = tree.sources.size();
    std::vector<std::set<std::size_t>> out;
    const bool large = tree.parts.size() + tree.loads.size() > large_tree;
    if (n <= (large ? most_in_all_combinations / 2 : most_in_all_combinations)) {
        for (std::size_t bits = 1; bits < (1U << n); ++bits) {
            std::set<std::size_t> in;
            for (std::size_t i = 0; i < n; ++i)
                if (((bits >> i) & 1U) != 0) in.insert(i);
            out.push_back(std::move(in));
        }
        return out;
    }
    std::set<std::size_t> all;
    for (std::size_t i = 0; i < n; ++i) {
        out.push_back({i});
        for (std::size_t k = i + 1; k < n; ++k) out.push_back({i, k});
        all.insert(i);
    }
    out.push_back(std::move(all));
    return out;
}

class BackFeedWork {
  public:
    explicit BackFeedWork(const RailTree& tree) : tree_(tree), loads_(load_currents(tree, {})) {}
    std::vector<BackFeed> take() {
        for (const auto& in : combinations(tree_)) add(in);
        return std::move(out_);
    }

  private:
    void add(const std::set<std::size_t>& in);
    void look(const RailCase& at, const std::set<std::size_t>& in, const std::string& when);
    void found(const std::string& when, const std::set<std::size_t>& in, std::string from, std::string to,
               const RailPart& through, bool harms);
    [[nodiscard]] std::optional<double> limit_of(const std::set<std::size_t>& in,
                                                 const std::string& to) const;

    const RailTree& tree_;
    LoadCurrents loads_;
    std::vector<BackFeed> out_;
    std::set<std::string> seen_;
};

void BackFeedWork::add(const std::set<std::size_t>& in) {
    RailCase at;
    at.sinks = true;
    std::string when;
    for (std::size_t i = 0; i < tree_.sources.size(); ++i) {
        const bool is_in = in.count(i) > 0;
        if (!is_in) at.off.insert(tree_.sources[i].name);
        when += fmt::format("{}{} {}", when.empty() ? "" : ", ", tree_.sources[i].name, is_in ? "in" : "out");
    }
    look(at, in, when);
    at.corner = Corner::most;
    look(at, in, when);
    for (const auto i : in) {
        at.of_source = {{tree_.sources[i].name, Corner::least}};
        look(at, in, when);
    }
}

void BackFeedWork::look(const RailCase& at, const std::set<std::size_t>& in, const std::string& when) {
    const auto s = solve_rails(tree_, at, loads_);
    for (std::size_t i = 0; i < tree_.parts.size(); ++i) {
        const auto& p = tree_.parts[i];
        if (s.part_a[i] < -least_back_a) {
            // More than the leakage that makes a lifted rail seen: something there takes it.
            const double leakage = s.volts.at(p.to) / rail_leak_ohm * static_cast<double>(s.volts.size());
            found(when, in, p.to, p.from, p, -s.part_a[i] > 1.01 * leakage);
            continue;
        }
        // Forward into a source that is out or lower.
        for (std::size_t k = 0; k < tree_.sources.size(); ++k) {
            if (tree_.sources[k].name != p.to || s.part_a[i] <= least_back_a) continue;
            const bool out = in.count(k) == 0;
            if (out || s.source_a[k] < -least_back_a) found(when, in, p.from, p.to, p, true);
        }
    }
}

/// The most that the sources that are in may give together, where each has a limit.
std::optional<double> BackFeedWork::limit_of(const std::set<std::size_t>& in, const std::string& to) const {
    double sum = 0;
    for (const auto i : in) {
        if (tree_.sources[i].name == to) continue;
        if (!tree_.sources[i].limit_a) return std::nullopt;
        sum += *tree_.sources[i].limit_a;
    }
    return sum > 0 ? std::optional(sum) : std::nullopt;
}

void BackFeedWork::found(const std::string& when, const std::set<std::size_t>& in, std::string from,
                         std::string to, const RailPart& through, bool harms) {
    if (!seen_.insert(when + '\n' + from + '\n' + to + '\n' + through.ref).second) return;
    BackFeed b;
    b.when = when;
    b.through = through.ref;
    b.most_a = limit_of(in, to);
    b.verdict = harms ? Verdict::stop : Verdict::doubt;
    const auto* source = tree_.find_source(to);
    const auto bound = b.most_a ? fmt::format(", up to {}", print_number(*b.most_a, Unit::ampere))
                                : std::string(", bounded by nothing that is said");
    if (source != nullptr)
        b.why = fmt::format("{} feeds {} backwards through {}{}.", from, to, through.ref, harms ? bound : "");
    else
        b.why = fmt::format("{} lifts {}, the input of {}, from behind{}.", from, to, through.ref,
                            harms ? bound : "; nothing there takes current");
    if (through.assumed) {
        b.verdict = Verdict::doubt;
        b.why += fmt::format(" {} is {}.", through.ref, through.place.because);
        b.todo = fmt::format(
            "Look it up, or measure {} while only {} is fed: 0 V means that it is kept apart.", to, from);
        b.from = std::move(from);
        b.to = std::move(to);
        out_.push_back(std::move(b));
        return;
    }
    b.todo = source != nullptr
                 ? fmt::format("Put a diode or a switch that blocks both ways between {} and {}.", to, from)
                 : fmt::format(
                       "Put a diode before {}, or one from its output to its input if its sheet asks for it.",
                       through.ref);
    b.from = std::move(from);
    b.to = std::move(to);
    out_.push_back(std::move(b));
}

}  // namespace

std::vector<BackFeed> back_feed(const RailTree& tree) {
    // Where no two feeds meet nothing can flow backwards.
    std::set<std::string> fed;
    for (const auto& s : tree.sources) fed.insert(s.name);
    const bool meet = std::any_of(tree.parts.begin(), tree.parts.end(),
                                  [&](const auto& p) { return !fed.insert(p.to).second; });
    if (!meet) return {};
    return BackFeedWork(tree).take();
}

}  // namespace grayrelic
