// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/fault_book.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
#include <set>

namespace grayrelic {
namespace {

/// Beyond this many things that do not fit it matters little how many more there are.
constexpr double enough_against = -12, repeated = 0.1;

/// Numbers for what a reading shows of each fault: values that fit one another have the same.
std::vector<std::uint16_t> shown(const FaultBook& book, std::size_t reading) {
    const auto kind = book.readings[reading].kind;
    std::vector<double> values;
    values.reserve(book.predicted.size() + 1);
    for (const auto& p : book.predicted) values.push_back(p.values[reading]);
    values.push_back(book.healthy.values[reading]);
    std::vector<std::size_t> order(values.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::sort(order.begin(), order.end(), [&](auto a, auto b) { return values[a] < values[b]; });
    std::vector<std::uint16_t> out(values.size(), 0);
    std::uint16_t number = 0;
    for (std::size_t i = 0; i < order.size(); ++i) {
        if (i > 0 && fit_of(kind, values[order[i]], values[order[i - 1]]) < 0.35) ++number;
        out[order[i]] = number;
    }
    return out;
}

/// What is seen at one lead has mostly one cause: of what differs alike there the first counts whole, the
/// others little.
double symptoms_fit(const Prediction& p, const std::vector<std::pair<std::size_t, std::string>>& symptoms) {
    std::set<std::string> met;
    double out = 0;
    for (const auto& [s, value] : symptoms) {
        const auto& said = p.symptoms[s].value;
        if (said == value) continue;
        const auto arrow = p.symptoms[s].key.find('>');
        const bool first = met.insert(said + value + p.symptoms[s].key.substr(arrow)).second;
        out += (first ? 1 : repeated) * std::log(fit_of(said, value));
    }
    return std::max(out, enough_against + 0.1 * (out - enough_against));
}

}  // namespace

double log_fit(const FaultBook& book, const Prediction& p,
               const std::vector<std::pair<std::size_t, double>>& readings,
               const std::vector<std::pair<std::size_t, std::string>>& symptoms) {
    double out = symptoms_fit(p, symptoms);
    for (const auto& [r, value] : readings)
        out += std::log(fit_of(book.readings[r].kind, p.values[r], value));
    return out;
}

Result<std::shared_ptr<const FaultBook>> make_fault_book(std::shared_ptr<const BenchBoard> board,
                                                         Progress& progress, bool looks) {
    auto book = std::make_shared<FaultBook>();
    book->board = std::move(board);
    const auto& b = *book->board;
    book->exercise = std::make_shared<const Exercise>(b);
    book->readings = readings_of(b);
    if (!looks) std::erase_if(book->readings, [](const auto& r) { return r.kind == ReadingKind::look; });
    book->faults = single_faults(b);
    book->healthy = predict(b, *book->exercise, book->readings, {});
    book->predicted.reserve(book->faults.size());
    for (std::size_t i = 0; i < book->faults.size(); ++i) {
        if (progress.cancelled()) return fail_cancelled();
        book->predicted.push_back(predict(b, *book->exercise, book->readings, {book->faults[i]}));
        progress.report(static_cast<double>(i + 1) / static_cast<double>(book->faults.size()));
    }
    for (std::size_t r = 0; r < book->readings.size(); ++r) book->shows.push_back(shown(*book, r));
    std::map<std::pair<std::vector<std::uint16_t>, std::string>, std::size_t> alike;
    for (std::size_t i = 0; i < book->faults.size(); ++i) {
        std::vector<std::uint16_t> column;
        column.reserve(book->readings.size());
        for (const auto& r : book->shows) column.push_back(r[i]);
        std::string symptoms;
        for (const auto& s : book->predicted[i].symptoms) symptoms += s.value + ";";
        book->look_alike.push_back(alike.emplace(std::pair(std::move(column), symptoms), i).first->second);
    }
    return std::shared_ptr<const FaultBook>(std::move(book));
}

FaultCounts found_before(const Dossier& dossier) {
    FaultCounts out{};
    for (const auto& b : *dossier.builds)
        for (const auto& f : b.found)
            if (const auto kind = named<FaultKind>(f.fault.substr(0, f.fault.find(':'))))
                ++out[static_cast<std::size_t>(*kind)];
    return out;
}

std::vector<std::string> not_simulated(const BenchBoard& board) {
    std::vector<std::string> out;
    for (const auto& t : board.things)
        if (t.kind == ThingKind::other) out.push_back(t.ref);
    return out;
}

std::vector<SymptomRow> symptom_table(const FaultBook& book, const FaultCounts& closed) {
    std::map<std::string, SymptomRow> rows;
    for (std::size_t i = 0; i < book.faults.size(); ++i) {
        std::string key;
        std::vector<Symptom> seen;
        for (const auto& s : book.predicted[i].symptoms)
            if (s.value != "ok") {
                key += s.key + "=" + s.value + ";";
                seen.push_back(s);
            }
        auto& row = rows[key];
        row.seen = std::move(seen);
        row.faults.push_back(i);
    }
    std::vector<SymptomRow> out;
    for (auto& [key, row] : rows) {
        std::stable_sort(row.faults.begin(), row.faults.end(), [&](auto a, auto b) {
            return prior_of(book.faults[a], closed) > prior_of(book.faults[b], closed);
        });
        out.push_back(std::move(row));
    }
    const auto weight_of = [&](const SymptomRow& r) {
        return std::accumulate(r.faults.begin(), r.faults.end(), 0.0,
                               [&](double sum, auto f) { return sum + prior_of(book.faults[f], closed); });
    };
    // Silent faults last: nothing is seen of them.
    std::stable_sort(out.begin(), out.end(), [&](const SymptomRow& a, const SymptomRow& b) {
        return std::pair(a.seen.empty(), -weight_of(a)) < std::pair(b.seen.empty(), -weight_of(b));
    });
    return out;
}

}  // namespace grayrelic
