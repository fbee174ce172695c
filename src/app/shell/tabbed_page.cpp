// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/tabbed_page.hpp"

#include <QScrollArea>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/widgets/view_keys.hpp"

namespace grayrelic::app {

TabbedPage::TabbedPage(Stage stage, Document& document, unsigned rests, QWidget* parent)
    : StagePage(stage, document, rests, parent) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(16, 12, 16, 16);
    filled_ = new QWidget;
    auto* column = new QVBoxLayout(filled_);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    tabs_ = new QTabBar;
    tabs_->setDrawBase(false);
    tabs_->setExpanding(false);
    tabs_->setFocusPolicy(Qt::TabFocus);
    tabs_->setAccessibleName(QStringLiteral("Views of %1").arg(to_q(label(stage))));
    beside_ = new QHBoxLayout;
    beside_->setSpacing(8);
    beside_->addWidget(tabs_);
    beside_->addStretch(1);
    column->addLayout(beside_);
    message_ = new QLabel;
    message_->setWordWrap(true);
    message_->setObjectName(QStringLiteral("%1-message").arg(to_q(word(stage))));
    message_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    message_->hide();
    column->addWidget(message_);
    stack_ = new QStackedWidget;
    column->addWidget(stack_, 1);
    whole->addWidget(filled_, 1);
    connect(tabs_, &QTabBar::currentChanged, this, [this](int i) {
        stack_->setCurrentIndex(i);
        view_changed();
        view_shown();
        Q_EMIT header_changed();
    });
}

void TabbedPage::add_view(StageView says, QWidget* widget, unsigned rests, std::function<void()> refresh,
                          int scrolls_under) {
    const auto place = static_cast<int>(list_.size());
    list_.append({says, rests, std::move(refresh)});
    auto* shown = widget;
    if (scrolls_under > 0) {
        auto* area = new QScrollArea;
        area->setWidgetResizable(true);
        area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        widget->setMinimumHeight(scrolls_under);
        area->setWidget(widget);
        shown = area;
    }
    const QSignalBlocker block(tabs_);  // the first tab would ask for a page that is not made yet
    stack_->addWidget(shown);
    tabs_->addTab(says.title);
    tabs_->setTabToolTip(place, QStringLiteral("%1 (Alt+%2)").arg(says.title).arg((place + 1) % 10));
    const auto key = QStringLiteral("Alt+%1").arg((place + 1) % 10).toLatin1();
    add_view_key(this, to_q(label(stage())), says.title, {key.constData()}, [this, place] {
        show_view(list_[place].says.id);
    })->setShortcutContext(Qt::WindowShortcut);
}

void TabbedPage::add_beside_tabs(QWidget* widget) {
    beside_->addWidget(widget);
}

void TabbedPage::add_above_tabs(QWidget* widget) {
    static_cast<QVBoxLayout*>(filled_->layout())->insertWidget(0, widget);
}

void TabbedPage::set_empty(QWidget* sheet) {
    empty_ = sheet;
    static_cast<QVBoxLayout*>(layout())->addWidget(sheet, 1);
    empty_->hide();
}

void TabbedPage::show_empty(bool empty) {
    if (empty_ == nullptr) return;
    empty_->setVisible(empty);
    filled_->setVisible(!empty);
}

void TabbedPage::tell(const QString& text) {
    message_->setText(text);
    message_->setVisible(!text.isEmpty());
}

QList<StageView> TabbedPage::views() const {
    QList<StageView> out;
    for (const auto& v : list_) out << v.says;
    return out;
}

QString TabbedPage::view() const {
    return list_.isEmpty() ? QString() : list_[std::max(0, tabs_->currentIndex())].says.id;
}

void TabbedPage::show_view(const QString& id) {
    for (int i = 0; i < list_.size(); ++i)
        if (list_[i].says.id == id) tabs_->setCurrentIndex(i);
}

void TabbedPage::refresh_view() {
    if (const int i = tabs_->currentIndex(); i >= 0) list_[i].refresh();
}

unsigned TabbedPage::view_rests() const {
    const int i = tabs_->currentIndex();
    return i < 0 ? 0 : list_[i].rests;
}

}  // namespace grayrelic::app
