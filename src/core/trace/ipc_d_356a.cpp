// SPDX-License-Identifier: GPL-3.0-or-later
// IPC-D-356A, "Bare Substrate Electrical Test Data Format", 1998: the parts of it that tell nets and places.
#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <map>
#include <set>
#include <unordered_map>

#include "core/base/text.hpp"
#include "core/trace/netlist.hpp"
#include "core/trace/points.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_bytes = 64U << 20U;
constexpr double inch_mm = 25.4;
constexpr double largest_board_mm = 2000.0;

/// Columns as the standard counts them, from 1, both included; blank-trimmed.
std::string_view columns(std::string_view line, std::size_t from, std::size_t to) {
    if (line.size() < from) return {};
    return trim(line.substr(from - 1, to - from + 1));
}

bool is_digits(std::string_view s) {
    return !s.empty() && std::all_of(s.begin(), s.end(), [](char c) { return c >= '0' && c <= '9'; });
}

class Reader {
  public:
    explicit Reader(const std::string& name) : name_(name) {}

    Result<Netlist> read(std::string_view text) {
        while (!text.empty()) {
            auto line = text.substr(0, text.find('\n'));
            text.remove_prefix(std::min(text.size(), line.size() + 1));
            ++line_;
            if (!line.empty() && line.back() == '\r') line.remove_suffix(1);
            if (trim(line).empty()) continue;
            if (line == "999") break;
            if (auto done = take(line); !done) return fail(done.error());
        }
        if (out_.nets.empty()) return fail_at(name_, line_, "no test record", "records such as 317 or 327");
        return std::move(out_);
    }

  private:
    [[nodiscard]] Failure fault(std::string found, std::string expected) const {
        return fail_at(name_, line_, std::move(found), std::move(expected));
    }

    Status take(std::string_view line) {
        if (line[0] == 'C') return {};
        if (line[0] == 'P') return take_parameter(line);
        const auto code = line.substr(0, 3);
        if (code.size() != 3 || !is_digits(code))
            return fault(in_quotes(line), "a record that starts with C, P or three digits");
        // x17, x27, x37, x67 are test points; 389 outlines, 378 and 379 conductors and adjacency, 0xx their
        // continuations.
        const bool test =
            (code[0] == '3' && code[2] == '7' && code != "367" && code != "377") || code == "367";
        if (!test) {
            if (left_out_.insert(std::string(code)).second)
                out_.notes.push_back(
                    fmt::format("line {}: records {} hold no nets and are left out", line_, code));
            return {};
        }
        if (line.size() < 27)
            return fault(fmt::format("a test record of {} characters", line.size()), "at least 31");
        auto net = std::string(columns(line, 4, 17));
        const auto part = columns(line, 21, 26);
        const auto pin = columns(line, 28, 31);
        // Columns count characters of one byte: a name in other letters is cut through.
        for (const auto cell : {std::string_view(net), part, pin})
            if (!is_utf8(cell))
                return fault(in_quotes(line), "names in ASCII: the format counts its columns in bytes");
        if (net.empty()) return fault("a test record without a net", "a net's name in columns 4 to 17");
        if (const auto it = aliases_.find(net); it != aliases_.end()) net = it->second;
        if (const auto problem = point_name_problem(net); !problem.empty())
            return fault(problem, "a net's name");
        // A via has no pin, and is known by its place alone.
        const auto place = take_place(line);
        if (!place) return fail(place.error());
        if (part.empty() || part == "VIA") return {};
        const auto point = pin.empty() ? std::string(part) : fmt::format("{}.{}", part, pin);
        if (const auto problem = point_name_problem(point); !problem.empty())
            return fault(problem, "a part and its pin");
        out_.places.push_back({point, place->first, place->second});
        if (out_.places.size() > most_netlist_points)
            return fault(fmt::format("more than {} points", most_netlist_points), "a netlist");
        if (net == "N/C") {
            if (seen_.emplace(point, std::string()).second) out_.nets.push_back({{}, {point}});
            return {};
        }
        if (const auto [it, fresh] = seen_.emplace(point, net); !fresh) {
            // The same hole from the other side is listed again.
            if (it->second != net)
                return fault(fmt::format("{} in net {} and in {}", in_quotes(point), in_quotes(it->second),
                                         in_quotes(net)),
                             "each point in one net");
            return {};
        }
        const auto [it, fresh] = nets_.emplace(net, out_.nets.size());
        if (fresh) out_.nets.push_back({net, {}});
        out_.nets[it->second].points.push_back(point);
        return {};
    }

