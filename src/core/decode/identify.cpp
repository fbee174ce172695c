// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/identify.hpp"

#include "core/base/long_work.hpp"

#include <fmt/format.h>

#include <array>
#include <cmath>
#include <set>

#include "core/base/quantity.hpp"
#include "core/decode/bit_time.hpp"
#include "core/decode/identify_parts.hpp"
#include "core/signal/sampling.hpp"

namespace grayrelic {
namespace identify_parts {

SettingMap as_settings(const std::map<std::string, FrameExtra>& resolved) {
    SettingMap out;
    for (const auto& [name, value] : resolved) {
        // Figures that describe the find are no settings.
        if (name == "baud_error" || name == "border" || name == "select" || name == "gap") continue;
        if (const auto* text = std::get_if<std::string>(&value)) out[name] = *text;
        if (const auto* whole = std::get_if<long long>(&value)) out[name] = std::to_string(*whole);
        if (const auto* real = std::get_if<double>(&value)) out[name] = fmt::format("{:.9g}", *real);
    }
    return out;
}

std::optional<Decoding> try_decoder(const Trial& trial, const char* kind, const RoleMap& roles,
                                    const SettingMap& settings, Draft& draft, Progress& progress) {
    const auto decoder = find_decoder(kind);
    if (!decoder) return std::nullopt;
    Progress own;
    if (progress.cancelled()) return std::nullopt;
    auto d = (*decoder)->decode(trial.capture, roles, settings, own);
    if (!d) return std::nullopt;
    draft.candidate.kind = kind;
    draft.candidate.roles = roles;
    draft.candidate.settings = as_settings(d->settings);
    draft.candidate.frames = static_cast<long>(d->frames.size());
    draft.candidate.errors = d->frames_with_errors();
    if (d->unsure.empty()) draft.candidate.alternatives = d->notes;  // else it says the same
    draft.candidate.not_told_apart = d->unsure;
    return std::move(*d);
}

std::size_t edges_inside(const DigitalWaveform& line, const std::vector<Span>& spans) {
    std::size_t n = 0;
    std::size_t counted = 0;  // no edge twice where spans touch
    for (const auto& s : spans) {
        const auto from = std::max(counted, line.edges_before(s.from)), to = line.edges_until(s.to);
        if (to > from) n += to - from;
        counted = std::max(counted, to);
    }
    return n;
}

std::vector<Span> clean_spans(const Decoding& d) {
    std::vector<Span> out;
    for (const auto& f : d.frames)
        if (f.errors.empty()) out.push_back({f.start, f.end});
    return out;
}

namespace {

Draft async_draft(const Trial& trial, const Line& line, Progress& progress) {
    Draft x;
    const auto d = try_decoder(trial, "async-serial", {{"data", {line.name}}}, {}, x, progress);
    if (!d || d->frames.size() < 3) return x;
    const auto spans = clean_spans(*d);
    const auto baud = std::get_if<double>(&d->settings.at("baud"));
    if (baud == nullptr || spans.empty()) return x;
    const double bit = 1e12 / *baud;
    // Intervals inside characters must be whole numbers of bits: at random they lie anywhere, 0.289 of a bit
    // (1 / sqrt 12) from the next whole number in the root mean square.
    double squares = 0;
    long all = 0;
    std::array<long, 12> lengths{};  // how many intervals of so many bits
    std::set<std::uint64_t> values;
    const auto edges = line.waveform->edges();
    for (const auto& f : d->frames) {
        if (!f.errors.empty()) continue;
        values.insert(*f.value);
        const auto to = line.waveform->edges_before(f.end);
        for (auto i = line.waveform->edges_before(f.start); i + 1 < to; ++i) {
            const double k = static_cast<double>((edges[i + 1] - edges[i]).count()) / bit;
            squares += (k - std::round(k)) * (k - std::round(k));
            ++lengths[static_cast<std::size_t>(std::clamp(std::lround(k), 0L, 11L))];
            ++all;
        }
    }
    const auto n = static_cast<double>(d->frames.size());
    const double good = static_cast<double>(spans.size()) / n;
    const double fits = all == 0 ? 0.0 : above_chance(1.0 - 12.0 * squares / static_cast<double>(all), 0.4);
    // Tones, codes that carry their own clock and lines that are scanned know one or two lengths; the bits of
    // characters stand in runs of many.
    const auto kinds = std::count_if(lengths.begin(), lengths.end(), [&](long m) { return 50 * m > all; });
    const double varied = kinds >= 3 ? 1.0 : kinds == 2 ? 0.5 : 0.3;
    // A stop bit stands by chance in one of two; a clock gives one value for ever.
    x.quality = above_chance(good, 0.7) * fits * varied * fine_enough(trial, bit) *
                std::min(1.0, static_cast<double>(values.size()) / 4.0);
    const auto& parity = x.candidate.settings["parity"];
    x.trust = 0.96 * enough(n, 3.5) * (parity == "none" ? 0.98 : 1.0);
    x.explained = static_cast<double>(edges_inside(*line.waveform, spans)) / static_cast<double>(line.edges);
    x.candidate.why = fmt::format("{} of {} characters end in a stop bit; edges lie on a grid of {}",
                                  spans.size(), d->frames.size(), print_number(bit / 1e12, Unit::second));
    return x;
}

Draft pulse_draft(const Trial& trial, const Line& line, Progress& progress) {
    Draft x;
    const auto d = try_decoder(trial, "pulse-width", {{"data", {line.name}}}, {}, x, progress);
    if (!d || d->frames.empty()) return x;
    const bool idle_high = x.candidate.settings["idle"] == "high";
    const auto* border =
        d->settings.count("border") > 0 ? std::get_if<double>(&d->settings.at("border")) : nullptr;
    if (border == nullptr) return x;
    // Cells inside bursts, and the two groups of pulses.
    std::vector<double> cells, shorts, longs;
    const auto edges = line.waveform->edges();
    std::size_t bits = 0;
    for (const auto& f : d->frames) {
        bits += f.levels.size();
        const auto to = line.waveform->edges_until(f.end);
        auto i = line.waveform->edges_before(f.start);
        if (i < edges.size() && line.waveform->level_after(i + 1) == idle_high) ++i;
        for (; i + 2 < to; i += 2) {
            cells.push_back(static_cast<double>((edges[i + 2] - edges[i]).count()));
            const double width = static_cast<double>((edges[i + 1] - edges[i]).count());
            (width < *border * 1e12 ? shorts : longs).push_back(width);
        }
    }
    if (cells.size() < 8 || shorts.empty() || longs.empty()) return x;
    const auto median = [](std::vector<double> v) {
        const auto middle = v.begin() + static_cast<std::ptrdiff_t>(v.size() / 2);
        std::nth_element(v.begin(), middle, v.end());
        return *middle;
    };
    const auto near = [](const std::vector<double>& v, double m, double tolerance) {
        return static_cast<double>(std::count_if(v.begin(), v.end(),
                                                 [&](double c) { return std::abs(c / m - 1) < tolerance; })) /
               static_cast<double>(v.size());
    };
    const double cell = median(cells), s = median(shorts), l = median(longs);
    const double even = near(cells, cell, 0.12), tight = std::min(near(shorts, s, 0.3), near(longs, l, 0.2));
    const double used = std::min(1.0, 12.0 * static_cast<double>(std::min(shorts.size(), longs.size())) /
                                          static_cast<double>(cells.size()));
    // Edges of clocked data also lie on a grid, but then many pulses take one, two, three cells: those are
    // not even.
    x.quality = above_chance(even, 0.85) * fine_enough(trial, s) * above_chance(tight, 0.6) * used *
                std::clamp((l / s - 1.2) / 0.5, 0.0, 1.0);
    x.trust = 0.97 * enough(static_cast<double>(bits), 8);
    x.explained =
        static_cast<double>(edges_inside(*line.waveform, clean_spans(*d))) / static_cast<double>(line.edges);
    x.candidate.why =
        fmt::format("pulses of {} and {} in cells of {}", print_number(s / 1e12, Unit::second),
                    print_number(l / 1e12, Unit::second), print_number(cell / 1e12, Unit::second));
    return x;
}

}  // namespace

void try_single_lines(const Trial& trial, std::vector<Draft>& out, Progress& progress) {
    for (const auto& line : trial.lines) {
        if (line.edges < 12) continue;
        auto serial = async_draft(trial, line, progress);
        auto pulses = pulse_draft(trial, line, progress);
        // Two pulse widths in even cells also frame as characters, cell by cell; characters hardly ever make
        // even cells.
        if (pulses.quality > 0.7) serial.quality *= 0.6;
        out.push_back(std::move(serial));
        out.push_back(std::move(pulses));
    }
}

}  // namespace identify_parts

namespace {

using identify_parts::Draft;
using identify_parts::Trial;

Result<Trial> trial_of(const Capture& capture, const IdentifyOptions& options) {
    Trial t;
    std::vector<const Signal*> signals;
    if (options.signals.empty()) {
        for (const auto& s : capture.signals)
            if (s.digital) signals.push_back(&s);
    } else {
        for (const auto& name : options.signals) {
            const auto s = capture.find(name);
            if (!s) return fail(s.error());
            if (const auto waveform = capture.find_digital(name); !waveform) return fail(waveform.error());
            signals.push_back(*s);
        }
    }
    Time end = capture.extent.to;
    for (const auto* s : signals)
        if (const auto edges = s->digital->edges(); edges.size() > options.trial_edges)
            end = std::min(end, edges[options.trial_edges]);
    t.capture.format = capture.format;
    t.capture.resolution = capture.resolution;
    t.capture.extent = {capture.extent.from, end};
    for (const auto* s : signals) {
        const auto n = s->digital->edges_before(end == capture.extent.to ? Time::max() : end);
        Signal part = *s;
        if (n < s->digital->edges().size()) {
            const auto edges = s->digital->edges().first(n);
            std::vector<Span> unknown;
            for (const auto& u : s->digital->unknown())
                if (u.from < end) unknown.push_back({u.from, std::min(u.to, end)});
            part.digital = std::make_shared<const DigitalWaveform>(
                s->digital->first_level(), std::vector<Time>(edges.begin(), edges.end()), unknown);
        }
        t.capture.signals.push_back(std::move(part));
    }
    for (const auto& s : t.capture.signals) {
        if (s.digital->edges().empty()) continue;
        t.lines.push_back({s.name, s.digital.get(), s.digital->edges().size(), resting_level(*s.digital)});
        t.all_edges += s.digital->edges().size();
    }
    // Samples to the shortest pulses: under four, edges may be missing that nobody can see.
    const auto stated = options.sample_period ? options.sample_period : capture.sample_period;
    auto period = stated ? stated : find_sample_period(t.capture);
    if (!period && capture.resolution > Time::ps(1))
        period = capture.resolution;  // it can't be finer than the file's unit
    // A grid that nobody stated is that of the sampling only when lines of different kinds share it: one
    // alone may have it from its own clock.
    const auto busy =
        std::count_if(t.lines.begin(), t.lines.end(), [](const auto& l) { return l.edges >= 16; });
    if (stated || busy >= 3) t.sample_period = period;
    if (period && period->count() > 0) {
        double least = 1e300;
        for (const auto& l : t.lines) {
            std::vector<double> lengths;
            const auto edges = l.waveform->edges();
            for (std::size_t i = 1; i < edges.size(); ++i)
                lengths.push_back(static_cast<double>((edges[i] - edges[i - 1]).count()));
            if (lengths.size() < 8) continue;
            const auto at = lengths.begin() + static_cast<std::ptrdiff_t>(lengths.size() / 50);
            std::nth_element(lengths.begin(), at, lengths.end());
            least = std::min(least, *at);
        }
        if (least < 1e300)
            t.sampling_trust =
                std::clamp(0.45 + 0.14 * least / static_cast<double>(period->count()), 0.5, 1.0);
    }
    return t;
}

}  // namespace

Result<std::vector<Candidate>> identify(const Capture& capture, const IdentifyOptions& options,
                                        Progress& progress) {
    long_work("identify");
    auto trial = trial_of(capture, options);
    if (!trial) return fail(trial.error());
    std::vector<Draft> drafts;
    using Part = void (*)(const Trial&, std::vector<Draft>&, Progress&);
    int done = 0;
    for (const Part part : {identify_parts::try_single_lines, identify_parts::try_pairs,
                            identify_parts::try_clocks, identify_parts::try_buses}) {
        part(*trial, drafts, progress);
        progress.report(0.25 * ++done);
        if (progress.cancelled()) return fail_cancelled();
    }
    return identify_parts::ranked(*trial, std::move(drafts), options.most_candidates);
}

}  // namespace grayrelic
