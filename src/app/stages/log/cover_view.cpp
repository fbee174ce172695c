// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/log/cover_view.hpp"

#include <QDate>
#include <QFile>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QInputDialog>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/shell/stage_page.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/record/trial_words.hpp"
#include "core/wire/device_values.hpp"

namespace grayrelic::app {
namespace {

enum ItemColumn { item_name, item_kind, item_seen, item_by, item_uses, item_values };
constexpr qint64 most_list_file = 4 << 20;

QString joined_names(const std::vector<std::string>& names) {
    QStringList out;
    for (const auto& n : names) out << to_q(n);
    return out.join(QStringLiteral(", "));
}

std::vector<std::string> names_typed(const QString& text) {
    std::vector<std::string> out;
    for (const auto& part : text.split(QLatin1Char(','), Qt::SkipEmptyParts))
        if (!part.trimmed().isEmpty()) out.push_back(part.trimmed().toStdString());
    return out;
}

Verdict verdict_of_outcome(TrialOutcome o) {
    constexpr std::array verdicts{Verdict::unknown, Verdict::holds, Verdict::doubt, Verdict::stop};
    return verdicts[static_cast<std::size_t>(o)];
}

QString names_of_items(const CoverStudy& study, const std::vector<std::string>& ids) {
    std::vector<std::string> names;
    for (const auto& id : ids)
        for (const auto& s : study.items)
            if (s.item->id == id) names.push_back(s.item->name.empty() ? id : s.item->name);
    return joined_names(names);
}

}  // namespace

CoverView::CoverView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QHBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(8);
    items_sheet_ = new Sheet(tr("What it was tried with"));
    auto* merge =
        compact_button(tr("Take in a list…"), tr("What somebody else found out, as CSV: item, outcome, uses. "
                                                 "It stands beside your own, under its source"));
    connect(merge, &QPushButton::clicked, this, [this] {
        const auto path = ask_file();
        if (path.isEmpty()) return;
        const auto trouble = take_file(path);
        items_sheet_->set_about(trouble, true);
    });
    items_sheet_->add_to_title(merge);
    items_ = new FactTable;
    items_->set_columns({{tr("With"), 116, false, true},
                         {tr("Kind"), 60, false, true},
                         {tr("Seen"), 112, false, true},
                         {tr("By"), 56},
                         {tr("Uses"), 150, false, true},
                         {tr("Computed"), 120}},
                        tr("What it was tried with"));
    connect(items_, &FactTable::edited, this, [this](int row, int column, const QString& text) {
        change(items_->key(row).toString(), column, text.trimmed());
    });
    items_sheet_->body()->addWidget(items_, 1);
    entry_ = new Field;
    entry_->setAccessibleName(tr("What it was tried with"));
    entry_->setPlaceholderText(tr("partly: Harbour Run: dial fast, bank"));
    entry_->setToolTip(
        tr("How it went (works, partly, fails, not-said), a colon, its name, and behind another colon the "
           "functions that it uses. A device: current 18 mA, poll 4 ms"));
    entry_->commit = [this](const QString& text) { return enter(text.trimmed()); };
    items_sheet_->body()->addWidget(entry_);
    whole->addWidget(items_sheet_, 3);
    functions_sheet_ = new Sheet(tr("What is behind the glitches"));
    functions_ = new FactTable;
    functions_->set_columns(
        {{tr("Function"), 110}, {tr("Works"), 44, true}, {tr("Not"), 36, true}, {tr("Open"), 42, true}},
        tr("Functions"));
    functions_sheet_->body()->addWidget(functions_, 1);
    whole->addWidget(functions_sheet_, 2);
    today = [] { return QDate::currentDate().toString(Qt::ISODate); };
    ask_source = [this] {
        return QInputDialog::getText(this, tr("Whose list is it?"), tr("Source:")).trimmed();
    };
    ask_file = [this] {
        return QFileDialog::getOpenFileName(this, tr("What somebody else found out"), {},
                                            dialog_filter(table_files()));
    };
}

