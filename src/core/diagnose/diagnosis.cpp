// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/diagnosis.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
#include <set>

#include "core/base/text.hpp"
#include "core/diagnose/best_order.hpp"

namespace grayrelic {
namespace {

/// As good as sure; as good as out of question; what does not fit a prediction.
constexpr double sure = 0.9, unlikely = 0.008, no_fit = 0.1, little_bits = 0.03;
/// How many readings are looked at two ahead, and against how many.
constexpr std::size_t most_first = 24, most_second = 160;
/// Up to how many things, and how many sets of them, all orders are tried: of advice, and to know the best.
constexpr std::size_t few_things = 14, some_sets = 6000, all_sets = 60000;

class DiagnosisWork {
  public:
    DiagnosisWork(const FaultBook& book, const std::vector<SaidReading>& seen, const FaultCounts& closed)
        : book_(book), closed_(closed) {
        sort_out(seen);
    }

    Diagnosis work() {
        weigh();
        suspects();
        next();
        const auto& first = out_.suspects;
        const auto& best = first.empty() || out_.healthy > first.front().chance ? against(book_.healthy)
                                                                                : first.front().against;
        if (!best.empty()) two_faults(best);
        return std::move(out_);
    }

    LeastReadings least(std::size_t fault) {
        weigh();
        std::vector<std::size_t> things;
        std::vector<double> chances;
        if (left(things, chances) >= sure) return {0, true};
        const auto is = [&](std::size_t thing) {
            return thing < book_.faults.size() && book_.look_alike[thing] == book_.look_alike[fault];
        };
        const auto at = std::find_if(things.begin(), things.end(), is);
        std::vector<OrderTest> tests;
        std::size_t most = 2;
        for (std::size_t r = 0; r < book_.readings.size(); ++r) {
            if (taken(r) || floating(r, things, chances) > 0) continue;
            OrderTest t{1.0, {}};
            t.shows.reserve(things.size());
            for (const auto thing : things) t.shows.push_back(book_.shows[r][thing]);
            most = std::max(most, std::set<std::uint16_t>(t.shows.begin(), t.shows.end()).size());
            tests.push_back(std::move(t));
        }
        if (at != things.end())
            if (const auto order = best_order(chances, tests, all_sets))
                return {order->tests[static_cast<std::size_t>(at - things.begin())], true};
        double all = 0, bits = 0;
        for (const double c : chances) all += c;
        for (const double c : chances) bits -= c / all * std::log2(c / all);
        return {std::max(1.0, bits / std::log2(static_cast<double>(most))), false};
    }

  private:
    void sort_out(const std::vector<SaidReading>& seen) {
        std::map<std::string, std::size_t> readings, symptoms;
        for (std::size_t i = 0; i < book_.readings.size(); ++i) readings.emplace(book_.readings[i].key(), i);
        for (std::size_t i = 0; i < book_.healthy.symptoms.size(); ++i)
            symptoms.emplace(book_.healthy.symptoms[i].key, i);
        std::map<std::size_t, double> by_reading;
        std::map<std::size_t, std::string> by_symptom;
        for (const auto& s : seen) {
            if (!s.reading) {
                const auto it = symptoms.find(s.symptom.key);
                if (it == symptoms.end())
                    out_.unknown.push_back(s.symptom.key);
                else if (s.symptom.value.starts_with("as ") && !has_line(s.symptom.value.substr(3)))
                    out_.unknown.push_back(s.symptom.value.substr(3));
                else
                    by_symptom[it->second] = s.symptom.value;
                continue;
            }
            auto it = readings.find(s.reading->key());
            if (it == readings.end() && s.reading->kind != ReadingKind::diode) {
                auto other = *s.reading;
                std::swap(other.a, other.b);
                it = readings.find(other.key());
            }
            if (it == readings.end())
                extra(s);
            else
                by_reading[it->second] = s.value;
        }
        read_.assign(by_reading.begin(), by_reading.end());
        told_.assign(by_symptom.begin(), by_symptom.end());
    }

    bool has_line(const std::string& name) const {
        return std::any_of(book_.board->driven.begin(), book_.board->driven.end(),
                           [&](const BenchDriven& d) { return d.name == name; });
    }

