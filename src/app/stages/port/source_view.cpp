// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/port/source_view.hpp"

#include <QHBoxLayout>
#include <QPainter>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic::app {
namespace {

Verdict verdict_of(Agreement a) {
    return a == Agreement::agree        ? Verdict::holds
           : a == Agreement::contradict ? Verdict::stop
                                        : Verdict::unknown;
}

QString says(Agreement a) {
    switch (a) {
        case Agreement::agree: return SourceView::tr("agree");
        case Agreement::contradict: return SourceView::tr("contradict");
        case Agreement::only_first: return SourceView::tr("only the port");
        case Agreement::only_second: return SourceView::tr("only the source");
        case Agreement::neither: break;
    }
    return SourceView::tr("neither");
}

}  // namespace

SourceView::SourceView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    sheet_ = new Sheet(tr("A second source"));
    whole->addWidget(sheet_);
    auto* head = new QHBoxLayout;
    which_ = new QComboBox;
    which_->setAccessibleName(tr("Source"));
    which_->setMinimumWidth(180);
    head->addWidget(which_, 1);
    auto* load = new QPushButton(tr("Load table…"));
    auto* paste = new QPushButton(tr("Paste table"));
    remove_ = new QPushButton(tr("Remove"));
    head->addWidget(load);
    head->addWidget(paste);
    head->addWidget(remove_);
    sheet_->body()->addLayout(head);
    verdict_ = new QLabel;
    verdict_->setWordWrap(true);
    verdict_->setFont(text_font(13, true));
    sheet_->body()->addWidget(verdict_);
    table_ = new FactTable;
    table_->set_columns({{tr("Pin"), 52, true},
                         {tr("The port says"), 130},
                         {tr("The source says"), 130},
                         {tr("So they"), 150},
                         {tr("Other differences"), 240}},
                        tr("Pins of both tables"));
    sheet_->body()->addWidget(table_, 1);
    auto* foot = new QHBoxLayout;
    read_ = new QPushButton;
    take_ = new QPushButton(tr("Take over the chosen pins"));
    take_all_ = new QPushButton(tr("Take over what the port lacks"));
    foot->addWidget(read_);
    foot->addStretch(1);
    foot->addWidget(take_);
    foot->addWidget(take_all_);
    sheet_->body()->addLayout(foot);
    sheet_->body()->addStretch(0);
    connect(which_, &QComboBox::activated, this, &SourceView::refresh);
    connect(load, &QPushButton::clicked, this, &SourceView::load_wanted);
    connect(paste, &QPushButton::clicked, this, &SourceView::paste_wanted);
    connect(remove_, &QPushButton::clicked, this, &SourceView::remove);
    connect(read_, &QPushButton::clicked, this, &SourceView::read_so);
    connect(take_, &QPushButton::clicked, this, [this] { take_over(false); });
    connect(take_all_, &QPushButton::clicked, this, [this] { take_over(true); });
    connect(table_, &FactTable::row_opened, this, [this] { take_over(false); });
}

const Port* SourceView::port() const {
    return document_.dossier().find_port(port_.toStdString());
}

const PinSource* SourceView::source() const {
    return port() == nullptr ? nullptr : port()->find_source(which_->currentData().toString().toStdString());
}

void SourceView::show_port(const QString& id) {
    const auto before = which_->currentData().toString();
    port_ = id;
    const QSignalBlocker block(which_);
    which_->clear();
    if (port() != nullptr)
        for (const auto& s : port()->sources) which_->addItem(to_q(s.name), to_q(s.id));
    which_->setCurrentIndex(std::max(which_->count() > 0 ? 0 : -1, which_->findData(before)));
    refresh();
}

void SourceView::show_source(const QString& id) {
    which_->setCurrentIndex(which_->findData(id));
    refresh();
}

void SourceView::refresh() {
    const auto* s = source();
    for (auto* b : {take_, take_all_, remove_}) b->setEnabled(s != nullptr);
    read_->setVisible(false);
    table_->setVisible(s != nullptr);
    for (auto* b : {take_, take_all_}) b->setVisible(s != nullptr);
    if (s == nullptr) {
        table_->set_rows({});
        verdict_->setText(
            tr("No other source yet. Load or paste a table of the same connector: a drawing "
               "found somewhere, a book, or your own probing."));
        return;
    }
    auto connector = document_.data().connectors.find(port()->connector);
    comparison_ = compare_tables(port()->pins, s->pins, connector ? &*connector : nullptr, port()->numbering);
    auto text = tr("%1 agree, %2 contradict, %3 only in the source, %4 only in the port.")
                    .arg(comparison_.agree)
                    .arg(comparison_.contradict)
                    .arg(comparison_.only_second)
                    .arg(comparison_.only_first);
    const auto& best = comparison_.best();
    if (best.kind != TableInterpretation::Kind::straight) {
        text += tr(" It would agree at %1 of %2 if it is %3.")
                    .arg(best.matched)
                    .arg(best.compared)
                    .arg(to_q(best.how));
        read_->setText(tr("Read it %1").arg(to_q(best.how)));
        read_->setVisible(true);
    }
    if (!s->note.empty()) text += QStringLiteral(" ") + to_q(s->note);
    verdict_->setText(text);
    std::vector<TableRow> rows;
    for (const auto& p : comparison_.pins) {
        if (p.agreement == Agreement::neither) continue;
        QStringList rest;
        for (const auto& d : p.differences)
            if (d.field != "name")
                rest << tr("%1: %2 or %3").arg(to_q(d.field), to_q(d.first), to_q(d.second));
        TableRow row{to_q(p.number), to_q(p.first), to_q(p.second), says(p.agreement),
                     rest.join(QStringLiteral("; "))};
        row[0].key = to_q(p.number);
        bool whole = false;
        if (const double n = row[0].text.toDouble(&whole); whole) row[0].sort = n;
        row[3].icon = verdict_icon(verdict_of(p.agreement));
        rows.push_back(std::move(row));
    }
    table_->set_rows(std::move(rows));
}

void SourceView::take_over(bool all) {
    const auto* s = source();
    if (s == nullptr) return;
    QStringList numbers;
    if (all) {
        for (const auto& p : comparison_.pins)
            if (p.agreement == Agreement::only_second) numbers << to_q(p.number);
    } else {
        for (const int r : table_->chosen_rows()) numbers << table_->text(r, 0);
    }
    if (numbers.isEmpty()) return;
    Port changed = *port();
    for (const auto& n : numbers) changed = accept_pin(changed, *s, n.toStdString());
    document_.apply(tr("take over %1 of %2")
                        .arg(numbers.size() == 1 ? tr("pin %1").arg(numbers[0]) : tr("pins"), to_q(s->name)),
                    put(document_.dossier(), std::move(changed)));
}

void SourceView::read_so() {
    const auto* s = source();
    if (s == nullptr) return;
    const auto& way = comparison_.best();
    Port changed = *port();
    for (auto& other : changed.sources)
        if (other.id == s->id) {
            other.pins = read_as(other.pins, way);
            other.note = tr("Read %1.").arg(to_q(way.how)).toStdString();
        }
    document_.apply(tr("read the source %1").arg(to_q(way.how)),
                    put(document_.dossier(), std::move(changed)));
}

void SourceView::remove() {
    const auto* s = source();
    if (s == nullptr) return;
    Port changed = *port();
    const auto id = s->id;
    std::erase_if(changed.sources, [&](const PinSource& x) { return x.id == id; });
    document_.apply(tr("remove a source"), put(document_.dossier(), std::move(changed)));
}

}  // namespace grayrelic::app
