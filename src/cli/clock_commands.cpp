// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli clock explain, serial, loop
#include <fmt/format.h>

#include <charconv>
#include <memory>

#include "cli/command.hpp"
#include "cli/output.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/json/json.hpp"
#include "core/library/data_library.hpp"
#include "core/timing/clock_explain.hpp"
#include "core/timing/serial_clocking.hpp"

namespace grayrelic::cli {
namespace {

struct ClockArguments {
    std::string rate, within = "5000", uncertainty, clock, divider = "integer", jitter = "0s", cycles,
                      measured;
    int oversample = 16, bits = 10, toggles = 1;
};

/// "15.4 kHz", "13392.9" or "13392.9 Bd".
Result<double> rate_of(const std::string& text) {
    auto hz = parse_number(text, Unit::hertz);
    if (hz) return hz;
    const auto baud = parse_number(text, Unit::baud);
    return baud ? baud : hz;
}

/// "20" or "20 ppm".
Result<double> ppm_of(std::string text) {
    if (const auto at = text.find("ppm"); at != std::string::npos) text.erase(at);
    return parse_number(trim(text), Unit::none);
}

int explain(const ClockArguments& a, bool json) {
    const auto rate = rate_of(a.rate);
    if (!rate) return report_error(rate.error());
    const auto within = ppm_of(a.within);
    if (!within) return report_error(within.error());
    std::optional<double> uncertain;
    if (!a.uncertainty.empty()) {
        const auto u = ppm_of(a.uncertainty);
        if (!u) return report_error(u.error());
        uncertain = *u;
    }
    const auto data = DataLibrary::load_installed();
    const auto e = explain_clock(*rate, *within, data->clocks.sources, uncertain);
    if (!e) return report_error(e.error());
    if (json) {
        Json list = Json::array();
        for (const auto& c : e->candidates)
            list.push_back({{"source", c.source},
                            {"source_hz", c.source_hz},
                            {"divide", c.divide},
                            {"chain", c.chain},
                            {"hz", c.hz},
                            {"error_ppm", c.error_ppm},
                            {"score", c.score}});
        print_json({{"rate_hz", *rate},
                    {"within_ppm", *within},
                    {"candidates", list},
                    {"alike", e->alike},
                    {"advice", e->advice}});
    } else if (e->candidates.empty()) {
        say("no chain of the era gives {} within {} ppm\n", print_number(*rate, Unit::hertz, 6), *within);
    } else {
        std::vector<std::vector<std::string>> rows{{"source", "chain", "divide", "rate", "error", "score"}};
        for (std::size_t i = 0; i < std::min<std::size_t>(12, e->candidates.size()); ++i) {
            const auto& c = e->candidates[i];
            rows.push_back({c.source, c.chain, std::to_string(c.divide), print_number(c.hz, Unit::hertz, 7),
                            fmt::format("{:+.1f} ppm", c.error_ppm), fmt::format("{:.3f}", c.score)});
        }
        print_table(rows);
        if (e->candidates.size() > 12) say("and {} less likely\n", e->candidates.size() - 12);
        if (e->alike > 1) say("the first {} can't be told apart. {}\n", e->alike, e->advice);
    }
    return e->candidates.empty() ? bad_answer : fine;
}

int serial(const ClockArguments& a, bool json) {
    SerialQuestion q;
    const auto target = rate_of(a.rate), clock = rate_of(a.clock);
    if (!target) return report_error(target.error());
    if (!clock) return report_error(clock.error());
    const auto kind = named<DividerKind>(a.divider);
    if (!kind) return report_error(usage_error("divider " + in_quotes(a.divider), one_of<DividerKind>()));
    const auto jitter = parse_time(a.jitter);
    if (!jitter) return report_error(jitter.error());
    q = {*target, *clock, *kind, a.oversample, a.bits, *jitter};
    const auto s = clock_serial(q);
    if (!s) return report_error(s.error());
    if (json) {
        print_json({{"divisor", s->divisor},
                    {"achieved_hz", s->achieved_hz},
                    {"error_ppm", s->error_ppm},
                    {"margin_bit", s->margin_bit},
                    {"worst_margin_bit", s->worst_margin_bit},
                    {"verdict", word(s->verdict)},
                    {"most_error_ppm", most_error_ppm(q)}});
    } else {
        say("{}: {} ÷ ({} × {:.10g}) = {}, {:+.1f} ppm\n", word(s->verdict), print(Hertz(q.clock_hz)),
            q.oversample, s->divisor, print_number(s->achieved_hz, Unit::hertz, 7), s->error_ppm);
        for (std::size_t n = 0; n < s->margin_bit.size(); ++n)
            say("  {:<10} {:+.3f} bit\n",
                n == 0                          ? "start"
                : n + 1 == s->margin_bit.size() ? "stop"
                                                : fmt::format("bit {}", n - 1),
                s->margin_bit[n]);
        say("up to ± {:.0f} ppm would do\n", most_error_ppm(q));
    }
    return s->verdict == Verdict::stop ? bad_answer : fine;
}

int loop(const ClockArguments& a, bool json) {
    const auto clock = rate_of(a.clock);
    if (!clock) return report_error(clock.error());
    if (!a.measured.empty()) {
        const auto rate = rate_of(a.measured);
        if (!rate) return report_error(rate.error());
        const auto c = loop_cycles(*clock, *rate, a.toggles);
        if (!c) return report_error(c.error());
        if (json)
            print_json({{"cycles", c->cycles},
                        {"below", c->below},
                        {"above", c->above},
                        {"error_below_ppm", c->error_below_ppm},
                        {"error_above_ppm", c->error_above_ppm}});
        else
            say("{:.4f} cycles a round: {} ({:+.0f} ppm) or {} ({:+.0f} ppm)\n", c->cycles, c->below,
                c->error_below_ppm, c->above, c->error_above_ppm);
        return fine;
    }
    std::vector<long long> cycles;
    for (const auto part : split(a.cycles, ',')) {
        long long n = 0;
        const auto t = trim(part);
        const auto [end, code] = std::from_chars(t.data(), t.data() + t.size(), n);
        if (code != std::errc() || end != t.data() + t.size())
            return report_error(
                usage_error("cycles " + in_quotes(part),
                            "whole numbers with commas, such as 7,10,12, or --measured RATE"));
        cycles.push_back(n);
    }
    const auto r = loop_rate(*clock, cycles, a.toggles);
    if (!r) return report_error(r.error());
    if (json)
        print_json({{"cycles", r->cycles}, {"loop_s", r->loop_s}, {"toggle_hz", r->toggle_hz}});
    else
        say("{} cycles: a round in {}, the output toggles at {}\n", r->cycles,
            print_number(r->loop_s, Unit::second, 5), print_number(r->toggle_hz, Unit::hertz, 6));
    return fine;
}

}  // namespace

void add_clock_commands(CLI::App& app, Session& session) {
    auto* noun = app.add_subcommand("clock", "where a rate comes from, and what a clock can make");
    noun->require_subcommand(1);
    const auto a = std::make_shared<ClockArguments>();
    const auto run = [&session, a](CLI::App* v, int (*work)(const ClockArguments&, bool)) {
        v->callback(
            [&session, a, work] { session.run = [&session, a, work] { return work(*a, session.json); }; });
    };
    auto* v = noun->add_subcommand("explain", "clock sources and dividers of the era that give a rate");
    v->add_option("RATE", a->rate, "13392.9, 15.4kHz")->required();
    v->add_option("--within", a->within, "how far the nominal rate may be from it, ppm; 5000");
    v->add_option("--uncertainty", a->uncertainty, "of the measured rate, ppm; half of --within");
    run(v, explain);
    v = noun->add_subcommand("serial", "what a clock makes of a serial rate, bit by bit");
    v->add_option("--target", a->rate, "the rate to meet")->required();
    v->add_option("--from", a->clock, "the clock there is")->required();
    v->add_option("--divider", a->divider, "integer, fraction64, fraction256");
    v->add_option("--oversample", a->oversample, "samples a bit; 16");
    v->add_option("--bits", a->bits, "of a character with start and stop; 10");
    v->add_option("--jitter", a->jitter, "of the edges, peak; 0");
    run(v, serial);
    v = noun->add_subcommand("loop",
                             "a software loop's rate from its cycles, or the cycles from a measured rate");
    v->add_option("CLOCK", a->clock, "of the processor")->required();
    v->add_option("--cycles", a->cycles, "of the instructions, with commas");
    v->add_option("--toggles", a->toggles, "of the output in one round; 1");
    v->add_option("--measured", a->measured, "the output's rate, to find the cycles");
    run(v, loop);
}

}  // namespace grayrelic::cli
