// SPDX-License-Identifier: GPL-3.0-or-later
// The log's trials as CSV, and back.
#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/base/date.hpp"
#include "core/base/decimal.hpp"
#include "core/base/table.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/record/trial_table.hpp"

namespace grayrelic {
namespace {

constexpr std::array own_columns{"id",        "day",    "unit",     "image",      "outcome",
                                 "degree_of", "degree", "expected", "plus_minus", "repeats",
                                 "beside",    "ran_s",  "ahead_s",  "note"};

std::string figure_cell(const std::optional<double>& v) {
    return v ? fmt::format("{}", *v) : std::string();
}

std::vector<std::string> factor_names(const std::vector<TrialRun>& trials) {
    std::vector<std::string> out;
    for (const auto& t : trials)
        for (const auto& f : t.setup)
            if (std::find(out.begin(), out.end(), f.name) == out.end()) out.push_back(f.name);
    return out;
}

/// Reads one row after the other, with its line in every fault.
class TrialReader {
  public:
    TrialReader(const Table& table, const Dossier& d) : table_(table), d_(d) {
        keys_ = heading_keys(table.rows.front());
    }
    Result<std::vector<TrialRun>> read();

  private:
    [[nodiscard]] std::string at(const TableRow& row, const char* key) const {
        return cell_below(keys_, row, key);
    }
    [[nodiscard]] Failure bad(const TableRow& row, const std::string& found, std::string expected) const {
        return fail_at(table_.name, row.line, found.empty() ? "nothing" : in_quotes(found),
                       std::move(expected));
    }
    Status read_figures(const TableRow& row, TrialRun& t) const;
    Status read_words(const TableRow& row, TrialRun& t) const;
    Status read_row(const TableRow& row, TrialRun& t) const;
    [[nodiscard]] std::string unit_id(const std::string& said) const;
    [[nodiscard]] std::string image_id(const std::string& said) const;

