// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/timing/budget_view.hpp"

#include <QHBoxLayout>
#include <QMenu>
#include <QPainter>
#include <QScrollArea>
#include <QSignalBlocker>

#include <cmath>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/event_name.hpp"
#include "core/timing/budget.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {
BudgetBar::BudgetBar(QWidget* parent) : QWidget(parent) {
    setFixedHeight(40);
    setAccessibleName(tr("Used of what there is"));
}

void BudgetBar::show_result(const std::optional<BudgetResult>& result) {
    result_ = result;
    update();
}

void BudgetBar::paintEvent(QPaintEvent*) {
    QPainter p(this);
    if (!result_ || !(result_->available > 0)) return;
    const auto& r = *result_;
    const double scale = std::max(r.used, r.available) * 1.08, w = width() - 4;
    const auto x = [&](double v) { return 2 + v / scale * w; };
    const QRectF whole(2, 4, w, 14);
    p.setPen(theme().hairline);
    p.setBrush(theme().sheet);
    p.drawRect(whole);
    p.fillRect(QRectF(2, 5, x(r.used) - 2, 13), theme().verdict(r.verdict));
    p.setPen(QPen(theme().ink, 2));
    p.drawLine(QPointF(x(r.available), 1), QPointF(x(r.available), 21));
    p.setFont(figure_font(11));
    p.setPen(theme().verdict(r.verdict));
    const auto used = to_q(print_number(r.used, r.unit)), there = to_q(print_number(r.available, r.unit));
    p.drawText(QRectF(2, 22, w, 16), Qt::AlignLeft, tr("used %1").arg(used));
    p.setPen(theme().ink);
    p.drawText(QRectF(2, 22, w, 16), Qt::AlignRight, tr("there is %1").arg(there));
}

BudgetView::BudgetView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QHBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(8);
    whole->addWidget(make_list(), 3);
    // What follows stands below the numbers: side by side they would not fit into a small window.
    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    right->addWidget(make_numbers(), 4);
    right->addWidget(make_result(), 5);
    whole->addLayout(right, 8);
}

QWidget* BudgetView::make_list() {
    list_sheet_ = new Sheet(tr("Budgets"));
    add_ = new QPushButton(tr("Add"));
    add_->setProperty("compact", true);
    add_->setProperty("menu", true);
    auto* menu = new QMenu(add_);
    for (const auto kind : all_of<BudgetKind>()) {
        auto* action = menu->addAction(to_q(description_of(kind).label));
        action->setToolTip(to_q(description_of(kind).question));
        connect(action, &QAction::triggered, this, [this, kind] { add_budget(kind); });
    }
    menu->setToolTipsVisible(true);
    add_->setMenu(menu);
    remove_ = new QPushButton(tr("Remove"));
    remove_->setProperty("compact", true);
    connect(remove_, &QPushButton::clicked, this, [this] {
        if (const auto* b = budget())
            document_.apply(tr("remove %1").arg(to_q(b->name)), drop<Budget>(document_.dossier(), b->id));
    });
    list_sheet_->add_to_title(add_);
    list_sheet_->add_to_title(remove_);
    list_ = new QListWidget;
    list_->setAccessibleName(tr("Budgets"));
    list_->setWordWrap(true);
    list_->setIconSize(QSize(18, 18));
    list_->setSpacing(2);
    connect(list_, &QListWidget::currentRowChanged, this, [this](int row) {
        if (row >= 0) select(list_->item(row)->data(Qt::UserRole).toString());
    });
    list_sheet_->body()->addWidget(list_, 1);
    return list_sheet_;
}

QWidget* BudgetView::make_numbers() {
    numbers_sheet_ = new Sheet(tr("Numbers"));
    question_ = secondary_label({});
    question_->setWordWrap(true);
    numbers_sheet_->body()->addWidget(question_);
    numbers_sheet_->body()->addStretch(1);
    auto* numbers_area = new QScrollArea;
    numbers_area->setWidgetResizable(true);
    numbers_area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    numbers_area->setWidget(numbers_sheet_);
    numbers_area->setMinimumHeight(180);
    return numbers_area;
}

QWidget* BudgetView::make_result() {
    result_sheet_ = new Sheet(tr("What follows"));
    says_ = new QLabel;
    says_->setFont(text_font(13, true));
    says_->setWordWrap(true);
    says_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    todo_ = new QLabel;
    todo_->setWordWrap(true);
    bar_ = new BudgetBar;
    figures_ = new FactTable;
    figures_->set_columns({{tr("Figure"), 150}, {tr("Value"), 84, true}, {tr("How"), 160}},
                          tr("Figures of the budget"));
    histogram_ = new HistogramView;
    histogram_->setAccessibleName(tr("Distribution"));
    histogram_->setMinimumHeight(110);
    result_sheet_->body()->addWidget(says_);
    result_sheet_->body()->addWidget(bar_);
    result_sheet_->body()->addWidget(todo_);
    result_sheet_->body()->addWidget(figures_, 3);
    result_sheet_->body()->addWidget(histogram_, 2);
    return result_sheet_;
}

