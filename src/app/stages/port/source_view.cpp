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

void SourceView::make_chooser() {
    which_ = new ItemChooser({tr("Source"), tr("Load table…")});
    which_->on_add([this] { Q_EMIT load_wanted(); });
    which_->on_rename([this](const QString& id, const QString& name) -> std::optional<QString> {
        change(tr("rename to %1").arg(name), [&](Port& p) {
            for (auto& s : p.sources)
                if (s.id == id.toStdString()) s.name = name.toStdString();
        });
        return std::nullopt;
    });
    which_->on_remove([this](const QString& id) {
        change(tr("remove %1").arg(which_->name()), [&](Port& p) {
            std::erase_if(p.sources, [&](const PinSource& s) { return s.id == id.toStdString(); });
        });
    });
    auto* paste = new QPushButton(tr("Paste table"));
    connect(paste, &QPushButton::clicked, this, &SourceView::paste_wanted);
    which_->add_button(paste);
    connect(which_, &ItemChooser::chosen_changed, this, &SourceView::refresh);
    sheet_->body()->addWidget(which_);
}

void SourceView::change(const QString& what, const std::function<void(Port&)>& edit) {
    if (port() == nullptr) return;
    Port changed = *port();
    edit(changed);
    if (changed != *port()) document_.apply(what, put(document_.dossier(), std::move(changed)));
}

SourceView::SourceView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    sheet_ = new Sheet(tr("A second source"));
    whole->addWidget(sheet_);
    make_chooser();
    verdict_ = new QLabel;
    verdict_->setWordWrap(true);
    verdict_->setFont(text_font(13, true));
    sheet_->body()->addWidget(verdict_);
    accepts_ = new QLabel(
        tr("What a table may look like: a line for each pin, parted by commas, semicolons or tabs; the first "
           "line names the columns. The pin's number and its name are needed; what else it says is held "
           "against the "
           "port.\n\n"
           "pin,name,driver,idle\n"
           "1,+5 V,supply,\n"
           "3,HOLD,relic,low\n"
           "4,STEP,relic,low\n\n"
           "Mirrored, turned or otherwise numbered tables are recognised by where they would agree."));
    accepts_->setWordWrap(true);
    accepts_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    sheet_->body()->addWidget(accepts_);
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
    connect(read_, &QPushButton::clicked, this, &SourceView::read_so);
    connect(take_, &QPushButton::clicked, this, [this] { take_over(false); });
    connect(take_all_, &QPushButton::clicked, this, [this] { take_over(true); });
    connect(table_, &FactTable::row_opened, this, [this] { take_over(false); });
}

const Port* SourceView::port() const {
    return document_.dossier().find_port(port_.toStdString());
}

const PinSource* SourceView::source() const {
    return port() == nullptr ? nullptr : port()->find_source(which_->chosen().toStdString());
}

void SourceView::show_port(const QString& id) {
    const auto before = which_->chosen();
    port_ = id;
    show_source(before);
}

void SourceView::show_source(const QString& id) {
    QList<ItemChooser::Item> items;
    if (port() != nullptr)
        for (const auto& s : port()->sources) items << ItemChooser::Item{to_q(s.id), to_q(s.name), {}};
    which_->show_items(items, id);
    which_->set_usable(port() != nullptr);
    refresh();
}

void SourceView::refresh() {
    const auto* s = source();
    for (auto* b : {take_, take_all_}) b->setEnabled(s != nullptr);
    read_->setVisible(false);
    table_->setVisible(s != nullptr);
    accepts_->setVisible(s == nullptr);
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

}  // namespace grayrelic::app
