// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/port/connector_chooser.hpp"

#include <QHBoxLayout>
#include <QLabel>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/sheet.hpp"
#include "core/port/by_measure.hpp"

namespace grayrelic::app {
namespace {

QSpinBox* number_box(const QString& name, int low, int high, int value) {
    auto* box = new QSpinBox;
    box->setRange(low, high);
    box->setValue(value);
    box->setAccessibleName(name);
    box->setToolTip(name);
    return box;
}

}  // namespace

ConnectorChooser::ConnectorChooser(const DataLibrary& library, QWidget* parent)
    : QWidget(parent), library_(library) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(12);
    auto* left = new QVBoxLayout;
    filter_ = new QLineEdit;
    filter_->setPlaceholderText(tr("din, 15, card, or measured: 2.77 mm 2 rows 9 pins"));
    filter_->setAccessibleName(tr("Narrow the list of connectors"));
    left->addWidget(filter_);
    list_ = new QListWidget;
    list_->setAccessibleName(tr("Connectors"));
    left->addWidget(list_, 1);
    row->addLayout(left, 4);
    auto* right = new QVBoxLayout;
    sizes_ = new QWidget;
    auto* sizes = new QHBoxLayout(sizes_);
    sizes->setContentsMargins(0, 0, 0, 0);
    rows_ = number_box(tr("Rows"), 1, 100, 2);
    columns_ = number_box(tr("Columns"), 1, 100, 10);
    key_ = number_box(tr("Key after column, 0 for none"), 0, 99, 0);
    pitch_ = new QComboBox;
    pitch_->setAccessibleName(tr("Pitch"));
    pitch_->setToolTip(tr("Pitch"));
    for (auto* w : {static_cast<QWidget*>(rows_), static_cast<QWidget*>(columns_),
                    static_cast<QWidget*>(pitch_), static_cast<QWidget*>(key_)})
        sizes->addWidget(w);
    rows_->setPrefix(tr("rows "));
    columns_->setPrefix(tr("columns "));
    key_->setPrefix(tr("key after "));
    right->addWidget(sizes_);
    preview_ = new ConnectorView;
    preview_->setFocusPolicy(Qt::NoFocus);
    preview_->setToolTip({});
    right->addWidget(preview_, 1);
    about_ = secondary_label({});
    about_->setWordWrap(true);
    right->addWidget(about_);
    row->addLayout(right, 5);
    connect(filter_, &QLineEdit::textChanged, this, &ConnectorChooser::fill);
    connect(filter_, &QLineEdit::returnPressed, this, [this] {
        if (!chosen().isEmpty()) Q_EMIT accepted(chosen());
    });
    connect(list_, &QListWidget::itemActivated, this, [this] { Q_EMIT accepted(chosen()); });
    connect(list_, &QListWidget::currentRowChanged, this, [this] {
        const QSignalBlocker block(pitch_);
        pitch_->clear();
        if (const auto* f = file())
            for (const double p : f->pitches_mm) pitch_->addItem(tr("%1 mm").arg(p), p);
        // Found by its measures, it comes in that size.
        const auto measured = list_->currentItem() == nullptr
                                  ? QString()
                                  : list_->currentItem()->data(Qt::UserRole + 1).toString();
        if (const auto member = library_.connectors.member(measured.toStdString())) {
            const QSignalBlocker rows(rows_), columns(columns_);
            rows_->setValue(member->size.rows);
            columns_->setMaximum(member->file->most);
            columns_->setValue(member->size.columns);
            if (member->size.pitch_mm > 0) pitch_->setCurrentIndex(pitch_->findData(member->size.pitch_mm));
        }
        show_chosen();
    });
    for (auto* box : {rows_, columns_, key_})
        connect(box, &QSpinBox::valueChanged, this, &ConnectorChooser::show_chosen);
    connect(pitch_, &QComboBox::currentIndexChanged, this, &ConnectorChooser::show_chosen);
    fill();
}

