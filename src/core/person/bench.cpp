// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/person/bench.hpp"

#include <algorithm>

#include "core/person/drawer.hpp"
#include "core/person/kept_file.hpp"

namespace grayrelic {
namespace {

constexpr KeptFormat<Bench> bench_format{bench_from_json, bench_to_json, most_person_bytes};
constexpr std::size_t most_instruments = 1000;

template <Unit U>
std::optional<Quantity<U>> read_limit(JsonNode& parent, const char* key) {
    const auto child = parent.member(key);
    if (!child) return std::nullopt;
    const double value = [&] {
        if (child->is_number()) return child->number();
        const auto parsed = parse_number(child->text(64), U);
        if (!parsed) child->fault(child->shown(), parsed.error().expected);
        return *parsed;
    }();
    if (!(value > 0 && value < 1e15)) child->fault(child->shown(), "more than zero");
    return Quantity<U>(value);
}

template <Unit U>
void add_limit(Json& j, const char* key, const std::optional<Quantity<U>>& value) {
    if (!value) return;
    j[key] = print_exact(value->value(), U);
}

Instrument read_instrument(JsonNode& n) {
    n.require_object();
    Instrument i;
    i.name = n.text_or("name");
    i.kind = read_kept_word(n, "kind", InstrumentKind::meter);
    i.most_volts = read_limit<Unit::volt>(n, "most_volts");
    i.bandwidth = read_limit<Unit::hertz>(n, "bandwidth");
    i.rate = read_limit<Unit::hertz>(n, "rate");
    if (const auto inputs = n.member("inputs")) i.inputs = static_cast<int>(inputs->whole(1, 10'000));
    i.threshold = read_limit<Unit::volt>(n, "threshold");
    i.note = n.text_or("note");
    i.extra = n.unknown_members();
    return i;
}

SolderRecord read_solder(JsonNode& n) {
    n.require_object();
    SolderRecord s;
    s.package = n.required("package").text(most_name);
    s.done = static_cast<int>(n.required("done").whole(0, 10'000'000));
    if (const auto bad = n.member("bad")) s.bad = static_cast<int>(bad->whole(0, s.done));
    s.extra = n.unknown_members();
    return s;
}

Bench read_all(JsonNode& root) {
    check_kept_head(root, "gray-relic-bench");
    Bench b;
    if (const auto list = root.member("instruments"))
        for (auto& n : list->elements(most_instruments)) b.instruments.push_back(read_instrument(n));
    if (const auto list = root.member("processes"))
        for (const auto& n : list->elements(words_of<Process>.size())) {
            const auto text = n.text(64);
            const auto process = named<Process>(text);
            if (!process) n.fault(in_quotes(text), one_of<Process>());
            b.processes.push_back(*process);
        }
    if (const auto list = root.member("solder"))
        for (auto& n : list->elements(most_instruments)) b.solder.push_back(read_solder(n));
    if (const auto hours = root.member("hours_per_week")) {
        b.hours_per_week = hours->number();
        if (!(*b.hours_per_week > 0 && *b.hours_per_week <= 168))
            hours->fault(hours->shown(), "more than 0 and at most 168 hours");
    }
    b.currency = root.text_or("currency");
    const auto worth = [&](const char* key) -> std::optional<double> {
        const auto child = root.member(key);
        if (!child) return std::nullopt;
        const double money = child->number();
        if (!(money >= 0 && money < 1e9)) child->fault(child->shown(), "money, zero or more");
        return money;
    };
    b.hour_worth = worth("hour_worth");
    b.day_worth = worth("day_worth");
    b.extra = root.unknown_members();
    return b;
}

}  // namespace

bool Bench::has(InstrumentKind kind) const {
    return std::any_of(instruments.begin(), instruments.end(),
                       [&](const Instrument& i) { return i.kind == kind; });
}

std::optional<Hertz> Bench::best_rate() const {
    std::optional<Hertz> best;
    for (const auto& i : instruments)
        if (i.rate && (!best || *i.rate > *best)) best = i.rate;
    return best;
}

double own_yield(const SolderRecord& r) {
    return (r.done - r.bad + 1.0) / (r.done + 2.0);
}

Result<Bench> bench_from_json(std::string_view text, const std::string& file) {
    return read_json(text, file, "a bench as JSON", read_all);
}

std::string bench_to_json(const Bench& b) {
    Json j = {{"format", "gray-relic-bench"}, {"version", 1}};
    j["instruments"] = Json::array();
    for (const auto& i : b.instruments) {
        Json x = {{"name", i.name}, {"kind", word(i.kind)}};
        add_limit(x, "most_volts", i.most_volts);
        add_limit(x, "bandwidth", i.bandwidth);
        add_limit(x, "rate", i.rate);
        if (i.inputs) x["inputs"] = *i.inputs;
        add_limit(x, "threshold", i.threshold);
        add_kept_text(x, "note", i.note);
        add_kept_extra(x, i.extra);
        j["instruments"].push_back(std::move(x));
    }
    j["processes"] = Json::array();
    for (const auto p : b.processes) j["processes"].push_back(word(p));
    j["solder"] = Json::array();
    for (const auto& s : b.solder) {
        Json x = {{"package", s.package}, {"done", s.done}, {"bad", s.bad}};
        add_kept_extra(x, s.extra);
        j["solder"].push_back(std::move(x));
    }
    if (b.hours_per_week) j["hours_per_week"] = *b.hours_per_week;
    add_kept_text(j, "currency", b.currency);
    if (b.hour_worth) j["hour_worth"] = *b.hour_worth;
    if (b.day_worth) j["day_worth"] = *b.day_worth;
    add_kept_extra(j, b.extra);
    return j.dump(2, ' ', false, Json::error_handler_t::replace) + "\n";
}

Result<Bench> read_bench(FileSystem& files, const std::filesystem::path& file) {
    return read_kept(files, file, bench_format);
}

Result<Bench> change_bench(FileSystem& files, const std::filesystem::path& file,
                           const std::function<void(Bench&)>& change) {
    return change_kept(files, file, bench_format, change);
}

}  // namespace grayrelic
