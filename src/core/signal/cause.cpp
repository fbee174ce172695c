// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/cause.hpp"

#include <algorithm>
#include <cmath>
#include <optional>

namespace grayrelic {
namespace {

constexpr std::size_t enough_changes = 200'000;  ///< of a line; more say no more
constexpr long enough_to_settle = 8;
constexpr double stray = 0.02;  ///< share of changes that may be nobody's
constexpr double clearly = 3;   ///< times the spread

/// The last edge of a line in one direction at or before times that only go forward.
class LastEdge {
  public:
    LastEdge(const DigitalWaveform& line, Direction direction) : line_(&line), direction_(direction) {}
    std::optional<Time> until(Time t) {
        const auto edges = line_->edges();
        for (; next_ < edges.size() && edges[next_] <= t; ++next_)
            if (line_->matches(next_, direction_)) last_ = edges[next_];
        return last_;
    }

  private:
    const DigitalWaveform* line_;
    Direction direction_;
    std::size_t next_ = 0;
    std::optional<Time> last_;
};

Time at_share(std::vector<Time>& values, double share) {
    const auto at = values.begin() + std::lround(share * static_cast<double>(values.size() - 1));
    std::nth_element(values.begin(), at, values.end());
    return *at;
}

void summarise_delays(CauseFit& fit, std::vector<Time>& delays) {
    fit.followed = static_cast<long>(delays.size());
    if (delays.empty()) return;
    const auto [least, most] = std::minmax_element(delays.begin(), delays.end());
    fit.least = *least;
    fit.most = *most;
    fit.typical = at_share(delays, 0.5);
    fit.spread = at_share(delays, 0.98) - at_share(delays, 0.02);
}

/// Delays behind each candidate of the changes of one line.
void collect(const DigitalWaveform& answer, const std::vector<CauseCandidate>& candidates,
             const CauseRules& rules, std::vector<CauseFit>& fits, std::vector<std::vector<Time>>& delays) {
    std::vector<LastEdge> lasts, others;
    for (const auto& c : candidates) lasts.emplace_back(*c.line, c.direction);
    for (const auto* o : rules.others) others.emplace_back(*o, Direction::any);
    const auto changes = answer.edges();
    std::vector<std::optional<Time>> behind(candidates.size());
    for (std::size_t i = 0; i < std::min(changes.size(), enough_changes); ++i) {
        const Time t = changes[i];
        std::optional<Time> other, nearest;
        for (auto& o : others) other = std::max(other, o.until(t));
        for (std::size_t k = 0; k < candidates.size(); ++k)
            nearest = std::max(nearest, behind[k] = lasts[k].until(t));
        if (!nearest || t - *nearest > rules.pause || (other && *other >= *nearest)) continue;
        for (std::size_t k = 0; k < candidates.size(); ++k) {
            const bool caused = behind[k] && t - *behind[k] <= rules.pause && (!other || *behind[k] > *other);
            if (caused)
                delays[k].push_back(t - *behind[k]);
            else
                ++fits[k].alone;
        }
    }
}

}  // namespace

CauseStudy study_causes(const std::vector<const DigitalWaveform*>& answers,
                        const std::vector<CauseCandidate>& candidates, const CauseRules& rules) {
    CauseStudy study;
    std::vector<CauseFit> fits(candidates.size());
    std::vector<std::vector<Time>> delays(candidates.size());
    for (std::size_t k = 0; k < fits.size(); ++k) fits[k].which = k;
    for (const auto* a : answers) collect(*a, candidates, rules, fits, delays);
    for (std::size_t k = 0; k < fits.size(); ++k) summarise_delays(fits[k], delays[k]);
    std::erase_if(fits, [](const CauseFit& f) { return f.followed == 0; });
    if (fits.empty()) return study;
    const auto spread = [&](const CauseFit& f) {
        return static_cast<double>(std::max(f.spread, std::max(rules.sample, Time::ps(1))).count());
    };
    // Those that leave out no more than strays, the least spread first; where spreads do not tell, the
    // nearer.
    const auto better = [&](const CauseFit& a, const CauseFit& b) {
        const bool ea = a.alone_share() <= stray, eb = b.alone_share() <= stray;
        if (ea != eb) return ea;
        if (!ea && a.alone != b.alone) return a.alone < b.alone;
        const double sa = spread(a), sb = spread(b);
        return sa * clearly < sb || sb * clearly < sa ? sa < sb : a.typical < b.typical;
    };
    // No order of all of them: only who is not beaten matters.
    for (auto& f : fits)
        if (better(f, fits.front())) std::swap(f, fits.front());
    const auto& best = fits.front();
    study.settled = best.followed >= enough_to_settle && best.alone_share() <= 0.25 &&
                    std::all_of(fits.begin() + 1, fits.end(), [&](const CauseFit& other) {
                        const bool leaves_out = best.alone_share() <= stray &&
                                                other.alone_share() > 2 * stray && other.alone >= 3;
                        return leaves_out || spread(best) * clearly < spread(other);
                    });
    study.fits = std::move(fits);
    return study;
}

std::vector<Closeness> closeness_of(const std::vector<const DigitalWaveform*>& answers,
                                    const DigitalWaveform& line) {
    std::vector<Time> behind[2], ahead[2];
    const auto edges = line.edges();
    for (const auto* a : answers) {
        const auto changes = a->edges();
        std::size_t next = 0;
        for (std::size_t i = 0; i < std::min(changes.size(), enough_changes); ++i) {
            while (next < edges.size() && edges[next] <= changes[i]) ++next;
            if (next == 0 || next == edges.size()) continue;
            const auto fell = static_cast<std::size_t>(line.is_rise(next - 1) ? 0 : 1);
            behind[fell].push_back(changes[i] - edges[next - 1]);
            ahead[fell].push_back(edges[next] - changes[i]);
        }
    }
    std::vector<Closeness> out(2);
    out[1].before = Direction::fall;
    for (std::size_t k = 0; k < 2; ++k) {
        out[k].changes = static_cast<long>(behind[k].size());
        if (behind[k].empty()) continue;
        out[k].behind = at_share(behind[k], 0.5);
        out[k].behind_spread = at_share(behind[k], 0.95) - at_share(behind[k], 0.05);
        out[k].ahead = at_share(ahead[k], 0.5);
        out[k].ahead_spread = at_share(ahead[k], 0.95) - at_share(ahead[k], 0.05);
    }
    return out;
}

}  // namespace grayrelic