void CoverView::refresh() {
    const auto& d = document_.dossier();
    const auto study = study_cover(d.log->items);
    std::vector<TableRow> rows;
    for (const auto& s : study.items) {
        TableCell name(to_q(s.item->name.empty() ? s.item->id : s.item->name));
        name.key = to_q(s.item->id);
        name.sort = static_cast<double>(rows.size());
        TableCell seen(s.outcome == TrialOutcome::not_said ? tr("not yet") : to_q(word(s.outcome)));
        seen.icon = verdict_icon(verdict_of_outcome(s.outcome));
        QString by = s.outcome == TrialOutcome::not_said ? QString()
                     : s.source.empty()                  ? tr("here")
                                                         : to_q(s.source);
        if (!s.says_otherwise.empty()) by += tr("; but %1").arg(joined_names(s.says_otherwise));
        TableCell values;
        for (const auto& v : device_values(*s.item, document_.analysis().wire.get(), *d.map)) {
            values.text += (values.text.isEmpty() ? QString() : QStringLiteral("; ")) + to_q(v.value);
            values.icon = verdict_icon(v.verdict);
            values.tip = to_q(v.why);
        }
        rows.push_back({name, to_q(word(s.item->kind)), seen, by, joined_names(s.item->uses), values});
    }
    items_sheet_->set_about(
        rows.empty() ? tr("Write down what it was tried with, and what each uses: several glitches often "
                          "have one function behind them.")
                     : tr("To try after a change, each function once: %1.")
                           .arg(names_of_items(study, study.shows_all)),
        true);
    items_->set_rows(std::move(rows));
    fill_functions(study);
}

void CoverView::fill_functions(const CoverStudy& study) {
    std::vector<TableRow> functions;
    for (const auto& f : study.functions) {
        TableCell name(to_q(f.name));
        name.icon = verdict_icon(f.missing_one            ? Verdict::stop
                                 : !f.works_in.empty()    ? Verdict::holds
                                 : !f.glitches_in.empty() ? Verdict::doubt
                                                          : Verdict::unknown);
        name.bold = f.missing_one;
        name.sort = static_cast<double>(functions.size());
        const auto count = [](const std::vector<std::string>& list) {
            TableCell c(list.empty() ? QString() : QString::number(list.size()));
            c.tip = joined_names(list);
            c.sort = static_cast<double>(list.size());
            return c;
        };
        functions.push_back({name, count(f.works_in), count(f.glitches_in), count(f.untried_in)});
    }
    QString about = to_q(study.why);
    if (!study.next.empty()) about += tr(" Try next: %1.").arg(names_of_items(study, {study.next}));
    functions_sheet_->set_about(about.isEmpty() && !functions.empty() ? tr("Nothing glitches.") : about,
                                true);
    functions_->set_rows(std::move(functions));
}

void CoverView::select(const QString& item) {
    for (int row = 0; row < items_->row_count(); ++row)
        if (items_->key(row).toString() == item) items_->choose(row);
}

void CoverView::change(const QString& id, int column, const QString& text) {
    const auto said = text.toStdString();
    const auto day = today().toStdString();
    document_.apply(tr("what %1 showed").arg(id),
                    edit<CoverItem>(document_.dossier(), id.toStdString(), [&](CoverItem& i) {
                        if (column == item_name && !said.empty()) i.name = said;
                        if (column == item_kind)
                            if (const auto kind = named<CoverKind>(said)) i.kind = *kind;
                        if (column == item_seen)
                            if (const auto outcome = named<TrialOutcome>(said))
                                i.said.push_back({*outcome, {}, day, {}, {}});
                        if (column == item_uses) i.uses = names_typed(text);
                    }));
    refresh();
}

std::optional<QString> CoverView::enter(const QString& text) {
    if (text.isEmpty()) return std::nullopt;
    auto item = cover_from_text(text.toStdString(), today().toStdString());
    if (!item) return to_q(item.error().message());
    item->id = free_id<CoverItem>(document_.dossier(), "item-1");
    document_.apply(tr("what it was tried with"), put(document_.dossier(), std::move(*item)));
    entry_->clear();
    entry_->show_value({});
    return std::nullopt;
}

QString CoverView::take_file(const QString& path) {
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly) || file.size() > most_list_file)
        return tr("%1 can't be read, or is larger than 4 MiB.").arg(path);
    const auto more = cover_from_csv(file.readAll().toStdString(), path.toStdString());
    if (!more) return to_q(more.error().message());
    const auto source = ask_source();
    if (source.isEmpty()) return tr("Nothing was taken in: a list needs a source.");
    document_.apply(
        tr("a list of %1").arg(source), edit(document_.dossier(), &Dossier::log, [&](JobLog& log) {
            log.items = merge_cover(log.items, *more, source.toStdString(), today().toStdString());
        }));
    return {};
}

}  // namespace grayrelic::app
