// SPDX-License-Identifier: GPL-3.0-or-later
// The contract as a timing figure: from the trigger to the original's reply and the host's look, to scale,
// and the other intervals as a list with their evidence.
#pragma once

#include <QWidget>

#include "core/analysis/analysis.hpp"
#include "core/timing/contract.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {

class ContractView : public QWidget {
    Q_OBJECT
  public:
    explicit ContractView(QWidget* parent = nullptr);
    void show_analysis(const Analysis& analysis);
    void select(const QString& interval);
    [[nodiscard]] QSize sizeHint() const override { return {700, 170}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {420, 142}; }

  protected:
    void paintEvent(QPaintEvent* event) override;
    bool event(QEvent* event) override;

  private:
    struct Line {
        QString id, name, least, typical, most, source;
        EvidenceKind evidence;
        bool problem;
    };
    void paint_figure(class QPainter& p, const QRectF& box);
    void paint_list(class QPainter& p, const QRectF& box);
    std::vector<Line> lines_;
    QString selected_;
    std::optional<ContractFigure> reply_;
    std::optional<Time> look_least_;
    Time guard_;
    QString trigger_, answer_;
    bool trigger_rises_ = true;
    bool look_assumed_ = false;
    QRectF list_box_;
};

}  // namespace grayrelic::app
