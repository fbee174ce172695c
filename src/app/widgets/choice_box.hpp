// SPDX-License-Identifier: GPL-3.0-or-later
// A box to choose from a list whose entries may be long: it takes the room that there is, ends in "…" what
// does not fit, and holds the whole in its tooltip.
#pragma once

#include <QComboBox>
#include <QStyleOptionComboBox>
#include <QStylePainter>

namespace grayrelic::app {

class ChoiceBox : public QComboBox {
    Q_OBJECT
  public:
    /// `tip` stands below the chosen entry.
    explicit ChoiceBox(const QString& name, const QString& tip = {}, QWidget* parent = nullptr)
        : QComboBox(parent), tip_(tip) {
        setAccessibleName(name);
        setToolTip(tip);
        setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        setMinimumContentsLength(9);
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        // Entries are also filled in while their signals rest.
        if (const auto now = currentText(); now != told_) {
            told_ = now;
            setToolTip(tip_.isEmpty() || now.isEmpty() ? now + tip_ : now + QLatin1Char('\n') + tip_);
        }
        QStylePainter p(this);
        p.setPen(palette().color(QPalette::Text));
        QStyleOptionComboBox option;
        initStyleOption(&option);
        p.drawComplexControl(QStyle::CC_ComboBox, option);
        const auto room =
            style()->subControlRect(QStyle::CC_ComboBox, &option, QStyle::SC_ComboBoxEditField, this);
        option.currentText = fontMetrics().elidedText(option.currentText, Qt::ElideRight, room.width() - 2);
        p.drawControl(QStyle::CE_ComboBoxLabel, option);
    }

  private:
    QString tip_, told_;
};

}  // namespace grayrelic::app
