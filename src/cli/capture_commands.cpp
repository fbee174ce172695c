// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli capture …
#include <fmt/format.h>

#include <map>
#include <memory>
#include <set>

#include "cli/capture_input.hpp"
#include "cli/command.hpp"
#include "cli/input.hpp"
#include "cli/output.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/capture/capture_file.hpp"
#include "core/decode/decode_chain.hpp"
#include "core/decode/decoder.hpp"
#include "core/json/json.hpp"
#include "core/report/capture_figure.hpp"
#include "core/signal/measure.hpp"

namespace grayrelic::cli {
namespace {

Json remarks_json(const std::vector<Remark>& remarks) {
    Json list = Json::array();
    for (const auto& r : remarks) list.push_back({{"says", r.says}, {"guessed", r.guessed}});
    return list;
}

int convert(const std::string& in, const std::string& out, const InputArguments& table, bool json) {
    const auto ending = std::filesystem::path(out).extension();
    if (ending != ".vcd" && ending != ".csv" && ending != ".svg" && ending != ".wav")
        return report_error(
            usage_error("OUT " + in_quotes(out), "a name that ends in .vcd, .csv, .wav or .svg"));
    if (const auto free = not_over(out, {in}); !free) return report_error(free.error());
    const auto capture = read_input(in, table);
    if (!capture) return report_error(capture.error());
    auto remarks = capture->remarks;
    Progress progress;
    if (ending == ".svg") {
        const auto figure = capture_figure(*capture, capture->extent);
        if (auto done = write_atomically(disk(), out, figure); !done) return report_error(done.error());
    } else {
        const auto written = write_capture_file(*capture, out, progress);
        if (!written) return report_error(written.error());
        remarks.insert(remarks.end(), written->remarks.begin(), written->remarks.end());
    }
    if (json) {
        print_json({{"in", in},
                    {"out", out},
                    {"format", ending.string().substr(1)},
                    {"signals", capture->signals.size()},
                    {"edges", capture->edge_count()},
                    {"remarks", remarks_json(remarks)}});
        return fine;
    }
    say("{}: {}, {}\n", out, plural(static_cast<long long>(capture->signals.size()), "signal", "signals"),
        plural(static_cast<long long>(capture->edge_count()), "edge", "edges"));
    for (const auto& r : remarks) say("{}{}\n", r.guessed ? "guessed: " : "", r.says);
    return fine;
}

int info(const std::string& file, const InputArguments& table, bool json) {
    const auto capture = read_input(file, table);
    if (!capture) return report_error(capture.error());
    Json signals = Json::array();
    std::vector<std::vector<std::string>> rows{{"signal", "kind", "edges", "first", "last"}};
    for (const auto& s : capture->signals) {
        const char* kind = s.kind == SignalKind::digital    ? "digital"
                           : s.kind == SignalKind::real     ? "real"
                           : s.kind == SignalKind::analogue ? "analogue"
                                                            : "event";
        std::optional<Time> first;
        std::optional<Time> last;
        long long edges = 0;
        if (s.digital && !s.digital->edges().empty()) {
            first = s.digital->edges().front();
            last = s.digital->edges().back();
            edges = static_cast<long long>(s.digital->edges().size());
        } else if (s.real && !s.real->times.empty()) {
            first = s.real->times.front();
            last = s.real->times.back();
        }
        Json j = {{"name", s.name},
                  {"kind", kind},
                  {"edges", edges},
                  {"first_s", to_json(first)},
                  {"last_s", to_json(last)}};
        if (!s.vector.empty()) j["vector"] = s.vector;
        if (s.real) j["values"] = s.real->times.size();
        if (s.analogue) j["values"] = s.analogue->size();
        signals.push_back(std::move(j));
        if (!json)
            rows.push_back({s.name, kind, print_count(edges), first ? print(*first, 6) : "·",
                            last ? print(*last, 6) : "·"});
    }
    if (json) {
        print_json({{"file", file},
                    {"format", capture->format},
                    {"resolution_s", capture->resolution.seconds()},
                    {"rounding_s", capture->rounding.seconds()},
                    {"duration_s", capture->extent.length().seconds()},
                    {"edges", capture->edge_count()},
                    {"signals", signals},
                    {"remarks", remarks_json(capture->remarks)}});
        return fine;
    }
    say("{}: {}, resolution {}, {} long, {}\n", file, capture->format, print_exact(capture->resolution),
        print(capture->extent.length()),
        plural(static_cast<long long>(capture->edge_count()), "edge", "edges"));
    print_table(rows);
    for (const auto& r : capture->remarks) say("{}{}\n", r.guessed ? "guessed: " : "", r.says);
    return fine;
}

struct MeasureArguments {
    InputArguments table;
    std::string file, signal, from, to;
};

int measure(const MeasureArguments& a, bool json) {
    const auto capture = read_input(a.file, a.table);
    if (!capture) return report_error(capture.error());
    const auto found = capture->find(a.signal);
    if (!found) return report_error(found.error());
    const auto waveform = capture->find_digital(a.signal);
    if (!waveform) return report_error(waveform.error());
    Span window{Time::min(), Time::max()};
    for (auto [text, end] : {std::pair{&a.from, &window.from}, std::pair{&a.to, &window.to}}) {
        if (text->empty()) continue;
        const auto t = parse_time(*text);
        if (!t) return report_error(t.error());
        *end = *t;
    }
    if (window.from > window.to)
        return report_error(usage_error("--from after --to", "a window that ends after it begins"));
    const auto m = measure_pulses(**waveform, window);
    if (json) {
        print_json({{"signal", (*found)->name},
                    {"high_s", to_json(m.high)},
                    {"low_s", to_json(m.low)},
                    {"period_s", to_json(m.period)},
                    {"frequency_hz", m.frequency_hz ? Json(*m.frequency_hz) : Json()},
                    {"duty", m.duty ? Json(*m.duty) : Json()}});
        return fine;
    }
    print_table({{(*found)->name, ""},
                 {"high", show(m.high)},
                 {"low", show(m.low)},
                 {"period", show(m.period)},
                 {"frequency", m.frequency_hz ? print(Hertz(*m.frequency_hz), 6) : "none"},
                 {"duty", m.duty ? print_share(*m.duty) : "none"}});
    return fine;
}

struct DelayArguments {
    InputArguments table;
    std::string file, from, to, within;
};

int delay(const DelayArguments& a, bool json) {
    const auto from_edge = parse_edge(a.from);
    if (!from_edge) return report_error(from_edge.error());
    const auto to_edge = parse_edge(a.to);
    if (!to_edge) return report_error(to_edge.error());
    std::optional<Time> within;
    if (!a.within.empty()) {
        const auto t = parse_time(a.within);
        if (!t) return report_error(t.error());
        within = *t;
    }
    const auto capture = read_input(a.file, a.table);
    if (!capture) return report_error(capture.error());
    const auto from = capture->find_digital(from_edge->signal);
    if (!from) return report_error(from.error());
    const auto to = capture->find_digital(to_edge->signal);
    if (!to) return report_error(to.error());
    const auto m = measure_delay(**from, from_edge->direction, **to, to_edge->direction, within);
    if (json)
        print_json({{"delay_s", to_json(m.statistics())}, {"unanswered", m.unanswered.size()}});
    else
        print_table({{show_edge(*from_edge) + " to " + show_edge(*to_edge), show(m.statistics())},
                     {"unanswered", print_count(static_cast<long long>(m.unanswered.size()))}});
    return m.answered.empty() ? bad_answer : fine;
}

struct DecodeArguments {
    ReadingArguments reading;
    std::string packets;
};

Json frame_json(const Frame& f) {
    Json j = {{"start_s", f.start.seconds()},
              {"end_s", f.end.seconds()},
              {"value", f.value ? Json(*f.value) : Json()},
              {"levels", f.levels},
              {"errors", f.errors}};
    if (f.poll > 0) j["poll"] = f.poll;
    for (const auto& [key, value] : f.extra) j[key] = to_json(value);
    return j;
}

int decode(const DecodeArguments& a, bool json) {
    const auto& r = a.reading;
    const auto decoder = find_decoder(r.kind);
    if (!decoder) return report_error(decoder.error());
    const auto roles = r.roles();
    if (!roles) return report_error(roles.error());
    auto settings = r.given();
    const auto capture = read_input(r.file, r.table);
    if (!capture) return report_error(capture.error());
    Progress progress;
    if (!a.packets.empty()) settings["packets"] = a.packets;
    auto chain = decode_chain(*capture, r.kind, *roles, settings, progress);
    if (!chain) return report_error(chain.error());
    auto* d = &chain->decoding;
    if (chain->characters)
        for (const auto& [name, value] : chain->characters->settings) d->settings.emplace(name, value);
    if (json) {
        Json resolved = Json::object();
        for (const auto& [name, value] : d->settings) resolved[name] = to_json(value);
        Json frames = Json::array();
        for (const auto& f : d->frames) frames.push_back(frame_json(f));
        Json counts = {{"frames", d->frames.size()}, {"errors", d->frames_with_errors()}};
        for (const auto& [name, n] : d->error_counts) counts[name] = n;
        for (const auto& [name, n] : d->counts) counts[name] = n;
        Json out = {{"kind", d->kind},
                    {"settings", resolved},
                    {"unsure", unsure_json(d->unsure)},
                    {"frames", frames},
                    {"counts", counts}};
        if (!d->notes.empty()) out["notes"] = d->notes;
        print_json(out);
    } else {
        std::vector<std::vector<std::string>> rows{{"start", "value", "levels", "errors"}};
        for (const auto& f : d->frames) {
            std::string errors;
            for (const auto& e : f.errors) errors += (errors.empty() ? "" : " ") + e;
            rows.push_back(
                {print(f.start, 8), f.value ? fmt::format("0x{:x}", *f.value) : "·", f.levels, errors});
        }
        print_table(rows);
        say("{}, {} with errors\n", plural(static_cast<long long>(d->frames.size()), "frame", "frames"),
            d->frames_with_errors());
    }
    return d->frames.empty() ? bad_answer : fine;
}

}  // namespace

void add_capture_commands(CLI::App& app, Session& session) {
    auto* noun = app.add_subcommand("capture", "measure and decode recorded signals");
    noun->require_subcommand(1);

    const auto file = std::make_shared<std::string>();
    auto* v = noun->add_subcommand("info", "what a capture holds");
    v->add_option("FILE", *file)->required();
    const auto table = std::make_shared<InputArguments>();
    add_input_options(*v, *table);
    v->callback([&session, file, table] {
        session.run = [&session, file, table] { return info(*file, *table, session.json); };
    });

    const auto out = std::make_shared<std::string>();
    v = noun->add_subcommand("convert", "write a capture in another format: .vcd, .csv, .wav or .svg");
    v->add_option("IN", *file)->required();
    v->add_option("OUT", *out)->required();
    add_input_options(*v, *table);
    v->callback([&session, file, out, table] {
        session.run = [&session, file, out, table] { return convert(*file, *out, *table, session.json); };
    });

    const auto m = std::make_shared<MeasureArguments>();
    v = noun->add_subcommand("measure", "high, low, period and duty of a signal");
    v->add_option("FILE", m->file)->required();
    v->add_option("--signal", m->signal)->required();
    v->add_option("--from", m->from, "start of the window");
    v->add_option("--to", m->to, "end of the window");
    add_input_options(*v, m->table);
    v->callback([&session, m] { session.run = [&session, m] { return measure(*m, session.json); }; });

    const auto d = std::make_shared<DelayArguments>();
    v = noun->add_subcommand("delay", "from each edge to the first answering edge");
    v->add_option("FILE", d->file)->required();
    v->add_option("--from", d->from, "S:rise, S:fall or S:any")->required();
    v->add_option("--to", d->to, "S:rise, S:fall or S:any")->required();
    v->add_option("--within", d->within, "longer ones count as unanswered");
    add_input_options(*v, d->table);
    v->callback([&session, d] { session.run = [&session, d] { return delay(*d, session.json); }; });

    const auto c = std::make_shared<DecodeArguments>();
    v = noun->add_subcommand("decode", "read words from signals");
    add_reading_options(*v, c->reading);
    v->add_option("--packets", c->packets,
                  "bytes into packets: auto, pause, length:6, delimiter:0D or sync:80/80, with +xor and its "
                  "like, @2ms for the pause");
    v->callback([&session, c] { session.run = [&session, c] { return decode(*c, session.json); }; });

    add_capture_study(*noun, session);
    add_capture_follow(*noun, session);
}

}  // namespace grayrelic::cli