    Status take_parameter(std::string_view line) {
        const auto rest = trim(line.substr(1));
        if (rest.starts_with("UNITS")) {
            auto unit = std::string(trim(rest.substr(5)));
            if (unit == "CUST" || unit == "CUST 0" || unit == "CUST 2" || unit == "0" || unit == "2")
                unit_mm_ = inch_mm * 1e-4;
            else if (unit == "CUST 1" || unit == "SI" || unit == "1")
                unit_mm_ = 1e-3;
            else
                return fault("the units " + in_quotes(unit), "CUST 0, CUST 1, CUST 2 or SI");
            if (!out_.places.empty()) return fault("UNITS after test records", "UNITS before them");
        } else if (rest.starts_with("NNAME")) {
            const auto space = rest.find(' ');
            if (space == std::string_view::npos)
                return fault(in_quotes(rest), "NNAME with a number and a name");
            const auto name = trim(rest.substr(space));
            const auto key = std::string(rest.substr(0, space));
            if (name.size() > longest_point_name || !aliases_.emplace(key, std::string(name)).second)
                return fault(in_quotes(rest), "each NNAME once");
        }
        return {};
    }

    /// X after column 41: a sign and digits, then Y and the same.
    Result<std::pair<double, double>> take_place(std::string_view line) {
        double xy[2] = {0, 0};
        std::size_t at = line.size() > 41 ? line.find('X', 31) : std::string_view::npos;
        for (int i = 0; i < 2 && at != std::string_view::npos; ++i) {
            auto text = line.substr(at + 1, line.find_first_not_of("+-0123456789", at + 1) - at - 1);
            if (text.starts_with('+')) text.remove_prefix(1);
            long v = 0;
            const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), v);
            if (code != std::errc() || end != text.data() + text.size())
                return fault("the place " + in_quotes(line.substr(at, 8)), "X and Y with a sign and digits");
            xy[i] = static_cast<double>(v) * unit_mm_;
            if (std::abs(xy[i]) > largest_board_mm)
                return fault(fmt::format("a place {:.0f} mm from the origin", xy[i]),
                             fmt::format("places within {:.0f} mm; are the units right?", largest_board_mm));
            at = i == 0 ? line.find('Y', at) : std::string_view::npos;
        }
        return std::pair(xy[0], xy[1]);
    }

    const std::string& name_;
    long line_ = 0;
    double unit_mm_ = inch_mm * 1e-4;
    Netlist out_;
    std::unordered_map<std::string, std::size_t> nets_;
    std::unordered_map<std::string, std::string> seen_, aliases_;
    std::set<std::string> left_out_;
};

std::string fit(std::string text, std::size_t width) {
    text.resize(width, ' ');
    return text;
}

}  // namespace

Result<Netlist> read_ipc_d_356a(std::string_view text, const std::string& name) {
    if (text.size() > most_bytes)
        return fail_at(name, 1, fmt::format("{} bytes", text.size()), "a netlist of at most 64 MiB");
    if (!is_utf8(text) || text.find('\0') != std::string_view::npos)
        return fail_at(name, 1, "bytes that are no text", "a netlist in IPC-D-356A");
    if (trim(text).empty()) return fail_at(name, 1, "an empty file", "a netlist in IPC-D-356A");
    return Reader(name).read(text);
}

std::string write_ipc_d_356a(const std::vector<Net>& nets, const std::vector<NetlistPoint>& places,
                             std::string_view job) {
    std::string out =
        fmt::format("C  Test netlist written by Gray Relic\nP  JOB   {}\nP  UNITS CUST 1\n", job);
    std::map<std::string, std::pair<double, double>> where;
    for (const auto& p : places) where[p.point] = {p.x_mm, p.y_mm};
    int alias = 0, unnamed = 0;
    std::string records;
    for (const auto& net : nets) {
        auto name = net.name.empty()
                        ? net.points.size() == 1 ? std::string("N/C") : fmt::format("NET{:05}", ++unnamed)
                        : net.name;
        if (name.size() > 14 || name.find(' ') != std::string::npos) {
            const auto short_name = fmt::format("NNAME{:05}", ++alias);
            out += fmt::format("P  {} {}\n", short_name, name);
            name = short_name;
        }
        for (const auto& point : net.points) {
            const auto p = split_point(point);
            const auto at = where.count(point) > 0 ? where[point] : std::pair(0.0, 0.0);
            const auto part = p.ref.empty() ? std::string_view(point) : p.ref;
            const auto pin = p.ref.empty() ? std::string_view() : p.pin;
            // Columns: 1 code, 4 net, 21 part, 27 dash, 28 pin, 32 midpoint, 33 hole, 39 access, 42 X, 50 Y.
            records +=
                fmt::format("317{}   {}{}{}       A00X{:+07}Y{:+07}\n", fit(name, 14),
                            fit(std::string(part), 6), pin.empty() ? ' ' : '-', fit(std::string(pin), 4),
                            std::lround(at.first * 1000), std::lround(at.second * 1000));
        }
    }
    return out + records + "999\n";
}

}  // namespace grayrelic
