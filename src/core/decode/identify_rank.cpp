// SPDX-License-Identifier: GPL-3.0-or-later
// Candidates held against each other: who comes first, which hold together.
#include <fmt/format.h>

#include <algorithm>

#include "core/decode/identify_parts.hpp"

namespace grayrelic::identify_parts {
namespace {

std::size_t own_edges(const Trial& t, const std::vector<std::string>& lines) {
    std::size_t n = 0;
    for (const auto& l : t.lines)
        if (std::binary_search(lines.begin(), lines.end(), l.name)) n += l.edges;
    return n;
}

std::vector<std::string> lines_of(const Candidate& c) {
    std::vector<std::string> out;
    for (const auto& [role, names] : c.roles) out.insert(out.end(), names.begin(), names.end());
    std::sort(out.begin(), out.end());
    return out;
}

bool covers(const std::vector<std::string>& whole, const std::vector<std::string>& part) {
    return whole.size() > part.size() && std::includes(whole.begin(), whole.end(), part.begin(), part.end());
}

bool share_a_line(const std::vector<std::string>& a, const std::vector<std::string>& b) {
    return std::any_of(a.begin(), a.end(),
                       [&](const std::string& n) { return std::binary_search(b.begin(), b.end(), n); });
}

/// Who reads more lines as well as another reads some of them says more: the bits of a clocked link also
/// frame as characters, a bus read at its strobe is more than one of its lines. And who explains less than
/// half of its own lines never stands before one that explains them.
void hold_against_each_other(std::vector<Draft>& drafts) {
    constexpr double behind = 0.95, well = 0.45, half = 0.5, sound = 0.8 * least_fit;
    for (const auto& whole : drafts) {
        // A clock, a select and a data line keep time with each other too: few lines at a strobe prove
        // nothing against a family that says what each of them does.
        if (whole.candidate.kind == "strobed-bus" && whole.lines.size() < 5) continue;
        if (whole.quality < well || whole.explained < half || whole.candidate.score < sound) continue;
        for (auto& part : drafts)
            if (covers(whole.lines, part.lines))
                part.candidate.score = std::min(part.candidate.score, behind * whole.candidate.score);
    }
    for (const auto& better : drafts) {
        if (better.explained < half || better.candidate.score < sound) continue;
        for (auto& worse : drafts)
            if (worse.explained < half && share_a_line(better.lines, worse.lines))
                worse.candidate.score = std::min(worse.candidate.score, behind * better.candidate.score);
    }
}

}  // namespace

std::vector<Candidate> ranked(const Trial& trial, std::vector<Draft> drafts, std::size_t most_candidates) {
    std::erase_if(drafts, [](const Draft& d) { return d.candidate.kind.empty(); });
    double most = 1;
    for (auto& d : drafts) {
        d.lines = lines_of(d.candidate);
        d.explained_edges = d.explained * static_cast<double>(own_edges(trial, d.lines));
        if (d.quality > 0.5) most = std::max(most, d.explained_edges);
    }
    for (auto& d : drafts) {
        auto& c = d.candidate;
        // Of two that read their lines equally well, the one that accounts for more of what is going on.
        const double company = 0.85 + 0.15 * std::min(1.0, d.explained_edges / most);
        c.score = std::clamp(
            d.quality * (0.25 + 0.75 * d.explained) * d.trust * trial.sampling_trust * company, 0.0, 1.0);
        c.explains = trial.all_edges == 0 ? 0.0 : d.explained_edges / static_cast<double>(trial.all_edges);
    }
    hold_against_each_other(drafts);
    std::stable_sort(drafts.begin(), drafts.end(),
                     [](const Draft& x, const Draft& y) { return x.candidate.score > y.candidate.score; });
    std::vector<Candidate> out;
    for (auto& d : drafts)
        if (d.candidate.score >= 0.05 && out.size() < most_candidates) out.push_back(std::move(d.candidate));
    // Close behind another on a line of its own: say so. Whoever reads part of its lines, or all of them as
    // the same family, is no rival; nor is a second link.
    constexpr double nearly = 0.85;
    for (std::size_t i = 0; i < out.size(); ++i) {
        if (out[i].score < least_fit) break;
        for (std::size_t j = 0; j < out.size(); ++j) {
            if (j == i || out[j].kind == out[i].kind || out[j].score < nearly * out[i].score) continue;
            const auto a = lines_of(out[i]), b = lines_of(out[j]);
            if (!share_a_line(a, b) || covers(a, b) || covers(b, a)) continue;
            out[i].alternatives.push_back(
                fmt::format("{} fits nearly as well ({:.2f}).", out[j].kind, out[j].score));
            out[i].not_told_apart.push_back(
                {"kind", {out[i].kind, out[j].kind}, "a longer recording, with more of what may happen"});
            break;
        }
    }
    return out;
}

}  // namespace grayrelic::identify_parts

namespace grayrelic {

std::vector<std::vector<std::size_t>> links_of(const std::vector<Candidate>& candidates) {
    using namespace identify_parts;
    std::vector<std::vector<std::size_t>> out;
    std::vector<std::size_t> set;
    std::vector<std::string> taken;
    for (std::size_t i = 0; i < candidates.size(); ++i) {
        if (candidates[i].score < least_fit) continue;
        const auto lines = lines_of(candidates[i]);
        if (share_a_line(lines, taken)) continue;
        set.push_back(i);
        taken.insert(taken.end(), lines.begin(), lines.end());
        std::sort(taken.begin(), taken.end());
    }
    if (!set.empty()) out.push_back(std::move(set));
    return out;
}

}  // namespace grayrelic
