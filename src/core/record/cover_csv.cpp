// SPDX-License-Identifier: GPL-3.0-or-later
// What works with what as CSV, and what others found out.
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>

#include "core/base/table.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/record/cover_study.hpp"

namespace grayrelic {
namespace {

std::vector<std::string> names_in_cell(const std::string& cell) {
    std::vector<std::string> out;
    for (const auto part : split(cell, '|'))
        if (const auto name = trim(part); !name.empty()) out.emplace_back(name);
    return out;
}

void add_names(std::vector<std::string>& into, const std::vector<std::string>& more) {
    for (const auto& m : more)
        if (std::find(into.begin(), into.end(), m) == into.end()) into.push_back(m);
}

std::string as_id(const std::string& name) {
    std::string out;
    for (const char c : name) {
        const bool plain = (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || (c >= 'A' && c <= 'Z');
        out += plain ? static_cast<char>(c >= 'A' && c <= 'Z' ? c - 'A' + 'a' : c) : '-';
    }
    return out.empty() ? "item" : out;
}

}  // namespace

Result<std::vector<CoverItem>> cover_from_csv(std::string_view text, const std::string& name) {
    const auto table = read_table(text, name, "a table of what works");
    if (!table) return fail(table.error());
    const auto keys = heading_keys(table->rows.front());
    for (const auto* needed : {"item", "outcome"})
        if (std::find(keys.begin(), keys.end(), needed) == keys.end())
            return fail_at(name, table->rows.front().line, fmt::format("no column {}", needed),
                           "columns item, outcome, and where known kind, uses, spares, note");
    std::vector<CoverItem> out;
    std::vector<std::string> ids;
    for (std::size_t r = 1; r < table->rows.size(); ++r) {
        const auto& row = table->rows[r];
        const auto at = [&](const char* key) { return cell_below(keys, row, key); };
        CoverItem item;
        item.name = at("item");
        if (item.name.empty()) return fail_at(name, row.line, "nothing below item", "what was tried");
        const auto outcome = at("outcome").empty() ? std::optional(TrialOutcome::not_said)
                                                   : named<TrialOutcome>(at("outcome"));
        if (!outcome)
            return fail_at(name, row.line, in_quotes(at("outcome")),
                           one_of<TrialOutcome>() + " below outcome");
        if (const auto kind = at("kind"); !kind.empty()) {
            const auto known = named<CoverKind>(kind);
            if (!known) return fail_at(name, row.line, in_quotes(kind), one_of<CoverKind>() + " below kind");
            item.kind = *known;
        }
        item.uses = names_in_cell(at("uses"));
        item.spares = names_in_cell(at("spares"));
        for (const auto& f : item.uses)
            if (std::find(item.spares.begin(), item.spares.end(), f) != item.spares.end())
                return fail_at(name, row.line, in_quotes(f) + " below uses and below spares", "one of both");
        if (*outcome != TrialOutcome::not_said || !at("note").empty())
            item.said.push_back({*outcome, at("source"), {}, {}, at("note")});
        const auto same =
            std::find_if(out.begin(), out.end(), [&](const CoverItem& o) { return o.name == item.name; });
        if (same != out.end()) {
            const bool again = item.said.empty() ||
                               std::any_of(same->said.begin(), same->said.end(), [&](const CoverSaid& s) {
                                   return s.source == item.said.front().source;
                               });
            if (again)
                return fail_at(name, row.line, in_quotes(item.name) + " a second time",
                               "each item once for each source");
            add_names(same->uses, item.uses);
            add_names(same->spares, item.spares);
            same->said.push_back(item.said.front());
            continue;
        }
        item.id = free_id_among(ids, as_id(item.name));
        ids.push_back(item.id);
        out.push_back(std::move(item));
    }
    return out;
}

std::string cover_to_csv(const std::vector<CoverItem>& items) {
    std::string out = "item,kind,outcome,uses,spares,source,note\n";
    const auto row = [&](const CoverItem& i, const CoverSaid& s) {
        out += fmt::format("{},{},{},{},{},{},{}\n", table_cell(i.name.empty() ? i.id : i.name), word(i.kind),
                           word(s.outcome), table_cell(fmt::format("{}", fmt::join(i.uses, "|"))),
                           table_cell(fmt::format("{}", fmt::join(i.spares, "|"))), table_cell(s.source),
                           table_cell(s.note));
    };
    for (const auto& i : items) {
        if (i.said.empty()) row(i, {});
        for (const auto& s : i.said) row(i, s);
    }
    return out;
}

std::vector<CoverItem> merge_cover(std::vector<CoverItem> items, const std::vector<CoverItem>& more,
                                   const std::string& source, const std::string& day) {
    for (const auto& m : more) {
        auto at = std::find_if(items.begin(), items.end(), [&](const CoverItem& i) {
            return i.name == m.name || (i.name.empty() && i.id == m.name);
        });
        if (at == items.end()) {
            std::vector<std::string> taken;
            taken.reserve(items.size());
            for (const auto& i : items) taken.push_back(i.id);
            auto fresh = m;
            fresh.id = free_id_among(taken, m.id);
            fresh.said.clear();
            items.push_back(std::move(fresh));
            at = items.end() - 1;
        } else {
            // What is known here of its functions stands; what is not is taken over.
            for (const auto& f : m.uses)
                if (std::find(at->spares.begin(), at->spares.end(), f) == at->spares.end())
                    add_names(at->uses, {f});
            for (const auto& f : m.spares)
                if (std::find(at->uses.begin(), at->uses.end(), f) == at->uses.end())
                    add_names(at->spares, {f});
        }
        for (auto said : m.said) {
            said.source = source;
            if (said.day.empty()) said.day = day;
            const bool known = std::any_of(at->said.begin(), at->said.end(), [&](const CoverSaid& s) {
                return s.source == source && s.outcome == said.outcome && s.note == said.note;
            });
            if (!known) at->said.push_back(std::move(said));
        }
    }
    return items;
}

}  // namespace grayrelic
