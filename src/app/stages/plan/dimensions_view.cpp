// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/plan/dimensions_view.hpp"

#include <QDate>
#include <QHBoxLayout>
#include <QVBoxLayout>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "core/dossier/dimension_text.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic::app {
namespace {

QString length(double mm) {
    return QString::number(mm, 'g', 6);
}

QString said(const Dimension& d) {
    if (!d.mm.value) return QObject::tr("not known");
    return d.mm.uncertainty ? QObject::tr("%1 ± %2 mm").arg(length(*d.mm.value), length(*d.mm.uncertainty))
                            : QObject::tr("%1 mm, no tolerance").arg(length(*d.mm.value));
}

std::optional<QString> read_mm(const QString& text, std::optional<double>& into) {
    const auto mm = parse_mm(text.toStdString());
    if (!text.isEmpty() && !mm) return QObject::tr("Expected %1.").arg(to_q(mm.error().expected));
    into = text.isEmpty() ? std::nullopt : std::optional(*mm);
    return std::nullopt;
}

}  // namespace

DimensionsView::DimensionsView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QHBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(12);
    list_sheet_ = new Sheet(tr("Dimensions, to one scale"));
    entry_ = new Field;
    entry_->setPlaceholderText(tr("Measured: lid to board 12.4 ± 0.1"));
    entry_->setAccessibleName(tr("A dimension as one line"));
    entry_->setToolTip(tr("What it is, millimetres, and the tolerance of the measurement; Enter keeps it"));
    entry_->commit = [this](const QString& text) -> std::optional<QString> {
        if (text.trimmed().isEmpty()) return std::nullopt;
        return enter(text);
    };
    list_sheet_->body()->addWidget(entry_);
    list_ = new BarList(tr("Dimensions"));
    connect(list_, &BarList::chosen, this, &DimensionsView::fill_card);
    list_sheet_->body()->addWidget(list_, 1);
    whole->addWidget(list_sheet_, 5);
    whole->addWidget(make_card(), 3);
}

QWidget* DimensionsView::make_card() {
    card_sheet_ = new Sheet(tr("Dimension"));
    card_sheet_->setMinimumWidth(232);
    card_sheet_->setMaximumWidth(300);
    remove_ = new QPushButton(tr("Remove"));
    remove_->setProperty("compact", true);
    connect(remove_, &QPushButton::clicked, this, [this] {
        document_.apply(tr("remove a dimension"),
                        drop<Dimension>(document_.dossier(), list_->picked().toStdString()));
    });
    card_sheet_->add_to_title(remove_);
    size_ = new FactRow(tr("Size in mm"), {});
    size_->set_whole(true);
    size_->new_evidence = [] {
        Evidence e;
        e.kind = EvidenceKind::measured;
        e.tool = "caliper";
        e.date = QDate::currentDate().toString(Qt::ISODate).toStdString();
        return e;
    };
    size_->commit = [this](const QString& value, const Evidence& evidence) -> std::optional<QString> {
        if (!fields_->shown()) return std::nullopt;
        auto d = *fields_->shown();
        if (auto problem = read_mm(value.trimmed(), d.mm.value)) return problem;
        const auto extra = d.mm.evidence.extra;
        d.mm.evidence = evidence;
        d.mm.evidence.extra = extra;
        change(tr("size"), std::move(d));
        return std::nullopt;
    };
    using Line = CardLine<Dimension>;
    std::vector<Line> lines{
        {tr("Name"), tr("What is measured"), [](const Dimension& d) { return to_q(d.name); },
         [](Dimension& d, const QString& t) -> std::optional<QString> {
             d.name = t.toStdString();
             return std::nullopt;
         }},
        {tr("Tolerance ±"), tr("In mm; empty: not known"),
         [](const Dimension& d) { return d.mm.uncertainty ? length(*d.mm.uncertainty) : QString(); },
         [](Dimension& d, const QString& t) { return read_mm(t, d.mm.uncertainty); }},
        {tr("Decides"), tr("What fits or does not by it; an assumed value is a finding then"),
         [](const Dimension& d) { return to_q(d.decides); },
         [](Dimension& d, const QString& t) -> std::optional<QString> {
             d.decides = t.toStdString();
             return std::nullopt;
         }}};
    fields_ = std::make_unique<CardFields<Dimension>>(
        nullptr, std::move(lines), [this](const QString& what, Dimension d) { change(what, std::move(d)); });
    unit_ = new ChoiceBox(tr("Unit"), tr("Which board or machine it was taken on"));
    connect(unit_, &QComboBox::activated, this, [this] {
        if (auto d = fields_->shown()) {
            d->unit = unit_->currentData().toString().toStdString();
            change(tr("unit"), *d);
        }
    });
    card_sheet_->body()->addWidget(size_);
    card_sheet_->body()->addWidget(fields_->box());
    auto* row = new QHBoxLayout;
    row->addWidget(secondary_label(tr("Taken on")));
    row->addWidget(unit_, 1);
    card_sheet_->body()->addLayout(row);
    card_sheet_->body()->addStretch(1);
    return card_sheet_;
}