const Budget* BudgetView::budget() const {
    return document_.dossier().timing->find_budget(selected_);
}

void BudgetView::add_budget(BudgetKind kind) {
    auto b = usual_budget(kind, free_id<Budget>(document_.dossier(), word(kind)));
    selected_ = b.id;
    const auto what = tr("add %1").arg(to_q(b.name));
    document_.apply(what, put(document_.dossier(), std::move(b)));
}

void BudgetView::select(const QString& id) {
    if (selected_ == id.toStdString()) return;
    selected_ = id.toStdString();
    refresh();
}

void BudgetView::build_fields(const BudgetDescription& kind) {
    delete numbers_;
    fields_.clear();
    evidence_.clear();
    numbers_ = new QWidget;
    auto* grid = new QGridLayout(numbers_);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setVerticalSpacing(2);
    int row = 0;
    const auto add = [&](const std::string& key, const std::string& label, const std::string& about,
                         bool number) {
        auto* l = new QLabel(to_q(label));
        l->setFont(text_font(12));
        l->setToolTip(to_q(about));
        auto* f = new Field;
        f->setProperty("compact", true);
        f->setFont(figure_font(12));
        f->setAlignment(number ? Qt::AlignRight : Qt::AlignLeft);
        f->setFixedWidth(number ? 84 : 128);
        f->setAccessibleName(to_q(label));
        f->setToolTip(to_q(about));
        f->commit = [this, k = to_q(key)](const QString& text) { return change(k, text); };
        l->setBuddy(f);
        grid->addWidget(l, row, 0);
        grid->addWidget(f, row, 1, 1, number ? 1 : 2, Qt::AlignRight);
        if (number) {
            auto* e = new EvidenceButton;
            connect(e, &EvidenceButton::chosen, this, [this, key](EvidenceKind chosen) {
                const auto* found = budget();
                if (found == nullptr) return;
                auto b = *found;
                for (auto& v : b.values)
                    if (v.key == key) v.value.evidence.kind = chosen;
                const auto what = tr("evidence in %1").arg(to_q(b.name));
                document_.apply(what, put(document_.dossier(), std::move(b)));
            });
            grid->addWidget(e, row, 2);
            evidence_[to_q(key)] = e;
        }
        fields_[to_q(key)] = f;
        ++row;
    };
    add("name", tr("Name").toStdString(), "", false);
    for (const auto& f : kind.fields) add(f.key, f.label, f.about, true);
    for (const auto& w : kind.words) add("word:" + w.key, w.label, w.about, false);
    grid->setColumnStretch(0, 1);
    numbers_sheet_->body()->insertWidget(1, numbers_);
}

std::optional<QString> BudgetView::change(const QString& key, const QString& text) {
    const auto* found = budget();
    if (found == nullptr) return std::nullopt;
    const auto& fields = description_of(found->kind).fields;
    auto b = *found;
    const auto value = text.trimmed().toStdString();
    if (key == QStringLiteral("name")) {
        if (value.empty()) return tr("Expected a name.");
        b.name = value;
    } else if (key.startsWith(QStringLiteral("word:"))) {
        const auto word = key.mid(5).toStdString();
        if (word == "event" && !value.empty())
            if (const auto event = parse_event(value); !event)
                return tr("Expected %1.").arg(to_q(event.error().expected));
        if (word == "capture" && !value.empty() && document_.dossier().find_capture(value) == nullptr)
            return tr("Expected the id of a capture in the dossier.");
        if (value.empty())
            b.words.erase(word);
        else
            b.words[word] = value;
    } else {
        const auto k = key.toStdString();
        const auto field =
            std::find_if(fields.begin(), fields.end(), [&](const BudgetField& f) { return f.key == k; });
        if (field == fields.end()) return std::nullopt;
        const auto number = parse_number(value, field->unit);
        if (!number || !(*number >= 0 && *number <= 1e15))
            return tr("Expected %1.").arg(number ? tr("a number from 0") : to_q(number.error().expected));
        auto it =
            std::find_if(b.values.begin(), b.values.end(), [&](const NumberFact& f) { return f.key == k; });
        if (it == b.values.end()) it = b.values.insert(b.values.end(), {k, {}});
        if (it->value.value != *number) {
            it->value.value = *number;
            it->value.evidence = {EvidenceKind::assumed, tr("typed in, no source yet").toStdString(), "", ""};
        }
    }
    const auto what = tr("%1 of %2").arg(key, to_q(b.name));
    if (b != *found) document_.apply(what, put(document_.dossier(), std::move(b)));
    return std::nullopt;
}

