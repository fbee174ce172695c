// SPDX-License-Identifier: GPL-3.0-or-later
// The left rail: the dossier's name, and the stages with their state and one live line each.
#pragma once

#include <QAbstractButton>
#include <QLabel>
#include <QWidget>

#include "core/analysis/finding.hpp"

namespace grayrelic::app {

class StageButton : public QAbstractButton {
    Q_OBJECT
  public:
    StageButton(const QString& name, QWidget* parent);
    void show_state(Verdict verdict, const QString& line);
    [[nodiscard]] QString line() const { return line_; }
    [[nodiscard]] Verdict verdict() const { return verdict_; }
    [[nodiscard]] QSize sizeHint() const override { return {168, 54}; }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    QString line_;
    Verdict verdict_ = Verdict::unknown;
};

class Rail : public QWidget {
    Q_OBJECT
  public:
    explicit Rail(QWidget* parent = nullptr);
    StageButton* add_stage(const QString& name);
    [[nodiscard]] const QList<StageButton*>& stages() const { return stages_; }
    void select(int stage);
    void show_dossier(const QString& name, const QString& state);

  Q_SIGNALS:
    void selected(int stage);

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    QLabel* name_;
    QLabel* state_;
    QList<StageButton*> stages_;
};

}  // namespace grayrelic::app