void ConnectorChooser::fill() {
    const auto words = filter_->text().toLower().split(QLatin1Char(' '), Qt::SkipEmptyParts);
    const auto before =
        list_->currentItem() == nullptr ? QString() : list_->currentItem()->data(Qt::UserRole).toString();
    list_->clear();
    if (const auto measured = measured_from_text(filter_->text().toStdString()))
        return fill_measured(*measured, before);
    for (const auto& f : library_.connectors.files()) {
        auto name = to_q(f.name);
        name.replace(QStringLiteral("{n}"), QStringLiteral("n"))
            .replace(QStringLiteral("{m}"), QStringLiteral("m"));
        const auto all = (name + QLatin1Char(' ') + to_q(f.group) + QLatin1Char(' ') + to_q(f.id)).toLower();
        if (!std::all_of(words.begin(), words.end(), [&](const QString& w) { return all.contains(w); }))
            continue;
        auto* item = new QListWidgetItem(name, list_);
        item->setData(Qt::UserRole, to_q(f.id));
        item->setToolTip(to_q(f.group));
        if (to_q(f.id) == before) list_->setCurrentItem(item);
    }
    if (list_->currentRow() < 0 && list_->count() > 0) list_->setCurrentRow(0);
}

/// Those that have these measures; families in the size that has them.
void ConnectorChooser::fill_measured(const MeasuredFace& face, const QString& before) {
    for (const auto& m : connectors_by_measure(library_.connectors, face)) {
        auto* item = new QListWidgetItem(tr("%1 · %2").arg(to_q(m.name), to_q(m.says)), list_);
        const auto member = library_.connectors.member(m.id);
        item->setData(Qt::UserRole, to_q(member ? member->file->id : m.id));
        item->setData(Qt::UserRole + 1, to_q(m.id));
        item->setToolTip(to_q(m.says));
        if (item->data(Qt::UserRole).toString() == before) list_->setCurrentItem(item);
    }
    if (list_->currentRow() < 0 && list_->count() > 0) list_->setCurrentRow(0);
}

void ConnectorChooser::choose(const QString& id) {
    for (int i = 0; i < list_->count(); ++i)
        if (list_->item(i)->data(Qt::UserRole).toString() == id) list_->setCurrentRow(i);
}

const ConnectorFile* ConnectorChooser::file() const {
    const auto* item = list_->currentItem();
    if (item == nullptr) return nullptr;
    const auto id = item->data(Qt::UserRole).toString().toStdString();
    for (const auto& f : library_.connectors.files())
        if (f.id == id) return &f;
    return nullptr;
}

QString ConnectorChooser::chosen() const {
    const auto* f = file();
    if (f == nullptr) return {};
    ConnectorSize size;
    if (f->family) {
        size.rows = rows_->value();
        size.columns = columns_->value();
        if (pitch_->currentIndex() > 0) size.pitch_mm = pitch_->currentData().toDouble();
        if (f->may_have_key && key_->value() < columns_->value()) size.key_column = key_->value();
    }
    return to_q(ConnectorLibrary::id_of(*f, size));
}

void ConnectorChooser::show_chosen() {
    const auto* f = file();
    sizes_->setVisible(f != nullptr && f->family);
    if (f == nullptr) {
        preview_->show_port({}, std::nullopt, tr("Nothing in the library is called so."));
        about_->clear();
        return;
    }
    if (f->family) {
        rows_->setVisible(f->rows == 0);
        rows_->setMaximum(f->most);
        columns_->setMaximum(f->most);
        key_->setVisible(f->may_have_key);
    }
    auto connector = library_.connectors.find(chosen().toStdString());
    if (!connector) {
        preview_->show_port({}, std::nullopt, to_q(connector.error().message()));
        return;
    }
    about_->setText(to_q(connector->rule + ". " + connector->source + ". " + connector->check));
    preview_->show_port({}, std::move(*connector), {});
}

}  // namespace grayrelic::app
