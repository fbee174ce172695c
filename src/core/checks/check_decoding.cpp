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

/// What is likeliest wrong, by family and by what the errors are; a few among many are the line's.
std::string advice(const Decoding& d, long bad) {
    const auto all = static_cast<long>(d.frames.size());
    const auto has = [&](const char* error) { return d.error_counts.count(error) != 0; };
    if (20 * bad < all)
        return "Look at the first one: so few are rather a disturbed line, or a word that was cut, than a "
               "wrong "
               "setting.";
    if (has("crc") || has("checksum")) return "Look at the first one; check which kind of checksum it is.";
    if (d.kind == "async-serial")
        return has("framing") ? "Check the rate, the polarity and the number of bits."
               : has("break") ? "Check the polarity: a line that rests at space is one long break."
                              : "Check the parity and the number of bits.";
    if (d.kind == "latch-shift") return "Look at the first one; check edge, latch level and number of bits.";
    if (d.kind == "pulse-width") return "Check the resting level and the rest that ends a burst.";
    if (d.kind == "framed-clock") return "Check the edge, the parity and the number of bits.";
    if (d.kind == "clocked") return "Check the number of bits, the mode and which line is the select.";
    if (d.kind == "quadrature") return "Check that both lines belong to one wheel, and the sampling.";
    if (d.kind == "matrix") return "Check which lines are strobes, and their active level.";
    return "Look at the first one; check which signal has which role.";
}

/// In which families words have one length, and what another one means there.
std::string about_lengths(const std::string& kind) {
    if (kind == "latch-shift") return "See whether the host polls in two ways, or a clock edge was missed.";
    if (kind == "clocked")
        return "See whether transactions have several lengths; state the bits of a word then.";
    return {};
}

void check_lengths(const CaptureAnalysis& c, Findings& out) {
    const auto todo = about_lengths(c.decoding->kind);
    if (todo.empty()) return;  // command and reply may differ as they like
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
                   todo,
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
            f.todo = advice(d, bad);
            f.place.at = first->start;
            out.push_back(std::move(f));
        } else {
            check_lengths(*c, out);
        }
    }
}

}  // namespace grayrelic
