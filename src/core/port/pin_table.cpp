// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/port/pin_table.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <optional>

#include "core/base/table.hpp"
#include "core/base/text.hpp"
#include "core/dossier/pin_fields.hpp"
#include "core/port/protection.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_cell = 1000;  // characters

std::string heading(std::string_view cell) {
    auto out = heading_key(cell);
    static const std::map<std::string, std::string, std::less<>> other = {{"number", "pin"},
                                                                          {"no", "pin"},
                                                                          {"no.", "pin"},
                                                                          {"contact", "pin"},
                                                                          {"position", "pin"},
                                                                          {"#", "pin"},
                                                                          {"signal", "name"},
                                                                          {"signal_name", "name"},
                                                                          {"label", "name"},
                                                                          {"driven_by", "driver"},
                                                                          {"logic_family", "family"},
                                                                          {"max_v", "volts_max"},
                                                                          {"highest_voltage", "volts_max"},
                                                                          {"lowest_voltage", "volts_min"},
                                                                          {"most_current", "current_max"},
                                                                          {"idle_level", "idle"},
                                                                          {"wire_colour", "colour"},
                                                                          {"wire", "colour"},
                                                                          {"color", "colour"},
                                                                          {"remark", "note"},
                                                                          {"notes", "note"},
                                                                          {"comment", "note"},
                                                                          {"type", "function"}};
    const auto it = other.find(out);
    return it == other.end() ? out : it->second;
}

bool is_row_key(std::string_view key) {
    return key == "pin" || key == "note" || key == "evidence" || key == "source" || key == "tool" ||
           key == "date";
}

using Row = TableRow;

class Reader {
  public:
    Reader(const std::string& name, const PinTableOptions& options) : name_(name), options_(options) {}

    Result<PinTable> read(const std::vector<Row>& rows) {
        std::size_t first = 0;
        if (auto done = take_heading(rows.front(), first); !done) return fail(done.error());
        for (std::size_t i = first; i < rows.size(); ++i)
            if (auto done = take_row(rows[i]); !done) return fail(done.error());
        if (table_.pins.empty()) return fail_at(name_, rows.front().line, "no pins", "a row for each pin");
        return std::move(table_);
    }

  private:
    Status take_heading(const Row& row, std::size_t& first) {
        bool any = false;
        for (const auto& cell : row.cells) any = any || heading(cell) == "pin" || heading(cell) == "name";
        if (!any) {
            // A heading that names other things, or none: a first cell that could be a pin number tells.
            const auto& c = row.cells.front();
            if (c.size() > 4 || row.cells.size() < 2)
                return fail_at(name_, row.line, "a heading without the column \"pin\"",
                               "columns such as pin,name,driver,family,volts_max,idle,note");
            keys_ = {"pin", "name", "driver", "family", "volts_max", "idle", "note"};
            if (row.cells.size() > keys_.size())
                return fail_at(name_, row.line, fmt::format("{} columns and no heading", row.cells.size()),
                               "at most 7 columns, or a heading");
            return {};
        }
        first = 1;
        std::size_t column = 0;
        for (const auto& cell : row.cells) {
            auto key = heading(cell);
            ++column;
            if (key.empty()) {
                keys_.emplace_back();
                continue;
            }
            if (std::find(keys_.begin(), keys_.end(), key) != keys_.end())
                return fail_at(name_, row.line,
                               fmt::format("a second column {} (column {})", in_quotes(cell), column),
                               "each column once");
            if (!is_row_key(key) && find_pin_field(key) == nullptr) {
                table_.left_out.push_back(cell);
                key.clear();
            }
            keys_.push_back(std::move(key));
        }
        for (const char* needed : {"pin", "name"})
            if (std::find(keys_.begin(), keys_.end(), needed) == keys_.end())
                return fail_at(name_, row.line, fmt::format("no column \"{}\"", needed),
                               "the columns pin and name at least");
        return {};
    }

    [[nodiscard]] tl::unexpected<Error> fault(const Row& row, std::size_t column, std::string found,
                                              std::string expected) const {
        const auto& key = keys_[column];
        return fail_at(name_, row.line, fmt::format("{} in column {} ({})", found, column + 1, key),
                       std::move(expected));
    }

    Status take_row(const Row& row) {
        Pin pin;
        Evidence evidence = options_.evidence;
        for (std::size_t i = 0; i < row.cells.size(); ++i) {
            if (i >= keys_.size()) {
                if (!row.cells[i].empty())
                    return fail_at(name_, row.line, fmt::format("{} columns", row.cells.size()),
                                   fmt::format("{}, as in the heading", keys_.size()));
                continue;
            }
            if (keys_[i].empty()) continue;
            if (auto done = check_cell(row, i); !done) return done;
            if (auto done = take_evidence(row, i, evidence); !done) return done;
        }
        for (std::size_t i = 0; i < std::min(row.cells.size(), keys_.size()); ++i) {
            auto cell = row.cells[i];
            if (cell.size() > 1 && cell[0] == '\'' && is_formula(std::string_view(cell).substr(1)))
                cell.erase(0, 1);
            if (keys_[i] == "pin") pin.number = cell;
            if (keys_[i] == "note") pin.note = cell;
            const auto* field = find_pin_field(keys_[i]);
            if (field == nullptr || cell.empty()) continue;
            if (auto done = set_field(pin, *field, cell, evidence); !done)
                return fault(row, i, done.error().found.empty() ? in_quotes(cell) : done.error().found,
                             done.error().expected);
        }
        if (auto done = check_protection(row, pin); !done) return done;
        const auto column =
            static_cast<std::size_t>(std::find(keys_.begin(), keys_.end(), "pin") - keys_.begin());
        if (pin.number.empty()) return fault(row, column, "no pin number", "the contact's number");
        if (pin.number.size() > 16) return fault(row, column, in_quotes(pin.number), "a contact's number");
        as_connector_names(pin);
        if (const auto seen = seen_.emplace(pin.number, row.line); !seen.second)
            return fault(row, column, "pin " + in_quotes(pin.number) + " a second time",
                         fmt::format("each pin once; it stands in row {} too", seen.first->second));
        if (options_.connector != nullptr &&
            !options_.connector->contact_numbered(pin.number, options_.numbering))
            return fault(row, column, "pin " + in_quotes(pin.number),
                         fmt::format("one of the {} contacts of {}", options_.connector->contacts.size(),
                                     options_.connector->id));
        table_.pins.push_back(std::move(pin));
        return {};
    }

