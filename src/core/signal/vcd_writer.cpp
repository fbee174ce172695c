// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/vcd_writer.hpp"

#include <fmt/format.h>

#include <algorithm>

namespace grayrelic {
namespace {

std::string timescale(Time resolution) {
    constexpr std::pair<std::int64_t, const char*> units[] = {
        {1'000'000'000'000, "s"}, {1'000'000'000, "ms"}, {1'000'000, "us"}, {1'000, "ns"}, {1, "ps"}};
    for (const auto& [ps, name] : units)
        if (resolution.count() >= ps) return fmt::format("{} {}", resolution.count() / ps, name);
    return "1 ps";
}

std::string identifier(std::size_t n) {
    std::string id;
    do {
        id += static_cast<char>('!' + n % 94);
        n /= 94;
    } while (n-- > 0);
    return id;
}

struct Change {
    std::int64_t at;
    std::size_t wire;
    char value;
};

}  // namespace

std::string write_vcd(const VcdOutput& output) {
    std::string text = fmt::format("$timescale {} $end\n", timescale(output.resolution));
    if (!output.comment.empty()) text += fmt::format("$comment {} $end\n", output.comment);
    text += fmt::format("$scope module {} $end\n", output.scope);
    for (std::size_t i = 0; i < output.wires.size(); ++i)
        text += fmt::format("$var wire 1 {} {} $end\n", identifier(i), output.wires[i].name);
    text += "$upscope $end\n$enddefinitions $end\n#0\n$dumpvars\n";

    const auto unit = std::max<std::int64_t>(1, output.resolution.count());
    const auto stamp = [&](Time t) { return (t.count() + unit / 2) / unit; };
    std::vector<Change> changes;
    for (std::size_t w = 0; w < output.wires.size(); ++w) {
        const auto& trace = *output.wires[w].trace;
        const bool unknown_first = !trace.unknown().empty() && trace.unknown().front().from <= Time{};
        text += fmt::format("{}{}\n", unknown_first ? 'x' : trace.first_level() ? '1' : '0', identifier(w));
        const auto edges = trace.edges();
        for (std::size_t i = 0; i < edges.size(); ++i)
            if (trace.known_between(edges[i], edges[i] + Time::ps(1)))
                changes.push_back({stamp(edges[i]), w, trace.is_rise(i) ? '1' : '0'});
        for (const auto& span : trace.unknown()) {
            if (span.from > Time{}) changes.push_back({stamp(span.from), w, 'x'});
            if (span.to < output.end)
                changes.push_back({stamp(span.to), w, trace.level_at(span.to) ? '1' : '0'});
        }
    }
    text += "$end\n";
    std::stable_sort(changes.begin(), changes.end(),
                     [](const Change& a, const Change& b) { return a.at < b.at; });
    std::int64_t now = 0;
    for (const auto& c : changes) {
        if (c.at != now) text += fmt::format("#{}\n", now = c.at);
        text += fmt::format("{}{}\n", c.value, identifier(c.wire));
    }
    if (const auto end = stamp(output.end); end > now) text += fmt::format("#{}\n", end);
    return text;
}

}  // namespace grayrelic
