// SPDX-License-Identifier: GPL-3.0-or-later
// A connector drawn from its data file in the chosen viewpoint. A click or the arrow keys pick a contact.
#pragma once

#include <QWidget>

#include <optional>

#include "core/dossier/connector.hpp"
#include "core/dossier/dossier.hpp"

namespace grayrelic::app {

class ConnectorView : public QWidget {
    Q_OBJECT
  public:
    explicit ConnectorView(QWidget* parent = nullptr);
    void show_port(const Port& port, std::optional<Connector> connector, const QString& problem);
    void select(const QString& number);
    [[nodiscard]] QString selected() const { return selected_; }
    /// Where a contact is drawn, for tests that click it.
    [[nodiscard]] QPointF place(const QString& number) const;
    [[nodiscard]] QSize sizeHint() const override { return {300, 300}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {220, 220}; }

  Q_SIGNALS:
    void picked(const QString& number);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

  private:
    void add_keys();
    [[nodiscard]] double scale() const;
    [[nodiscard]] QPointF point(const Contact& contact) const;
    [[nodiscard]] double shift_of(const Contact& contact, double radius) const;
    void walk(double dx, double dy);
    Port port_;
    std::optional<Connector> connector_;
    Viewpoint viewpoint_ = Viewpoint::into_socket;
    QString problem_;
    QString selected_;
};

}  // namespace grayrelic::app
