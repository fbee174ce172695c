// SPDX-License-Identifier: GPL-3.0-or-later
// The left rail: the dossier's name, and the stages with their state and one live line each. Plan stands
// before them, Practice at the foot, beside no dossier.
#pragma once

#include <QAbstractButton>
#include <QLabel>
#include <QWidget>

#include <map>

#include "core/base/stage.hpp"
#include "core/base/verdict.hpp"

namespace grayrelic::app {

class StageButton : public QAbstractButton {
    Q_OBJECT
  public:
    StageButton(Stage stage, QWidget* parent);
    void show_state(Verdict verdict, const QString& line);
    /// The job does without this stage.
    void show_unneeded(const QString& line);
    /// The two lines of Plan's: which dossier, and how it is.
    void show_dossier(const QString& name, const QString& state);
    [[nodiscard]] QString line() const { return line_; }
    [[nodiscard]] Verdict verdict() const { return verdict_; }
    [[nodiscard]] QSize sizeHint() const override { return {168, 54}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {168, 42}; }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    Stage stage_;
    QString line_;
    Verdict verdict_ = Verdict::unknown;
    bool needed_ = true;
};

/// "Ctrl+3"; empty for a stage without a number.
[[nodiscard]] QString stage_key(Stage stage);

class Rail : public QWidget {
    Q_OBJECT
  public:
    explicit Rail(QWidget* parent = nullptr);
    /// In the stages' order, whatever order they are added in.
    void add_stage(Stage stage);
    [[nodiscard]] StageButton& stage(Stage stage) const { return *stages_.at(stage); }
    [[nodiscard]] const std::map<Stage, StageButton*>& stages() const { return stages_; }
    void show_dossier(const QString& name, const QString& state);

  Q_SIGNALS:
    void selected(Stage stage);

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    QLabel* name_;
    QLabel* state_;
    std::map<Stage, StageButton*> stages_;
};

}  // namespace grayrelic::app
