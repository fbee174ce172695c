// SPDX-License-Identifier: GPL-3.0-or-later
// wire link: one line from a driver to a receiver; wire value: what a part's value must be, or makes.
#include <map>
#include <memory>

#include "cli/command.hpp"
#include "cli/output.hpp"
#include "core/base/text.hpp"
#include "core/electrical/link.hpp"
#include "core/electrical/values.hpp"
#include "core/library/data_library.hpp"

namespace grayrelic::cli {
namespace {

struct LinkArguments {
    std::string from, to, tolerance = "5%";
    bool to_unpowered = false;
};

Json optional_json(const std::optional<double>& v) {
    return v ? Json(*v) : Json();
}

struct LinkEnd {
    const Family* family = nullptr;
    SupplyRange supply;
};

Result<LinkEnd> end_of(const std::string& option, const std::string& text, double tolerance,
                       const FamilyLibrary& families) {
    const auto named_supply = parse_named_supply(text);
    if (!named_supply)
        return fail(usage_error(option + " " + in_quotes(text), named_supply.error().expected));
    const auto* family = families.find(named_supply->family);
    if (family == nullptr) {
        std::string known;
        for (const auto& f : families.families) known += (known.empty() ? "" : ", ") + f.id;
        return fail(usage_error(option + " " + in_quotes(named_supply->family), "one of " + known));
    }
    return LinkEnd{family, around(named_supply->volts, tolerance)};
}

int wire_link(const LinkArguments& args, bool json) {
    const auto tolerance = parse_tolerance(args.tolerance);
    if (!tolerance)
        return report_error(
            usage_error("--tolerance " + in_quotes(args.tolerance), tolerance.error().expected));
    const auto data = DataLibrary::load_installed();
    const auto from = end_of("--from", args.from, *tolerance, data->families);
    if (!from) return report_error(from.error());
    const auto to = end_of("--to", args.to, *tolerance, data->families);
    if (!to) return report_error(to.error());
    const auto v = judge_link(*from->family, from->supply, {to->family, to->supply, args.to_unpowered});
    if (json) {
        print_json({{"high_margin_v", optional_json(v.high_margin_v)},
                    {"low_margin_v", optional_json(v.low_margin_v)},
                    {"over_limit", v.over_limit},
                    {"verdict", word(v.verdict)},
                    {"why", v.why},
                    {"high_v", optional_json(v.arriving.high_least_v)},
                    {"high_needed_v", v.high_needed_v},
                    {"low_v", optional_json(v.arriving.low_most_v)},
                    {"low_needed_v", v.low_needed_v},
                    {"highest_v", v.arriving.highest_v},
                    {"lowest_v", v.arriving.lowest_v},
                    {"limit_high_v", v.limit_high_v},
                    {"limit_low_v", v.limit_low_v}});
    } else {
        const auto margin = [](const std::optional<double>& m) {
            return m ? print_number(*m, Unit::volt) : std::string("not known");
        };
        say("{}\nhigh margin {}\nlow margin  {}\n{}\n", word(v.verdict), margin(v.high_margin_v),
            margin(v.low_margin_v), v.why);
    }
    return v.verdict == Verdict::stop ? bad_answer : fine;
}

struct ValueArguments {
    ValueKind kind = ValueKind::rc_delay;
    std::map<std::string, std::string> given;
    std::string series = "e24";
};

Json figure_json(const ValueFigure& f) {
    if (!f.is_list) return optional_json(f.value);
    Json out = Json::array();
    for (const double v : f.list) out.push_back(v);
    return out;
}

int wire_value(const ValueArguments& args, bool json) {
    const auto series = named<Series>(args.series);
    if (!series) return report_error(usage_error("--series " + in_quotes(args.series), one_of<Series>()));
    ValueInputs inputs;
    for (const auto& p : parameters_of(args.kind)) {
        const auto at = args.given.find(p.key);
        if (at == args.given.end() || at->second.empty()) continue;
        const auto v = parse_measure(at->second, p.measure, "--" + p.key);
        if (!v) return report_error(v.error());
        inputs[p.key] = *v;
    }
    const auto r = compute_value(args.kind, inputs, *series);
    if (!r) return report_error(r.error());
    if (json) {
        Json out = Json::object();
        for (const auto& f : r->figures) out[f.key] = figure_json(f);
        if (r->monotone) out["monotone"] = *r->monotone;
        out["verdict"] = word(r->verdict);
        if (!r->why.empty()) out["why"] = r->why;
        print_json(out);
    } else {
        for (const auto& f : r->figures) {
            std::string text;
            for (const double v : f.list) text += (text.empty() ? "" : "  ") + print_measure(v, f.measure);
            if (!f.is_list) text = f.value ? print_measure(*f.value, f.measure) : "none";
            say("{:<36} {}\n", f.label, text);
        }
        if (r->monotone) say("{:<36} {}\n", "monotone", *r->monotone ? "yes" : "no");
        if (!r->why.empty()) say("{}\n", r->why);
    }
    return r->verdict == Verdict::stop ? bad_answer : fine;
}

void add_value_kind(CLI::App& value, ValueKind kind, Session& session) {
    const auto a = std::make_shared<ValueArguments>();
    a->kind = kind;
    auto* v = value.add_subcommand(std::string(word(kind)), std::string(label(kind)));
    for (const auto& p : parameters_of(kind))
        v->add_option("--" + p.key, a->given[p.key], p.label)->required(!p.optional && !p.usual);
    v->add_option("--series", a->series, one_of<Series>());
    v->callback([&session, a] { session.run = [&session, a] { return wire_value(*a, session.json); }; });
}

}  // namespace

void add_wire_values(CLI::App& noun, Session& session) {
    const auto a = std::make_shared<LinkArguments>();
    auto* v = noun.add_subcommand("link", "one line from a driver to a receiver, at the supplies' corners");
    v->add_option("--from", a->from, "FAMILY@VOLTS")->required();
    v->add_option("--to", a->to, "FAMILY@VOLTS")->required();
    v->add_option("--tolerance", a->tolerance, "of both supplies, 5% unless said");
    v->add_flag("--to-unpowered", a->to_unpowered, "the receiver stands without its supply");
    v->callback([&session, a] { session.run = [&session, a] { return wire_link(*a, session.json); }; });
    auto* value = noun.add_subcommand("value", "what a part's value must be, or what it makes");
    value->require_subcommand(1);
    for (const auto kind : all_of<ValueKind>()) add_value_kind(*value, kind, session);
}

}  // namespace grayrelic::cli