std::optional<QString> DimensionsView::enter(const QString& text) {
    auto made = parse_dimension(text.toStdString());
    if (!made) return tr("Found %1, expected %2.").arg(to_q(made.error().found), to_q(made.error().expected));
    made->id = free_id<Dimension>(document_.dossier(), made->name);
    made->mm.evidence.kind = EvidenceKind::measured;
    made->mm.evidence.tool = "caliper";
    made->mm.evidence.date = QDate::currentDate().toString(Qt::ISODate).toStdString();
    const auto id = to_q(made->id);
    document_.apply(tr("a dimension"), put(document_.dossier(), std::move(*made)));
    entry_->clear();
    entry_->show_value({});
    show_dimension(id);
    return std::nullopt;
}

void DimensionsView::change(const QString& what, Dimension d) {
    const auto said = tr("%1 of %2").arg(what, to_q(d.name));
    document_.apply(said, put(document_.dossier(), std::move(d)));
}

void DimensionsView::show_dimension(const QString& id) {
    list_->pick(id);
    fill_card();
}

void DimensionsView::refresh() {
    const auto& d = document_.dossier();
    double longest = 1;
    for (const auto& m : *d.dimensions)
        longest = std::max(longest, m.mm.value.value_or(0) + m.mm.uncertainty.value_or(0));
    std::vector<BarRow> rows;
    for (const auto& m : *d.dimensions) {
        BarRow row;
        row.id = to_q(m.id);
        row.title = to_q(m.name.empty() ? m.id : m.name);
        row.italic = m.mm.evidence.kind == EvidenceKind::assumed;
        const bool sure = m.mm.value && !row.italic;
        row.verdict = sure ? Verdict::holds : m.decides.empty() ? Verdict::unknown : Verdict::doubt;
        row.about = m.decides.empty() ? QString() : tr("decides: %1").arg(to_q(m.decides));
        row.full = longest;
        if (m.mm.value) {
            const double pm = m.mm.uncertainty.value_or(0), v = *m.mm.value;
            row.pieces = {
                {0, std::max(0.0, v - pm), row.italic ? BarPiece::Ink::hollow : BarPiece::Ink::plain},
                {std::max(0.0, v - pm), v + pm, BarPiece::Ink::doubt}};
        }
        row.figures = said(m);
        QStringList more{to_q(word(m.mm.evidence.kind))};
        for (const auto* text : {&m.mm.evidence.tool, &m.mm.evidence.source, &m.mm.evidence.date})
            if (!text->empty()) more << to_q(*text);
        if (const auto* unit = d.find_unit(m.unit)) more << to_q(unit->name);
        row.more = more.join(QStringLiteral(", "));
        rows.push_back(std::move(row));
    }
    list_sheet_->set_about(
        rows.empty() ? tr("Type what the caliper says; what is measured in a scan lands here as well.")
                     : tr("A brass end is the tolerance, where it is wide enough to see."));
    list_->show_rows(std::move(rows));
    const QSignalBlocker block(unit_);
    unit_->clear();
    unit_->addItem(tr("not said"), QString());
    for (const auto& u : *d.units) unit_->addItem(to_q(u.name.empty() ? u.id : u.name), to_q(u.id));
    fill_card();
}

void DimensionsView::fill_card() {
    const auto& all = things<Dimension>(document_.dossier());
    const auto at = place_of<Dimension>(all, list_->picked().toStdString());
    const bool there = at != all.end();
    fields_->show(there ? std::optional(*at) : std::nullopt);
    for (QWidget* w : std::initializer_list<QWidget*>{size_, unit_, remove_}) w->setEnabled(there);
    size_->show_fact(there && at->mm.value ? length(*at->mm.value) : QString(),
                     there ? at->mm.evidence : Evidence{});
    if (there) unit_->setCurrentIndex(std::max(0, unit_->findData(to_q(at->unit))));
}

}  // namespace grayrelic::app
