// SPDX-License-Identifier: GPL-3.0-or-later
// All options against the host's look, on one axis of time after the trigger: what each takes from its
// fastest to its slowest reply, how many come too late, and the original's own reply over them.
#pragma once

#include <QWidget>

#include <vector>

#include "app/shell/document.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {

class OptionAxis : public QWidget {
    Q_OBJECT
  public:
    explicit OptionAxis(QWidget* parent = nullptr);
    void show_options(const Analysis& analysis, const std::string& selected);
    /// Where an option's row is; null for one that is not there.
    [[nodiscard]] QRect row_of(const QString& id) const;
    /// What stands behind an option's bar: "0 of 28,481 missed".
    [[nodiscard]] QString said_of(const QString& id) const;
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override;

  Q_SIGNALS:
    void selected(const QString& id);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    struct Row {
        QString id;  ///< empty: the original
        QString name, said;
        Verdict verdict = Verdict::unknown;
        bool chosen = false, assumed = false;
        std::optional<double> least, middle, most;  ///< seconds
    };
    void paint_row(QPainter& p, const Row& row, const QRectF& box);
    void paint_scale(QPainter& p, const QRectF& plot);
    [[nodiscard]] QRectF plot() const;
    [[nodiscard]] double x_of(double seconds) const;
    [[nodiscard]] QRectF box_of(std::size_t row) const;
    std::vector<Row> rows_;
    QString selected_;
    std::optional<double> look_;
    bool look_assumed_ = false;
    double low_ = 1e-8, high_ = 1e-5;  ///< ends of the axis, seconds, which is logarithmic
};

}  // namespace grayrelic::app