    /// A reading that is not among those of the book: predicted anew, where the board has its leads.
    void extra(const SaidReading& s) {
        const auto& r = *s.reading;
        const auto there = [&](std::string lead) {
            if (!lead.empty() && lead.back() == '~') lead.pop_back();
            if (lead.ends_with(" pad")) lead.resize(lead.size() - 4);
            return r.kind == ReadingKind::look ? book_.board->find(lead) != nullptr
                                               : book_.board->net_of(lead).has_value();
        };
        if (!there(r.a) || (!r.b.empty() && !there(r.b)))
            out_.unknown.push_back(r.key());
        else
            extra_.push_back(s);
    }

    void weigh() {
        const auto n = book_.faults.size();
        std::vector<double> logs(n + 1);
        for (std::size_t i = 0; i <= n; ++i) {
            const auto& p = i == n ? book_.healthy : book_.predicted[i];
            logs[i] =
                std::log(i == n ? 1.0 : prior_of(book_.faults[i], closed_)) + log_fit(book_, p, read_, told_);
        }
        for (const auto& s : extra_)
            for (std::size_t i = 0; i <= n; ++i) {
                const auto p = predict(*book_.board, *book_.exercise, {*s.reading},
                                       i == n ? std::vector<BenchFault>{} : std::vector{book_.faults[i]});
                logs[i] += std::log(fit_of(s.reading->kind, p.values[0], s.value));
            }
        const double most = *std::max_element(logs.begin(), logs.end());
        double sum = 0;
        chance_.resize(n + 1);
        for (std::size_t i = 0; i <= n; ++i) sum += chance_[i] = std::exp(logs[i] - most);
        for (auto& c : chance_) c /= sum;
        out_.healthy = chance_[n];
    }

    std::vector<std::string> against(const Prediction& p) const {
        std::vector<std::string> out;
        for (const auto& [r, value] : read_)
            if (fit_of(book_.readings[r].kind, p.values[r], value) < no_fit)
                out.push_back(fmt::format("{}={}", book_.readings[r].key(),
                                          print_reading(book_.readings[r].kind, value)));
        for (const auto& [s, value] : told_)
            if (fit_of(p.symptoms[s].value, value) < no_fit)
                out.push_back(fmt::format("{}={}", p.symptoms[s].key, value));
        return out;
    }

    void suspects() {
        std::vector<std::size_t> order(book_.faults.size());
        std::iota(order.begin(), order.end(), std::size_t{0});
        std::stable_sort(order.begin(), order.end(), [&](auto a, auto b) { return chance_[a] > chance_[b]; });
        for (const auto f : order) {
            if (out_.suspects.size() >= 60 && chance_[f] < unlikely * 0.01) break;
            out_.suspects.push_back({f, chance_[f], 0, against(book_.predicted[f])});
        }
        std::map<std::size_t, int> places;
        for (auto& s : out_.suspects)
            s.place =
                places.emplace(book_.look_alike[s.fault], static_cast<int>(places.size()) + 1).first->second;
    }

    void next() {
        std::vector<std::size_t> things;
        std::vector<double> chances;
        if (left(things, chances) >= sure) {
            out_.settled = true;
            return;
        }
        const auto reading =
            things.size() <= few_things ? by_order(things, chances) : by_bits(things, chances);
        if (!reading) {
            out_.settled = true;
            return;
        }
        out_.next = told_of(*reading);
    }

    /// One of each kind of look-alikes that is not out of question, with the chance of all of them; the
    /// greatest chance of any.
    double left(std::vector<std::size_t>& things, std::vector<double>& chances) const {
        std::map<std::size_t, double> mass;
        std::map<std::size_t, std::size_t> stands;
        const auto n = book_.faults.size();
        for (std::size_t i = 0; i < n; ++i) {
            mass[book_.look_alike[i]] += chance_[i];
            stands.emplace(book_.look_alike[i], i);
        }
        mass[n] += chance_[n];
        stands.emplace(n, n);
        double most = 0;
        for (const auto& [g, m] : mass) most = std::max(most, m);
        for (const auto& [g, m] : mass)
            if (m >= unlikely * most) {
                things.push_back(stands[g]);
                chances.push_back(m);
            }
        return most;
    }