    [[nodiscard]] Status check_protection(const Row& row, const Pin& pin) const {
        const auto read = protection_from_text(pin.protection.value);
        if (read) return {};
        const auto at = std::find(keys_.begin(), keys_.end(), "protection") - keys_.begin();
        return fault(row, static_cast<std::size_t>(at), read.error().found, read.error().expected);
    }

    /// A connector's other ways of counting ("VBUS" of 1) are taken, too.
    void as_connector_names(Pin& pin) const {
        const auto* c = options_.connector;
        if (c == nullptr || c->contact_numbered(pin.number, options_.numbering)) return;
        for (const auto& other : c->numberings)
            if (const auto i = c->contact_numbered(pin.number, other.id)) {
                pin.number = c->numbering(options_.numbering).numbers[*i];
                return;
            }
    }

    [[nodiscard]] Status check_cell(const Row& row, std::size_t i) const {
        const auto& cell = row.cells[i];
        if (is_formula(cell))
            return fault(row, i, "the formula " + in_quotes(cell), "a value; copy the values, not formulas");
        if (cell.size() > most_cell)
            return fault(row, i, fmt::format("{} characters", cell.size()),
                         fmt::format("at most {}", most_cell));
        for (const char c : cell)
            if (static_cast<unsigned char>(c) < 0x20 && c != '\n' && c != '\r' && c != '\t')
                return fault(row, i, "a control character in " + in_quotes(cell), "text");
        return {};
    }

    Status take_evidence(const Row& row, std::size_t i, Evidence& evidence) const {
        const auto& cell = row.cells[i];
        if (cell.empty()) return {};
        if (keys_[i] == "source") evidence.source = cell;
        if (keys_[i] == "tool") evidence.tool = cell;
        if (keys_[i] == "date") evidence.date = cell;
        if (keys_[i] == "evidence") {
            const auto kind = named<EvidenceKind>(cell);
            if (!kind) return fault(row, i, in_quotes(cell), "measured, documented, deduced or assumed");
            evidence.kind = *kind;
        }
        return {};
    }

    std::string name_;
    PinTableOptions options_;
    std::vector<std::string> keys_;
    std::map<std::string, long> seen_;
    PinTable table_;
};

/// Plain numbers where the contract asks for them; units stay where a person reads them.
std::string plain_volts(const Fact<std::optional<Volts>>& fact) {
    return fact.value ? fmt::format("{}", fact.value->value()) : std::string();
}

}  // namespace

Result<PinTable> read_pin_table(std::string_view text, const std::string& name,
                                const PinTableOptions& options) {
    const auto table =
        read_table(text, name, "a table of pins", {most_pin_table_bytes, most_pin_table_rows, 200});
    if (!table) return fail(table.error());
    return Reader(name, options).read(table->rows);
}

std::string write_pin_table(const std::vector<Pin>& pins, char delimiter) {
    std::vector<std::string> keys = {"pin", "name", "driver", "family", "volts_max", "idle", "note"};
    for (const auto& field : pin_fields()) {
        const bool listed = std::find(keys.begin(), keys.end(), field.key) != keys.end();
        const bool used =
            std::any_of(pins.begin(), pins.end(), [&](const Pin& p) { return field_known(p, field); });
        if (!listed && used) keys.emplace_back(field.key);
    }
    const auto any = [&](std::string Evidence::*member) {
        return std::any_of(pins.begin(), pins.end(),
                           [&](const Pin& p) { return !(p.name.evidence.*member).empty(); });
    };
    keys.emplace_back("evidence");
    if (any(&Evidence::source)) keys.emplace_back("source");
    if (any(&Evidence::tool)) keys.emplace_back("tool");
    if (any(&Evidence::date)) keys.emplace_back("date");
    std::string out;
    for (std::size_t i = 0; i < keys.size(); ++i) out += (i == 0 ? "" : std::string(1, delimiter)) + keys[i];
    out += "\n";
    for (const auto& pin : pins) {
        for (std::size_t i = 0; i < keys.size(); ++i) {
            const auto& key = keys[i];
            if (i > 0) out += delimiter;
            std::string text;
            if (key == "pin")
                text = pin.number;
            else if (key == "note")
                text = pin.note;
            else if (key == "evidence")
                text = word(pin.name.evidence.kind);
            else if (key == "source")
                text = pin.name.evidence.source;
            else if (key == "tool")
                text = pin.name.evidence.tool;
            else if (key == "date")
                text = pin.name.evidence.date;
            else if (key == "volts_max" && !pin.volts_max.uncertainty)
                text = plain_volts(pin.volts_max);
            else
                text = field_text(pin, *find_pin_field(key));
            out += table_cell(std::move(text), delimiter);
        }
        out += "\n";
    }
    return out;
}

}  // namespace grayrelic
