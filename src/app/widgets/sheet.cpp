// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/sheet.hpp"

#include <QHBoxLayout>
#include <QPainter>

#include "app/paint/theme.hpp"

namespace grayrelic::app {

namespace {

/// A label whose end is cut with "…" where it does not fit.
class CutLabel : public QLabel {
  public:
    bool cut = true;
    /// Several lines have the height that they need: a layout beside others gives them that of a wider one.
    void fit() { setMinimumHeight(cut || text().isEmpty() ? 0 : heightForWidth(width())); }

  protected:
    void resizeEvent(QResizeEvent* event) override {
        QLabel::resizeEvent(event);
        fit();
    }
    void paintEvent(QPaintEvent* event) override {
        if (!cut) {
            QLabel::paintEvent(event);
            return;
        }
        QPainter p(this);
        p.setPen(palette().color(foregroundRole()));
        p.drawText(rect(), Qt::AlignLeft | Qt::AlignVCenter,
                   fontMetrics().elidedText(text(), Qt::ElideRight, width()));
    }
};

}  // namespace

QLabel* secondary_label(const QString& text, QWidget* parent) {
    auto* label = new QLabel(text, parent);
    label->setFont(text_font(11));
    label->setForegroundRole(QPalette::PlaceholderText);
    label->setWordWrap(true);
    return label;
}

QLabel* cut_label(QWidget* parent) {
    auto* label = new CutLabel;
    label->setParent(parent);
    label->setFont(text_font(11));
    label->setForegroundRole(QPalette::PlaceholderText);
    label->setTextFormat(Qt::PlainText);
    label->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    return label;
}

Sheet::Sheet(const QString& title, QWidget* parent) : QWidget(parent) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 8, 12, 8);
    layout->setSpacing(4);
    head_ = new QHBoxLayout;
    head_->setSpacing(8);
    title_ = new QLabel(title);
    title_->setFont(text_font(13, true));
    title_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    head_->addWidget(title_);
    head_->addStretch(1);
    layout->addLayout(head_);
    about_ = new CutLabel;
    about_->setFont(text_font(11));
    about_->setForegroundRole(QPalette::PlaceholderText);
    about_->setVisible(false);
    layout->addWidget(about_);
    body_ = new QVBoxLayout;
    body_->setSpacing(4);
    layout->addLayout(body_, 1);
}

void Sheet::set_title(const QString& title) {
    title_->setText(title);
}

void Sheet::set_about(const QString& text, bool wrapped) {
    static_cast<CutLabel*>(about_)->cut = !wrapped;
    about_->setWordWrap(wrapped);
    about_->setSizePolicy(wrapped ? QSizePolicy::Preferred : QSizePolicy::Ignored,
                          wrapped ? QSizePolicy::Minimum : QSizePolicy::Fixed);
    about_->setToolTip(wrapped ? QString() : text);
    about_->setText(text);
    about_->setVisible(!text.isEmpty());
    static_cast<CutLabel*>(about_)->fit();
}

void Sheet::add_to_title(QWidget* widget) {
    head_->addWidget(widget);
}

void Sheet::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setPen(theme().hairline);
    p.setBrush(theme().sheet);
    p.drawRect(rect().adjusted(0, 0, -1, -1));
}

}  // namespace grayrelic::app
