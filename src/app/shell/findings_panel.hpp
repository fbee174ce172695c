// SPDX-License-Identifier: GPL-3.0-or-later
// The findings on the right: those of the stage in view, or all. Each leads to its place.
#pragma once

#include <QAbstractButton>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>

#include <algorithm>

#include "core/analysis/finding.hpp"

namespace grayrelic::app {

class FindingCard : public QAbstractButton {
    Q_OBJECT
  public:
    FindingCard(Finding finding, bool with_stage, QWidget* parent);
    [[nodiscard]] const Finding& finding() const { return finding_; }
    void set_current(bool current);
    [[nodiscard]] bool hasHeightForWidth() const override { return true; }
    [[nodiscard]] int heightForWidth(int width) const override;
    [[nodiscard]] QSize sizeHint() const override { return {200, heightForWidth(std::max(200, width()))}; }

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

  private:
    int lay_out(QPainter* painter, int width) const;
    Finding finding_;
    bool with_stage_;
    bool current_ = false;
};

class FindingsPanel : public QWidget {
    Q_OBJECT
  public:
    explicit FindingsPanel(QWidget* parent = nullptr);
    /// `more_to_come`: the checks are not all made yet.
    void show_findings(const Findings& findings, const QString& stage, bool more_to_come);
    void toggle_all();
    void step(int direction);  ///< next or previous finding, around the end
    [[nodiscard]] const QList<FindingCard*>& cards() const { return cards_; }
    [[nodiscard]] QString summary() const { return counts_->text(); }

  Q_SIGNALS:
    void opened(const Finding& finding);

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    void rebuild();
    void say_counts();
    void open(int index);
    Findings findings_;
    QString stage_;
    bool more_to_come_ = false;
    QLabel* counts_;
    QPushButton* all_;
    QWidget* list_;
    QVBoxLayout* list_layout_;
    QList<FindingCard*> cards_;
    int current_ = -1;
    std::string
        current_key_;  ///< of the finding that was opened last: it stays marked when the list is rebuilt
};

}  // namespace grayrelic::app