    bool taken(std::size_t reading) const {
        return std::any_of(read_.begin(), read_.end(), [&](const auto& r) { return r.first == reading; });
    }
    /// What floats may show anything: no reading to decide by.
    double floating(std::size_t reading, const std::vector<std::size_t>& things,
                    const std::vector<double>& chances) const {
        if (book_.readings[reading].kind != ReadingKind::volts) return 0;
        double out = 0, all = 0;
        for (std::size_t i = 0; i < things.size(); ++i) {
            const auto& p = things[i] == book_.faults.size() ? book_.healthy : book_.predicted[things[i]];
            all += chances[i];
            if (p.values[reading] <= reads_floating / 10) out += chances[i];
        }
        return all > 0 ? out / all : 0;
    }

    std::optional<std::size_t> by_order(const std::vector<std::size_t>& things,
                                        const std::vector<double>& chances) const {
        std::vector<OrderTest> tests;
        std::vector<std::size_t> number;
        for (std::size_t r = 0; r < book_.readings.size(); ++r) {
            if (taken(r) || floating(r, things, chances) > 0) continue;
            OrderTest t{book_.readings[r].effort, {}};
            t.shows.reserve(things.size());
            for (const auto thing : things) t.shows.push_back(book_.shows[r][thing]);
            tests.push_back(std::move(t));
            number.push_back(r);
        }
        const auto order = best_order(chances, tests, some_sets);
        if (order && order->first) return number[*order->first];
        return by_bits(things, chances);
    }

    /// What a reading tells of the things in a set, less where it may float.
    double worth(std::size_t reading, const std::vector<std::size_t>& things,
                 const std::vector<double>& chances) const {
        std::map<std::uint16_t, double> mass;
        double all = 0, bits = 0;
        for (std::size_t i = 0; i < things.size(); ++i) {
            mass[book_.shows[reading][things[i]]] += chances[i];
            all += chances[i];
        }
        if (mass.size() < 2) return 0;
        for (const auto& [shows, m] : mass)
            if (m > 0) bits -= m / all * std::log2(m / all);
        return bits < little_bits ? 0 : bits * (1 - floating(reading, things, chances));
    }

    /// Two readings ahead: what one tells, and after each outcome the best second one, per effort.
    std::optional<std::size_t> by_bits(const std::vector<std::size_t>& things,
                                       const std::vector<double>& chances) const {
        std::vector<std::pair<double, std::size_t>> firsts;
        for (std::size_t r = 0; r < book_.readings.size(); ++r) {
            if (taken(r)) continue;
            if (const double bits = worth(r, things, chances); bits > 0)
                firsts.emplace_back(-bits / book_.readings[r].effort, r);
        }
        if (firsts.empty()) return std::nullopt;
        std::sort(firsts.begin(), firsts.end());
        std::vector<std::size_t> seconds;
        for (std::size_t i = 0; i < firsts.size() && i < most_second; ++i)
            seconds.push_back(firsts[i].second);
        if (firsts.size() > most_first) firsts.resize(most_first);
        std::optional<std::size_t> best;
        double most = 0;
        for (const auto& [minus, r] : firsts) {
            double bits = -minus * book_.readings[r].effort, effort = book_.readings[r].effort;
            std::map<std::uint16_t, std::pair<std::vector<std::size_t>, std::vector<double>>> left;
            double all = 0;
            for (std::size_t i = 0; i < things.size(); ++i) {
                auto& [some, theirs] = left[book_.shows[r][things[i]]];
                some.push_back(things[i]);
                theirs.push_back(chances[i]);
                all += chances[i];
            }
            for (const auto& [shows, set] : left) {
                if (set.first.size() < 2) continue;
                double share = 0, more = 0, its = 0;
                for (const double c : set.second) share += c / all;
                for (const auto second : seconds)
                    if (const double w = worth(second, set.first, set.second);
                        w / book_.readings[second].effort > more) {
                        more = w / book_.readings[second].effort;
                        its = book_.readings[second].effort;
                    }
                bits += share * more * its;
                effort += share * its;
            }
            if (bits / effort > most + 1e-12) {
                most = bits / effort;
                best = r;
            }
        }
        return best;
    }

