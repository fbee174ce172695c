// SPDX-License-Identifier: GPL-3.0-or-later
// Words with errors, and words of another length than most of their capture.
#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/checks/registry.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic {
namespace {

void check_lengths(const CaptureAnalysis& c, Findings& out) {
    std::map<std::size_t, long> lengths;
    for (const auto& f : c.decoding->frames) ++lengths[f.levels.size()];
    if (lengths.size() < 2) return;
    const auto usual = std::max_element(lengths.begin(), lengths.end(),
                                        [](const auto& x, const auto& y) { return x.second < y.second; });
    const auto odd = std::find_if(c.decoding->frames.begin(), c.decoding->frames.end(),
                                  [&](const Frame& f) { return f.levels.size() != usual->first; });
    const long others = static_cast<long>(c.decoding->frames.size()) - usual->second;
    out.push_back({"decode-errors",
                   Severity::note,
                   Stage::listen,
                   "capture " + c.ref.id + " lengths",
                   fmt::format("{} of another length", plural(others, "word", "words")),
                   fmt::format("{}: {} have {} bits, the first other one has {}.", c.ref.title,
                               plural(usual->second, "word", "words"), usual->first, odd->levels.size()),
                   "See whether the host polls in two ways, or a clock edge was missed.",
                   {"capture", c.ref.id, odd->start}});
}

}  // namespace

void check_decoding(const Analysis& a, Findings& out) {
    for (const auto& c : a.listen->captures) {
        Finding f{"decode-errors",       Severity::doubt, Stage::listen, "capture " + c->ref.id, "", "", "",
                  {"capture", c->ref.id}};
        if (!c->decode_problem.empty()) {
            f.says = fmt::format("{} can't be decoded", c->ref.title);
            f.why = c->decode_problem;
            f.todo = "Set the decoder's roles and settings.";
            out.push_back(std::move(f));
            continue;
        }
        if (!c->decoding) continue;
        const auto& d = *c->decoding;
        if (d.frames.empty()) {
            f.says = fmt::format("No word was found in {}", c->ref.title);
            f.why = fmt::format("Read as {}.", d.kind);
            f.todo = "Check which signal has which role.";
            out.push_back(std::move(f));
            continue;
        }
        if (const long bad = d.frames_with_errors(); bad > 0) {
            std::string kinds;
            for (const auto& [kind, n] : d.error_counts)
                kinds += fmt::format("{}{} {}", kinds.empty() ? "" : ", ", print_count(n), kind);
            const auto first = std::find_if(d.frames.begin(), d.frames.end(),
                                            [](const Frame& x) { return !x.errors.empty(); });
            f.says = fmt::format("{} in {} read with errors", plural(bad, "word", "words"), c->ref.title);
            f.why = fmt::format("Of {}: {}.", print_count(static_cast<long long>(d.frames.size())), kinds);
            f.todo = "Look at the first one; check edge, latch level and number of bits.";
            f.place.at = first->start;
            out.push_back(std::move(f));
        } else {
            check_lengths(*c, out);
        }
    }
}

}  // namespace grayrelic
