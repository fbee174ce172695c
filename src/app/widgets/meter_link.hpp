// SPDX-License-Identifier: GPL-3.0-or-later
// A bench meter over SCPI on TCP: asks for a continuity or resistance reading and hands it on. The shipped
// stand-in answers on the loopback; it is told which points the probes touch, a real meter knows nothing of
// that.
#pragma once

#include <QObject>
#include <QTcpSocket>
#include <QTimer>

#include "core/dossier/trace.hpp"

namespace grayrelic::app {

class MeterLink : public QObject {
    Q_OBJECT
  public:
    explicit MeterLink(QObject* parent = nullptr);
    /// "host:port"; the port is 5025 where it is left out.
    void connect_to(const QString& address);
    void disconnect_from();
    [[nodiscard]] bool is_connected() const {
        return socket_.state() == QAbstractSocket::ConnectedState && !name_.isEmpty();
    }
    [[nodiscard]] QString state() const { return state_; }
    /// Takes one reading between two points.
    void measure(const QString& a, const QString& b);

  Q_SIGNALS:
    void changed();
    void read(const MeterReading& reading);

  private:
    void take_line(const QString& line);
    void fail(const QString& why);
    QTcpSocket socket_;
    QTimer patience_;
    QString name_, state_, a_, b_;
    bool simulated_ = false;
    enum class Waits { nothing, name, reading } waits_ = Waits::nothing;
};

}  // namespace grayrelic::app
