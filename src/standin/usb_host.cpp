// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/usb_host.hpp"

#include <fmt/format.h>

#include <cstdio>
#include <istream>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/input/host.hpp"

namespace grayrelic::standin {

int listen_as_host(const std::vector<std::uint8_t>& bytes, const KeyboardLayout& layout, bool caps, Time poll,
                   std::istream& in, const std::string& name) {
    constexpr std::size_t longest_line = 200'000;
    const auto descriptor = read_descriptor(bytes);
    for (const auto& p : descriptor.problems) fmt::print("descriptor {}\n", printable(p));
    UsbHost host(descriptor, {&layout, caps});
    Time next;
    std::size_t shown = 0;
    long number = 0;
    for (std::string line; std::getline(in, line);) {
        ++number;
        if (trim(line).empty() || trim(line).starts_with('#')) continue;
        auto reports = line.size() > longest_line ? Result<std::vector<TimedReport>>(fail_at(
                                                        name, number, "a very long line", "a report a line"))
                                                  : read_report_dump(line, name, poll);
        if (!reports) {
            auto error = reports.error();
            error.line = number;
            fmt::print(stderr, "{}\n", error.message());
            return 3;
        }
        for (auto& r : *reports) {
            // A line without a time comes one poll behind the last.
            if (line.find(':') == std::string::npos) r.at = next;
            next = r.at + poll;
            host.take(r);
        }
        const auto& view = host.view();
        for (; shown < view.events.size(); ++shown) {
            const auto& e = view.events[shown];
            fmt::print("{:>12}  {:<8} {}\n", print(e.at), word(e.kind), printable(e.says));
        }
        std::fflush(stdout);
    }
    const auto& view = host.view();
    if (!view.text.empty()) fmt::print("typed: {}\n", printable(view.text));
    for (const auto& u : view.stuck) fmt::print("stuck: {}\n", print_usage(u));
    if (view.together > 0)
        fmt::print("{} in which several keys went down: their order is not told\n",
                   plural(static_cast<long long>(view.together), "report", "reports"));
    return view.stuck.empty() && view.troubles == 0 ? 0 : 1;
}

}  // namespace grayrelic::standin