    NextReading told_of(std::size_t reading) const {
        NextReading out;
        out.reading = reading;
        struct Share {
            double chance = 0, value = 0, best = 0;
            int faults = 0;
        };
        std::map<std::uint16_t, Share> shares;
        for (std::size_t i = 0; i <= book_.faults.size(); ++i) {
            const auto& p = i == book_.faults.size() ? book_.healthy : book_.predicted[i];
            auto& s = shares[book_.shows[reading][i]];
            s.chance += chance_[i];
            if (chance_[i] >= unlikely) ++s.faults;
            if (chance_[i] > s.best) {
                s.best = chance_[i];
                s.value = p.values[reading];
            }
        }
        const auto kind = book_.readings[reading].kind;
        for (const auto& [number, s] : shares)
            if (s.chance >= unlikely)
                out.outcomes.push_back({print_reading(kind, s.value), s.chance, s.faults});
        std::sort(out.outcomes.begin(), out.outcomes.end(),
                  [](const auto& a, const auto& b) { return a.chance > b.chance; });
        std::string why;
        for (const auto& o : out.outcomes) {
            if (!why.empty()) why += "; ";
            why += fmt::format("{} at {:.0f} %, {} left", o.shows, o.chance * 100,
                               plural(o.faults, "suspect", "suspects"));
            if (why.size() > 160) break;
        }
        out.why = why;
        return out;
    }

    bool explains(const Prediction& p) const { return against(p).empty(); }

    void two_faults(const std::vector<std::string>& left) {
        out_.unexplained = left;
        // Each of a pair explains something that a healthy board does not show.
        std::vector<std::pair<int, std::size_t>> useful;
        const auto bad = against(book_.healthy);
        for (std::size_t i = 0; i < book_.faults.size(); ++i) {
            const auto still = against(book_.predicted[i]);
            int explained = 0;
            for (const auto& b : bad)
                if (std::find(still.begin(), still.end(), b) == still.end()) ++explained;
            if (explained > 0) useful.emplace_back(-explained, i);
        }
        std::sort(useful.begin(), useful.end());
        if (useful.size() > 40) useful.resize(40);
        int tried = 0;
        for (std::size_t i = 0; i < useful.size(); ++i)
            for (std::size_t k = i + 1; k < useful.size() && tried < 120 && out_.pairs.size() < 5; ++k) {
                const auto a = useful[i].second, b = useful[k].second;
                if (!may_explain(a, b, bad)) continue;
                ++tried;
                auto p = predict(*book_.board, *book_.exercise, book_.readings,
                                 {book_.faults[a], book_.faults[b]});
                if (explains(p)) out_.pairs.push_back({a, b});
            }
    }
    /// Together they explain all that a healthy board does not show.
    bool may_explain(std::size_t a, std::size_t b, const std::vector<std::string>& bad) const {
        const auto one = against(book_.predicted[a]), two = against(book_.predicted[b]);
        return std::all_of(bad.begin(), bad.end(), [&](const std::string& s) {
            return std::find(one.begin(), one.end(), s) == one.end() ||
                   std::find(two.begin(), two.end(), s) == two.end();
        });
    }

    const FaultBook& book_;
    const FaultCounts& closed_;
    std::vector<std::pair<std::size_t, double>> read_;
    std::vector<std::pair<std::size_t, std::string>> told_;
    std::vector<SaidReading> extra_;
    std::vector<double> chance_;  // of each fault, last of a healthy board
    Diagnosis out_;
};

}  // namespace

Diagnosis diagnose(const FaultBook& book, const std::vector<SaidReading>& seen, const FaultCounts& closed) {
    return DiagnosisWork(book, seen, closed).work();
}

LeastReadings least_readings(const FaultBook& book, const std::vector<SaidReading>& seen, std::size_t fault,
                             const FaultCounts& closed) {
    return DiagnosisWork(book, seen, closed).least(fault);
}

}  // namespace grayrelic
