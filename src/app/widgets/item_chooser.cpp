// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/item_chooser.hpp"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QSignalBlocker>

#include "app/widgets/view_keys.hpp"

namespace grayrelic::app {

ItemChooser::ItemChooser(const Words& words, QWidget* parent) : QWidget(parent) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    box_ = new ChoiceBox(words.kind);
    box_->setMinimumWidth(120);
    box_->setMinimumContentsLength(14);
    field_ = new Field;
    field_->setAccessibleName(tr("Name: %1").arg(words.kind));
    field_->installEventFilter(this);
    field_->commit = [this](const QString& text) -> std::optional<QString> {
        if (text.trimmed().isEmpty()) return tr("Expected a name.");
        const auto id = renaming_;
        if (auto problem = take_name_ ? take_name_(id, text.trimmed()) : std::nullopt) return problem;
        return std::nullopt;
    };
    auto* place = new QWidget;
    place->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    place_ = new QStackedLayout(place);
    place_->setContentsMargins(0, 0, 0, 0);
    place_->addWidget(box_);
    place_->addWidget(field_);
    row->addWidget(place, 1);
    add_ = new QPushButton(words.add);
    rename_ = new QPushButton(tr("Rename"));
    rename_->setToolTip(tr("Rename it (F2)"));
    remove_ = new QPushButton(tr("Remove"));
    remove_->setToolTip(tr("Remove it; undo brings it back"));
    for (QWidget* w : std::initializer_list<QWidget*>{box_, field_, add_, rename_, remove_})
        w->setProperty("compact", true);
    for (auto* b : {add_, rename_, remove_}) {
        b->hide();
        row->addWidget(b);
    }
    connect(box_, &QComboBox::activated, this, [this] { Q_EMIT chosen_changed(chosen()); });
    connect(rename_, &QPushButton::clicked, this, &ItemChooser::begin_rename);
}

void ItemChooser::on_add(std::function<void()> add, const QString& tip) {
    add_->show();
    add_->setToolTip(tip);
    connect(add_, &QPushButton::clicked, this, [add = std::move(add)] { add(); });
}

void ItemChooser::on_rename(std::function<std::optional<QString>(const QString&, const QString&)> rename) {
    rename_->show();
    add_view_key(box_, box_->accessibleName(), tr("Rename it"), {"F2"}, [this] { begin_rename(); });
    take_name_ = std::move(rename);
}

void ItemChooser::on_remove(std::function<void(const QString&)> remove, const QString& tip) {
    remove_->show();
    if (!tip.isEmpty()) remove_->setToolTip(tip);
    connect(remove_, &QPushButton::clicked, this, [this, remove = std::move(remove)] {
        if (!chosen().isEmpty()) remove(chosen());
    });
}

void ItemChooser::add_button(QPushButton* button) {
    button->setProperty("compact", true);
    layout()->addWidget(button);
}

void ItemChooser::show_items(const QList<Item>& items, const QString& wanted) {
    items_ = items;
    const QSignalBlocker block(box_);
    box_->clear();
    for (const auto& i : items_) box_->addItem(i.label.isEmpty() ? i.name : i.label, i.id);
    const int at = box_->findData(wanted);
    box_->setCurrentIndex(at >= 0 ? at : box_->count() > 0 ? 0 : -1);
    for (auto* w : std::initializer_list<QWidget*>{box_, rename_, remove_}) w->setEnabled(!items_.isEmpty());
    // Another one has taken its place, or it is gone: the name that was being typed is not of this one.
    if (!renaming_.isEmpty() && renaming_ != chosen()) end_rename();
}

QString ItemChooser::chosen() const {
    return box_->currentData().toString();
}

QString ItemChooser::name() const {
    const int at = box_->currentIndex();
    return at >= 0 && at < items_.size() ? items_[at].name : QString();
}

void ItemChooser::set_usable(bool on) {
    add_->setEnabled(on);
}

void ItemChooser::begin_rename() {
    if (!take_name_ || chosen().isEmpty()) return;
    renaming_ = chosen();
    field_->show_value(name());
    place_->setCurrentWidget(field_);
    field_->setFocus();
    field_->selectAll();
}

void ItemChooser::end_rename() {
    if (renaming_.isEmpty()) return;
    renaming_.clear();
    const bool here = field_->hasFocus();
    place_->setCurrentWidget(box_);
    if (here) box_->setFocus();
}

/// Enter takes the name, Escape takes the typing back, leaving the field takes the name; a name that can't be
/// taken keeps the field open with the reason beside it.
bool ItemChooser::eventFilter(QObject* watched, QEvent* event) {
    if (watched != field_ || renaming_.isEmpty()) return false;
    if (event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key != Qt::Key_Return && key != Qt::Key_Enter && key != Qt::Key_Escape) return false;
        QMetaObject::invokeMethod(
            this,
            [this] {
                if (field_->problem().isEmpty()) end_rename();
            },
            Qt::QueuedConnection);
        return false;
    }
    if (event->type() == QEvent::FocusOut &&
        static_cast<QFocusEvent*>(event)->reason() != Qt::PopupFocusReason)
        QMetaObject::invokeMethod(
            this,
            [this] {
                if (field_->problem().isEmpty() && !field_->hasFocus()) end_rename();
            },
            Qt::QueuedConnection);
    return false;
}

}  // namespace grayrelic::app