    const Table& table_;
    const Dossier& d_;
    std::vector<std::string> keys_;
};

std::string TrialReader::unit_id(const std::string& said) const {
    for (const auto& u : *d_.units)
        if (u.id == said || u.name == said) return u.id;
    return {};
}

std::string TrialReader::image_id(const std::string& said) const {
    for (const auto& i : d_.log->images)
        if (i.id == said || image_name(i) == said) return i.id;
    return {};
}

Status TrialReader::read_figures(const TableRow& row, TrialRun& t) const {
    const std::array<std::pair<const char*, std::optional<double> TrialRun::*>, 5> figures{
        {{"degree", &TrialRun::degree},
         {"expected", &TrialRun::expected},
         {"plus_minus", &TrialRun::plus_minus},
         {"ran_s", &TrialRun::ran_s},
         {"ahead_s", &TrialRun::ahead_s}}};
    for (const auto& [key, member] : figures) {
        const auto text = at(row, key);
        if (text.empty()) continue;
        t.*member = decimal_number(text, '.');
        const bool negative = member == &TrialRun::plus_minus || member == &TrialRun::ran_s;
        if (!(t.*member) || (negative && *(t.*member) < 0))
            return bad(row, text, fmt::format("a number below {}", key));
    }
    return {};
}

Status TrialReader::read_words(const TableRow& row, TrialRun& t) const {
    const auto outcome = named<TrialOutcome>(at(row, "outcome"));
    if (!outcome) return bad(row, at(row, "outcome"), one_of<TrialOutcome>() + " below outcome");
    t.outcome = *outcome;
    if (const auto text = at(row, "repeats"); !text.empty()) {
        const auto repeats = named<Repeats>(text);
        if (!repeats) return bad(row, text, one_of<Repeats>() + " below repeats");
        t.repeats = *repeats;
    }
    if (const auto text = at(row, "unit"); !text.empty()) {
        t.unit = unit_id(text);
        if (t.unit.empty()) return bad(row, text, "a unit of the dossier, by its id or name");
    }
    if (const auto text = at(row, "image"); !text.empty()) {
        t.image = image_id(text);
        if (t.image.empty()) return bad(row, text, "an image of the dossier, by its id");
    }
    return {};
}

Status TrialReader::read_row(const TableRow& row, TrialRun& t) const {
    t.id = at(row, "id");
    t.day = at(row, "day");
    if (!t.day.empty() && !parse_day(t.day)) return bad(row, t.day, "a day such as 2026-11-29");
    t.degree_of = at(row, "degree_of");
    t.beside = at(row, "beside");
    t.note = at(row, "note");
    if (auto words = read_words(row, t); !words) return words;
    if (auto figures = read_figures(row, t); !figures) return figures;
    const auto& heading = table_.rows.front();
    for (std::size_t c = 0; c < heading.cells.size(); ++c) {
        if (std::find(own_columns.begin(), own_columns.end(), keys_[c]) != own_columns.end()) continue;
        const auto value = cell_below(keys_, row, keys_[c]);
        if (!value.empty()) t.setup.push_back({std::string(trim(heading.cells[c])), value});
    }
    return {};
}

Result<std::vector<TrialRun>> TrialReader::read() {
    const auto& heading = table_.rows.front();
    if (std::find(keys_.begin(), keys_.end(), "outcome") == keys_.end())
        return fail_at(table_.name, heading.line, "no column outcome",
                       "a column outcome: " + one_of<TrialOutcome>());
    for (std::size_t c = 0; c < keys_.size(); ++c)
        if (keys_[c].empty() || std::count(keys_.begin(), keys_.end(), keys_[c]) > 1)
            return fail_at(table_.name, heading.line,
                           keys_[c].empty() ? fmt::format("no name over column {}", c + 1)
                                            : "the column " + in_quotes(keys_[c]) + " a second time",
                           "each column by a name of its own");
    std::vector<TrialRun> out;
    std::vector<std::string> taken;
    for (const auto& t : d_.log->trials) taken.push_back(t.id);
    for (std::size_t r = 1; r < table_.rows.size(); ++r) {
        const auto& row = table_.rows[r];
        if (row.cells.size() > heading.cells.size())
            return fail_at(table_.name, row.line, fmt::format("{} cells", row.cells.size()),
                           fmt::format("{}, as in the heading", heading.cells.size()));
        TrialRun t;
        if (auto read = read_row(row, t); !read) return fail(read.error());
        if (!out.empty() && !t.day.empty() && t.day < out.back().day)
            return bad(row, t.day, "days in the order of the runs; the one before was " + out.back().day);
        const bool twice =
            std::any_of(out.begin(), out.end(), [&](const TrialRun& o) { return o.id == t.id; });
        if (!t.id.empty() && twice) return bad(row, t.id, "each id once");
        if (t.id.empty()) t.id = free_id_among(taken, "trial");
        taken.push_back(t.id);
        out.push_back(std::move(t));
    }
    for (std::size_t i = 0; i < out.size(); ++i)
        if (!out[i].beside.empty() && std::find(taken.begin(), taken.end(), out[i].beside) == taken.end())
            return bad(table_.rows[i + 1], out[i].beside, "the id of a trial, below beside");
    return out;
}

}  // namespace

std::string trials_to_csv(const Dossier& d) {
    const auto names = factor_names(d.log->trials);
    std::string out;
    for (const auto* c : own_columns) out += (out.empty() ? "" : ",") + std::string(c);
    for (const auto& n : names) out += "," + table_cell(n);
    out += "\n";
    for (const auto& t : d.log->trials) {
        std::vector<std::string> cells{t.id,
                                       t.day,
                                       t.unit,
                                       t.image,
                                       std::string(word(t.outcome)),
                                       t.degree_of,
                                       figure_cell(t.degree),
                                       figure_cell(t.expected),
                                       figure_cell(t.plus_minus),
                                       std::string(word(t.repeats)),
                                       t.beside,
                                       figure_cell(t.ran_s),
                                       figure_cell(t.ahead_s),
                                       t.note};
        for (const auto& n : names) {
            const auto* value = t.find_factor(n);
            cells.push_back(value == nullptr ? std::string() : *value);
        }
        for (std::size_t i = 0; i < cells.size(); ++i) out += (i == 0 ? "" : ",") + table_cell(cells[i]);
        out += "\n";
    }
    return out;
}

Result<std::vector<TrialRun>> trials_from_csv(std::string_view text, const std::string& name,
                                              const Dossier& dossier) {
    const auto table = read_table(text, name, "a table of trials",
                                  {std::size_t{4} << 20U, most_trial_rows + 1, most_trial_factors + 40});
    if (!table) return fail(table.error());
    return TrialReader(*table, dossier).read();
}

}  // namespace grayrelic
