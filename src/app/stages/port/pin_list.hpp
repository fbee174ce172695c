// SPDX-License-Identifier: GPL-3.0-or-later
// All pins of a port, one painted line each: number, name, who drives it, level, evidence. A click picks.
#pragma once

#include <QMouseEvent>
#include <QPainter>
#include <QWidget>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/dossier/dossier.hpp"

namespace grayrelic::app {

class PinList : public QWidget {
    Q_OBJECT
  public:
    explicit PinList(QWidget* parent = nullptr) : QWidget(parent) { setAccessibleName(tr("All pins")); }
    void show_pins(const std::vector<Pin>& pins, const QString& selected) {
        pins_ = pins;
        selected_ = selected;
        setFixedHeight(static_cast<int>(pins_.size()) * line + 4);
        update();
    }

  Q_SIGNALS:
    void picked(const QString& number);

  protected:
    void paintEvent(QPaintEvent*) override {
        QPainter p(this);
        for (std::size_t i = 0; i < pins_.size(); ++i) {
            const auto& pin = pins_[i];
            const QRect row(0, static_cast<int>(i) * line, width(), line);
            if (selected_ == to_q(pin.number)) p.fillRect(row, theme().selection);
            p.setPen(theme().ink2);
            p.setFont(figure_font(12));
            p.drawText(row.adjusted(4, 0, 0, 0), Qt::AlignVCenter, to_q(pin.number));
            const bool known = !pin.name.value.empty();
            p.setPen(theme().ink);
            p.setFont(text_font(13, known, pin.name.evidence.kind == EvidenceKind::assumed));
            draw_text(p, QRectF(row.left() + 28, row.top(), 86, row.height()), Qt::AlignVCenter,
                      known ? to_q(pin.name.value) : tr("not known"));
            draw_driver(p, QPointF(row.left() + 128, row.center().y()), pin.driver.value);
            if (pin.driver.value != Driver::relic && pin.driver.value != Driver::bridge &&
                pin.driver.value != Driver::both) {
                p.setPen(theme().ink2);
                p.setFont(text_font(11));
                p.drawText(QRect(row.left() + 116, row.top(), 60, row.height()), Qt::AlignVCenter,
                           to_q(word(pin.driver.value)));
            }
            p.setFont(text_font(11));
            p.setPen(theme().ink2);
            QString level = to_q(pin.family.value);
            if (pin.volts_max.value)
                level +=
                    (level.isEmpty() ? QString() : QStringLiteral(" · ")) + to_q(print(*pin.volts_max.value));
            const int room = row.width() - 178 - 42;
            if (room >= p.fontMetrics().horizontalAdvance(level))
                p.drawText(QRect(row.left() + 178, row.top(), room, row.height()), Qt::AlignVCenter, level);
            draw_evidence(
                p, QPointF(row.right() - 34, row.center().y()),
                pin.driver.value == Driver::unknown ? std::nullopt : std::optional(pin.driver.evidence.kind));
        }
    }
    void mousePressEvent(QMouseEvent* e) override {
        const auto i = static_cast<std::size_t>(std::max(0.0, e->position().y()) / line);
        if (i < pins_.size()) Q_EMIT picked(to_q(pins_[i].number));
    }

  private:
    static constexpr int line = 26;
    std::vector<Pin> pins_;
    QString selected_;
};

}  // namespace grayrelic::app