void BudgetView::refresh() {
    const auto& all = document_.dossier().timing->budgets;
    if (budget() == nullptr) selected_ = all.empty() ? std::string() : all.front().id;
    {
        const QSignalBlocker block(list_);
        list_->clear();
        for (const auto& b : all) {
            const auto* r = document_.analysis().timing->find_budget(b.id);
            const auto verdict = r != nullptr && r->result ? r->result->verdict : Verdict::unknown;
            auto* item =
                new QListWidgetItem(tr("%1\n%2").arg(to_q(b.name), r == nullptr ? tr("computing …")
                                                                   : r->result  ? to_q(r->result->says)
                                                                                : to_q(r->problem)));
            item->setData(Qt::UserRole, to_q(b.id));
            item->setIcon(verdict_icon(verdict));
            list_->addItem(item);
            if (b.id == selected_) list_->setCurrentItem(item);
        }
    }
    const auto* b = budget();
    remove_->setEnabled(b != nullptr);
    if (b == nullptr) {
        delete numbers_;
        numbers_ = nullptr;
        built_.reset();
        fields_.clear();
        evidence_.clear();
        question_->setText(tr("Add a budget: queues, watchdogs, latencies, races, text, memory."));
        says_->clear();
        todo_->clear();
        bar_->show_result({});
        figures_->set_rows({});
        histogram_->hide();
        return;
    }
    const auto& kind = description_of(b->kind);
    if (built_ != b->kind) {
        build_fields(kind);
        built_ = b->kind;
    }
    numbers_sheet_->set_title(to_q(kind.label));
    question_->setText(to_q(kind.question));
    fields_[QStringLiteral("name")]->show_value(to_q(b->name));
    for (const auto& f : kind.fields) {
        const auto it = std::find_if(b->values.begin(), b->values.end(),
                                     [&](const NumberFact& v) { return v.key == f.key; });
        auto* field = fields_[to_q(f.key)];
        auto font = figure_font(12);
        font.setItalic(it != b->values.end() && it->value.evidence.kind == EvidenceKind::assumed);
        field->setFont(font);
        field->show_value(it == b->values.end() ? QString() : to_q(print_exact(it->value.value, f.unit)));
        evidence_[to_q(f.key)]->show_kind(
            it == b->values.end() ? EvidenceKind::assumed : it->value.evidence.kind, it != b->values.end());
        if (it != b->values.end() && !it->value.evidence.source.empty())
            field->setToolTip(to_q(f.about + " — " + it->value.evidence.source));
    }
    for (const auto& w : kind.words) {
        const auto it = b->words.find(w.key);
        fields_[QStringLiteral("word:") + to_q(w.key)]->show_value(it == b->words.end() ? QString()
                                                                                        : to_q(it->second));
    }
    const auto* r = document_.analysis().timing->find_budget(b->id);
    figures_->set_rows({});
    if (r == nullptr || !r->result) {
        says_->setText(r == nullptr ? tr("computing …") : to_q(r->problem));
        todo_->clear();
        bar_->show_result({});
        histogram_->hide();
        return;
    }
    const auto& result = *r->result;
    auto says = to_q(result.says);
    if (!says.isEmpty()) says[0] = says[0].toUpper();
    says_->setText(says);
    auto todo = to_q(result.todo);
    if (!result.assumed.empty()) {
        QStringList names;
        for (const auto& n : result.assumed) names << to_q(n);
        todo += (todo.isEmpty() ? QString() : QStringLiteral(" ")) +
                tr("Assumed: %1.").arg(names.join(QStringLiteral(", ")));
    }
    todo_->setText(todo);
    todo_->setVisible(!todo.isEmpty());
    bar_->show_result(result);
    std::vector<TableRow> rows;
    for (const auto& f : result.figures) {
        TableRow row{to_q(f.label), to_q(print_number(f.value, f.unit, 4)), {to_q(f.note), theme().ink2}};
        row[1].sort = f.value;
        rows.push_back(std::move(row));
    }
    figures_->set_rows(std::move(rows));
    // Only times can be drawn on an axis of seconds.
    const bool draw = result.bars.size() > 1 && result.bar_unit == Unit::second;
    histogram_->setVisible(draw);
    if (draw) {
        histogram_->setToolTip(to_q(result.bars_about));
        histogram_->show_values(result.bars, Driver::relic, std::nullopt, 0.0);
    }
}

}  // namespace grayrelic::app
