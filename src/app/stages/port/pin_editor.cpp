// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/port/pin_editor.hpp"

#include <QHBoxLayout>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/pin_fields.hpp"

namespace grayrelic::app {
namespace {

/// So that a row fits beside the list in a window of 1024 pixels.
constexpr int narrow = 118;

/// The row's name in tests and for screen readers; short where the label is long.
QString row_key(const PinField& f) {
    if (f.key == "volts_max") return QStringLiteral("volts");
    if (f.key == "current_max") return QStringLiteral("current");
    return to_q(f.key);
}

QStringList choices_of(const PinField& f) {
    QStringList out;
    if (f.choices.empty() || f.open) return out;
    out << (f.key == "driver" ? QStringLiteral("unknown") : QString());
    for (const auto c : f.choices) out << to_q(c);
    return out;
}

QLineEdit* small_field(const QString& hint, int width) {
    auto* f = new QLineEdit;
    f->setPlaceholderText(hint);
    f->setAccessibleName(hint);
    f->setMinimumWidth(width);
    return f;
}

}  // namespace

PinEditor::PinEditor(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(6);
    auto* known = new QHBoxLayout;
    known->setSpacing(6);
    kind_ = new QComboBox;
    for (const auto k :
         {EvidenceKind::measured, EvidenceKind::documented, EvidenceKind::deduced, EvidenceKind::assumed})
        kind_->addItem(to_q(word(k)), static_cast<int>(k));
    kind_->setAccessibleName(tr("How new facts are known"));
    kind_->setCurrentIndex(3);
    kind_->setToolTip(tr("What you enter next is known in this way"));
    source_ = small_field(tr("by whom, from where"), 60);
    tool_ = small_field(tr("tool"), 44);
    date_ = small_field(tr("date"), 44);
    date_->setToolTip(tr("Year-month-day"));
    known->addWidget(kind_, 3);
    known->addWidget(source_, 4);
    known->addWidget(tool_, 2);
    known->addWidget(date_, 2);
    layout->addLayout(known);

    auto* inside = new QWidget;
    auto* rows = new QVBoxLayout(inside);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(6);
    for (const auto& field : pin_fields()) {
        auto* row = new FactRow(to_q(field.label), choices_of(field));
        if (row->value_field() != nullptr)
            row->value_field()->setMinimumWidth(narrow);
        else
            row->value_choice()->setMinimumWidth(narrow);
        row->set_whole(true);
        row->new_evidence = [this] { return new_evidence(); };
        row->commit = [this, &field](const QString& value, const Evidence& e) -> std::optional<QString> {
            Pin probe;
            if (auto tried = set_field(probe, field, value.toStdString(), e); !tried)
                return to_q("Expected " + tried.error().expected + ".");
            change(tr("%1 of pin %2").arg(to_q(field.label).toLower(), number_), [&](Pin& p) {
                // Changing the evidence alone keeps what is known of the value's spread.
                (void)set_field(p, field, value.toStdString(), e);
            });
            return std::nullopt;
        };
        rows_[row_key(field)] = row;
        rows->addWidget(row);
    }
    note_ = new Field;
    note_->setPlaceholderText(tr("Note on this pin"));
    note_->setAccessibleName(tr("Note on this pin"));
    note_->commit = [this](const QString& value) -> std::optional<QString> {
        change(tr("note of pin %1").arg(number_), [&](Pin& p) { p.note = value.trimmed().toStdString(); });
        return std::nullopt;
    };
    rows->addWidget(note_);
    rows->addStretch(1);
    auto* area = new QScrollArea;
    area->setWidgetResizable(true);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    area->setWidget(inside);
    layout->addWidget(area, 1);
}

Evidence PinEditor::new_evidence() const {
    Evidence e;
    e.kind = static_cast<EvidenceKind>(kind_->currentData().toInt());
    e.source = source_->text().trimmed().toStdString();
    e.tool = tool_->text().trimmed().toStdString();
    e.date = date_->text().trimmed().toStdString();
    return e;
}

void PinEditor::set_new_evidence(EvidenceKind kind, const QString& source, const QString& tool,
                                 const QString& date) {
    kind_->setCurrentIndex(kind_->findData(static_cast<int>(kind)));
    source_->setText(source);
    tool_->setText(tool);
    date_->setText(date);
}

void PinEditor::change(const QString& what, const std::function<void(Pin&)>& edit) {
    const auto* port = document_.dossier().find_port(port_.toStdString());
    if (port == nullptr || number_.isEmpty()) return;
    const auto* old = port->find_pin(number_.toStdString());
    Pin pin = old == nullptr ? Pin{} : *old;
    pin.number = number_.toStdString();
    edit(pin);
    document_.apply(what, put_pin(document_.dossier(), port_.toStdString(), std::move(pin)));
}

void PinEditor::show_pin(const QString& port, const QString& number) {
    port_ = port;
    number_ = number;
    const auto* found = document_.dossier().find_port(port.toStdString());
    const auto* old = found == nullptr ? nullptr : found->find_pin(number.toStdString());
    const Pin pin = old == nullptr ? Pin{} : *old;
    setEnabled(found != nullptr && !number.isEmpty());
    for (const auto& field : pin_fields()) {
        auto text = to_q(field_text(pin, field));
        if (field.key == "driver" && text.isEmpty()) text = QStringLiteral("unknown");
        rows_[row_key(field)]->show_fact(text, field_evidence(pin, field));
    }
    note_->show_value(to_q(pin.note));
}

}  // namespace grayrelic::app
