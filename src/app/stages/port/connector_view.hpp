// SPDX-License-Identifier: GPL-3.0-or-later
// A connector drawn from its data file in the chosen viewpoint. A click or the arrow keys pick a contact;
// typing on it enters what the pin is (core/port/pin_entry.hpp), Enter goes on to the next.
#pragma once

#include <QLineEdit>
#include <QWidget>

#include <functional>
#include <optional>

#include "core/dossier/dossier.hpp"
#include "core/report/connector_figure.hpp"

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
    [[nodiscard]] QSize sizeHint() const override { return {300, 180}; }  // grows by its weight
    [[nodiscard]] QSize minimumSizeHint() const override { return {200, 150}; }
    /// Takes a line for a pin; gives a message when it can't be understood.
    std::function<std::optional<QString>(const QString& number, const QString& line)> enter;
    [[nodiscard]] QLineEdit& entry() { return *entry_; }

  Q_SIGNALS:
    void picked(const QString& number);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    void add_keys();
    void begin_entry(const QString& first);
    void finish_entry(int step);
    void step(int by);
    [[nodiscard]] FaceFit fit() const;
    [[nodiscard]] FaceStyle style() const;
    void walk(double dx, double dy);
    Port port_;
    std::optional<Connector> connector_;
    std::vector<QString> numbers_;
    Viewpoint viewpoint_ = Viewpoint::into_socket;
    QString problem_;
    QString selected_;
    QLineEdit* entry_;
};

}  // namespace grayrelic::app
