// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/find_arguments.hpp"

#include "cli/output.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"

namespace grayrelic::cli {

void add_find_options(CLI::App& verb, FindArguments& a) {
    verb.add_option("--pulse", a.pulse, "pulses of this signal, with --shorter or --longer");
    verb.add_flag("--high", a.high, "high pulses only");
    verb.add_flag("--low", a.low, "low pulses only");
    verb.add_option("--shorter", a.shorter, "shorter than this");
    verb.add_option("--longer", a.longer, "longer than this");
    verb.add_option("--level", a.levels, "stretches where S=1,T=0 … hold; with the others, a condition");
    verb.add_option("--pause", a.pause, "no edge anywhere for longer than this");
    verb.add_option("--order", a.order, "\"B:fall while A=1 then C:rise within 3us\"");
}

Result<std::optional<Time>> time_option(const std::string& text, const char* option) {
    if (text.empty() || text == "auto") return std::optional<Time>{};
    const auto t = parse_time(text);
    if (!t) return fail(t.error());
    if (*t < Time{}) return fail(usage_error(option + (" " + in_quotes(text)), "a time of zero or more"));
    return std::optional(*t);
}

Result<FindQuery> find_query(const FindArguments& a) {
    FindText text = a;
    if (a.high != a.low) text.pulse_level = a.high;
    return grayrelic::find_query(text);
}

}  // namespace grayrelic::cli
