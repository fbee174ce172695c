// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/capture_input.hpp"

#include <CLI/CLI.hpp>

#include <set>

#include "cli/input.hpp"
#include "cli/output.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"

namespace grayrelic::cli {

void add_input_options(CLI::App& verb, InputArguments& a) {
    verb.add_option("--rate", a.rate, "samples a second of a table without times, or of packed samples");
    verb.add_option("--unit", a.unit, "the unit of a table's times: s, ms, us, ns or ps");
    verb.add_option("--threshold", a.threshold, "where an analogue column or channel changes its level");
    verb.add_option("--raw", a.raw, "packed samples of so many lines: 1, 2, 4, 8, 16 or 32; needs --rate")
        ->check(CLI::IsMember({1, 2, 4, 8, 16, 32}));
    verb.add_flag("--raw-msb", a.raw_msb, "packed samples: the first line is the most significant bit");
    verb.add_flag("--raw-big-endian", a.raw_big_endian,
                  "packed samples of two or four bytes: the high byte first");
}

Result<Capture> read_input(const std::string& file, const InputArguments& a) {
    CaptureOptions options;
    if (!a.rate.empty()) {
        const auto rate = parse_quantity<Unit::hertz>(a.rate);
        if (!rate) return fail(rate.error());
        if (!(rate->value() > 0))
            return fail(usage_error("--rate " + in_quotes(a.rate), "a rate above zero"));
        options.table.rate_hz = rate->value();
    }
    constexpr std::pair<std::string_view, int> units[] = {
        {"s", 0}, {"ms", -3}, {"us", -6}, {"ns", -9}, {"ps", -12}};
    for (const auto& [name, power] : units)
        if (a.unit == name) options.table.time_power = power;
    if (!a.unit.empty() && !options.table.time_power)
        return fail(usage_error("--unit " + in_quotes(a.unit), "s, ms, us, ns or ps"));
    if (!a.threshold.empty()) {
        const auto v = parse_quantity<Unit::volt>(a.threshold);
        if (!v) return fail(v.error());
        options.table.threshold = v->value();
    }
    if (a.raw != 0) {
        if (!options.table.rate_hz)
            return fail(usage_error("--raw without --rate", "the rate at which it was sampled"));
        options.raw = RawOptions{a.raw, *options.table.rate_hz, a.raw_msb, a.raw_big_endian};
    }
    return read_capture(file, options);
}

Result<std::vector<std::pair<std::string, std::string>>> pairs_of(const std::vector<std::string>& list,
                                                                  const char* option, const char* expected) {
    std::vector<std::pair<std::string, std::string>> out;
    for (const auto& m : list) {
        const auto equals = m.find('=');
        if (equals == std::string::npos || equals == 0 || equals + 1 == m.size())
            return fail(usage_error(option + (" " + in_quotes(m)), expected));
        out.emplace_back(m.substr(0, equals), m.substr(equals + 1));
    }
    return out;
}

Result<RoleMap> ReadingArguments::roles() const {
    RoleMap roles;
    const auto pairs = pairs_of(map, "--map", "role=SIGNAL");
    if (!pairs) return fail(pairs.error());
    for (const auto& [role, signal] : *pairs) roles[role].push_back(signal);
    return roles;
}

SettingMap ReadingArguments::given() const {
    SettingMap out;
    for (const auto& [name, value] : settings)
        if (!value.empty()) out[name] = value;
    return out;
}

void add_reading_options(CLI::App& verb, ReadingArguments& a) {
    verb.add_option("FILE", a.file)->required();
    verb.add_option("--as", a.kind, "the protocol family")->required();
    verb.add_option("--map", a.map, "role=SIGNAL, once per role")->required();
    std::set<std::string> known;
    for (const auto& decoder : decoders())
        for (const auto& s : decoder->settings())
            if (known.insert(s.name).second) verb.add_option("--" + s.name, a.settings[s.name], s.about);
    add_input_options(verb, a.table);
}

}  // namespace grayrelic::cli
