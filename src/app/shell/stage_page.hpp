// SPDX-License-Identifier: GPL-3.0-or-later
// What the shell asks of a stage's page.
#pragma once

#include <QPushButton>
#include <QWidget>

#include "core/analysis/finding.hpp"

namespace grayrelic::app {

class StagePage : public QWidget {
    Q_OBJECT
  public:
    using QWidget::QWidget;
    [[nodiscard]] virtual QString sentence() const = 0;   ///< what is on the sheet, for the header
    [[nodiscard]] virtual QString detail() const = 0;     ///< its figures
    [[nodiscard]] virtual QString rail_line() const = 0;  ///< the stage's state in a few words
    [[nodiscard]] virtual bool has_content() const = 0;   ///< false: not started
    [[nodiscard]] virtual QList<QWidget*> header_widgets() { return {}; }
    virtual void show_place(const FindingPlace& place) = 0;

  protected:
    /// For empty screens: they say what to bring first and offer the shipped example.
    [[nodiscard]] QPushButton* make_example_button() {
        auto* button = new QPushButton(tr("Open the shipped example"));
        connect(button, &QPushButton::clicked, this, &StagePage::example_wanted);
        return button;
    }

  Q_SIGNALS:
    void header_changed();
    void example_wanted();
    /// Something that another stage shows: "listen" and a moment in a capture.
    void place_wanted(const QString& stage, const FindingPlace& place);
};

}  // namespace grayrelic::app
