// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/find.hpp"

#include "core/base/long_work.hpp"

#include <algorithm>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/signal/merged_edges.hpp"

namespace grayrelic {
namespace {

using Lines = std::vector<const DigitalWaveform*>;

struct Pattern {
    Lines lines;
    std::vector<bool> wanted;
    [[nodiscard]] bool holds_at(Time t) const {
        for (std::size_t i = 0; i < lines.size(); ++i)
            if (lines[i]->level_at(t) != wanted[i]) return false;
        return true;
    }
    [[nodiscard]] bool holds_before(Time t) const {
        for (std::size_t i = 0; i < lines.size(); ++i)
            if (lines[i]->level_before(t) != wanted[i]) return false;
        return true;
    }
};

Result<Pattern> pattern_of(const Capture& capture, const std::vector<LevelWanted>& levels) {
    Pattern p;
    for (const auto& l : levels) {
        const auto waveform = capture.find_digital(l.signal);
        if (!waveform) return fail(waveform.error());
        p.lines.push_back(*waveform);
        p.wanted.push_back(l.high);
    }
    return p;
}

class Search {
  public:
    Search(const Capture& capture, const FindQuery& query, Progress& progress)
        : capture_(capture), query_(query), progress_(progress) {}

    Status pulses(const Pattern& pattern) {
        const auto waveform = capture_.find_digital(*query_.pulse);
        if (!waveform) return fail(waveform.error());
        const auto edges = (*waveform)->edges();
        for (std::size_t i = 0; i + 1 < edges.size() && room(); ++i) {
            if ((i & 0xFFFFU) == 0) {
                progress_.report(static_cast<double>(i) / static_cast<double>(edges.size()));
                if (progress_.cancelled()) return fail_cancelled();
            }
            if (query_.pulse_level && (*waveform)->is_rise(i) != *query_.pulse_level) continue;
            const Time length = edges[i + 1] - edges[i];
            if ((query_.shorter && length >= *query_.shorter) || (query_.longer && length <= *query_.longer))
                continue;
            if (pattern.holds_at(edges[i])) hits.push_back({edges[i], edges[i + 1]});
        }
        return {};
    }

    Status stretches(const Pattern& pattern) {
        MergedEdges edges(pattern.lines);
        MergedEdges::Step s;
        std::vector<char> right(pattern.lines.size());
        std::size_t wrong = 0;
        for (std::size_t i = 0; i < right.size(); ++i)
            wrong += (right[i] = pattern.lines[i]->first_level() == pattern.wanted[i] ? 1 : 0) == 0 ? 1 : 0;
        bool holds = wrong == 0;
        Time since = capture_.extent.from;
        std::size_t n = 0;
        bool more = edges.next(s);
        while (more && room()) {
            if ((++n & 0xFFFFU) == 0 && progress_.cancelled()) return fail_cancelled();
            const Time t = s.time;
            // All edges at one time are one change.
            for (; more && s.time == t; more = edges.next(s)) {
                const char now = s.rises == pattern.wanted[s.line] ? 1 : 0;
                wrong += static_cast<std::size_t>(right[s.line]) - static_cast<std::size_t>(now);
                right[s.line] = now;
            }
            if (holds && wrong > 0 && t > since) hits.push_back({since, t});
            if (!holds && wrong == 0) since = t;
            holds = wrong == 0;
        }
        if (holds && capture_.extent.to > since && room()) hits.push_back({since, capture_.extent.to});
        if (query_.shorter) std::erase_if(hits, [&](const Span& h) { return h.length() >= *query_.shorter; });
        if (query_.longer) std::erase_if(hits, [&](const Span& h) { return h.length() <= *query_.longer; });
        return {};
    }

    Status pauses(const Pattern& pattern) {
        Lines all;
        for (const auto& s : capture_.signals)
            if (s.digital && !s.digital->edges().empty()) all.push_back(s.digital.get());
        MergedEdges edges(all);
        MergedEdges::Step s;
        bool any = false;
        Time last;
        std::size_t n = 0;
        while (edges.next(s) && room()) {
            if ((++n & 0xFFFFU) == 0 && progress_.cancelled()) return fail_cancelled();
            if (any && s.time - last > *query_.pause && pattern.holds_at(last))
                hits.push_back({last, s.time});
            any = true;
            last = s.time;
        }
        return {};
    }

    Status orders(const Pattern& pattern) {
        struct Step {
            std::size_t line;
            Direction direction;
            Pattern levels;
            std::optional<Time> within;
        };
        Lines lines;
        std::vector<Step> steps;
        for (const auto& o : query_.order) {
            const auto waveform = capture_.find_digital(o.edge.signal);
            if (!waveform) return fail(waveform.error());
            auto it = std::find(lines.begin(), lines.end(), *waveform);
            if (it == lines.end()) it = lines.insert(lines.end(), *waveform);
            auto levels = pattern_of(capture_, o.while_levels);
            if (!levels) return fail(levels.error());
            steps.push_back({static_cast<std::size_t>(it - lines.begin()), o.edge.direction,
                             std::move(*levels), o.within});
        }
        MergedEdges edges(lines);
        MergedEdges::Step s;
        std::size_t at = 0, n = 0;
        Time began, last;
        const auto fits = [&](const Step& want) {
            return s.line == want.line &&
                   (want.direction == Direction::any || s.rises == (want.direction == Direction::rise)) &&
                   want.levels.holds_before(s.time);
        };
        while (edges.next(s) && room()) {
            if ((++n & 0xFFFFU) == 0 && progress_.cancelled()) return fail_cancelled();
            if (at > 0 && steps[at].within && s.time - last > *steps[at].within) at = 0;
            if (at > 0 && !fits(steps[at])) {
                // The first step again, before the next has come: from here on, so that the nearest counts.
                if (at == 1 && fits(steps[0]) && pattern.holds_before(s.time)) began = last = s.time;
                continue;
            }
            if (!fits(steps[at]) || (at == 0 && !pattern.holds_before(s.time))) continue;
            if (at == 0) began = s.time;
            last = s.time;
            if (++at == steps.size()) {
                hits.push_back({began, s.time});
                at = 0;
            }
        }
        return {};
    }

    std::vector<Span> hits;

  private:
    [[nodiscard]] bool room() const { return hits.size() < most_hits; }
    const Capture& capture_;
    const FindQuery& query_;
    Progress& progress_;
};

}  // namespace

Result<std::vector<Span>> find_in(const Capture& capture, const FindQuery& query, Progress& progress) {
    long_work("find_in");
    const int kinds = (query.pulse ? 1 : 0) + (query.pause ? 1 : 0) + (query.order.empty() ? 0 : 1);
    if (kinds > 1)
        return fail_usage("several things to look for",
                          "a pulse, a pause or an order, each with levels if wanted");
    if (kinds == 0 && query.levels.empty())
        return fail_usage("nothing to look for", "a pulse, levels, a pause or an order of edges");
    if (query.pulse && !query.shorter && !query.longer)
        return fail_usage("a pulse without a length", "shorter or longer than a time");
    const auto pattern = pattern_of(capture, query.levels);
    if (!pattern) return fail(pattern.error());
    Search search(capture, query, progress);
    const auto done = query.pulse            ? search.pulses(*pattern)
                      : query.pause          ? search.pauses(*pattern)
                      : !query.order.empty() ? search.orders(*pattern)
                                             : search.stretches(*pattern);
    if (!done) return fail(done.error());
    progress.report(1.0);
    return std::move(search.hits);
}

}  // namespace grayrelic
