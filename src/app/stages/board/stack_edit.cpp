// SPDX-License-Identifier: GPL-3.0-or-later
// What a person enters of stacks and variants.
#include <QSignalBlocker>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/stages/board/stack_view.hpp"
#include "core/dossier/dimension_text.hpp"
#include "core/dossier/edits.hpp"
#include "core/fit/stack_text.hpp"

namespace grayrelic::app {

void StackView::show_entry(const QString& key) {
    const auto* s = stack();
    if (key.startsWith(QStringLiteral("level:")) && s != nullptr) {
        if (const auto* l = s->find_level(key.mid(6).toStdString())) entry_->show_value(to_q(level_text(*l)));
    } else if (key.startsWith(QStringLiteral("join:")) && s != nullptr) {
        const auto n = static_cast<std::size_t>(key.mid(5).toInt());
        if (n < s->joins.size())
            entry_->show_value(
                QStringLiteral("join %1 %2 %3")
                    .arg(to_q(s->joins[n].lower), to_q(s->joins[n].upper), to_q(word(s->joins[n].kind))));
    } else if (key.startsWith(QStringLiteral("variant:"))) {
        for (const auto& b : *document_.dossier().boards)
            for (const auto& v : b.variants)
                if (key.mid(8) == to_q(b.id) + QLatin1Char('/') + to_q(v.name))
                    entry_->show_value(to_q(variant_text(v)));
    }
    entry_->setFocus();
}

void StackView::change(const QString& what, const std::function<void(BoardStack&)>& how) {
    auto d = document_.dossier();
    if (stack() == nullptr) {
        BoardStack s;
        s.id = "stack";
        s.name = tr("Boards together").toStdString();
        d = put(d, s);
        stack_ = s.id;
    }
    document_.apply(what, edit<BoardStack>(d, stack_, how));
}

std::optional<QString> StackView::take(const QString& text) {
    if (text.isEmpty()) return std::nullopt;
    const auto line = text.toStdString();
    std::optional<QString> wrong;
    if (text.startsWith(QStringLiteral("join "))) {
        const auto join = parse_join(line);
        if (!join) return to_q(join.error().message());
        const auto* s = stack();
        for (const auto& end : {join->lower, join->upper})
            if (s == nullptr || s->find_level(end.substr(0, end.find('/'))) == nullptr)
                return tr("%1 is no level of the stack yet").arg(to_q(end.substr(0, end.find('/'))));
        change(tr("a join of two boards"), [&](BoardStack& into) {
            std::erase_if(into.joins, [&](const StackJoin& j) {
                return (j.lower == join->lower && j.upper == join->upper) ||
                       (j.lower == join->upper && j.upper == join->lower);
            });
            into.joins.push_back(*join);
        });
    } else if (text.startsWith(QStringLiteral("variant "))) {
        const auto variant = parse_variant(line);
        if (!variant) return to_q(variant.error().message());
        wrong = take_variant(*variant);
    } else {
        const auto level = parse_level(line);
        if (!level) return to_q(level.error().message());
        wrong = take_level(*level);
    }
    if (!wrong) entry_->show_value({});
    return wrong;
}

std::optional<QString> StackView::take_level(const StackLevel& typed) {
    auto level = typed;
    const Fabrication* board = nullptr;
    const Fabrication* only =
        document_.dossier().boards->size() == 1 ? &document_.dossier().boards->front() : nullptr;
    for (const auto& b : *document_.dossier().boards)
        if (b.id == level.board || b.title == level.board) board = &b;
    // A level may be called as its role while there is only one board.
    if (board == nullptr && level.board == level.name) board = only;
    QStringList known;
    for (const auto& b : *document_.dossier().boards) known << to_q(b.id);
    if (board == nullptr)
        return known.isEmpty() ? tr("bring the boards' files first")
                               : tr("%1 is no board of the job; there are %2")
                                     .arg(to_q(level.board), known.join(QStringLiteral(", ")));
    level.board = board->id;
    if (!level.variant.empty() &&
        std::none_of(board->variants.begin(), board->variants.end(),
                     [&](const BoardVariant& v) { return v.name == level.variant; }))
        return tr("%1 is not fitted as %2 yet: enter variant %2 without … first")
            .arg(to_q(board->id), to_q(level.variant));
    change(tr("a level of the stack"), [&](BoardStack& s) {
        for (auto& l : s.levels)
            if (l.name == level.name) {
                level.extra = l.extra;
                level.dimension = level.gap.value ? std::string() : l.dimension;
                l = level;
                return;
            }
        s.levels.push_back(level);
    });
    return std::nullopt;
}

std::optional<QString> StackView::take_variant(const BoardVariant& variant) {
    auto id = board_;
    if (id.empty() && need_board) id = need_board();
    if (id.empty()) return tr("there is no board yet");
    document_.apply(tr("a way in which a board is fitted"),
                    edit<Fabrication>(document_.dossier(), id, [&](Fabrication& f) {
                        for (auto& v : f.variants)
                            if (v.name == variant.name) {
                                v = variant;
                                return;
                            }
                        f.variants.push_back(variant);
                    }));
    return std::nullopt;
}

void StackView::remove_chosen() {
    if (levels_->chosen() < 0) return;
    const auto key = levels_->key(levels_->chosen()).toString();
    if (key.startsWith(QStringLiteral("variant:"))) {
        const auto board = key.mid(8).section(QLatin1Char('/'), 0, 0).toStdString();
        const auto name = key.mid(8).section(QLatin1Char('/'), 1).toStdString();
        document_.apply(tr("remove a variant"),
                        edit<Fabrication>(document_.dossier(), board, [&](Fabrication& f) {
                            std::erase_if(f.variants, [&](const BoardVariant& v) { return v.name == name; });
                        }));
        return;
    }
    const auto* s = stack();
    if (s == nullptr) return;
    const bool last = key.startsWith(QStringLiteral("level:")) && s->levels.size() == 1;
    if (last) return document_.apply(tr("remove the stack"), drop<BoardStack>(document_.dossier(), s->id));
    change(tr("remove from the stack"), [&](BoardStack& into) {
        if (key.startsWith(QStringLiteral("level:"))) {
            const auto name = key.mid(6).toStdString();
            std::erase_if(into.levels, [&](const StackLevel& l) { return l.name == name; });
            std::erase_if(into.joins, [&](const StackJoin& j) {
                return j.lower.starts_with(name + "/") || j.upper.starts_with(name + "/");
            });
        } else {
            const auto n = key.mid(5).toLongLong();
            if (n < static_cast<qlonglong>(into.joins.size())) into.joins.erase(into.joins.begin() + n);
        }
    });
}

void StackView::change_gap(int row, int column, const QString& text) {
    const auto* s = stack();
    const auto key = levels_->key(row).toString();
    const auto* level = s == nullptr ? nullptr : s->find_level(key.mid(6).toStdString());
    if (!key.startsWith(QStringLiteral("level:")) || level == nullptr) return fill_levels(s);
    const auto with = [&](const std::function<void(Fact<std::optional<double>>&)>& how) {
        if (!level->dimension.empty())
            return document_.apply(tr("a dimension"), edit<Dimension>(document_.dossier(), level->dimension,
                                                                      [&](Dimension& d) { how(d.mm); }));
        const auto name = level->name;
        change(tr("a gap"), [&](BoardStack& into) {
            for (auto& l : into.levels)
                if (l.name == name) how(l.gap);
        });
    };
    if (column == 2) {
        const auto mm = parse_mm(text.trimmed().toStdString());
        if (!text.trimmed().isEmpty() && !mm) return fill_levels(s);
        return with([&](Fact<std::optional<double>>& f) {
            f.value = text.trimmed().isEmpty() ? std::nullopt : std::optional(*mm);
        });
    }
    const auto kind = named<EvidenceKind>(text.trimmed().section(QLatin1Char(' '), 0, 0).toStdString());
    if (!kind) return fill_levels(s);
    const auto source = text.trimmed().section(QLatin1Char(' '), 1).toStdString();
    with([&](Fact<std::optional<double>>& f) {
        f.evidence.kind = *kind;
        if (!source.empty()) f.evidence.source = source;
    });
}

}  // namespace grayrelic::app
