// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/meter_link.hpp"

#include "app/paint/marks.hpp"
#include "core/trace/meter.hpp"

namespace grayrelic::app {

constexpr int patience_ms = 4000;
constexpr qint64 most_line = 4096;

MeterLink::MeterLink(QObject* parent) : QObject(parent), state_(tr("no meter")) {
    patience_.setSingleShot(true);
    patience_.setInterval(patience_ms);
    connect(&patience_, &QTimer::timeout, this, [this] { fail(tr("the meter does not answer")); });
    connect(&socket_, &QTcpSocket::connected, this, [this] {
        waits_ = Waits::name;
        socket_.write("*IDN?\n");
        patience_.start();
    });
    connect(&socket_, &QTcpSocket::errorOccurred, this, [this] { fail(socket_.errorString()); });
    connect(&socket_, &QTcpSocket::readyRead, this, [this] {
        if (socket_.bytesAvailable() > most_line && !socket_.canReadLine())
            return fail(tr("an answer without an end"));
        while (socket_.canReadLine()) take_line(QString::fromUtf8(socket_.readLine(most_line)).trimmed());
    });
}

void MeterLink::connect_to(const QString& address) {
    disconnect_from();
    const auto parts = address.trimmed().split(QLatin1Char(':'));
    bool number = true;
    const int port = parts.size() > 1 ? parts[1].toInt(&number) : 5025;
    if (parts[0].isEmpty() || !number || port < 1 || port > 65535) return fail(tr("expected host:port"));
    state_ = tr("connecting");
    Q_EMIT changed();
    socket_.connectToHost(parts[0], static_cast<quint16>(port));
    patience_.start();
}

void MeterLink::disconnect_from() {
    patience_.stop();
    socket_.abort();
    waits_ = Waits::nothing;
    name_.clear();
    state_ = tr("no meter");
    Q_EMIT changed();
}

void MeterLink::fail(const QString& why) {
    patience_.stop();
    waits_ = Waits::nothing;
    name_.clear();
    socket_.abort();
    state_ = why;
    Q_EMIT changed();
}

void MeterLink::measure(const QString& a, const QString& b) {
    if (!is_connected() || waits_ != Waits::nothing) return;
    a_ = a;
    b_ = b;
    if (simulated_) socket_.write(QStringLiteral("SIM:PROB \"%1\",\"%2\"\n").arg(a, b).toUtf8());
    socket_.write("MEAS:RES?\n");
    waits_ = Waits::reading;
    patience_.start();
}

void MeterLink::take_line(const QString& line) {
    patience_.stop();
    if (waits_ == Waits::name) {
        waits_ = Waits::nothing;
        name_ = line.section(QLatin1Char(','), 0, 1).left(60);
        simulated_ = line.contains(QLatin1String("STAND-IN"));
        state_ = tr("connected to %1").arg(name_);
        Q_EMIT changed();
        return;
    }
    if (waits_ != Waits::reading) return;
    waits_ = Waits::nothing;
    auto reading = parse_meter_answer(line.toStdString());
    if (!reading) return fail(to_q(reading.error().message()));
    reading->a = a_.toStdString();
    reading->b = b_.toStdString();
    reading->tool = name_.toStdString();
    Q_EMIT read(*reading);
}

}  // namespace grayrelic::app
